//! Groups of marks inspected, with what stands round them.

use crate::{
    asked::{Asked, Member},
    forming,
    steps::Steps,
};
use inspection::{
    Beyond, Finding, Forms, KeepOutSite, OtherMark, Scene, Site, Surroundings, inspect, inspect_for, looks_far,
};
use rayon::prelude::*;
use relief::BuiltMark;
use trade::{Job, limits::LimitSet};

/// Findings of the marks of a group, in its order.
pub(crate) fn findings(steps: &impl Steps, asked: &Asked<'_>) -> Vec<Vec<Finding>> {
    in_scene(steps, asked, |scene, members| {
        members.par_iter().map(|(at, built)| inspect(&Site::new(scene, *at, built))).collect()
    })
}

/// The same where `before` are findings of the group with other marks behind it.
pub(crate) fn far(steps: &impl Steps, asked: &Asked<'_>, before: &[Vec<Finding>]) -> Vec<Vec<Finding>> {
    in_scene(steps, asked, |scene, members| {
        let again = |((at, built), before): (&Member, &Vec<Finding>)| {
            let site = Site::new(scene, *at, built);
            let look = |f: &Finding| if looks_far(f.check) { inspect_for(&site, f.check) } else { f.clone() };
            before.iter().map(look).collect()
        };
        members.par_iter().zip(before).map(again).collect()
    })
}

/// Looks at one mark of a group, by its place in the job.
pub(crate) fn on_site<T>(
    steps: &impl Steps,
    asked: &Asked<'_>,
    of: u32,
    look: impl FnOnce(&Site<'_>) -> T,
) -> Option<T> {
    in_scene(steps, asked, |scene, members| {
        let (at, built) = members.iter().find(|(at, _)| *at == of)?;
        Some(look(&Site::new(scene, *at, built)))
    })
}

fn in_scene<T>(steps: &impl Steps, asked: &Asked<'_>, look: impl FnOnce(&Scene<'_>, &[Member]) -> T) -> T {
    let Asked { job, group, limits, members, near, opposite } = asked;
    let parting = steps.parting(&job.tool);
    let keep_outs = keep_outs(steps, job, limits);
    let others: Vec<OtherMark> = near.iter().map(|(at, b): &&Member| OtherMark::new(*at, b.clone())).collect();
    let behind: Vec<&BuiltMark> = opposite.iter().map(|(_, b)| &**b).collect();
    let beyond = group.block.map(|b| Beyond { part: steps.queries(), low: b.low, high: b.high, marks: &behind });
    let by = forming::by(steps, &job.tool);
    let forms = Forms { steels: forming::named(&job.tool), by: &*by };
    let around = Surroundings {
        bare: steps.queries(),
        face_of: &steps.part().face_of,
        parting: &parting,
        forms: &forms,
        keep_outs: &keep_outs,
        others: &others,
        limits,
        reading_distance: job.reading_distance,
    };
    let scene = Scene::new(&group.solid, beyond, &around);
    look(&scene, members)
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
