//! The checks, one file each, one signature: a measured mark in, a finding out. They are listed in
//! [`trade::check`].

mod cap_height;
pub(crate) mod clearance;
mod complete;
mod counter;
pub(crate) mod draft;
mod gap;
mod inner_corner;
mod island;
mod keep_outs;
mod line_gap;
mod look_alikes;
pub(crate) mod parting;
mod release;
mod relief_height;
mod steel;
mod stroke;
mod stroke_to_cap;
mod stroke_to_height;
pub(crate) mod uniform_depth;
pub(crate) mod wall;
mod word_gap;

use crate::{finding::Finding, needs::Need, site::Site};
use trade::{Check, limits::State};

type Method = fn(&Site<'_>) -> Finding;

macro_rules! list {
    ($($check:ident $file:ident,)*) => {
        const CHECKS: &[(Check, &[Need], Method)] = &[$((Check::$check, $file::NEEDS, $file::check),)*];
    };
}

trade::checks!(list);

/// All findings on one mark, in the order of [`Check`].
#[must_use]
pub fn inspect(site: &Site<'_>) -> Vec<Finding> {
    CHECKS.iter().map(|listed| made(site, listed)).collect()
}

/// One of them.
///
/// # Panics
/// Never: every check is listed.
#[must_use]
pub fn inspect_for(site: &Site<'_>, check: Check) -> Finding {
    made(site, CHECKS.iter().find(|(listed, ..)| *listed == check).expect("every check is listed"))
}

/// Does a check follow rays out of the block that a solid was cut out with? All others know of marks outside it only those
/// that are near.
#[must_use]
pub fn looks_far(check: Check) -> bool {
    matches!(check, Check::Release | Check::Wall)
}

fn made(site: &Site<'_>, &(check, needs, method): &(Check, &[Need], Method)) -> Finding {
    match needs.iter().find_map(|need| need.lacking(site)) {
        Some(why) => Finding::does_not_apply(site.id(), check, why),
        None => method(site),
    }
}

/// Findings on a mark that could not be built: completeness fails with the reason, everything else
/// is unchecked.
#[must_use]
pub fn not_built(mark: &str, why: &str) -> Vec<Finding> {
    CHECKS
        .iter()
        .map(|&(check, ..)| match check {
            Check::Complete => {
                Finding::plain(mark, check, State::Fails, format!("The mark could not be built: {why}."))
            }
            _ => Finding::not_checked(mark, check, "The mark could not be built, so there is nothing to measure."),
        })
        .collect()
}
