//! In what a job differs from one of its earlier states, in words.

use crate::overtaken::name;
use serde::Serialize;
use serde_json::{Map, Value};
use trade::Job;
use utoipa::ToSchema;

/// Differences that are told; more than anyone reads.
const MOST: usize = 100;
/// Of a value, characters.
const LONGEST: usize = 60;

#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Difference {
    /// A mark by its text, a row by its place, a part of the tool; empty for the job itself.
    pub of: String,
    pub what: String,
    /// As it was; none where it was not there.
    pub then: Option<String>,
    /// As it is; none where it is there no more.
    pub now: Option<String>,
}

#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Differences {
    pub all: Vec<Difference>,
    /// So many are not told.
    pub more: usize,
}

/// What the job `now` has otherwise than it had `then`.
pub(crate) fn differences(then: &Job, now: &Job) -> Differences {
    let value = |job: &Job| serde_json::to_value(job).unwrap_or_default();
    let mut walk = Walk { all: Vec::new(), columns: now.roster.columns.iter().map(|c| c.name.clone()).collect() };
    walk.object(&value(then), &value(now), &Place::default());
    let more = walk.all.len().saturating_sub(MOST);
    walk.all.truncate(MOST);
    Differences { all: walk.all, more }
}

/// Where in the job something stands.
#[derive(Clone, Default)]
struct Place {
    /// The thing of a list that it is part of.
    of: String,
    /// Names on the way to it.
    what: Vec<String>,
}

impl Place {
    fn with(&self, name: &str) -> Self {
        let mut what = self.what.clone();
        what.push(name.replace('_', " "));
        Self { of: self.of.clone(), what }
    }
}

struct Walk {
    all: Vec<Difference>,
    columns: Vec<String>,
}

impl Walk {
    fn say(&mut self, at: &Place, then: Option<&Value>, now: Option<&Value>) {
        let (of, what) = (at.of.clone(), at.what.join(", "));
        self.all.push(Difference { of, what, then: then.map(told), now: now.map(told) });
    }

    fn object(&mut self, then: &Value, now: &Value, at: &Place) {
        let none = Map::new();
        let [then, now] = [then, now].map(|value| value.as_object().unwrap_or(&none));
        let gone = then.keys().filter(|key| !now.contains_key(*key));
        for key in now.keys().chain(gone) {
            // the program's own notes
            if at.what.is_empty() && at.of.is_empty() && (key == "faces_at" || key == "version") {
                continue;
            }
            self.value(then.get(key), now.get(key), &at.with(key));
        }
    }

    fn value(&mut self, then: Option<&Value>, now: Option<&Value>, at: &Place) {
        if then == now {
            return;
        }
        match (then, now) {
            (Some(was @ Value::Object(_)), Some(is @ Value::Object(_))) => self.object(was, is, at),
            (Some(Value::Array(was)), Some(Value::Array(is))) => {
                let named = |list: &[Value]| list.iter().all(|value| name(value).is_some());
                if at.what.last().is_some_and(|name| name == "cells") {
                    self.cells(was, is, at);
                } else if named(was) && named(is) {
                    self.things(was, is, at);
                } else {
                    self.say(at, then, now);
                }
            }
            _ => self.say(at, then, now),
        }
    }

    fn cells(&mut self, then: &[Value], now: &[Value], at: &Place) {
        for column in 0..then.len().max(now.len()) {
            let called = self.columns.get(column).cloned().unwrap_or_else(|| format!("column {}", column + 1));
            let place = Place { of: at.of.clone(), what: vec![called] };
            self.value(then.get(column), now.get(column), &place);
        }
    }

    fn things(&mut self, then: &[Value], now: &[Value], at: &Place) {
        let list = at.what.last().cloned().unwrap_or_default();
        let find = |list: &[Value], called: &Option<String>| list.iter().position(|value| name(value) == *called);
        let said = |value: &Value, place: usize| {
            let text = value.get("text").and_then(Value::as_str).filter(|text| !text.is_empty());
            match list.as_str() {
                "rows" => format!("row {}", place + 1),
                "cavities" => format!("cavity {}", place + 1),
                "marks" => format!("mark “{}”", text.map_or_else(|| name(value).unwrap_or_default(), str::to_owned)),
                _ => format!("{list}: {}", name(value).unwrap_or_default().replace('_', " ")),
            }
        };
        for (place, is) in now.iter().enumerate() {
            let of = said(is, place);
            match find(then, &name(is)) {
                Some(was) => self.value(Some(&then[was]), Some(is), &Place { of, what: Vec::new() }),
                None => self.all.push(Difference { of, what: "added since".into(), then: None, now: None }),
            }
        }
        for (place, was) in then.iter().enumerate().filter(|(_, was)| find(now, &name(was)).is_none()) {
            let of = said(was, place);
            self.all.push(Difference { of, what: "removed since".into(), then: None, now: None });
        }
    }
}

/// A value as a person reads it.
fn told(value: &Value) -> String {
    let whole = match value {
        Value::Null => "none".into(),
        Value::Bool(true) => "yes".into(),
        Value::Bool(false) => "no".into(),
        Value::String(text) if text.is_empty() => "empty".into(),
        Value::String(text) => text.replace('\n', " / "),
        Value::Array(list) if list.is_empty() => "none".into(),
        Value::Array(list) => list.iter().map(told).collect::<Vec<_>>().join(", "),
        Value::Object(fields) => fields
            .iter()
            .filter(|(_, value)| !value.is_null())
            .map(|(key, value)| format!("{} {}", key.replace('_', " "), told(value)))
            .collect::<Vec<_>>()
            .join(", "),
        Value::Number(number) => number.to_string(),
    };
    if whole.chars().count() <= LONGEST {
        return whole;
    }
    format!("{} …", whole.chars().take(LONGEST).collect::<String>().trim_end())
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::Arc;

    fn told(then: &Job, now: &Job) -> Vec<String> {
        let line = |d: Difference| {
            format!("{} | {} | {} | {}", d.of, d.what, d.then.unwrap_or_default(), d.now.unwrap_or_default())
        };
        differences(then, now).all.into_iter().map(line).collect()
    }

    #[test]
    fn what_was_set_added_and_removed_is_told_with_what_it_belongs_to() {
        let then = demo::jobs().remove(0).job;
        assert_eq!(told(&then, &then), [""; 0]);
        let mut now = then.clone();
        now.name = "Other".into();
        now.marks[0].relief.height += 0.1;
        let gone = now.marks.remove(1);
        let mut added = now.marks[0].clone();
        (added.id, added.text) = ("new".into(), "NEW".into());
        now.marks.push(added);
        let said = told(&then, &now);
        let text = &then.marks[0].text;
        let height = then.marks[0].relief.height;
        assert!(said.contains(&format!(" | name | {} | Other", then.name)), "{said:?}");
        let raised = format!("mark “{text}” | relief, height | {height} | {}", height + 0.1);
        assert!(said.contains(&raised), "{said:?} lacks {raised}");
        assert!(said.contains(&"mark “NEW” | added since |  | ".into()), "{said:?}");
        assert!(said.iter().any(|s| s.contains(&gone.text) && s.contains("removed since")), "{said:?}");
        assert_eq!(said.len(), 4, "{said:?}");
    }

    #[test]
    fn cells_are_told_by_row_and_column_and_no_more_than_anyone_reads() {
        let then = demo::jobs().into_iter().map(|d| d.job).find(|j| j.roster.rows.len() > 2).expect("a roster");
        let mut now = then.clone();
        let column = now.roster.columns[0].name.clone();
        Arc::make_mut(&mut now.roster).rows[1].cells[0] = "X".into();
        let was = &then.roster.rows[1].cells[0];
        assert_eq!(told(&then, &now), [format!("row 2 | {column} | {was} | X")]);
        Arc::make_mut(&mut now.roster).rows.extend((0..300).map(|n| trade::Row { id: 9_000 + n, cells: Vec::new() }));
        let many = differences(&then, &now);
        assert_eq!((many.all.len(), many.more), (MOST, 201));
    }
}
