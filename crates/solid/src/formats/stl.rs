//! STL, binary and ASCII. The format has no unit; its normals are not used.
//!
//! A file is binary when its length is what its triangle count says: many binary files begin with
//! the word "solid" too.

use super::{FileMesh, MOST_TRIANGLES, ReadError};
use crate::mesh::Mesh;
use glam::DVec3;
use std::{borrow::Cow, io::Cursor};

/// 80 bytes of header, 4 of count, then 50 a triangle.
const HEADER: usize = 84;
const RECORD: usize = 50;

/// # Errors
/// A file cut short, one that claims more triangles than it holds, or bad ASCII.
pub fn read(bytes: &[u8]) -> Result<FileMesh, ReadError> {
    let bad = |what: String| ReadError::Bad { format: "STL", what };
    let ascii = starts_with(bytes.trim_ascii_start(), b"solid");
    let claimed = bytes.get(80..HEADER).map(|c| u32::from_le_bytes([c[0], c[1], c[2], c[3]]) as usize);
    let fits = claimed.is_some_and(|n| bytes.len() >= HEADER + n * RECORD && bytes.len() < HEADER + (n + 1) * RECORD);
    if !fits {
        if !ascii {
            return Err(match claimed {
                None => bad(format!("it has {} bytes, less than a header", bytes.len())),
                Some(n) => bad(format!(
                    "its header claims {n} triangles, its length is enough for {}: it was cut short or is not an STL",
                    (bytes.len() - HEADER) / RECORD
                )),
            });
        }
        if !bytes.windows(8).rev().take(4096).any(|w| w.eq_ignore_ascii_case(b"endsolid")) {
            return Err(bad("it ends before “endsolid”: it was cut short".into()));
        }
    }
    if fits && claimed.is_some_and(|n| n > MOST_TRIANGLES) {
        return Err(ReadError::TooManyTriangles(claimed.unwrap_or_default()));
    }
    // The library decides by the word "solid"; a binary file that begins with it is told apart here.
    let source = match (fits, ascii) {
        (false, _) => Cow::Owned(as_one_solid(bytes)),
        (true, true) => Cow::Owned([b"binary" as &[u8], &bytes[6..]].concat()),
        (true, false) => Cow::Borrowed(bytes),
    };
    let mut source = Cursor::new(&*source);
    // not collected: the library believes a claimed count and would set the memory aside at once
    let reader = stl_io::create_stl_reader(&mut source).map_err(|e| bad(e.to_string()))?;
    let mut mesh = Mesh::default();
    for (at, triangle) in reader.enumerate() {
        let triangle = triangle.map_err(|e| bad(format!("triangle {}: {e}", at + 1)))?;
        let first = mesh.vertices.len() as u32;
        for v in triangle.vertices {
            mesh.vertices.push(DVec3::new(v[0].into(), v[1].into(), v[2].into()));
        }
        mesh.triangles.push([first, first + 1, first + 2]);
    }
    Ok(FileMesh { mesh, unit: None })
}

fn starts_with(line: &[u8], word: &[u8]) -> bool {
    line.get(..word.len()).is_some_and(|start| start.eq_ignore_ascii_case(word))
}

/// An ASCII file as the library reads it, which stops after the first solid, knows small letters only, asks for a name and
/// for normals that are numbers: all solids of the file as one, whatever their names and normals are.
fn as_one_solid(bytes: &[u8]) -> Vec<u8> {
    let mut out = Vec::with_capacity(bytes.len() + 32);
    out.extend(b"solid part\n");
    for line in bytes.split(|b| matches!(b, b'\n' | b'\r')).map(<[u8]>::trim_ascii) {
        if line.is_empty() || starts_with(line, b"solid") || starts_with(line, b"endsolid") {
            continue;
        }
        if starts_with(line, b"facet") {
            out.extend(b"facet normal 0 0 0");
        } else {
            out.extend(line.iter().map(u8::to_ascii_lowercase));
        }
        out.push(b'\n');
    }
    out.extend(b"endsolid\n");
    out
}

/// Binary STL of `mesh`, single precision as the format has it.
#[must_use]
pub fn write(mesh: &Mesh) -> Vec<u8> {
    let single = |v: DVec3| stl_io::Vector::new(v.as_vec3().to_array());
    let triangles = (0..mesh.triangles.len())
        .map(|t| stl_io::Triangle { normal: single(mesh.normal(t)), vertices: mesh.corners(t).map(single) });
    let mut out = Vec::with_capacity(HEADER + RECORD * mesh.triangles.len());
    stl_io::write_stl(&mut out, triangles.collect::<Vec<_>>().iter()).expect("writing to memory does not fail");
    out
}
