//! How long does a mark of 24 characters take, against the bare boolean in the same run?
//!
//! - `bare`: the part imported by the boolean library and joined with the same bodies.
//! - `first`: a fresh bench: everything built, the piece cut out, joined, all checks.
//! - `text`, `place`, `height`: one edit on a bench that has seen the mark, with all checks.

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use glam::DVec3;
use solid::{Mesh, Part, Surface, boolean::Body};
use std::{cell::Cell, hint::black_box, time::Duration};
use trade::{Job, Lettering, Mark, PartRef, Parting, Place, Process, Relief, SeatRef, Tie, Tool};
use workbench::{Bench, Scope};

const TEXT: &str = "VB-20-07 D MARROWBY 471-C9X";

/// A plate 200 × 100 × 12 with flat sides and a wavy underside, about `triangles` of them, half on
/// the flat top.
fn plate(triangles: usize) -> Mesh {
    let across = ((triangles / 8) as f64).sqrt() as usize;
    let along = 2 * across;
    let mut mesh = Mesh::default();
    let at = |i: usize, j: usize, top: bool| ((usize::from(top) * (across + 1) + j) * (along + 1) + i) as u32;
    for top in [false, true] {
        for j in 0..=across {
            for i in 0..=along {
                let (x, y) = (200.0 * i as f64 / along as f64, 100.0 * j as f64 / across as f64);
                let z = if top { 12.0 } else { (x * 0.3).sin() * (y * 0.3).cos() };
                mesh.vertices.push(DVec3::new(x, y, z));
            }
        }
    }
    let mut quad = |a: u32, b: u32, c: u32, d: u32| mesh.triangles.extend([[a, b, c], [a, c, d]]);
    for j in 0..across {
        for i in 0..along {
            quad(at(i, j, true), at(i + 1, j, true), at(i + 1, j + 1, true), at(i, j + 1, true));
            quad(at(i, j, false), at(i, j + 1, false), at(i + 1, j + 1, false), at(i + 1, j, false));
        }
    }
    for i in 0..along {
        quad(at(i, 0, false), at(i + 1, 0, false), at(i + 1, 0, true), at(i, 0, true));
        quad(at(i + 1, across, false), at(i, across, false), at(i, across, true), at(i + 1, across, true));
    }
    for j in 0..across {
        quad(at(0, j + 1, false), at(0, j, false), at(0, j, true), at(0, j + 1, true));
        quad(at(along, j, false), at(along, j + 1, false), at(along, j + 1, true), at(along, j, true));
    }
    mesh
}

fn job(part: &Part) -> Job {
    let top = part.faces.iter().position(|f| matches!(f.surface, Surface::Plane { normal, .. } if normal.z > 0.999));
    Job {
        version: 1,
        name: "bench".into(),
        part: PartRef::of_file("plate.stl", None),
        face_names: Vec::new(),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![Parting::Plane { height: 6.0 }], ..Tool::default() },
        process: Process::default(),
        limits: "thermoplastic".into(),
        own_limits: Vec::new(),
        reading_distance: 500.0,
        marks: vec![Mark {
            id: "m".into(),
            on: true,
            text: TEXT.into(),
            seat: SeatRef::on(top.expect("the plate has a flat top") as u32),
            place: Place::default(),
            lettering: Lettering { face: "overpass".into(), ..Lettering::default() },
            relief: Relief::default(),
            manner: None,
        }],
    }
}

fn build(c: &mut Criterion) {
    for triangles in [20_000, 200_000, 2_000_000] {
        let part = Part::from_mesh(&plate(triangles)).expect("the plate has an area");
        assert_eq!(part.soundness.complaint(), None);
        let job = job(&part);
        let bench = Bench::new(part.clone());
        let made = bench.outcome(&job, Scope::NearMarks);
        let built = made.marks[0].built.clone().expect("the mark can be built");
        assert_eq!(built.placed.characters.len(), 24);
        let mut group = c.benchmark_group(format!("{triangles}"));
        group.sample_size(10).warm_up_time(Duration::from_millis(500)).measurement_time(Duration::from_secs(8));
        group.bench_function(BenchmarkId::from_parameter("bare"), |b| {
            b.iter(|| {
                let stock = Body::new(&part.mesh, "part").expect("closed");
                let bodies: Vec<Body> =
                    built.bodies.iter().map(|x| Body::new(&x.mesh, "letter").expect("closed")).collect();
                black_box(stock.with(&bodies, &[]).expect("joined"))
            });
        });
        group.bench_function(BenchmarkId::from_parameter("first"), |b| {
            b.iter_batched(
                || part.clone(),
                |part| black_box(Bench::new(part).outcome(&job, Scope::NearMarks)),
                criterion::BatchSize::PerIteration,
            );
        });
        // every edit is one the bench has not seen
        let count = Cell::new(0_u32);
        let mut edit = |name: &str, change: &dyn Fn(&mut Mark, u32)| {
            group.bench_function(BenchmarkId::from_parameter(name), |b| {
                b.iter(|| {
                    count.set(count.get() + 1);
                    let mut job = job.clone();
                    change(&mut job.marks[0], count.get());
                    black_box(bench.outcome(&job, Scope::NearMarks))
                });
            });
        };
        edit("text", &|mark, n| mark.text = format!("{}{:04}", &TEXT[..TEXT.len() - 4], n % 10_000));
        edit("place", &|mark, n| mark.place.up = Tie::At { position: 50.0 + 1e-4 * f64::from(n) });
        edit("height", &|mark, n| mark.relief.height = 0.3 + 1e-6 * f64::from(n));
        group.finish();
    }
}

criterion_group!(benches, build);
criterion_main!(benches);
