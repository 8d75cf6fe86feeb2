//! Are the inner corners round enough? Where walls meet the ground (raised) or the floor (sunken) what is sharp tears when it
//! is cast, and cracks begin there. The mean radius of the round of each character: over the edges between facets of the
//! round that follow one another in section, r = Σ l·w / Σ l·2·sin(δ/2), for a facet of an arc is a chord,
//! w = 2·r·sin(δ/2), with l the edge's length, w the facet's width and δ the turn; nothing where a wall meets ground or floor
//! without a round.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use glam::DVec3;
use relief::{Role, Tag, body::PAD};
use solid::{Mesh, contour, topology::neighbours};
use std::collections::HashSet;
use trade::limits::Subject;

/// Pieces of a round lie within 0.002 mm of it.
const ERROR_MM: f64 = 0.002;
/// Facets of a round follow one another in section where their normals turn by more than this, degrees: a round has twelve
/// of them at most...
const TURNS: f64 = 4.0;
/// ... and where they turn up rather than round about the seat's normal by this share; else the edge is a mitre.
const UP: f64 = 0.7;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Floor, Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::InnerCorner);
    if limit.value <= 0.0 {
        let why = format!("Inner corners may be sharp: {} requires no radius.", limit.sheet);
        return Finding::does_not_apply(site.id(), Check::InnerCorner, why);
    }
    let measured = site.each_body(|c| match c.relief.through && c.top.is_empty() {
        true => Figure::DoesNotApply,
        false => Figure::found(sharp(site, c).or_else(|| radius(site, c))),
    });
    let finding = Finding::judged(site.id(), Check::InnerCorner, "mm", &limit, measured);
    let Some(least) = finding.measured else {
        return finding.says("No wall of the mark meets ground or floor on the finished solid.");
    };
    let place = if site.is_sunken() { "floor" } else { "ground" };
    let letter = finding.worst_letter();
    let sentence = match least > 0.0 {
        true => {
            format!("The inner corners round the {place} have a radius of {least:.3} mm or more, least at “{letter}”.")
        }
        false => {
            format!("The walls of “{letter}” meet the {place} in a sharp corner; {:.2} mm are required.", limit.value)
        }
    };
    finding.says(sentence)
}

/// Where a wall meets ground or floor without a round.
fn sharp(site: &Site<'_>, c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    let found = if c.is_sunken() {
        let (piece, roles) = piece(site, c);
        let meets = |pair: &[Role; 2]| matches!(pair, [Role::Wall, Role::Floor] | [Role::Floor, Role::Wall]);
        let mut pairs = neighbours(&piece).into_iter();
        pairs
            .find(|p| meets(&p.triangles.map(|t| roles[t as usize])))
            .map(|p| p.edge.map(|v| piece.vertices[v as usize]))
    } else {
        // a facet of the ground may have been cut off by the foot of another character
        let ground = |tag: Tag| match tag {
            Tag::Part { face } => site.built.seat.has(face),
            Tag::Relief { mark, character: PAD, role } => mark == site.mark && matches!(role, Role::Top | Role::Floor),
            _ => false,
        };
        c.borders.iter().find(|b| b.own == Role::Wall && ground(b.other)).map(|b| b.edge)
    };
    found.map(|[from, to]| (0.0, ERROR_MM, Witness::Pair { from, to }))
}

/// The mean radius of the round at a character's inner corner, mm, how far it may be off, and a place on it.
fn radius(site: &Site<'_>, c: &CharacterSite) -> Option<(f64, f64, Witness)> {
    let (piece, roles) = piece(site, c);
    let seat = site.built.seat_of(c.character);
    let outline: HashSet<u32> = contour::loops(&piece, 0..piece.triangles.len() as u32).into_iter().flatten().collect();
    let (mut widths, mut turns) = (0.0, 0.0);
    let mut at: Option<[DVec3; 2]> = None;
    for pair in neighbours(&piece) {
        let sides = pair.triangles;
        if sides.iter().any(|&t| roles[t as usize] != Role::Root) {
            continue;
        }
        let [a, b] = pair.edge.map(|v| piece.vertices[v as usize]);
        let normals = sides.map(|t| piece.normal(t as usize));
        let out = seat.normal((a + b) / 2.0);
        let rise = normals.map(|n| n.dot(out).clamp(-1.0, 1.0).asin());
        let turn = normals[0].dot(normals[1]).clamp(-1.0, 1.0).acos();
        // where the ground's facets lie below its true surface a body's foot shows under its round: that is no corner
        let hollow = (piece.centroid(sides[1] as usize) - piece.centroid(sides[0] as usize)).dot(normals[0]) > 0.0;
        if !hollow || turn.to_degrees() < TURNS || (rise[0] - rise[1]).abs() < UP * turn {
            continue;
        }
        let long = a.distance(b);
        // the outermost facets of a raised letter's round end in the ground, which has cut them
        let whole = |t: &u32| !piece.triangles[*t as usize].iter().any(|v| outline.contains(v));
        let widths_of = sides.into_iter().filter(whole).map(|t| 2.0 * piece.area(t as usize) / long);
        let Some(wide) = widths_of.reduce(f64::max) else { continue };
        widths += long * wide;
        turns += long * 2.0 * (turn / 2.0).sin();
        at.get_or_insert([a, b]);
    }
    at.map(|[from, to]| (widths / turns, ERROR_MM, Witness::Pair { from, to }))
}

/// A character's facets by themselves, with their roles.
fn piece(site: &Site<'_>, c: &CharacterSite) -> (Mesh, Vec<Role>) {
    let facets: Vec<u32> = c.facets().collect();
    let role = |t: &u32| match site.scene.solid.tags[*t as usize] {
        Tag::Relief { role, .. } => role,
        // none of a character's facets
        _ => Role::Skirt,
    };
    (site.scene.mesh().piece(&facets).0, facets.iter().map(role).collect())
}
