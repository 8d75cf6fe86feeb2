//! What is left of the wall under and beside what is sunken, mm; by how much what is raised makes it thicker, percent.

use super::{Map, Piece};
use crate::{
    Check,
    checks::wall::{self, Beside},
    samples::PIECE,
    site::{CharacterSite, Site},
};
use rayon::prelude::*;
use tool::divided::divide;
use trade::limits::Subject;

/// Rays start so far from a piece's corner towards its middle, as a share: at the corner itself they may run along a wall.
const INWARD: f64 = 0.02;

/// Letters that are sunken where most are raised, and the other way round, are asked something else and left out.
pub fn map(site: &Site<'_>) -> Result<Map, String> {
    let sunken = site.is_sunken();
    let limits = site.scene.limits;
    let limit = limits.limit(if sunken { Subject::WallLeast } else { Subject::WallAdded });
    let beside = Beside::new(site);
    let all: Vec<&CharacterSite> =
        site.bodies().filter(|c| c.is_sunken() == sunken && wall::changes(site, c)).collect();
    let share = limits.limit(Subject::WallLeft).value;
    let of = |c: &&CharacterSite| {
        let mut pieces = Vec::new();
        let cut_into = if sunken { beside.cut_into(c) } else { std::collections::HashSet::new() };
        let facets = c.top.iter().map(|&t| (t, true));
        let walls = c.walls.iter().filter(|_| sunken).map(|&t| (t, false));
        for (t, floor) in facets.chain(walls) {
            let normal = site.scene.mesh().normal(t as usize);
            divide(site.scene.mesh().corners(t as usize), PIECE, &mut |corners| {
                let middle = (corners[0] + corners[1] + corners[2]) / 3.0;
                let mut short = false;
                let values = corners.map(|p| {
                    let from = p.lerp(middle, INWARD);
                    let under = if floor { wall::straight(site, c, from) } else { None };
                    if !sunken {
                        return under.map_or(f64::NAN, |(_, percent)| percent);
                    }
                    short |= under.is_some_and(|(_, percent)| percent < share);
                    let aside = beside.from(from, normal, &cut_into).map(|thin| thin.distance);
                    under.map(|(left, _)| left).into_iter().chain(aside).reduce(f64::min).unwrap_or(f64::NAN)
                });
                if values.iter().all(|v| v.is_finite()) {
                    let character = Some(c.character);
                    pieces.push(Piece { corners, values, limit: limit.value, fails: short, character });
                }
            });
        }
        pieces
    };
    let pieces: Vec<Piece> = all.par_iter().flat_map_iter(of).collect();
    if pieces.is_empty() {
        return Err("No ray inward from the mark met the part's other side.".into());
    }
    // of a wall of 1 mm
    let error = if sunken { wall::ERROR_MM } else { 100.0 * wall::ERROR_MM };
    Ok(Map::new(Check::Wall, (if sunken { "mm" } else { "%" }, error), limit, pieces))
}
