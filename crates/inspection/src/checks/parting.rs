//! Is the mark clear of the parting line? Least distance, straight through space, from each
//! character's whole footprint to the line; a line through the footprint fails whatever the
//! distance.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    distance,
    finding::{Finding, Witness},
    site::{CharacterSite, Site},
};
use flat::encloses;
use glam::DVec2;
use solid::segment::Segment;

use trade::limits::{State, Subject};

/// Footprint and line both lie on facets; along the surface that changes nothing to the second
/// order.
const ERROR_MM: f64 = 0.002;
/// The line counts as being on the seat when it is no farther off it, mm.
const ON_SEAT: f64 = 0.05;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Parting);
    let line = site.scene.parting;
    if line.is_empty() {
        return Finding::not_checked(site.id(), Check::Parting, "No parting line is set. Draw it at the part.");
    }
    let measured = site.each_body(|c| {
        if let Some(witness) = crossing(site, c) {
            return Some((0.0, Some(witness)));
        }
        distance::least(&c.root, line).map(|(d, from, to)| (d, Some(Witness::Pair { from, to })))
    });
    let mut finding = Finding::judged(site.id(), Check::Parting, "mm", &limit, ERROR_MM, measured);
    let Some(least) = finding.measured else {
        return Finding::not_checked(site.id(), Check::Parting, "The mark has no footprint on the finished solid.");
    };
    let crossed: Vec<String> =
        finding.letters.iter().filter(|l| l.measured == Some(0.0)).map(|l| l.text.clone()).collect();
    let sentence = if crossed.is_empty() {
        format!("The nearest footprint, of “{}”, is {least:.3} mm from the parting line.", finding.worst_letter())
    } else {
        finding.state = State::Fails;
        format!("The parting line runs through “{}”.", crossed.join("”, “"))
    };
    finding.says(sentence)
}

/// A piece of the line that runs through the character's footprint.
fn crossing(site: &Site<'_>, c: &CharacterSite) -> Option<Witness> {
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for p in c.root_outline.iter().flatten() {
        (low, high) = (low.min(*p), high.max(*p));
    }
    let strip = |segment: &Segment| {
        let ends = segment.map(|p| {
            let (at, height) = site.laid_flat(c, p);
            (height.abs() < ON_SEAT).then_some(at)
        });
        Some([ends[0]?, ends[1]?])
    };
    site.scene.parting.iter().find_map(|segment| {
        let [a, b] = strip(segment)?;
        if a.max(b).cmplt(low).any() || a.min(b).cmpgt(high).any() {
            return None;
        }
        // an end inside the footprint (not in a counter), or an edge crossed
        let inside = encloses(&c.root_outline, (a + b) / 2.0);
        let crossed =
            c.root_outline.iter().any(|ring| (0..ring.len()).any(|k| cross(a, b, ring[k], ring[(k + 1) % ring.len()])));
        (inside || crossed).then_some(Witness::Pair { from: segment[0], to: segment[1] })
    })
}

fn cross(a: DVec2, b: DVec2, c: DVec2, d: DVec2) -> bool {
    let side = |p: DVec2, q: DVec2, r: DVec2| (q - p).perp_dot(r - p);
    (side(a, b, c) > 0.0) != (side(a, b, d) > 0.0) && (side(c, d, a) > 0.0) != (side(c, d, b) > 0.0)
}
