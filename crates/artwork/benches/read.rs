//! How long does a drawing take from its bytes to a closed region, with its faults?
//!
//! `dxf/50000`: fifty thousand lines and arcs, drawn one by one and in no order, that close to toothed wheels.
//! `dxf/50000-drawn`: the same with the outline as a job keeps it.

use artwork::{Wish, outline, read};
use criterion::{Criterion, criterion_group, criterion_main};
use std::{f64::consts::TAU, fmt::Write, hint::black_box};

const WHEELS: usize = 100;
const TEETH: usize = 125;

/// Toothed wheels of lines and arcs: to each tooth two flanks, a tip and a root.
fn wheels() -> String {
    let mut entities = Vec::new();
    for wheel in 0..WHEELS {
        let (x, y) = ((wheel % 10) as f64 * 100.0, (wheel / 10) as f64 * 100.0);
        let at = |quarter: usize, radius: f64| {
            let angle = TAU * quarter as f64 / (4 * TEETH) as f64;
            (x + radius * angle.cos(), y + radius * angle.sin(), angle.to_degrees())
        };
        for tooth in 0..TEETH {
            let q = 4 * tooth;
            let mut line = |a: (f64, f64, f64), b: (f64, f64, f64)| {
                entities.push(format!("0\nLINE\n8\n0\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n", a.0, a.1, b.0, b.1));
            };
            line(at(q, 40.0), at(q + 1, 44.0));
            line(at(q + 2, 44.0), at(q + 3, 40.0));
            for (from, radius) in [(q + 1, 44.0), (q + 3, 40.0)] {
                let (start, end) = (at(from, radius).2, at(from + 1, radius).2);
                entities.push(format!("0\nARC\n8\n0\n10\n{x}\n20\n{y}\n40\n{radius}\n50\n{start}\n51\n{end}\n"));
            }
        }
    }
    let n = entities.len();
    let mut out = String::from("0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n");
    // in no order that a reader could lean on
    for k in 0..n {
        let _ = write!(out, "{}", entities[k * 7919 % n]);
    }
    out + "0\nENDSEC\n0\nEOF\n"
}

fn drawings(c: &mut Criterion) {
    let text = wheels();
    let wish = Wish { least: Some(0.4), ..Wish::default() };
    let mut group = c.benchmark_group("dxf");
    group.sample_size(10);
    group.bench_function("50000", |b| b.iter(|| read("wheels.dxf", black_box(text.as_bytes()), &wish).unwrap()));
    group.bench_function("50000-drawn", |b| {
        b.iter(|| outline(&read("wheels.dxf", black_box(text.as_bytes()), &wish).unwrap().region).len());
    });
    group.finish();
}

criterion_group!(benches, drawings);
criterion_main!(benches);
