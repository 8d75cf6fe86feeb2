//! Has the mark room about it? Least distance, straight through space, from each character's whole
//! footprint to the edges of its face and to other marks, in cap heights. Marks that overlap fail.

use super::Check;
use crate::{
    clearance,
    finding::{Finding, Witness},
    measure::Site,
};
use trade::limits::{State, Subject};

/// Marks farther away than this are none of a mark's business, mm.
pub const NEAR: f64 = 10.0;
/// Distances along the footprint are found to this, mm.
const ERROR_MM: f64 = 0.002;

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.sheet.limit(Subject::Room);
    let cap = site.built.placed.cap_height;
    let edges = &site.built.seat.edges;
    // to what each letter is nearest: an edge, or another mark
    let measured = site.each(|c| {
        let edge = clearance::least(&c.root, edges).map(|found| (found, None));
        let mark = site
            .scene
            .others(site.mark)
            .filter_map(|o| clearance::least(&c.root, &o.root).map(|found| (found, Some(o.name.as_str()))))
            .filter(|((d, _, _), _)| *d < NEAR);
        edge.into_iter().chain(mark).min_by(|a, b| a.0.0.total_cmp(&b.0.0))
    });
    let nearest = measured
        .iter()
        .filter_map(|(_, text, found)| found.map(|found| (text, found)))
        .min_by(|a, b| a.1.0.0.total_cmp(&b.1.0.0));
    let Some((letter, ((least, _, _), other))) = nearest else {
        return Finding::plain(
            site.id(),
            Check::Room,
            State::Holds,
            "The face has no edges, and there is no other mark near.",
        );
    };
    let what = other.map_or_else(|| "the edge of its face".to_owned(), |name| format!("the mark “{name}”"));
    let sentence = if least < ERROR_MM && other.is_some() {
        format!("“{letter}” overlaps {what}. Move one of the two.")
    } else {
        format!(
            "“{letter}” comes within {least:.2} mm of {what}, {:.1} cap heights; {:.1} are asked for.",
            least / cap,
            limit.value
        )
    };
    let measured = measured
        .iter()
        .map(|(k, text, found)| {
            let figure = found.map(|((d, from, to), _)| (d / cap, Some(Witness::Pair { from, to })));
            (*k, text.clone(), figure)
        })
        .collect();
    let error = (ERROR_MM + site.built.seat.facet_error) / cap;
    Finding::judged(site.id(), Check::Room, "× cap", &limit, error, measured).says(sentence)
}
