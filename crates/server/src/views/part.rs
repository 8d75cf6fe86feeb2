//! A part: its size, faces, bodies, soundness.

use glam::DVec3;
use serde::Serialize;
use solid::{Part, Surface, mend::Mended};
use trade::{PartMend, Unit};
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct PartView {
    /// Extent along x, y, z.
    pub size: [f64; 3],
    pub middle: [f64; 3],
    pub triangles: usize,
    /// mm³; `None` for a part that is not closed.
    pub volume: Option<f64>,
    pub unit: Unit,
    pub faces: Vec<FaceView>,
    /// Bodies of a file that can hold several.
    pub bodies: Vec<BodyView>,
    pub soundness: SoundnessView,
    /// Under this name the mesh is fetched.
    pub mesh: String,
}

#[derive(Serialize, ToSchema)]
pub struct BodyView {
    pub name: String,
    /// A solid; otherwise a surface body.
    pub solid: bool,
    /// mm³, by the file's own geometry.
    pub volume: f64,
    /// It belongs to the part.
    pub taken: bool,
}

#[derive(Serialize, ToSchema)]
pub struct FaceView {
    pub face: u32,
    pub kind: &'static str,
    /// It has a normal or an axis that a pull can be taken from.
    pub direction: bool,
    /// The file's own numbers for it, where it has faces.
    pub numbers: Vec<u32>,
    /// The face in a few words, with the residual of its fit.
    pub says: String,
    /// mm².
    pub area: f64,
    pub facets: usize,
}

#[derive(Serialize, ToSchema)]
pub struct SoundnessView {
    pub solid: bool,
    /// It is taken as a surface body, with this side of it outside.
    pub surface_body: Option<trade::BodySide>,
    /// It is open but sound otherwise: it could be meant as a surface body.
    pub could_be_surface_body: bool,
    /// What is wrong and what to do.
    pub complaint: Option<String>,
    pub shells: usize,
    pub turned: bool,
    /// What could be mended, and what was.
    pub mends: Vec<MendView>,
    pub mended: Vec<MendView>,
    /// Vertices that stood apart by less than the welding tolerance and were joined.
    pub joined: usize,
    pub dropped: usize,
    /// Facets so low that their normals mean nothing, and their longest edges.
    pub slivers: usize,
    pub sliver_edges: Vec<[[f64; 3]; 2]>,
    /// Segments to show.
    pub bad_edges: Vec<[[f64; 3]; 2]>,
    pub crossing_triangles: Vec<[[f64; 3]; 3]>,
}

#[derive(Serialize, ToSchema)]
pub struct MendView {
    pub mend: PartMend,
    /// Facets dropped or turned, bits dropped, holes closed.
    pub count: usize,
    /// mm³, as far as what is not closed encloses any.
    pub before: f64,
    pub after: f64,
}

impl From<&Mended> for MendView {
    fn from(m: &Mended) -> Self {
        Self { mend: m.mend, count: m.count, before: m.before, after: m.after }
    }
}

pub(super) fn part(part: &Part) -> PartView {
    let (low, high) = part.mesh.bounds();
    let sound = &part.soundness;
    PartView {
        size: (high - low).to_array(),
        middle: ((high + low) / 2.0).to_array(),
        triangles: part.mesh.triangles.len(),
        volume: sound.is_closed().then(|| part.mesh.volume()),
        unit: part.unit,
        faces: faces(part),
        bodies: part
            .bodies
            .iter()
            .map(|b| BodyView { name: b.name.clone(), solid: b.solid, volume: b.volume, taken: b.taken })
            .collect(),
        soundness: SoundnessView {
            solid: sound.is_solid(),
            surface_body: part.surface_body,
            could_be_surface_body: sound.is_surface_body(),
            complaint: match sound.faults("The part") {
                _ if part.surface_body.is_some() => None,
                Some(faults) if !part.mends.is_empty() => Some(format!(
                    "{faults} Mend it below, or close it in the program it was drawn in and drop it again."
                )),
                _ => sound.complaint(),
            },
            shells: sound.shells,
            mends: part.mends.iter().map(Into::into).collect(),
            mended: part.mended.iter().map(Into::into).collect(),
            turned: sound.turned,
            joined: part.welded.joined_apart,
            dropped: part.welded.dropped,
            slivers: sound.slivers,
            sliver_edges: sound.sliver_edges.iter().map(|e| e.map(|p: DVec3| p.to_array())).collect(),
            bad_edges: if part.surface_body.is_some() { &[][..] } else { &sound.bad_edges }
                .iter()
                .map(|e| e.map(|p: DVec3| p.to_array()))
                .collect(),
            crossing_triangles: sound.crossing_triangles.iter().map(|t| t.map(|p: DVec3| p.to_array())).collect(),
        },
        mesh: crate::app::piece_name(part, "part"),
    }
}

/// The faces of a part.
#[must_use]
pub fn faces(part: &Part) -> Vec<FaceView> {
    part.faces
        .iter()
        .enumerate()
        .map(|(at, f)| FaceView {
            face: at as u32,
            kind: f.surface.word(),
            direction: !matches!(f.surface, Surface::Sphere { .. } | Surface::Freeform),
            numbers: f.numbers.clone(),
            says: says(part, at as u32),
            area: f.area,
            facets: f.facets,
        })
        .collect()
}

/// A face in a few words: "cylinder R 15.000, found, largest miss 0.0002 mm".
#[must_use]
pub fn says(part: &Part, face: u32) -> String {
    let Some(found) = part.faces.get(face as usize) else { return String::new() };
    let name = found.surface.word();
    let whence = if found.numbers.is_empty() { "found" } else { "by the file" };
    let miss = if found.residual < 1e-4 {
        format!("{whence}, largest miss below 0.0001 mm")
    } else {
        format!("{whence}, largest miss {:.4} mm", found.residual)
    };
    let miss = match found.coarse {
        Some(off) => format!(
            "{miss}; fewer than 24 facets a turn: it may as well be flats, and a relief is off by up to {off:.3} mm"
        ),
        None => miss,
    };
    match found.surface {
        Surface::Plane { normal, .. } => {
            let facing = [
                ("+x", DVec3::X),
                ("+y", DVec3::Y),
                ("+z", DVec3::Z),
                ("−x", -DVec3::X),
                ("−y", -DVec3::Y),
                ("−z", -DVec3::Z),
            ]
            .into_iter()
            .find(|(_, d)| normal.dot(*d) > 1.0 - 1e-9)
            .map_or_else(
                || format!("facing {:.3} {:.3} {:.3}", normal.x, normal.y, normal.z),
                |(word, _)| format!("facing {word}"),
            );
            format!("{name} {facing}, {miss}")
        }
        Surface::Cylinder { radius, .. } | Surface::Sphere { radius, .. } => format!("{name} R {radius:.3}, {miss}"),
        Surface::Cone { angle, .. } => format!("{name} of {:.3}° to its axis, {miss}", angle.to_degrees()),
        Surface::Torus { major, minor, .. } => format!("{name} R {major:.3}, tube R {minor:.3}, {miss}"),
        Surface::Revolution { ref profile, .. } | Surface::Extrusion { ref profile, .. } => {
            format!("{name}, its profile {:.3} long, {miss}", profile.length())
        }
        Surface::Freeform => format!("{name}, {} facets", found.facets),
    }
}
