//! The child that reads and draws STEP: `tinbadge-step read FILE CHORD MOST_TRIANGLES MEMORY SECONDS` writes
//! what it finds to its output; `tinbadge-step draw PLAN PART TO MEMORY SECONDS MOST_BYTES` draws what a plan tells, joined to a
//! part where one is named, and writes a reason where it can't; `tinbadge-step samples FOLDER` writes parts with known parameters.

use std::{
    ffi::{CString, c_char, c_int},
    os::fd::{AsRawFd, OwnedFd},
    process::ExitCode,
};
use step::confine;

#[allow(unsafe_code)] // the shim in kernel/
mod kernel {
    use super::{c_char, c_int};

    unsafe extern "C" {
        pub fn tinbadge_step_read(
            path: *const c_char,
            to: c_int,
            chord: f64,
            most_triangles: u64,
            memory: u64,
            seconds: u64,
        ) -> c_int;
        pub fn tinbadge_step_draw(
            path: *const c_char,
            part: *const c_char,
            to: *const c_char,
            says: c_int,
            memory: u64,
            seconds: u64,
            most_bytes: u64,
        ) -> c_int;
        pub fn tinbadge_step_samples(folder: *const c_char) -> c_int;
    }
}

fn main() -> ExitCode {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let arguments: Vec<&str> = arguments.iter().map(String::as_str).collect();
    let code = match arguments[..] {
        ["read", file, chord, triangles, memory, seconds] => {
            let (Ok(file), Ok(chord), Ok(triangles), Ok(memory), Ok(seconds)) =
                (CString::new(file), chord.parse(), triangles.parse(), memory.parse(), seconds.parse())
            else {
                return usage();
            };
            // the kernel prints on the usual output: it gets another one
            let Ok(out) = quiet() else { return ExitCode::from(2) };
            confine::confine();
            // after the user: who becomes another one is no longer told of its parent's end (prctl(2))
            confine::yield_to_parent();
            #[allow(unsafe_code)]
            // SAFETY: the path is a string that outlives the call; the descriptor is open
            unsafe {
                kernel::tinbadge_step_read(file.as_ptr(), out.as_raw_fd(), chord, triangles, memory, seconds)
            }
        }
        ["draw", plan, part, to, memory, seconds, bytes] => {
            let (Ok(plan), Ok(part), Ok(to), Ok(memory), Ok(seconds), Ok(bytes)) = (
                CString::new(plan),
                CString::new(part),
                CString::new(to),
                memory.parse(),
                seconds.parse(),
                bytes.parse(),
            ) else {
                return usage();
            };
            let Ok(out) = quiet() else { return ExitCode::from(2) };
            confine::confine();
            confine::yield_to_parent();
            #[allow(unsafe_code)]
            // SAFETY: the paths are strings that outlive the call; the descriptor is open
            unsafe {
                kernel::tinbadge_step_draw(
                    plan.as_ptr(),
                    part.as_ptr(),
                    to.as_ptr(),
                    out.as_raw_fd(),
                    memory,
                    seconds,
                    bytes,
                )
            }
        }
        ["samples", folder] => {
            let Ok(folder) = CString::new(folder) else { return usage() };
            #[allow(unsafe_code)]
            // SAFETY: the path is a string that outlives the call
            unsafe {
                kernel::tinbadge_step_samples(folder.as_ptr())
            }
        }
        _ => return usage(),
    };
    ExitCode::from(u8::try_from(code).unwrap_or(2))
}

fn usage() -> ExitCode {
    eprintln!(
        "tinbadge-step read FILE CHORD MOST_TRIANGLES MEMORY SECONDS | draw PLAN PART TO MEMORY SECONDS MOST_BYTES | samples FOLDER"
    );
    ExitCode::from(2)
}

/// The real output under a number of its own; what is printed from here on goes nowhere.
fn quiet() -> std::io::Result<OwnedFd> {
    let out = rustix::io::dup(std::io::stdout())?;
    let nowhere = std::fs::OpenOptions::new().write(true).open("/dev/null")?;
    rustix::stdio::dup2_stdout(nowhere)?;
    Ok(out)
}
