//! A newer revision of the part under a job: what of the job finds its place on it again.

use crate::bench::{Bench, unit_pull};
use glam::DVec3;
use serde::Serialize;
use solid::{
    Surface,
    matching::{Match, matching},
};
use std::collections::BTreeMap;
use trade::{Area, Job, PartRef, Parting, SeatRef, Tie};

/// A parting plane this near to a flat face lies on it and moves with it, mm.
const ON_FACE: f64 = 0.01;

/// What a face of the old part is used for.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
pub enum Use {
    /// The seat of a mark, by its id.
    Mark(String),
    KeepOut(String),
    /// Given to a steel, by its place in the list.
    Given(usize),
    Name(String),
    /// The flat face that a parting plane lies on, by the line's place in the list.
    Parting(usize),
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
        used(mark.seat.face, Use::Mark(mark.id.clone()));
    }
    for keep_out in &job.tool.keep_outs {
        for face in faces(&keep_out.area) {
            used(*face, Use::KeepOut(keep_out.name.clone()));
        }
    }
    for (at, given) in job.tool.given.iter().enumerate() {
        for face in faces(&given.area) {
            used(*face, Use::Given(at));
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

fn faces(area: &Area) -> &[u32] {
    match area {
        Area::Faces { faces } => faces,
        _ => &[],
    }
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
/// the faces that are.
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
    let mut out = job.clone();
    out.part = part;
    let pull = unit_pull(&job.tool);
    out.marks = job
        .marks
        .iter()
        .filter_map(|mark| {
            let face = to(mark.seat.face)?;
            let mut mark = mark.clone();
            // a place that was put down by hand stays where it was on the part; ties find their edges anew
            if let (Ok(was), Ok(is)) = (old.seat(mark.seat.face, pull), new.seat(face, pull))
                && let Ok(placed) = relief::place::place(&mark, &was)
            {
                let by = moved(&found, mark.seat.face, face);
                let (at, _) = is.chart.strip(was.chart.point(placed.middle, 0.0) + by);
                let round = |v: f64| (v * 100.0).round() / 100.0;
                if matches!(mark.place.along, Tie::At { .. }) {
                    mark.place.along = Tie::At { position: round(at.x) };
                }
                if matches!(mark.place.up, Tie::At { .. }) {
                    mark.place.up = Tie::At { position: round(at.y) };
                }
            }
            mark.seat = SeatRef { face };
            Some(mark)
        })
        .collect();
    let area = |area: &Area| -> Option<Area> {
        let Area::Faces { faces } = area else {
            return Some(area.clone());
        };
        let faces: Vec<u32> = faces.iter().filter_map(|f| to(*f)).collect();
        (!faces.is_empty()).then_some(Area::Faces { faces })
    };
    let tool = &mut out.tool;
    tool.keep_outs.retain_mut(|k| area(&k.area).map(|a| k.area = a).is_some());
    tool.given.retain_mut(|g| area(&g.area).map(|a| g.area = a).is_some());
    out.face_names.retain_mut(|n| to(n.face).map(|face| n.face = face).is_some());
    if let Some(pull) = pull {
        for (at, face) in planes_on_faces(job, old) {
            let there = to(face).and_then(|f| height_of(&new.part().faces[f as usize].surface, pull));
            if let (Some(there), Parting::Plane { height }) = (there, &mut tool.parting[at]) {
                *height = (there * 1e4).round() / 1e4;
            }
        }
    }
    out
}

/// How far a face went that was taken for certain.
fn moved(found: &[Match], face: u32, to: u32) -> DVec3 {
    match found.get(face as usize) {
        Some(Match::Moved { to: there, by }) if *there == to => *by,
        _ => DVec3::ZERO,
    }
}
