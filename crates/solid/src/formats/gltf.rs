//! glTF 2.0, as GLB or with its data inside: the triangles of the scene's nodes with their
//! transforms. Its unit is the metre and its up is y (specification 2.0, section 3.4); here up is z.

use super::{FileMesh, MOST_TRIANGLES, ReadError};
use crate::mesh::Mesh;
use base64::{Engine, engine::general_purpose::STANDARD};
use glam::{DMat4, DVec3};
use gltf::{Gltf, Node, buffer::Source, mesh::Mode};
use std::borrow::Cow;
use trade::Unit;

/// Deepest nesting of nodes, and most nodes drawn, in case they refer to one another in circles.
const DEEPEST: usize = 64;
const MOST_NODES: usize = 100_000;
const MOST_CORNERS: usize = 3 * MOST_TRIANGLES;

/// # Errors
/// What is wrong with the file, and when its data lies in another one.
pub fn read(bytes: &[u8]) -> Result<FileMesh, ReadError> {
    let bad = |what: String| ReadError::Bad { format: "glTF", what };
    let file = Gltf::from_slice(bytes).map_err(|e| bad(e.to_string()))?;
    let mut buffers = Vec::new();
    for buffer in file.buffers() {
        let data = match buffer.source() {
            Source::Bin => Cow::from(file.blob.as_deref().ok_or_else(|| bad("its binary part is missing".into()))?),
            Source::Uri(uri) => match uri.strip_prefix("data:").and_then(|u| u.split_once(";base64,")) {
                Some((_, text)) => {
                    STANDARD.decode(text).map_err(|e| bad(format!("its data can't be decoded: {e}")))?.into()
                }
                None => {
                    return Err(bad(format!(
                        "its data lies in another file, “{uri}”; save it as GLB, which holds both"
                    )));
                }
            },
        };
        if data.len() < buffer.length() {
            return Err(bad(format!("its buffer {} is shorter than it says", buffer.index())));
        }
        buffers.push(data);
    }
    let scene = file.default_scene().or_else(|| file.scenes().next()).ok_or_else(|| bad("it has no scene".into()))?;
    let mut mesh = Mesh::default();
    let mut left = MOST_NODES;
    // y up to z up
    let upright = DMat4::from_cols_array_2d(&[
        [1.0, 0.0, 0.0, 0.0],
        [0.0, 0.0, 1.0, 0.0],
        [0.0, -1.0, 0.0, 0.0],
        [0.0, 0.0, 0.0, 1.0],
    ]);
    for node in scene.nodes() {
        gather(&node, upright, 0, &mut left, &buffers, &mut mesh).map_err(bad)?;
    }
    Ok(FileMesh { mesh, unit: Some(Unit::M) })
}

fn gather(
    node: &Node<'_>,
    above: DMat4,
    depth: usize,
    left: &mut usize,
    buffers: &[Cow<'_, [u8]>],
    mesh: &mut Mesh,
) -> Result<(), String> {
    if depth > DEEPEST || *left == 0 {
        return Err("its nodes refer to one another in a circle".into());
    }
    *left -= 1;
    let own = node.transform().matrix().map(|column| column.map(f64::from));
    let place = above * DMat4::from_cols_array_2d(&own);
    for primitive in node.mesh().iter().flat_map(gltf::Mesh::primitives) {
        if primitive.mode() != Mode::Triangles {
            continue;
        }
        let reader = primitive.reader(|buffer| buffers.get(buffer.index()).map(|b| &**b));
        // the library makes room for what is promised, whatever there is
        let promises = primitive.get(&gltf::Semantic::Positions).into_iter().chain(primitive.indices());
        if let Some(most) = promises.map(|a| a.count()).find(|n| mesh.vertices.len().saturating_add(*n) > MOST_CORNERS)
        {
            return Err(format!(
                "a mesh of it promises {most} corners; at most {MOST_TRIANGLES} triangles can be read"
            ));
        }
        let first = mesh.vertices.len() as u32;
        let positions = reader.read_positions().ok_or("a mesh of it has no positions")?;
        mesh.vertices.extend(positions.map(|p| place.transform_point3(DVec3::from(p.map(f64::from)))));
        let count = mesh.vertices.len() as u32 - first;
        let corners: Vec<u32> = match reader.read_indices() {
            Some(indices) => indices.into_u32().collect(),
            None => (0..count).collect(),
        };
        // the library stops quietly where the data ends
        let promised = primitive.indices().map_or(count as usize, |a| a.count());
        let points = primitive.get(&gltf::Semantic::Positions).map_or(0, |a| a.count());
        if corners.len() != promised || count as usize != points {
            return Err("a mesh of it has less data than it says".into());
        }
        if let Some(beyond) = corners.iter().find(|&&c| c >= count) {
            return Err(format!("a triangle of it names vertex {beyond} of {count}"));
        }
        // a mirroring transform turns triangles inside out
        let mirrored = place.determinant() < 0.0;
        mesh.triangles.extend(corners.chunks_exact(3).map(|t| {
            let t = [t[0], t[1], t[2]].map(|c| c + first);
            if mirrored { [t[0], t[2], t[1]] } else { t }
        }));
        if mesh.triangles.len() > MOST_TRIANGLES {
            return Err(format!("it holds more than {MOST_TRIANGLES} triangles; so many can be read"));
        }
    }
    for child in node.children() {
        gather(&child, place, depth + 1, left, buffers, mesh)?;
    }
    Ok(())
}
