//! Does the mark stay out of where it must not go? Least distance, straight through space, from each character's whole
//! footprint to every keep-out that isn't behind the wall, against that keep-out's margin. What stands on one fails
//! whatever the margin. The one with the least room to its margin is the mark's figure.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    scene::KeepOutSite,
    site::{CharacterSite, Site},
};

use glam::DVec3;
use relief::{Role, Seat, Tag};
use tool::region::{Footing, Nearest};
use trade::limits::State;

/// Distances along the footprint are found to this, mm.
const ERROR_MM: f64 = 0.002;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

pub fn check(site: &Site<'_>) -> Finding {
    let keep_outs = site.scene.keep_outs;
    if keep_outs.is_empty() {
        return Finding::does_not_apply(
            site.id(),
            Check::KeepOuts,
            "No keep-outs are set. Set them at the part where faces are polished, sealing or clamped, at the gate and the ejector pins.",
        );
    }
    let mut found = nearest_of(site, keep_outs);
    found.sort_by(|a, b| b.1.state.cmp(&a.1.state).then(a.0.total_cmp(&b.0)));
    let failing = found.iter().filter(|(_, f, _)| f.state == State::Fails).count();
    let mut found = found.into_iter();
    let mut finding = match found.next() {
        Some((_, finding, keep_out)) => told(finding, keep_out, failing),
        None => Finding::plain(
            site.id(),
            Check::KeepOuts,
            State::Passes,
            "Every keep-out lies behind the wall, on the other side of the part.",
        ),
    };
    // what is not where it should be can't be kept out of
    if let Some(lost) = keep_outs.iter().find(|k| k.region.lost > 0 || k.region.is_empty()) {
        finding.state = finding.state.max(State::NotChecked);
        finding.sentence += &format!(
            " The keep-out “{}” names places that this part doesn't have. Set it again at the part.",
            lost.name
        );
    }
    finding
}

/// The room to their margins and the findings of keep-outs, in their order; those that pass farther off than another one are
/// left out.
fn nearest_of<'a>(site: &Site<'_>, keep_outs: &'a [KeepOutSite]) -> Vec<(f64, Finding, &'a KeepOutSite)> {
    // the mark lies in a ball
    let (low, high) = site.built.bounds();
    let (middle, round) = ((low + high) / 2.0, (high - low).length() / 2.0);
    let no_nearer = |k: &KeepOutSite| k.region.distance(middle).map_or(f64::MAX, |d| (d - round).max(0.0));
    let mut order: Vec<(f64, usize)> = keep_outs.iter().map(no_nearer).zip(0..).collect();
    let room = |&(least, at): &(f64, usize)| least - keep_outs[at].limit.value;
    order.sort_by(|a, b| room(a).total_cmp(&room(b)));
    let mut found: Vec<(usize, f64, Finding)> = Vec::new();
    for near in order {
        let (least, at) = near;
        let limit = &keep_outs[at].limit;
        let passes = limit.judge(least, error(site)) == State::Passes;
        if passes && found.iter().any(|(_, other, _)| *other < room(&near)) {
            continue;
        }
        let finding = from(site, &keep_outs[at]);
        found.extend(finding.measured.map(|measured| (at, measured - limit.value, finding)));
    }
    found.sort_by_key(|(at, ..)| *at);
    found.into_iter().map(|(at, room, finding)| (room, finding, &keep_outs[at])).collect()
}

/// How far off its figures may be, mm.
fn error(site: &Site<'_>) -> f64 {
    ERROR_MM + site.built.seat.facet_error
}

/// The finding on one keep-out, in words; `failing` of them fail.
fn told(finding: Finding, keep_out: &KeepOutSite, failing: usize) -> Finding {
    let least = finding.measured.unwrap_or(0.0);
    let margin = keep_out.limit.value;
    let letter = finding.worst_letter().to_owned();
    let place = format!("“{}” ({})", keep_out.name, keep_out.kind.word());
    let mut sentence = if least <= 0.0 {
        format!("“{letter}” lies on {place}.")
    } else if finding.state == State::Fails {
        format!("“{letter}” comes within {least:.3} mm of {place}; {margin:.2} mm are required.")
    } else {
        format!("The nearest keep-out is {place}, {least:.3} mm from “{letter}” where {margin:.2} mm are required.")
    };
    if failing > 1 {
        sentence += &format!(" {failing} keep-outs are too near.");
    }
    finding.says(sentence)
}

/// How far the mark stays from one keep-out.
fn from(site: &Site<'_>, keep_out: &KeepOutSite) -> Finding {
    let error = error(site);
    let figure = |near: Option<(f64, Witness)>, stands: bool| match near {
        Some((distance, witness)) => Figure::of(distance, error, witness),
        None if stands => Figure::DoesNotApply,
        None => Figure::NotMeasured,
    };
    let mut measured = site.each_body(|c| figure(nearest(site, c, keep_out, error), !c.root.is_empty()));
    measured.extend(
        kept_free(site, keep_out, error).map(|near| (u32::MAX, "the field kept free".into(), figure(Some(near), true))),
    );
    let mut finding = Finding::judged(site.id(), Check::KeepOuts, "mm", &keep_out.limit, measured);
    // whatever the margin
    for letter in finding.letters.iter_mut().filter(|l| l.measured == Some(0.0)) {
        letter.state = State::Fails;
        finding.state = State::Fails;
    }
    finding
}

fn nearest(site: &Site<'_>, c: &CharacterSite, keep_out: &KeepOutSite, error: f64) -> Option<(f64, Witness)> {
    // the letter stands on a face that is kept out of
    let on_face = c.borders.iter().find(|b| matches!(b.other, Tag::Part { face } if keep_out.region.has_face(face)));
    if let Some(border) = on_face {
        return Some((0.0, Witness::Point { at: (border.edge[0] + border.edge[1]) / 2.0 }));
    }
    let edges = c.root.iter().map(|&[a, b]| [a, b, b]);
    let seat = site.built.seat_of(c.character);
    over(keep_out, edges.chain(c.footprint.triangles.iter().copied()), seat).map(|found| standing(found, error))
}

/// The nearest that a field comes that the mark keeps free for later.
fn kept_free(site: &Site<'_>, keep_out: &KeepOutSite, error: f64) -> Option<(f64, Witness)> {
    let under = site.built.free.iter().flat_map(|film| {
        let base = (0..film.roles.len()).filter(|&t| film.roles[t] == Role::Base);
        base.map(|t| film.mesh.corners(t))
    });
    over(keep_out, under, &site.built.ground).map(|found| standing(found, error))
}

type Best = (DVec3, Nearest);

/// The nearest place of a keep-out to pieces of a footprint on a seat.
fn over(keep_out: &KeepOutSite, pieces: impl Iterator<Item = [DVec3; 3]>, seat: &Seat) -> Option<Best> {
    let footing =
        |corners: [DVec3; 3]| Footing { corners, out: seat.normal((corners[0] + corners[1] + corners[2]) / 3.0) };
    let mut pieces: Vec<Footing> = pieces.map(footing).collect();
    let mut best = None;
    keep_out.region.nearest_to(&mut pieces, ERROR_MM / 2.0, &mut best);
    best
}

/// What is as near as the facets are true lies on it.
fn standing((from, near): Best, error: f64) -> (f64, Witness) {
    let distance = if near.distance <= error { 0.0 } else { near.distance };
    (distance, Witness::Pair { from, to: near.at })
}
