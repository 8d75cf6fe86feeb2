//! STEP files of a job as it stands, each made once.

use crate::{
    app::{App, Shown},
    newest::hold,
    problem::{Problem, sentence},
    waiting::{Waiting, WhileWaited},
};
use handoff::exact::{Exact, Holds, Manner, exact};
use std::sync::Arc;
use uuid::Uuid;
use workbench::Steps;

/// Which file of which state.
pub type Wanted = (Shown, Holds, Manner);

impl App {
    /// A STEP file of a job, and the job's name. The kernel leaves off when nobody waits any more.
    ///
    /// # Errors
    /// As [`App::files`], or why it can't be made.
    pub async fn exact(
        &self,
        id: Uuid,
        row: Option<u32>,
        holds: Holds,
        (mut manner, mark): (Manner, Option<&str>),
    ) -> Result<(String, Arc<Exact>), Problem> {
        self.store.standing(id).await?;
        let turns = self.turns(id);
        let _turn = turns.handing.lock().await;
        let (mut standing, shown) = self.standing(id, row).await?;
        let bench = self.bench(&mut standing.job).await?;
        if let Some(mark) = mark {
            let at = standing.job.marks.iter().position(|m| m.id == mark);
            let missing = || Problem::Missing(format!("The job has no mark “{mark}” any more."));
            manner.mark = Some(at.ok_or_else(missing)?);
        }
        let wanted = (shown, holds, manner);
        if let Some(made) = hold(&self.exact).get(&wanted) {
            return Ok((standing.job.name, made));
        }
        let part = match (&standing.job.part.sha256, step::is_step(&standing.job.part.file)) {
            (Some(sha256), true) if holds == Holds::MarkedSolid => Some(self.store.kept(sha256).await?),
            _ => None,
        };
        let waiting = Waiting::default();
        let watch = WhileWaited(waiting.stopped());
        let (job, on) = (standing.job, bench.clone());
        let name = job.name.clone();
        let day = format!("{}T00:00:00", shown.2);
        let made = self
            .later(bench.part(), move || exact(&job, &on, holds, part.as_deref(), (&day, manner), &watch))
            .await?
            .map_err(|e| Problem::Wrong(sentence(&e.to_string())))?;
        drop(waiting);
        let made = Arc::new(made);
        hold(&self.exact).put_weighed(wanted, made.clone(), made.file.bytes.len());
        Ok((name, made))
    }
}
