//! STEP files, read and drawn by a C++ kernel in a child process: it may crash, hang or run out of memory, and
//! the caller gets a sentence.
//!
//! The child is `tinbadge-step`, beside the running program. It gets the file in an empty folder
//! with limits on memory, processor time, files and output, and a wall clock.

mod child;
pub mod confine;
mod draw;
mod part;
mod stream;

pub use draw::{Chain, Drawing, Drawn, DrawnFace, DrawnSeat, Schema, What, draw};
pub use part::{is_step, read_part, read_part_watched};

use child::{Child, Ran};
use glam::{DVec3, Vec3};
use solid::{Surface, Unwatched, Watch};
use std::time::Duration;

/// Limits of one reading.
#[derive(Clone, Copy, Debug)]
pub struct Limits {
    /// Greatest distance of a facet from its true surface, mm.
    pub chord: f64,
    pub most_triangles: u64,
    /// Address space of the child, bytes.
    pub memory: u64,
    /// Processor time of the child.
    pub seconds: u64,
    /// The child is ended after this, whatever it does.
    pub clock: Duration,
}

impl Default for Limits {
    fn default() -> Self {
        Self {
            chord: 0.005,
            most_triangles: solid::formats::MOST_TRIANGLES as u64,
            memory: 4 << 30,
            seconds: 120,
            clock: Duration::from_secs(180),
        }
    }
}

/// What a STEP file holds, in mm.
#[derive(Clone, Debug, PartialEq)]
pub struct StepFile {
    /// The file's own unit of length, as it calls it; lengths here are mm already.
    pub unit: String,
    pub bodies: Vec<StepBody>,
}

#[derive(Clone, Debug, PartialEq)]
pub struct StepBody {
    pub name: String,
    /// A solid; otherwise a surface body.
    pub solid: bool,
    /// sRGB, 0 to 1.
    pub colour: Option<[f32; 3]>,
    /// mm³ and mm², exact, by the kernel. A surface body has no volume.
    pub volume: f64,
    pub area: f64,
    pub faces: Vec<StepFace>,
}

#[derive(Clone, Debug, PartialEq)]
pub struct StepFace {
    /// Place among all faces of the file.
    pub number: u32,
    pub colour: Option<[f32; 3]>,
    /// As the file has it; which side is out is not said here.
    pub surface: Surface,
    /// Points on the surface; those of a shared edge are the same to the last bit in both faces.
    pub vertices: Vec<DVec3>,
    /// Outward unit normals of the surface; zero where it has none.
    pub normals: Vec<Vec3>,
    /// Corners, counter-clockwise from outside. Empty: the kernel could not mesh the face.
    pub triangles: Vec<[u32; 3]>,
}

#[derive(Debug, thiserror::Error)]
pub enum StepError {
    #[error("the STEP file can't be read: {0}")]
    Refused(String),
    #[error("the STEP file can't be read: the reader ended in the middle of it ({0})")]
    Ended(String),
    #[error("the STEP file can't be read: what the reader told of it breaks off")]
    Broken,
    #[error("the STEP file was not read within {} s: try a smaller file or fewer bodies", .0.as_secs())]
    Clock(Duration),
    #[error("reading the STEP file was stopped")]
    Stopped,
    #[error("the STEP file can't be made: {0}")]
    NotDrawn(String),
    #[error("the STEP reader can't be started: {0}")]
    NoReader(String),
}

/// The bodies in `bytes`.
///
/// # Errors
/// A sentence on what is wrong with the file, or that it ran past a limit.
pub fn read(bytes: &[u8], limits: &Limits) -> Result<StepFile, StepError> {
    read_watched(bytes, limits, &Unwatched)
}

/// As [`read`], watched: the child is ended when it is stopped.
///
/// # Errors
/// As [`read`], or [`StepError::Stopped`].
pub fn read_watched(bytes: &[u8], limits: &Limits, watch: &dyn Watch) -> Result<StepFile, StepError> {
    let child = Child::new()?;
    child.put("part.step", bytes)?;
    let numbers = [limits.chord.to_string(), limits.most_triangles.to_string()];
    let bounds = [limits.memory.to_string(), limits.seconds.to_string()];
    let arguments = ["read", "part.step"].map(str::to_owned).into_iter().chain(numbers).chain(bounds);
    // three vertices and normals a triangle at the very most, and room for names
    let most = limits.most_triangles.saturating_mul(3 * 36 + 12).saturating_add(64 << 20);
    let Ran { told, status } = child.run(arguments, most, limits.clock, watch)?;
    let file = match stream::read(&told) {
        Err(StepError::Broken) if !status.success() => return Err(StepError::Ended(why(status))),
        other => other?,
    };
    file.bodies
        .iter()
        .try_for_each(|body| doubt(body, limits.chord).map_or(Ok(()), |why| Err(StepError::Refused(why))))?;
    Ok(file)
}

/// Why the mesh of a body is not to be trusted: the kernel leaves faces out, or meshes them halfway,
/// without a word when its memory runs out.
fn doubt(body: &StepBody, chord: f64) -> Option<String> {
    if body.faces.is_empty() {
        return Some(format!("“{}” has no faces", body.name));
    }
    let bare = body.faces.iter().filter(|f| f.triangles.is_empty()).count();
    if bare > 0 {
        return Some(format!("{bare} of {} faces of “{}” could not be meshed", body.faces.len(), body.name));
    }
    let middle = body.faces.first().and_then(|f| f.vertices.first()).copied().unwrap_or_default();
    let meshed: f64 = body
        .faces
        .iter()
        .flat_map(|f| f.triangles.iter().map(|t| t.map(|v| f.vertices[v as usize] - middle)))
        .map(|[a, b, c]| a.dot(b.cross(c)) / 6.0)
        .sum();
    // facets lie within the chord error of the true surface, on either side
    let off = (meshed - body.volume).abs();
    (body.solid && off > 2.0 * chord * body.area + 1e-6 * body.volume.abs())
        .then(|| format!("the mesh of “{}” holds {meshed:.3} mm³, the solid {:.3} mm³", body.name, body.volume))
}

fn why(status: std::process::ExitStatus) -> String {
    use std::os::unix::process::ExitStatusExt;
    match status.signal() {
        Some(24 | 9) => "it took too long".into(),
        Some(6) => "it needs more memory than one part may take, or its shapes contradict one another".into(),
        Some(signal) => format!("its shapes contradict one another; signal {signal}"),
        None => status.to_string(),
    }
}
