//! Is every letter whole? Islands and counters of each character on the finished solid against
//! those of its outline; letters that run together; letters that hang over the face's edge.

use super::Check;
use crate::{
    finding::{Finding, Letter, Witness},
    measure::{CharacterSite, Site},
};
use relief::Tag;
use trade::limits::State;

pub fn check(site: &Site<'_>) -> Finding {
    let faults = site.each(|c| fault(site, c));
    let mut finding = match faults.iter().find_map(|(_, _, f)| f.as_ref()) {
        None => Finding::plain(
            site.id(),
            Check::Complete,
            State::Holds,
            "Every letter is whole, with all its islands and counters.",
        ),
        Some((sentence, _)) => Finding::plain(site.id(), Check::Complete, State::Fails, sentence.clone()),
    };
    finding.witnesses = faults.iter().filter_map(|(_, _, f)| f.as_ref().and_then(|(_, w)| w.clone())).collect();
    finding.letters = faults
        .into_iter()
        .map(|(character, text, fault)| Letter {
            character,
            text,
            measured: None,
            state: if fault.is_some() { State::Fails } else { State::Holds },
            witness: fault.and_then(|(_, w)| w),
        })
        .collect();
    finding
}

fn fault(site: &Site<'_>, c: &CharacterSite) -> Option<(String, Option<Witness>)> {
    let letter = &c.text;
    let wanted = &site.built.placed.characters[c.character as usize].region;
    let level = if site.is_sunken() { "floor" } else { "land" };
    let at = |t: u32| Some(Witness::Facet { corners: site.scene.mesh().corners(t as usize) });
    if c.land.is_empty() {
        return Some((format!("“{letter}” is lost: it has no {level} on the finished solid."), None));
    }
    if let Some(&t) = c.skirt.first() {
        return Some((format!("“{letter}” hangs over the edge of its face."), at(t)));
    }
    for (tag, edge, _) in &c.borders {
        let witness = Some(Witness::Pair { from: edge[0], to: edge[1] });
        match tag {
            Tag::Part { face } if !site.built.seat.has(*face) => {
                return Some((format!("“{letter}” runs over the edge of its face."), witness));
            }
            Tag::Relief { mark: _, character, .. } => {
                let other = site.built.placed.characters.get(*character as usize).map_or("another mark", |o| &o.text);
                return Some((format!("“{letter}” and “{other}” run together."), witness));
            }
            Tag::Part { .. } | Tag::Cut | Tag::Under { .. } => {}
        }
    }
    let outline = (wanted.islands.len(), wanted.counters());
    for (name, found) in
        [(level, CharacterSite::count(&c.land_outline)), ("root", CharacterSite::count(&c.root_outline))]
    {
        if found != outline {
            return Some((
                format!(
                    "“{letter}” has {} and {} on the {name}, its outline {} and {}.",
                    count(found.0, "island"),
                    count(found.1, "counter"),
                    outline.0,
                    outline.1
                ),
                c.land.first().and_then(|&t| at(t)),
            ));
        }
    }
    None
}

fn count(n: usize, what: &str) -> String {
    if n == 1 { format!("1 {what}") } else { format!("{n} {what}s") }
}
