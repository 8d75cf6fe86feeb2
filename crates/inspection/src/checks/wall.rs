//! What the mark does to the wall. Sunken: what is left, straight under the floor and in whatever direction it is
//! thinnest, and whether the mark breaks through. Raised: how much thicker the wall becomes.

use crate::Check;
use crate::needs::Need;
use crate::{
    finding::{Figure, Finding, Witness},
    samples::{Sample, samples},
    site::{CharacterSite, Site},
};
use glam::DVec3;
use rayon::prelude::*;
use relief::{Role, Tag};
use solid::{Mesh, queries::Queries};
use std::{cell::LazyCell, collections::HashSet, sync::OnceLock};
use trade::limits::{State, Subject};

/// Facets of a round seat and of the surface behind it may each lie off by this, mm.
pub const ERROR_MM: f64 = 0.01;
/// A wall no thicker than this is none: rounding decides whether it is there, mm.
const FILM: f64 = 0.001;
/// The thinnest places are looked at again in quarters so often: within 0.25 / 2² mm of the least.
const FINER: usize = 2;
/// So many of the thinnest places are.
const THINNEST_PLACES: usize = 6;
/// Sides that lean towards one another by less than this are a wall, by more an edge, degrees.
const WEDGE_DEG: f64 = 80.0;
/// The same for two places of the seat's own face: beside each rim it leans away from the letter's wall by 90° anyhow.
const OWN_WEDGE_DEG: f64 = 60.0;
/// Thinner walls to other faces are looked for this far, as a share of the least that is asked for and its margin.
const REACH: f64 = 2.0;

/// What there must be for it to be asked.
pub const NEEDS: &[Need] = &[Need::Floor, Need::Relief, Need::Walls];

pub fn check(site: &Site<'_>) -> Finding {
    let beside = Beside::new(site);
    // side by side, before they are asked for one by one
    site.each_body(|c| c.is_sunken().then(|| beside.thinnest(c)));
    if let Some(finding) = broken_through(site, &beside) {
        return finding;
    }
    // what is raised and what is sunken is required other things: the worse of the two is the mark's
    let findings = [true, false].into_iter().filter_map(|sunken| thickness(site, &beside, sunken));
    Finding::worst_of(findings.collect()).unwrap_or_else(|| {
        Finding::does_not_apply(site.id(), Check::Wall, "It changes no wall: it doesn't stand out of its pad.")
    })
}

/// The wall under what is sunken, or raised; `None` where nothing is.
fn thickness(site: &Site<'_>, beside: &Beside<'_>, sunken: bool) -> Option<Finding> {
    let limits = site.scene.limits;
    let (limit, least) = if sunken {
        (limits.limit(Subject::WallLeft), Some(limits.limit(Subject::WallLeast)))
    } else {
        (limits.limit(Subject::WallAdded), None)
    };
    let walls: Vec<(u32, String, Option<Wall>, Option<Thin>)> = site
        .each_body(|c| {
            let asked = c.is_sunken() == sunken && !(c.relief.through && c.top.is_empty()) && changes(site, c);
            asked.then(|| (thinnest(site, c), if sunken { beside.thinnest(c) } else { None }))
        })
        .into_iter()
        .filter_map(|(k, text, found)| found.map(|(wall, thin)| (k, text, wall, thin)))
        .collect();
    if walls.is_empty() {
        return None;
    }
    let measured = walls
        .iter()
        .map(|(k, text, wall, _)| {
            let figure = wall.as_ref().map(|m| (m.percent, 100.0 * ERROR_MM / m.wall.max(0.1), m.witness.clone()));
            (*k, text.clone(), Figure::found(figure))
        })
        .collect();
    let mut finding = Finding::judged(site.id(), Check::Wall, "%", &limit, measured);
    let straight = walls.iter().filter_map(|(_, _, w, _)| w.as_ref().map(|w| w.wall)).reduce(f64::min);
    let Some((percent, straight)) = finding.measured.zip(straight) else {
        return Some(finding.says("No ray inward from the mark met the part's other side."));
    };
    let Some(least) = least else {
        return Some(
            finding.says(format!("The lettering makes a wall of {straight:.2} mm thicker by {percent:.0} %.")),
        );
    };
    // each letter by what is left of it in any direction
    let mut thinnest: Option<(f64, Witness)> = None;
    for ((_, _, wall, thin), letter) in walls.into_iter().zip(&mut finding.letters) {
        let under = wall.map(|w| (w.wall, w.witness));
        let aside = thin.map(|t| (t.distance, Witness::Pair { from: t.from, to: t.to }));
        let Some((left, witness)) = under.into_iter().chain(aside).min_by(|a, b| a.0.total_cmp(&b.0)) else { continue };
        letter.state = letter.state.max(least.judge(left, ERROR_MM));
        if thinnest.as_ref().is_none_or(|(least, _)| left < *least) {
            thinnest = Some((left, witness));
        }
    }
    finding.state = finding.letters.iter().map(|l| l.state).fold(finding.state, std::cmp::Ord::max);
    let (left, witness) = thinnest.unwrap_or((straight, Witness::Point { at: DVec3::ZERO }));
    let mut sentence = format!(
        "The wall left under the floor is {straight:.2} mm, {percent:.0} % of what it was; at least {} % and {} mm are required.",
        limit.value, least.value
    );
    if left < straight - ERROR_MM {
        sentence += &format!(" At its thinnest place, aside from straight under it, {left:.2} mm are left.");
        finding.witnesses.insert(0, witness);
    }
    Some(finding.says(sentence))
}

/// Raised in a recessed pad deeper than it is high, a character adds nothing to the wall.
pub fn changes(site: &Site<'_>, c: &CharacterSite) -> bool {
    let mesh = site.scene.mesh();
    c.is_sunken() || c.top.iter().any(|&t| site.built.ground.height(mesh.centroid(t as usize)) > 0.0)
}

struct Wall {
    /// Left (sunken) or before the mark (raised), mm.
    wall: f64,
    /// Left or added, percent of the wall before.
    percent: f64,
    witness: Witness,
}

/// The thinnest wall straight inward from the floor, or from the seat under the top.
fn thinnest(site: &Site<'_>, c: &CharacterSite) -> Option<Wall> {
    // side by side: the floor of a pad is one body's
    let all = samples(site.scene.mesh(), &c.top).into_par_iter();
    let mut found: Vec<(Wall, Sample)> = all.filter_map(|s| Some((wall(site, c, s.at)?, s))).collect();
    for _ in 0..FINER {
        found.sort_by(|a, b| a.0.wall.total_cmp(&b.0.wall));
        let finer: Vec<Sample> = found.iter().take(THINNEST_PLACES).flat_map(|(_, s)| s.quarters()).collect();
        found.extend(finer.into_iter().filter_map(|s| Some((wall(site, c, s.at)?, s))));
    }
    found.into_iter().map(|(wall, _)| wall).min_by(|a, b| a.wall.total_cmp(&b.wall))
}

/// The wall straight inward at a place of a top or floor: what is left of it or was there, mm, and what is left or added, percent.
pub fn straight(site: &Site<'_>, c: &CharacterSite, from: DVec3) -> Option<(f64, f64)> {
    wall(site, c, from).map(|w| (w.wall, w.percent))
}

fn wall(site: &Site<'_>, c: &CharacterSite, from: DVec3) -> Option<Wall> {
    // from the part's surface: what stands on a pad is added to it
    let seat = &site.built.ground;
    let (out, height) = seat.above(from);
    let inward = -out;
    // raised: from the seat below, because a wall that leans may end a ray from the top
    let sunken = c.is_sunken();
    // raised in a recessed pad deeper than it is high it adds nothing; a floor sunk into a raised pad may lie over the surface
    if height < 0.0 && !sunken {
        return None;
    }
    let start = if sunken { from } else { from + inward * height };
    let (wall, to) = site.scene.material_ends(start, inward, site.mark)?;
    let witness = Witness::Pair { from: start, to };
    let percent = if sunken { 100.0 * wall / (wall - height) } else { 100.0 * height / wall.max(f64::MIN_POSITIVE) };
    Some(Wall { wall, percent, witness })
}

/// The thinnest wall between a character and another face, mm.
#[derive(Clone, Copy)]
pub struct Thin {
    pub distance: f64,
    from: DVec3,
    to: DVec3,
}

/// The faces of the solid in the mark's neighbourhood that a wall could end at: those that the mark doesn't stand on,
/// other marks, and of the faces it stands on what looks another way.
pub struct Beside<'a> {
    site: &'a Site<'a>,
    faces: Option<Queries>,
    /// Their outward unit normals, and which of the faces that the mark stands on they are.
    normals: Vec<DVec3>,
    on_seat: Vec<Option<u32>>,
    /// So many facets are the solid's own; the others are of the part outside the block that it was cut out with.
    own: u32,
    reach: f64,
    /// What was found of each character, and of the pad behind them.
    found: Vec<OnceLock<Option<Thin>>>,
}

impl<'a> Beside<'a> {
    pub fn new(site: &'a Site<'a>) -> Self {
        let least = site.scene.limits.limit(Subject::WallLeast);
        let reach = REACH * (least.value + least.margin);
        let solid = site.scene.solid;
        let (low, high) = site.built.bounds();
        let near = |mesh: &Mesh, t: usize| {
            let corners = mesh.corners(t);
            let (l, h) = corners.iter().fold((corners[0], corners[0]), |(l, h), p| (l.min(*p), h.max(*p)));
            l.cmple(high + reach).all() && h.cmpge(low - reach).all()
        };
        let outs: Vec<DVec3> =
            site.bodies().filter_map(|c| c.root.first().map(|[p, _]| site.built.ground.normal(*p))).collect();
        let bent_away = |normal: DVec3| outs.iter().any(|out| looks_another_way(normal, *out));
        let counts = |face: u32, normal: DVec3| !site.built.seat.has(face) || bent_away(normal);
        let other = |t: usize| match solid.tags[t] {
            Tag::Part { face } => counts(face, solid.mesh.normal(t)),
            // a mark on the same side is the room's business, however near it lies
            Tag::Relief { mark, .. } if mark != site.mark => {
                let p = solid.mesh.centroid(t);
                let other = site.scene.others(site.mark).find(|o| o.mark == mark);
                other.is_none_or(|o| o.out(p).dot(site.built.ground.normal(p)) < 0.0)
            }
            Tag::Relief { .. } => false,
            Tag::Cut | Tag::Under { .. } => false,
        };
        let facets: Vec<u32> =
            (0..solid.tags.len()).filter(|&t| near(&solid.mesh, t) && other(t)).map(|t| t as u32).collect();
        let mut faces = solid.mesh.piece(&facets).0;
        let bare = site.scene.bare;
        let outside = |t: &u32| {
            let corners = bare.mesh().corners(*t as usize);
            counts(site.scene.face_of[*t as usize], bare.mesh().normal(*t as usize))
                && !corners.iter().all(|p| site.scene.holds(*p))
        };
        let beyond: Vec<u32> = bare.in_box(low - reach, high + reach).into_iter().filter(outside).collect();
        if !site.built.seat.surface_body {
            faces.append(&bare.mesh().piece(&beyond).0);
        }
        let own = facets.len() as u32;
        let normals = (0..faces.triangles.len()).map(|t| faces.normal(t)).collect();
        let of_seat = |face: u32| site.built.seat.has(face).then_some(face);
        let of_solid = |t: &u32| match solid.tags[*t as usize] {
            Tag::Part { face } => of_seat(face),
            _ => None,
        };
        let of_part = |t: &u32| of_seat(site.scene.face_of[*t as usize]);
        let on_seat = facets.iter().map(of_solid).chain(beyond.iter().map(of_part)).collect();
        let faces = (!faces.triangles.is_empty()).then(|| Queries::new(faces));
        let found = site.bodies().map(|_| OnceLock::new()).collect();
        Self { site, faces, normals, on_seat, own, reach, found }
    }

    /// The thinnest wall between all of a sunken character and these faces, no thicker than the reach.
    fn thinnest(&self, c: &CharacterSite) -> Option<Thin> {
        let at = (c.character as usize).min(self.site.characters.len());
        *self.found[at].get_or_init(|| self.searched(c))
    }

    fn searched(&self, c: &CharacterSite) -> Option<Thin> {
        let (low, high) = c.footprint.bounds()?;
        let round = (high - low).length() / 2.0 + c.relief.height + self.reach;
        self.faces.as_ref()?.nearest((low + high) / 2.0, round)?;
        let facets: Vec<u32> = c.facets().collect();
        let all = samples(self.site.scene.mesh(), &facets);
        let cut_into = self.cut_into(c);
        let from = |p: DVec3, normal: DVec3| self.from(p, normal, &cut_into);
        let mut found: Vec<(Thin, Sample)> =
            all.into_iter().filter_map(|sample| Some((from(sample.at, sample.normal)?, sample))).collect();
        for _ in 0..FINER {
            found.sort_by(|a, b| a.0.distance.total_cmp(&b.0.distance));
            let finer: Vec<Sample> = found.iter().take(THINNEST_PLACES).flat_map(|(_, s)| s.quarters()).collect();
            for sample in finer {
                // the thinnest wall is often at a corner
                found.extend(sample.corners.iter().filter_map(|&p| Some((from(p, sample.normal)?, sample))));
            }
        }
        found.into_iter().map(|(thin, _)| thin).min_by(|a, b| a.distance.total_cmp(&b.distance))
    }

    /// Over a crease a character cuts into both faces: what its walls leave beside their rims there is no wall.
    pub fn cut_into(&self, c: &CharacterSite) -> HashSet<u32> {
        let over = self.site.built.seat.faces.len() > 1;
        let faces = c.borders.iter().filter(|_| over).filter_map(|b| match b.other {
            Tag::Part { face } => Some(face),
            _ => None,
        });
        faces.collect()
    }

    /// The nearest of these faces from a place with an outward normal, through material: both look away from one another. None
    /// of those that are `cut_into` there.
    pub fn from(&self, p: DVec3, normal: DVec3, cut_into: &HashSet<u32>) -> Option<Thin> {
        let faces = self.faces.as_ref()?;
        let out = LazyCell::new(|| self.site.built.ground.normal(p));
        let opposes = |t: u32, at: DVec3| {
            if t >= self.own && self.site.scene.holds(at) {
                return false;
            }
            let there = self.normals[t as usize];
            let on_seat = self.on_seat[t as usize];
            // the surface beside the rim is none that a wall could end at, however the mark's walls lean
            if on_seat.is_some_and(|face| cut_into.contains(&face) || !looks_another_way(there, *out)) {
                return false;
            }
            let way = (at - p).try_normalize().unwrap_or(-normal);
            let lean = |cos: f64| cos.clamp(-1.0, 1.0).acos().to_degrees();
            lean(-way.dot(normal)) + lean(way.dot(there)) <= if on_seat.is_some() { OWN_WEDGE_DEG } else { WEDGE_DEG }
        };
        let hit = faces.nearest_of(p, self.reach, opposes)?;
        Some(Thin { distance: hit.distance, from: p, to: hit.point })
    }
}

/// Does a face that the mark stands on look another way than where it is asked? Walls stand square to the seat, but for their
/// draft.
fn looks_another_way(normal: DVec3, out: DVec3) -> bool {
    normal.dot(out).clamp(-1.0, 1.0).acos().to_degrees() > 80.0 - OWN_WEDGE_DEG
}

/// A character whose floor borders on a face of the part, or whose walls do on one that looks the other way, has gone
/// right through; so has one that leaves no more than a film.
fn broken_through(site: &Site<'_>, beside: &Beside<'_>) -> Option<Finding> {
    let through = |c: &CharacterSite| {
        let border = c.borders.iter().find(|b| {
            let other = matches!(b.other, Tag::Part { face } if !site.built.seat.has(face));
            let behind = site.built.seat.normal(b.edge[0]).dot(b.normal) < -0.3;
            let runs_over = matches!(b.other, Tag::Part { face } if site.may_run_over(face));
            other && (behind || (b.own == Role::Floor && c.is_sunken() && !runs_over))
        });
        border.map(|b| Witness::Pair { from: b.edge[0], to: b.edge[1] })
    };
    let film = |c: &CharacterSite| {
        let thin = c.is_sunken().then(|| beside.thinnest(c)).flatten()?;
        (thin.distance <= FILM).then_some(Witness::Pair { from: thin.from, to: thin.to })
    };
    // a letter without any floor has been pushed out whole
    let lost = |c: &CharacterSite| c.is_sunken() && c.top.is_empty() && !c.walls.is_empty();
    let found: Vec<(&str, Option<Witness>)> = site
        .bodies()
        .filter(|c| !c.relief.through)
        .filter_map(|c| {
            let witness = through(c).or_else(|| film(c));
            (witness.is_some() || lost(c)).then_some((c.text.as_str(), witness))
        })
        .collect();
    let letters: Vec<&str> = found.iter().map(|(letter, _)| *letter).collect();
    (!found.is_empty()).then(|| {
        let mut finding = Finding::plain(
            site.id(),
            Check::Wall,
            State::Fails,
            format!("“{}” cuts through the wall. Make it shallower or move it.", letters.join("”, “")),
        );
        finding.witnesses = found.iter().filter_map(|(_, w)| w.clone()).collect();
        finding
    })
}
