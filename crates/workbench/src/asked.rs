//! What an inspection is asked: a group of marks, and the marks that stand round them.

use crate::{
    key::{key, settings_of},
    outcome::{Group, Members},
};
use glam::DVec3;
use inspection::NEAR;
use relief::BuiltMark;
use std::sync::Arc;
use trade::{
    Job,
    limits::{LimitSet, Subject},
};

/// A mark with its place in the job.
pub(crate) type Member = (u32, Arc<BuiltMark>);

/// What is asked: the marks of a group among all that were built.
pub struct Asked<'a> {
    pub(crate) job: &'a Job,
    pub(crate) group: &'a Group,
    pub(crate) limits: LimitSet,
    pub(crate) members: Members,
    /// Those near one of the group's, its own among them.
    pub(crate) near: Vec<&'a Member>,
    /// Those behind one of the group's: they change the wall that is under both.
    pub(crate) opposite: Vec<&'a Member>,
}

impl<'a> Asked<'a> {
    pub(crate) fn new(job: &'a Job, group: &'a Group, present: &'a Members) -> Self {
        let members: Members = present.iter().filter(|(at, _)| group.marks.contains(at)).cloned().collect();
        let limits = job.limit_set();
        let (near, opposite) = (near(&members, present, &limits), opposite(&members, present));
        Self { job, group, limits, members, near, opposite }
    }

    /// Everything that findings depend on.
    pub(crate) fn key(&self) -> String {
        self.key_with(&self.opposite)
    }

    /// Everything that findings depend on which look no farther than the block.
    pub(crate) fn key_nearby(&self) -> String {
        self.key_with(&[])
    }

    fn key_with(&self, opposite: &[&Member]) -> String {
        let settings = |of: &[&Member]| -> Vec<String> {
            of.iter().map(|(at, b)| key(&(at, settings_of(&b.mark), b.pull))).collect()
        };
        let tool = &self.job.tool;
        key(&(
            &self.group.key,
            (settings(&self.near), settings(opposite)),
            (&tool.pull, &tool.slides, &tool.parting, &tool.keep_outs),
            &self.limits,
            self.job.reading_distance,
        ))
    }
}

/// The marks that are near one of a group's, its own among them.
fn near<'a>(members: &[Member], present: &'a [Member], limits: &LimitSet) -> Vec<&'a Member> {
    let clearance = limits.limit(Subject::Clearance);
    let close = |a: &BuiltMark, b: &BuiltMark| {
        let reach = NEAR.max((clearance.value + clearance.margin) * a.placed.cap_height);
        let ((al, ah), (bl, bh)) = (a.bounds(), b.bounds());
        (al - bh).max(bl - ah).max(DVec3::ZERO).length() < reach
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
