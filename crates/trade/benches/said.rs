//! How long does it take to say what a mark says over five thousand rows, and what of it can be mistaken?
//!
//! `said/row`: the text of one row, as while somebody types a piece of the recipe.
//! `said/texts`: all texts. `said/faults`: with doubles, beginnings, look-alikes and revisions that go backwards.

use criterion::{Criterion, criterion_group, criterion_main};
use std::hint::black_box;
use time::macros::date;
use trade::{
    Column, ColumnKind, Job, Mark, Piece, Roster, Row,
    recipe::PieceOf,
    said::{faults, texts},
};

const ROWS: u32 = 5000;

fn job() -> Job {
    let column = |name: &str, kind| Column { name: name.into(), kind };
    let mut job = Job::default();
    let columns = vec![column("no", ColumnKind::Text), column("cavity", ColumnKind::Cavity)];
    let rows = (1..=ROWS).map(|id| Row { id, cells: vec![format!("{:05}", id * 7), format!("{id:04}")] }).collect();
    job.roster = Roster { columns, rows }.into();
    let of = |column: &str| Piece::plain(PieceOf::cell(column));
    let text = Piece::plain(PieceOf::text("-"));
    job.marks = vec![Mark { id: "a".into(), recipe: vec![of("no"), text, of("cavity")], ..Mark::default() }];
    job.check().expect("the job is sound");
    job
}

fn said(c: &mut Criterion) {
    let job = job();
    let today = date!(2026 - 11 - 26);
    let mut group = c.benchmark_group("said");
    group.bench_function("row", |b| {
        b.iter(|| black_box(&job).says(&job.marks[0], job.roster.rows.last(), today).expect("a text"));
    });
    group.bench_function("texts", |b| b.iter(|| texts(black_box(&job), today)));
    group.bench_function("faults", |b| b.iter(|| faults(black_box(&job), today)));
    group.finish();
}

criterion_group!(benches, said);
criterion_main!(benches);
