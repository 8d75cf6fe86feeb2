//! A job on a part whose faces are others than before: a newer revision, or faces that were joined or
//! divided by hand. What of the job finds its place again?

use crate::{bench::Bench, forming::unit_pull, steps::Steps};
use glam::DVec3;
use serde::Serialize;
use solid::{
    Part, PartError, Surface,
    matching::{Match, matching},
};
use std::collections::{BTreeMap, BTreeSet};
use trade::{Area, Baseline, FaceMend, Job, PartRef, Parting, SeatRef, Spot, Tie};

/// A parting plane this near to a flat face lies on it and moves with it, mm.
const ON_FACE: f64 = 0.01;

/// What a face of the old part is used for.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
pub enum Use {
    /// The seat of a mark, by its id.
    Mark(String),
    KeepOut(String),
    /// Assigned to a steel, by its place in the list.
    Assigned(usize),
    Name(String),
    /// The flat face that a parting plane lies on, by the line's place in the list.
    Parting(usize),
    /// A picked edge of a parting line lies on it.
    Edge(usize),
}

/// A face that the job uses, with what became of it.
#[derive(Clone, Debug, PartialEq)]
pub struct Row {
    pub face: u32,
    pub uses: Vec<Use>,
    pub found: Match,
}

/// Which new face takes an old one's place; `None`: what used it is left out.
pub type Choices = BTreeMap<u32, Option<u32>>;

/// Every face that the job uses, in order.
#[must_use]
pub fn propose(job: &Job, old: &Bench, new: &Bench) -> Vec<Row> {
    let found = matching(old.part(), new.part());
    let mut uses: BTreeMap<u32, Vec<Use>> = BTreeMap::new();
    let mut used = |face: u32, by: Use| uses.entry(face).or_default().push(by);
    for mark in &job.marks {
        for face in mark.seat.faces() {
            used(face, Use::Mark(mark.id.clone()));
        }
    }
    for keep_out in &job.tool.keep_outs {
        for face in faces_under(&keep_out.area, old) {
            used(face, Use::KeepOut(keep_out.name.clone()));
        }
    }
    for (at, given) in job.tool.assigned.iter().enumerate() {
        for face in faces_under(&given.area, old) {
            used(face, Use::Assigned(at));
        }
    }
    for (at, parting) in job.tool.parting.iter().enumerate() {
        if let Parting::Edges { through } = parting {
            let on: BTreeSet<u32> = through.iter().filter_map(|p| face_under(*p, old)).collect();
            for face in on {
                used(face, Use::Edge(at));
            }
        }
    }
    for named in &job.face_names {
        used(named.face, Use::Name(named.name.clone()));
    }
    for (at, face) in planes_on_faces(job, old) {
        used(face, Use::Parting(at));
    }
    uses.into_iter().filter_map(|(face, uses)| Some(Row { face, uses, found: *found.get(face as usize)? })).collect()
}

/// The faces of an area, or those that its circles lie on.
fn faces_under(area: &Area, bench: &Bench) -> BTreeSet<u32> {
    match area {
        Area::Faces { faces } => faces.iter().copied().collect(),
        _ => area.spots().iter().filter_map(|s| face_under(s.at, bench)).collect(),
    }
}

/// The face nearest to a point.
fn face_under(point: [f64; 3], bench: &Bench) -> Option<u32> {
    let hit = bench.queries().nearest(point.into(), f64::MAX)?;
    Some(bench.part().face_of[hit.triangle as usize])
}

/// Parting planes that lie on a flat face: their places in the list, and the largest such face.
fn planes_on_faces(job: &Job, bench: &Bench) -> Vec<(usize, u32)> {
    let Some(pull) = unit_pull(&job.tool) else { return Vec::new() };
    let parted = job.tool.parting.iter().enumerate().filter_map(|(at, p)| match p {
        Parting::Plane { height } => Some((at, *height)),
        _ => None,
    });
    parted
        .filter_map(|(at, height)| {
            let faces = bench.part().faces.iter().enumerate();
            let on = faces.filter(|(_, f)| height_of(&f.surface, pull).is_some_and(|h| (h - height).abs() < ON_FACE));
            Some((at, on.max_by(|a, b| a.1.area.total_cmp(&b.1.area))?.0 as u32))
        })
        .collect()
}

/// Height of a flat face that lies square to the pull.
fn height_of(surface: &Surface, pull: DVec3) -> Option<f64> {
    match surface {
        Surface::Plane { origin, normal } if normal.dot(pull).abs() > 1.0 - 1e-9 => Some(origin.dot(pull)),
        _ => None,
    }
}

/// The job on the newer part. Faces that `choices` doesn't name go where they were found for certain;
/// a guess is taken only where it was chosen. Marks whose seat is left out are left out, areas lose
/// the faces that are. Circles, painted areas and picked edges move with the face they lie on.
#[must_use]
pub fn revised(job: &Job, old: &Bench, new: &Bench, part: PartRef, choices: &Choices) -> Job {
    let found = matching(old.part(), new.part());
    let to = |face: u32| -> Option<u32> {
        match choices.get(&face) {
            Some(chosen) => chosen.filter(|&c| (c as usize) < new.part().faces.len()),
            None => match found.get(face as usize)? {
                Match::Same { to } | Match::Moved { to, .. } => Some(*to),
                Match::Guess { .. } | Match::Gone => None,
            },
        }
    };
    let goes = |face: u32| to(face).map(|there| Goes { to: there, also: None, by: moved(&found, face, there) });
    carried(job, old, new, part, &|face, _| goes(face))
}

/// The job with two faces joined, or one divided.
///
/// # Errors
/// See [`solid::Part::mend_faces`].
pub fn face_mended(job: &Job, old: &Bench, mend: &FaceMend) -> Result<Job, PartError> {
    let new = old.face_mended(std::slice::from_ref(mend))?;
    let mut part = job.part.clone();
    part.face_mends.push(placed(mend, old.part()));
    let stays = |face: u32| Goes { to: face, also: None, by: DVec3::ZERO };
    let goes = |face: u32, at: Option<DVec3>| match mend {
        FaceMend::Join { face: first, with, .. } if face == *with => stays(*first),
        FaceMend::Divide { face: divided, .. } if face == *divided => {
            let made = new.part().faces.len() as u32 - 1;
            // a mark goes with the facets it stands on; what lay on the whole face lies on both
            let under = at.and_then(|at| new.queries().nearest(at, f64::MAX)).map(|hit| hit.triangle as usize);
            let on_made = under.is_some_and(|t| new.part().face_of[t] == made);
            Goes { to: if on_made { made } else { face }, also: Some(made), by: DVec3::ZERO }
        }
        _ => stays(face),
    };
    let mut out = carried(job, old, &new, part, &|face, at| Some(goes(face, at)));
    let mut named = BTreeSet::new();
    out.face_names.retain(|n| named.insert(n.face));
    Ok(out)
}

/// A mend that was tried, with the places of its faces.
fn placed(mend: &FaceMend, part: &Part) -> FaceMend {
    let place = |face: &u32| part.places_on(&BTreeSet::from([*face])).get(face).map(|at| at.to_array());
    match mend.clone() {
        FaceMend::Join { face, with, .. } => {
            FaceMend::Join { face, with, at: place(&face).zip(place(&with)).map(|(a, b)| [a, b]) }
        }
        FaceMend::Divide { face, spots, .. } => FaceMend::Divide { face, spots, at: place(&face) },
    }
}

/// Where a face went.
struct Goes {
    to: u32,
    /// A second face that lies where it lay.
    also: Option<u32>,
    /// How far it moved.
    by: DVec3,
}

/// The job with everything that names a face naming the one that took its place; `goes` is told the
/// middle of a mark that stands on the face.
fn carried(
    job: &Job,
    old: &Bench,
    new: &Bench,
    part: PartRef,
    goes: &dyn Fn(u32, Option<DVec3>) -> Option<Goes>,
) -> Job {
    let to = |face: u32| goes(face, None).map(|g| g.to);
    let mut out = job.clone();
    out.part = part;
    out.faces_at.clear();
    let pull = unit_pull(&job.tool);
    out.marks = job
        .marks
        .iter()
        .filter_map(|mark| {
            let mut mark = mark.clone();
            let was = old.seat(&mark.seat, pull).ok();
            let placed = was.and_then(|was| {
                let settled = crate::ties::settled(old, &job.marks, &mark, pull).ok()?;
                let placed = relief::place::place(&settled, &was).ok()?;
                let held = was.chart.off_grid(placed.held);
                Some([placed.middle, held].map(|at| was.chart.point(at, 0.0)))
            });
            let (middle, held) = placed.map(|[middle, held]| (middle, held)).unzip();
            let Goes { to: face, by, .. } = goes(mark.seat.face, middle)?;
            // a place that was put down by hand stays where it was on the part; ties find their edges anew
            let with: BTreeSet<u32> = mark.seat.with.iter().filter_map(|f| to(*f)).filter(|f| *f != face).collect();
            mark.seat = SeatRef { face, with: with.into_iter().collect() };
            if let (Some(held), Ok(is)) = (held, new.seat(&mark.seat, pull)) {
                let at = is.chart.grid(is.strip(held + by));
                let round = |v: f64| (v * 100.0).round() / 100.0;
                for (k, tie) in [&mut mark.place.along, &mut mark.place.up].into_iter().enumerate() {
                    match tie {
                        Tie::At { position } | Tie::Between { near: position } => *position = round(at[k]),
                        Tie::Point { point, .. } => point.near = (DVec3::from(point.near) + by).to_array(),
                        _ => {}
                    }
                }
            }
            if let Baseline::Edge { near, .. } = &mut mark.place.baseline {
                *near = (DVec3::from(*near) + by).to_array();
            }
            Some(mark)
        })
        .collect();
    let point = |p: [f64; 3]| -> Option<[f64; 3]> {
        let Some(face) = face_under(p, old) else { return Some(p) };
        Some((DVec3::from(p) + goes(face, None)?.by).to_array())
    };
    let area = |area: &Area| -> Option<Area> {
        match area {
            Area::Faces { faces } => {
                let all = faces.iter().filter_map(|f| goes(*f, None)).flat_map(|g| [Some(g.to), g.also]);
                let faces: BTreeSet<u32> = all.flatten().collect();
                let faces: Vec<u32> = faces.into_iter().collect();
                (!faces.is_empty()).then_some(Area::Faces { faces })
            }
            Area::Circle { middle, radius } => Some(Area::Circle { middle: point(*middle)?, radius: *radius }),
            Area::Painted { spots } => {
                let spots: Vec<Spot> =
                    spots.iter().filter_map(|s| Some(Spot { at: point(s.at)?, radius: s.radius })).collect();
                (!spots.is_empty()).then_some(Area::Painted { spots })
            }
        }
    };
    let tool = &mut out.tool;
    tool.keep_outs.retain_mut(|k| area(&k.area).map(|a| k.area = a).is_some());
    tool.assigned.retain_mut(|g| area(&g.area).map(|a| g.area = a).is_some());
    out.face_names.retain_mut(|n| to(n.face).map(|face| n.face = face).is_some());
    if let Some(pull) = pull {
        for (at, face) in planes_on_faces(job, old) {
            let there = to(face).and_then(|f| height_of(&new.part().faces[f as usize].surface, pull));
            if let (Some(there), Parting::Plane { height }) = (there, &mut tool.parting[at]) {
                *height = (there * 1e4).round() / 1e4;
            }
        }
    }
    // last: places in the list of lines hold until here
    tool.parting.retain_mut(|parting| {
        let Parting::Edges { through } = parting else { return true };
        *through = through.iter().filter_map(|p| point(*p)).collect();
        !through.is_empty()
    });
    out
}

/// How far a face went that was taken for certain.
fn moved(found: &[Match], face: u32, to: u32) -> DVec3 {
    match found.get(face as usize) {
        Some(Match::Moved { to: there, by }) if *there == to => *by,
        _ => DVec3::ZERO,
    }
}
