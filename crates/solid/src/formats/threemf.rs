//! 3MF (core specification): the mesh objects of the build, with their components and transforms.
//! The format says its unit.
//!
//! The archive is unpacked once into nowhere under a limit before the library reads it, so that a
//! small file can't claim gigabytes.

use super::{FileMesh, MOST_TRIANGLES, ReadError};
use crate::mesh::Mesh;
use glam::DVec3;
use std::{
    collections::HashMap,
    io::{self, Cursor, Read},
};
use threemf2::{
    model::{builder::Unit as FileUnit, query::MeshObjectView},
    package::{ThreemfPackage, query},
};
use trade::Unit;

/// Most bytes the whole archive may unpack to: what the most triangles need at about 80 bytes each.
const MOST_UNPACKED: u64 = 1 << 30;
/// Components inside components, at most.
const DEEPEST: usize = 8;
const MOST_ENTRIES: usize = 10_000;
/// Objects placed by the build and by components of components, at most.
const MOST_PLACED: usize = 100_000;
const MOST_VERTICES: usize = 3 * MOST_TRIANGLES;

/// # Errors
/// Not a 3MF archive, one that unpacks to too much, or one whose references lead nowhere.
pub fn read(bytes: &[u8]) -> Result<FileMesh, ReadError> {
    check_archive(bytes)?;
    let package = ThreemfPackage::from_reader_with_memory_optimized_deserializer(Cursor::new(bytes), true)
        .map_err(|e| bad(format!("{e:?}")))?;
    let meshes: HashMap<(Option<String>, u32), MeshObjectView<'_>> = query::get_mesh_objects(&package)
        .map(|o| ((o.origin_model_path.map(str::to_owned), o.view.id()), o.view))
        .collect();
    let mut components: HashMap<(Option<String>, u32), Vec<Placed>> = HashMap::new();
    for object in query::get_components_objects(&package) {
        let own = object.origin_model_path.map(str::to_owned);
        let list = object
            .view
            .components()
            .map(|c| Placed {
                path: c.path().map(str::to_owned).or_else(|| own.clone()),
                object: c.object_id(),
                transform: Transform::of(c.transform()),
            })
            .collect();
        components.insert((own, object.view.id()), list);
    }
    let mut out = Collector { meshes: &meshes, components: &components, mesh: Mesh::default(), left: MOST_PLACED };
    for item in query::get_items(&package) {
        // only the root model's build is made; sub-models are parts of it
        if item.origin_model_path.is_none() {
            let placed = Placed {
                path: item.view.path().map(str::to_owned),
                object: item.view.object_id(),
                transform: Transform::of(item.view.transform()),
            };
            out.add(&placed, Transform::IDENTITY, 0)?;
        }
    }
    Ok(FileMesh { mesh: out.mesh, unit: Some(unit(package.root.unit.unwrap_or_default())) })
}

fn bad(what: String) -> ReadError {
    ReadError::Bad { format: "3MF", what }
}

fn unit(unit: FileUnit) -> Unit {
    match unit {
        FileUnit::Micron => Unit::Micron,
        FileUnit::Millimeter => Unit::Mm,
        FileUnit::Centimeter => Unit::Cm,
        FileUnit::Meter => Unit::M,
        FileUnit::Inch => Unit::Inch,
        FileUnit::Foot => Unit::Foot,
    }
}

fn check_archive(bytes: &[u8]) -> Result<(), ReadError> {
    let mut archive =
        zip::ZipArchive::new(Cursor::new(bytes)).map_err(|e| bad(format!("it is not a 3MF archive ({e})")))?;
    if archive.len() > MOST_ENTRIES {
        return Err(bad(format!("its archive has {} entries; at most {MOST_ENTRIES} are read", archive.len())));
    }
    let mut left = MOST_UNPACKED;
    for at in 0..archive.len() {
        let entry = archive.by_index(at).map_err(|e| bad(e.to_string()))?;
        let name = entry.name().to_owned();
        let unpacked = io::copy(&mut entry.take(left + 1), &mut io::sink())
            .map_err(|e| bad(format!("“{name}” in its archive is damaged: {e}")))?;
        left = left
            .checked_sub(unpacked)
            .ok_or_else(|| bad(format!("its archive unpacks to more than {} MB", MOST_UNPACKED >> 20)))?;
    }
    Ok(())
}

struct Placed {
    path: Option<String>,
    object: u32,
    transform: Transform,
}

/// Rows of 3MF's 4 × 3 matrix: points are row vectors, p' = p · M (core specification 3.3).
#[derive(Clone, Copy)]
struct Transform([DVec3; 4]);

impl Transform {
    const IDENTITY: Self = Self([DVec3::X, DVec3::Y, DVec3::Z, DVec3::ZERO]);

    fn of(matrix: Option<[f64; 16]>) -> Self {
        matrix.map_or(Self::IDENTITY, |m| {
            // the library hands them out column by column
            Self([0, 1, 2, 3].map(|row| DVec3::new(m[row], m[4 + row], m[8 + row])))
        })
    }

    fn direction(&self, v: DVec3) -> DVec3 {
        self.0[0] * v.x + self.0[1] * v.y + self.0[2] * v.z
    }

    fn point(&self, v: DVec3) -> DVec3 {
        self.direction(v) + self.0[3]
    }

    /// First `self`, then `outer`.
    fn then(&self, outer: &Self) -> Self {
        let [a, b, c, d] = self.0;
        Self([outer.direction(a), outer.direction(b), outer.direction(c), outer.point(d)])
    }

    fn mirrors(&self) -> bool {
        self.0[0].cross(self.0[1]).dot(self.0[2]) < 0.0
    }
}

struct Collector<'a> {
    meshes: &'a HashMap<(Option<String>, u32), MeshObjectView<'a>>,
    components: &'a HashMap<(Option<String>, u32), Vec<Placed>>,
    mesh: Mesh,
    /// Objects that may still be placed.
    left: usize,
}

impl Collector<'_> {
    fn add(&mut self, placed: &Placed, outer: Transform, depth: usize) -> Result<(), ReadError> {
        if depth > DEEPEST {
            return Err(bad(format!("its components are nested deeper than {DEEPEST}")));
        }
        self.left = self.left.checked_sub(1).ok_or_else(|| {
            bad(format!("it places objects more than {MOST_PLACED} times; join them in the program that made it"))
        })?;
        let transform = placed.transform.then(&outer);
        let key = (placed.path.clone(), placed.object);
        if let Some(mesh) = self.meshes.get(&key) {
            let first = self.mesh.vertices.len() as u32;
            if self.mesh.vertices.len() > MOST_VERTICES {
                return Err(bad(format!("it holds more than {MOST_VERTICES} vertices")));
            }
            self.mesh.vertices.extend(mesh.vertices().map(|v| transform.point(DVec3::from(v))));
            let mirrors = transform.mirrors();
            for t in mesh.triangles() {
                let [a, b, c] = t.map(|v| first.saturating_add(v));
                self.mesh.triangles.push(if mirrors { [a, c, b] } else { [a, b, c] });
            }
            if self.mesh.triangles.len() > MOST_TRIANGLES {
                return Err(ReadError::TooManyTriangles(self.mesh.triangles.len()));
            }
            return Ok(());
        }
        let list = self
            .components
            .get(&key)
            .ok_or_else(|| bad(format!("it names object {}, which it doesn't hold", placed.object)))?;
        for component in list {
            self.add(component, transform, depth + 1)?;
        }
        Ok(())
    }
}
