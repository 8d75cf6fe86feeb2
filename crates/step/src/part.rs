//! STEP bodies as a part.

use crate::{Limits, StepBody, StepError, StepFile, read_watched};
use solid::{
    KnownFace, Mesh, Part, PartBody, PartError, Stage, Unwatched, Watch,
    formats::{ReadError, check_size},
    part::digest,
};
use trade::{BodySide, PartRef, Unit};

/// Endings of STEP files.
const ENDINGS: [&str; 3] = ["step", "stp", "p21"];

/// Does the name end as STEP files do?
#[must_use]
pub fn is_step(name: &str) -> bool {
    name.rsplit_once('.').is_some_and(|(_, e)| ENDINGS.contains(&e.to_ascii_lowercase().as_str()))
}

/// The part in `bytes`, by the ending of `name`: STEP through the child, the others as
/// [`Part::read`]. `wanted` says the unit where the format doesn't, and which bodies are taken.
///
/// # Errors
/// A sentence on what is wrong with the file, or that the unit is missing.
pub fn read_part(name: &str, bytes: &[u8], wanted: &PartRef) -> Result<Part, PartError> {
    read_part_watched(name, bytes, wanted, &Unwatched)
}

/// As [`read_part`], watched.
///
/// # Errors
/// As [`read_part`], or [`PartError::Stopped`].
pub fn read_part_watched(name: &str, bytes: &[u8], wanted: &PartRef, watch: &dyn Watch) -> Result<Part, PartError> {
    let mut part = if is_step(name) {
        read_step(bytes, wanted, watch)?
    } else {
        Part::read_mended(name, bytes, wanted.unit, &wanted.mends, watch)?
    };
    let surfaces = !part.bodies.is_empty() && part.bodies.iter().filter(|b| b.taken).all(|b| !b.solid);
    if let Some(side) = wanted.surface_body.or(surfaces.then_some(BodySide::Front)) {
        part.take_as_surface_body(side);
    }
    part.mend_faces(&wanted.face_mends)?;
    Ok(part)
}

fn read_step(bytes: &[u8], wanted: &PartRef, watch: &dyn Watch) -> Result<Part, PartError> {
    check_size(bytes)?;
    let limits = Limits::default();
    let file = read_watched(bytes, &limits, watch).map_err(|e| match e {
        StepError::Stopped => PartError::Stopped,
        other => ReadError::Elsewhere(other.to_string()).into(),
    })?;
    watch.reached(Stage::Faces, 0.0)?;
    let mut part = part(&file, wanted.bodies.as_deref(), limits.chord)?;
    part.sha256 = digest(bytes);
    Ok(part)
}

/// The part made of the bodies whose places `bodies` lists, or of all.
///
/// # Errors
/// A body that isn't there, or a part of no likely size.
fn part(file: &StepFile, bodies: Option<&[u32]>, chord: f64) -> Result<Part, PartError> {
    let count = file.bodies.len() as u32;
    if let Some(beyond) = bodies.and_then(|b| b.iter().find(|&&b| b >= count)) {
        let what = format!("the file has no body {}; it holds {count}", beyond + 1);
        return Err(ReadError::Bad { format: "STEP", what }.into());
    }
    let taken = |at: usize| bodies.is_none_or(|b| b.contains(&(at as u32)));
    let mut known = Vec::new();
    for (_, body) in file.bodies.iter().enumerate().filter(|(at, _)| taken(*at)) {
        let faces = faces(body);
        if !faces.iter().flat_map(|f| &f.mesh.vertices).all(|corner| corner.is_finite()) {
            let what = format!("body “{}” has corners whose place is no number", body.name);
            return Err(ReadError::Bad { format: "STEP", what }.into());
        }
        known.extend(faces);
    }
    let mut part = Part::from_known(&known, chord)?;
    part.unit = unit(&file.unit);
    part.bodies = file
        .bodies
        .iter()
        .enumerate()
        .map(|(at, b)| PartBody { name: b.name.clone(), solid: b.solid, volume: b.volume, taken: taken(at) })
        .collect();
    Ok(part)
}

fn faces(body: &StepBody) -> Vec<KnownFace> {
    let face = |f: &crate::StepFace| KnownFace {
        surface: f.surface.clone(),
        number: f.number,
        colour: f.colour.or(body.colour),
        mesh: Mesh { vertices: f.vertices.clone(), triangles: f.triangles.clone() },
        normals: f.normals.clone(),
    };
    body.faces.iter().map(face).collect()
}

/// The file's own unit by its name in the file; mm where it says none.
fn unit(name: &str) -> Unit {
    let name = name.to_lowercase();
    [
        ("micro", Unit::Micron),
        ("milli", Unit::Mm),
        ("centi", Unit::Cm),
        ("inch", Unit::Inch),
        ("foot", Unit::Foot),
        ("met", Unit::M),
    ]
    .into_iter()
    .find(|(part, _)| name.contains(part))
    .map_or(Unit::Mm, |(_, unit)| unit)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn units_are_known_by_their_names() {
        for (name, wanted) in [
            ("millimetre", Unit::Mm),
            ("INCH", Unit::Inch),
            ("metre", Unit::M),
            ("CENTIMETRE", Unit::Cm),
            ("", Unit::Mm),
        ] {
            assert_eq!(unit(name), wanted, "{name}");
        }
    }
}
