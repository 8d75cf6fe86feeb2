//! The plain line of calls and the bench that keeps its steps come to the same.

use demo::jobs;
use workbench::{Bench, Outcome, Plain, Scope, run};

/// Everything that is told of an outcome, and its solids with their facets in an order of their own.
fn told(outcome: &Outcome) -> (serde_json::Value, Vec<solid::Mesh>) {
    let marks: Vec<_> = outcome.marks.iter().map(|m| (&m.id, m.on, &m.steel, &m.problem, &m.findings)).collect();
    let solids = outcome.groups.iter().map(|g| g.solid.in_order().mesh).collect();
    (serde_json::to_value(marks).unwrap(), solids)
}

#[test]
fn on_every_demo_job_the_bench_comes_to_what_the_plain_line_comes_to() {
    let day = time::macros::date!(2026 - 11 - 26);
    for demo in jobs() {
        let bench = Bench::new(demo.read());
        let plain = Plain::new(demo.read());
        let job = demo.job.filled(demo.job.first_row(), day);
        for scope in [Scope::NearMarks, Scope::Whole] {
            let wanted = told(&run(&job, &plain, scope));
            // made, and then kept
            for time in ["first", "second"] {
                assert!(told(&bench.outcome(&job, scope)) == wanted, "{} {scope:?}, the {time} time", job.name);
            }
        }
    }
}

#[test]
fn a_mark_that_was_moved_and_moved_back_comes_to_what_it_was() {
    let demo = jobs().remove(0);
    let day = time::macros::date!(2026 - 11 - 26);
    let job = demo.job.filled(demo.job.first_row(), day);
    let bench = Bench::new(demo.read());
    let before = told(&bench.outcome(&job, Scope::NearMarks));
    for (at, spacing) in [(0, 0.1), (1, 0.05), (0, 0.2)] {
        let mut moved = job.clone();
        moved.marks[at].lettering.spacing += spacing;
        let wanted = told(&run(&moved, &Plain::new(demo.read()), Scope::NearMarks)).0;
        // one mark joined to the others that were joined before: the same figures
        let found = told(&bench.outcome(&moved, Scope::NearMarks)).0;
        let figures = |marks: &serde_json::Value| -> Vec<(String, String, Option<i64>)> {
            let findings = marks.as_array().unwrap().iter().flat_map(|m| m[4].as_array().unwrap().clone());
            let micro = |f: &serde_json::Value| f["measured"].as_f64().map(|m| (m * 1e6).round() as i64);
            findings.map(|f| (f["check"].to_string(), f["state"].to_string(), micro(&f))).collect()
        };
        assert_eq!(figures(&found), figures(&wanted), "mark {at}");
    }
    assert!(told(&bench.outcome(&job, Scope::NearMarks)) == before);
}
