//! The draft of every facet.

use super::{Map, Piece};
use crate::{
    Check,
    checks::draft::{ERROR_DEG, lowest, of_facet},
    site::Site,
};
use solid::segment::height;
use trade::limits::Subject;

pub fn map(site: &Site<'_>) -> Result<Map, String> {
    if site.pull.is_none() {
        return Err("No pull is set, so no wall can be judged. Set it at the part.".into());
    }
    let mesh = site.scene.mesh();
    let limit = |sunken: bool| site.scene.limits.limit_of(Subject::Draft, sunken);
    let mut pieces = Vec::new();
    for c in site.bodies() {
        let (Some(pull), limit) = (c.pull(), limit(c.is_sunken()).value) else { continue };
        let lowest = lowest(site, c);
        let judged = c.walls.iter().chain(&c.rounds).map(|&t| (t, true)).chain(c.top.iter().map(|&t| (t, false)));
        for (t, wall) in judged {
            let corners = mesh.corners(t as usize);
            if height(&corners) < lowest {
                continue;
            }
            let (own, _) = of_facet(corners, pull);
            // of a top nothing is asked but that it doesn't look away
            let limit = if wall { limit } else { 0.0 };
            pieces.push(Piece { corners, values: [own; 3], limit, fails: false, character: Some(c.character) });
        }
    }
    Ok(Map::new(Check::Draft, ("°", ERROR_DEG), limit(site.is_sunken()), pieces))
}
