//! Groups of marks inspected, with what stands round them.

use crate::{
    key::{key, settings_of},
    outcome::{Group, Members},
    steps::Steps,
};
use glam::DVec3;
use inspection::{Beyond, Finding, KeepOutSite, NEAR, OtherMark, Scene, Site, Surroundings, inspect};
use rayon::prelude::*;
use relief::BuiltMark;
use solid::segment::Segment;
use std::sync::Arc;
use trade::{Job, limits::Sheet};

/// A mark with its place in the job.
type Member = (u32, Arc<BuiltMark>);

/// What is asked: the marks of a group among all that were built.
pub struct Asked<'a> {
    pub(crate) job: &'a Job,
    pub(crate) group: &'a Group,
    sheet: Sheet,
    members: Members,
    /// Those near one of the group's, its own among them.
    near: Vec<&'a Member>,
    /// Those behind one of the group's: they change the wall that is under both.
    opposite: Vec<&'a Member>,
}

impl<'a> Asked<'a> {
    pub(crate) fn new(job: &'a Job, group: &'a Group, present: &'a Members) -> Self {
        let members: Members = present.iter().filter(|(at, _)| group.marks.contains(at)).cloned().collect();
        let (near, opposite) = (near(&members, present), opposite(&members, present));
        Self { job, group, sheet: job.sheet(), members, near, opposite }
    }

    /// Everything that findings depend on.
    pub(crate) fn key(&self) -> String {
        let settings = |of: &[&Member]| -> Vec<String> {
            of.iter().map(|(at, b)| key(&(at, settings_of(&b.mark), b.pull))).collect()
        };
        let tool = &self.job.tool;
        key(&(
            &self.group.key,
            (settings(&self.near), settings(&self.opposite)),
            (&tool.pull, &tool.slides, &tool.parting, &tool.keep_outs),
            &self.sheet,
            self.job.reading_distance,
        ))
    }
}

/// Findings of the marks of a group, in its order.
pub(crate) fn findings(steps: &impl Steps, asked: &Asked<'_>) -> Vec<Vec<Finding>> {
    let Asked { job, group, sheet, members, near, opposite } = asked;
    let parting: Vec<Segment> = steps.parting(&job.tool).iter().flat_map(|l| l.segments.iter().copied()).collect();
    let keep_outs = keep_outs(steps, job, sheet);
    let other = |(at, b): &&Member| OtherMark {
        mark: *at,
        name: b.mark.id.clone(),
        root: b.footprint(),
        area: (!b.kept_free().is_empty()).then(|| b.clone()),
    };
    let others: Vec<OtherMark> = near.iter().map(other).collect();
    let behind: Vec<&BuiltMark> = opposite.iter().map(|(_, b)| &**b).collect();
    let beyond = group.block.map(|b| Beyond { part: steps.queries(), low: b.low, high: b.high, marks: &behind });
    let around = Surroundings {
        parting: &parting,
        keep_outs: &keep_outs,
        others: &others,
        sheet,
        reading_distance: job.reading_distance,
    };
    let scene = Scene::new(&group.solid, beyond, &around);
    members.par_iter().map(|(at, built)| inspect(&Site::new(&scene, *at, built))).collect()
}

fn keep_outs(steps: &impl Steps, job: &Job, sheet: &Sheet) -> Vec<KeepOutSite> {
    let site = |k: &trade::KeepOut| {
        let mut limit = sheet.limit(k.kind.subject());
        if let Some(margin) = k.margin {
            limit.value = margin;
            limit.source = "set for this keep-out".into();
        }
        KeepOutSite { name: k.name.clone(), kind: k.kind, limit, region: steps.region(&k.area) }
    };
    job.tool.keep_outs.iter().map(site).collect()
}

/// The marks that are near one of a group's, its own among them.
fn near<'a>(members: &[Member], present: &'a [Member]) -> Vec<&'a Member> {
    let close = |a: &BuiltMark, b: &BuiltMark| {
        let ((al, ah), (bl, bh)) = (a.bounds(), b.bounds());
        (al - bh).max(bl - ah).max(DVec3::ZERO).length() < NEAR
    };
    present.iter().filter(|(_, other)| members.iter().any(|(_, m)| close(m, other))).collect()
}

/// Marks that stand behind one of a group's, where the other side of the part looks the other way.
fn opposite<'a>(members: &[Member], present: &'a [Member]) -> Vec<&'a Member> {
    let stands = |b: &BuiltMark| {
        let (low, high) = b.bounds();
        ((low + high) / 2.0, (high - low).length() / 2.0, b.seat.chart.normal(b.placed.middle))
    };
    let behind = |a: &BuiltMark, b: &BuiltMark| {
        let ((at, radius, out), (there, other, looks)) = (stands(a), stands(b));
        out.dot(looks) < 0.5 && (there - at).reject_from(out).length() < radius + other
    };
    present
        .iter()
        .filter(|(at, b)| b.has_relief() && members.iter().all(|(own, _)| own != at))
        .filter(|(_, b)| members.iter().any(|(_, own)| behind(own, b)))
        .collect()
}
