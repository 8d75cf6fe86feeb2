//! Whether somebody else changed meanwhile what a change was made on.

use serde_json::Value;
use std::collections::{BTreeSet, HashMap};
use trade::Job;

/// A place in a job: names of fields and of what lists hold, from the outside in.
pub(crate) type Path = Vec<String>;

/// What a change of others came to.
pub(crate) struct Theirs {
    pub author: String,
    pub label: String,
    pub before: Job,
    pub after: Job,
}

/// The change of somebody else that met what was changed from one job to the other, in any of these pairs, if there is one.
pub(crate) fn meets<'a>(mine: &[[Job; 2]], others: &'a [Theirs]) -> Option<&'a Theirs> {
    let mine: BTreeSet<Path> = mine.iter().flat_map(|[before, after]| changed(before, after)).collect();
    // the last of them is what stands there now
    others.iter().rev().find(|o| {
        let theirs = changed(&o.before, &o.after);
        mine.iter().any(|m| theirs.iter().any(|t| within(m, t) || within(t, m)))
    })
}

fn within(inner: &Path, outer: &Path) -> bool {
    inner.starts_with(outer)
}

/// Places that one job has and another has otherwise, or has no more. What is only added meets nothing.
fn changed(before: &Job, after: &Job) -> BTreeSet<Path> {
    let value = |job: &Job| serde_json::to_value(job).unwrap_or_default();
    let mut found = BTreeSet::new();
    differ(&value(before), &value(after), &mut Vec::new(), &mut found);
    // kept by the program, not by people
    found.retain(|path| path[0] != "faces_at");
    // what a mark says by its recipe follows from the recipe, the roster and the revision
    let made = |id: &String| before.marks.iter().any(|m| m.id == *id && !m.recipe.is_empty());
    found.retain(|path| !matches!(&path[..], [marks, id, text] if marks == "marks" && text == "text" && made(id)));
    found
}

fn differ(before: &Value, after: &Value, at: &mut Path, found: &mut BTreeSet<Path>) {
    if before == after {
        return;
    }
    let mut below = |name: String, before: &Value, after: Option<&Value>| {
        at.push(name);
        match after {
            Some(after) => differ(before, after, at, found),
            None => {
                found.insert(at.clone());
            }
        }
        at.pop();
    };
    match (before, after) {
        (Value::Object(before), Value::Object(after)) => {
            for (name, value) in before {
                below(name.clone(), value, after.get(name));
            }
        }
        (Value::Array(before), Value::Array(after)) if before.iter().chain(after).all(|v| name(v).is_some()) => {
            let there: HashMap<String, &Value> = after.iter().filter_map(|v| Some((name(v)?, v))).collect();
            for value in before {
                let called = name(value).unwrap_or_default();
                let after = there.get(&called).copied();
                below(called, value, after);
            }
        }
        _ => {
            found.insert(at.clone());
        }
    }
}

/// By what a thing in a list is told from the others.
pub(crate) fn name(value: &Value) -> Option<String> {
    ["id", "name", "face", "subject"].iter().find_map(|key| match value.get(key)? {
        Value::String(name) => Some(name.clone()),
        Value::Number(number) => Some(number.to_string()),
        _ => None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn job() -> Job {
        demo::jobs().remove(0).job
    }

    fn with(alter: impl Fn(&mut Job)) -> Job {
        let mut job = job();
        alter(&mut job);
        job
    }

    fn met(mine: impl Fn(&mut Job), theirs: impl Fn(&mut Job)) -> bool {
        let others = [Theirs { author: "B".into(), label: String::new(), before: job(), after: with(theirs) }];
        meets(&[[job(), with(mine)]], &others).is_some()
    }

    #[test]
    fn only_changes_of_the_same_thing_meet() {
        let height = |job: &mut Job| job.marks[0].relief.height = 0.77;
        assert!(met(height, |job| job.marks[0].relief.height = 0.5));
        assert!(!met(height, |job| job.marks[1].relief.height = 0.5));
        assert!(!met(height, |job| job.marks[0].relief.draft = 5.0));
        assert!(!met(height, |job| job.name = "Other".into()));
        // a mark that is gone, and one of the same name in its place
        assert!(met(height, |job| drop(job.marks.remove(0))));
        let added = |id: &str| {
            let id = id.to_owned();
            move |job: &mut Job| job.marks.push(trade::Mark { id: id.clone(), ..trade::Mark::default() })
        };
        assert!(!met(added("new"), added("new")));
        assert!(!met(|job| job.marks.swap(0, 1), height), "an order is no change of what is ordered");
        // cells of a row are one thing, rows are not
        let cell = |row: usize| {
            move |job: &mut Job| std::sync::Arc::make_mut(&mut job.roster).rows[row].cells[0] = "77".to_owned()
        };
        assert!(met(cell(0), cell(0)));
        assert!(!met(cell(0), cell(1)));
    }
}
