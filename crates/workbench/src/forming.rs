//! Which steel forms a mark: by most of the places in the middles of its characters; where the tool frees none of
//! them, the half that its seat looks to.

use crate::steps::Steps;
use glam::DVec3;
use relief::{PlacedMark, Seat};
use trade::{Steel, Tool};

/// The steel, and the unit vector along which it leaves; `None` while no pull is set.
pub(crate) fn steel(steps: &impl Steps, tool: &Tool, seat: &Seat, placed: &PlacedMark) -> Option<(Steel, DVec3)> {
    let steels = tool.steels();
    let plain = tool.slides.is_empty() && tool.assigned.is_empty();
    let mut votes = vec![0_usize; steels.len()];
    if !plain {
        let round = steps.steels(tool);
        for character in &placed.characters {
            let hit = steps.queries().nearest(seat.chart.point(character.middle, 0.0), f64::MAX);
            if let Some(steel) = hit.and_then(|h| round.forms(h.triangle, h.point).steel) {
                votes[steel as usize] += 1;
            }
        }
    }
    let most = (0..votes.len()).rev().max_by_key(|&s| votes[s]).filter(|&s| votes[s] > 0);
    let out = seat.chart.normal(placed.middle);
    let half = || {
        let pull = unit_pull(tool)?;
        Some(usize::from(pull.dot(out) < 0.0))
    };
    let (steel, pull) = steels[most.or_else(half)?].clone();
    Some((steel, DVec3::from(pull).try_normalize()?))
}

/// The tool's parts by what they are called, with the unit vectors along which they leave.
pub(crate) fn named(tool: &Tool) -> Vec<(String, DVec3)> {
    tool.steels().iter().map(|(steel, pull)| (steel.name(), DVec3::from(*pull).normalize_or_zero())).collect()
}

/// Sine of the draft up to which a place may belong to either half.
const PARALLEL: f64 = 1e-4;

/// What tells which of the tool's parts forms a place of the surface with an outward normal, by their order in
/// [`Tool::steels`]. A tool of two halves alone is known by the normal.
pub(crate) fn by<'a>(steps: &'a impl Steps, tool: &Tool) -> Box<dyn Fn(DVec3, DVec3) -> Option<usize> + Sync + 'a> {
    let pull = unit_pull(tool);
    if tool.slides.is_empty() && tool.assigned.is_empty() {
        return Box::new(move |_, out| {
            let sine = pull?.dot(out);
            (sine.abs() > PARALLEL).then(|| usize::from(sine < 0.0))
        });
    }
    let steels = steps.steels(tool);
    Box::new(move |p, _| {
        let hit = steps.queries().nearest(p, f64::MAX)?;
        steels.forms(hit.triangle, hit.point).steel.map(usize::from)
    })
}

/// The tool's pull as a unit vector.
#[must_use]
pub fn unit_pull(tool: &Tool) -> Option<DVec3> {
    tool.pull.map(DVec3::from).and_then(DVec3::try_normalize)
}
