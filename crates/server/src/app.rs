//! What the handlers share: the store, parts on their benches, the pool for heavy work, and the
//! events that windows listen to.

use crate::{
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
    pictures: Mutex<Newest<i64, Arc<Vec<u8>>>>,
    files: Mutex<Newest<Shown, Arc<handoff::Handed>>>,
    joined: Mutex<Newest<Shown, Arc<Outcome>>>,
    turns: Mutex<HashMap<Uuid, Arc<Turns>>>,
    /// Parts that are being put on their benches: who asks for the same meanwhile waits for it.
    opening: Openings,
}

/// A state of a job in one row of its roster, on a day.
type Shown = (i64, Option<u32>, time::Date);

/// The day on which what is handed off now is handed off: that of the machine's clock in its own time zone, or in the one
/// that the environment's `TZ` names. In UTC it would be the wrong one on steel for some hours of every day.
#[must_use]
pub fn today() -> time::Date {
    use chrono::Datelike;
    let here = chrono::Local::now().date_naive();
    // both calendars are proleptic Gregorian: only years beyond 9999 have no date
    let day = time::Date::from_ordinal_date(here.year(), u16::try_from(here.ordinal()).unwrap_or(1));
    day.unwrap_or_else(|_| time::OffsetDateTime::now_utc().date())
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

impl App {
    #[must_use]
    pub fn new(store: Store) -> Self {
        Self {
            store,
            events: broadcast::channel(256).0,
            readings: Readings::default(),
            meter: Meter::new(),
            pool: Pool::new(),
            benches: Mutex::new(Newest::new(BENCHES)),
            outcomes: Mutex::new(Newest::new(OUTCOMES)),
            joined: Mutex::new(Newest::new(OUTCOMES)),
            pieces: Mutex::new(Newest::new(PIECES)),
            pictures: Mutex::new(Newest::new(64)),
            files: Mutex::new(Newest::new(2)),
            turns: Mutex::default(),
            opening: Openings::default(),
        }
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
        hold(&self.benches).put(key, bench.clone());
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
        hold(&self.benches).put(key, Arc::new(Bench::new(part)));
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
        hold(&self.joined).put(shown, joined.clone());
        Ok((standing, shown, bench, joined))
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
        hold(&self.outcomes).put(shown, outcome.clone());
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
            pieces.put(name.clone(), piece);
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

    /// The picture of a state, drawn if need be.
    ///
    /// # Errors
    /// As [`App::outcome`].
    pub async fn picture(&self, id: Uuid) -> Result<Arc<Vec<u8>>, Problem> {
        let (standing, bench, outcome) = self.outcome(id, None).await?;
        if let Some(picture) = hold(&self.pictures).get(&standing.state) {
            return Ok(picture);
        }
        let on = bench.clone();
        let picture = self
            .later(on.part(), move || {
                let rest = bench.work().rest(&outcome);
                let lettering =
                    |solid: &relief::MarkedSolid, t: usize| matches!(solid.tags[t], relief::Tag::Relief { .. });
                let solids: Vec<&relief::MarkedSolid> =
                    rest.iter().chain(outcome.groups.iter().map(|g| g.shown())).collect();
                if solids.is_empty() {
                    return crate::picture::picture(&[(&bench.part().mesh, &|_| false)]);
                }
                let tones: Vec<Box<dyn Fn(usize) -> bool>> =
                    solids.iter().map(|&s| Box::new(move |t| lettering(s, t)) as Box<dyn Fn(usize) -> bool>).collect();
                let pieces: Vec<(&solid::Mesh, &dyn Fn(usize) -> bool)> =
                    solids.iter().zip(&tones).map(|(s, tone)| (&s.mesh, &**tone)).collect();
                crate::picture::picture(&pieces)
            })
            .await?;
        let picture = Arc::new(picture);
        hold(&self.pictures).put(standing.state, picture.clone());
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
            name: "job.tinbadge.json".into(),
            bytes: serde_json::to_vec_pretty(&standing.job).expect("a job has string keys and finite numbers"),
        });
        let handed = Arc::new(handed);
        hold(&self.files).put(shown, handed.clone());
        Ok((standing, handed))
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
