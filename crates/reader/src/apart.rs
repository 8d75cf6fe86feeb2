//! The process started, watched and ended.

use crate::{
    Asked, Limits, Unread,
    asked::packed,
    process::{ANSWER, REACHED, STAGES},
    unread,
};
use rustix::process::{Pid, Signal, kill_process_group};
use serde::de::DeserializeOwned;
use solid::Watch;
use std::{
    io::{self, Read, Write},
    os::unix::process::CommandExt,
    path::PathBuf,
    process::{Child, Command, Stdio},
    sync::{
        atomic::{AtomicU16, Ordering},
        mpsc,
    },
    thread,
    time::{Duration, Instant},
};

/// How often it is looked whether the process is done, or to be stopped.
const GLANCE: Duration = Duration::from_millis(50);
/// The first answer is looked for more often: most files are small.
const FIRST: Duration = Duration::from_millis(2);
/// What the process says on its way down is kept up to this, bytes.
const SAID: u64 = 4096;

/// Beside the running program, or beside the folder of the running test.
fn program() -> Result<PathBuf, Unread> {
    let own = std::env::current_exe().map_err(|e| Unread::NoReader(e.to_string()))?;
    let beside = own.ancestors().skip(1).take(2).map(|folder| folder.join("tinbadge-reader"));
    beside
        .into_iter()
        .find(|p| p.is_file())
        .ok_or_else(|| Unread::NoReader("tinbadge-reader is missing beside the program".into()))
}

/// The process, ended with all that it started however the reading ends.
struct Running(Child);

impl Running {
    fn end(&self) {
        if let Some(group) = i32::try_from(self.0.id()).ok().and_then(Pid::from_raw) {
            let _ = kill_process_group(group, Signal::KILL);
        }
    }
}

impl Drop for Running {
    fn drop(&mut self) {
        if matches!(self.0.try_wait(), Ok(None)) {
            self.end();
            let _ = self.0.wait();
        }
    }
}

/// The answer to what is asked of a file.
pub(crate) fn read<T: DeserializeOwned>(
    asked: &Asked,
    bytes: &[u8],
    limits: Limits,
    watch: &dyn Watch,
) -> Result<T, Unread> {
    let no_reader = |e: io::Error| Unread::NoReader(e.to_string());
    let question = packed(asked).map_err(|e| Unread::NoReader(e.to_string()))?;
    let mut running = Running(
        Command::new(program()?)
            .args([limits.memory, limits.seconds, limits.clock.as_secs()].map(|n| n.to_string()))
            .env_clear()
            .current_dir("/")
            // what it starts is ended with it
            .process_group(0)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .map_err(no_reader)?,
    );
    let pipes = (running.0.stdin.take(), running.0.stdout.take(), running.0.stderr.take());
    let (Some(input), Some(output), Some(said)) = pipes else {
        return Err(Unread::NoReader("its input and output can't be reached".into()));
    };
    let reached = AtomicU16::new(0);
    let begun = Instant::now();
    let (told, said) = thread::scope(|scope| {
        let (sender, receiver) = mpsc::channel();
        let (reached, question) = (&reached, &question);
        // a process that ended takes no more of the file
        scope.spawn(move || give(input, question, bytes));
        scope.spawn(move || sender.send(take(output, reached)));
        let said = scope.spawn(move || {
            let mut last = Vec::new();
            let _ = said.take(SAID).read_to_end(&mut last);
            String::from_utf8_lossy(&last).into_owned()
        });
        let mut wait = FIRST;
        let told = loop {
            let at = reached.load(Ordering::Relaxed);
            let stage = STAGES[usize::from(at >> 8).min(STAGES.len() - 1)];
            if watch.reached(stage, f64::from(at & 0xff) / 100.0).is_err() {
                break Err(Unread::Stopped);
            }
            match receiver.recv_timeout(wait) {
                Ok(answer) => break Ok(answer.unwrap_or_default()),
                Err(_) if begun.elapsed() > limits.clock => break Err(Unread::Clock(limits.clock)),
                Err(_) => wait = (2 * wait).min(GLANCE),
            }
        };
        if told.is_err() {
            running.end();
        }
        (told, said.join().unwrap_or_default())
    });
    let status = running.0.wait().map_err(no_reader)?;
    let answer = told?;
    if !status.success() || answer.is_empty() {
        return Err(unread::why(status, &said, limits));
    }
    rmp_serde::from_slice(&answer).map_err(|e| Unread::Ended(e.to_string()))
}

/// The question and the file, as the process takes them.
fn give(mut input: impl Write, question: &[u8], bytes: &[u8]) -> io::Result<()> {
    input.write_all(&u32::try_from(question.len()).map_err(io::Error::other)?.to_le_bytes())?;
    input.write_all(question)?;
    input.write_all(bytes)
}

/// What the process tells of its way, and then its answer; nothing where it ends without one.
fn take(mut output: impl Read, reached: &AtomicU16) -> io::Result<Vec<u8>> {
    let mut answer = Vec::new();
    let mut kind = [0];
    while output.read(&mut kind)? == 1 {
        match kind[0] {
            REACHED => {
                let mut at = [0; 2];
                output.read_exact(&mut at)?;
                reached.store(u16::from_be_bytes(at), Ordering::Relaxed);
            }
            ANSWER => {
                output.read_to_end(&mut answer)?;
            }
            other => return Err(io::Error::other(format!("it says {other}"))),
        }
    }
    Ok(answer)
}
