//! The child that runs the kernel: files for it in a folder of its own, its output, its end.

use crate::{StepError, confine};
use solid::{Stage, Watch};
use std::{
    fs,
    io::Read,
    os::unix::fs::chown,
    path::PathBuf,
    process::{Command, ExitStatus, Stdio},
    sync::mpsc,
    thread,
    time::{Duration, Instant},
};

/// How often it is looked whether the child is done, or to be stopped.
const GLANCE: Duration = Duration::from_millis(50);

pub(crate) struct Child {
    program: PathBuf,
    /// Empty but for what is put there: STEP files can name others.
    folder: tempfile::TempDir,
}

/// What it said on its output, and how it ended.
pub(crate) struct Ran {
    pub told: Vec<u8>,
    pub status: ExitStatus,
}

fn no_reader(e: std::io::Error) -> StepError {
    StepError::NoReader(e.to_string())
}

/// Beside the running program, or beside the folder of the running test.
fn program() -> Option<PathBuf> {
    let own = std::env::current_exe().ok()?;
    own.ancestors().skip(1).take(2).map(|folder| folder.join("tinbadge-step")).find(|p| p.is_file())
}

impl Child {
    /// # Errors
    /// There is no program, or no folder can be made.
    pub fn new() -> Result<Self, StepError> {
        let program =
            program().ok_or_else(|| StepError::NoReader("tinbadge-step is missing beside the program".into()))?;
        let folder = tempfile::tempdir().map_err(no_reader)?;
        give_away(folder.path()).map_err(no_reader)?;
        Ok(Self { program, folder })
    }

    /// A file for it.
    ///
    /// # Errors
    /// It can't be written.
    pub fn put(&self, name: &str, bytes: &[u8]) -> Result<(), StepError> {
        let file = self.folder.path().join(name);
        fs::write(&file, bytes).and_then(|()| give_away(&file)).map_err(no_reader)
    }

    /// A file that it made.
    ///
    /// # Errors
    /// There is none.
    pub fn get(&self, name: &str) -> Result<Vec<u8>, StepError> {
        fs::read(self.folder.path().join(name)).map_err(no_reader)
    }

    /// Runs it to its end; of its output no more than `most` bytes are taken.
    ///
    /// # Errors
    /// It can't be started, was stopped, or ran past `clock`.
    pub fn run(
        &self,
        arguments: impl IntoIterator<Item = String>,
        most: u64,
        clock: Duration,
        watch: &dyn Watch,
    ) -> Result<Ran, StepError> {
        let mut child = Command::new(&self.program)
            .args(arguments)
            .current_dir(self.folder.path())
            .env_clear()
            .stdin(Stdio::null())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .map_err(no_reader)?;
        let output = child.stdout.take().ok_or_else(|| StepError::NoReader("its output can't be read".into()))?;
        let (sender, receiver) = mpsc::channel();
        let reader = thread::spawn(move || {
            let mut bytes = Vec::new();
            let read = output.take(most).read_to_end(&mut bytes);
            // nobody waits any more when the clock has run out
            let _ = sender.send(read.map(|_| bytes));
        });
        let begun = Instant::now();
        let told = loop {
            if watch.reached(Stage::Reading, 0.0).is_err() {
                break Err(StepError::Stopped);
            }
            match receiver.recv_timeout(GLANCE) {
                Ok(read) => break Ok(read),
                Err(_) if begun.elapsed() > clock => break Err(StepError::Clock(clock)),
                Err(_) => {}
            }
        };
        if told.is_err() {
            let _ = child.kill();
        }
        let status = child.wait().map_err(no_reader)?;
        let _ = reader.join();
        Ok(Ran { told: told?.map_err(no_reader)?, status })
    }
}

/// The child works as nobody where it is started by root.
fn give_away(path: &std::path::Path) -> std::io::Result<()> {
    if rustix::process::geteuid().is_root() {
        let nobody = Some(confine::NOBODY);
        return chown(path, nobody, nobody);
    }
    Ok(())
}
