//! Jobs at random: seat × lay × lettering face × size × relief × text × place. What is refused is refused in
//! words; everything else is a closed solid in one piece, with its volume on the right side and figures
//! that are numbers. Jobs that once went wrong are kept in `cases.json` and built first.

mod cases;
mod grounds;
mod tried;

use cases::{Case, OWN, case};
use grounds::grounds;
use rayon::prelude::*;
use std::collections::BTreeMap;
use trade::{Job, Tool};
use tried::try_all;
use workbench::{Bench, Plain, Scope, Steps, run};

fn random(seeds: std::ops::Range<u64>) {
    /// So many are tried on the same benches, which keep what they made: of thousands that is more than memory holds.
    const AT_ONCE: usize = 1_000;
    let mut refused: BTreeMap<String, usize> = BTreeMap::new();
    let count = seeds.clone().count();
    for first in seeds.clone().step_by(AT_ONCE) {
        let grounds = grounds();
        let seeds = first..seeds.end.min(first + AT_ONCE as u64);
        let cases: Vec<Case> = seeds.map(|seed| case(&grounds, seed)).collect();
        for (why, n) in try_all(&cases, &grounds) {
            *refused.entry(why).or_default() += n;
        }
    }
    let mut by_count: Vec<(&String, &usize)> = refused.iter().collect();
    by_count.sort_by_key(|(_, n)| std::cmp::Reverse(**n));
    for (why, n) in by_count {
        println!("{n:6} {:6.2} %  {why}", 100.0 * *n as f64 / count as f64);
    }
    let meets: usize =
        refused.iter().filter(|(why, _)| why.contains("the walls run into one another")).map(|(_, n)| n).sum();
    // strokes that draft and rounds close up are no failure of ours, but they must stay the exception
    assert!(meets * 10 < count, "{meets} of {count}");
    let built = count - refused.values().sum::<usize>();
    assert!(built * 3 > count, "only {built} of {count} were built");
}

#[test]
fn jobs_that_once_went_wrong_are_right() {
    let cases: Vec<Case> = serde_json::from_str(include_str!("cases.json")).unwrap();
    try_all(&cases, &grounds());
}

#[test]
fn jobs_at_random_are_refused_in_words_or_right() {
    random(0..96);
}

#[test]
fn the_plain_line_comes_to_what_the_bench_comes_to() {
    let grounds = grounds();
    for seed in 0..24 {
        let case = case(&grounds, seed);
        let ground = grounds.iter().find(|g| g.name == case.part).unwrap();
        let tool = Tool { pull: Some(ground.pull.to_array()), ..Tool::default() };
        let own_faces = std::iter::once(&*OWN).filter(|f| f.name == case.mark.lettering.face).cloned().collect();
        let mut job = Job { tool, marks: vec![case.mark], own_faces, ..Job::default() };
        if job.check().is_err() {
            continue;
        }
        job.hold_faces();
        let job = job.filled(None, time::macros::date!(2026 - 11 - 26));
        let plain = Plain::new((**ground.bench.part()).clone());
        let [one, other] = [run(&job, &plain, Scope::Whole), ground.bench.outcome(&job, Scope::Whole)];
        assert_eq!(one.marks[0].problem, other.marks[0].problem, "{seed}");
        assert_eq!(one.marks[0].findings, other.marks[0].findings, "{seed}");
    }
}

#[test]
#[ignore = "long: some minutes"]
fn twenty_thousand_jobs_at_random_are_refused_in_words_or_right() {
    random(1_000..21_000);
}

/// Every finding of the demo's jobs and of the kept cases, written to the file that `TINBADGE_FINDINGS` names: a change
/// that is to alter none is run before and after, and the files compared.
#[test]
#[ignore = "writes a file"]
fn findings_are_written_down() {
    let path = std::env::var("TINBADGE_FINDINGS").expect("TINBADGE_FINDINGS names a file");
    let day = time::Date::from_calendar_date(2026, time::Month::November, 26).unwrap();
    let mut all = BTreeMap::new();
    for demo in demo::jobs() {
        let bench = Bench::new(demo.read());
        let rows: Vec<Option<u32>> = match demo.job.roster.rows.len() {
            0 => vec![None],
            n => [0, n / 2, n - 1].iter().map(|&at| Some(demo.job.roster.rows[at].id)).collect(),
        };
        for row in rows {
            let job = demo.job.filled(row, day);
            for scope in [Scope::NearMarks, Scope::Whole] {
                let outcome = bench.outcome(&job, scope);
                let told: Vec<_> = outcome.marks.iter().map(|m| (&m.id, &m.problem, &m.findings)).collect();
                all.insert(format!("{} {row:?} {scope:?}", demo.job.name), serde_json::to_value(told).unwrap());
            }
        }
    }
    let cases: Vec<Case> = serde_json::from_str(include_str!("cases.json")).unwrap();
    let grounds = grounds();
    let told: Vec<serde_json::Value> = cases
        .par_iter()
        .map(|case| {
            let ground = grounds.iter().find(|g| g.name == case.part).unwrap();
            let job = Job {
                tool: Tool { pull: Some(ground.pull.to_array()), ..Tool::default() },
                marks: vec![case.mark.clone()],
                ..Job::default()
            };
            let outcome = ground.bench.outcome(&job, Scope::Whole);
            serde_json::to_value((&outcome.marks[0].problem, &outcome.marks[0].findings)).unwrap()
        })
        .collect();
    for (at, told) in told.into_iter().enumerate() {
        all.insert(format!("case {at:03}"), told);
    }
    std::fs::write(path, serde_json::to_string_pretty(&all).unwrap()).unwrap();
}
