//! The checks, one file each, one signature: a measured mark in, a finding out.

mod cap_height;
mod complete;
mod counter;
mod draft;
mod even_depth;
mod gap;
mod keep_outs;
mod look_alikes;
mod parting;
pub mod room;
mod stroke;
mod stroke_to_height;
mod trapped;
mod wall;

use crate::{finding::Finding, measure::Site};
use serde::{Deserialize, Serialize};
use trade::{Figure, Sense, limits::State};

/// In the order of the sheet's columns.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Check {
    Draft,
    Trapped,
    EvenDepth,
    CapHeight,
    Stroke,
    Counter,
    Gap,
    StrokeToHeight,
    Parting,
    Room,
    KeepOuts,
    Complete,
    Wall,
    LookAlikes,
}

type Method = fn(&Site<'_>) -> Finding;

const CHECKS: [(Check, Method); 14] = [
    (Check::Draft, draft::check),
    (Check::Trapped, trapped::check),
    (Check::EvenDepth, even_depth::check),
    (Check::CapHeight, cap_height::check),
    (Check::Stroke, stroke::check),
    (Check::Counter, counter::check),
    (Check::Gap, gap::check),
    (Check::StrokeToHeight, stroke_to_height::check),
    (Check::Parting, parting::check),
    (Check::Room, room::check),
    (Check::KeepOuts, keep_outs::check),
    (Check::Complete, complete::check),
    (Check::Wall, wall::check),
    (Check::LookAlikes, look_alikes::check),
];

/// All findings on one mark, in the order of [`Check`].
#[must_use]
pub fn inspect(site: &Site<'_>) -> Vec<Finding> {
    CHECKS
        .iter()
        .map(|&(check, method)| match nothing_to_ask(site, check) {
            Some(why) => Finding::plain(site.id(), check, State::Holds, why),
            None => method(site),
        })
        .collect()
}

/// Why a check asks about something that the mark or its part doesn't have; `None`: it is to be made.
fn nothing_to_ask(site: &Site<'_>, check: Check) -> Option<&'static str> {
    let flat = !site.built.has_relief();
    let stamp = site.built.mark.relief.sense == Sense::Stamp;
    let figure = site.built.mark.figure.as_ref();
    match check {
        Check::CapHeight | Check::Stroke | Check::Counter | Check::Gap | Check::LookAlikes if stamp => {
            Some("A stamp area holds no lettering yet: what is struck into it is read there later.")
        }
        Check::Draft | Check::Trapped | Check::EvenDepth | Check::StrokeToHeight | Check::Wall if stamp => {
            Some("A stamp area has neither walls nor height and changes no wall.")
        }
        Check::LookAlikes if figure.is_some() => {
            Some("What stands in it is known by its place; nothing is taken for something else.")
        }
        Check::CapHeight | Check::Stroke | Check::Counter | Check::Gap | Check::StrokeToHeight
            if matches!(figure, Some(Figure::Pocket(_))) =>
        {
            Some("The pocket of an insert has no lettering; what is read stands on the insert.")
        }
        Check::CapHeight if matches!(figure, Some(Figure::Artwork(_))) => Some("Artwork has no capitals."),
        Check::EvenDepth | Check::StrokeToHeight | Check::Wall if site.built.mark.relief.through => {
            Some("It goes through the wall on purpose: it has no floor.")
        }
        Check::Draft | Check::Trapped | Check::EvenDepth | Check::StrokeToHeight | Check::Wall if flat => {
            Some("Surface-only lettering has neither walls nor height and changes no wall.")
        }
        Check::Wall if site.built.seat.sheet => {
            Some("A sheet without thickness has no wall that lettering could change.")
        }
        _ => None,
    }
}

/// Findings on a mark that could not be built: completeness fails with the reason, everything else
/// is unchecked.
#[must_use]
pub fn not_built(mark: &str, why: &str) -> Vec<Finding> {
    CHECKS
        .iter()
        .map(|&(check, _)| match check {
            Check::Complete => {
                Finding::plain(mark, check, State::Fails, format!("The mark could not be built: {why}."))
            }
            _ => Finding::unchecked(mark, check, "The mark could not be built, so there is nothing to measure."),
        })
        .collect()
}
