//! The process that reads: what it may do, and how it tells.

use crate::{Asked, Limits, answered};
use rustix::process::{Resource, Rlimit, setrlimit};
use solid::{Stage, Stopped, Watch};
use std::{
    io::{self, Read, Write},
    sync::Mutex,
};
use step::confine;

/// What comes next in the output: how far the reading is, or all that is left is the answer.
pub(crate) const REACHED: u8 = b'r';
pub(crate) const ANSWER: u8 = b'a';
/// The stages as they are told.
pub(crate) const STAGES: [Stage; 4] = [Stage::Reading, Stage::Joining, Stage::Soundness, Stage::Faces];

/// Tells on the output how far it is; whoever waits for nothing more ends the process.
struct Told<W>(Mutex<W>);

impl<W: Write + Send> Watch for Told<W> {
    fn reached(&self, stage: Stage, share: f64) -> Result<(), Stopped> {
        let at = STAGES.iter().position(|s| *s == stage).unwrap_or_default();
        let mut out = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let percent = (100.0 * share).clamp(0.0, 100.0) as u8;
        out.write_all(&[REACHED, at as u8, percent]).and_then(|()| out.flush()).map_err(|_| Stopped)
    }
}

/// Reads what is asked of the file in the input: the length of the question in four bytes, low first, the question, the
/// file. The answer goes to `out`.
///
/// # Errors
/// The input breaks off, or nobody takes the output.
pub fn run(mut input: impl Read, out: impl Write + Send, limits: Limits) -> io::Result<()> {
    let mut length = [0; 4];
    input.read_exact(&mut length)?;
    let mut question = vec![0; u32::from_le_bytes(length) as usize];
    input.read_exact(&mut question)?;
    let asked: Asked = rmp_serde::from_slice(&question).map_err(io::Error::other)?;
    let mut bytes = Vec::new();
    input.read_to_end(&mut bytes)?;
    confine(&asked, limits);
    let told = Told(Mutex::new(out));
    let answer = answered(&asked, &bytes, &told).map_err(io::Error::other)?;
    let mut out = told.0.into_inner().unwrap_or_else(std::sync::PoisonError::into_inner);
    out.write_all(&[ANSWER])?;
    out.write_all(&answer)?;
    out.flush()
}

/// Gives up what reading doesn't need. What the system doesn't let go of is left: the limits hold anyway.
fn confine(asked: &Asked, limits: Limits) {
    let within = |resource, value: u64, end: u64| {
        let _ = setrlimit(resource, Rlimit { current: Some(value), maximum: Some(end) });
    };
    let most = |resource, value| within(resource, value, value);
    most(Resource::Core, 0);
    most(Resource::As, limits.memory);
    // at the first its signal says why, at the second the system ends it without
    within(Resource::Cpu, limits.seconds, limits.seconds + 5);
    // the kernel for STEP is started from here and gets limits of its own; it needs a folder
    if matches!(asked, Asked::Part(wanted) if step::is_step(&wanted.file)) {
        confine::yield_to_parent();
        return;
    }
    most(Resource::Fsize, 0);
    // nothing more can be opened
    most(Resource::Nofile, 0);
    confine::confine();
    // after the user: who becomes another one is no longer told of its parent's end (prctl(2))
    confine::yield_to_parent();
}
