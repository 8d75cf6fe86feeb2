//! Is every letter whole? Islands and counters of each character on the finished solid against
//! those of its outline; letters that run together; letters that hang over the face's edge; artwork that lacks some of
//! what its file holds.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Letter, Witness},
    scene::Border,
    site::{CharacterSite, Site},
};
use flat::Region;

use relief::{Role, Tag, body::PAD};
use trade::{Figure, limits::State};

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

pub fn check(site: &Site<'_>) -> Finding {
    let faults = site.each_body(|c| fault(site, c));
    if let Some(field) = site.built.placed.fields.iter().find(|f| !held(site, f)) {
        let at = field.bounds().map(|(low, high)| site.built.ground.chart.point((low + high) / 2.0, 0.0));
        let sentence = "A field that is kept free for later reaches past the edge of its face.";
        let mut finding = Finding::plain(site.id(), Check::Complete, State::Fails, sentence);
        finding.witnesses = at.map(|at| Witness::Point { at }).into_iter().collect();
        return finding;
    }
    let mut finding = match faults.iter().find_map(|(_, _, f)| f.as_ref()) {
        None => {
            let (state, sentence) =
                lacking(site).map_or_else(|| (State::Passes, whole(site)), |sentence| (State::Marginal, sentence));
            Finding::plain(site.id(), Check::Complete, state, sentence)
        }
        Some((sentence, _)) => Finding::plain(site.id(), Check::Complete, State::Fails, sentence.clone()),
    };
    finding.witnesses = faults.iter().filter_map(|(_, _, f)| f.as_ref().and_then(|(_, w)| w.clone())).collect();
    finding.letters = faults
        .into_iter()
        .map(|(character, text, fault)| Letter {
            character,
            text,
            measured: None,
            error: 0.0,
            state: if fault.is_some() { State::Fails } else { State::Passes },
            witness: fault.and_then(|(_, w)| w),
        })
        .collect();
    finding
}

fn whole(site: &Site<'_>) -> String {
    let over = match site.built.mark.relief.runs_out {
        true => "; what runs over the edge of its face does so as set",
        false => "",
    };
    format!("Every letter is complete, with all its islands and counters{over}.")
}

/// What the file of artwork holds and the mark doesn't draw: somebody has to say that it isn't wanted.
fn lacking(site: &Site<'_>) -> Option<String> {
    let Some(Figure::Artwork(artwork)) = &site.built.mark.figure else { return None };
    let lacks = artwork.left_out.join(" ");
    (!lacks.is_empty())
        .then(|| format!("It is whole as it was read, but not all of “{}” is drawn: {lacks}", artwork.file))
}

/// Does the face hold all of a field?
fn held(site: &Site<'_>, field: &Region) -> bool {
    site.built.ground.holds(&field.contours().cloned().collect::<Vec<_>>())
}

fn fault(site: &Site<'_>, c: &CharacterSite) -> Option<(String, Option<Witness>)> {
    let letter = &c.text;
    let placed = &site.built.placed;
    let wanted = placed.characters.get(c.character as usize).map_or_else(|| placed.pad.as_ref(), |p| Some(&p.region));
    let wanted = wanted?;
    let level = if c.is_sunken() { "floor" } else { "top" };
    let at = |t: u32| Some(Witness::Facet { corners: site.scene.mesh().corners(t as usize) });
    if c.relief.through {
        return went_through(site, c, wanted.counters());
    }
    if c.top.is_empty() {
        return Some((format!("“{letter}” is lost: it has no {level} on the finished solid."), None));
    }
    let runs_out = site.built.mark.relief.runs_out;
    if let Some(&t) = c.skirt.first() {
        let sentence = match runs_out {
            true => format!("“{letter}” is cut in under what stands beside its face."),
            false => format!("“{letter}” hangs over the edge of its face."),
        };
        return Some((sentence, at(t)));
    }
    let mut over = false;
    let clears = site.built.mark.relief.pad.is_some_and(|p| p.clears > 0.0);
    for Border { other: tag, edge, .. } in &c.borders {
        let witness = Some(Witness::Pair { from: edge[0], to: edge[1] });
        match tag {
            // what a recessed pad clears away may end on other faces
            Tag::Part { .. } if c.character == PAD && clears => {}
            Tag::Part { face } if site.may_run_over(*face) => over = true,
            Tag::Part { face } if !site.built.seat.has(*face) => {
                return Some((format!("“{letter}” runs over the edge of its face."), witness));
            }
            Tag::Part { .. } if c.character != PAD && site.pad.is_some() => {
                return Some((format!("“{letter}” reaches past the {}.", pad_word(site)), witness));
            }
            // letters stand on their pad
            Tag::Relief { mark, character: PAD, role: Role::Top | Role::Floor } if *mark == site.mark => {}
            Tag::Relief { mark, character: PAD, .. } if *mark == site.mark => {
                return Some((format!("“{letter}” runs over the edge of the {}.", pad_word(site)), witness));
            }
            Tag::Relief { mark, .. } if *mark == site.mark && c.character == PAD => {}
            Tag::Relief { mark, character, .. } => {
                let own = site.built.placed.characters.get(*character as usize).filter(|_| *mark == site.mark);
                let other = own.map_or("another mark", |o| &o.text);
                return Some((format!("“{letter}” and “{other}” run together."), witness));
            }
            Tag::Part { .. } | Tag::Cut | Tag::Under { .. } => {}
        }
    }
    let outline = (wanted.islands.len(), wanted.counters());
    // what is cut on into the air lacks what lies there
    if c.character == PAD || over {
        return None;
    }
    for (name, found) in [(level, c.top_outline.count()), ("root", c.root_outline.count())] {
        if found != outline {
            return Some((
                format!(
                    "“{letter}” has {} and {} on the {name}, its outline {} and {}.",
                    count(found.0, "island"),
                    count(found.1, "counter"),
                    outline.0,
                    outline.1
                ),
                c.top.first().and_then(|&t| at(t)),
            ));
        }
    }
    None
}

fn pad_word(site: &Site<'_>) -> &'static str {
    site.built.mark.relief.pad.map_or("pad", |p| p.form.word())
}

/// A letter that goes through on purpose: it has no floor, and none of its counters may fall out.
fn went_through(site: &Site<'_>, c: &CharacterSite, counters: usize) -> Option<(String, Option<Witness>)> {
    let letter = &c.text;
    let at = |t: u32| Some(Witness::Facet { corners: site.scene.mesh().corners(t as usize) });
    if let Some(&t) = c.top.first() {
        return Some((format!("“{letter}” should go right through, but some of the wall is left."), at(t)));
    }
    if c.walls.is_empty() {
        return Some((format!("“{letter}” is lost: it cuts nothing."), None));
    }
    if counters > 0 {
        let witness = c.walls.first().and_then(|&t| at(t));
        return Some((
            format!("The inside of “{letter}” falls out where it goes through. Use a stencil face."),
            witness,
        ));
    }
    None
}

fn count(n: usize, what: &str) -> String {
    if n == 1 { format!("1 {what}") } else { format!("{n} {what}s") }
}
