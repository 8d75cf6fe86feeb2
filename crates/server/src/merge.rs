//! A change taken out of a document, or put into it again, while what others have changed meanwhile stays.

use crate::overtaken::{Path, name};
use serde_json::{Map, Value};
use std::collections::HashMap;

/// `present` with what lies between `from` and `to` done to it. Lists of things with names are merged thing by thing, cells
/// of a row cell by cell; everything else is one value.
///
/// # Errors
/// The place at which `present` is neither as in `from` nor as in `to`: somebody else has changed it.
pub(crate) fn merged(present: &Value, from: &Value, to: &Value) -> Result<Value, Path> {
    merge(Some(present), Some(from), Some(to), &mut Vec::new()).map(Option::unwrap_or_default)
}

fn merge(
    present: Option<&Value>,
    from: Option<&Value>,
    to: Option<&Value>,
    at: &mut Path,
) -> Result<Option<Value>, Path> {
    if from == to || present == to || kept_by_the_program(at) {
        return Ok(present.cloned());
    }
    if present == from {
        return Ok(to.cloned());
    }
    match (present, from, to) {
        (Some(Value::Object(present)), Some(Value::Object(from)), Some(Value::Object(to))) => {
            let mut merged = Map::new();
            let added = to.keys().filter(|name| !present.contains_key(*name));
            for name in present.keys().chain(added) {
                // what a recipe makes is made anew
                if name == "text" && present.get("recipe").is_some_and(|recipe| *recipe != Value::Array(Vec::new())) {
                    merged.extend(present.get(name).map(|text| (name.clone(), text.clone())));
                    continue;
                }
                at.push(name.clone());
                if let Some(value) = merge(present.get(name), from.get(name), to.get(name), at)? {
                    merged.insert(name.clone(), value);
                }
                at.pop();
            }
            Ok(Some(Value::Object(merged)))
        }
        (Some(Value::Array(present)), Some(Value::Array(from)), Some(Value::Array(to))) => {
            let lists = [present, from, to];
            if lists.iter().all(|list| list.iter().all(|value| name(value).is_some())) {
                things(lists, at).map(|things| Some(Value::Array(things)))
            } else if at.last().is_some_and(|name| name == "cells") && lists.iter().all(|l| l.len() == to.len()) {
                let cells = lists[0].iter().zip(from).zip(to).enumerate();
                let cells = cells.map(|(column, ((present, from), to))| {
                    at.push(column.to_string());
                    let cell = merge(Some(present), Some(from), Some(to), at)?.unwrap_or_default();
                    at.pop();
                    Ok(cell)
                });
                Ok(Some(Value::Array(cells.collect::<Result<_, Path>>()?)))
            } else {
                Err(at.clone())
            }
        }
        _ => Err(at.clone()),
    }
}

/// Where the faces lie is worked out anew.
fn kept_by_the_program(at: &Path) -> bool {
    at.first().is_some_and(|name| name == "faces_at")
}

fn things([present, from, to]: [&Vec<Value>; 3], at: &mut Path) -> Result<Vec<Value>, Path> {
    let by_name = |list: &'_ [Value]| -> HashMap<String, usize> {
        list.iter().enumerate().filter_map(|(i, value)| Some((name(value)?, i))).collect()
    };
    let (was, will) = (by_name(from), by_name(to));
    let mut merged: Vec<(String, Value)> = Vec::new();
    for value in present {
        let called = name(value).unwrap_or_default();
        at.push(called.clone());
        let of = |list: &HashMap<String, usize>| list.get(&called).copied();
        if let Some(value) = merge(Some(value), of(&was).map(|i| &from[i]), of(&will).map(|i| &to[i]), at)? {
            merged.push((called, value));
        }
        at.pop();
    }
    // what comes back stands after what it stood after
    let there = by_name(present);
    for (i, value) in to.iter().enumerate() {
        let called = name(value).unwrap_or_default();
        if there.contains_key(&called) {
            continue;
        }
        at.push(called.clone());
        if let Some(value) = merge(None, was.get(&called).map(|i| &from[*i]), Some(value), at)? {
            let before: Vec<String> = to[..i].iter().rev().filter_map(name).collect();
            let after = before.iter().find_map(|name| merged.iter().position(|(n, _)| n == name));
            merged.insert(after.map_or(0, |i| i + 1), (called, value));
        }
        at.pop();
    }
    // another order is taken where nobody else has changed it
    let order = |list: &[Value]| -> Vec<String> { list.iter().filter_map(name).collect() };
    let both = |names: Vec<String>| -> Vec<String> {
        names.into_iter().filter(|n| was.contains_key(n) && will.contains_key(n) && there.contains_key(n)).collect()
    };
    let (was_order, will_order) = (both(order(from)), both(order(to)));
    if was_order != will_order {
        if both(order(present)) != was_order {
            return Err(at.clone());
        }
        let moved: HashMap<&String, usize> = will_order.iter().enumerate().map(|(i, n)| (n, i)).collect();
        let places: Vec<usize> = (0..merged.len()).filter(|&i| moved.contains_key(&merged[i].0)).collect();
        let mut taken: Vec<(String, Value)> = places.iter().map(|&i| merged[i].clone()).collect();
        taken.sort_by_key(|(name, _)| moved[name]);
        for (place, thing) in places.into_iter().zip(taken) {
            merged[place] = thing;
        }
    }
    Ok(merged.into_iter().map(|(_, value)| value).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn marks(of: &[(&str, i32)]) -> Value {
        json!({"marks": of.iter().map(|(id, height)| json!({"id": id, "height": height})).collect::<Vec<_>>()})
    }

    #[test]
    fn a_change_is_taken_back_under_those_of_others() {
        let was = marks(&[("a", 1), ("b", 2)]);
        // one number, another mark changed meanwhile, one more added
        let (mine, now) = (marks(&[("a", 5), ("b", 2)]), marks(&[("a", 5), ("b", 7), ("c", 3)]));
        assert_eq!(merged(&now, &mine, &was), Ok(marks(&[("a", 1), ("b", 7), ("c", 3)])));
        // a mark added, another added meanwhile; removed, it comes back to its place
        let (mine, now) = (marks(&[("a", 1), ("x", 0), ("b", 2)]), marks(&[("a", 1), ("x", 0), ("b", 2), ("y", 9)]));
        let without = marks(&[("a", 1), ("b", 2), ("y", 9)]);
        assert_eq!(merged(&now, &mine, &was), Ok(without.clone()));
        assert_eq!(merged(&without, &was, &mine), Ok(now));
        // an order, one thing more meanwhile
        let (mine, now) = (marks(&[("b", 2), ("a", 1)]), marks(&[("b", 2), ("c", 3), ("a", 1)]));
        assert_eq!(merged(&now, &mine, &was), Ok(marks(&[("a", 1), ("c", 3), ("b", 2)])));
        // cells of one row
        let row = |cells: [&str; 3]| json!({"roster": {"rows": [{"id": 1, "cells": cells}]}});
        assert_eq!(
            merged(&row(["B", "2", "z"]), &row(["B", "1", "z"]), &row(["A", "1", "z"])),
            Ok(row(["A", "2", "z"]))
        );
    }

    #[test]
    fn what_somebody_else_changed_is_named() {
        let (was, mine) = (marks(&[("a", 1), ("b", 2)]), marks(&[("a", 5), ("b", 2)]));
        assert_eq!(
            merged(&marks(&[("a", 6), ("b", 2)]), &mine, &was),
            Err(vec!["marks".into(), "a".into(), "height".into()])
        );
        // the mark is gone meanwhile; or was changed after it was added
        assert_eq!(merged(&marks(&[("b", 2)]), &mine, &was), Err(vec!["marks".into(), "a".into()]));
        assert_eq!(
            merged(&marks(&[("a", 6)]), &marks(&[("a", 5)]), &marks(&[])),
            Err(vec!["marks".into(), "a".into()])
        );
        // a direction is one value, not three
        let pull = |x: i32, y: i32| json!({"pull": [x, y, 1]});
        assert_eq!(merged(&pull(1, 1), &pull(1, 0), &pull(0, 0)), Err(vec!["pull".into()]));
        // who undoes what is as it was already loses nothing
        assert_eq!(merged(&was, &mine, &was), Ok(was));
    }
}
