//! A STEP file read back by the kernel and held to the meshes that it was drawn from.

use glam::{DAffine3, DVec3};
use relief::{MarkedSolid, Tag};
use serde::Serialize;
use solid::{Mesh, Surface, Watch, queries::Queries};
use std::collections::BTreeMap;
use step::{Drawn, Limits, StepBody, What, read_watched};
use trade::limits::State;

/// What a STEP file holds when it is read again.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct ExactRead {
    pub state: State,
    pub solids: usize,
    /// mm³, of all of them, by the kernel from their faces.
    pub volume: f64,
    /// How many faces are of each kind.
    pub faces: BTreeMap<&'static str, usize>,
    /// Places that were compared, and how far the farthest lies off, mm: from the file's faces to the mesh and back.
    pub places: usize,
    pub farthest: f64,
    /// What of it is not exact, and why.
    pub faceted: Vec<String>,
    pub sentence: String,
}

/// The file's faces are meshed within this of themselves when it is read back, mm.
const CHORD: f64 = 0.002;
/// Places that are compared, each way.
const PLACES: usize = 2000;
/// A curve through the corners of an outline lies off its chords by no more than twice what outlines are flattened to, a
/// round top off its facets by less.
const DRAWN: f64 = 2.0 * flat::FLATTENED_TO;

/// What a file should hold.
pub struct Asked<'a> {
    pub drawn: &'a [Drawn],
    /// What each was drawn from.
    pub meshes: &'a [&'a Mesh],
    /// The marked solid, where it holds the part.
    pub whole: Option<&'a MarkedSolid>,
    /// Where and how large it was written.
    pub place: DAffine3,
}

/// A file read back.
///
/// # Errors
/// It is not what was built: a sentence.
pub fn held(bytes: &[u8], asked: &Asked<'_>, faceted: Vec<String>, watch: &dyn Watch) -> Result<ExactRead, String> {
    let &Asked { drawn, meshes, whole, place } = asked;
    let scale = place.matrix3.determinant().abs().cbrt();
    let larger = |mesh: &Mesh| {
        let mut mesh = mesh.clone();
        mesh.vertices.iter_mut().for_each(|p| *p = place.transform_point3(*p));
        mesh
    };
    let limits = Limits { chord: CHORD, ..Limits::default() };
    let file = read_watched(bytes, &limits, watch).map_err(|e| e.to_string())?;
    let apart = drawn.iter().zip(meshes).filter(|(body, _)| whole.is_none() || body.what == What::Apart);
    let mut wanted: Vec<(&str, Mesh, Vec<DVec3>)> = Vec::new();
    // facets of the part lie off its true surface, by as much as they were asked to when it was read
    let part = Limits::default().chord;
    if let Some(solid) = whole {
        let relief = |t: &usize| matches!(solid.tags[*t], Tag::Relief { .. });
        let own: Vec<usize> = (0..solid.tags.len()).filter(relief).collect();
        let mesh = larger(&solid.mesh);
        let places = places(&mesh, &own);
        wanted.push(("the marked solid", mesh, places));
    }
    wanted.extend(apart.map(|(body, mesh)| {
        let (all, mesh): (Vec<usize>, Mesh) = ((0..mesh.triangles.len()).collect(), larger(mesh));
        let places = places(&mesh, &all);
        (body.name.as_str(), mesh, places)
    }));
    if file.bodies.len() != wanted.len() {
        return Err(format!("read back it holds {} solids where {} were drawn", file.bodies.len(), wanted.len()));
    }
    let most = (PLACES / wanted.len()).max(20);
    let mut read = ExactRead {
        state: State::Passes,
        solids: file.bodies.len(),
        volume: 0.0,
        faces: BTreeMap::new(),
        places: 0,
        farthest: 0.0,
        faceted,
        sentence: String::new(),
    };
    for (body, (name, mesh, places)) in file.bodies.iter().zip(wanted) {
        if !body.solid {
            return Err(format!("read back “{name}” is no solid"));
        }
        let off = CHORD + scale * (DRAWN + if whole.is_some() { part } else { 0.0 });
        let (made, area) = (mesh.volume(), body.area);
        if (body.volume - made).abs() > off * area {
            return Err(format!("read back “{name}” holds {:.4} mm³ where {made:.4} were built", body.volume));
        }
        read.volume += body.volume;
        for face in &body.faces {
            // walls between curved outlines are splines to the kernel
            let word = if face.surface == Surface::Freeform { "spline" } else { face.surface.word() };
            *read.faces.entry(word).or_default() += 1;
        }
        let own = of(body);
        let thinned = |places: &[DVec3]| -> Vec<DVec3> {
            let step = places.len().div_ceil(most).max(1);
            places.iter().step_by(step).copied().collect()
        };
        let all: Vec<usize> = (0..own.triangles.len()).collect();
        let there = thinned(&self::places(&own, &all));
        let back = thinned(&places);
        read.places += there.len() + back.len();
        let (built, own) = (Queries::new(mesh), Queries::new(own));
        for (to, from) in [(&built, &there), (&own, &back)] {
            for p in from {
                let far = to.nearest(*p, f64::MAX).map_or(f64::INFINITY, |hit| hit.distance);
                if far > off {
                    return Err(format!(
                        "read back “{name}” lies {far:.4} mm off what was built, at {:.3}, {:.3}, {:.3}",
                        p.x, p.y, p.z
                    ));
                }
                read.farthest = read.farthest.max(far);
            }
        }
    }
    let kinds: Vec<String> = read.faces.iter().map(|(kind, count)| format!("{count} {kind}")).collect();
    read.sentence = format!(
        "Read back: {}, {:.2} mm³; none of {} places more than {:.4} mm off the mesh. Faces: {}.",
        if read.solids == 1 { "1 solid".to_owned() } else { format!("{} solids", read.solids) },
        read.volume,
        read.places,
        read.farthest,
        kinds.join(", ")
    );
    Ok(read)
}

/// Middles of facets.
fn places(mesh: &Mesh, facets: &[usize]) -> Vec<DVec3> {
    facets.iter().map(|&t| mesh.centroid(t)).collect()
}

fn of(body: &StepBody) -> Mesh {
    let mut mesh = Mesh::default();
    for face in &body.faces {
        mesh.append(&Mesh { vertices: face.vertices.clone(), triangles: face.triangles.clone() });
    }
    mesh
}
