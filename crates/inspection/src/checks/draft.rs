//! Do the walls leave the tool? Draft of every wall facet against the pull of its half:
//! δ = asin(n · p). Negative is an undercut.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Witness},
    site::{Site, THINNEST},
};
use glam::DVec3;
use solid::segment::height;
use trade::limits::{State, Subject};

/// Walls square to a round seat turn by less than 0.1° between two points of their outline; a facet lies
/// within half of that.
const ERROR_DEG: f64 = 0.05;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Draft);
    let Some(pull) = site.pull else {
        return Finding::not_checked(
            site.id(),
            Check::Draft,
            "No pull is set, so no wall can be judged. Set it at the part.",
        );
    };
    let mesh = site.scene.mesh();
    let measured = site.each_body(|c| {
        c.walls
            .iter()
            .filter_map(|&t| draft(mesh.corners(t as usize), pull).map(|d| (d, t)))
            .min_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(d, t)| (d, Some(Witness::Facet { corners: mesh.corners(t as usize) })))
    });
    let finding = Finding::judged(site.id(), Check::Draft, "°", &limit, ERROR_DEG, measured);
    let undercut = finding.letters.iter().filter(|l| l.measured.is_some_and(|m| m < -ERROR_DEG)).count();
    let failing = finding.letters.iter().filter(|l| l.state == State::Fails).count();
    let letter = finding.worst_letter().to_owned();
    let Some(least) = finding.measured else {
        return Finding::not_checked(site.id(), Check::Draft, "The mark has no walls on the finished solid.");
    };
    let sentence = if undercut > 0 {
        let many = if undercut == 1 { "1 letter doesn't".into() } else { format!("{undercut} letters don't") };
        format!("{many} release: the steepest wall of “{letter}” leans back by {:.1}°.", -least)
    } else if failing > 0 {
        format!("The walls of “{letter}” have {least:.2}° of draft where {:.2}° are required.", limit.value)
    } else {
        format!("Every wall has at least {least:.2}° of draft.")
    };
    finding.says(sentence)
}

/// Draft of one facet, degrees; `None` for a facet too thin to have a normal.
fn draft([a, b, c]: [DVec3; 3], pull: DVec3) -> Option<f64> {
    let cross = (b - a).cross(c - a);
    (height(&[a, b, c]) > THINNEST).then(|| cross.normalize().dot(pull).clamp(-1.0, 1.0).asin().to_degrees())
}
