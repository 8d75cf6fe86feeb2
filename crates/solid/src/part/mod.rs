//! The part: a welded mesh with its faces and a report on its soundness.

mod known;

use crate::{
    crossing, faces,
    formats::{self, ReadError},
    mend::{self, Mended},
    mesh::Mesh,
    soundness::{self, Soundness},
    surface::Surface,
    watch::{Stage, Stopped, Unwatched, Watch},
    weld::{self, Welded},
};
use glam::Vec3;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use trade::{BodySide, FaceMend, PartMend, Unit};

/// Parts smaller or larger than this across, mm, are slips of the unit.
pub const SIZES_MM: std::ops::RangeInclusive<f64> = 0.1..=20_000.0;

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Face {
    pub surface: Surface,
    /// Numbers of the file's own faces that lie on it; empty where the file knows only triangles and
    /// the face was found.
    pub numbers: Vec<u32>,
    /// sRGB, 0 to 1, where the file gives one.
    pub colour: Option<[f32; 3]>,
    /// Greatest distance of a vertex from the surface, mm.
    pub residual: f64,
    /// How far facets lie off the surface, mm, where they turn by more than a 24th of a turn: too coarse to tell for
    /// certain that it is round.
    pub coarse: Option<f64>,
    pub facets: usize,
    /// mm².
    pub area: f64,
}

/// A face as its file knows it, with facets of its own, mm.
#[derive(Clone, Debug)]
pub struct KnownFace {
    pub surface: Surface,
    /// The file's number for it.
    pub number: u32,
    pub colour: Option<[f32; 3]>,
    /// Facets, counter-clockwise from outside. Vertices of an edge that two faces share are equal to
    /// the last bit.
    pub mesh: Mesh,
    /// Outward unit normal of the surface at each vertex; zero where it has none.
    pub normals: Vec<Vec3>,
}

/// One body of a file that can hold several.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct PartBody {
    pub name: String,
    /// A solid; otherwise a surface body.
    pub solid: bool,
    /// mm³, by the file's own geometry; 0 for a surface body.
    pub volume: f64,
    /// It belongs to the part.
    pub taken: bool,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Part {
    pub mesh: Mesh,
    /// The surface's own normals at the corners of each triangle, where the file knows them.
    pub normals: Option<Vec<[Vec3; 3]>>,
    pub faces: Vec<Face>,
    /// The face of each triangle.
    pub face_of: Vec<u32>,
    pub soundness: Soundness,
    pub welded: Welded,
    /// What could be mended in a mesh that is not sound, and what that would change.
    pub mends: Vec<Mended>,
    /// What was mended.
    pub mended: Vec<Mended>,
    /// It is taken as a surface body.
    pub surface_body: Option<BodySide>,
    /// Faces joined and divided by hand.
    pub face_mends: Vec<FaceMend>,
    /// What the file holds, where it can hold several bodies.
    pub bodies: Vec<PartBody>,
    pub unit: Unit,
    /// SHA-256 of the file's bytes, hexadecimal.
    pub sha256: String,
}

#[derive(Debug, thiserror::Error)]
pub enum PartError {
    #[error(transparent)]
    Read(#[from] ReadError),
    #[error(
        "the file doesn't say its unit, or says one that can't be right, and none was given; as it stands the part is {mm:.3} mm long if drawn in mm, and {inch:.3} mm if drawn in inches"
    )]
    NoUnit { mm: f64, inch: f64 },
    #[error("the part would be {across:.6} mm across; parts from {} to {} mm can be marked: is the unit right?", SIZES_MM.start(), SIZES_MM.end())]
    Size { across: f64 },
    #[error("{0}")]
    FaceMend(String),
    #[error("reading the part was stopped")]
    Stopped,
    #[error("there is nothing left of the part after triangles without area were dropped")]
    Nothing,
}

impl From<Stopped> for PartError {
    fn from(_: Stopped) -> Self {
        Self::Stopped
    }
}

impl Part {
    /// The part in `bytes`, read by the format that `name` ends in. `unit` is used where the format
    /// doesn't say one.
    ///
    /// # Errors
    /// A sentence on what is wrong with the file, or that the unit is missing. A part that is no
    /// closed solid is *not* an error: its [`Soundness`] tells.
    pub fn read(name: &str, bytes: &[u8], unit: Option<Unit>) -> Result<Self, PartError> {
        Self::read_mended(name, bytes, unit, &[], &Unwatched)
    }

    /// As [`Part::read`], with the mesh mended in the order of `mends`, and watched.
    ///
    /// # Errors
    /// As [`Part::read`], or [`PartError::Stopped`].
    pub fn read_mended(
        name: &str,
        bytes: &[u8],
        unit: Option<Unit>,
        mends: &[PartMend],
        watch: &dyn Watch,
    ) -> Result<Self, PartError> {
        watch.reached(Stage::Reading, 0.0)?;
        let file = formats::read(name, bytes)?;
        // a unit that no part can have is none that was meant: glTF is in metres by its standard, whatever it was drawn in
        let fits = |unit: &Unit| SIZES_MM.contains(&(file.mesh.diagonal() * unit.in_mm()));
        let Some(unit) = file.unit.filter(fits).or(unit) else {
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
        let mut part = Self::mended(&mesh, mends, watch)?;
        part.unit = unit;
        part.sha256 = digest(bytes);
        Ok(part)
    }

    /// A part from triangles in mm that came from no file.
    ///
    /// # Errors
    /// [`PartError::Nothing`] when no triangle has three distinct corners.
    pub fn from_mesh(mesh: &Mesh) -> Result<Self, PartError> {
        Self::mended(mesh, &[], &Unwatched)
    }

    fn mended(mesh: &Mesh, mends: &[PartMend], watch: &dyn Watch) -> Result<Self, PartError> {
        watch.reached(Stage::Joining, 0.0)?;
        let (mut mesh, welded) = weld::weld(mesh, faces::tolerance(mesh) / 10.0);
        let mut mended = Vec::new();
        for &wanted in mends {
            let told;
            (mesh, told) = mend::mend(&mesh, wanted);
            mended.push(told);
        }
        if mesh.triangles.is_empty() {
            return Err(PartError::Nothing);
        }
        watch.reached(Stage::Soundness, 0.0)?;
        let mut soundness = soundness::at_edges(&mesh);
        if soundness.is_closed() && mesh.volume() < 0.0 {
            mesh.turn();
            soundness.turned = true;
        }
        // neither needs the other, and each takes seconds on a large part
        let (crossing, found) = rayon::join(|| crossing::crossing_pairs(&mesh), || faces::find(&mesh, watch));
        soundness.crossed(&mesh, &crossing);
        let found = found?;
        let mends = offers(&mesh, &soundness);
        let mut face_of = vec![0; mesh.triangles.len()];
        let mut faces = Vec::with_capacity(found.len());
        for face in found {
            for &t in &face.triangles {
                face_of[t as usize] = faces.len() as u32;
            }
            faces.push(Face {
                coarse: coarse(&mesh, &face.surface, &face.triangles),
                surface: face.surface,
                numbers: Vec::new(),
                colour: None,
                residual: face.residual,
                facets: face.triangles.len(),
                area: face.triangles.iter().map(|&t| mesh.area(t as usize)).sum(),
            });
        }
        Ok(Self {
            mesh,
            normals: None,
            faces,
            face_of,
            soundness,
            welded,
            mends,
            mended,
            surface_body: None,
            face_mends: Vec::new(),
            bodies: Vec::new(),
            unit: Unit::Mm,
            sha256: String::new(),
        })
    }

    /// Takes an open part as a surface body, with its outside on one side of it; what isn't
    /// sound otherwise stays what it is. Before anything is asked of the part.
    pub fn take_as_surface_body(&mut self, side: BodySide) {
        if !self.soundness.is_surface_body() {
            return;
        }
        self.surface_body = Some(side);
        if side == BodySide::Front {
            return;
        }
        self.mesh.turn();
        for n in self.normals.iter_mut().flatten() {
            *n = [-n[0], -n[2], -n[1]];
        }
        for face in &mut self.faces {
            face.surface = face.surface.clone().turned();
        }
    }

    /// Can it be marked: is it a closed solid, or taken as a surface body?
    ///
    /// # Errors
    /// What is wrong and what to do, in two sentences.
    pub fn markable(&self) -> Result<(), String> {
        match self.soundness.complaint() {
            Some(complaint) if self.surface_body.is_none() => Err(complaint),
            _ => Ok(()),
        }
    }

    /// The triangles of one face, in ascending order.
    pub fn triangles_of(&self, face: u32) -> impl Iterator<Item = u32> + '_ {
        (0..self.face_of.len() as u32).filter(move |&t| self.face_of[t as usize] == face)
    }
}

/// See [`Face::coarse`].
pub(crate) fn coarse(mesh: &Mesh, surface: &Surface, triangles: &[u32]) -> Option<f64> {
    /// Half of what a facet turns by, a hair more than there are 24 of.
    const HALF_DEG: f64 = 7.6;
    let most = HALF_DEG.to_radians().cos();
    if matches!(surface, Surface::Plane { .. } | Surface::Freeform) {
        return None;
    }
    let leans = |t: u32| {
        let own = mesh.normal(t as usize);
        // slivers have no direction of their own
        let thin = crate::segment::height(&mesh.corners(t as usize)) < 0.01;
        !thin && mesh.corners(t as usize).iter().all(|p| surface.normal(*p).is_some_and(|n| n.dot(own) < most))
    };
    if !triangles.iter().any(|&t| leans(t)) {
        return None;
    }
    let middles = triangles.iter().flat_map(|&t| {
        let [a, b, c] = mesh.corners(t as usize);
        [(a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0]
    });
    Some(surface.residual(middles))
}

/// Mends that would change something in a mesh that is not sound.
fn offers(mesh: &Mesh, soundness: &Soundness) -> Vec<Mended> {
    if soundness.is_solid() {
        return Vec::new();
    }
    PartMend::ALL.into_iter().map(|m| mend::mend(mesh, m).1).filter(|told| told.count > 0).collect()
}

/// SHA-256 of a file's bytes, hexadecimal.
#[must_use]
pub fn digest(bytes: &[u8]) -> String {
    Sha256::digest(bytes).iter().map(|b| format!("{b:02x}")).collect()
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
