//! Is the way out free? From every place of the mark a ray along the pull of the steel that forms it must not meet the
//! part again: a wall may have draft and still be trapped under an overhang. And is it one steel that forms a letter?

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Letter, Witness},
    samples::samples,
    site::{CharacterSite, Site},
};
use rayon::prelude::*;
use trade::limits::State;

/// Rays start this far off their facet, mm, so that they don't meet it.
const OFF: f64 = 1e-4;
/// What stands nearer than this is the facet's own neighbour, mm: along a wall that runs along the pull a ray grazes it.
/// Something that is really in the way stands farther from most of the places below it.
const NEAREST: f64 = 1e-3;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Relief];

pub fn check(site: &Site<'_>) -> Finding {
    if site.pull.is_none() {
        return Finding::not_checked(
            site.id(),
            Check::Release,
            "No pull is set, so the way out of the tool is unknown. Set it at the part.",
        );
    }
    let bodies = site.each_body(|c| (barred(site, c), divided(site, c)));
    let texts = |barred: bool| -> Vec<&str> {
        let which = bodies.iter().filter(|(_, _, (bar, two))| if barred { bar.is_some() } else { two.is_some() });
        which.map(|(_, text, _)| text.as_str()).collect()
    };
    let (barred, divided) = (texts(true), texts(false));
    let by = bodies.iter().find_map(|(_, _, f)| f.1.as_ref().map(|(by, _)| by.as_str())).unwrap_or_default();
    let mut sentences = Vec::new();
    if !barred.is_empty() {
        let can = if barred.len() == 1 {
            "can't release: along the pull the part stands in its way"
        } else {
            "can't release: along the pull the part stands in their way"
        };
        sentences.push(format!("“{}” {can}. Move the mark or change the pull.", barred.join("”, “")));
    }
    if !divided.is_empty() {
        let lies = if divided.len() == 1 { "lies" } else { "lie" };
        sentences.push(format!(
            "“{}” {lies} on two parts of the tool: {by}. Move the mark off the boundary.",
            divided.join("”, “")
        ));
    }
    let state = if sentences.is_empty() { State::Passes } else { State::Fails };
    if sentences.is_empty() {
        sentences.push("Nothing stands in the way of the mark along the pull.".into());
    }
    let mut finding = Finding::plain(site.id(), Check::Release, state, sentences.join(" "));
    let witnesses = bodies.iter().flat_map(|(_, _, (bar, two))| bar.iter().chain(two.iter().map(|(_, w)| w)));
    finding.witnesses = witnesses.cloned().collect();
    finding.letters = bodies
        .into_iter()
        .map(|(character, text, (bar, two))| Letter {
            character,
            text,
            measured: None,
            error: 0.0,
            state: if bar.is_some() || two.is_some() { State::Fails } else { State::Passes },
            witness: bar.or(two.map(|(_, w)| w)),
        })
        .collect();
    finding
}

/// What stands in the way of a character.
fn barred(site: &Site<'_>, c: &CharacterSite) -> Option<Witness> {
    let pull = c.pull()?;
    let seat = &site.built.ground;
    let facets: Vec<u32> = c.facets().collect();
    samples(site.scene.mesh(), &facets).par_iter().find_map_first(|sample| {
        // an undercut facet is the draft check's; its own wall would stop the ray
        if sample.normal.dot(pull) <= 1e-3 {
            return None;
        }
        let from = sample.at + sample.normal * OFF;
        let hit = if seat.surface_body {
            // the surface itself is not cut open: from above it
            let high = seat.height(from).max(0.0) + seat.facet_error + NEAREST;
            let above = from + seat.normal(from) * (high - seat.height(from));
            site.scene.bare.first_hit(above, pull, NEAREST, f64::MAX, |_| true).map(|h| h.point)
        } else {
            site.scene.next_surface(from, pull, NEAREST).map(|(_, to)| to)
        };
        hit.map(|to| Witness::Pair { from, to })
    })
}

/// The parts of the tool that a character lies on where they are two, with a place on the lesser of them.
fn divided(site: &Site<'_>, c: &CharacterSite) -> Option<(String, Witness)> {
    let [most, other, ..] = &c.steels[..] else { return None };
    let name = |s: usize| site.scene.forms.steels.get(s).map_or("", |(name, _)| name);
    Some((format!("the {} and the {}", name(most.steel), name(other.steel)), Witness::Point { at: other.at }))
}
