//! Jobs with exactly one thing wrong by a known small amount, each with its sound twin. The truth is known from how the
//! part and the mark were made, or read off the marked solid's corners; the limit is then set just past it, and just
//! short of it by the set's margin.

use crate::{known::Known, known_letters::*, known_places::*, known_seats::*, made::of, thrown::Dice};
use inspection::State;
use rayon::prelude::*;
use trade::OwnLimit;
use trade::limits::{Side, Subject};
use workbench::{Bench, Scope};

/// A known job of one of the kinds.
pub type Make = fn(&mut Dice) -> Known;

pub const KINDS: &[(&str, Make)] = &[
    ("cap height on a cylinder", cap_height),
    ("stroke on a cylinder", stroke),
    ("relief height", relief_height),
    ("draft on a cylinder", draft),
    ("cap height on a sphere", cap_height_on_a_sphere),
    ("stroke on a sphere", stroke_on_a_sphere),
    ("small piece on round seats", island_on_round),
    ("stroke to relief on round seats", stroke_to_relief_on_round),
    ("relief height on every seat", relief_height_on_every_seat),
    ("wall of a tube", wall_of_a_tube),
    ("clearance to the end of a tube", clearance_on_a_tube),
    ("clearance to an edge", clearance),
    ("clearance to a mark", clearance_to_mark),
    ("parting line", parting),
    ("keep-out", keep_out),
    ("wall under a letter", wall),
    ("wall added", wall_added),
    ("gap", gap),
    ("stroke to relief", stroke_to_relief),
    ("counter closed by draft", counter),
    ("stroke to cap height", stroke_to_cap),
    ("relief to cap height", relief_to_cap),
    ("word gap", word_gap),
    ("line gap", line_gap),
    ("small piece", island),
    ("steel between letters", steel_between),
    ("steel of letters", steel_of_letters),
    ("draft on a dome", draft_on_a_dome),
    ("draft under a leaning pull", draft_under_a_leaning_pull),
    ("gap on a cylinder", gap_on_round),
    ("steel on a cylinder", steel_on_round),
    ("inner corners", inner_corner),
    ("parting line on a shaft", parting_on_a_shaft),
    ("keep-out on a shaft", keep_out_on_a_shaft),
    ("draft on every seat", draft_on_every_seat),
    ("parting line on every seat", parting_on_every_seat),
    ("keep-out on every seat", keep_out_on_every_seat),
    ("hollow under every seat", hollow_under_every_seat),
];

/// Makes so many jobs of each kind and judges each twice; what was told wrongly.
fn campaign(each: u64, seed: u64) -> Vec<String> {
    let numbered = KINDS.iter().enumerate().flat_map(|(k, kind)| (0..each).map(move |n| (1_000 * k as u64 + n, kind)));
    let all: Vec<(u64, &(&str, Make))> = numbered.collect();
    let own = |n: u64| seed.wrapping_mul(1_000_003).wrapping_add(n);
    all.into_par_iter().flat_map_iter(|(n, (kind, make))| judged(kind, own(n), make(&mut Dice(own(n))))).collect()
}

/// Judges a job and its sound twin; what was told wrongly.
fn judged(kind: &str, own: u64, known: Known) -> Vec<String> {
    let Known { check, subject, truth, by, mut job, part } = known;
    let limit = job.limit_set().limit(subject);
    let past = if limit.side == Side::AtLeast { 1.0 } else { -1.0 };
    let bench = Bench::new(part);
    let mut wrong = Vec::new();
    for (value, state) in [(truth + past * by, State::Fails), (truth - past * (by + limit.margin), State::Passes)] {
        job.own_limits.retain(|own| own.subject != subject);
        // heights are judged by their angle as well, which isn't what is asked here
        job.own_limits.retain(|own| own.subject != Subject::ReadingAngle);
        job.own_limits.push(OwnLimit { subject: Subject::ReadingAngle, value: 0.0, source: String::new() });
        job.own_limits.push(OwnLimit { subject, value: value.max(0.0), source: "made".into() });
        let outcome = bench.outcome(&job, Scope::NearMarks);
        assert_eq!(outcome.marks[0].problem, None, "{kind} {own}");
        let finding = of(&outcome, check);
        if finding.state != state {
            wrong.push(format!(
                "{kind} {own}: {truth:.4} against {value:.4}: {:?}, {}",
                finding.state, finding.sentence
            ));
        }
    }
    wrong
}

#[test]
fn what_is_wrong_by_a_little_is_told_and_its_sound_twin_passes() {
    let wrong = campaign(4, 1);
    assert!(wrong.is_empty(), "{} told wrongly:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
#[ignore = "long: some minutes"]
fn of_a_thousand_defects_and_their_twins_none_is_told_wrongly() {
    let each = 1_000_u64.div_ceil(KINDS.len() as u64);
    let wrong = campaign(each, 2);
    println!(
        "{} jobs, each judged twice: {} told wrongly\n{}",
        each * KINDS.len() as u64,
        wrong.len(),
        wrong.join("\n")
    );
    assert!(wrong.is_empty());
}
