//! How long does a mark of 24 characters take, against the bare boolean in the same run? On a flat of
//! parts of three sizes, and on each kind of seat (`seats/…`).
//!
//! `rows/…`: the demo's valve body in 1 to 128 cavities. `strips/…`: a freeform face laid flat.
//!
//! - `bare`: the part imported by the boolean library and joined with the same bodies.
//! - `first`: a fresh bench: everything built, the piece cut out, joined, all checks.
//! - `text`, `place`, `height`: one edit on a bench that has seen the mark, with all checks.
//! - `checks`: all checks of such an edit by themselves.

use criterion::{BatchSize, BenchmarkId, Criterion, criterion_group, criterion_main};
use demo::shapes::{arc, cylinder, prism, sheet_of, turned};
use glam::{DVec2, DVec3};
use rayon::prelude::*;
use relief::BuiltMark;
use solid::{Mesh, Part, Surface, boolean::Body};
use std::{
    cell::{Cell, LazyCell},
    hint::black_box,
    sync::Arc,
    time::Duration,
};
use trade::{
    Baseline, ColumnKind, Job, Justify, Lettering, Mark, PartRef, Parting, Place, Row, SeatRef, Tie, Tool, Tops,
};
use workbench::{Bench, Scope, Steps, line, rows::found};

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

fn on_top(part: &Part) -> Job {
    let top = part.faces.iter().position(|f| matches!(f.surface, Surface::Plane { normal, .. } if normal.z > 0.999));
    job(SeatRef::on(top.expect("the plate has a flat top") as u32), DVec3::Z, Place::default())
}

fn job(seat: SeatRef, pull: DVec3, place: Place) -> Job {
    Job {
        name: "bench".into(),
        part: PartRef::of_file("plate.stl", None),
        tool: Tool { pull: Some(pull.to_array()), parting: vec![Parting::Plane { height: 6.0 }], ..Tool::default() },
        marks: vec![Mark {
            id: "m".into(),
            text: TEXT.into(),
            seat,
            place,
            lettering: Lettering { face: "overpass".into(), ..Lettering::default() },
            ..Mark::default()
        }],
        ..Job::default()
    }
}

fn build(c: &mut Criterion) {
    for triangles in [20_000, 200_000, 2_000_000] {
        // made by the first row that is asked for
        let made = LazyCell::new(|| {
            let part = Part::from_mesh(&plate(triangles)).expect("the plate has an area");
            assert_eq!(part.soundness.complaint(), None);
            let made = Made::new(part, on_top);
            assert_eq!(made.built.placed.characters.len(), 24);
            made
        });
        let mut group = c.benchmark_group(format!("{triangles}"));
        group.sample_size(10).warm_up_time(Duration::from_millis(500)).measurement_time(Duration::from_secs(8));
        group.bench_function(BenchmarkId::from_parameter("bare"), |b| b.iter(|| made.bare()));
        group.bench_function(BenchmarkId::from_parameter("first"), |b| {
            b.iter_batched(
                || made.part.clone(),
                |part| black_box(Bench::new(part).outcome(&made.job, Scope::NearMarks)),
                BatchSize::PerIteration,
            );
        });
        let mut edit = |name: &str, change: &dyn Fn(&mut Mark, u32)| {
            group.bench_function(BenchmarkId::from_parameter(name), |b| b.iter(|| made.edit(change)));
        };
        edit("text", &|mark, n| mark.text = format!("{}{:04}", &TEXT[..TEXT.len() - 4], n % 10_000));
        edit("place", &|mark, n| mark.place.up = Tie::At { position: 50.0 + 1e-4 * f64::from(n) });
        edit("height", &higher);
        group.finish();
    }
}

fn higher(mark: &mut Mark, n: u32) {
    mark.relief.height = 0.3 + 1e-6 * f64::from(n);
}

/// A part with a mark on it that has been built once.
struct Made {
    part: Part,
    job: Job,
    bench: Bench,
    built: Arc<BuiltMark>,
    edits: Cell<u32>,
}

impl Made {
    fn new(part: Part, job: impl Fn(&Part) -> Job) -> Self {
        let job = job(&part);
        let bench = Bench::new(part.clone());
        let outcome = bench.outcome(&job, Scope::NearMarks);
        let built = outcome.marks[0].built.clone().expect("the mark can be built");
        Self { part, job, bench, built, edits: Cell::new(0) }
    }

    fn bare(&self) {
        let stock = Body::new(&self.part.mesh, "part").expect("closed");
        let bodies = self.built.bodies.iter().map(|x| Body::new(&x.mesh, "letter").expect("closed"));
        black_box(stock.with(&bodies.collect::<Vec<_>>(), &[]).expect("joined"));
    }

    /// One that the bench has not seen.
    fn edited(&self, change: &dyn Fn(&mut Mark, u32)) -> Job {
        self.edits.set(self.edits.get() + 1);
        let mut job = self.job.clone();
        change(&mut job.marks[0], self.edits.get());
        job
    }

    fn edit(&self, change: &dyn Fn(&mut Mark, u32)) {
        black_box(self.bench.outcome(&self.edited(change), Scope::NearMarks));
    }
}

type Ground = (&'static str, Part, SeatRef, DVec3, Place);

/// A seat over all faces of a part that are wanted.
fn ground(name: &'static str, part: Part, pull: DVec3, place: Place, wanted: &dyn Fn(&Surface) -> bool) -> Ground {
    let faces = part.faces.iter().enumerate().filter(|(_, f)| wanted(&f.surface)).map(|(at, _)| at as u32);
    let mut faces: Vec<u32> = faces.collect();
    assert!(!faces.is_empty(), "{name} has no such face");
    let with = faces.split_off(1);
    (name, part, SeatRef { face: faces[0], with }, pull, place)
}

/// Each kind of seat, with a place for the text that suits it.
fn grounds() -> Vec<Ground> {
    let of = |points: &[(f64, f64)]| points.iter().map(|&(r, z)| DVec2::new(r, z)).collect::<Vec<_>>();
    let part = |mesh: &Mesh| Part::from_mesh(mesh).expect("the shapes are closed");
    let cone = turned(&of(&[(0.0, 0.0), (30.0, 0.0), (15.0, 50.0), (0.0, 50.0)]));
    let dome: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(DVec2::ZERO, 40.0, 0.0, 90.0)).collect();
    let mut ring = arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0);
    ring.pop();
    let rise = 20.0 * 20.0_f64.to_radians().tan();
    let roof: Vec<DVec3> = [(-50.0, 0.0), (50.0, 0.0), (50.0, 4.0), (0.0, 4.0 + 2.5 * rise), (-50.0, 4.0)]
        .iter()
        .map(|&(x, z)| DVec3::new(x, 20.0, z))
        .collect();
    let circle = Baseline::Arc { radius: 20.0, tops: Tops::Out, share: 50.0, stands: Justify::Middle, bent: false };
    let round = Place { baseline: circle, ..Place::default() };
    let along = Place { baseline: Baseline::Ring { bent: false }, ..Place::default() };
    let mut all = Vec::new();
    let barrel = cylinder(DVec3::ZERO, DVec3::X * 100.0, 20.0);
    all.push(ground("cylinder", part(&barrel), DVec3::Z, Place::default(), &|s| matches!(s, Surface::Cylinder { .. })));
    all.push(ground("cone", part(&cone), DVec3::NEG_Y, along, &|s| matches!(s, Surface::Cone { .. })));
    all.push(ground("sphere", part(&turned(&dome)), DVec3::Z, round, &|s| matches!(s, Surface::Sphere { .. })));
    all.push(ground("torus", part(&turned(&ring)), DVec3::Z, Place::default(), &|s| {
        matches!(s, Surface::Torus { .. })
    }));
    let belly = arc(DVec2::new(-75.0, 0.0), 100.0, -25.0, 25.0);
    let (low, high) = (belly[0].y, belly[belly.len() - 1].y);
    let barrel: Vec<DVec2> = of(&[(0.0, low)]).into_iter().chain(belly).chain(of(&[(0.0, high)])).collect();
    all.push(ground("revolution", part(&turned(&barrel)), DVec3::NEG_Y, Place::default(), &|s| {
        matches!(s, Surface::Revolution { .. })
    }));
    // a flat, a fillet of R 6 and a wall; the text stands across
    let mut rounded: Vec<DVec3> =
        arc(DVec2::ZERO, 6.0, 0.0, 90.0).iter().map(|p| DVec3::new(-50.0, p.x, p.y)).collect();
    rounded.extend([(-30.0, 6.0), (-30.0, -30.0), (6.0, -30.0)].map(|(y, z)| DVec3::new(-50.0, y, z)));
    let diagonal = DVec3::new(0.0, 1.0, 1.0).normalize();
    all.push(ground("fillet", part(&prism(&rounded, DVec3::X * 100.0)), diagonal, Place::default(), &|s| match s {
        Surface::Plane { normal, .. } => normal.y > 0.9 || normal.z > 0.9,
        _ => true,
    }));
    let lever = part(&demo::parts::shut_off_lever());
    let freeform = |f: &solid::Face| matches!(f.surface, Surface::Freeform);
    let grip = lever.faces.iter().filter(|f| freeform(f)).map(|f| f.area).fold(0.0, f64::max);
    let at = lever.faces.iter().position(|f| freeform(f) && f.area == grip).expect("the lever has a grip") as u32;
    all.push(("freeform", lever, SeatRef::on(at), DVec3::Z, Place::default()));
    let roof = part(&prism(&roof, DVec3::NEG_Y * 40.0));
    all.push(ground(
        "crease",
        roof,
        DVec3::Z,
        Place::default(),
        &|s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.5),
    ));
    all
}

fn seats(c: &mut Criterion) {
    for (name, part, seat, pull, place) in grounds() {
        let made = LazyCell::new(|| {
            Made::new(part.clone(), |_| {
                let mut job = job(seat.clone(), pull, place.clone());
                job.marks[0].lettering.cap_height = 2.5;
                job
            })
        });
        let mut group = c.benchmark_group(format!("seats/{name}"));
        group.sample_size(10).warm_up_time(Duration::from_millis(300)).measurement_time(Duration::from_secs(4));
        group.bench_function(BenchmarkId::from_parameter("bare"), |b| b.iter(|| made.bare()));
        group.bench_function(BenchmarkId::from_parameter("height"), |b| b.iter(|| made.edit(&higher)));
        group.bench_function(BenchmarkId::from_parameter("checks"), |b| {
            b.iter_batched(
                || {
                    let job = made.edited(&higher);
                    let joined = line::joined(&job, &made.bench, Scope::NearMarks);
                    (job, joined)
                },
                |(job, mut joined)| {
                    line::inspect(&job, &made.bench, &mut joined);
                    black_box(joined)
                },
                BatchSize::PerIteration,
            );
        });
        group.bench_function(BenchmarkId::from_parameter("strip"), |b| {
            let seat = made.bench.seat(&made.job.marks[0].seat, Some(pull)).expect("a seat");
            b.iter(|| black_box(relief::place::place(&made.job.marks[0], &seat).expect("a place")));
        });
        group.finish();
    }
}

/// All cavities of the demo's valve body, four marks each of which one differs: built near the marks and checked, from
/// a bench that has seen none of them, rows on all cores.
fn rows(c: &mut Criterion) {
    let demo = demo::jobs().remove(0);
    let mut group = c.benchmark_group("rows");
    group.sample_size(10).measurement_time(Duration::from_secs(1)).warm_up_time(Duration::from_millis(1));
    for count in [1_u32, 8, 32, 128] {
        let mut job = demo.job.clone();
        let first = job.roster.rows[0].clone();
        let column = job.roster.columns.iter().position(|c| c.kind == ColumnKind::Cavity).expect("cavities");
        let row = |id: u32| {
            let mut row = Row { id, ..first.clone() };
            row.cells[column] = format!("{id:03}");
            row
        };
        let rows = (1..=count).map(row).collect();
        Arc::make_mut(&mut job.roster).rows = rows;
        job.marks.retain(|m| m.figure.is_none());
        for piece in job.marks.iter_mut().flat_map(|m| &mut m.recipe) {
            piece.width = None;
        }
        let day = time::macros::date!(2026 - 11 - 26);
        let jobs: Vec<Job> = job.roster.rows.iter().map(|row| job.filled_from(Some(row), day)).collect();
        assert!(jobs.iter().flat_map(|j| &j.marks).all(|m| m.unsaid.is_none()), "every row says something");
        group.bench_function(BenchmarkId::from_parameter(count), |b| {
            b.iter_batched(
                || Bench::new(demo.read()),
                |bench| {
                    let found = jobs.par_iter().map(|job| found(job, &bench.outcome(job, Scope::NearMarks)));
                    black_box(found.collect::<Vec<_>>())
                },
                BatchSize::PerIteration,
            );
        });
    }
    group.finish();
}

/// A doubly bent face 120 × 60 of so many facets, laid flat.
fn strips(c: &mut Criterion) {
    let mut group = c.benchmark_group("strips");
    group.sample_size(10).warm_up_time(Duration::from_millis(1)).measurement_time(Duration::from_secs(4));
    for rows in [55, 157, 500] {
        let bent = sheet_of(rows, 2 * rows, |v, u| {
            let (x, y) = (120.0 * u, 60.0 * v);
            DVec3::new(x, y, 6.0 * (x / 25.0).sin() * (y / 20.0).cos())
        });
        let part = Part::from_mesh(&bent).expect("it is large enough");
        assert!(part.faces.len() == 1 && matches!(part.faces[0].surface, Surface::Freeform));
        group.bench_function(BenchmarkId::from_parameter(bent.triangles.len()), |b| {
            b.iter(|| black_box(relief::Seat::on(&part, 0, Some(DVec3::Z)).expect("a seat")));
        });
    }
    group.finish();
}

criterion_group!(benches, build, seats, rows, strips);
criterion_main!(benches);
