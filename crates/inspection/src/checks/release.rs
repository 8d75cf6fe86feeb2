//! Is the way out free? A ray from every facet of the mark along its half's pull must not meet the
//! part again: a wall may have draft and still be trapped under an overhang.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Witness},
    site::Site,
};
use trade::limits::State;

/// Rays start this far off their facet, mm, so that they don't meet it.
const OFF: f64 = 1e-4;
/// What stands nearer than this is the facet's own neighbour, mm: along a wall that runs along the pull a ray grazes it.
/// Something that is really in the way stands farther from most of the facets below it.
const NEAREST: f64 = 1e-3;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    let Some(pull) = site.pull else {
        return Finding::not_checked(
            site.id(),
            Check::Release,
            "No pull is set, so the way out of the tool is unknown. Set it at the part.",
        );
    };
    let mesh = site.scene.mesh();
    let bodies = site.each_body(|c| {
        c.top.iter().chain(&c.walls).find_map(|&t| {
            let normal = mesh.normal(t as usize);
            // an undercut facet is the draft check's; its own wall would stop the ray
            if normal.dot(pull) <= 1e-3 {
                return None;
            }
            let from = mesh.centroid(t as usize) + normal * OFF;
            site.scene.next_surface(from, pull, NEAREST).map(|(_, to)| Witness::Pair { from, to })
        })
    });
    let caught: Vec<&(u32, String, Option<Witness>)> = bodies.iter().filter(|(_, _, w)| w.is_some()).collect();
    let mut finding = match caught.first() {
        None => Finding::plain(
            site.id(),
            Check::Release,
            State::Passes,
            "Nothing stands in the way of the mark along the pull.",
        ),
        Some((_, letter, _)) => Finding::plain(
            site.id(),
            Check::Release,
            State::Fails,
            format!(
                "“{letter}” can't release: along the pull the part stands in its way. Move the mark or change the pull."
            ),
        ),
    };
    finding.witnesses = caught.iter().filter_map(|(_, _, w)| w.clone()).collect();
    finding
}
