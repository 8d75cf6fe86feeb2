//! What comes of a job: built, refused in words, or wrong.

use super::cases::{Case, OWN};
use super::grounds::Ground;
use inspection::{Check, State};
use rayon::prelude::*;
use relief::{BuiltMark, MarkedSolid, Role, Tag};
use solid::{Mesh, Surface, boolean::Body, soundness};
use std::collections::BTreeMap;
use trade::{Job, Mark, PartRef, Tool};
use workbench::{Scope, Steps};

/// What came of it: built, or refused in these words; `Err`: what is wrong with what was built.
fn tried(ground: &Ground, mark: &Mark) -> Result<Option<String>, String> {
    let mut job = Job {
        name: "random".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some(ground.pull.to_array()), ..Tool::default() },
        marks: vec![mark.clone()],
        own_faces: std::iter::once(&*OWN).filter(|f| f.name == mark.lettering.face).cloned().collect(),
        ..Job::default()
    };
    if let Err(e) = job.check() {
        return Ok(Some(format!("setting: {e}")));
    }
    job.hold_faces();
    let job = job.filled(None, time::macros::date!(2026 - 11 - 26));
    let mark = &job.marks[0];
    let outcome = ground.bench.outcome(&job, Scope::Whole);
    let found = &outcome.marks[0];
    if let Some(problem) = &found.problem {
        return Ok(Some(problem.clone()));
    }
    for finding in &found.findings {
        if finding.measured.is_some_and(|m| !m.is_finite()) {
            return Err(format!("{:?} is {:?}", finding.check, finding.measured));
        }
        if finding.letters.iter().any(|l| l.measured.is_some_and(|m| !m.is_finite())) {
            return Err(format!("a letter's {:?} is no number", finding.check));
        }
    }
    let whole = found.findings.iter().find(|f| f.check == Check::Complete).is_some_and(|f| f.state == State::Passes);
    let bare = &ground.bench.part().mesh;
    let Some(solid) = outcome.whole() else {
        return if mark.relief.sense.has_relief() { Err("there is no solid".into()) } else { Ok(None) };
    };
    let sound = soundness::examine(&solid.mesh);
    if let Some(fault) = sound.complaint() {
        return Err(fault);
    }
    if whole && sound.shells != 1 {
        return Err(format!("{} pieces", sound.shells));
    }
    let moved = solid.mesh.volume() - bare.volume();
    let built = found.built.as_ref().ok_or("it has neither bodies nor a problem")?;
    let wanted = added(built, bare)?;
    if (moved - wanted).abs() > 1e-3 + 0.005 * wanted.abs() {
        return Err(format!("the volume changed by {moved} mm³, its bodies one by one make {wanted}"));
    }
    if whole {
        uneven(&ground.bench.part().faces[mark.seat.face as usize].surface, built, solid)?
    }
    Ok(None)
}

/// What a mark's bodies add to the part, mm³: pad and letters joined and cut one by one.
fn added(built: &BuiltMark, bare: &Mesh) -> Result<f64, String> {
    let body = |mesh: &Mesh| Body::new(mesh, "a body").map_err(|e| e.to_string());
    let mut part = body(bare)?;
    let mut join = |one: &relief::CharacterBody| -> Result<(), String> {
        let sense = built.relief(one.character).sense;
        if !sense.has_relief() {
            return Ok(());
        }
        let one = [body(&one.mesh)?];
        let (added, cut): (&[Body], &[Body]) = if sense.sinks() { (&[], &one) } else { (&one, &[]) };
        part = part.with(added, cut).map_err(|e| e.to_string())?;
        Ok(())
    };
    built.pad.iter().try_for_each(&mut join)?;
    let (raised, sunken): (Vec<_>, Vec<_>) =
        built.bodies.iter().partition(|b| !built.relief(b.character).sense.sinks());
    raised.into_iter().chain(sunken).try_for_each(join)?;
    Ok(part.traced().mesh.volume() - bare.volume())
}

/// Do tops and floors lie as far off the face's own surface as was set? Asked of its formula, not of the strip's.
fn uneven(surface: &Surface, built: &BuiltMark, solid: &MarkedSolid) -> Result<(), String> {
    /// Caps keep 0.0008 mm, a face that was found in facets lies within a micrometre of them.
    const WITHIN: f64 = 0.004;
    let relief = built.mark.relief;
    // letters of other senses, what stands on a pad and what goes through are other heights
    let plain = relief.pad.is_none() && built.mark.letters.is_empty() && !relief.through && relief.sense.has_relief();
    if !plain || built.mark.seat.faces().len() > 1 {
        return Ok(());
    }
    for (t, tag) in solid.tags.iter().enumerate() {
        if !matches!(tag, Tag::Relief { role: Role::Top | Role::Floor, .. }) {
            continue;
        }
        let Some(height) = surface.height(solid.mesh.centroid(t)) else { return Ok(()) };
        if (height.abs() - relief.height).abs() > WITHIN {
            return Err(format!("a facet lies {height} mm off the surface where {} was set", relief.height));
        }
    }
    Ok(())
}

fn kind(refusal: &str) -> String {
    // without what differs from job to job
    let words: String = refusal.chars().filter(|c| !c.is_ascii_digit() && *c != '.').collect();
    words.split('”').next_back().unwrap_or_default().chars().take(60).collect()
}

pub(super) fn try_all(cases: &[Case], grounds: &[Ground]) -> BTreeMap<String, usize> {
    let outcomes: Vec<(usize, Result<Option<String>, String>)> = cases
        .par_iter()
        .enumerate()
        .map(|(at, case)| {
            let ground = grounds.iter().find(|g| g.name == case.part).unwrap();
            (at, tried(ground, &case.mark))
        })
        .collect();
    let mut refused = BTreeMap::new();
    let mut wrong = Vec::new();
    for (at, outcome) in outcomes {
        match outcome {
            Ok(None) => {}
            Ok(Some(refusal)) => *refused.entry(kind(&refusal)).or_insert(0) += 1,
            Err(why) => wrong.push(format!("{why}\n  {}", serde_json::to_string(&cases[at]).unwrap())),
        }
    }
    assert!(wrong.is_empty(), "{} of {} went wrong:\n{}", wrong.len(), cases.len(), wrong.join("\n"));
    refused
}
