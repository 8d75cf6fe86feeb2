//! Part files: bytes in, loose triangles out. One file each.
//!
//! Every reader runs under limits of size and triangles, and a panic inside a library reader is
//! caught and reported as a bad file.

pub mod gltf;
pub mod obj;
pub mod ply;
mod polygon;
pub mod stl;
pub mod threemf;

use crate::mesh::Mesh;
use std::panic::{AssertUnwindSafe, catch_unwind};
use trade::Unit;

/// Largest file, bytes.
pub const LARGEST_FILE: usize = 512 << 20;
/// Most triangles in one part.
pub const MOST_TRIANGLES: usize = 8_000_000;

/// What a file holds: triangles in its own unit, and that unit where the format says it.
#[derive(Debug)]
pub struct FileMesh {
    pub mesh: Mesh,
    pub unit: Option<Unit>,
}

#[derive(Debug, thiserror::Error)]
pub enum ReadError {
    #[error("“{0}” is not a part file that can be read here; save it as STEP, STL, 3MF, OBJ, PLY or GLB")]
    UnknownKind(String),
    /// What a reader outside this crate says.
    #[error("{0}")]
    Elsewhere(String),
    #[error("the file is empty")]
    Empty,
    #[error("the file is {0} MB; at most {limit} MB can be read", limit = LARGEST_FILE >> 20)]
    TooLarge(usize),
    #[error("the file holds {0} triangles; at most {MOST_TRIANGLES} can be read")]
    TooManyTriangles(usize),
    #[error("the {format} file can't be read: {what}")]
    Bad { format: &'static str, what: String },
    #[error("the {0} file holds no triangles")]
    NoTriangles(&'static str),
    #[error("corner {corner} of triangle {triangle} is not a finite number")]
    NotFinite { triangle: usize, corner: usize },
}

type Reader = fn(&[u8]) -> Result<FileMesh, ReadError>;

/// Ending, and who reads it.
const READERS: [(&str, &str, Reader); 6] = [
    ("stl", "STL", stl::read),
    ("obj", "OBJ", obj::read),
    ("3mf", "3MF", threemf::read),
    ("ply", "PLY", ply::read),
    ("glb", "glTF", gltf::read),
    ("gltf", "glTF", gltf::read),
];

/// # Errors
/// An empty file, or one beyond [`LARGEST_FILE`].
pub fn check_size(bytes: &[u8]) -> Result<(), ReadError> {
    match bytes.len() {
        0 => Err(ReadError::Empty),
        n if n > LARGEST_FILE => Err(ReadError::TooLarge(n >> 20)),
        _ => Ok(()),
    }
}

/// The triangles in `bytes`, by the ending of `name`.
///
/// # Errors
/// [`ReadError`] says what is wrong with the file.
pub fn read(name: &str, bytes: &[u8]) -> Result<FileMesh, ReadError> {
    check_size(bytes)?;
    let ending = name.rsplit_once('.').map(|(_, e)| e.to_ascii_lowercase()).unwrap_or_default();
    let (_, format, reader) =
        READERS.into_iter().find(|(e, _, _)| *e == ending).ok_or_else(|| ReadError::UnknownKind(name.to_owned()))?;
    let file = catch_unwind(AssertUnwindSafe(|| reader(bytes)))
        .unwrap_or_else(|_| Err(ReadError::Bad { format, what: "its contents make no sense".into() }))?;
    if file.mesh.triangles.is_empty() {
        return Err(ReadError::NoTriangles(format));
    }
    if file.mesh.triangles.len() > MOST_TRIANGLES {
        return Err(ReadError::TooManyTriangles(file.mesh.triangles.len()));
    }
    let count = file.mesh.vertices.len();
    for (triangle, corners) in file.mesh.triangles.iter().enumerate() {
        for (corner, &v) in corners.iter().enumerate() {
            if v as usize >= count {
                let what = format!("triangle {} names vertex {} of {count}", triangle + 1, v + 1);
                return Err(ReadError::Bad { format, what });
            }
            if !file.mesh.vertices[v as usize].is_finite() {
                return Err(ReadError::NotFinite { triangle: triangle + 1, corner: corner + 1 });
            }
        }
    }
    Ok(file)
}
