//! Lettering bodies that the kernel draws exactly, and writes as STEP: what is to be drawn, told to the child.
//!
//! Lengths are mm, places are in part coordinates.

use crate::{
    StepError,
    child::{Child, Ran},
};
use glam::{DAffine3, DVec3};
use solid::{Surface, Watch};
use std::time::Duration;

/// Which application protocol of ISO 10303 a file follows.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Schema {
    #[default]
    Ap214,
    Ap242,
}

impl Schema {
    /// As the kernel calls it.
    fn name(self) -> &'static str {
        match self {
            Self::Ap214 => "AP214IS",
            Self::Ap242 => "AP242DIS",
        }
    }
}

/// What becomes of a body where the part's own file is there.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum What {
    /// A solid beside the part.
    Apart = 0,
    Raised = 1,
    Cut = 2,
}

/// A body by the faces that bound it.
#[derive(Clone, Debug)]
pub struct Drawn {
    pub name: String,
    /// sRGB, 0 to 1.
    pub colour: Option<[f32; 3]>,
    pub what: What,
    pub points: Vec<DVec3>,
    pub seats: Vec<DrawnSeat>,
    pub chains: Vec<Chain>,
    pub faces: Vec<DrawnFace>,
}

/// A surface that faces lie on: none that has no kind.
#[derive(Clone, Debug)]
pub struct DrawnSeat {
    pub surface: Surface,
    /// In the middle of what lies on it: its seams are kept away from there.
    pub middle: DVec3,
}

/// A curve on a seat through points, smooth but at its ends.
#[derive(Clone, Debug, PartialEq)]
pub struct Chain {
    pub seat: u32,
    /// Each with its parameter, growing from 0 to 1.
    pub points: Vec<(u32, f64)>,
}

#[derive(Clone, Debug, PartialEq, Eq)]
pub enum DrawnFace {
    /// On a seat, the first of its loops round it, the others round holes; each of chains one after another.
    OnSeat { seat: u32, loops: Vec<Vec<u32>> },
    /// Straight lines from one chain to another that runs the other way: between places whose parameters make 1.
    Ruled(u32, u32),
    /// A flat polygon.
    Flat(Vec<u32>),
}

/// A STEP file to be.
#[derive(Clone, Debug)]
pub struct Drawing<'a> {
    pub name: &'a str,
    /// When it is made, as the file's header says it.
    pub made: &'a str,
    pub schema: Schema,
    /// Where everything is written: turned, moved, and larger or smaller alike in all directions.
    pub place: DAffine3,
    pub bodies: &'a [Drawn],
    /// The part's own STEP file, to which the bodies are joined in their order.
    pub part: Option<&'a [u8]>,
}

/// Address space of the child, bytes.
const MEMORY: u64 = 6 << 30;
/// Processor time: a second for each body and as much again, and this, s.
const SECONDS: u64 = 120;
/// Of the file, bytes.
const MOST: u64 = 1 << 30;

/// The drawing as a STEP file.
///
/// # Errors
/// A sentence on what the kernel could not draw or join, or that it ran past a limit.
pub fn draw(drawing: &Drawing<'_>, watch: &dyn Watch) -> Result<Vec<u8>, StepError> {
    let child = Child::new()?;
    child.put("plan", &told(drawing))?;
    if let Some(part) = drawing.part {
        child.put("part.step", part)?;
    }
    let seconds = SECONDS + 2 * drawing.bodies.len() as u64;
    let part = if drawing.part.is_some() { "part.step" } else { "" };
    let limits = [MEMORY.to_string(), seconds.to_string(), MOST.to_string()];
    let arguments = ["draw", "plan", part, "made.step"].into_iter().map(str::to_owned).chain(limits);
    let Ran { told, status } = child.run(arguments, 64 << 10, Duration::from_secs(2 * seconds), watch)?;
    if !told.is_empty() {
        return Err(StepError::NotDrawn(String::from_utf8_lossy(&told).into_owned()));
    }
    if !status.success() {
        return Err(StepError::NotDrawn(crate::why(status)));
    }
    child.get("made.step")
}

/// As the child reads it: see `kernel/draw.cpp`.
fn told(drawing: &Drawing<'_>) -> Vec<u8> {
    let mut out = Out(Vec::new());
    [drawing.schema.name(), drawing.name, drawing.made].into_iter().for_each(|text| out.text(text));
    // row by row
    let DAffine3 { matrix3, translation } = drawing.place;
    for (row, end) in matrix3.transpose().to_cols_array_2d().into_iter().zip(translation.to_array()) {
        row.into_iter().chain([end]).for_each(|v| out.real(v));
    }
    out.word(drawing.bodies.len());
    for body in drawing.bodies {
        out.text(&body.name);
        out.byte(u8::from(body.colour.is_some()));
        body.colour.unwrap_or_default().into_iter().for_each(|c| out.real(f64::from(c)));
        out.byte(body.what as u8);
        out.word(body.points.len());
        body.points.iter().for_each(|p| out.point(*p));
        out.word(body.seats.len());
        body.seats.iter().for_each(|seat| out.seat(seat));
        out.word(body.chains.len());
        for chain in &body.chains {
            out.word(chain.seat as usize);
            out.word(chain.points.len());
            for (point, at) in &chain.points {
                out.word(*point as usize);
                out.real(*at);
            }
        }
        out.word(body.faces.len());
        for face in &body.faces {
            match face {
                DrawnFace::OnSeat { seat, loops } => {
                    out.byte(1);
                    out.word(*seat as usize);
                    out.word(loops.len());
                    loops.iter().for_each(|chains| out.words(chains));
                }
                DrawnFace::Ruled(one, other) => {
                    out.byte(2);
                    out.word(*one as usize);
                    out.word(*other as usize);
                }
                DrawnFace::Flat(corners) => {
                    out.byte(3);
                    out.words(corners);
                }
            }
        }
    }
    out.0
}

struct Out(Vec<u8>);

impl Out {
    fn byte(&mut self, v: u8) {
        self.0.push(v);
    }

    fn word(&mut self, v: usize) {
        self.0.extend((v as u32).to_le_bytes());
    }

    fn words(&mut self, all: &[u32]) {
        self.word(all.len());
        all.iter().for_each(|v| self.word(*v as usize));
    }

    fn real(&mut self, v: f64) {
        self.0.extend(v.to_le_bytes());
    }

    fn point(&mut self, p: DVec3) {
        p.to_array().into_iter().for_each(|v| self.real(v));
    }

    fn text(&mut self, text: &str) {
        self.word(text.len());
        self.0.extend(text.as_bytes());
    }

    /// Kind, a frame, two lengths or angles, and the middle. Round seats begin their turn on the far side of it.
    fn seat(&mut self, DrawnSeat { surface, middle }: &DrawnSeat) {
        let away = |from: DVec3, axis: DVec3| {
            -(*middle - from).reject_from_normalized(axis).try_normalize().unwrap_or(axis.any_orthonormal_vector())
        };
        let (kind, origin, axis, across, first, second) = match *surface {
            Surface::Plane { origin, normal } => (1, origin, normal, normal.any_orthonormal_vector(), 0.0, 0.0),
            Surface::Cylinder { origin, axis, radius, .. } => (2, origin, axis, away(origin, axis), radius, 0.0),
            Surface::Cone { apex, axis, angle, .. } => {
                let along = (*middle - apex).dot(axis);
                (3, apex + axis * along, axis, away(apex, axis), along * angle.tan(), angle)
            }
            Surface::Sphere { centre, radius, .. } => {
                let out = (*middle - centre).try_normalize().unwrap_or(DVec3::Z);
                (4, centre, out.any_orthonormal_vector(), -out, radius, 0.0)
            }
            Surface::Torus { centre, axis, major, minor, .. } => (5, centre, axis, away(centre, axis), major, minor),
            // it is refused there
            Surface::Revolution { .. } | Surface::Extrusion { .. } | Surface::Freeform => {
                (0, DVec3::ZERO, DVec3::Z, DVec3::X, 0.0, 0.0)
            }
        };
        self.byte(kind);
        [origin, axis, across].into_iter().for_each(|v| self.point(v));
        self.real(first);
        self.real(second);
        self.point(*middle);
    }
}
