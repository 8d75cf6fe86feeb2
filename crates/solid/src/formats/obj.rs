//! Wavefront OBJ: vertices and faces, polygons cut into triangles. The format has no unit;
//! materials, normals and texture are not used.

use super::{FileMesh, ReadError};
use crate::mesh::Mesh;
use glam::DVec3;
use std::io::Cursor;

/// # Errors
/// What the reader stumbled over.
pub fn read(bytes: &[u8]) -> Result<FileMesh, ReadError> {
    let bad = |what: String| ReadError::Bad { format: "OBJ", what };
    let options = tobj::LoadOptions { triangulate: true, single_index: false, ..Default::default() };
    let (models, _) = tobj::load_obj_buf(&mut Cursor::new(bytes), &options, |_| Ok((Vec::new(), Default::default())))
        .map_err(|e| bad(e.to_string()))?;
    let mut mesh = Mesh::default();
    for model in models {
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(model.mesh.positions.chunks_exact(3).map(|p| DVec3::new(p[0], p[1], p[2])));
        mesh.triangles.extend(model.mesh.indices.chunks_exact(3).map(|t| [first + t[0], first + t[1], first + t[2]]));
    }
    Ok(FileMesh { mesh, unit: None })
}
