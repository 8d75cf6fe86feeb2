//! Files that other systems wrote, against the figures that those systems put into them.
//!
//! `as1-tu-203.stp` is in Debian's gmsh-doc (GPL-2+), `screw.step`, `linkrods.step` and the STL files are in its
//! occt-misc (LGPL-2.1), `component8.step` in gmsh-doc again.

use solid::{Part, Surface, formats::stl, queries::Queries};
use std::{collections::BTreeMap, f64::consts::PI, fs, path::PathBuf};
use step::{Limits, read, read_part};
use trade::{PartRef, Unit};

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

/// What became of the faces that were found in a part's facets.
#[derive(Debug, Default, PartialEq)]
struct Counted {
    right: usize,
    freeform: usize,
    wrong: Vec<String>,
}

/// The faces found in the facets of a part whose surfaces and normals its file states: right where the found surface lies
/// within 0.01 mm and 5° of the stated one, at the corners of the facets and between them.
fn counted(known: &Part) -> Counted {
    let found = Part::read("part.stl", &stl::write(&known.mesh), Some(Unit::Mm)).unwrap();
    let queries = Queries::new(known.mesh.clone());
    let normals = known.normals.as_ref().unwrap();
    let mut worst = vec![(0.0_f64, 0.0_f64); found.faces.len()];
    for (t, face) in found.face_of.iter().enumerate() {
        let surface = &found.faces[*face as usize].surface;
        let middle = found.mesh.centroid(t);
        let stated = queries.nearest(middle, f64::MAX).unwrap().triangle as usize;
        let (angle, off) = &mut worst[*face as usize];
        for (p, n) in known.mesh.corners(stated).iter().zip(normals[stated]) {
            if let Some(own) = surface.normal(*p).filter(|_| n.length() > 0.5) {
                *angle = angle.max(own.angle_between(n.as_dvec3()).to_degrees());
            }
            *off = off.max(surface.height(*p).map_or(0.0, f64::abs));
        }
        let of = &known.faces[known.face_of[stated] as usize].surface;
        if let (Some(normal), Some(height)) = (of.normal(middle), of.height(middle)) {
            *off = off.max(surface.height(middle - normal * height).map_or(0.0, f64::abs));
        }
    }
    let mut out = Counted::default();
    for (face, (angle, off)) in found.faces.iter().zip(worst).filter(|(face, _)| face.facets > 0) {
        if matches!(face.surface, Surface::Freeform) {
            out.freeform += 1;
        } else if angle > 5.0 || off > 0.01 {
            out.wrong.push(format!("{:?}, {} facets: {angle:.2}°, {off:.4} mm", face.surface, face.facets));
        } else {
            out.right += 1;
        }
    }
    out
}

#[test]
fn faces_of_real_parts_are_found_in_their_facets_or_told_as_freeform() {
    // of the 10, 18 and 36 faces that the files state; the other ones of the first, and some of the last, are splines, and
    // chamfers of the second fall into bits
    for (name, right, bits) in [("screw.step", 7, 2), ("component8.step", 16, 18), ("linkrods.step", 33, 7)] {
        let bytes = bytes(name);
        let known = read_part(name, &bytes, &PartRef::of_file(name, None)).unwrap();
        let found = counted(&known);
        println!("{name}: {found:?}");
        assert!(found.wrong.is_empty() && found.right >= right && found.freeform <= bits, "{name}: {found:?}");
    }
    // the assembly's are all right, each as one
    let bytes = bytes("as1-tu-203.stp");
    for body in 0..read(&bytes, &Limits::default()).unwrap().bodies.len() as u32 {
        let wanted = PartRef { bodies: Some(vec![body]), ..PartRef::of_file("as1.stp", None) };
        let known = read_part("as1.stp", &bytes, &wanted).unwrap();
        assert_eq!(counted(&known), Counted { right: known.faces.len(), ..Counted::default() }, "{body}");
    }
}

/// Facets of STL files that say “facet”, whole solids among them, and how many faces of a kind are seen in pictures of them.
#[test]
fn triangles_of_other_systems_are_read_to_the_last_and_fall_into_the_faces_that_one_sees() {
    for name in ["TR12J_OCC.stl", "motor.stl", "propeller.stl", "sh1.stl", "sh2.stl", "shape.stl"] {
        let bytes = bytes(name);
        let said = bytes.split(|b| *b == b'\n').filter(|l| l.trim_ascii().starts_with(b"facet ")).count();
        let read = solid::formats::read(name, &bytes).unwrap_or_else(|e| panic!("{name}: {e}")).mesh.triangles.len();
        let part = Part::read(name, &bytes, Some(Unit::Mm)).unwrap();
        let mut kinds: BTreeMap<&str, usize> = BTreeMap::new();
        for face in &part.faces {
            let kind = match face.surface {
                Surface::Plane { .. } => "flat",
                Surface::Cylinder { .. } => "cylinder",
                Surface::Torus { .. } => "torus",
                _ => "other",
            };
            *kinds.entry(kind).or_default() += 1;
        }
        println!("{name}: {read} facets, {kinds:?}");
        match name {
            // a binary one
            "TR12J_OCC.stl" => assert!(read == 26_966 && part.soundness.is_solid() && part.faces.len() < 1000),
            // a mount with a hose of five rings
            "sh2.stl" => assert_eq!((read, kinds["torus"]), (said, 5)),
            // a clip: a strap bent round, its tongue with a hollow at the end
            "shape.stl" => assert_eq!((read, &kinds), (said, &BTreeMap::from([("cylinder", 3), ("flat", 7)]))),
            _ => assert!(read == said && said > 2000, "{name}: {read} of {said}"),
        }
    }
}
