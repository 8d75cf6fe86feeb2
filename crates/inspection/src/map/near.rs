//! How far the places of the surface lie from what a mark keeps away from: from the edges of its face and other marks, in cap
//! heights, and from the parting lines, mm. On the mark every place has the figure of the surface under it; of the part the
//! faces that the mark stands on are told of, too.

use super::{Map, Piece};
use crate::{
    Check,
    checks::clearance::{self, Obstacles},
    distance::Lines,
    site::{CharacterSite, Site},
};
use glam::DVec3;
use rayon::prelude::*;
use relief::{Role, Tag, body::PAD};
use tool::divided::divide;
use trade::limits::{Limit, Subject};

/// Pieces are no longer than this, mm, if that does not make too many of them.
const PIECE: f64 = 0.6;
const MOST: usize = 60_000;

pub fn clearance(site: &Site<'_>) -> Result<Map, String> {
    let limit = site.scene.limits.limit(Subject::Clearance);
    let cap = site.built.placed.cap_height;
    let obstacles = Obstacles::new(site);
    let far = |p: DVec3, c: Option<&CharacterSite>| {
        let edge = obstacles.edges(site, c.map_or(PAD, |c| c.character)).and_then(|lines| lines.nearest(p));
        let off = c.is_some_and(|_| !site.built.mark.relief.runs_out && !stands_on_face(site, p));
        let out = site.built.seat.normal(p);
        let marks = site.scene.others(site.mark).filter_map(|o| {
            if clearance::covers(&o.built, p) {
                return Some(0.0);
            }
            let (far, at) = o.root().nearest(p)?;
            (!site.scene.is_behind(out, p, at, o.out(at))).then_some(far)
        });
        let edge = if off { Some(0.0) } else { edge.map(|(far, _)| far) };
        edge.into_iter().chain(marks).reduce(f64::min).map(|mm| mm / cap)
    };
    let pieces = pieces(site, &limit, far);
    if pieces.is_empty() {
        return Err("The face has no edges, and there is no other mark near.".into());
    }
    Ok(Map::new(Check::Clearance, ("× cap", error(site) / cap), limit, pieces))
}

pub fn parting(site: &Site<'_>) -> Result<Map, String> {
    let limit = site.scene.limits.limit(Subject::Parting);
    let lines: Vec<Lines> = site.scene.parting.iter().map(|line| Lines::new(line.segments.clone())).collect();
    if lines.iter().all(|line| line.is_empty()) {
        return Err("No parting line is set. Draw it at the part.".into());
    }
    let far = |p: DVec3, _: Option<&CharacterSite>| {
        lines.iter().filter_map(|line| line.nearest(p)).map(|(far, _)| far).reduce(f64::min)
    };
    let pieces = pieces(site, &limit, far);
    Ok(Map::new(Check::Parting, ("mm", error(site)), limit, pieces))
}

/// How far a distance may be off, mm.
fn error(site: &Site<'_>) -> f64 {
    clearance::ERROR_MM + site.built.seat.facet_error
}

/// Does the surface under a place belong to the faces that the mark stands on?
fn stands_on_face(site: &Site<'_>, p: DVec3) -> bool {
    let near = site.scene.bare.nearest(p, f64::MAX);
    near.is_none_or(|hit| site.built.seat.has(site.scene.face_of[hit.triangle as usize]))
}

/// The mark's own facets, and those of its faces near it, with how far the surface under each corner lies.
fn pieces(
    site: &Site<'_>,
    limit: &Limit,
    far: impl Fn(DVec3, Option<&CharacterSite>) -> Option<f64> + Sync,
) -> Vec<Piece> {
    let mesh = site.scene.mesh();
    let tags = &site.scene.solid.tags;
    let ground = |t: &usize| match tags[*t] {
        Tag::Part { face } => site.built.seat.has(face),
        _ => false,
    };
    // (the facet, the body that it is of)
    let mut facets: Vec<(u32, Option<&CharacterSite>)> =
        (0..tags.len()).filter(ground).map(|t| (t as u32, None)).collect();
    for c in site.bodies() {
        let own = |t: &u32| {
            !(c.character == PAD && matches!(tags[*t as usize], Tag::Relief { role: Role::Top | Role::Floor, .. }))
        };
        facets.extend(c.facets().filter(own).map(|t| (t, Some(c))));
    }
    let area: f64 = facets.iter().map(|(t, _)| mesh.area(*t as usize)).sum();
    // so many right-angled triangles with legs of that length
    let cell = PIECE.max((2.0 * area / MOST as f64).sqrt());
    let of = |&(t, c): &(u32, Option<&CharacterSite>)| {
        let mut pieces = Vec::new();
        divide(mesh.corners(t as usize), cell, &mut |corners| {
            let under = |p: DVec3| match c {
                Some(c) => {
                    let over = site.built.seat_of(c.character).lies(p);
                    far(p - over.out * over.height, Some(c))
                }
                None => far(p, None),
            };
            if let [Some(a), Some(b), Some(c_)] = corners.map(under) {
                let (limit, character) = (limit.value, c.map(|c| c.character));
                pieces.push(Piece { corners, values: [a, b, c_], limit, fails: false, character });
            }
        });
        pieces
    };
    facets.par_iter().flat_map_iter(of).collect()
}
