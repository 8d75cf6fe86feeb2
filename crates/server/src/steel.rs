//! The tool's side of a job as it stands, and what it asks of steel that was cut after an earlier state.

use crate::{
    app::{App, Shown, today},
    newest::hold,
    problem::{Problem, sentence},
};
use handoff::tool_side::{ToolSide, tool_side};
use paper::picture::{Shot, Tone, drawn};
use std::sync::Arc;
use toolside::changes::{Built, MarkChange, changes};
use uuid::Uuid;
use workbench::{Bench, Outcome, Scope, Steps};

/// What changes in the steel from a state to the present one.
pub struct SteelChanges {
    /// The steel's size by the part's; 1 where no shrinkage is set.
    pub scale: f64,
    /// The marks were on another part then: only they are compared.
    pub other_part: bool,
    pub marks: Vec<MarkChange>,
    pub bench: Arc<Bench>,
    pub outcome: Arc<Outcome>,
}

impl App {
    /// The files of the tool's side, and the job's name.
    ///
    /// # Errors
    /// As [`App::files`], or why they can't be made.
    pub async fn tool_side(&self, id: Uuid, row: Option<u32>) -> Result<(String, i64, Arc<ToolSide>), Problem> {
        self.store.standing(id).await?;
        let turns = self.turns(id);
        let _turn = turns.handing.lock().await;
        let (mut standing, shown) = self.standing(id, row).await?;
        let bench = self.bench(&mut standing.job).await?;
        let name = standing.job.name.clone();
        if let Some(made) = hold(&self.tool_sides).get(&shown) {
            return Ok((name, shown.0, made));
        }
        let (job, on) = (standing.job, bench.clone());
        let made = self.later(bench.part(), move || tool_side(&job, &on)).await?;
        let made = Arc::new(made.map_err(|e| Problem::Wrong(sentence(&e.to_string())))?);
        let bytes = made.files.iter().map(|file| file.bytes.len()).sum();
        hold(&self.tool_sides).put_weighed(shown, made.clone(), bytes);
        Ok((name, shown.0, made))
    }

    /// What changes in the steel of a row from a state to the present one.
    ///
    /// # Errors
    /// As [`App::joined`], the job has no such state or row, or a mark of either could not be built.
    pub async fn steel_changes(
        &self,
        id: Uuid,
        row: Option<u32>,
        from: i64,
    ) -> Result<(Shown, Arc<SteelChanges>), Problem> {
        let (standing, shown, bench, outcome) = self.joined(id, row).await?;
        let wanted = (shown, from);
        if let Some(made) = hold(&self.changes).get(&wanted) {
            return Ok((shown, made));
        }
        let mut then = self.store.state_of(id, from).await?.0;
        let other_part = then.part_digest() != standing.job.part_digest();
        let row = shown.1.filter(|row| then.roster.row(*row).is_some());
        if shown.1.is_some() && row.is_none() {
            return Err(Problem::Wrong("There was no such row of the roster in that state.".into()));
        }
        then.fill(row.or(then.first_row()), today());
        let then_bench = self.bench(&mut then).await?;
        let now = standing.job;
        let scale = now.process.steel_scale().unwrap_or(1.0);
        let (on, built) = (bench.clone(), outcome.clone());
        let marks = self
            .later(bench.part(), move || {
                let was = then_bench.joined(&then, Scope::NearMarks);
                let before = Built { job: &then, outcome: &was, part: then_bench.part() };
                let after = Built { job: &now, outcome: &built, part: on.part() };
                changes(before, after, scale)
            })
            .await?
            .map_err(|e| Problem::Wrong(sentence(&e.to_string())))?;
        let made = Arc::new(SteelChanges { scale, other_part, marks, bench, outcome });
        let bytes = made.marks.iter().map(|m| m.off.mesh.bytes() + m.on.mesh.bytes()).sum();
        hold(&self.changes).put_weighed(wanted, made.clone(), bytes);
        Ok((shown, made))
    }
}

/// PNG of a mark as it is now, with what comes off the steel and what is put on in colours of their own.
#[must_use]
pub fn picture(of: &SteelChanges, mark: &MarkChange) -> Vec<u8> {
    const WIDTH: usize = 720;
    const HEIGHT: usize = 300;
    let at = of.outcome.marks.iter().position(|m| m.id == mark.mark);
    let built = at.and_then(|at| of.outcome.marks[at].built.as_deref());
    let changed = [&mark.off.mesh, &mark.on.mesh].into_iter().filter(|m| !m.vertices.is_empty());
    let bounds = changed.map(solid::Mesh::bounds).chain(built.map(relief::BuiltMark::bounds));
    let (low, high) = bounds
        .fold((glam::DVec3::INFINITY, glam::DVec3::NEG_INFINITY), |(low, high), (a, b)| (low.min(a), high.max(b)));
    let view = built.map(|built| paper::views::views(std::iter::once((0, built)))).and_then(|mut views| views.pop());
    let (out, up) = view.map_or((glam::DVec3::new(-0.45, -0.75, 0.62), glam::DVec3::Z), |v| (v.out, v.up));
    let middle = (low + high) / 2.0;
    let wide = (high - low).length().max(1.0);
    let shot = Shot { out, up, at: Some((middle, 1.15 * wide / WIDTH as f64)), width: WIDTH, height: HEIGHT };
    let off = |_: usize| Tone::Off;
    let on = |_: usize| Tone::On;
    let mut pieces: Vec<paper::picture::Piece<'_>> = vec![(&mark.off.mesh, &off), (&mark.on.mesh, &on)];
    pieces.retain(|(mesh, _)| !mesh.triangles.is_empty());
    let rest = of.bench.rest(&of.outcome);
    let solids: Vec<_> = rest.as_deref().into_iter().chain(of.outcome.groups.iter().map(|g| g.shown())).collect();
    let tones = paper::picture::tones(&solids);
    pieces.extend(solids.iter().zip(&tones).map(|(solid, tone)| (&solid.mesh, &**tone)));
    crate::picture::rgba(WIDTH, HEIGHT, &drawn(&pieces, &shot).rgba)
}
