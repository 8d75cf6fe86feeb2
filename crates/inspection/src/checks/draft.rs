//! Do the walls leave the tool? Draft of every wall facet against the pull of the steel that forms the place:
//! δ = asin(n · p). Negative is an undercut. Rounds and bevels of edges count; so does a top or floor that looks away.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site, is_creased},
};
use glam::DVec3;
use solid::segment::height;
use trade::limits::{State, Subject};

/// Walls square to a round seat turn by less than 0.1° between two points of their outline; a facet lies
/// within half of that.
pub const ERROR_DEG: f64 = 0.05;
/// Corners of facets lie where they should to this, mm: a facet's normal is as uncertain as that over its height.
const CORNER: f64 = 2e-6;
/// Lower facets say nothing, mm: their normals are open by 0.25° and more.
const LOWEST: f64 = 5e-4;
/// On creased seats walls cross the creases in facets of this size, mm, which lean as no wall does.
const LOWEST_ON_CREASES: f64 = 0.03;
/// So much of the area of a character's walls must have facets high enough to be judged.
const JUDGED: f64 = 0.99;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    if site.pull.is_none() {
        return Finding::not_checked(
            site.id(),
            Check::Draft,
            "No pull is set, so no wall can be judged. Set it at the part.",
        );
    }
    // raised and sunken letters of a mark are required other things: the worse of the two is the mark's
    let findings = [false, true].into_iter().filter_map(|sunken| releasing(site, sunken));
    Finding::worst_of(findings.collect()).unwrap_or_else(|| {
        Finding::not_checked(site.id(), Check::Draft, "No wall of the mark could be judged on the finished solid.")
    })
}

/// The draft of those letters that are sunken, or of those that aren't; `None` where there are none.
fn releasing(site: &Site<'_>, sunken: bool) -> Option<Finding> {
    let limit = site.scene.limits.limit_of(Subject::Draft, sunken);
    let measured = site.each_body_of(sunken, |c| least(site, c));
    if measured.is_empty() {
        return None;
    }
    let finding = Finding::judged(site.id(), Check::Draft, "°", &limit, measured);
    let undercut = finding.letters.iter().filter(|l| l.measured.is_some_and(|m| m < -l.error)).count();
    let failing = finding.letters.iter().filter(|l| l.state == State::Fails).count();
    let letter = finding.worst_letter().to_owned();
    let Some(least) = finding.measured else {
        return Some(finding.says("No wall of the mark could be judged on the finished solid."));
    };
    let sentence = if undercut > 0 {
        let many = if undercut == 1 { "1 letter doesn't".into() } else { format!("{undercut} letters don't") };
        format!("{many} release: the steepest wall of “{letter}” leans back by {:.1}°.", -least)
    } else if failing > 0 {
        format!("The walls of “{letter}” have {least:.2}° of draft where {:.2}° are required.", limit.value)
    } else {
        format!("Every wall has at least {least:.2}° of draft.")
    };
    Some(finding.says(sentence))
}

/// The least draft of a character's walls.
fn least(site: &Site<'_>, c: &CharacterSite) -> Figure {
    match least_of(site, c, lowest(site, c)) {
        Figure::NotMeasured => least_of(site, c, LOWEST),
        found => found,
    }
}

/// Lower facets of a character say nothing, mm.
pub fn lowest(site: &Site<'_>, c: &CharacterSite) -> f64 {
    if is_creased(site.built.seat_of(c.character)) { LOWEST_ON_CREASES } else { LOWEST }
}

/// The same of facets that are at least so high, mm.
fn least_of(site: &Site<'_>, c: &CharacterSite, lowest: f64) -> Figure {
    let Some(pull) = c.pull() else { return Figure::NotMeasured };
    let mesh = site.scene.mesh();
    let (mut judged, mut whole) = (0.0, 0.0);
    let mut worst: Option<(f64, f64, u32)> = None;
    let walls = c.walls.iter().chain(&c.rounds).map(|&t| (t, true));
    for (t, wall) in walls.chain(c.top.iter().map(|&t| (t, false))) {
        let corners = mesh.corners(t as usize);
        let high = height(&corners);
        let area = if wall { mesh.area(t as usize) } else { 0.0 };
        whole += area;
        if high < lowest {
            continue;
        }
        judged += area;
        let (own, error) = of_facet(corners, pull);
        // a top that looks out of the tool is not what has to slide along it
        if (wall || own < -error) && worst.is_none_or(|(least, ..)| own < least) {
            worst = Some((own, error, t));
        }
    }
    match worst {
        // what is found to be an undercut is one, however much else was judged
        Some((own, error, t)) if judged >= JUDGED * whole || own < -error => {
            Figure::of(own, error, Witness::Facet { corners: mesh.corners(t as usize) })
        }
        _ => Figure::NotMeasured,
    }
}

/// Draft of one facet and how far it may be off, degrees. What the facet's own height leaves open is not held against it.
pub fn of_facet(corners: [DVec3; 3], pull: DVec3) -> (f64, f64) {
    let [a, b, c] = corners;
    let cross = (b - a).cross(c - a);
    let own = cross.normalize().dot(pull).clamp(-1.0, 1.0).asin().to_degrees();
    let open = (CORNER / height(&corners)).to_degrees();
    (own + if open > ERROR_DEG { open } else { 0.0 }, ERROR_DEG + open)
}
