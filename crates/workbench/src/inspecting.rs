//! Groups of marks inspected, with what stands round them.

use crate::{
    asked::{Asked, Member},
    steps::Steps,
};
use inspection::{Beyond, Finding, KeepOutSite, OtherMark, Scene, Site, Surroundings, inspect};
use rayon::prelude::*;
use relief::BuiltMark;
use solid::segment::Segment;
use trade::{Job, limits::LimitSet};

/// Findings of the marks of a group, in its order.
pub(crate) fn findings(steps: &impl Steps, asked: &Asked<'_>) -> Vec<Vec<Finding>> {
    let Asked { job, group, limits, members, near, opposite } = asked;
    let parting: Vec<Segment> = steps.parting(&job.tool).iter().flat_map(|l| l.segments.iter().copied()).collect();
    let keep_outs = keep_outs(steps, job, limits);
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
        limits,
        reading_distance: job.reading_distance,
    };
    let scene = Scene::new(&group.solid, beyond, &around);
    members.par_iter().map(|(at, built)| inspect(&Site::new(&scene, *at, built))).collect()
}

fn keep_outs(steps: &impl Steps, job: &Job, limits: &LimitSet) -> Vec<KeepOutSite> {
    let site = |k: &trade::KeepOut| {
        let mut limit = limits.limit(k.kind.subject());
        if let Some(margin) = k.margin {
            limit.value = margin;
            limit.source = "set for this keep-out".into();
        }
        KeepOutSite { name: k.name.clone(), kind: k.kind, limit, region: steps.region(&k.area) }
    };
    job.tool.keep_outs.iter().map(site).collect()
}
