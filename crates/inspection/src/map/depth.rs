//! How far tops and floors lie from where they were set, in percent of the height that was set.

use super::{Map, Piece};
use crate::{
    Check,
    checks::uniform_depth::error,
    samples::PIECE,
    site::{CharacterSite, Site},
};
use glam::DVec3;
use rayon::prelude::*;
use tool::divided::divide;
use trade::limits::Subject;

pub fn map(site: &Site<'_>) -> Result<Map, String> {
    let limit = site.scene.limits.limit(Subject::UniformDepth);
    let all: Vec<&CharacterSite> = site.bodies().collect();
    let of = |c: &&CharacterSite| {
        let (seat, nominal) = (site.built.seat_of(c.character), c.relief.height);
        let off = |p: DVec3| (seat.height(p).abs() / nominal - 1.0) * 100.0;
        let mut pieces = Vec::new();
        for &t in &c.top {
            divide(site.scene.mesh().corners(t as usize), PIECE, &mut |corners| {
                let values = corners.map(off);
                let (limit, character) = (limit.value, Some(c.character));
                pieces.push(Piece { corners, values, limit, fails: false, character });
            });
        }
        pieces
    };
    let pieces = all.par_iter().flat_map_iter(of).collect();
    Ok(Map::new(Check::UniformDepth, ("%", error(site)), limit, pieces))
}
