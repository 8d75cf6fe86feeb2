//! What the toolmaker makes in the steel, as files: each mark in the coordinates of its piece of the tool and at the steel's
//! size. Every file says in its name how much larger it is than the part, so that nobody scales it twice.

use crate::{
    HandoffError, Named, cutters,
    files::mark_names,
    read_back::{FileRead, read_back},
    strip::{LEFT, Side, Strip, StripLayer, dxf, svg},
    threemf,
};
use flat::Region;
use relief::{BuiltMark, MarkedSolid};
use sha2::{Digest, Sha256};
use solid::{Mesh, formats::stl};
use toolside::{Electrode, Engraved, Form, Frame, Insert, SteelError, electrode, engraved, insert, left, one_pass};
use trade::{ColumnKind, InSteel, Job, Lettering, Mark, MeasuredAt, Steel, recipe::PieceOf};
use workbench::{Bench, Outcome, Scope, Steps};

/// How much larger a file is, as it stands in its name.
pub(crate) fn at_scale(scale: f64) -> String {
    format!("-steel-x{scale:.4}")
}

/// The tool's side of a job.
pub struct ToolSide {
    /// The steel's size by the part's.
    pub scale: f64,
    pub marks: Vec<MarkInSteel>,
    /// With `contents.csv`, which lists the others with their hashes.
    pub files: Vec<Named>,
    /// Those that are meshes, read again.
    pub read: Vec<FileRead>,
}

/// A mark that leaves something in the steel.
#[derive(Clone, Debug, PartialEq)]
pub struct MarkInSteel {
    pub mark: String,
    /// The piece of the tool that forms it, as it is called.
    pub steel: Option<String>,
    /// Names of its files.
    pub files: Vec<String>,
    /// Sentences on what they hold, and on what could not be made.
    pub says: Vec<String>,
    pub refused: Vec<String>,
    /// What each of the job's cutters leaves of it, in their order.
    pub cutters: Vec<LeftBy>,
}

/// What a cutter leaves of a mark.
#[derive(Clone, Debug, PartialEq)]
pub struct LeftBy {
    pub cutter: String,
    /// It cuts the mark all the way and leaves nothing.
    pub clear: bool,
    pub says: String,
    /// The file that draws it.
    pub drawn: Option<String>,
    /// Lettering that it would cut in one pass.
    pub one_pass: Option<Lettering>,
}

/// Everything of the tool's side.
///
/// # Errors
/// No shrinkage or no pull is set, no mark leaves anything in the steel, or a file can't be written.
pub fn tool_side(job: &Job, bench: &Bench) -> Result<ToolSide, HandoffError> {
    let whole = job.marks.iter().any(|m| m.on && matches!(m.in_steel, InSteel::Insert { .. }));
    tool_side_of(job, bench, &bench.joined(job, if whole { Scope::Whole } else { Scope::NearMarks }))
}

/// The same of what is built already; inserts need the whole solid.
///
/// # Errors
/// As [`tool_side`].
pub fn tool_side_of(job: &Job, bench: &Bench, outcome: &Outcome) -> Result<ToolSide, HandoffError> {
    if bench.part().surface_body.is_some() {
        return Err(HandoffError::ToolSide("the part is a surface body, which no steel forms".into()));
    }
    // the zero and the scale must be known before anything else is worth a look
    let scale = Frame::of(job, &bench.part().mesh, &Steel::Fixed).map_err(wrong)?.scale;
    let mut all = Files { job, bench, outcome, scale, listed: Vec::new(), read: Vec::new(), bodies: Vec::new() };
    let names = mark_names(job);
    let mut marks = Vec::new();
    for (at, found) in outcome.marks.iter().enumerate().filter(|(_, m)| m.on) {
        let mut told = MarkInSteel {
            mark: found.id.clone(),
            steel: found.steel.as_ref().map(Steel::name),
            files: Vec::new(),
            says: Vec::new(),
            refused: Vec::new(),
            cutters: Vec::new(),
        };
        match (&found.built, &found.steel, &found.problem) {
            (Some(built), Some(steel), _) if built.has_relief() => all.mark(at, &names[at], built, steel, &mut told)?,
            (Some(built), None, _) if built.has_relief() => told.refused.push("no steel forms it".into()),
            (None, _, Some(why)) => told.refused.push(format!("it is not built: {why}")),
            _ => continue,
        }
        marks.push(told);
    }
    if all.listed.is_empty() {
        let why = marks.iter().find_map(|m| m.refused.first().cloned());
        return Err(HandoffError::ToolSide(why.unwrap_or_else(|| "no mark has any relief".into())));
    }
    let name = format!("tool-side{}.3mf", at_scale(scale));
    let meshes: Vec<&Mesh> = all.bodies.iter().map(|(_, mesh)| mesh).collect();
    let bytes = threemf::lettering(&format!("{}, steel × {scale:.4}", job.name), &all.bodies)?;
    all.read.push(read_back(&name, &bytes, &meshes));
    let about = About {
        what: "all of them as named objects, each in the coordinates of its own piece of the tool",
        ..About::default()
    };
    all.listed.push((Named { name, bytes }, about));
    let contents = Named { name: "contents.csv".into(), bytes: all.contents()? };
    let files = std::iter::once(contents).chain(all.listed.into_iter().map(|(file, _)| file)).collect();
    Ok(ToolSide { scale, marks, files, read: all.read })
}

fn wrong(e: SteelError) -> HandoffError {
    HandoffError::ToolSide(e.to_string())
}

/// What a file is, for the contents.
#[derive(Clone, Default)]
struct About {
    mark: String,
    text: String,
    what: &'static str,
    steel: String,
    frame: Option<Frame>,
}

/// Files as they are made.
struct Files<'a> {
    job: &'a Job,
    bench: &'a Bench,
    outcome: &'a Outcome,
    scale: f64,
    listed: Vec<(Named, About)>,
    read: Vec<FileRead>,
    /// For the one file that holds all.
    bodies: Vec<(String, Mesh)>,
}

impl Files<'_> {
    fn mark(
        &mut self,
        at: usize,
        name: &str,
        built: &BuiltMark,
        steel: &Steel,
        told: &mut MarkInSteel,
    ) -> Result<(), HandoffError> {
        let frame = Frame::of(self.job, &self.bench.part().mesh, steel).map_err(wrong)?;
        let mark = &self.job.marks[at];
        let about = About {
            mark: mark.id.clone(),
            text: mark.text.replace('\n', " / "),
            what: "",
            steel: steel.name(),
            frame: Some(frame),
        };
        let scale = frame.scale;
        match engraved(built, &frame) {
            Ok(forms) => {
                for Engraved { form, mesh, height } in forms {
                    let what = match form {
                        Form::Engraving => "cut into the steel",
                        Form::StandingForm => "left standing in the steel",
                    };
                    let way = if form == Form::Engraving { "deep" } else { "tall" };
                    told.says.push(match height {
                        Some(height) => format!("{what} {height:.3} mm {way}"),
                        None => format!("{what}, as tall as the wall that it goes through"),
                    });
                    self.put(form.word(), name, mesh, About { what, ..about.clone() }, told);
                }
            }
            Err(why) => told.refused.push(why.to_string()),
        }
        told.says.extend(cutters::passes(built, scale));
        told.says.extend(
            changes_often(mark, self.job)
                .map(|what| format!("it will change with {what}: raised, or on an insert, that costs less")),
        );
        match mark.in_steel {
            InSteel::Cut => {}
            InSteel::Electrode { gap, stock, margin } => {
                match electrode(built, self.bench.queries(), [gap, stock, margin], scale) {
                    Ok(made) => {
                        told.says.push(electrode_says(&made));
                        let what = "electrode, all the way down";
                        self.put("electrode", name, frame.mesh(&made.mesh), About { what, ..about.clone() }, told);
                    }
                    Err(why) => told.refused.push(why.to_string()),
                }
            }
            InSteel::Insert { margin, deep, clearance } => match self.insert(built, [margin, deep, clearance], scale) {
                Ok(made) => {
                    told.says.push(insert_says(&made, clearance));
                    let what = "insert with the mark on its face";
                    self.put("insert", name, frame.mesh(&made.mesh), About { what, ..about.clone() }, told);
                    let what = "pocket of the insert, to be cut out of the tool";
                    self.put("insert-pocket", name, frame.mesh(&made.pocket), About { what, ..about.clone() }, told);
                }
                Err(why) => told.refused.push(why.to_string()),
            },
        }
        let strip = self.artwork(at, built, scale);
        let what = "artwork on the unrolled seat, mirrored as it is cut";
        self.draw(&format!("artwork-{name}"), &strip, About { what, ..about.clone() }, told)?;
        for (place, cutter) in self.job.cutters.iter().enumerate() {
            let Some(found) = left(built, cutter, scale) else { continue };
            let mut by = LeftBy {
                cutter: cutter.name(),
                clear: found.nothing(),
                says: cutters::leaves(&found, cutter),
                drawn: None,
                one_pass: one_pass(built, cutter, scale),
            };
            if found.area > 0.0 {
                let mut strip = strip.clone();
                let layer =
                    StripLayer::of_region(format!("left by {}", by.cutter), found.region.mapped(|p| p * scale), true);
                strip.layers.push(StripLayer { colour: LEFT, ..layer });
                strip.title = format!("{}; in red what {} leaves", strip.title, by.cutter);
                let stem = format!("left-by-cutter-{}-{name}", place + 1);
                let what = "what the cutter leaves on the unrolled seat, mirrored";
                by.drawn = Some(self.draw(&stem, &strip, About { what, ..about.clone() }, told)?);
            }
            told.cutters.push(by);
        }
        Ok(())
    }

    /// A drawing as DXF and SVG; the name of the second.
    fn draw(
        &mut self,
        what: &str,
        strip: &Strip,
        about: About,
        told: &mut MarkInSteel,
    ) -> Result<String, HandoffError> {
        let stem = format!("{what}-mirrored{}", at_scale(self.scale));
        let drawn = dxf(strip, Side::Tool).map_err(HandoffError::ToolSide)?;
        for (ending, bytes) in [("dxf", drawn), ("svg", svg(strip, Side::Tool))] {
            let file = format!("{stem}.{ending}");
            told.files.push(file.clone());
            self.listed.push((Named { name: file, bytes }, about.clone()));
        }
        Ok(format!("{stem}.svg"))
    }

    fn insert(&self, built: &BuiltMark, sizes: [f64; 3], scale: f64) -> Result<Insert, SteelError> {
        let missing = || SteelError("the marks are not joined to the part".into());
        let marked: &MarkedSolid = self.outcome.whole().ok_or_else(missing)?;
        insert(built, self.bench.queries(), marked, sizes, scale)
    }

    /// A mesh as a file of its own.
    fn put(&mut self, kind: &str, mark: &str, mesh: Mesh, about: About, told: &mut MarkInSteel) {
        let name = format!("{kind}-{mark}{}.stl", at_scale(self.scale));
        let bytes = stl::write(&mesh);
        self.read.push(read_back(&name, &bytes, &[&mesh]));
        told.files.push(name.clone());
        self.bodies.push((format!("{} of {mark} {}", kind.replace('-', " "), about.text), mesh));
        self.listed.push((Named { name, bytes }, about));
    }

    /// The letters of a mark at the steel's size, as they lie on the unrolled seat.
    fn artwork(&self, at: usize, built: &BuiltMark, scale: f64) -> Strip {
        let mark = &self.job.marks[at];
        let larger = |region: &Region| region.mapped(|p| p * scale);
        let letters = built.placed.characters.iter().flat_map(|c| larger(&c.region).islands).collect();
        let mut layers = vec![StripLayer::of_region(mark.id.clone(), Region { islands: letters }, true)];
        if let Some(pad) = &built.placed.pad {
            layers.push(StripLayer::of_region(format!("{} pad", mark.id), larger(pad), false));
        }
        let level = match (mark.relief.measured_at, mark.relief.sense.sinks()) {
            (MeasuredAt::Top, false) => "the floor of what is cut",
            (MeasuredAt::Top, true) => "the top of what stands",
            (MeasuredAt::Root, _) => "the seat",
        };
        let text = mark.text.replace('\n', " / ");
        let title = format!("{}: {text}, mirrored, steel × {scale:.4}, outlines at {level}", self.job.name);
        Strip { title, layers }
    }

    /// What each file is, where its coordinates begin and how they lie on the part, and its hash.
    fn contents(&self) -> Result<Vec<u8>, HandoffError> {
        let mut out = csv::Writer::from_writer(Vec::new());
        let failed = |e: csv::Error| HandoffError::ToolSide(format!("the list of contents can't be written: {e}"));
        let head = [
            "file",
            "what",
            "mark",
            "text",
            "piece of the tool",
            "times the part",
            "zero on the part",
            "x on the part",
            "y on the part",
            "z on the part",
            "unit",
            "bytes",
            "SHA-256",
        ];
        out.write_record(head).map_err(failed)?;
        // −0 is 0
        let three =
            |v: glam::DVec3| v.to_array().map(|c| format!("{:.6}", c + 0.0)).join(" ").replace("-0.000000", "0.000000");
        for (file, about) in &self.listed {
            let of =
                |get: &dyn Fn(&Frame) -> glam::DVec3| about.frame.as_ref().map_or(String::new(), |f| three(get(f)));
            let row = [
                file.name.clone(),
                about.what.to_owned(),
                about.mark.clone(),
                about.text.clone(),
                about.steel.clone(),
                format!("{:.6}", self.scale),
                of(&|f| f.zero),
                of(&|f| f.axes.x_axis),
                of(&|f| f.axes.y_axis),
                of(&|f| f.axes.z_axis),
                "mm".into(),
                file.bytes.len().to_string(),
                Sha256::digest(&file.bytes).iter().map(|b| format!("{b:02x}")).collect(),
            ];
            out.write_record(row).map_err(failed)?;
        }
        out.into_inner().map_err(|e| HandoffError::ToolSide(format!("the list of contents can't be written: {e}")))
    }
}

/// What a mark that stands in the tool's own steel changes with before the tool is worn out.
fn changes_often(mark: &Mark, job: &Job) -> Option<&'static str> {
    if !mark.relief.sense.sinks() || !mark.in_steel.is_cut() {
        return None;
    }
    let kind = |name: &str| job.roster.columns.iter().find(|c| c.name == name).map(|c| c.kind);
    let made = mark.recipe.iter().find_map(|piece| match &piece.of {
        PieceOf::Revision(_) => Some("the revision"),
        PieceOf::Date(_) => Some("the date"),
        PieceOf::Column(cell) => match kind(&cell.column)? {
            ColumnKind::Revision => Some("the revision"),
            ColumnKind::Date => Some("the date"),
            ColumnKind::Cavity => Some("the cavity"),
            ColumnKind::Text | ColumnKind::Number { .. } => None,
        },
        _ => None,
    });
    made.or(mark.figure.as_ref().and_then(|f| f.date()).map(|_| "the date"))
}

fn goes(by_the_pull: bool, what: &str) -> String {
    let way = if by_the_pull { "the way that its steel leaves" } else { "square to the seat in its middle" };
    format!("{what} {way}")
}

fn electrode_says(made: &Electrode) -> String {
    let [least, greatest] = made.gap;
    let block = made.block;
    format!(
        "electrode on a block of {:.2} × {:.2} × {:.2} mm, {}; between it and the steel {least:.3} to {greatest:.3} mm",
        block.x,
        block.y,
        block.z,
        goes(made.by_the_pull, "going down")
    )
}

fn insert_says(made: &Insert, clearance: f64) -> String {
    let size = made.size;
    format!(
        "insert of {:.2} × {:.2} × {:.2} mm, {}; its pocket is {clearance:.3} mm larger all round",
        size.x,
        size.y,
        size.z,
        goes(made.by_the_pull, "let in")
    )
}
