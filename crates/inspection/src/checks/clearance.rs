//! Has the mark room about it? Least distance, straight through space, from each character's whole
//! footprint to the edges of its face and to other marks, in cap heights. Marks that overlap fail, and so do characters
//! that stand over an edge of the part.

use crate::Check;
use crate::needs::Need;
use crate::{
    distance::{self, Lines},
    finding::{Figure, Finding, Witness},
    scene::OtherMark,
    site::{CharacterSite, Site},
};
use flat::encloses;
use glam::{DVec2, DVec3};

use relief::{BuiltMark, body::PAD};
use trade::limits::{State, Subject};

/// Distances along the footprint are found to this, mm.
pub const ERROR_MM: f64 = 0.002;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[];

/// The nearest that stands about a character: how far, from where to where, and what it is; an edge where it is no mark.
type Near<'a> = ((f64, DVec3, DVec3), Option<&'a OtherMark>);

pub fn check(site: &Site<'_>) -> Finding {
    let limit = site.scene.limits.limit(Subject::Clearance);
    let cap = site.built.placed.cap_height;
    let obstacles = Obstacles::new(site);
    let reach = (limit.value + limit.margin) * cap;
    let measured = site.each_body(|c| nearest(site, c, &obstacles, reach));
    let nearest = measured
        .iter()
        .filter_map(|(_, text, found)| found.as_ref().map(|found| (text, *found)))
        .min_by(|a, b| a.1.0.0.total_cmp(&b.1.0.0));
    if site.bodies().any(|c| c.root.is_empty()) && nearest.is_none() {
        return Finding::not_checked(site.id(), Check::Clearance, "The mark has no footprint on the finished solid.");
    }
    let Some((letter, ((least, _, _), other))) = nearest else {
        return Finding::plain(
            site.id(),
            Check::Clearance,
            State::Passes,
            match site.built.mark.relief.runs_out {
                true => "It may run over the edges of its face, and there is no other mark near.",
                false => "The face has no edges, and there is no other mark near.",
            },
        );
    };
    let edge = match site.built.mark.relief.pad {
        Some(pad) if *letter != pad.form.word() => format!("the edge of the {}", pad.form.word()),
        _ => "the edge of its face".to_owned(),
    };
    let what = other.map_or(edge, |o| format!("the mark “{}”", o.name));
    let touches = least < ERROR_MM;
    let sentence = match (touches, other) {
        (true, Some(_)) => format!("“{letter}” overlaps {what}. Move one of the two."),
        (true, None) => format!("“{letter}” stands over {what}. Move it off."),
        _ => format!(
            "“{letter}” comes within {least:.2} mm of {what}, {:.1} cap heights; {:.1} are required.",
            least / cap,
            limit.value
        ),
    };
    let error = (ERROR_MM + site.built.seat.facet_error) / cap;
    let touched: Vec<bool> = measured.iter().map(|(.., found)| found.is_some_and(|f| f.0.0 < ERROR_MM)).collect();
    let measured = measured
        .iter()
        .zip(site.bodies())
        .map(|((k, text, found), c)| {
            let figure = match found {
                Some(((d, from, to), _)) => Figure::of(d / cap, error, Witness::Pair { from: *from, to: *to }),
                None if c.root.is_empty() => Figure::NotMeasured,
                None => Figure::DoesNotApply,
            };
            (*k, text.clone(), figure)
        })
        .collect();
    let mut finding = Finding::judged(site.id(), Check::Clearance, "× cap", &limit, measured);
    // whatever the limit
    for (letter, _) in finding.letters.iter_mut().zip(touched).filter(|(_, touched)| *touched) {
        letter.state = State::Fails;
        finding.state = State::Fails;
    }
    finding.says(sentence)
}

/// Edges that bodies of a mark keep away from.
pub struct Obstacles {
    face: Lines,
    /// Round its pad.
    rim: Option<Lines>,
}

impl Obstacles {
    pub fn new(site: &Site<'_>) -> Self {
        let rim = site.pad.as_ref().map(|pad| Lines::new(site.rim(pad)));
        Self { face: Lines::new(site.built.seat.edges.clone()), rim }
    }

    /// Those that one of them keeps away from; `None` where it may run over them.
    pub fn edges(&self, site: &Site<'_>, character: u32) -> Option<&Lines> {
        let relief = &site.built.mark.relief;
        match &self.rim {
            // what clears the field round it goes over edges on purpose
            Some(_) if character == PAD && relief.pad.is_some_and(|p| p.clears > 0.0) => None,
            _ if relief.runs_out => None,
            Some(rim) if character != PAD => Some(rim),
            _ => Some(&self.face),
        }
    }
}

/// The nearest edge or other mark, of those no farther than `reach` or [`crate::scene::NEAR`].
fn nearest<'a>(site: &Site<'a>, c: &CharacterSite, obstacles: &Obstacles, reach: f64) -> Option<Near<'a>> {
    let seat = &site.built.seat;
    let edges = obstacles.edges(site, c.character);
    let off = seat.facet_error + ERROR_MM;
    let edge = edges.and_then(|edges| {
        let under = edges.iter().find_map(|edge| c.footprint.carries(edge, off)).map(|at| (0.0, at, at));
        under.or_else(|| distance::least(&c.root, edges)).map(|found| (found, None))
    });
    let marks = site.scene.others(site.mark).filter_map(|o| {
        let inside = inside(c, &o.built);
        let under = || o.root().iter().find_map(|piece| c.footprint.carries(piece, off));
        let found = inside.or_else(under).map(|at| (0.0, at, at)).or_else(|| distance::least(&c.root, o.root()))?;
        let behind = found.0 > 0.0 && site.scene.is_behind(seat.normal(found.1), found.1, found.2, o.out(found.2));
        (!behind).then_some((found, Some(o)))
    });
    let marks = marks.filter(|((d, _, _), _)| *d < reach.max(crate::scene::NEAR));
    edge.into_iter().chain(marks).min_by(|a, b| a.0.0.total_cmp(&b.0.0))
}

/// A place of a character's footprint that lies in what another mark keeps free, or on its pad.
fn inside(c: &CharacterSite, area: &BuiltMark) -> Option<DVec3> {
    let mut rings = area.kept_free();
    rings.extend(area.placed.pad.iter().flat_map(flat::Region::contours));
    if rings.is_empty() {
        return None;
    }
    c.root.iter().map(|[a, _]| *a).find(|&p| lies_in(area, &rings, p))
}

/// Does a place of the surface lie in what another mark keeps free, on its pad, or under one of its letters?
pub fn covers(other: &BuiltMark, p: DVec3) -> bool {
    let (low, high) = other.bounds();
    if p.cmplt(low - OFF).any() || p.cmpgt(high + OFF).any() {
        return false;
    }
    let area = other.kept_free().into_iter().chain(other.placed.pad.iter().flat_map(flat::Region::contours));
    let letters = other.placed.characters.iter().map(|c| c.region.contours().collect());
    std::iter::once(area.collect()).chain(letters).any(|rings: Vec<&Vec<DVec2>>| lies_in(other, &rings, p))
}

/// Footprint and area both lie on facets of the seat; higher up it is another floor. mm.
const OFF: f64 = 0.2;

fn lies_in(area: &BuiltMark, rings: &[&Vec<DVec2>], p: DVec3) -> bool {
    let chart = &area.ground.chart;
    let (at, height) = chart.strip(p);
    let at = chart.turned_to(at, area.placed.middle);
    height.abs() < OFF && encloses(rings.iter().copied(), at)
}
