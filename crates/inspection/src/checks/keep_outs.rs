//! Does the mark stay out of where it must not go? Least distance, straight through space, from each
//! character's whole footprint to every keep-out on its side of the part, against that keep-out's
//! margin. The one with the least room to its margin is the mark's figure.

use crate::check::Check;
use crate::needs::Need;
use crate::{
    finding::{Finding, Witness},
    scene::KeepOutSite,
    site::{CharacterSite, Site},
};
use flat::encloses;

use relief::Tag;
use trade::limits::State;

/// Distances along the footprint are found to this, mm.
const ERROR_MM: f64 = 0.002;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

pub fn check(site: &Site<'_>) -> Finding {
    if site.scene.keep_outs.is_empty() {
        return Finding::plain(
            site.id(),
            Check::KeepOuts,
            State::Passes,
            "No keep-outs are set. Set them at the part where faces are polished, sealing or clamped, at the gate and the ejector pins.",
        );
    }
    if let Some(lost) = site.scene.keep_outs.iter().find(|k| k.region.is_empty()) {
        return Finding::not_checked(
            site.id(),
            Check::KeepOuts,
            format!("The keep-out “{}” names faces that this part doesn't have. Set it again at the part.", lost.name),
        );
    }
    let mut found: Vec<(f64, Finding, &KeepOutSite)> = site
        .scene
        .keep_outs
        .iter()
        .filter_map(|keep_out| {
            let measured = site.each_body(|c| nearest(site, c, keep_out));
            let finding = Finding::judged(
                site.id(),
                Check::KeepOuts,
                "mm",
                &keep_out.limit,
                ERROR_MM + site.built.seat.facet_error,
                measured,
            );
            Some((finding.measured? - keep_out.limit.value, finding, keep_out))
        })
        .collect();
    found.sort_by(|a, b| b.1.state.cmp(&a.1.state).then(a.0.total_cmp(&b.0)));
    let failing = found.iter().filter(|(_, f, _)| f.state == State::Fails).count();
    let mut found = found.into_iter();
    let Some((_, finding, keep_out)) = found.next() else {
        return Finding::plain(
            site.id(),
            Check::KeepOuts,
            State::Passes,
            "No keep-out lies on the mark's side of the part.",
        );
    };
    let least = finding.measured.unwrap_or(0.0);
    let margin = keep_out.limit.value;
    let letter = finding.worst_letter().to_owned();
    let place = format!("“{}” ({})", keep_out.name, keep_out.kind.word());
    let mut sentence = if least <= 0.0 {
        format!("“{letter}” lies on {place}.")
    } else {
        format!("“{letter}” comes within {least:.3} mm of {place}; {margin:.2} mm are required.")
    };
    if finding.state != State::Fails {
        sentence = format!(
            "The nearest keep-out is {place}, {least:.3} mm from “{letter}” where {margin:.2} mm are required."
        );
    }
    if failing > 1 {
        sentence += &format!(" {failing} keep-outs are too near.");
    }
    finding.says(sentence)
}

fn nearest(site: &Site<'_>, c: &CharacterSite, keep_out: &KeepOutSite) -> Option<(f64, Option<Witness>)> {
    let chart = &site.built.seat_of(c.character).chart;
    let first = c.root.first()?;
    // the letter stands on a face that is kept out of
    let on_face =
        c.borders.iter().find(|(tag, _, _)| matches!(tag, Tag::Part { face } if keep_out.region.has_face(*face)));
    if let Some((_, edge, _)) = on_face {
        return Some((0.0, Some(Witness::Point { at: (edge[0] + edge[1]) / 2.0 })));
    }
    let out = |p| chart.normal(chart.strip(p).0);
    // a circle that lies inside a stroke is nearer than the stroke's outline
    for (at, _) in keep_out.region.circles(out(first[0])) {
        let (flat, height) = site.laid_flat(c, at);
        let inside = encloses(&c.root_outline, flat);
        if inside && height.abs() < c.relief.height + 0.05 {
            return Some((0.0, Some(Witness::Point { at })));
        }
    }
    let mut best = None;
    for segment in &c.root {
        keep_out.region.nearest_to(*segment, out((segment[0] + segment[1]) / 2.0), ERROR_MM / 2.0, &mut best);
    }
    best.map(|(from, near)| (near.distance, Some(Witness::Pair { from, to: near.at })))
}
