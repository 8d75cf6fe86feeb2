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
    // it cuts polygons about their first corners, whatever their outlines
    let options = tobj::LoadOptions { triangulate: false, single_index: false, ..Default::default() };
    let (models, _) =
        tobj::load_obj_buf(&mut Cursor::new(places_only(bytes)), &options, |_| Ok((Vec::new(), Default::default())))
            .map_err(|e| bad(e.to_string()))?;
    let mut mesh = Mesh::default();
    for model in models {
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(model.mesh.positions.chunks_exact(3).map(|p| DVec3::new(p[0], p[1], p[2])));
        let indices: Vec<u32> = model.mesh.indices.iter().map(|i| first + i).collect();
        if model.mesh.face_arities.is_empty() {
            mesh.triangles.extend(indices.chunks_exact(3).map(|t| [t[0], t[1], t[2]]));
        }
        let mut left = &indices[..];
        for &arity in &model.mesh.face_arities {
            let (corners, after) = left.split_at((arity as usize).min(left.len()));
            mesh.add_polygon(corners).map_err(|what| bad(format!("a face can't be read: {what}")))?;
            left = after;
        }
    }
    Ok(FileMesh { mesh, unit: None })
}

/// The file without the colours that may follow the places of vertices: the library stumbles over files in which only some
/// have them.
fn places_only(bytes: &[u8]) -> Vec<u8> {
    let mut out = Vec::with_capacity(bytes.len());
    for line in bytes.split(|b| *b == b'\n') {
        if line.trim_ascii_start().starts_with(b"v ") {
            let words = line.split(u8::is_ascii_whitespace).filter(|word| !word.is_empty());
            out.extend(words.take(4).flat_map(|word| [word, b" "]).flatten());
        } else {
            out.extend(line);
        }
        out.push(b'\n');
    }
    out
}
