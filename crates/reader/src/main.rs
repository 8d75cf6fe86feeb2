//! `tinbadge-reader MEMORY SECONDS CLOCK` reads the file in its input, within limits in bytes, s and s.

use reader::{Limits, process};
use std::{process::ExitCode, time::Duration};

fn main() -> ExitCode {
    let given: Vec<u64> = std::env::args().skip(1).filter_map(|a| a.parse().ok()).collect();
    let [memory, seconds, clock] = given[..] else {
        eprintln!("tinbadge-reader MEMORY SECONDS CLOCK");
        return ExitCode::from(2);
    };
    let limits = Limits { memory, seconds, clock: Duration::from_secs(clock) };
    let (input, out) = (std::io::stdin().lock(), std::io::BufWriter::new(std::io::stdout()));
    match process::run(input, out, limits) {
        Ok(()) => ExitCode::SUCCESS,
        Err(why) => {
            eprintln!("{why}");
            ExitCode::FAILURE
        }
    }
}
