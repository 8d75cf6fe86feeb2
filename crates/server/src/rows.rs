//! All rows of a roster measured, or their files built: in the background, two at a time, each kept as soon as it is
//! done. What was done before an end or a stop is not done again, nor what a change of the job leaves alone.

use crate::{
    app::{App, today},
    newest::hold,
    problem::{Problem, sentence},
    store::{Happened, Standing, Told},
};
use futures::{StreamExt, stream};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::{
    collections::{HashMap, HashSet},
    io::Write,
    sync::{
        Arc,
        atomic::{AtomicBool, AtomicUsize, Ordering},
    },
};
use trade::{Job, RowFile, RowFiles, ToolPlate};
use utoipa::ToSchema;
use uuid::Uuid;
use workbench::{
    Bench, Scope,
    rows::{RowFound, found},
};
use zip::{CompressionMethod, write::SimpleFileOptions};

/// What is to be done for every row.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Work {
    Measure,
    /// Measured on the whole solid, and its files kept.
    Build,
}

/// A run over all rows of a job.
pub struct Run {
    pub work: Work,
    done: AtomicUsize,
    total: AtomicUsize,
    stop: AtomicBool,
}

impl Run {
    /// How many of how many.
    #[must_use]
    pub fn progress(&self) -> (usize, usize) {
        (self.done.load(Ordering::Relaxed), self.total.load(Ordering::Relaxed))
    }
}

/// What is kept of a row.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub struct Kept {
    pub found: Option<RowFound>,
    /// Names of the files that were asked for.
    pub asked: Vec<String>,
    /// Why it could not be done.
    pub problem: Option<String>,
}

/// A row as it is to be done.
pub struct Planned {
    pub row: u32,
    /// Of all that it is made from.
    pub digest: String,
    /// Filled from the row; it has no roster.
    pub job: Job,
}

/// Every row of a job as it is on a day.
#[must_use]
pub fn plan(job: &Job, day: time::Date) -> Vec<Planned> {
    let mut bare = job.clone();
    bare.row_files = RowFiles::default();
    bare.tool_plate = ToolPlate::default();
    // marks hold the faces that they are lettered in; thousands of rows need not
    let mut faces = std::mem::take(&mut bare.own_faces);
    faces.retain(|f| bare.marks.iter().any(|m| m.lettering.face == f.name));
    let faces = serde_json::to_vec(&faces).expect("a face has string keys and finite numbers");
    let planned = |row: &trade::Row| {
        let mut job = bare.filled_from(Some(row), day);
        // the texts are made: how no longer matters
        job.roster = Arc::default();
        job.revision = None;
        for mark in &mut job.marks {
            mark.recipe.clear();
            mark.columns_mut().for_each(String::clear);
        }
        let unsaid: Vec<_> = job.marks.iter().map(|m| &m.unsaid).collect();
        let digest = Sha256::new()
            .chain_update(env!("CARGO_PKG_VERSION"))
            .chain_update(serde_json::to_vec(&job).expect("a job has string keys and finite numbers"))
            .chain_update(&faces)
            .chain_update(format!("{unsaid:?}"))
            .finalize();
        Planned { row: row.id, digest: digest.iter().map(|b| format!("{b:02x}")).collect(), job }
    };
    job.roster.rows.iter().map(planned).collect()
}

/// Names in the handoff of the files that a job wants of each row.
#[must_use]
pub fn wanted(job: &Job, bench: &Bench) -> Vec<String> {
    let sheet = bench.part().sheet.is_some();
    RowFile::ALL
        .into_iter()
        .filter(|kind| job.row_files.kinds.contains(kind))
        .filter_map(|kind| kind.handed_as(sheet).map(str::to_owned))
        .collect()
}

impl Kept {
    /// Is nothing left to do?
    #[must_use]
    pub fn is_done(&self, work: Work, wanted: &[String]) -> bool {
        match work {
            _ if self.problem.is_some() && self.found.is_none() => true,
            Work::Measure => self.found.is_some(),
            Work::Build => wanted.iter().all(|name| self.asked.contains(name)),
        }
    }
}

impl App {
    #[must_use]
    pub fn run_of(&self, id: Uuid) -> Option<Arc<Run>> {
        hold(&self.runs).get(&id).cloned()
    }

    /// Begins a run over the rows that are not done yet.
    ///
    /// # Errors
    /// One is under way, or there is no such job or no row.
    pub async fn begin_rows(self: &Arc<Self>, id: Uuid, work: Work) -> Result<(), Problem> {
        let standing = self.store.standing(id).await?;
        if standing.job.roster.rows.is_empty() {
            return Err(Problem::Wrong("The roster has no rows yet.".into()));
        }
        let run =
            Arc::new(Run { work, done: AtomicUsize::new(0), total: AtomicUsize::new(0), stop: AtomicBool::new(false) });
        {
            let mut runs = hold(&self.runs);
            if runs.contains_key(&id) {
                return Err(Problem::Wrong("The rows are being worked on already; wait for it or stop it.".into()));
            }
            runs.insert(id, run.clone());
        }
        let app = self.clone();
        tokio::spawn(async move {
            let ended = app.run_rows(id, &run).await;
            hold(&app.runs).remove(&id);
            if let Err(problem) = ended {
                tracing::warn!("the rows of job {id}: {problem}");
            }
            app.tell_rows(id, standing.state);
        });
        Ok(())
    }

    /// Stops the run of a job, if there is one; rows that are done stay so.
    pub fn stop_rows(&self, id: Uuid) {
        if let Some(run) = self.run_of(id) {
            run.stop.store(true, Ordering::Relaxed);
        }
    }

    fn tell_rows(&self, job: Uuid, state: i64) {
        // nobody listening is no fault
        let _ = self.events.send(Told { job, state, what: Happened::Rows });
    }

    async fn run_rows(&self, id: Uuid, run: &Run) -> Result<(), Problem> {
        let at_once = std::thread::available_parallelism().map_or(2, usize::from);
        'anew: loop {
            let standing = self.store.standing(id).await?;
            let bench = self.bench(&standing.job).await?;
            let wanted = wanted(&standing.job, &bench);
            let planned = self.planned(&standing).await?;
            let digests: Vec<String> = planned.iter().map(|p| p.digest.clone()).collect();
            self.store.forget_rows(id, &digests).await?;
            let kept = self.store.kept_rows(id).await?;
            let mut seen = HashSet::new();
            let all = planned.into_iter().filter(|p| seen.insert(p.digest.clone()));
            let (done, open): (Vec<_>, Vec<_>) =
                all.partition(|p| kept.get(&p.digest).is_some_and(|k| k.is_done(run.work, &wanted)));
            run.done.store(done.len(), Ordering::Relaxed);
            run.total.store(done.len() + open.len(), Ordering::Relaxed);
            self.tell_rows(id, standing.state);
            let each = open.into_iter().map(|planned| self.one_row(id, &bench, planned, run.work, &wanted));
            let mut works = stream::iter(each).buffer_unordered(at_once);
            while let Some(done) = works.next().await {
                done?;
                run.done.fetch_add(1, Ordering::Relaxed);
                self.tell_rows(id, standing.state);
                if run.stop.load(Ordering::Relaxed) {
                    return Ok(());
                }
                if self.store.standing(id).await?.state != standing.state {
                    continue 'anew;
                }
            }
            return Ok(());
        }
    }

    /// Every row of a job as it is today.
    ///
    /// # Errors
    /// Working it out failed.
    pub async fn planned(&self, standing: &Standing) -> Result<Vec<Planned>, Problem> {
        let job = standing.job.clone();
        self.heavy(move || plan(&job, today())).await
    }

    async fn one_row(
        &self,
        id: Uuid,
        bench: &Arc<Bench>,
        planned: Planned,
        work: Work,
        wanted: &[String],
    ) -> Result<(), Problem> {
        let Planned { digest, job, .. } = planned;
        let (on, names) = (bench.clone(), wanted.to_vec());
        let made = self
            .heavy(move || match work {
                Work::Measure => {
                    let found = found(&job, &on.outcome(&job, Scope::NearMarks));
                    (Kept { found: Some(found), ..Kept::default() }, Vec::new())
                }
                Work::Build => {
                    let chosen =
                        handoff::chosen(&job, &on, &today().to_string(), &|name| names.iter().any(|n| n == name));
                    match chosen {
                        Ok((files, outcome)) => {
                            (Kept { found: Some(found(&job, &outcome)), asked: names, problem: None }, files)
                        }
                        Err(problem) => {
                            // what was measured is told; of the files there are none
                            let found = found(&job, &on.outcome(&job, Scope::NearMarks));
                            let problem = Some(sentence(&problem.to_string()));
                            (Kept { found: Some(found), asked: names, problem }, Vec::new())
                        }
                    }
                }
            })
            .await;
        let (kept, files) = match made {
            Ok(made) => made,
            // a fault of the program ends this row only
            Err(problem) => (Kept { problem: Some(problem.to_string()), ..Kept::default() }, Vec::new()),
        };
        self.store.keep_row(id, &digest, &kept, files).await
    }

    /// The files of all rows in one archive, with the roster, where each row's name and worst finding stand beside its
    /// cells.
    ///
    /// # Errors
    /// Rows are not built yet, have no name of their own, or the database does not answer.
    pub async fn rows_archive(&self, id: Uuid) -> Result<(Standing, std::fs::File), Problem> {
        let standing = self.store.standing(id).await?;
        let bench = self.bench(&standing.job).await?;
        let wanted = wanted(&standing.job, &bench);
        let planned = self.planned(&standing).await?;
        let kept = self.store.kept_rows(id).await?;
        let open = planned.iter().filter(|p| !kept.get(&p.digest).is_some_and(|k| k.is_done(Work::Build, &wanted)));
        let open = open.count();
        if open > 0 {
            return Err(Problem::Wrong(format!(
                "{open} of {} rows are not built as the job stands now. Build them first.",
                planned.len()
            )));
        }
        let names = standing.job.file_names(today());
        if let Some((at, why)) = names.iter().enumerate().find_map(|(at, n)| Some((at, n.as_ref().err()?))) {
            return Err(Problem::Wrong(format!("Row {} has no name for its files: {why}.", at + 1)));
        }
        let names: Vec<String> = names.into_iter().flatten().collect();
        let failed = |e: &dyn std::fmt::Display| Problem::Wrong(format!("The archive could not be written: {e}."));
        let file = tempfile::tempfile().map_err(|e| failed(&e))?;
        let mut writer = zip::ZipWriter::new(file);
        let sheet = bench.part().sheet.is_some();
        let endings: HashMap<&str, &str> =
            RowFile::ALL.iter().filter_map(|kind| Some((kind.handed_as(sheet)?, kind.ending()))).collect();
        for (planned, name) in planned.iter().zip(&names) {
            let mut files = self.store.row_files(id, &planned.digest).await?;
            files.retain(|f| wanted.contains(&f.name));
            for file in &mut files {
                file.name = format!("{name}{}", endings.get(file.name.as_str()).copied().unwrap_or_default());
            }
            writer = self.heavy(move || put(writer, &files)).await?.map_err(|e| failed(&e))?;
        }
        let list = list(&standing.job, &names, &planned, &kept);
        let mut last = vec![
            handoff::Named { name: "rows.csv".into(), bytes: roster::csv::write(&list) },
            handoff::Named {
                name: "job.tinbadge.json".into(),
                bytes: serde_json::to_vec_pretty(&standing.job).expect("a job has string keys and finite numbers"),
            },
        ];
        if let Some(bytes) = handoff::tool_plate::svg(&standing.job, &bench.part().mesh) {
            last.push(handoff::Named { name: "tool-plate.svg".into(), bytes });
        }
        let written = self.heavy(move || put(writer, &last).and_then(zip::ZipWriter::finish)).await?;
        Ok((standing, written.map_err(|e| failed(&e))?))
    }
}

type Archive = zip::ZipWriter<std::fs::File>;

fn put(mut archive: Archive, files: &[handoff::Named]) -> Result<Archive, zip::result::ZipError> {
    for file in files {
        // packed already
        let packed = file.name.ends_with(".3mf");
        let method = if packed { CompressionMethod::Stored } else { CompressionMethod::Deflated };
        archive.start_file(&file.name, SimpleFileOptions::default().compression_method(method))?;
        archive.write_all(&file.bytes)?;
    }
    Ok(archive)
}

/// The roster with what became of each row.
fn list(job: &Job, names: &[String], planned: &[Planned], kept: &HashMap<String, Kept>) -> trade::Roster {
    let mut list = trade::Roster::clone(&job.roster);
    for head in ["files called", "worst finding"] {
        let mut name = head.to_owned();
        while list.column(&name).is_some() {
            name.push('*');
        }
        list.columns.push(trade::Column { name, kind: trade::ColumnKind::Text });
    }
    for ((row, name), planned) in list.rows.iter_mut().zip(names).zip(planned) {
        let kept = kept.get(&planned.digest);
        let worst = || {
            let marks = kept.and_then(|k| k.found.as_ref()).map(|f| f.marks.as_slice()).unwrap_or_default();
            let mark = marks.iter().filter(|m| m.worst.is_some()).max_by_key(|m| m.state)?;
            Some(format!("{}: {}", mark.mark, mark.worst.as_ref()?.sentence))
        };
        let holds = if kept.is_some() { "all hold" } else { "not measured" };
        row.cells.push(name.clone());
        row.cells.push(kept.and_then(|k| k.problem.clone()).or_else(worst).unwrap_or_else(|| holds.into()));
    }
    list
}

#[cfg(test)]
mod tests {
    use super::*;
    use trade::{Column, ColumnKind, Mark, Piece, Roster, Row, recipe::PieceOf};

    const DAY: time::Date = time::macros::date!(2026 - 11 - 26);

    fn job(cells: &[[&str; 2]]) -> Job {
        let column = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
        let row = |(at, cells): (usize, &[&str; 2])| Row { id: at as u32, cells: cells.map(str::to_owned).to_vec() };
        let roster = Roster {
            columns: vec![column("cavity"), column("note")],
            rows: cells.iter().enumerate().map(row).collect(),
        };
        let recipe = vec![Piece::plain(PieceOf::Column { column: "cavity".into() })];
        Job { roster: roster.into(), marks: vec![Mark { id: "c".into(), recipe, ..Mark::default() }], ..Job::default() }
    }

    #[test]
    fn rows_that_say_the_same_are_done_once_whatever_else_stands_in_them() {
        let digests = |job: &Job| plan(job, DAY).into_iter().map(|p| p.digest).collect::<Vec<_>>();
        let before = digests(&job(&[["1", "a"], ["2", "b"], ["1", "c"]]));
        assert_eq!(before[0], before[2]);
        assert_ne!(before[0], before[1]);
        // a row more, a note, and how files are called leave them alone; a text and a size don't
        let mut other = job(&[["1", "x"], ["3", "b"], ["9", ""]]);
        other.row_files.kinds = vec![RowFile::SolidStl];
        let after = digests(&other);
        assert_eq!(before[0], after[0]);
        assert_ne!(before[1], after[1]);
        other.marks[0].lettering.cap_height += 0.1;
        assert_ne!(digests(&other)[0], after[0]);
        // a face of the shop's own counts where a mark is lettered in it
        let face = |blank: f64| trade::OwnFace { name: "Bars".into(), file: "".into(), letters: Vec::new(), blank };
        let before = digests(&other);
        other.own_faces = vec![face(40.0)];
        assert_eq!(digests(&other), before);
        other.marks[0].lettering.face = "Bars".into();
        other.hold_faces();
        let lettered = plan(&other, DAY);
        assert!(lettered[0].job.own_faces.is_empty() && lettered[0].job.marks[0].lettering.own.is_some());
        other.own_faces[0].blank = 50.0;
        assert_ne!(digests(&other)[0], lettered[0].digest);
        // without a text: for a reason
        let none = digests(&job(&[["", "a"], ["1", "a"]]));
        assert_ne!(none[0], none[1]);
    }

    #[test]
    fn a_row_is_done_when_it_was_measured_and_all_files_that_are_wanted_were_asked_for() {
        let files = |names: &[&str]| names.iter().map(|n| (*n).to_owned()).collect::<Vec<_>>();
        let found = Some(RowFound { marks: Vec::new() });
        let measured = Kept { found: found.clone(), ..Kept::default() };
        assert!(measured.is_done(Work::Measure, &[]));
        assert!(!measured.is_done(Work::Build, &files(&["a.stl"])));
        let built = Kept { found, asked: files(&["a.stl", "b.stl"]), problem: None };
        assert!(built.is_done(Work::Build, &files(&["a.stl"])));
        assert!(!built.is_done(Work::Build, &files(&["a.stl", "c.stl"])));
        // a fault of the program is not met again and again
        assert!(
            Kept { problem: Some("it stopped".into()), ..Kept::default() }.is_done(Work::Build, &files(&["a.stl"]))
        );
    }

    #[test]
    fn the_list_tells_each_rows_name_and_worst_finding_beside_its_cells() {
        let mut job = job(&[["1", "a"], ["2", "b"]]);
        Arc::make_mut(&mut job.roster).columns[1].name = "files called".into();
        let planned = plan(&job, DAY);
        let kept =
            HashMap::from([(planned[1].digest.clone(), Kept { problem: Some("No.".into()), ..Kept::default() })]);
        let list = list(&job, &["P 1".into(), "P 2".into()], &planned, &kept);
        assert_eq!(list.columns[2].name, "files called*");
        assert_eq!(list.rows[0].cells, ["1", "a", "P 1", "not measured"]);
        assert_eq!(list.rows[1].cells, ["2", "b", "P 2", "No."]);
    }
}
