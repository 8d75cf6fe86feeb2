//! Why a file was not read to its end.

use std::{os::unix::process::ExitStatusExt, process::ExitStatus, time::Duration};

#[derive(Debug, thiserror::Error)]
pub enum Unread {
    #[error("the file was not read within {} s; simplify it, or save it in parts", .0.as_secs())]
    Clock(Duration),
    #[error("reading the file takes more than {} GB of memory; simplify it, or save it in parts", .0 >> 30)]
    Memory(u64),
    #[error("the file refers from one thing to the next too deep to be read; save it without references or groups")]
    Deep,
    #[error(
        "the file can't be read: the reader ended in the middle of it ({0}); save it anew in the program that made it"
    )]
    Ended(String),
    #[error("reading the file was stopped")]
    Stopped,
    #[error("the reader can't be started: {0}")]
    NoReader(String),
}

/// Why the process ended without an answer, by its status and the end of what it said.
pub(crate) fn why(status: ExitStatus, said: &str, limits: crate::Limits) -> Unread {
    /// Signals (signal(7)): the system's own end for want of memory, and processor time that ran out.
    const KILL: i32 = 9;
    const XCPU: i32 = 24;
    if said.contains("overflowed its stack") {
        return Unread::Deep;
    }
    if said.contains("memory allocation of") || said.contains("capacity overflow") {
        return Unread::Memory(limits.memory);
    }
    match status.signal() {
        Some(XCPU | KILL) => Unread::Clock(limits.clock),
        Some(signal) => Unread::Ended(format!("signal {signal}")),
        None => Unread::Ended(status.to_string()),
    }
}
