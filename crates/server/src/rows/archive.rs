//! The files of all rows in one archive.

use super::kept::Kept;
use super::kept::Work;
use super::plan::{Planned, wanted};
use crate::{
    app::{App, today},
    problem::Problem,
    store::Standing,
};
use std::{collections::HashMap, io::Write};
use trade::{Job, RowFile};
use uuid::Uuid;
use workbench::Steps;
use zip::{CompressionMethod, write::SimpleFileOptions};

impl App {
    /// The files of all rows in one archive, with the roster, where each row's name and worst finding stand beside its
    /// cells.
    ///
    /// # Errors
    /// Rows are not built yet, have no name of their own, or the database does not answer.
    pub async fn rows_archive(&self, id: Uuid) -> Result<(Standing, std::fs::File), Problem> {
        let mut standing = self.store.standing(id).await?;
        let bench = self.bench(&mut standing.job).await?;
        let wanted = wanted(&standing.job, &bench);
        let planned = self.planned(&standing, today()).await?;
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
        let part = self.part_file(&standing.job).await?;
        let failed = |e: &dyn std::fmt::Display| Problem::Wrong(format!("The archive could not be written: {e}."));
        let file = tempfile::tempfile().map_err(|e| failed(&e))?;
        let mut writer = zip::ZipWriter::new(file);
        let surface_body = bench.part().surface_body.is_some();
        let endings: HashMap<&str, &str> =
            RowFile::ALL.iter().filter_map(|kind| Some((kind.handed_as(surface_body)?, kind.ending()))).collect();
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
            part,
            handoff::Named { name: "rows.csv".into(), bytes: roster::csv::write(&list) },
            handoff::Named {
                name: crate::handlers::job_files::JOB_FILE.into(),
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
pub(super) fn list(job: &Job, names: &[String], planned: &[Planned], kept: &HashMap<String, Kept>) -> trade::Roster {
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
            let called = if mark.text.trim().is_empty() { &mark.mark } else { &mark.text.replace('\n', " / ") };
            Some(format!("{called}: {}", mark.worst.as_ref()?.sentence))
        };
        let holds = if kept.is_some() { "all hold" } else { "not measured" };
        row.cells.push(name.clone());
        row.cells.push(kept.and_then(|k| k.problem.clone()).or_else(worst).unwrap_or_else(|| holds.into()));
    }
    list
}
