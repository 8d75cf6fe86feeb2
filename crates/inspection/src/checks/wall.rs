//! What the mark does to the wall. Sunken: what is left under the floor, and whether it breaks
//! through. Raised: how much thicker the wall becomes. Measured by rays straight inward.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Letter, Witness},
    site::{CharacterSite, Site},
};
use glam::DVec3;
use relief::Tag;
use trade::limits::{State, Subject};

/// Rays start this far inside, mm.
const INSIDE: f64 = 1e-4;
/// Rays a letter; its facets are taken at even steps.
const RAYS: usize = 48;
/// Facets of a round seat and of the surface behind it may each lie off by this, mm.
const ERROR_MM: f64 = 0.01;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Ground, Need::Relief, Need::Walls];

pub fn check(site: &Site<'_>) -> Finding {
    if let Some(finding) = broken_through(site) {
        return finding;
    }
    // what is raised and what is sunken is required other things: the worse of the two is the mark's
    let findings = [true, false].into_iter().filter_map(|sunken| thickness(site, sunken));
    let mut findings: Vec<Finding> = findings.collect();
    findings.sort_by_key(|f| std::cmp::Reverse(f.state));
    let letters: Vec<Letter> = findings.iter().flat_map(|f| f.letters.clone()).collect();
    match findings.into_iter().next() {
        Some(mut worst) => {
            worst.letters = letters;
            worst
        }
        None => Finding::not_checked(site.id(), Check::Wall, "No ray inward from the mark met the part's other side."),
    }
}

/// The wall under what is sunken, or raised; `None` where nothing is or no ray met the other side.
fn thickness(site: &Site<'_>, sunken: bool) -> Option<Finding> {
    let limits = site.scene.limits;
    let (limit, least) = if sunken {
        (limits.limit(Subject::WallLeft), Some(limits.limit(Subject::WallLeast)))
    } else {
        (limits.limit(Subject::WallAdded), None)
    };
    let measured: Vec<_> = site
        .each_body(|c| (c.is_sunken() == sunken).then(|| thinnest(site, c)))
        .into_iter()
        .filter_map(|(k, text, m)| Some((k, text, m?)))
        .collect();
    let walls: Vec<f64> = measured.iter().filter_map(|(_, _, m)| m.as_ref().map(|m| m.wall)).collect();
    let thinnest = walls.into_iter().fold(f64::INFINITY, f64::min);
    let measured =
        measured.into_iter().map(|(k, text, m)| (k, text, m.map(|m| (m.percent, Some(m.witness))))).collect();
    let error = 100.0 * ERROR_MM / thinnest.max(0.1);
    let mut finding = Finding::judged(site.id(), Check::Wall, "%", &limit, error, measured);
    let percent = finding.measured?;
    let sentence = match least {
        Some(least) => {
            finding.state = finding.state.max(least.judge(thinnest, ERROR_MM));
            format!(
                "The wall left under the floor is {thinnest:.2} mm, {percent:.0} % of what it was; at least {:.0} % and {:.1} mm are required.",
                limit.value, least.value
            )
        }
        None => format!("The lettering makes a wall of {thinnest:.2} mm thicker by {percent:.0} %."),
    };
    Some(finding.says(sentence))
}

struct Wall {
    /// Left (sunken) or before the mark (raised), mm.
    wall: f64,
    /// Left or added, percent of the wall before.
    percent: f64,
    witness: Witness,
}

fn thinnest(site: &Site<'_>, c: &CharacterSite) -> Option<Wall> {
    let mesh = site.scene.mesh();
    // from the part's surface: what stands on a pad is added to it
    let seat = &site.built.ground;
    let step = c.top.len().div_ceil(RAYS).max(1);
    // in an order of their own: that of the solid's facets depends on how much of the part it holds
    let mut top: Vec<DVec3> = c.top.iter().map(|&t| mesh.centroid(t as usize)).collect();
    top.sort_by(|a, b| (0..3).map(|k| a[k].total_cmp(&b[k])).find(|o| o.is_ne()).unwrap_or(std::cmp::Ordering::Equal));
    top.iter()
        .step_by(step)
        .filter_map(|&from| {
            let inward = -seat.normal(from);
            let height = seat.height(from);
            // raised: from the seat below, because a wall that leans may end a ray from the top
            let sunken = c.is_sunken();
            // raised in a recessed pad deeper than it is high it adds nothing
            if (height < 0.0) != sunken {
                return None;
            }
            let start = if sunken { from } else { from + inward * height };
            // facets lie inside the seat's true surface: start below them
            let inside = if sunken { INSIDE } else { seat.facet_error + 10.0 * INSIDE };
            let (distance, to) = site.scene.next_surface(start + inward * inside, inward, INSIDE)?;
            let wall = distance + inside;
            let witness = Witness::Pair { from: start, to };
            let percent = if sunken { 100.0 * wall / (wall - height) } else { 100.0 * height / wall };
            Some(Wall { wall, percent, witness })
        })
        .min_by(|a, b| a.wall.total_cmp(&b.wall))
}

/// A character whose facets border on surface that looks the other way has gone right through.
fn broken_through(site: &Site<'_>) -> Option<Finding> {
    let through = |c: &CharacterSite| {
        c.borders.iter().find_map(|(tag, edge, normal)| {
            let other = matches!(tag, Tag::Part { face } if !site.built.seat.has(*face));
            let behind = site.built.seat.normal(edge[0]).dot(*normal) < -0.3;
            (other && behind).then_some(Witness::Pair { from: edge[0], to: edge[1] })
        })
    };
    // a letter without any floor has been pushed out whole
    let lost = |c: &CharacterSite| c.is_sunken() && c.top.is_empty() && !c.walls.is_empty();
    let found: Vec<(&str, Option<Witness>)> = site
        .bodies()
        .filter_map(|c| {
            through(c).map(|w| (c.text.as_str(), Some(w))).or_else(|| lost(c).then_some((c.text.as_str(), None)))
        })
        .collect();
    let letters: Vec<&str> = found.iter().map(|(letter, _)| *letter).collect();
    (!found.is_empty()).then(|| {
        let mut finding = Finding::plain(
            site.id(),
            Check::Wall,
            State::Fails,
            format!("“{}” cuts through the wall. Make it shallower or move it.", letters.join("”, “")),
        );
        finding.witnesses = found.iter().filter_map(|(_, w)| w.clone()).collect();
        finding
    })
}
