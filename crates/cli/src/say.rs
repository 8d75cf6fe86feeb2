//! Lines on the standard output.

use std::{
    fmt::Arguments,
    io::{ErrorKind, Write, stdout},
    process::exit,
};

/// Exit code where nobody reads on: as a shell tells of a program that was ended by SIGPIPE. (POSIX: 128 + 13)
const NOBODY_READS: i32 = 141;

/// Writes a line; where nobody reads on, there is nothing left to do.
///
/// # Panics
/// The output can't be written for another reason, as a disk that is full.
pub fn line(line: Arguments<'_>) {
    match writeln!(stdout(), "{line}") {
        Err(e) if e.kind() == ErrorKind::BrokenPipe => exit(NOBODY_READS),
        written => written.expect("the standard output takes lines"),
    }
}

/// As `println!`, without a panic where the output is a pipe that is closed.
#[macro_export]
macro_rules! say {
    ($($told:tt)*) => { $crate::say::line(format_args!($($told)*)) };
}
