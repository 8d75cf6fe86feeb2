//! An electrode: what sinks raised lettering into the steel by sparks. It is the lettering less the spark gap on every side, on
//! a block to clamp it by.

use crate::{
    SteelError,
    engraved::{joined, united},
    within::{about, bounds, surface, way},
};
use flat::offset::{grown, rounded};
use glam::DVec3;
use relief::{BuiltMark, CharacterBody, body::Role};
use solid::{Mesh, boolean::Body, queries::Queries};
use std::collections::HashSet;
use trade::{MeasuredAt, Rounds, Sense};

/// The block stays so far off the steel beside the letters, mm in the steel. Common practice.
pub const CLEAR: f64 = 1.0;
/// Bodies that are joined overlap by so much, mm.
const LAP: f64 = 0.05;
/// So far the surface may fall away beside the letters, mm.
const FALLS: f64 = 100.0;

#[derive(Clone, Debug)]
pub struct Electrode {
    /// Where it stands all the way down, part coordinates at the part's size.
    pub mesh: Mesh,
    /// The way it goes down: a unit vector out of the part.
    pub along: DVec3,
    /// It goes down along the way that the steel leaves.
    pub by_the_pull: bool,
    /// Between it and the steel, all the way down, as measured from its facets: least and greatest, mm in the steel.
    pub gap: [f64; 2],
    /// Size of its block, mm in the steel.
    pub block: DVec3,
}

/// The electrode of a mark. `gap`, `stock` and `margin` are mm in the steel, which is `scale` times the part; `part` is
/// the bare part.
///
/// Walls at draft δ move by gap / cos δ along the seat, and tops go down by the gap, so that each is the gap away from where it
/// was, square to itself. In inner corners of outlines with draft the gap is wider, up to √2 times in a right angle.
///
/// # Errors
/// Something of the mark is not raised, has a pad, is thinner than two gaps or lower than one, or can't be sunk in one way.
pub fn electrode(
    built: &BuiltMark,
    part: &Queries,
    [gap, stock, margin]: [f64; 3],
    scale: f64,
) -> Result<Electrode, SteelError> {
    let mark = &built.mark;
    if built.bodies.is_empty() || built.bodies.iter().any(|b| built.relief(b.character).sense != Sense::Raised) {
        return Err(SteelError::new("an electrode sinks raised lettering; some of this mark is not raised"));
    }
    if built.pad.is_some() {
        return Err(SteelError::new(
            "an electrode sinks lettering that stands on the part itself; this mark stands on a pad",
        ));
    }
    let own = gap / scale;
    let mut less = mark.clone();
    let relief = &mut less.relief;
    if relief.height - own < 0.01 {
        return Err(SteelError::new(format!("its height leaves nothing for an electrode less a gap of {gap} mm")));
    }
    let (sin, cos) = relief.draft.to_radians().sin_cos();
    relief.height -= own;
    // how much narrower the letter is at the electrode's top than at the level that its outline is of, and the gap there. Held
    // at its top the electrode keeps off inner corners by the gap and more; held at its root it would come too near
    let narrower = match relief.measured_at {
        MeasuredAt::Top => -own * sin / cos,
        MeasuredAt::Root => relief.height * sin / cos,
    };
    relief.measured_at = MeasuredAt::Top;
    relief.edge = (relief.edge - own).max(0.0);
    if relief.root > 0.0 {
        relief.root = (relief.root + own).min(relief.height);
    }
    relief.rounds = Rounds::AsFit;
    let mut placed = built.placed.clone();
    for c in &mut placed.characters {
        let thinner = rounded(&grown(&c.region, -narrower), -own / cos);
        if thinner.islands.len() != c.region.islands.len() || thinner.counters() != c.region.counters() {
            return Err(SteelError::new(format!("“{}” has strokes thinner than two gaps of {gap} mm", c.text)));
        }
        c.region = thinner;
    }
    let letters = BuiltMark::of(&less, built.ground.clone(), placed, built.pull)
        .map_err(|e| SteelError::new(format!("its letters less a gap of {gap} mm can't be built: {e}")))?;
    let along = way(&letters, letters.bodies.iter()).map_err(|over| {
        SteelError::new(format!("its walls lean over by {over:.1}°: no electrode leaves them in one way"))
    })?;
    let frame = about(built, along);
    let (low, high) = bounds(letters.bodies.iter().map(|b| &b.mesh), &frame);
    let margin = margin / scale;
    let (from, to) = (low.truncate() - margin, high.truncate() + margin);
    let field = surface(part, &frame, [from, to], high.z + CLEAR, low.z - FALLS);
    let top = field.least.min(low.z) - CLEAR / scale;
    let block = [from.extend(top - stock / scale), to.extend(top)];
    let mut bodies: Vec<Mesh> = letters.bodies.iter().map(|b| frame.mesh(&b.mesh)).collect();
    bodies.extend(letters.bodies.iter().map(|b| shank(b, &frame.mesh(&b.mesh), top - LAP)));
    let standing = united(bodies.iter())?.unwrap_or_default();
    let standing = Body::new(&standing, "the electrode").map_err(joined)?;
    let whole = Body::block(block[0], block[1]).with(&[standing], &[]).map_err(joined)?;
    if whole.pieces() != 1 {
        return Err(SteelError::new("its letters don't all stand on the electrode's block"));
    }
    Ok(Electrode {
        mesh: frame.mesh_of_part(&whole.traced().mesh),
        along,
        by_the_pull: built.pull == Some(along),
        gap: gaps(&letters, built).map(|g| g * scale),
        block: (block[1] - block[0]) * scale,
    })
}

/// What joins a letter to the block: its far side drawn down to `to`. Local coordinates.
fn shank(body: &CharacterBody, mesh: &Mesh, to: f64) -> Mesh {
    let far = body.roles.iter().zip(&mesh.triangles).filter(|(role, _)| **role == Role::Skirt).map(|(_, t)| *t);
    let far: Vec<[u32; 3]> = far.collect();
    let count = mesh.vertices.len() as u32;
    let up = mesh.vertices.iter().map(|p| *p + DVec3::Z * LAP);
    let vertices = up.chain(mesh.vertices.iter().map(|p| p.with_z(to))).collect();
    let sides: HashSet<[u32; 2]> = far.iter().flat_map(|&[a, b, c]| [[a, b], [b, c], [c, a]]).collect();
    let mut triangles = Vec::new();
    for &[a, b, c] in &far {
        triangles.push([a, c, b]);
        triangles.push([a + count, b + count, c + count]);
    }
    // of the set, in the order of the facets, so that the same letter gives the same mesh
    let rim = far.iter().flat_map(|&[a, b, c]| [[a, b], [b, c], [c, a]]).filter(|&[a, b]| !sides.contains(&[b, a]));
    for [a, b] in rim {
        triangles.push([b + count, a + count, a]);
        triangles.push([b + count, a, b]);
    }
    let all: Vec<u32> = (0..triangles.len() as u32).collect();
    Mesh { vertices, triangles }.piece(&all).0
}

/// Least and greatest distance from the facets of an electrode's letters to those of the lettering, above the seat, mm.
fn gaps(letters: &BuiltMark, built: &BuiltMark) -> [f64; 2] {
    let formed = |body: &CharacterBody| -> Vec<u32> {
        let roles = body.roles.iter().enumerate();
        roles.filter(|(_, role)| !matches!(role, Role::Skirt | Role::Base)).map(|(t, _)| t as u32).collect()
    };
    let mut steel = Mesh::default();
    built.bodies.iter().for_each(|b| steel.append(&b.mesh.piece(&formed(b)).0));
    let steel = Queries::new(steel);
    let mut found = [f64::INFINITY, 0.0_f64];
    for body in &letters.bodies {
        for t in formed(body) {
            let p = body.mesh.centroid(t as usize);
            if built.ground.height(p) < 0.0 {
                continue;
            }
            if let Some(hit) = steel.nearest(p, f64::MAX) {
                found = [found[0].min(hit.distance), found[1].max(hit.distance)];
            }
        }
    }
    found
}
