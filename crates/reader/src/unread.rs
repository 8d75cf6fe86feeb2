//! Why a file was not read to its end.

use std::{os::unix::process::ExitStatusExt, process::ExitStatus, time::Duration};

#[derive(Debug, thiserror::Error)]
pub enum Unread {
    #[error("the file was not read within {} s; simplify it, or save it in parts", .0.as_secs())]
    Clock(Duration),
    #[error("reading the file takes more than {0} s of processor time; simplify it, or save it in parts")]
    Processor(u64),
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
    /// Signals (signal(7)): processor time that ran out, and the system's own end for want of memory.
    const XCPU: i32 = 24;
    const KILL: i32 = 9;
    if said.contains("overflowed its stack") {
        return Unread::Deep;
    }
    if said.contains("memory allocation of") || said.contains("capacity overflow") {
        return Unread::Memory(limits.memory);
    }
    match status.signal() {
        Some(XCPU) => Unread::Processor(limits.seconds),
        Some(KILL) => Unread::Ended("the system ended it, most likely for want of memory".into()),
        Some(signal) => Unread::Ended(format!("signal {signal}")),
        None => Unread::Ended(status.to_string()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_end_is_told_as_what_it_is() {
        // a status of wait(2) holds the signal in its low bits
        let told = |signal, said| why(ExitStatus::from_raw(signal), said, crate::SMALL).to_string();
        assert!(told(24, "").contains("60 s of processor time"));
        assert!(told(9, "").contains("for want of memory"));
        assert!(told(6, "memory allocation of 99 bytes failed").contains("more than 2 GB"));
        assert!(told(6, "thread 'main' has overflowed its stack").contains("too deep"));
        assert!(told(11, "").contains("signal 11"));
    }
}
