//! What can be asked on the command line.

use clap::Subcommand;
use std::path::PathBuf;
use tinbadge::looking::OfMark;
use trade::{Check, Unit};

/// What a server or worker writes to its error output about itself.
#[derive(clap::Args)]
pub struct Log {
    /// From which level on: error, warn, info (every request), debug, trace.
    #[arg(long, env = "TINBADGE_LOG", default_value = "warn")]
    pub log: tracing::Level,
    /// As JSON, a line each.
    #[arg(long)]
    pub log_json: bool,
}

/// The mark of a job file that is looked at.
#[derive(clap::Args)]
pub struct Looked {
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
    pub mark: String,
}

impl Looked {
    pub fn of(&self) -> OfMark<'_> {
        let Self { job, part, row, mark } = self;
        OfMark { job, part: part.as_deref(), mark, row: *row, made: server::app::today() }
    }
}

/// A diameter in mm.
fn cutter(said: &str) -> Result<f64, String> {
    said.parse().ok().filter(|d| (0.01..=50.0).contains(d)).ok_or_else(|| "a diameter of 0.01 to 50 mm".to_owned())
}

/// A unit by its name in job files.
fn unit(name: &str) -> Result<Unit, String> {
    serde_json::from_value(name.into()).map_err(|_| "mm, cm, m, inch, foot or micron".to_owned())
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
pub enum Command {
    /// Build and inspect a job file; write marked solid, lettering and findings.
    Run {
        /// The job file (*.tinbadge.json).
        #[arg(required_unless_present = "schema")]
        job: Option<PathBuf>,
        /// The part file, if it doesn't lie beside the job file under the name given there.
        #[arg(long)]
        part: Option<PathBuf>,
        /// Folder for the files.
        #[arg(long, required_unless_present_any = ["schema", "dry"])]
        out: Option<PathBuf>,
        /// Say where each mark would lie; build nothing, write nothing.
        #[arg(long)]
        dry: bool,
        /// With --dry: say of each mark's strip where its zero is, where it points, and from where to where it reaches.
        #[arg(long, requires = "dry")]
        explain: bool,
        /// Which row of the job's roster its recipes are filled from, from 1 on.
        #[arg(long)]
        row: Option<usize>,
        /// Print the JSON Schema of the job file and do nothing else.
        #[arg(long)]
        schema: bool,
    },
    /// Say which faces a part has: number, kind and what it measures, area, box.
    Faces {
        /// The part file.
        part: PathBuf,
        /// The unit that it is drawn in, where the file doesn't say: mm, cm, m, inch, foot or micron.
        #[arg(long, value_parser = unit)]
        unit: Option<Unit>,
        /// As JSON, with all that is known of each.
        #[arg(long)]
        json: bool,
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
