//! How states of a job are written down: whole, or as a JSON Patch (RFC 6902) of the state that they were made from. A number
//! set in a job with a roster of thousands of rows adds a few hundred bytes, not all rows once more.

use super::{Store, states::gone};
use crate::{entity::change, problem::Problem};
use json_patch::Patch;
use sea_orm::{ColumnTrait, Condition, ConnectionTrait, DbErr, EntityTrait, QueryFilter};
use serde_json::Value;
use std::{collections::HashMap, sync::Arc};
use trade::{Job, JobError};

/// Patches in a row; then a state is written whole.
const MOST_PATCHES: u32 = 200;
/// Of one patch, and of those in a row, bytes; what is larger is written whole.
const LARGEST_PATCH: usize = 16 << 10;
const LARGEST_ROW: usize = 256 << 10;

/// From where a state is read.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Chain {
    /// The state before it that is written whole; itself, where it is.
    pub base: i64,
    patches: u32,
    bytes: usize,
    /// What is written down is to the letter what this program writes: a patch of it fits.
    exact: bool,
}

/// How a state is written down.
pub(super) struct Written {
    pub document: Option<Value>,
    pub patch: Option<Value>,
    /// `None`: it is whole, and its own base.
    pub chain: Option<Chain>,
    /// The change before it of the same typing.
    pub continues: Option<i64>,
}

impl Chain {
    /// Of a state that was just written whole.
    pub(super) fn of(base: i64) -> Self {
        Self { base, patches: 0, bytes: 0, exact: true }
    }

    fn with(self, patch: usize) -> Option<Self> {
        let next = Self { patches: self.patches + 1, bytes: self.bytes + patch, ..self };
        let short = next.patches <= MOST_PATCHES && patch <= LARGEST_PATCH && next.bytes <= LARGEST_ROW;
        (self.exact && short).then_some(next)
    }
}

fn value(job: &Job) -> Value {
    serde_json::to_value(job).expect("a job has string keys and finite numbers")
}

fn size(of: &Value) -> usize {
    of.to_string().len()
}

/// A state as it is to be written after another one.
pub(super) fn written(before: Option<(&Job, Chain)>, after: &Job) -> Written {
    match before.and_then(|(before, chain)| patched(before, chain, after)) {
        Some((patch, chain)) => Written { document: None, patch: Some(patch), chain: Some(chain), continues: None },
        None => Written { document: Some(value(after)), patch: None, chain: None, continues: None },
    }
}

fn patched(before: &Job, chain: Chain, after: &Job) -> Option<(Value, Chain)> {
    // thousands of rows are compared as they are: what most changes leave alone is looked through no further
    let rows_stay = before.roster == after.roster;
    let without_rows = |job: &Job| value(&Job { roster: Arc::default(), ..job.clone() });
    let [mut again, whole] = if rows_stay { [before, after].map(without_rows) } else { [before, after].map(value) };
    let patch = json_patch::diff(&again, &whole);
    let written = serde_json::to_value(&patch).ok()?;
    let chain = chain.with(size(&written))?;
    json_patch::patch(&mut again, &patch).ok()?;
    (again == whole).then_some((written, chain))
}

fn torn(state: i64, why: &str) -> Problem {
    Problem::Database(DbErr::Custom(format!("state {state} can't be put together: {why}")))
}

impl Store {
    /// What is written down of a state, whichever version wrote it, and from where it was read.
    pub(super) async fn raw(
        &self,
        of: &change::Model,
        connection: &impl ConnectionTrait,
    ) -> Result<(Value, Chain), Problem> {
        if let Some(document) = &of.document {
            return Ok((document.clone(), Chain::of(of.id)));
        }
        let base = of.base.ok_or_else(|| torn(of.id, "nothing is written of it"))?;
        let rows = change::Entity::find()
            .filter(change::Column::Job.eq(of.job))
            .filter(change::Column::Id.between(base, of.id))
            .filter(Condition::any().add(change::Column::Base.eq(base)).add(change::Column::Id.eq(base)))
            .all(connection)
            .await?;
        let rows: HashMap<i64, change::Model> = rows.into_iter().map(|row| (row.id, row)).collect();
        let mut patches = Vec::new();
        let mut at = rows.get(&of.id).ok_or_else(gone)?;
        let mut document = loop {
            if let Some(document) = &at.document {
                break document.clone();
            }
            patches.push(at.patch.clone().ok_or_else(|| torn(at.id, "nothing is written of it"))?);
            let before = at.from_state.and_then(|before| rows.get(&before));
            at = before.ok_or_else(|| torn(of.id, "a state before it is missing"))?;
        };
        let chain = Chain { bytes: patches.iter().map(size).sum(), patches: patches.len() as u32, ..Chain::of(at.id) };
        for patch in patches.into_iter().rev() {
            let patch: Patch = serde_json::from_value(patch).map_err(|e| torn(of.id, &e.to_string()))?;
            json_patch::patch(&mut document, &patch).map_err(|e| torn(of.id, &e.to_string()))?;
        }
        Ok((document, chain))
    }
}

/// A job as it is written down, and its chain, now known to be exact or not.
pub(super) fn read(raw: Value, chain: Chain) -> Result<(Job, Chain), Problem> {
    let job = Job::from_kept(raw.clone()).map_err(|e| match e {
        JobError::Unreadable(why) => Problem::Unreadable(why),
        other => Problem::Unreadable(other.to_string()),
    })?;
    let exact = value(&job) == raw;
    Ok((job, Chain { exact, ..chain }))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_small_change_is_a_small_patch_and_a_large_one_is_written_whole() {
        let before = demo::jobs().remove(0).job;
        let mut after = before.clone();
        after.marks[0].relief.height = 0.77;
        let small = written(Some((&before, Chain::of(1))), &after);
        let patch = small.patch.expect("a patch");
        assert_eq!(patch, serde_json::json!([{"op": "replace", "path": "/marks/0/relief/height", "value": 0.77}]));
        assert!(small.document.is_none() && small.chain.is_some_and(|c| c.base == 1 && c.patches == 1));
        // what fits no patch, a row of them that is long, a state that another version wrote, the first state
        let mut other = demo::jobs().remove(1).job;
        other.marks = vec![other.marks[0].clone(); 60];
        let long = Chain { patches: MOST_PATCHES, ..Chain::of(1) };
        let heavy = Chain { bytes: LARGEST_ROW, ..Chain::of(1) };
        let older = Chain { exact: false, ..Chain::of(1) };
        for (before, after) in [
            (Some((&before, Chain::of(1))), &other),
            (Some((&before, long)), &after),
            (Some((&before, heavy)), &after),
            (Some((&before, older)), &after),
            (None, &after),
        ] {
            let whole = written(before, after);
            assert_eq!(whole.document, Some(value(after)));
            assert!(whole.patch.is_none() && whole.chain.is_none());
        }
    }
}
