//! Exact geometry for other programs: the lettering as solids bounded by the seat's own kind of surface and by walls of
//! straight lines, and the part's own faces with it, as STEP. Drawn by the kernel that reads STEP, read back by it, and held
//! to the meshes that everything here is measured on.

mod faces;
mod held;
mod offset;

pub use held::{Asked, ExactRead, held};

use crate::{HandoffError, Named, files::mark_names, tool_side::at_scale};
use glam::{DAffine3, DVec3};
use relief::{BuiltMark, CharacterBody};
use solid::{Mesh, Watch};
use step::{Drawing, Drawn, Schema, What};
use toolside::Frame;
use trade::Job;
use workbench::{Bench, Outcome, Scope, Steps};

/// What a file holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// The bodies of the lettering, joined to nothing: any modeller adds or cuts them.
    Lettering,
    /// The part with them.
    MarkedSolid,
}

impl Holds {
    pub const ALL: [Self; 2] = [Self::Lettering, Self::MarkedSolid];

    /// Name of its file, of a part at its own size.
    #[must_use]
    pub fn file(self) -> &'static str {
        match self {
            Self::Lettering => "lettering.step",
            Self::MarkedSolid => "marked-solid.step",
        }
    }
}

/// How a file is written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Manner {
    pub schema: Schema,
    /// As large as it is in the steel: with the shrinkage of the job's process added, about the zero of the part.
    pub steel: bool,
    /// Of the lettering one mark's alone, by its place in the job, in the coordinates of its steel and as large.
    pub mark: Option<usize>,
}

/// A STEP file with what was found when it was read back.
pub struct Exact {
    pub file: Named,
    pub read: ExactRead,
}

/// Facets that a file may have where faces can't be drawn exactly; more would keep other programs busy for too long.
const MOST_FACETS: usize = 60_000;

/// What is drawn of a job.
struct Bodies<'a> {
    bodies: Vec<Drawn>,
    meshes: Vec<&'a Mesh>,
    /// Marks some of whose walls or ends are facets, and why.
    faceted: Vec<String>,
}

/// A job's exact geometry. `part` is the part's own STEP file, which the marked solid needs; `made` the day it is made.
///
/// # Errors
/// Nothing of it has relief, it can't be drawn, or read back it is not what was built: a sentence on which and why.
pub fn exact(
    job: &Job,
    bench: &Bench,
    holds: Holds,
    part: Option<&[u8]>,
    (made, manner): (&str, Manner),
    watch: &dyn Watch,
) -> Result<Exact, HandoffError> {
    let refused = |why: &str| HandoffError::Exact(holds.file(), why.to_owned());
    if bench.part().surface_body.is_some() {
        return Err(refused("the part is a surface body, and what lies on it is no solid"));
    }
    if holds == Holds::MarkedSolid && part.is_none() {
        return Err(refused(
            "the part came as triangles, so that its own faces are not known; lettering.step is exact",
        ));
    }
    let outcome = bench.joined(job, Scope::Whole);
    let own = |at: usize| manner.mark.is_none_or(|mark| mark == at);
    if let Some((_, problem)) =
        outcome.marks.iter().enumerate().find_map(|(at, m)| Some((at, m.problem.as_ref()?)).filter(|_| own(at)))
    {
        return Err(refused(&format!("a mark is not built: {problem}")));
    }
    let (place, scale) = match (manner.mark, manner.steel, job.process.steel_scale()) {
        (Some(mark), ..) => {
            let steel = outcome.marks.get(mark).and_then(|m| m.steel.as_ref());
            let steel = steel.ok_or_else(|| refused("no steel forms the mark: set the pull at the part"))?;
            let frame = Frame::of(job, &bench.part().mesh, steel).map_err(|e| refused(&e.to_string()))?;
            (frame.place(), Some(frame.scale))
        }
        (None, false, _) => (DAffine3::IDENTITY, None),
        (None, true, Some(scale)) => (DAffine3::from_scale(DVec3::splat(scale)), Some(scale)),
        (None, true, None) => return Err(refused("no shrinkage is set: set the material at the part")),
    };
    // the scale stands in the file's name and inside, so that nobody scales it twice
    let stem = holds.file().trim_end_matches(".step");
    let stem = match manner.mark {
        Some(mark) => format!("{stem}-{}", mark_names(job)[mark]),
        None => stem.to_owned(),
    };
    let (file, name) = match scale {
        Some(scale) => (format!("{stem}{}.step", at_scale(scale)), format!("{}, steel × {scale:.4}", job.name)),
        None => (format!("{stem}.step"), job.name.clone()),
    };
    let drawn = bodies(job, &outcome, holds, &own);
    if drawn.bodies.is_empty() {
        return Err(refused("no mark has any relief"));
    }
    let flats = drawn.bodies.iter().flat_map(|b| &b.faces).filter(|f| matches!(f, step::DrawnFace::Flat(_))).count();
    if flats > MOST_FACETS {
        return Err(refused(&format!(
            "{}; that would be {flats} facets, more than {MOST_FACETS}",
            drawn.faceted.join("; ")
        )));
    }
    let part = part.filter(|_| holds == Holds::MarkedSolid);
    let drawing = Drawing { name: &name, made, schema: manner.schema, place, bodies: &drawn.bodies, part };
    let bytes = step::draw(&drawing, watch).map_err(|e| refused(&e.to_string()))?;
    let whole = match holds {
        Holds::Lettering => None,
        Holds::MarkedSolid => outcome.whole(),
    };
    let asked = Asked { drawn: &drawn.bodies, meshes: &drawn.meshes, whole, place };
    let read = held(&bytes, &asked, drawn.faceted, watch).map_err(|why| refused(&why))?;
    Ok(Exact { file: Named { name: file, bytes }, read })
}

/// The bodies of all marks in the order in which they are joined: pads before the letters on them.
fn bodies<'a>(job: &Job, outcome: &'a Outcome, holds: Holds, wanted: &dyn Fn(usize) -> bool) -> Bodies<'a> {
    let built: Vec<(usize, &BuiltMark)> =
        outcome.marks.iter().enumerate().filter_map(|(at, m)| Some((at, m.built.as_deref()?))).collect();
    let built: Vec<_> = built.into_iter().filter(|(at, b)| wanted(*at) && b.has_relief()).collect();
    let mut all = Bodies { bodies: Vec::new(), meshes: Vec::new(), faceted: Vec::new() };
    let senses = [(What::Raised, false), (What::Cut, true)];
    for (what, sinks) in senses {
        for &(at, mark) in &built {
            let pad = mark.pad.iter().filter(|b| mark.relief(b.character).sense.sinks() == sinks);
            pad.for_each(|body| all.add(job, at, mark, body, what, holds));
        }
    }
    for (what, sinks) in senses {
        for &(at, mark) in &built {
            let own = mark.bodies.iter().filter(|b| mark.relief(b.character).sense.sinks() == sinks);
            own.for_each(|body| all.add(job, at, mark, body, what, holds));
        }
    }
    for &(at, mark) in &built {
        mark.fillings.iter().for_each(|body| all.add(job, at, mark, body, What::Apart, holds));
    }
    all
}

impl<'a> Bodies<'a> {
    fn add(&mut self, job: &Job, at: usize, mark: &'a BuiltMark, body: &'a CharacterBody, what: What, holds: Holds) {
        let id = &job.marks[at].id;
        let letter = mark.placed.characters.get(body.character as usize);
        let own = match letter {
            Some(letter) => format!("{id} {}: {}", body.character + 1, letter.text),
            None => format!("{id}: {}", mark.mark.relief.pad.map_or("pad", |p| p.form.word())),
        };
        let filling = what == What::Apart;
        let name = if filling { format!("filling of {own}") } else { own };
        let colour = mark.colours().find(|(character, _)| *character == body.character);
        let colour = colour.map(|(_, c)| c.rgb().map(|v| f32::from(v) / 255.0));
        let what = if holds == Holds::Lettering { What::Apart } else { what };
        let about =
            Drawn { name, colour, what, points: Vec::new(), seats: Vec::new(), chains: Vec::new(), faces: Vec::new() };
        let (drawn, exact) = faces::drawn(body, &mark.ground.surface, about);
        if !exact {
            let relief = mark.relief(body.character);
            let rounds = relief.edge > 0.0 || relief.root > 0.0;
            let why = match offset::offset(&mark.ground.surface, 0.0) {
                None => "its seat is no plane, cylinder, cone, sphere or torus",
                Some(_) if rounds => "its edges or inner corners are rounded",
                Some(_) => "walls of it meet between its top and its seat",
            };
            let told = format!("“{id}” is partly of facets: {why}");
            if !self.faceted.contains(&told) {
                self.faceted.push(told);
            }
        }
        self.bodies.push(drawn);
        self.meshes.push(&body.mesh);
    }
}
