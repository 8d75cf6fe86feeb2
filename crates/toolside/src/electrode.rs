//! An electrode: what sinks raised lettering into the steel by sparks. It is the lettering less the spark gap on every side, on
//! a block to clamp it by.

use crate::{
    SteelError,
    engraved::{joined, united},
    within::{about, bounds, surface, way},
};
use flat::{
    Region,
    offset::{grown, rounded},
};
use glam::{DVec2, DVec3};
use relief::{BuiltMark, CharacterBody, body::Role};
use solid::{Mesh, boolean::Body, queries::Queries};
use std::collections::HashSet;
use trade::{MeasuredAt, Rounds, Sense, Walls};

/// The block stays so far off the steel beside the letters, mm in the steel. Common practice.
pub const CLEAR: f64 = 1.0;
/// Bodies that are joined overlap by so much, mm.
const LAP: f64 = 0.05;
/// An electrode that comes nearer to the steel than this share of its gap is none.
const NEAREST: f64 = 0.9;
/// What lies lower over the seat is its far side, mm.
const OVER: f64 = 1e-4;
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
    let up = match relief.measured_at {
        MeasuredAt::Top => -own,
        MeasuredAt::Root => relief.height,
    };
    relief.measured_at = MeasuredAt::Top;
    relief.edge = (relief.edge - own).max(0.0);
    if relief.root > 0.0 {
        relief.root = (relief.root + own).min(relief.height);
    }
    relief.rounds = Rounds::AsFit;
    let mut placed = built.placed.clone();
    for c in &mut placed.characters {
        let leans = leans(built, c.middle);
        let level = grown(&c.region, -up * sin / cos).mapped(|p| p + leans * up);
        let thinner = squeezed(&level, leans, |region| rounded(region, -own / cos));
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
    let gap_found = gaps(&letters, built)?.map(|g| g * scale);
    if gap_found[0] < NEAREST * gap {
        return Err(SteelError::new(format!(
            "between it and the steel there would be {:.3} mm where {gap} are asked: its walls lean too much from letter to letter",
            gap_found[0]
        )));
    }
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
        gap: gap_found,
        block: (block[1] - block[0]) * scale,
    })
}

/// How far walls go along the strip for each mm that they go up, in the middle of a letter: those along the pull on a seat that
/// is not square to it lean.
fn leans(built: &BuiltMark, middle: DVec2) -> DVec2 {
    const HAIR: f64 = 1e-3; // mm
    let (Walls::Pull, Some(pull)) = (built.mark.relief.walls, built.pull) else { return DVec2::ZERO };
    let chart = &built.ground.chart;
    let at = chart.point(middle, 0.0);
    let along = |way: DVec2| (chart.point(middle + way * HAIR, 0.0) - at).normalize_or_zero().dot(pull);
    DVec2::new(along(DVec2::X), along(DVec2::Y)) / pull.dot(chart.normal(middle))
}

/// What a region becomes where walls lean by τ: a wall whose outline looks along m lies its distance d off itself when its outline
/// moves by d √(1 + (τ·m)²), which is the support of an ellipse 1 wide and √(1 + τ²) long along τ.
fn squeezed(region: &Region, leans: DVec2, change: impl Fn(&Region) -> Region) -> Region {
    let Some(way) = leans.try_normalize() else { return change(region) };
    let long = (1.0 + leans.length_squared()).sqrt();
    let scaled = |region: &Region, by: f64| region.mapped(|p| p + way * (p.dot(way) * (by - 1.0)));
    scaled(&change(&scaled(region, 1.0 / long)), long)
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

/// Least and greatest distance from the facets of an electrode's letters to those of the lettering, both over the seat, mm.
/// Facets of one letter that lie within another bound no steel.
fn gaps(letters: &BuiltMark, built: &BuiltMark) -> Result<[f64; 2], SteelError> {
    let over = |of: &BuiltMark| -> Result<Mesh, SteelError> {
        let mesh = united(of.bodies.iter().map(|b| &b.mesh))?.unwrap_or_default();
        let all = 0..mesh.triangles.len() as u32;
        let seat = |t: &u32| built.ground.height(mesh.centroid(*t as usize)) > OVER;
        Ok(mesh.piece(&all.filter(seat).collect::<Vec<_>>()).0)
    };
    let (own, steel) = (over(letters)?, Queries::new(over(built)?));
    let hits = (0..own.triangles.len()).filter_map(|t| steel.nearest(own.centroid(t), f64::MAX));
    Ok(hits.fold([f64::INFINITY, 0.0_f64], |[least, most], hit| [least.min(hit.distance), most.max(hit.distance)]))
}
