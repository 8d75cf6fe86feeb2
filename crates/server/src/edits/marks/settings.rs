//! The settings of a mark.

use super::{super::Change, called, find};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use trade::Job;
use trade::{
    Mark, Piece,
    recipe::{self, PieceOf},
};
use utoipa::ToSchema;
use workbench::Bench;

/// Only the named settings change (RFC 7396 merge; a tie or a baseline of another kind is replaced as a whole).
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetMark {
    pub id: String,
    #[schema(value_type = Object)]
    pub settings: Value,
}

impl Change for SetMark {
    fn label(&self, job: &Job) -> String {
        let mut names = Vec::new();
        leaves(&self.settings, &mut names);
        names.sort_unstable();
        format!("{}: {}", called(job, &self.id), names.join(", "))
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        set(job, &self.id, &self.settings)
    }
}

/// Changes the named settings of a mark, and of all that share its style.
pub(super) fn set(job: &mut Job, id: &str, settings: &Value) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mut value = serde_json::to_value(&job.marks[at]).expect("a mark has string keys and finite numbers");
    merge(&mut value, settings);
    let mut mark: Mark = serde_json::from_value(value)
        .map_err(|e| Problem::Wrong(sentence(&format!("mark “{}”: {e}", job.marks[at].called()))))?;
    mark.lettering.own = job.held_face(&mark.lettering.face);
    text_waits(&mut mark, job.marks[at].figure.is_some());
    let joins = settings.get("style").is_some();
    let others = || (0..job.marks.len()).filter(|&k| k != at);
    let alike: Vec<usize> = match &mark.style {
        Some(style) => others().filter(|&k| job.marks[k].style.as_ref() == Some(style)).collect(),
        None => Vec::new(),
    };
    match alike.first() {
        // who takes a style takes what it stands for
        Some(&first) if joins => {
            mark.lettering = job.marks[first].lettering.clone();
            mark.relief = job.marks[first].relief;
        }
        // who changes it changes it for all
        _ => {
            for k in alike {
                job.marks[k].lettering = mark.lettering.clone();
                job.marks[k].relief = mark.relief;
            }
        }
    }
    keep_letters(&mut mark);
    job.marks[at] = mark;
    Ok(())
}

/// While a mark draws a figure its text waits as the pieces of its recipe, and comes back from there.
fn text_waits(mark: &mut Mark, before: bool) {
    let fixed = |piece: &Piece| match &piece.of {
        PieceOf::Text(piece) => Some(piece.text.clone()),
        PieceOf::LineEnd(_) => Some("\n".into()),
        _ => None,
    };
    match (before, mark.figure.is_some()) {
        (false, true) if mark.recipe.is_empty() => mark.recipe = recipe::of_text(&mark.text),
        (true, false) => {
            if let Some(text) = mark.recipe.iter().map(fixed).collect::<Option<String>>() {
                mark.text = text;
                mark.recipe.clear();
            }
        }
        _ => {}
    }
}

/// Leaves out changes of letters that change nothing, or whose letter is gone from the text.
fn keep_letters(mark: &mut Mark) {
    if mark.letters.is_empty() {
        return;
    }
    mark.letters.retain(|l| !l.is_none());
    // in another row of the roster other letters stand there
    if mark.is_made() {
        return;
    }
    // what is left out is there too
    let Ok(set) = lettering::set(&mark.text, &mark.lettering, &[]) else { return };
    mark.letters.retain(|l| set.characters.get(l.at as usize).is_some_and(|c| c.text == l.text));
}

/// JSON merge patch (RFC 7396), but an object with another `tie`, `line`, `date` or `way` replaces its predecessor as a whole.
fn merge(target: &mut Value, patch: &Value) {
    let other = |tag: &str| patch.get(tag).is_some_and(|kind| target.get(tag) != Some(kind));
    match patch {
        Value::Object(changes) if !["tie", "line", "date", "way"].into_iter().any(other) => {
            if !target.is_object() {
                *target = Value::Object(serde_json::Map::new());
            }
            let object = target.as_object_mut().expect("it was made one above");
            for (key, change) in changes {
                if change.is_null() {
                    object.remove(key);
                } else {
                    merge(object.entry(key.clone()).or_insert(Value::Null), change);
                }
            }
        }
        other => *target = other.clone(),
    }
}

fn leaves(value: &Value, names: &mut Vec<String>) {
    if let Value::Object(fields) = value {
        for (key, field) in fields {
            if field.is_object() && field.get("tie").is_none() && field.get("line").is_none() {
                leaves(field, names);
            } else {
                names.push(key.replace('_', " "));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::Edit;
    use crate::edits::marks::copy::CopyMark;
    use crate::edits::tests::bench;
    use serde_json::json;
    use trade::{Baseline, Tie};

    #[test]
    fn only_the_named_settings_of_a_mark_change() {
        let (job, bench) = bench();
        let id = job.marks[0].id.clone();
        let edit = Edit::SetMark(SetMark {
            id: id.clone(),
            settings: json!({"relief": {"draft": 12.5}, "place": {"along": {"tie": "from_end", "distance": 4.0}}}),
        });
        let changed = edit.apply(&job, &bench).unwrap();
        assert_eq!(changed.marks[0].relief, trade::Relief { draft: 12.5, ..job.marks[0].relief });
        assert_eq!(changed.marks[0].place.along, Tie::FromEnd { distance: 4.0 });
        assert_eq!(changed.marks[0].text, job.marks[0].text);
        assert_eq!(edit.label(&job), format!("{}: along, draft", job.marks[0].text));
    }

    #[test]
    fn a_setting_out_of_range_changes_nothing_and_says_the_range() {
        let (job, bench) = bench();
        for (settings, says) in [
            (json!({"lettering": {"cap_height": 0}}), "between 0.2 and 500 mm"),
            (json!({"lettering": {"cap_height": 1e6}}), "between 0.2 and 500 mm"),
            (json!({"relief": {"draft": "steep"}}), "steep"),
            (json!({"text": "A".repeat(10_000)}), "10000 characters"),
            (json!({"nonsense": 1}), "nonsense"),
        ] {
            let edit = Edit::SetMark(SetMark { id: job.marks[0].id.clone(), settings });
            let said = edit.apply(&job, &bench).unwrap_err().to_string();
            assert!(said.contains(says), "{said}");
        }
    }

    #[test]
    fn settings_of_one_baseline_or_tie_are_changed_one_by_one_and_another_kind_begins_anew() {
        let (job, bench) = bench();
        let id = job.marks[0].id.clone();
        let set = |job: &Job, place: serde_json::Value| {
            Edit::SetMark(SetMark { id: id.clone(), settings: json!({ "place": place }) }).apply(job, &bench)
        };
        let arc =
            json!({"line": "arc", "radius": 12.0, "tops": "out", "share": 50.0, "stands": "middle", "bent": false});
        let job = set(&job, json!({ "baseline": arc })).unwrap();
        let job = set(&job, json!({"baseline": {"line": "arc", "radius": 9.0}})).unwrap();
        let job = set(&job, json!({"baseline": {"line": "arc", "tops": "in"}})).unwrap();
        let Baseline::Arc { radius, tops, share, .. } = job.marks[0].place.baseline else { panic!("an arc") };
        assert_eq!((radius, tops, share), (9.0, trade::Tops::In, 50.0));
        // what another kind needs is not there
        assert!(set(&job, json!({"along": {"tie": "from_end"}})).is_err());
        let job = set(&job, json!({"baseline": {"line": "straight"}})).unwrap();
        assert_eq!(job.marks[0].place.baseline, Baseline::Straight);
    }

    #[test]
    fn marks_of_one_style_change_together_and_who_joins_takes_it_over() {
        let (job, bench) = bench();
        let apply = |job: &Job, edit: Edit| edit.apply(job, &bench).unwrap();
        let set = |id: &str, settings| Edit::SetMark(SetMark { id: id.into(), settings });
        let first = job.marks[0].id.clone();
        let job = apply(&job, Edit::CopyMark(CopyMark { id: first.clone() }));
        let other = job.marks[1].id.clone();
        let job = apply(&job, set(&first, json!({"style": "small"})));
        let job = apply(&job, set(&first, json!({"relief": {"height": 0.2}})));
        assert_eq!(job.marks[1].relief.height, 0.5);
        let job = apply(&job, set(&other, json!({"style": "small"})));
        assert_eq!(job.marks[1].relief, job.marks[0].relief);
        let job = apply(&job, set(&other, json!({"lettering": {"cap_height": 4.5}, "text": "SB-9"})));
        assert_eq!((job.marks[0].lettering.cap_height, job.marks[0].text.as_str()), (4.5, "SB-3-118"));
        // left again, it changes by itself
        let job = apply(&job, set(&other, json!({"style": null})));
        let job = apply(&job, set(&other, json!({"relief": {"height": 0.35}})));
        assert_eq!((job.marks[0].relief.height, job.marks[1].relief.height), (0.2, 0.35));
    }
}
