//! The handoff's files by name.

use crate::{error::HandoffError, findings::findings, named::Named};
use crate::{glb, page, threemf, tool_plate};
use relief::{
    BuiltMark,
    marked::{beside, filled, patches},
};
use solid::{Mesh, formats::stl};
use trade::{Figure, Job, Sense};
use workbench::{Bench, Outcome, Scope, Steps};

/// Everything that is handed off, measured on the whole marked solid. `made` is the day it is made,
/// as it is to be printed.
///
/// # Errors
/// Not one mark could be built, or a file could not be written.
pub fn files(job: &Job, bench: &Bench, made: &str) -> Result<Vec<Named>, HandoffError> {
    Ok(chosen(job, bench, made, &|_| true)?.0)
}

/// Of the files that are handed off those whose names are wanted, with what they were made from.
///
/// # Errors
/// As [`files`].
pub fn chosen(
    job: &Job,
    bench: &Bench,
    made: &str,
    wanted: &dyn Fn(&str) -> bool,
) -> Result<(Vec<Named>, Outcome), HandoffError> {
    let outcome = bench.outcome(job, Scope::Whole);
    let bare;
    let solid = match outcome.whole() {
        Some(solid) => solid,
        None => {
            if outcome.groups.is_empty()
                && let Some(problem) = outcome.marks.iter().find_map(|m| m.problem.clone())
            {
                return Err(HandoffError::NothingBuilt(problem));
            }
            bare = bench.work().rest(&outcome).ok_or_else(|| {
                HandoffError::NothingBuilt(
                    bench.part().markable().err().unwrap_or_else(|| "the part is not a solid".into()),
                )
            })?;
            &bare
        }
    };
    let surface_body = bench.part().surface_body.is_some();
    // the same job gives the same files, whatever was built before
    let solid = &solid.in_order();
    let marks = outcome.marks.iter().enumerate();
    let apart: Vec<_> = marks
        .filter_map(|(at, m)| Some((at as u32, m.built.as_deref()?)))
        .filter(|(_, b)| surface_body || !b.has_relief())
        .collect();
    let names: Vec<String> = job.marks.iter().map(|m| format!("{} {}", m.id, m.text.replace('\n', " / "))).collect();
    let built = outcome.marks.iter().enumerate().filter_map(|(at, m)| Some((at as u32, m.built.as_deref()?)));
    let colours = built
        .clone()
        .flat_map(|(at, b)| b.colours().map(move |(character, colour)| ((at, character), colour.clone())))
        .collect();
    let findings = findings(job, &outcome);
    let measured_on = if surface_body { "the finished lettering bodies" } else { "the finished solid" };
    let mut files = Vec::new();
    let mut put = |name: &str, make: &dyn Fn() -> Result<Vec<u8>, HandoffError>| {
        if wanted(name) {
            files.push(Named { name: name.into(), bytes: make()? });
        }
        Ok(())
    };
    let inlaid: Vec<(u32, &relief::BuiltMark)> = outcome
        .marks
        .iter()
        .enumerate()
        .filter_map(|(at, m)| Some((at as u32, m.built.as_deref()?)))
        .filter(|(_, b)| !b.fillings.is_empty())
        .collect();
    let shown = || {
        let whole = filled(solid, &inlaid);
        let looked_at = beside(whole.as_ref().unwrap_or(solid), &apart);
        Ok(glb::marked(&job.name, &looked_at, bench.part(), &names, &colours))
    };
    if surface_body {
        // lettering on a surface body makes no solid of it
        put("marked-surface-body.glb", &shown)?;
    } else {
        put("marked-solid.stl", &|| Ok(stl::write(&solid.mesh)))?;
        put("marked-solid.3mf", &|| threemf::marked(&job.name, solid, &names, &inlaid, &colours))?;
        put("marked-solid.glb", &shown)?;
    }
    put("findings.json", &|| {
        Ok(serde_json::to_vec_pretty(&findings).expect("findings hold finite numbers and string keys"))
    })?;
    put("findings.html", &|| Ok(page::page(&findings, made, measured_on).into_bytes()))?;
    if let Some(drawn) = tool_plate::svg(job, &bench.part().mesh) {
        put("tool-plate.svg", &|| Ok(drawn.clone()))?;
    }
    let mut bodies: Vec<(String, Mesh)> = Vec::new();
    for (at, built) in built {
        let mark = &built.mark;
        let name = &names[at as usize];
        let what = match mark.relief.sense {
            Sense::Raised | Sense::Sunken => "lettering",
            Sense::Inlay => "pocket",
            Sense::Surface => "surface",
            Sense::Stamp => "stamp-area",
        };
        let core = match &mark.figure {
            Some(Figure::Dial(dial)) if dial.core_apart && !job.letters_apart && mark.relief.sense.has_relief() => {
                Some(united(built, Some(true))?)
            }
            _ => None,
        };
        let mesh = match mark.relief.sense {
            Sense::Surface | Sense::Stamp => patches(&built.bodies),
            _ if job.letters_apart => threemf::mesh(&built.bodies),
            _ => united(built, core.as_ref().map(|_| false))?,
        };
        if mark.relief.sense.has_relief() {
            if job.letters_apart {
                // a letter may be of several pieces
                for (at, letter) in built.placed.characters.iter().enumerate() {
                    let own: Vec<_> = built.bodies.iter().filter(|b| b.character == at as u32).cloned().collect();
                    bodies.push((format!("{name}, {}: {}", at + 1, letter.text), threemf::mesh(&own)));
                }
            } else {
                bodies.push((name.clone(), mesh.clone()));
                bodies.extend(core.iter().map(|core| (format!("core of {name}"), core.clone())));
            }
        }
        let mut put = |what: &str, mesh: &Mesh| {
            let name = format!("{what}-{}.stl", safe(&mark.id));
            if wanted(&name) {
                files.push(Named { name, bytes: stl::write(mesh) });
            }
        };
        put(what, &mesh);
        if let Some(core) = &core {
            put("core", core);
        }
        if let (Some(pad), Some(body)) = (&mark.relief.pad, &built.pad) {
            put(&pad.form.word().replace(' ', "-"), &body.mesh);
            bodies.push((format!("{} of {name}", pad.form.word()), body.mesh.clone()));
        }
        if !built.fillings.is_empty() {
            put("filling", &threemf::mesh(&built.fillings));
        }
        if !built.free.is_empty() {
            put("kept-free", &patches(&built.free));
        }
    }
    if !bodies.is_empty() && wanted("lettering.3mf") {
        files.push(Named { name: "lettering.3mf".into(), bytes: threemf::lettering(&job.name, &bodies)? });
    }
    Ok((files, outcome))
}

/// The letters of a mark joined to one body; of a dial's core alone, or of all but it, where that is required.
fn united(built: &BuiltMark, core: Option<bool>) -> Result<Mesh, HandoffError> {
    built.united(core).map_err(|_| HandoffError::Join(built.mark.id.clone()))
}

/// A mark's id as a piece of a file name.
fn safe(id: &str) -> String {
    id.chars().map(|c| if c.is_ascii_alphanumeric() || c == '-' { c } else { '_' }).collect()
}
