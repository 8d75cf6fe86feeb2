//! The command line: `run` a job file, `serve` the application, write the `demo-data`.

mod command;
mod judged;
mod lying;
mod steel;

use callouts::{Paper, Projection};
use clap::Parser;
use command::{Command, Log};
use handoff::exact::Manner;
use judged::{laid_flat, map, mend, read, record, run};
use std::{
    io::{IsTerminal, Write},
    process::ExitCode,
};
use tinbadge::say;

#[derive(Parser)]
#[command(
    name = "tinbadge",
    about = "Raised and sunken lettering on moulded and cast parts, checked on the finished solid"
)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

/// Exit code for what could not be done at all.
const CANNOT: u8 = 2;

fn main() -> ExitCode {
    let done = match Cli::parse().command {
        Command::Run { schema: true, .. } => {
            say!("{:#}", trade::job::schema());
            Ok(0)
        }
        Command::Run { job: Some(job), part, row, dry: true, explain, .. } => {
            lying::dry(&job, part.as_deref(), row, explain)
        }
        Command::Run { job: Some(job), part, out: Some(out), row, .. } => run(&job, part.as_deref(), &out, row),
        Command::Run { .. } => unreachable!("clap asks for job and out unless --schema or --dry is given"),
        Command::Faces { part, unit, json } => lying::faces(&part, unit, json),
        Command::Mend { job, part, out, row, seconds } => {
            mend(&job, part.as_deref(), out.as_deref(), row, std::time::Duration::from_secs(seconds))
        }
        Command::Read { job, part, row } => read(&job, part.as_deref(), row),
        Command::Map { of, check, out } => map(&of, check, out.as_deref()),
        Command::Letter { of, letter, cutter } => laid_flat(&of, letter, cutter),
        Command::Record { job, part, out, row, by } => record(&job, part.as_deref(), &out, row, &by),
        Command::Exact { job, part, out, row, ap242, steel: at_steel } => {
            let schema = if ap242 { step::Schema::Ap242 } else { step::Schema::Ap214 };
            steel::exact(&job, part.as_deref(), &out, row, Manner { schema, steel: at_steel, ..Manner::default() })
        }
        Command::ToolSide { job, part, out, row } => steel::tool_side(&job, part.as_deref(), &out, row),
        Command::Callouts { job, part, out, row, by, a3, third_angle, inch } => {
            let manner = callouts::Manner {
                paper: if a3 { Paper::A3 } else { Paper::A4 },
                projection: if third_angle { Projection::ThirdAngle } else { Projection::FirstAngle },
                inch,
            };
            steel::callouts(&job, part.as_deref(), &out, row, (&by, manner))
        }
        Command::SteelChanges { before, after, part, row } => {
            steel::steel_changes(&before, &after, part.as_deref(), row)
        }
        Command::Serve { database, port, demo, at_once, log } => {
            begin(&log);
            serve(server::Settings { database, port, demo, at_once: at_once.unwrap_or_else(cores) })
        }
        Command::Work { database, at_once, log } => {
            begin(&log);
            work(database, at_once.unwrap_or_else(cores))
        }
        Command::Describe => describe(),
        Command::DemoData { out } => demo_data(&out),
    };
    match done {
        Ok(code) => ExitCode::from(code),
        Err(problem) => {
            eprintln!("tinbadge: {problem}");
            ExitCode::from(CANNOT)
        }
    }
}

fn demo_data(out: &std::path::Path) -> Result<u8, anyhow::Error> {
    std::fs::create_dir_all(out)?;
    for demo in demo::jobs() {
        let part = out.join(&demo.job.part.file);
        let job = part.with_extension("tinbadge.json");
        std::fs::write(&part, &demo.part)?;
        std::fs::write(&job, serde_json::to_vec_pretty(&demo.job)?)?;
        say!("wrote {} and {}", part.display(), job.display());
    }
    for (file, bytes) in demo::DRAWINGS {
        let drawing = out.join(file);
        std::fs::write(&drawing, bytes)?;
        say!("wrote {}", drawing.display());
    }
    Ok(0)
}

fn describe() -> Result<u8, anyhow::Error> {
    say!("{}", server::description().to_pretty_json()?);
    Ok(0)
}

fn cores() -> usize {
    std::thread::available_parallelism().map_or(2, usize::from)
}

fn begin(log: &Log) {
    let to = tracing_subscriber::fmt().with_max_level(log.log).with_writer(std::io::stderr);
    if log.log_json {
        to.json().init();
    } else {
        to.with_ansi(std::io::stderr().is_terminal()).init();
    }
}

fn work(database: String, at_once: usize) -> Result<u8, anyhow::Error> {
    let runtime = tokio::runtime::Runtime::new()?;
    let worked = runtime.block_on(server::work(database, at_once, stopped()));
    runtime.shutdown_background();
    worked?;
    Ok(0)
}

fn serve(settings: server::Settings) -> Result<u8, anyhow::Error> {
    // it serves all the same where nobody reads that
    let ready = |port: u16| drop(writeln!(std::io::stdout(), "Tin Badge is at http://127.0.0.1:{port}"));
    let runtime = tokio::runtime::Runtime::new()?;
    let served = runtime.block_on(server::serve(settings, ready, stopped()));
    // what is being worked out isn't waited for: it can be worked out again, and may take minutes
    runtime.shutdown_background();
    served?;
    Ok(0)
}

/// Ctrl-C, or the end asked for by the system.
async fn stopped() {
    use tokio::signal::unix::{SignalKind, signal};
    match signal(SignalKind::terminate()) {
        Ok(mut terminate) => {
            tokio::select! {
                _ = tokio::signal::ctrl_c() => {}
                _ = terminate.recv() => {}
            }
        }
        Err(_) => {
            let _ = tokio::signal::ctrl_c().await;
        }
    }
}
