//! Is the mark clear of the parting lines? Least distance, straight through space, from each character's whole footprint
//! to each line; a line through the footprint fails whatever the distance.

use crate::Check;
use crate::needs::Need;
use crate::{
    distance::{self, Lines},
    finding::{Figure, Finding, Witness},
    site::{CharacterSite, Site},
};
use trade::limits::{State, Subject};

/// Footprint and line both lie on facets; along the surface that changes nothing to the second
/// order.
const ERROR_MM: f64 = 0.002;
/// A line that lies no farther off the surface under a letter runs through it, mm: silhouettes on true surfaces are joined
/// to edges on facets to 0.02.
const ON_SEAT: f64 = 0.02;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Parting);
    let lines = site.scene.parting;
    if lines.is_empty() {
        return Finding::not_checked(site.id(), Check::Parting, "No parting line is set. Draw it at the part.");
    }
    let drawn: Vec<Lines> = lines.iter().map(|line| Lines::new(line.segments.clone())).collect();
    let measured = site.each_body(|c| least(site, c, &drawn));
    let mut finding = Finding::judged(site.id(), Check::Parting, "mm", &limit, measured);
    let crossed: Vec<String> =
        finding.letters.iter().filter(|l| l.measured == Some(0.0)).map(|l| l.text.clone()).collect();
    let mut sentence = match finding.measured {
        Some(_) if !crossed.is_empty() => {
            finding.state = State::Fails;
            for letter in finding.letters.iter_mut().filter(|l| l.measured == Some(0.0)) {
                letter.state = State::Fails;
            }
            format!("The parting line runs through “{}”.", crossed.join("”, “"))
        }
        Some(least) => {
            format!("The nearest footprint, of “{}”, is {least:.3} mm from the parting line.", finding.worst_letter())
        }
        None => "No distance to a parting line could be measured.".to_owned(),
    };
    // a line that is set but isn't there tells nothing
    for (at, line) in lines.iter().enumerate() {
        let which = if lines.len() == 1 { "The parting line".to_owned() } else { format!("Parting line {}", at + 1) };
        let lack = if line.segments.is_empty() {
            "doesn't meet the part"
        } else if line.open_ends > 0 && !site.built.seat.surface_body {
            "doesn't close"
        } else {
            continue;
        };
        sentence += &format!(" {which} {lack}: change it at the part.");
        finding.state = finding.state.max(State::NotChecked);
    }
    finding.says(sentence)
}

fn least(site: &Site<'_>, c: &CharacterSite, lines: &[Lines]) -> Figure {
    let pieces = || lines.iter().flat_map(|line| line.iter());
    let off = ON_SEAT + site.built.seat.facet_error;
    if let Some((piece, _)) = pieces().find_map(|piece| Some((piece, c.footprint.carries(piece, off)?))) {
        return Figure::of(0.0, ERROR_MM, Witness::Pair { from: piece[0], to: piece[1] });
    }
    let near = lines.iter().filter_map(|line| distance::least(&c.root, line));
    let near = near.min_by(|a, b| a.0.total_cmp(&b.0));
    Figure::found(near.map(|(d, from, to)| (d, ERROR_MM, Witness::Pair { from, to })))
}
