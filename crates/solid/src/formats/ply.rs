//! PLY (Turk 1994), text and binary of either order: vertices and faces, polygons cut into triangles.
//! The format has no unit; colours and normals are not used.

use super::{FileMesh, ReadError};
use crate::mesh::Mesh;
use glam::DVec3;
use ply_rs_bw::{
    parser::{Parser, Reader},
    ply::{PropertyAccess, PropertyAccessResult, PropertyAccessResult::Ignored, PropertyAccessResult::Set},
};

#[derive(Default)]
struct Vertex([f64; 3]);

impl Vertex {
    fn put(&mut self, name: &str, value: f64) -> PropertyAccessResult {
        match name {
            "x" => self.0[0] = value,
            "y" => self.0[1] = value,
            "z" => self.0[2] = value,
            _ => return Ignored,
        }
        Set
    }
}

impl PropertyAccess for Vertex {
    fn new() -> Self {
        // what a file leaves out is no number, and is refused as such
        Self([f64::NAN; 3])
    }

    fn set_float(&mut self, name: &str, value: f32) -> PropertyAccessResult {
        self.put(name, f64::from(value))
    }

    fn set_double(&mut self, name: &str, value: f64) -> PropertyAccessResult {
        self.put(name, value)
    }

    fn set_int(&mut self, name: &str, value: i32) -> PropertyAccessResult {
        self.put(name, f64::from(value))
    }

    fn set_short(&mut self, name: &str, value: i16) -> PropertyAccessResult {
        self.put(name, f64::from(value))
    }

    fn set_uchar(&mut self, _: &str, _: u8) -> PropertyAccessResult {
        Ignored
    }
}

#[derive(Default)]
struct Face(Vec<i64>);

impl Face {
    fn put<T: Into<i64>>(&mut self, name: &str, list: Vec<T>) -> PropertyAccessResult {
        if !matches!(name, "vertex_indices" | "vertex_index") {
            return Ignored;
        }
        self.0 = list.into_iter().map(Into::into).collect();
        Set
    }
}

impl PropertyAccess for Face {
    fn new() -> Self {
        Self::default()
    }

    fn set_list_int(&mut self, name: &str, value: Vec<i32>) -> PropertyAccessResult {
        self.put(name, value)
    }

    fn set_list_uint(&mut self, name: &str, value: Vec<u32>) -> PropertyAccessResult {
        self.put(name, value)
    }

    fn set_list_short(&mut self, name: &str, value: Vec<i16>) -> PropertyAccessResult {
        self.put(name, value)
    }

    fn set_list_ushort(&mut self, name: &str, value: Vec<u16>) -> PropertyAccessResult {
        self.put(name, value)
    }

    fn set_list_uchar(&mut self, name: &str, value: Vec<u8>) -> PropertyAccessResult {
        self.put(name, value)
    }

    fn set_list_char(&mut self, name: &str, value: Vec<i8>) -> PropertyAccessResult {
        self.put(name, value)
    }
}

/// Anything else in the file, read past.
#[derive(Default)]
struct Other;

impl PropertyAccess for Other {
    fn new() -> Self {
        Self
    }
}

/// # Errors
/// What the reader stumbled over, with its line in a text file.
pub fn read(bytes: &[u8]) -> Result<FileMesh, ReadError> {
    let bad = |what: String| ReadError::Bad { format: "PLY", what };
    let mut reader = Reader::new(bytes);
    let header = Parser::<Other>::new().read_header(&mut reader).map_err(|e| bad(e.to_string()))?;
    if let Some(element) = header.elements.values().find(|e| e.count > bytes.len()) {
        return Err(bad(format!("it claims {} of “{}”, more than it has bytes", element.count, element.name)));
    }
    let mut mesh = Mesh::default();
    for element in header.elements.values() {
        match element.name.as_str() {
            "vertex" => {
                let vertices = Parser::<Vertex>::new().read_payload_for_element(&mut reader, element, &header);
                mesh.vertices =
                    vertices.map_err(|e| bad(e.to_string()))?.into_iter().map(|v| DVec3::from(v.0)).collect();
            }
            "face" => {
                let faces = Parser::<Face>::new().read_payload_for_element(&mut reader, element, &header);
                for (at, Face(corners)) in faces.map_err(|e| bad(e.to_string()))?.into_iter().enumerate() {
                    mesh.add_polygon(&corners).map_err(|what| bad(format!("face {}: {what}", at + 1)))?;
                }
            }
            _ => {
                Parser::<Other>::new()
                    .read_payload_for_element(&mut reader, element, &header)
                    .map_err(|e| bad(e.to_string()))?;
            }
        }
    }
    Ok(FileMesh { mesh, unit: None })
}
