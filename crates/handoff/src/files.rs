//! The handoff's files by name.

use crate::{
    error::HandoffError,
    findings::{Checked, findings},
    finished::finished,
    named::Named,
    palette::Tones,
    read_back::read_back,
};
use crate::{glb, page, threemf, tool_plate};
use relief::{
    BuiltMark,
    marked::{beside, filled, patches},
};
use solid::{Mesh, formats::stl};
use std::collections::HashSet;
use trade::{Figure, Job, Sense, limits::State};
use workbench::{Bench, Outcome, Scope, Steps};

/// What is handed off, and what was found on it.
pub struct Handed {
    pub files: Vec<Named>,
    pub outcome: Outcome,
    pub checked: Checked,
}

impl Handed {
    /// The worst state of all marks, of the finished solid and of its files.
    #[must_use]
    pub fn state(&self) -> State {
        self.outcome.state().max(self.checked.state())
    }
}

/// Everything that is handed off, measured on the whole marked solid. `made` is the day it is made,
/// as it is to be printed.
///
/// # Errors
/// Not one mark could be built, or a file could not be written.
pub fn files(job: &Job, bench: &Bench, made: &str) -> Result<Handed, HandoffError> {
    chosen(job, bench, made, &|_| true)
}

/// The files to be, each read back once it is written.
struct Writer<'a> {
    wanted: &'a dyn Fn(&str) -> bool,
    files: Vec<Named>,
    checked: Checked,
}

impl Writer<'_> {
    /// A file made from these meshes.
    fn put(
        &mut self,
        name: &str,
        made: &[&Mesh],
        make: impl FnOnce() -> Result<Vec<u8>, HandoffError>,
    ) -> Result<(), HandoffError> {
        if (self.wanted)(name) {
            let bytes = make()?;
            self.checked.files.push(read_back(name, &bytes, made));
            self.files.push(Named { name: name.into(), bytes });
        }
        Ok(())
    }
}

/// Of the files that are handed off those whose names are wanted.
///
/// # Errors
/// As [`files`].
pub fn chosen(job: &Job, bench: &Bench, made: &str, wanted: &dyn Fn(&str) -> bool) -> Result<Handed, HandoffError> {
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
    let file_names = mark_names(job);
    let built = outcome.marks.iter().enumerate().filter_map(|(at, m)| Some((at as u32, m.built.as_deref()?)));
    let tones = Tones::of(job, built.clone());
    let measured_on = if surface_body { "the finished lettering bodies" } else { "the finished solid" };
    let solid_found = (!surface_body).then(|| {
        let built = outcome.marks.iter().filter_map(|m| m.built.as_deref());
        finished(solid, &bench.part().mesh, built)
    });
    let checked = Checked { solid: solid_found, files: Vec::new() };
    let mut to_be = Writer { wanted, files: Vec::new(), checked };
    let inlaid: Vec<(u32, &relief::BuiltMark)> = outcome
        .marks
        .iter()
        .enumerate()
        .filter_map(|(at, m)| Some((at as u32, m.built.as_deref()?)))
        .filter(|(_, b)| !b.fillings.is_empty())
        .collect();
    let shown = |to_be: &mut Writer<'_>, name: &str| {
        if !wanted(name) {
            return Ok(());
        }
        let whole = filled(solid, &inlaid);
        let looked_at = beside(whole.as_ref().unwrap_or(solid), &apart);
        let make = || Ok(glb::marked(&job.name, &looked_at, bench.part(), &tones, job.letters_apart));
        to_be.put(name, &[&looked_at.mesh], make)
    };
    if surface_body {
        // lettering on a surface body makes no solid of it
        shown(&mut to_be, "marked-surface-body.glb")?;
    } else {
        to_be.put("marked-solid.stl", &[&solid.mesh], || Ok(stl::write(&solid.mesh)))?;
        let fillings = inlaid.iter().flat_map(|(_, built)| &built.fillings).map(|body| &body.mesh);
        let made: Vec<&Mesh> = std::iter::once(&solid.mesh).chain(fillings).collect();
        to_be.put("marked-solid.3mf", &made, || threemf::marked(&job.name, solid, &inlaid, &tones))?;
        shown(&mut to_be, "marked-solid.glb")?;
    }
    // the findings say what came of the files that stand after them as well
    let findings_at = to_be.files.len();
    let mut bodies: Vec<(String, Mesh)> = Vec::new();
    for (at, built) in built {
        let mark = &built.mark;
        let name = &tones.names[at as usize];
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
            to_be.put(&format!("{what}-{}.stl", file_names[at as usize]), &[mesh], || Ok(stl::write(mesh)))
        };
        put(what, &mesh)?;
        if let Some(core) = &core {
            put("core", core)?;
        }
        if let (Some(pad), Some(body)) = (&mark.relief.pad, &built.pad) {
            put(&pad.form.word().replace(' ', "-"), &body.mesh)?;
            bodies.push((format!("{} of {name}", pad.form.word()), body.mesh.clone()));
        }
        if !built.fillings.is_empty() {
            put("filling", &threemf::mesh(&built.fillings))?;
        }
        if !built.free.is_empty() {
            put("kept-free", &patches(&built.free))?;
        }
    }
    if !bodies.is_empty() {
        let made: Vec<&Mesh> = bodies.iter().map(|(_, mesh)| mesh).collect();
        to_be.put("lettering.3mf", &made, || threemf::lettering(&job.name, &bodies))?;
    }
    let Writer { mut files, checked, .. } = to_be;
    let findings = findings(job, &outcome, &checked);
    let json = serde_json::to_vec_pretty(&findings).expect("findings hold finite numbers and string keys");
    let mut written = vec![
        Named { name: "findings.json".into(), bytes: json },
        Named { name: "findings.html".into(), bytes: page::page(&findings, made, measured_on).into_bytes() },
    ];
    let plate = tool_plate::svg(job, &bench.part().mesh);
    written.extend(plate.map(|bytes| Named { name: "tool-plate.svg".into(), bytes }));
    written.retain(|file| wanted(&file.name));
    files.splice(findings_at..findings_at, written);
    Ok(Handed { files, outcome, checked })
}

/// The letters of a mark joined to one body; of a dial's core alone, or of all but it, where that is required.
fn united(built: &BuiltMark, core: Option<bool>) -> Result<Mesh, HandoffError> {
    built.united(core).map_err(|_| HandoffError::Join(built.mark.id.clone()))
}

/// The job's marks as pieces of file names, in order.
pub(crate) fn mark_names(job: &Job) -> Vec<String> {
    safe(job.marks.iter().map(|m| m.id.as_str()))
}

/// The marks' ids as pieces of file names, in order. No two are alike, in capitals or small letters: where the signs that file
/// systems don't take were all that told them apart, a number does.
fn safe<'a>(ids: impl Iterator<Item = &'a str>) -> Vec<String> {
    let mut taken = HashSet::new();
    let safe = |id: &str| -> String {
        let plain: String = id.chars().map(|c| if c.is_ascii_alphanumeric() || c == '-' { c } else { '_' }).collect();
        let numbered = (2..).map(|n| format!("{plain}-{n}"));
        let mut names = std::iter::once(plain.clone()).chain(numbered);
        names.find(|name| taken.insert(name.to_lowercase())).unwrap_or(plain)
    };
    ids.map(safe).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ids_that_differ_give_file_names_that_differ() {
        let named = |ids: &[&str]| safe(ids.iter().copied());
        assert_eq!(
            named(&["mark-1", "part no", "part_no", "Part.No"]),
            ["mark-1", "part_no", "part_no-2", "Part_No-3"]
        );
        assert_eq!(named(&["a b", "a b-2", "a_b"]), ["a_b", "a_b-2", "a_b-3"]);
        assert_eq!(named(&["é", "è"]), ["_", "_-2"]);
    }
}
