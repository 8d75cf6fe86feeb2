//! The demo's parts, as they come out of booleans and a single-precision file, fall into the faces
//! they were made of.

mod judged;
mod labelled;
mod made;

use judged::Told;
use rayon::prelude::*;
use solid::{DVec3, Mesh, Part, Surface, boolean::Body, formats::stl};
use trade::Unit;

#[test]
fn every_face_of_the_valve_body_is_found_with_its_radius() {
    let bytes = stl::write(&demo::parts::valve_body());
    let part = Part::read("valve-body.stl", &bytes, Some(Unit::Mm)).unwrap();
    assert_eq!(part.soundness.complaint(), None);
    let mut round: Vec<(f64, bool)> = part
        .faces
        .iter()
        .filter_map(|f| match f.surface {
            Surface::Cylinder { radius, inside, .. } => Some(((radius * 1e3).round() / 1e3, inside)),
            _ => None,
        })
        .collect();
    round.sort_by(|a, b| a.0.total_cmp(&b.0));
    assert_eq!(round, [(2.6, true), (2.6, true), (12.6, true), (15.0, false), (21.0, false)]);
    let planes = part.faces.iter().filter(|f| matches!(f.surface, Surface::Plane { .. })).count();
    // three ends of cylinder and collar, five sides of the flange, five of the top
    assert_eq!(planes, 13);
    assert_eq!(part.faces.len(), 18);
    assert!(part.faces.iter().all(|f| f.residual < 1e-3));
}

#[test]
fn the_block_has_six_planes() {
    let part = Part::from_mesh(&demo::parts::plain_block()).unwrap();
    assert_eq!(part.faces.len(), 6);
    assert!(part.faces.iter().all(|f| matches!(f.surface, Surface::Plane { .. })));
    assert!((part.mesh.volume() - 60.0 * 30.0 * 12.0).abs() < 1e-9);
}

/// A plate of 60 × 40 whose top bends both ways, so finely divided that strips of it look like cylinders.
fn bent_plate(along: u32, across: u32) -> Mesh {
    let size = DVec3::new(60.0, 40.0, 8.0);
    let mut mesh = Mesh::default();
    let columns = across + 1;
    for low in [false, true] {
        for i in 0..=along {
            for j in 0..=across {
                let (x, y) = (size.x * f64::from(i) / f64::from(along), size.y * f64::from(j) / f64::from(across));
                let bend = (x / 9.0).sin() + (y / 7.0).cos();
                mesh.vertices.push(DVec3::new(x, y, if low { 0.0 } else { size.z + bend }));
            }
        }
    }
    let under = (along + 1) * columns;
    for i in 0..along {
        for j in 0..across {
            let [a, b, c, d] = [(i, j), (i + 1, j), (i + 1, j + 1), (i, j + 1)].map(|(i, j)| i * columns + j);
            mesh.triangles.extend([[a, b, c], [a, c, d]]);
            mesh.triangles.extend([[a, c, b], [a, d, c]].map(|t: [u32; 3]| t.map(|v| v + under)));
        }
    }
    // walls round about, counter-clockwise from outside
    let rim: Vec<u32> = (0..along)
        .map(|i| i * columns)
        .chain((0..across).map(|j| along * columns + j))
        .chain((1..=along).rev().map(|i| i * columns + across))
        .chain((1..=across).rev())
        .collect();
    for k in 0..rim.len() {
        let (a, b) = (rim[k], rim[(k + 1) % rim.len()]);
        mesh.triangles.extend([[a, a + under, b + under], [a, b + under, b]]);
    }
    mesh
}

#[test]
fn a_small_bore_in_a_finely_divided_freeform_plate_is_found() {
    let plate = Body::new(&bent_plate(180, 120), "the plate").unwrap();
    let bore = demo::shapes::cylinder(DVec3::new(22.0, 17.0, -5.0), DVec3::Z * 30.0, 1.6);
    let drilled = plate.with(&[], &[Body::new(&bore, "the bore").unwrap()]).unwrap();
    let part = Part::from_mesh(&drilled.traced().mesh).unwrap();
    assert!(part.mesh.triangles.len() > 80_000);
    let round: Vec<f64> = part
        .faces
        .iter()
        .filter_map(|f| match f.surface {
            Surface::Cylinder { radius, inside: true, .. } => Some(radius),
            _ => None,
        })
        .collect();
    assert_eq!(round.len(), 1, "{:?}", part.faces);
    assert!((round[0] - 1.6).abs() < 0.002, "{round:?}");
    let freeform: usize = part.faces.iter().filter(|f| matches!(f.surface, Surface::Freeform)).map(|f| f.facets).sum();
    assert!(freeform > 43_000, "the top is one freeform face: {freeform}");
}

/// So many parts of each kind by numbers that look thrown, at 12 to 200 facets a turn, turned anyhow and in single precision;
/// every third one divided unevenly. The shares of their faces that are told right and as freeform.
fn tried(each: u64) -> [f64; 2] {
    let jobs: Vec<(usize, u64)> = (0..made::KINDS.len()).flat_map(|k| (0..each).map(move |n| (k, n))).collect();
    let results: Vec<_> = jobs
        .par_iter()
        .map(|&(k, n)| {
            let mut dice = demo::Dice(1 + 7919 * k as u64 + 104_729 * n);
            let sides = [12, 16, 20, 24, 30, 36, 48, 64, 72, 96, 120, 160, 200][(n % 13) as usize];
            let mut made = made::KINDS[k].1(&mut dice, sides);
            if n % 3 == 2 {
                let share = dice.between(0.05, 0.4);
                made = made.divided(&mut dice, share);
            }
            let made = made.anyhow(&mut dice);
            let part = Part::from_mesh(&made.mesh).expect("it has an area");
            (k, n, sides, judged::told(&made, &part))
        })
        .collect();
    let mut wrong = Vec::new();
    let mut sums = [0; 4];
    for (at, (name, _)) in made::KINDS.iter().enumerate() {
        let mut counts = [0; 4];
        for (_, n, sides, told) in results.iter().filter(|r| r.0 == at) {
            for (k, t) in told.iter().enumerate() {
                counts[match t {
                    Told::Right => 0,
                    Told::Freeform => 1,
                    Told::Split(_) => 2,
                    Told::Wrong(_) => 3,
                }] += 1;
                if let Told::Wrong(why) = t {
                    wrong.push(format!("{name} {n}, {sides} facets a turn, face {k}: {why}"));
                }
            }
        }
        let [right, freeform, split, bad] = counts;
        println!("{name:18} {right} faces told right, {freeform} as freeform, {split} split, {bad} wrongly");
        for (sum, own) in sums.iter_mut().zip(counts) {
            *sum += own;
        }
    }
    let all: i32 = sums.iter().sum();
    println!("{each} parts of each kind, {all} faces: right, as freeform, split, wrongly: {sums:?}");
    assert_eq!(wrong, Vec::<String>::new());
    [sums[0], sums[1]].map(|count| f64::from(count) / f64::from(all))
}

#[test]
fn faces_of_made_parts_are_told_right_or_as_freeform_and_never_wrongly() {
    let [right, freeform] = tried(18);
    assert!(right > 0.97 && right + freeform > 0.99, "{right} {freeform}");
}

#[test]
#[ignore = "long: two minutes"]
fn faces_of_many_made_parts_are_told_right() {
    let [right, freeform] = tried(100);
    assert!(right > 0.96 && right + freeform > 0.99, "{right} {freeform}");
}
