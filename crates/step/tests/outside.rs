//! STEP files that other systems wrote, against the figures that those systems put into them.
//!
//! `as1-tu-203.stp` is in Debian's gmsh-doc (GPL-2+), `screw.step` and `linkrods.step` are in its
//! occt-misc (LGPL-2.1), `component8.step` in gmsh-doc again.

use solid::Surface;
use std::{f64::consts::PI, fs, path::PathBuf};
use step::{Limits, read, read_part};
use trade::PartRef;

fn bytes(name: &str) -> Vec<u8> {
    let kept = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/samples"));
    let path = std::env::var_os("TINBADGE_SAMPLES").map_or(kept, PathBuf::from).join(name);
    fs::read(&path).unwrap_or_else(|e| panic!("{}: {e}; ./tinbadge test fetches the samples", path.display()))
}

/// Volume (mm³) and area (mm²) of the assembly's parts, as the system that drew them states them in
/// the file's validation properties.
const STATED: [(&str, usize, f64, f64); 5] = [
    ("nut", 8, 664.476_451_301, 747.193_720_347),
    ("bolt", 6, 3_199.194_869_827, 1_562.306_206_369),
    ("rod", 1, 15_705.534_251_651, 6_440.022_267_471),
    ("bracket", 2, 96_858.893_149_642, 24_628.538_517_154),
    ("plate", 1, 530_576.679_449_01, 70_027.709_746_208),
];

/// The stated figures are rough: the rod's is low by 1.5e-4, the bolt's by 4e-4.
const STATED_WITHIN: f64 = 5e-4;

#[test]
fn an_assembly_has_the_volumes_and_areas_that_its_own_system_states() {
    let bytes = bytes("as1-tu-203.stp");
    let file = read(&bytes, &Limits::default()).unwrap();
    assert_eq!(file.bodies.len(), STATED.iter().map(|s| s.1).sum::<usize>());
    // what can be worked out by hand is exact: a rod of 10 × 200, a plate of 180 × 150 × 20 with six holes of 10
    for exact in [PI * 25.0 * 200.0, 540_000.0 - 6.0 * PI * 25.0 * 20.0] {
        assert!(file.bodies.iter().any(|b| (b.volume - exact).abs() < 1e-6 * exact), "{exact}");
    }
    for (name, count, volume, area) in STATED {
        let found: Vec<u32> = (0..file.bodies.len() as u32)
            .filter(|&b| (file.bodies[b as usize].volume - volume).abs() < STATED_WITHIN * volume)
            .collect();
        assert_eq!(found.len(), count, "{name}: {:?}", file.bodies.iter().map(|b| b.volume).collect::<Vec<_>>());
        let wanted = PartRef { bodies: Some(vec![found[0]]), ..PartRef::of_file("as1.stp", None) };
        let part = read_part("as1.stp", &bytes, &wanted).unwrap();
        assert!(part.soundness.is_solid(), "{name}: {:?}", part.soundness.complaint());
        // facets lie inside round faces by no more than the chord error
        let chord = Limits::default().chord * area;
        let meshed: f64 = part.faces.iter().map(|f| f.area).sum();
        assert!((part.mesh.volume() - volume).abs() < chord + STATED_WITHIN * volume, "{name}: {}", part.mesh.volume());
        assert!((meshed - area).abs() < 2e-3 * area, "{name}: {meshed} of {area}");
    }
}

#[test]
fn the_plates_holes_are_cylinders_of_the_radius_that_its_volume_tells() {
    let bytes = bytes("as1-tu-203.stp");
    let file = read(&bytes, &Limits::default()).unwrap();
    let plate = file.bodies.iter().position(|b| b.volume > 500_000.0).unwrap() as u32;
    let wanted = PartRef { bodies: Some(vec![plate]), ..PartRef::of_file("as1.stp", None) };
    let part = read_part("as1.stp", &bytes, &wanted).unwrap();
    let holes: Vec<f64> = part
        .faces
        .iter()
        .filter_map(|f| match f.surface {
            Surface::Cylinder { radius, inside: true, .. } => Some(radius),
            _ => None,
        })
        .collect();
    assert_eq!(holes.len(), 6, "{:?}", part.faces);
    assert!(holes.iter().all(|r| (r - 5.0).abs() < 1e-6), "{holes:?}");
    assert_eq!(part.faces.iter().filter(|f| matches!(f.surface, Surface::Plane { .. })).count(), 6);
}

#[test]
fn parts_of_other_systems_come_in_whole() {
    for name in ["screw.step", "component8.step", "linkrods.step"] {
        let bytes = bytes(name);
        let part = read_part(name, &bytes, &PartRef::of_file(name, None)).unwrap_or_else(|e| panic!("{name}: {e}"));
        let kernel: f64 = part.bodies.iter().map(|b| b.volume).sum();
        let area: f64 = part.faces.iter().map(|f| f.area).sum();
        assert!(part.soundness.is_solid(), "{name}: {:?}", part.soundness.complaint());
        assert!((part.mesh.volume() - kernel).abs() < Limits::default().chord * area + 1e-6 * kernel, "{name}");
    }
}
