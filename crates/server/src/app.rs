//! What the handlers share: the store, parts on their benches, the pool for heavy work, and the
//! events that windows listen to.

pub use crate::day::today;
use crate::{
    day,
    handlers::events::Heard,
    meter::Meter,
    newest::{Newest, hold},
    problem::Problem,
    readings::Readings,
    store::{Standing, Store},
    turns::{Openings, Pool, Turns},
    verdict,
};
use sha2::{Digest, Sha256};
use solid::Part;
use std::{
    collections::HashMap,
    sync::{Arc, Mutex},
};
use tokio::sync::broadcast;
use uuid::Uuid;
use workbench::{Bench, Outcome, Scope, Steps, faces_kept, outcome::Group};

/// Parts kept in memory; the others are read again when they are required.
const BENCHES: usize = 6;
/// What is kept of each kind, bytes as they are weighed: of a process 5 GiB in all.
const BENCH_BYTES: usize = 2 << 30;
const PIECE_BYTES: usize = 1 << 30;
const OUTCOME_BYTES: usize = 768 << 20;
const FILE_BYTES: usize = 512 << 20;
/// A part on its bench, with its faces, its search trees and what was cut out of it, to its bare mesh.
const BENCH_TO_MESH: usize = 12;
/// Pieces of marked solids that can still be fetched after a newer outcome.
const PIECES: usize = 200;
const OUTCOMES: usize = 24;

pub type Shared = Arc<App>;

pub struct App {
    pub store: Store,
    pub events: broadcast::Sender<Heard>,
    pub readings: Readings,
    pub meter: Meter,
    pub(crate) pool: Pool,
    benches: Mutex<Newest<String, Arc<Bench>>>,
    outcomes: Mutex<Newest<Shown, Arc<Outcome>>>,
    pieces: Mutex<Newest<String, Piece>>,
    pictures: Mutex<Newest<StateOf, Arc<Vec<u8>>>>,
    files: Mutex<Newest<Shown, Arc<handoff::Handed>>>,
    pub(crate) exact: Mutex<Newest<crate::exact::Wanted, Arc<handoff::exact::Exact>>>,
    pub(crate) tool_sides: Mutex<Newest<Shown, Arc<handoff::tool_side::ToolSide>>>,
    /// By the state that they are held against.
    pub(crate) changes: Mutex<Newest<(Shown, i64), Arc<crate::steel::SteelChanges>>>,
    joined: Mutex<Newest<Shown, Arc<Outcome>>>,
    turns: Mutex<HashMap<Uuid, Arc<Turns>>>,
    /// Parts that are being put on their benches: who asks for the same meanwhile waits for it.
    opening: Openings,
}

/// A state of a job.
type StateOf = (Uuid, i64);

/// A state of a job in one row of its roster, on a day.
pub(crate) type Shown = (i64, Option<u32>, time::Date);

/// A mark of a job as it stands, on the finished solid.
pub struct OnMark {
    pub standing: Standing,
    pub row: Option<u32>,
    pub bench: Arc<Bench>,
    pub joined: Arc<Outcome>,
    /// Its place in the job.
    pub at: usize,
}

/// Something that is drawn.
#[derive(Clone)]
pub enum Piece {
    Group(Arc<Group>, Arc<Bench>),
    /// The part without the groups' blocks.
    Rest(Arc<Outcome>, Arc<Bench>),
}

/// The name under which a piece is fetched.
#[must_use]
pub fn piece_name(part: &Part, key: &str) -> String {
    let taken: Vec<bool> = part.bodies.iter().map(|b| b.taken).collect();
    let digest = Sha256::new()
        .chain_update(&part.sha256)
        .chain_update(format!(
            "{:?} {taken:?} {:?} {:?} {:?}",
            part.unit, part.mended, part.surface_body, part.face_mends
        ))
        .chain_update(key)
        .finalize();
    digest.iter().take(16).map(|b| format!("{b:02x}")).collect()
}

/// Tells parts apart that are read differently from one file.
fn bench_key(sha256: &str, part: &trade::PartRef) -> String {
    format!("{sha256} {:?} {:?} {:?} {:?} {:?}", part.unit, part.bodies, part.mends, part.surface_body, part.face_mends)
}

fn bench_bytes(part: &Part) -> usize {
    BENCH_TO_MESH * part.mesh.bytes()
}

impl App {
    #[must_use]
    pub fn new(store: Store) -> Self {
        Self {
            store,
            events: broadcast::channel(256).0,
            readings: Readings::default(),
            meter: Meter::new(),
            pool: Pool::new(),
            benches: Mutex::new(Newest::weighed(BENCHES, BENCH_BYTES)),
            outcomes: Mutex::new(Newest::weighed(OUTCOMES, OUTCOME_BYTES)),
            joined: Mutex::new(Newest::weighed(OUTCOMES, OUTCOME_BYTES)),
            pieces: Mutex::new(Newest::weighed(PIECES, PIECE_BYTES)),
            pictures: Mutex::new(Newest::new(64)),
            files: Mutex::new(Newest::weighed(2, FILE_BYTES)),
            exact: Mutex::new(Newest::weighed(4, FILE_BYTES)),
            tool_sides: Mutex::new(Newest::weighed(2, FILE_BYTES)),
            changes: Mutex::new(Newest::weighed(4, FILE_BYTES)),
            turns: Mutex::default(),
            opening: Openings::default(),
        }
    }

    /// Takes the shop's time zone as it is set now.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn read_zone(&self) -> Result<(), Problem> {
        day::set_zone(self.store.zone().await?.0);
        Ok(())
    }

    /// The part of a job on its bench; the job names the faces by the numbers that they have there.
    ///
    /// # Errors
    /// The part file is missing or can't be read.
    pub async fn bench(&self, job: &mut trade::Job) -> Result<Arc<Bench>, Problem> {
        let bench = self.bench_of(&job.part).await?;
        faces_kept::find_again(job, &*bench);
        Ok(bench)
    }

    /// A job that is about to be kept, with the places of the faces that it names.
    ///
    /// # Errors
    /// As [`App::bench`].
    pub async fn placed(&self, mut job: trade::Job) -> Result<trade::Job, Problem> {
        let bench = self.bench_of(&job.part).await?;
        faces_kept::place(&mut job, &*bench);
        Ok(job)
    }

    /// A part on its bench.
    ///
    /// # Errors
    /// As [`App::bench`].
    pub async fn bench_of(&self, wanted: &trade::PartRef) -> Result<Arc<Bench>, Problem> {
        let sha256 = wanted.sha256.clone().ok_or_else(|| Problem::Missing("The job names no part file.".into()))?;
        let key = bench_key(&sha256, wanted);
        if let Some(bench) = hold(&self.benches).get(&key) {
            return Ok(bench);
        }
        let opening = self.opening.of(&key);
        let _turn = opening.turn().await;
        if let Some(bench) = hold(&self.benches).get(&key) {
            return Ok(bench);
        }
        let wanted = wanted.clone();
        let bench = if let Some((like, done)) = self.alike(&sha256, &wanted) {
            self.heavy(move || like.face_mended(&wanted.face_mends[done..])).await??
        } else {
            let bytes = self.store.kept(&sha256).await?;
            Bench::new(self.read_apart(None, move |reading| reader::part(&bytes, &wanted, reading)).await??)
        };
        let bench = Arc::new(bench);
        hold(&self.benches).put_weighed(key, bench.clone(), bench_bytes(bench.part()));
        Ok(bench)
    }

    /// A bench with the same part before its last faces were joined or divided by hand, and how many of
    /// these mends it has: it spares reading the file again.
    fn alike(&self, sha256: &str, wanted: &trade::PartRef) -> Option<(Arc<Bench>, usize)> {
        let mut benches = hold(&self.benches);
        (0..wanted.face_mends.len()).rev().find_map(|done| {
            let mut part = wanted.clone();
            part.face_mends.truncate(done);
            Some((benches.get(&bench_key(sha256, &part))?, done))
        })
    }

    /// Reads a part for a request that waits for it; where the request ends before, so does the reading.
    ///
    /// # Errors
    /// What is wrong with the file.
    pub async fn read(
        &self,
        bytes: axum::body::Bytes,
        wanted: trade::PartRef,
        ticket: Option<Uuid>,
    ) -> Result<Part, Problem> {
        Ok(self.read_apart(ticket, move |reading| reader::part(&bytes, &wanted, reading)).await??)
    }

    /// Puts a part that was just read on its bench, so that it is not read again.
    pub fn put_on_bench(&self, wanted: &trade::PartRef, part: Part) {
        let key = bench_key(&part.sha256, wanted);
        let bytes = bench_bytes(&part);
        hold(&self.benches).put_weighed(key, Arc::new(Bench::new(part)), bytes);
    }

    pub(crate) fn turns(&self, id: Uuid) -> Arc<Turns> {
        hold(&self.turns).entry(id).or_default().clone()
    }

    /// A job as it stands in a row of its roster; without a row, in the first: its marks say what they say there.
    ///
    /// # Errors
    /// No such job or row, or the database does not answer.
    pub async fn standing(&self, id: Uuid, row: Option<u32>) -> Result<(Standing, Shown), Problem> {
        let mut standing = self.store.standing(id).await?;
        if row.is_some_and(|row| standing.job.roster.row(row).is_none()) {
            return Err(Problem::Missing("That row of the roster is gone; somebody else may have removed it.".into()));
        }
        let (row, day) = (row.or(standing.job.first_row()), today());
        standing.job.fill(row, day);
        let shown = (standing.state, row, day);
        Ok((standing, shown))
    }

    /// The marked solid of a job as it stands when its turn comes, not inspected yet: a newer change overtakes
    /// an older one that still waits.
    ///
    /// # Errors
    /// No such job or row, its part can't be read, or the database does not answer.
    pub async fn joined(
        &self,
        id: Uuid,
        row: Option<u32>,
    ) -> Result<(Standing, Shown, Arc<Bench>, Arc<Outcome>), Problem> {
        let turns = self.turns(id);
        let _turn = turns.joining.lock().await;
        let (mut standing, shown) = self.standing(id, row).await?;
        let bench = self.bench(&mut standing.job).await?;
        if let Some(joined) = hold(&self.joined).get(&shown) {
            return Ok((standing, shown, bench, joined));
        }
        let (job, on) = (standing.job.clone(), bench.clone());
        let joined = Arc::new(self.heavy_on(bench.part(), move || on.joined(&job, Scope::NearMarks)).await?);
        hold(&self.joined).put_weighed(shown, joined.clone(), joined.bytes());
        Ok((standing, shown, bench, joined))
    }

    /// A mark of a job as [`App::joined`] has it, by its id.
    ///
    /// # Errors
    /// As [`App::joined`], or the job has no such mark.
    pub async fn on_mark(&self, id: Uuid, row: Option<u32>, mark: &str) -> Result<OnMark, Problem> {
        let (standing, (_, row, _), bench, joined) = self.joined(id, row).await?;
        let at = standing.job.marks.iter().position(|m| m.id == mark);
        let at = at.ok_or_else(|| Problem::Missing(format!("The job has no mark “{mark}” any more.")))?;
        Ok(OnMark { standing, row, bench, joined, at })
    }

    /// The same with all findings.
    ///
    /// # Errors
    /// As [`App::joined`].
    pub async fn outcome(&self, id: Uuid, row: Option<u32>) -> Result<(Standing, Arc<Bench>, Arc<Outcome>), Problem> {
        let turns = self.turns(id);
        let _turn = turns.inspecting.lock().await;
        let (standing, shown, bench, joined) = self.joined(id, row).await?;
        if let Some(outcome) = hold(&self.outcomes).get(&shown) {
            return Ok((standing, bench, outcome));
        }
        let (job, on) = (standing.job.clone(), bench.clone());
        let inspected = move || {
            let mut outcome = (*joined).clone();
            on.inspect(&job, &mut outcome);
            outcome
        };
        let outcome = Arc::new(self.later(bench.part(), inspected).await?);
        hold(&self.outcomes).put_weighed(shown, outcome.clone(), outcome.bytes());
        // the list of jobs tells of the first row
        if shown.1 == standing.job.first_row() {
            self.store.keep_inspection(id, verdict::of(&standing, &outcome)).await?;
        }
        Ok((standing, bench, outcome))
    }

    /// Names under which the pieces of an outcome can be fetched: the rest of the part first.
    #[must_use]
    pub fn offer(&self, bench: &Arc<Bench>, outcome: &Arc<Outcome>) -> Vec<String> {
        let mut pieces = hold(&self.pieces);
        let blocks: Vec<_> = outcome.groups.iter().map(|g| g.block.map(|b| (b.low, b.high))).collect();
        let mut names = Vec::new();
        let mut offer = |key: &str, piece: Piece| {
            let name = piece_name(bench.part(), key);
            let bytes = match &piece {
                Piece::Group(group, _) => group.bytes(),
                // it is cut out of the whole part
                Piece::Rest(_, bench) => bench.part().mesh.bytes(),
            };
            pieces.put_weighed(name.clone(), piece, bytes);
            names.push(name);
        };
        offer(&format!("rest {blocks:?}"), Piece::Rest(outcome.clone(), bench.clone()));
        for group in &outcome.groups {
            offer(&group.key, Piece::Group(group.clone(), bench.clone()));
        }
        names
    }

    #[must_use]
    pub fn piece(&self, name: &str) -> Option<Piece> {
        hold(&self.pieces).get(&name.to_owned())
    }

    /// The picture of a state of a job, of the present one where none is named; drawn if need be.
    ///
    /// # Errors
    /// As [`App::outcome`], or the job has no such state.
    pub async fn picture(&self, id: Uuid, state: Option<i64>) -> Result<Arc<Vec<u8>>, Problem> {
        if let Some(picture) = state.and_then(|state| hold(&self.pictures).get(&(id, state))) {
            return Ok(picture);
        }
        let present = self.store.standing(id).await?.state;
        let (state, bench, outcome) = match state.filter(|state| *state != present) {
            Some(state) => {
                let mut job = self.store.state_of(id, state).await?.0;
                job.fill(job.first_row(), today());
                let bench = self.bench(&mut job).await?;
                let on = bench.clone();
                let joined = self.later(bench.part(), move || on.joined(&job, Scope::NearMarks)).await?;
                (state, bench, Arc::new(joined))
            }
            None => {
                let (standing, bench, outcome) = self.outcome(id, None).await?;
                (standing.state, bench, outcome)
            }
        };
        if let Some(picture) = hold(&self.pictures).get(&(id, state)) {
            return Ok(picture);
        }
        let on = bench.clone();
        let picture = Arc::new(self.later(bench.part(), move || crate::picture::of_outcome(&on, &outcome)).await?);
        hold(&self.pictures).put((id, state), picture.clone());
        Ok(picture)
    }

    /// The files of the handoff of a job as it stands.
    ///
    /// # Errors
    /// As [`App::joined`], or nothing could be built.
    pub async fn files(&self, id: Uuid, row: Option<u32>) -> Result<(Standing, Arc<handoff::Handed>), Problem> {
        // turns are kept for jobs that there are
        self.store.standing(id).await?;
        let turns = self.turns(id);
        let _turn = turns.handing.lock().await;
        let (mut standing, shown) = self.standing(id, row).await?;
        let bench = self.bench(&mut standing.job).await?;
        if let Some(handed) = hold(&self.files).get(&shown) {
            return Ok((standing, handed));
        }
        let (job, on) = (standing.job.clone(), bench.clone());
        let mut handed = self
            .later(on.part(), move || handoff::files(&job, &bench, &shown.2.to_string()))
            .await?
            .map_err(|e| Problem::Wrong(crate::problem::sentence(&e.to_string())))?;
        handed.files.push(handoff::Named {
            name: crate::handlers::job_files::JOB_FILE.into(),
            bytes: serde_json::to_vec_pretty(&standing.job).expect("a job has string keys and finite numbers"),
        });
        let handed = Arc::new(handed);
        let bytes = handed.files.iter().map(|file| file.bytes.len()).sum();
        hold(&self.files).put_weighed(shown, handed.clone(), bytes);
        Ok((standing, handed))
    }

    /// The part's file as it came, for whoever runs the job file beside it.
    ///
    /// # Errors
    /// It is missing in the database.
    pub async fn part_file(&self, job: &trade::Job) -> Result<handoff::Named, Problem> {
        let bytes = self.store.kept(job.part.sha256.as_deref().unwrap_or_default()).await?;
        // a name alone, whatever path came with it
        let name = std::path::Path::new(&job.part.file).file_name();
        Ok(handoff::Named { name: name.map_or_else(|| "part".into(), |n| n.to_string_lossy().into_owned()), bytes })
    }

    /// Starts the inspection of a job without waiting for it.
    pub fn inspect_later(self: &Arc<Self>, id: Uuid) {
        let app = self.clone();
        tokio::spawn(async move {
            if let Err(problem) = app.outcome(id, None).await {
                tracing::warn!("job {id} was not inspected: {problem}");
            }
        });
    }
}
