//! The part: a welded mesh with its faces and a report on its soundness.

use crate::{
    faces,
    formats::{self, ReadError},
    mesh::Mesh,
    soundness::{self, Soundness},
    surface::Surface,
    weld::{self, Welded},
};
use serde::Serialize;
use sha2::{Digest, Sha256};
use trade::Unit;

/// Parts smaller or larger than this across, mm, are slips of the unit.
pub const SIZES_MM: std::ops::RangeInclusive<f64> = 0.1..=20_000.0;

#[derive(Clone, Debug, Serialize)]
pub struct Face {
    pub surface: Surface,
    /// Greatest distance of a vertex from the surface, mm.
    pub residual: f64,
    pub facets: usize,
    /// mm².
    pub area: f64,
}

#[derive(Clone, Debug)]
pub struct Part {
    pub mesh: Mesh,
    pub faces: Vec<Face>,
    /// The face of each triangle.
    pub face_of: Vec<u32>,
    pub soundness: Soundness,
    pub welded: Welded,
    pub unit: Unit,
    /// SHA-256 of the file's bytes, hexadecimal.
    pub sha256: String,
}

#[derive(Debug, thiserror::Error)]
pub enum PartError {
    #[error(transparent)]
    Read(#[from] ReadError),
    #[error(
        "the file doesn't say its unit and none was given; as it stands the part is {mm:.3} mm long if drawn in mm, and {inch:.3} mm if drawn in inches"
    )]
    NoUnit { mm: f64, inch: f64 },
    #[error("the part would be {across:.6} mm across; parts from {} to {} mm can be marked: is the unit right?", SIZES_MM.start(), SIZES_MM.end())]
    Size { across: f64 },
    #[error("there is nothing left of the part after triangles without area were dropped")]
    Nothing,
}

impl Part {
    /// The part in `bytes`, read by the format that `name` ends in. `unit` is used where the format
    /// doesn't say one.
    ///
    /// # Errors
    /// A sentence on what is wrong with the file, or that the unit is missing. A part that is no
    /// closed solid is *not* an error: its [`Soundness`] tells.
    pub fn read(name: &str, bytes: &[u8], unit: Option<Unit>) -> Result<Self, PartError> {
        let file = formats::read(name, bytes)?;
        let Some(unit) = file.unit.or(unit) else {
            let (low, high) = file.mesh.bounds();
            let longest = (high - low).max_element();
            return Err(PartError::NoUnit { mm: longest, inch: longest * Unit::Inch.in_mm() });
        };
        let mut mesh = file.mesh;
        for v in &mut mesh.vertices {
            *v *= unit.in_mm();
        }
        let across = mesh.diagonal();
        if !SIZES_MM.contains(&across) {
            return Err(PartError::Size { across });
        }
        let mut part = Self::from_mesh(&mesh)?;
        part.unit = unit;
        part.sha256 = hex(&Sha256::digest(bytes));
        Ok(part)
    }

    /// A part from triangles in mm that came from no file.
    ///
    /// # Errors
    /// [`PartError::Nothing`] when no triangle has three distinct corners.
    pub fn from_mesh(mesh: &Mesh) -> Result<Self, PartError> {
        let (mut mesh, welded) = weld::weld(mesh, faces::tolerance(mesh) / 10.0);
        if mesh.triangles.is_empty() {
            return Err(PartError::Nothing);
        }
        let mut soundness = soundness::examine(&mesh);
        if soundness.is_closed() && mesh.volume() < 0.0 {
            mesh.turn();
            soundness.turned = true;
        }
        let found = faces::find(&mesh);
        let mut face_of = vec![0; mesh.triangles.len()];
        let mut faces = Vec::with_capacity(found.len());
        for face in found {
            for &t in &face.triangles {
                face_of[t as usize] = faces.len() as u32;
            }
            faces.push(Face {
                surface: face.surface,
                residual: face.residual,
                facets: face.triangles.len(),
                area: face.triangles.iter().map(|&t| mesh.area(t as usize)).sum(),
            });
        }
        Ok(Self { mesh, faces, face_of, soundness, welded, unit: Unit::Mm, sha256: String::new() })
    }

    /// The triangles of one face, in ascending order.
    pub fn triangles_of(&self, face: u32) -> impl Iterator<Item = u32> + '_ {
        (0..self.face_of.len() as u32).filter(move |&t| self.face_of[t as usize] == face)
    }
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec3;

    #[test]
    fn a_unit_is_asked_for_only_where_the_format_is_silent() {
        let obj = b"v 0 0 0\nv 2 0 0\nv 0 2 0\nv 0 0 2\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 4 3\n";
        let error = Part::read("corner.obj", obj, None).unwrap_err().to_string();
        assert!(error.contains("2.000 mm") && error.contains("50.800 mm"), "{error}");
        let part = Part::read("corner.obj", obj, Some(Unit::Inch)).unwrap();
        assert!((part.mesh.volume() - 8.0 / 6.0 * 25.4_f64.powi(3)).abs() < 1e-6);
        assert!(part.soundness.is_solid());
        assert_eq!(part.faces.len(), 4);
    }

    #[test]
    fn an_open_part_is_kept_with_its_open_edges_shown() {
        let obj = b"v 0 0 0\nv 2 0 0\nv 0 2 0\nv 0 0 2\nf 1 3 2\nf 1 2 4\nf 2 3 4\n";
        let part = Part::read("corner.obj", obj, Some(Unit::Mm)).unwrap();
        assert_eq!(part.soundness.open_edges, 3);
        assert!(part.soundness.bad_edges.iter().flatten().all(|p| p.x < 1e-12));
        assert!(part.soundness.complaint().unwrap().contains("3 open edges"));
    }

    #[test]
    fn an_inside_out_part_is_turned_and_a_flipped_facet_is_named() {
        let inside_out = b"v 0 0 0\nv 2 0 0\nv 0 2 0\nv 0 0 2\nf 1 2 3\nf 1 4 2\nf 2 4 3\nf 1 3 4\n";
        let part = Part::read("corner.obj", inside_out, Some(Unit::Mm)).unwrap();
        assert!(part.soundness.turned && part.mesh.volume() > 0.0);
        let flipped = b"v 0 0 0\nv 2 0 0\nv 0 2 0\nv 0 0 2\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 3 4\n";
        let part = Part::read("corner.obj", flipped, Some(Unit::Mm)).unwrap();
        assert_eq!(part.soundness.flipped_edges, 3);
    }

    #[test]
    fn two_bodies_that_cross_are_named() {
        let body = |at: DVec3| {
            let p = [DVec3::ZERO, DVec3::X * 2.0, DVec3::Y * 2.0, DVec3::Z * 2.0].map(|v| v + at);
            [[0, 2, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]].map(|t: [usize; 3]| t.map(|v| p[v]))
        };
        let soup: Vec<[DVec3; 3]> = body(DVec3::ZERO).into_iter().chain(body(DVec3::splat(0.31))).collect();
        let mesh = Mesh {
            vertices: soup.iter().flatten().copied().collect(),
            triangles: (0..soup.len() as u32).map(|t| [3 * t, 3 * t + 1, 3 * t + 2]).collect(),
        };
        let part = Part::from_mesh(&mesh).unwrap();
        assert_eq!(part.soundness.shells, 2);
        assert!(part.soundness.is_closed() && !part.soundness.is_solid());
        assert!(part.soundness.complaint().unwrap().contains("cross"));
    }
}
