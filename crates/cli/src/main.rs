//! The command line: `run` a job file, `serve` the application, write the `demo-data`.

mod steel;

use callouts::{Paper, Projection};
use clap::{Parser, Subcommand};
use handoff::exact::Manner;
use std::{io::IsTerminal, path::PathBuf, process::ExitCode};
use tinbadge::{
    exit_code,
    looking::{self, OfMark},
    mend_file, read_file, record_file, run_file,
};
use trade::{
    Check,
    limits::{Side, State},
};

#[derive(Parser)]
#[command(
    name = "tinbadge",
    about = "Raised and sunken lettering on moulded and cast parts, checked on the finished solid"
)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

/// What a server or worker writes to its error output about itself.
#[derive(clap::Args)]
struct Log {
    /// From which level on: error, warn, info (every request), debug, trace.
    #[arg(long, env = "TINBADGE_LOG", default_value = "warn")]
    log: tracing::Level,
    /// As JSON, a line each.
    #[arg(long)]
    log_json: bool,
}

/// The mark of a job file that is looked at.
#[derive(clap::Args)]
struct Looked {
    /// The job file (*.tinbadge.json).
    job: PathBuf,
    /// The part file, if it doesn't lie beside the job file under the name given there.
    #[arg(long)]
    part: Option<PathBuf>,
    /// Which row of the job's roster its recipes are filled from, from 1 on.
    #[arg(long)]
    row: Option<usize>,
    /// The mark's id.
    #[arg(long)]
    mark: String,
}

impl Looked {
    fn of(&self) -> OfMark<'_> {
        let Self { job, part, row, mark } = self;
        OfMark { job, part: part.as_deref(), mark, row: *row, made: server::app::today() }
    }
}

/// A diameter in mm.
fn cutter(said: &str) -> Result<f64, String> {
    said.parse().ok().filter(|d| (0.01..=50.0).contains(d)).ok_or_else(|| "a diameter of 0.01 to 50 mm".to_owned())
}

/// A check by its name in job files and findings.
fn check(name: &str) -> Result<Check, String> {
    let known = serde_json::from_value(name.into());
    known.map_err(|_| {
        let name = |check: Check| serde_json::to_value(check).ok()?.as_str().map(str::to_owned);
        let mapped: Vec<String> = inspection::map::mapped().filter_map(name).collect();
        format!("there is no such check; those with a map are {}", mapped.join(", "))
    })
}

#[derive(Subcommand)]
enum Command {
    /// Build and inspect a job file; write marked solid, lettering and findings.
    Run {
        /// The job file (*.tinbadge.json).
        #[arg(required_unless_present = "schema")]
        job: Option<PathBuf>,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Folder for the files.
        #[arg(long, required_unless_present = "schema")]
        out: Option<PathBuf>,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
        /// Print the JSON Schema of the job file and do nothing else.
        #[arg(long)]
        schema: bool,
    },
    /// Say what would make everything pass, each change built and inspected; write the job file with it.
    Mend {
        /// The job file (*.tinbadge.json).
        job: PathBuf,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Where the mended job file is written.
        #[arg(long)]
        out: Option<PathBuf>,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
        /// How long may be searched, s.
        #[arg(long, default_value_t = 120)]
        seconds: u64,
    },
    /// Hold each letter of a job file's marks, as its shadows show it, against the others of its face.
    Read {
        /// The job file (*.tinbadge.json).
        job: PathBuf,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
    },
    /// Say what a check finds on a mark place by place over the finished solid; write it as a table.
    Map {
        #[command(flatten)]
        of: Looked,
        /// draft, uniform_depth, wall, clearance or parting.
        #[arg(long, value_parser = check)]
        check: Check,
        /// Where the table is written (CSV): a triangle a line, with the value at each corner.
        #[arg(long)]
        out: Option<PathBuf>,
    },
    /// Lay a letter of a mark flat at true size and say what is measured on it.
    Letter {
        #[command(flatten)]
        of: Looked,
        /// Its place in the mark, from 1 on, blanks not counted.
        #[arg(long)]
        letter: usize,
        /// Diameter of a cutter in the steel, mm: say what it leaves of the letter.
        #[arg(long, value_parser = cutter)]
        cutter: Option<f64>,
    },
    /// Write a job file's exact geometry as STEP: the lettering's bodies, and the part with them where it came as STEP.
    Exact {
        /// The job file (*.tinbadge.json).
        job: PathBuf,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Folder for the files.
        #[arg(long, default_value = "handoff")]
        out: PathBuf,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
        /// Application protocol AP242 in place of AP214.
        #[arg(long)]
        ap242: bool,
        /// At the steel's size: with the shrinkage of the job's material added, about the part's zero.
        #[arg(long)]
        steel: bool,
    },
    /// Write what the toolmaker makes in the steel, at the steel's size and in the coordinates of its piece of the tool: what is
    /// cut or left standing, electrodes, inserts, mirrored artwork.
    ToolSide {
        /// The job file (*.tinbadge.json).
        job: PathBuf,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Folder for the files.
        #[arg(long, default_value = "tool-side")]
        out: PathBuf,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
    },
    /// Draw the callout sheet: where each mark is, how large, how deep, which way round, with which cutter; as PDF.
    Callouts {
        /// The job file (*.tinbadge.json).
        job: PathBuf,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// The PDF file.
        #[arg(long, default_value = "callouts.pdf")]
        out: PathBuf,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
        /// For whom it is drawn.
        #[arg(long, default_value = "")]
        by: String,
        /// On A3 in place of A4.
        #[arg(long)]
        a3: bool,
        /// In third-angle projection in place of first.
        #[arg(long)]
        third_angle: bool,
        /// In inches in place of mm.
        #[arg(long)]
        inch: bool,
    },
    /// Say what changes in steel that was cut after one job file, to make it as another has it: where steel comes off, and
    /// where it must be put on.
    SteelChanges {
        /// The job file that the steel was cut after.
        before: PathBuf,
        /// The job file that it is to be like.
        after: PathBuf,
        /// The part file of both, if theirs don't lie beside them under the names given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Which row of the jobs' rosters their recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
    },
    /// Freeze a job file's inspection: write the record, all its figures as a table, and the proof as PDF.
    Record {
        /// The job file (*.tinbadge.json).
        job: PathBuf,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Folder for the files.
        #[arg(long)]
        out: PathBuf,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
        /// Who answers for it.
        #[arg(long)]
        by: String,
    },
    /// Serve the application on this machine.
    Serve {
        /// PostgreSQL, as a URL.
        #[arg(long, env = "TINBADGE_DATABASE", hide_env_values = true)]
        database: String,
        /// Port on loopback; 0 takes a free one.
        #[arg(long, default_value_t = 4173)]
        port: u16,
        /// Begin the demo's jobs if there is no job yet.
        #[arg(long)]
        demo: bool,
        /// Rows of rosters that are done here at once; as many as there are cores, if not given. With 0 they are left to
        /// `work` elsewhere.
        #[arg(long)]
        at_once: Option<usize>,
        #[command(flatten)]
        log: Log,
    },
    /// Do what servers on the same database put into the queue: rows of rosters, measured and built. Any number of
    /// machines may work at one time.
    Work {
        /// PostgreSQL, as a URL.
        #[arg(long, env = "TINBADGE_DATABASE", hide_env_values = true)]
        database: String,
        /// Rows that are done at once; as many as there are cores, if not given.
        #[arg(long)]
        at_once: Option<usize>,
        #[command(flatten)]
        log: Log,
    },
    /// Print the description of the server's HTTP interface (OpenAPI) and do nothing else.
    Describe,
    /// Write the demo's part and job files into a folder.
    DemoData { out: PathBuf },
}

/// Exit code for what could not be done at all.
const CANNOT: u8 = 2;

fn main() -> ExitCode {
    let done = match Cli::parse().command {
        Command::Run { schema: true, .. } => {
            println!("{:#}", trade::job::schema());
            Ok(0)
        }
        Command::Run { job: Some(job), part, out: Some(out), row, .. } => run(&job, part.as_deref(), &out, row),
        Command::Run { .. } => unreachable!("clap asks for job and out unless --schema is given"),
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

fn mend(
    job: &std::path::Path,
    part: Option<&std::path::Path>,
    out: Option<&std::path::Path>,
    row: Option<usize>,
    within: std::time::Duration,
) -> Result<u8, anyhow::Error> {
    let mended = mend_file(job, part, server::app::today(), row, within)?;
    let all = &mended.all;
    for mend in &all.steps {
        println!("{}: {}", mend.mark, mend.says);
    }
    for finding in &all.left {
        println!("left: {}: {} {}", finding.mark, finding.state.word(), finding.sentence);
    }
    if all.cut_short {
        println!("the search ran out of time");
    }
    if let Some(out) = out {
        std::fs::write(out, serde_json::to_vec_pretty(&mended.job)?)
            .map_err(|source| tinbadge::RunError::File { path: out.into(), source })?;
    }
    let worst = all.left.iter().map(|f| f.state).max().unwrap_or(State::Passes);
    Ok(exit_code(worst))
}

fn read(job: &std::path::Path, part: Option<&std::path::Path>, row: Option<usize>) -> Result<u8, anyhow::Error> {
    let (marks, limit) = read_file(job, part, server::app::today(), row)?;
    let mut states = Vec::new();
    for mark in &marks {
        let text = mark.text.replace('\n', " / ");
        let reading = match &mark.reading {
            Ok(reading) => reading,
            Err(why) => {
                println!("{} “{text}”: {}: {why}", mark.mark, word(State::NotChecked));
                continue;
            }
        };
        let state = limit.judge(reading.margin(), 0.0);
        states.push(state);
        println!("{} “{text}”: {}, {:.3}", mark.mark, word(state), reading.margin());
        for letter in &reading.letters {
            let state = limit.judge(letter.margin(), 0.0);
            println!("  {:14} “{}” {:.3}, next “{}”", word(state), letter.text, letter.margin(), letter.rival);
        }
        if reading.shadow > reading::LONG_SHADOW {
            println!("  its shadows are {:.1} capitals long: too tall for this size under flat light", reading.shadow);
        }
    }
    println!("from {} on it reads, below {} it doesn't: {}", limit.value + limit.margin, limit.value, limit.sheet);
    Ok(exit_code(states.into_iter().max().unwrap_or(State::NotChecked)))
}

fn run(
    job: &std::path::Path,
    part: Option<&std::path::Path>,
    out: &std::path::Path,
    row: Option<usize>,
) -> Result<u8, anyhow::Error> {
    let ran = run_file(job, part, out, server::app::today(), row)?;
    for (mark, found) in ran.job.marks.iter().zip(&ran.outcome.marks) {
        println!("{} “{}”", mark.id, mark.text.replace('\n', " / "));
        if !found.on {
            println!("  switched off");
        }
        for finding in &found.findings {
            println!("  {:14} {:?}: {}", word(finding.state), finding.check, finding.sentence);
            if let Some(waived) = &finding.waived {
                let holds = waived.lapsed.as_ref().map_or(String::new(), |why| format!("; it holds no more: {why}"));
                println!("                 waived by {} on {}: {}{holds}", waived.by, waived.on, waived.reason);
            }
        }
    }
    if !ran.outcome.marks.iter().any(|m| m.on) {
        println!("No mark is on: there was nothing to check.");
    }
    if let Some(solid) = &ran.checked.solid {
        println!("{:16} {}", word(solid.state), solid.sentence);
    }
    for path in &ran.written {
        println!("wrote {}", path.display());
        let name = path.file_name().unwrap_or_default();
        if let Some(read) = ran.checked.files.iter().find(|f| name == f.file.as_str()) {
            println!("  {:14} {}", word(read.state), read.sentence);
        }
    }
    Ok(exit_code(ran.state))
}

fn record(
    job: &std::path::Path,
    part: Option<&std::path::Path>,
    out: &std::path::Path,
    row: Option<usize>,
    by: &str,
) -> Result<u8, anyhow::Error> {
    let at = time::OffsetDateTime::now_utc();
    let (record, written) = record_file(job, part, out, by, at, server::app::today(), row)?;
    let count = |state| record.count(state);
    println!(
        "{} fail ({} waived), {} not checked, {} marginal",
        count(State::Fails),
        record.waived(),
        count(State::NotChecked),
        count(State::Marginal)
    );
    for path in written {
        println!("wrote {}", path.display());
    }
    Ok(exit_code(record.verdict))
}

/// 0 where every file could be made, else 1.
fn map(of: &Looked, check: Check, out: Option<&std::path::Path>) -> Result<u8, anyhow::Error> {
    let map = looking::map_of(&of.of(), check)?;
    let ([beyond, area], unit) = (map.beyond(), map.unit);
    let side = if map.limit.side == Side::AtLeast { "at least" } else { "at most" };
    println!("{}: {} {side} {} {unit} ({})", of.mark, check.name(), map.limit.value, map.limit.source);
    if let Some((worst, piece)) = map.worst() {
        let [x, y, z] = ((piece.corners[0] + piece.corners[1] + piece.corners[2]) / 3.0).to_array();
        println!("the worst is {worst:.3} {unit}, about x {x:.3}, y {y:.3}, z {z:.3} mm");
    }
    println!("{beyond:.3} of {area:.3} mm² don't keep the limit");
    if let Some(out) = out {
        std::fs::write(out, looking::csv(&map))
            .map_err(|source| tinbadge::RunError::File { path: out.into(), source })?;
        println!("wrote {}", out.display());
    }
    Ok(u8::from(map.pieces.iter().any(|p| p.character.is_some() && map.is_beyond(p))))
}

fn laid_flat(of: &Looked, letter: usize, cutter: Option<f64>) -> Result<u8, anyhow::Error> {
    let (flat, uncut) = looking::letter_of(&of.of(), letter, cutter)?;
    let size = |rings: &[Vec<glam::DVec2>]| {
        let points = || rings.iter().flatten().copied();
        let (low, high) = (points().reduce(glam::DVec2::min), points().reduce(glam::DVec2::max));
        low.zip(high)
            .map_or("nothing".into(), |(low, high)| format!("{:.3} × {:.3} mm", high.x - low.x, high.y - low.y))
    };
    println!("“{}” of {}", flat.text, of.mark);
    println!("top or floor {}, root or rim {}", size(&flat.top), size(&flat.root));
    if let Some(h) = flat.heights {
        println!("{:.3} mm high or deep, {:.3} to {:.3}", h.mean, h.least.0, h.greatest.0);
    }
    if let Some(stroke) = flat.stroke {
        println!("narrowest stroke {:.3} mm", stroke.width);
    }
    for space in &flat.spaces {
        println!("counter or space {:.3} mm", space.width);
    }
    for gap in &flat.gaps {
        println!("{:.3} mm to “{}”", gap.width, gap.text);
    }
    if let Some(left) = uncut {
        println!(
            "a cutter of {} mm leaves {:.4} mm² in {} places in steel × {:.4}",
            left.diameter, left.area, left.places, left.scale
        );
        println!(
            "{}",
            left.largest.map_or("every cutter leaves something".to_owned(), |largest| format!(
                "{largest:.2} mm is the largest that leaves nothing wider than 0.01 mm"
            ))
        );
    }
    Ok(0)
}

fn word(state: State) -> &'static str {
    match state {
        State::Fails => "FAILS",
        state => state.word(),
    }
}

fn demo_data(out: &std::path::Path) -> Result<u8, anyhow::Error> {
    std::fs::create_dir_all(out)?;
    for demo in demo::jobs() {
        let part = out.join(&demo.job.part.file);
        let job = part.with_extension("tinbadge.json");
        std::fs::write(&part, &demo.part)?;
        std::fs::write(&job, serde_json::to_vec_pretty(&demo.job)?)?;
        println!("wrote {} and {}", part.display(), job.display());
    }
    for (file, bytes) in demo::DRAWINGS {
        let drawing = out.join(file);
        std::fs::write(&drawing, bytes)?;
        println!("wrote {}", drawing.display());
    }
    Ok(0)
}

fn describe() -> Result<u8, anyhow::Error> {
    println!("{}", server::description().to_pretty_json()?);
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
    let ready = |port: u16| println!("Tin Badge is at http://127.0.0.1:{port}");
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
