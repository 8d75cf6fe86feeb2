//! What a person can undo and redo: their own changes, whatever others have done meanwhile.

use super::{Of, Store, states::gone};
use crate::{
    entity::{change, job},
    problem::Problem,
};
use sea_orm::{ColumnTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, QuerySelect, Select};
use std::collections::HashMap;
use uuid::Uuid;

/// A change that can be undone or made again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OwnStep {
    /// Its row in the history, which is the state after it.
    pub change: i64,
    /// The state that it was made from.
    pub before: i64,
    pub label: String,
}

/// What undo and redo would do for a person.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct OwnSteps {
    pub undo: Option<OwnStep>,
    pub redo: Option<OwnStep>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Way {
    Undo,
    Redo,
}

impl Way {
    #[must_use]
    pub fn of(self, change: i64) -> Of {
        match self {
            Self::Undo => Of::Undo(change),
            Self::Redo => Of::Redo(change),
        }
    }

    #[must_use]
    pub fn done(self) -> &'static str {
        match self {
            Self::Undo => "undone",
            Self::Redo => "redone",
        }
    }

    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Undo => "undo",
            Self::Redo => "redo",
        }
    }
}

/// A row of the history without its document.
#[derive(FromQueryResult)]
struct Row {
    id: i64,
    from_state: Option<i64>,
    author: String,
    label: String,
    undoes: Option<i64>,
    redoes: Option<i64>,
    continues: Option<i64>,
}

/// Newest rows that are looked through; the first of them hold mostly what is looked for. Undo goes no farther back.
const MOST: [u64; 2] = [50, 1000];

/// Of the rows of a history, the newest first, what `author` would undo and redo. A change of one's own ends what could be
/// made again before it.
fn of(rows: &[Row], author: &str) -> OwnSteps {
    let by_id: HashMap<i64, &Row> = rows.iter().map(|r| (r.id, r)).collect();
    let step = |change: i64| {
        let row = by_id.get(&change)?;
        Some(OwnStep { change, before: row.from_state?, label: row.label.clone() })
    };
    // whether a change is undone is said by the newest row about it
    let mut undone: HashMap<i64, bool> = HashMap::new();
    let (mut found, mut changed) = (OwnSteps::default(), false);
    for row in rows {
        let mine = row.author == author;
        if let Some(part) = row.continues {
            // undone with what was typed after it
            undone.insert(part, true);
        }
        if let Some(change) = row.undoes {
            if *undone.entry(change).or_insert(true) && mine && !changed && found.redo.is_none() {
                found.redo = step(change);
            }
        } else if let Some(change) = row.redoes {
            undone.entry(change).or_insert(false);
        } else if mine {
            changed = true;
            if !undone.get(&row.id).is_some_and(|undone| *undone) {
                found.undo = step(row.id);
                break;
            }
        }
    }
    found
}

fn rows() -> Select<change::Entity> {
    change::Entity::find()
        .select_only()
        .columns([change::Column::Id, change::Column::FromState, change::Column::Author, change::Column::Label])
        .columns([change::Column::Undoes, change::Column::Redoes, change::Column::Continues])
}

impl Store {
    /// What undo and redo would do for somebody.
    ///
    /// # Errors
    /// The database does not answer.
    pub async fn own_steps(&self, id: Uuid, author: &str) -> Result<OwnSteps, Problem> {
        let mut found = OwnSteps::default();
        for most in MOST {
            let newest = rows().filter(change::Column::Job.eq(id)).order_by_desc(change::Column::Id).limit(most);
            let newest: Vec<Row> = newest.into_model().all(&self.database).await?;
            found = of(&newest, author);
            if found.undo.is_some() || newest.len() < most as usize {
                break;
            }
        }
        Ok(found)
    }

    /// The state in which a job stands, its row in the history read without its document.
    ///
    /// # Errors
    /// No such job, or the database does not answer.
    pub(crate) async fn stands(&self, id: Uuid) -> Result<Stands, Problem> {
        let row = job::Entity::find_by_id(id).one(&self.database).await?.ok_or_else(gone)?;
        let state = rows().filter(change::Column::Id.eq(row.state));
        let state: Row = state.into_model().one(&self.database).await?.ok_or_else(gone)?;
        Ok(Stands(state))
    }
}

/// Where a job stands.
pub(crate) struct Stands(Row);

impl Stands {
    pub(crate) fn state(&self) -> i64 {
        self.0.id
    }

    /// What was done last, whoever did it.
    pub(crate) fn last(&self) -> Option<OwnStep> {
        Some(OwnStep { change: self.0.id, before: self.0.from_state?, label: self.0.label.clone() })
    }

    /// The state to which a step leads where nothing else was done since.
    pub(crate) fn straight(&self, way: Way, step: &OwnStep) -> Option<i64> {
        let state = &self.0;
        match way {
            Way::Undo if state.id == step.change => Some(step.before),
            Way::Undo if state.redoes == Some(step.change) => state.from_state,
            Way::Redo if state.id == step.before => Some(step.change),
            Way::Redo if state.undoes == Some(step.change) => state.from_state,
            _ => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Rows as they were written, each by somebody: a change from the state before it, or what it undoes or redoes.
    fn rows(written: &[(&str, Of)]) -> Vec<Row> {
        let row = |(at, (author, of)): (usize, &(&str, Of))| Row {
            id: at as i64,
            from_state: (at as i64).checked_sub(1),
            author: (*author).into(),
            label: format!("row {at}"),
            undoes: if let Of::Undo(change) = of { Some(*change) } else { None },
            redoes: if let Of::Redo(change) = of { Some(*change) } else { None },
            continues: None,
        };
        let mut rows: Vec<Row> = written.iter().enumerate().map(row).collect();
        rows[0].from_state = None;
        rows.reverse();
        rows
    }

    fn steps(written: &[(&str, Of)], author: &str) -> [Option<i64>; 2] {
        let found = of(&rows(written), author);
        [found.undo, found.redo].map(|step| step.map(|s| s.change))
    }

    #[test]
    fn each_person_steps_through_their_own_changes() {
        use Of::{Itself, Redo, Undo};
        let begun = ("A", Itself);
        assert_eq!(steps(&[begun], "A"), [None, None], "a job is not undone");
        let two = [begun, ("A", Itself), ("A", Itself), ("B", Itself)];
        assert_eq!(steps(&two, "A"), [Some(2), None]);
        assert_eq!(steps(&two, "B"), [Some(3), None]);
        assert_eq!(steps(&two, "C"), [None, None]);
        let after = |more: &[(&'static str, Of)]| [&two, more].concat();
        assert_eq!(steps(&after(&[("A", Undo(2))]), "A"), [Some(1), Some(2)]);
        assert_eq!(steps(&after(&[("A", Undo(2)), ("A", Undo(1))]), "A"), [None, Some(1)]);
        assert_eq!(steps(&after(&[("A", Undo(2)), ("A", Undo(1)), ("A", Redo(1))]), "A"), [Some(1), Some(2)]);
        // made again and undone again, over and over
        let over = after(&[("A", Undo(2)), ("A", Redo(2)), ("A", Undo(2)), ("A", Redo(2))]);
        assert_eq!(steps(&over, "A"), [Some(2), None]);
        // a change of one's own ends what could be made again, a change of others doesn't
        assert_eq!(steps(&after(&[("A", Undo(2)), ("A", Itself)]), "A"), [Some(5), None]);
        assert_eq!(steps(&after(&[("A", Undo(2)), ("B", Itself)]), "A"), [Some(1), Some(2)]);
        assert_eq!(steps(&after(&[("A", Undo(2)), ("A", Itself), ("A", Undo(5))]), "A"), [Some(1), Some(5)]);
    }

    #[test]
    fn what_was_typed_in_one_go_is_one_step() {
        let typed = |undone: Option<i64>| {
            let undo = undone.map(|change| ("A", Of::Undo(change)));
            let mut rows = rows(&[&[("A", Of::Itself); 5], undo.as_slice()].concat());
            for row in &mut rows {
                row.continues = [3, 4].contains(&row.id).then(|| row.id - 1);
            }
            let found = of(&rows, "A");
            [found.undo, found.redo].map(|step| step.map(|s| s.change))
        };
        assert_eq!(typed(None), [Some(4), None]);
        assert_eq!(typed(Some(4)), [Some(1), Some(4)]);
    }
}
