//! Has the mark room about it? Least distance, straight through space, from each character's whole
//! footprint to the edges of its face and to other marks, in cap heights. Marks that overlap fail.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    distance,
    finding::{Finding, Witness},
    site::{CharacterSite, Site},
};
use flat::encloses;
use glam::DVec3;

use relief::{BuiltMark, body::PAD};
use trade::limits::{State, Subject};

/// Distances along the footprint are found to this, mm.
const ERROR_MM: f64 = 0.002;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Clearance);
    let cap = site.built.placed.cap_height;
    let clears = site.built.mark.relief.pad.is_some_and(|p| p.clears > 0.0);
    let pad = site.pad.as_ref().map(|pad| site.rim(pad));
    // to what each letter is nearest: an edge, or another mark
    let measured = site.each_body(|c| {
        let edges = match &pad {
            // what clears the field round it goes over edges on purpose
            Some(_) if c.character == PAD && clears => &[],
            Some(rim) if c.character != PAD => &rim[..],
            _ => &site.built.seat.edges[..],
        };
        let edge = distance::least(&c.root, edges).map(|found| (found, None));
        let mark = site
            .scene
            .others(site.mark)
            .filter_map(|o| {
                let inside = o.area.as_ref().and_then(|area| inside(c, area));
                let found = inside.map(|at| (0.0, at, at)).or_else(|| distance::least(&c.root, &o.root))?;
                Some((found, Some(o.name.as_str())))
            })
            .filter(|((d, _, _), _)| *d < crate::scene::NEAR);
        edge.into_iter().chain(mark).min_by(|a, b| a.0.0.total_cmp(&b.0.0))
    });
    let nearest = measured
        .iter()
        .filter_map(|(_, text, found)| found.map(|found| (text, found)))
        .min_by(|a, b| a.1.0.0.total_cmp(&b.1.0.0));
    let Some((letter, ((least, _, _), other))) = nearest else {
        return Finding::plain(
            site.id(),
            Check::Clearance,
            State::Passes,
            "The face has no edges, and there is no other mark near.",
        );
    };
    let edge = match site.built.mark.relief.pad {
        Some(pad) if *letter != pad.form.word() => format!("the edge of the {}", pad.form.word()),
        _ => "the edge of its face".to_owned(),
    };
    let what = other.map_or(edge, |name| format!("the mark “{name}”"));
    let sentence = if least < ERROR_MM && other.is_some() {
        format!("“{letter}” overlaps {what}. Move one of the two.")
    } else {
        format!(
            "“{letter}” comes within {least:.2} mm of {what}, {:.1} cap heights; {:.1} are required.",
            least / cap,
            limit.value
        )
    };
    let measured = measured
        .iter()
        .map(|(k, text, found)| {
            let figure = found.map(|((d, from, to), _)| (d / cap, Some(Witness::Pair { from, to })));
            (*k, text.clone(), figure)
        })
        .collect();
    let error = (ERROR_MM + site.built.seat.facet_error) / cap;
    Finding::judged(site.id(), Check::Clearance, "× cap", &limit, error, measured).says(sentence)
}

/// A place of a character's footprint that lies in a stamp area.
fn inside(c: &CharacterSite, area: &BuiltMark) -> Option<DVec3> {
    /// Footprint and area both lie on facets of the seat; higher up it is another floor. mm.
    const OFF: f64 = 0.2;
    let chart = &area.ground.chart;
    let rings = area.kept_free();
    c.root.iter().map(|[a, _]| *a).find(|&p| {
        let (at, height) = chart.strip(p);
        let at = chart.turned_to(at, area.placed.middle);
        height.abs() < OFF && encloses(rings.iter().copied(), at)
    })
}
