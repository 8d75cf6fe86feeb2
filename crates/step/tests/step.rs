//! STEP files that the kernel itself wrote, with parameters known beforehand: one of each kind of
//! surface, an assembly in inches, a surface body; and files that can't be read.

use glam::DVec3;
use solid::{Part, Surface, part::PartError};
use std::{f64::consts::PI, fs, path::Path, process::Command, sync::LazyLock, time::Duration};
use step::{Limits, StepError, read, read_part};
use tempfile::TempDir;
use trade::{BodySide, PartRef, Unit};

static SAMPLES: LazyLock<TempDir> = LazyLock::new(|| {
    let folder = tempfile::tempdir().unwrap();
    let made = Command::new(env!("CARGO_BIN_EXE_tinbadge-step")).arg("samples").arg(folder.path()).output().unwrap();
    assert!(made.status.success(), "{}", String::from_utf8_lossy(&made.stderr));
    folder
});

fn bytes(name: &str) -> Vec<u8> {
    fs::read(SAMPLES.path().join(name)).unwrap()
}

fn wanted(bodies: Option<Vec<u32>>) -> PartRef {
    PartRef { bodies, ..PartRef::of_file("part.step", None) }
}

fn part(name: &str) -> Part {
    read_part(name, &bytes(name), &wanted(None)).unwrap_or_else(|e| panic!("{name}: {e}"))
}

/// The only face of the kind that `pick` knows.
fn only<T>(part: &Part, pick: impl Fn(&Surface) -> Option<T>) -> T {
    let mut found: Vec<T> = part.faces.iter().filter_map(|f| pick(&f.surface)).collect();
    assert_eq!(found.len(), 1, "{:?}", part.faces);
    found.remove(0)
}

const EXACT: f64 = 1e-6;

fn along(a: DVec3, b: DVec3) -> bool {
    a.cross(b.normalize()).length() < EXACT
}

#[test]
fn every_kind_of_surface_comes_with_its_parameters() {
    let axis = DVec3::new(1.0, 2.0, 2.0) / 3.0;
    let (origin, radius, way, inside) = only(&part("cylinder.step"), |s| match *s {
        Surface::Cylinder { origin, axis, radius, inside } => Some((origin, radius, axis, inside)),
        _ => None,
    });
    assert!((radius - 7.5).abs() < EXACT && along(way, axis) && !inside);
    // in the middle of its length
    assert!(origin.distance(DVec3::new(3.0, -4.0, 5.0) + axis * 10.5) < 1e-5);

    let (apex, way, angle) = only(&part("cone.step"), |s| match *s {
        Surface::Cone { apex, axis, angle, inside: false } => Some((apex, axis, angle)),
        _ => None,
    });
    // radii 12 and 6 over 20: the apex lies another 20 on
    let axis = DVec3::new(2.0, 1.0, 2.0) / 3.0;
    assert!((angle - 0.3_f64.atan()).abs() < EXACT && along(way, axis) && way.dot(axis) < 0.0);
    assert!(apex.distance(DVec3::new(-2.0, 1.0, 4.0) + axis * 40.0) < 1e-5);

    let (centre, radius) = only(&part("sphere.step"), |s| match *s {
        Surface::Sphere { centre, radius, inside: false } => Some((centre, radius)),
        _ => None,
    });
    assert!((radius - 25.0).abs() < EXACT && centre.distance(DVec3::new(5.0, 6.0, 7.0)) < EXACT);

    let (centre, way, major, minor) = only(&part("torus.step"), |s| match *s {
        Surface::Torus { centre, axis, major, minor, inside: false } => Some((centre, axis, major, minor)),
        _ => None,
    });
    assert!((major - 20.0).abs() < EXACT && (minor - 5.0).abs() < EXACT);
    assert!(centre.distance(DVec3::new(1.0, 2.0, 3.0)) < EXACT && along(way, DVec3::new(2.0, 2.0, 1.0)));

    let bore = part("bore.step");
    let (radius, inside) = only(&bore, |s| match *s {
        Surface::Cylinder { radius, inside, .. } => Some((radius, inside)),
        _ => None,
    });
    assert!((radius - 5.0).abs() < EXACT && inside, "a hole's normal points to its axis");
    assert_eq!(bore.faces.len(), 7);
}

#[test]
fn meshes_are_closed_and_hold_the_kernels_own_volume_within_the_chord() {
    for (name, exact) in [
        ("box.step", 30.0 * 20.0 * 10.0),
        ("cylinder.step", PI * 7.5 * 7.5 * 21.0),
        ("cone.step", PI * 20.0 * (144.0 + 72.0 + 36.0) / 3.0),
        ("sphere.step", PI * 4.0 / 3.0 * 25.0_f64.powi(3)),
        ("torus.step", 2.0 * PI * PI * 20.0 * 25.0),
        ("bore.step", 8.0 * (1200.0 - PI * 25.0)),
    ] {
        let part = part(name);
        assert!(part.soundness.is_solid(), "{name}: {:?}", part.soundness.complaint());
        let body = &part.bodies[0];
        assert!(body.solid && body.taken && (body.volume - exact).abs() < 1e-6 * exact, "{name}: {}", body.volume);
        let area: f64 = part.faces.iter().map(|f| f.area).sum();
        let off = (part.mesh.volume() - exact).abs();
        assert!(off <= area * Limits::default().chord, "{name}: off by {off} mm³");
        assert!(part.faces.iter().all(|f| f.residual < 1e-6), "{name}: vertices lie on their surfaces");
        assert_eq!(part.unit, Unit::Mm);
        let normals = part.normals.as_ref().unwrap();
        for (t, normals) in normals.iter().enumerate() {
            let flat = part.mesh.normal(t);
            let pole = |n: &glam::Vec3| n.length_squared() < 0.5;
            assert!(normals.iter().all(|n| pole(n) || n.as_dvec3().dot(flat) > 0.8), "{name}: normals point outward");
        }
    }
}

#[test]
fn a_cylinder_stored_as_a_spline_is_known_for_what_it_is() {
    let (radius, axis) = only(&part("spline-cylinder.step"), |s| match *s {
        Surface::Cylinder { radius, axis, .. } => Some((radius, axis)),
        _ => None,
    });
    assert!((radius - 7.5).abs() < 1e-6 && along(axis, DVec3::new(1.0, 2.0, 2.0)));
}

#[test]
fn an_assembly_keeps_names_colours_places_and_its_unit_and_bodies_can_be_chosen() {
    let bytes = bytes("pair.step");
    let file = read(&bytes, &Limits::default()).unwrap();
    assert_eq!(file.bodies.iter().map(|b| b.name.as_str()).collect::<Vec<_>>(), ["Größe Ω", "pin"]);
    let red = file.bodies[0].colour.unwrap();
    assert!((red[0] - 0.8).abs() < 0.01 && (red[1] - 0.1).abs() < 0.01, "{red:?}");
    let all = read_part("pair.step", &bytes, &wanted(None)).unwrap();
    assert_eq!((all.unit, all.soundness.shells, all.soundness.is_solid()), (Unit::Inch, 2, true));
    let (low, high) = all.mesh.bounds();
    assert!(low.distance(DVec3::new(0.0, -6.35, 0.0)) < 0.01 && high.distance(DVec3::new(57.15, 12.7, 25.4)) < 0.01);
    let pin = read_part("pair.step", &bytes, &wanted(Some(vec![1]))).unwrap();
    assert_eq!(pin.bodies.iter().map(|b| b.taken).collect::<Vec<_>>(), [false, true]);
    assert_eq!(pin.soundness.shells, 1);
    // the file's own numbers: the block's six faces come first
    assert_eq!(pin.faces.iter().flat_map(|f| f.numbers.clone()).min(), Some(6));
    let said = read_part("pair.step", &bytes, &wanted(Some(vec![2]))).unwrap_err().to_string();
    assert!(said.contains("no body 3; it holds 2"), "{said}");
}

/// Radii, angles and the like of a surface, by its kind.
fn figures(surface: &Surface) -> (&'static str, Vec<f64>) {
    let sizes = match *surface {
        Surface::Cylinder { radius, .. } | Surface::Sphere { radius, .. } => vec![radius],
        Surface::Cone { angle, .. } => vec![angle],
        Surface::Torus { major, minor, .. } => vec![major, minor],
        Surface::Revolution { ref profile, .. } | Surface::Extrusion { ref profile, .. } => vec![profile.length()],
        Surface::Plane { .. } | Surface::Freeform => vec![],
    };
    (surface.word(), sizes)
}

/// The same parts as bare triangles: every face of more than 20 facets is found with its kind, and
/// its radius within 0.002 mm.
#[test]
fn faces_found_in_bare_triangles_are_those_of_the_file() {
    for name in [
        "box.step",
        "cylinder.step",
        "cone.step",
        "sphere.step",
        "torus.step",
        "bore.step",
        "filter-dome.step",
        "spray-nozzle.step",
    ] {
        let known = part(name);
        let found = Part::from_mesh(&known.mesh).unwrap();
        let mut by_x: Vec<_> = (0..found.mesh.triangles.len()).map(|t| (found.mesh.centroid(t), t)).collect();
        by_x.sort_by(|a, b| a.0.x.total_cmp(&b.0.x));
        for (at, face) in known.faces.iter().enumerate().filter(|(_, f)| f.facets > 20) {
            // the found face that most of the known one's area belongs to
            let mut areas = vec![0.0; found.faces.len()];
            for t in known.triangles_of(at as u32) {
                let middle = known.mesh.centroid(t as usize);
                let first = by_x.partition_point(|(other, _)| other.x < middle.x - 1e-9);
                let (_, same) = by_x[first..].iter().find(|(other, _)| other.distance(middle) < 1e-9).unwrap();
                areas[found.face_of[*same] as usize] += known.mesh.area(t as usize);
            }
            let most = (0..areas.len()).max_by(|&a, &b| areas[a].total_cmp(&areas[b])).unwrap();
            let (wanted, sizes) = figures(&face.surface);
            let (word, others) = figures(&found.faces[most].surface);
            assert_eq!(word, wanted, "{name}, face {at} of {} facets: {:?}", face.facets, found.faces[most]);
            assert!(areas[most] > 0.98 * face.area, "{name}, face {at}: {} of {}", areas[most], face.area);
            for (a, b) in sizes.iter().zip(others) {
                assert!((a - b).abs() < 0.002, "{name}, face {at}: {a} {b}");
            }
        }
    }
}

#[test]
fn a_surface_body_is_a_part_that_is_not_a_solid() {
    let surface = part("sheet.step");
    assert!(!surface.bodies[0].solid);
    // the file says that it is meant so
    assert_eq!((surface.surface_body, surface.markable()), (Some(BodySide::Front), Ok(())));
    assert_eq!(surface.soundness.open_edges, 4);
}

#[test]
fn the_demos_dome_and_nozzle_are_solids_with_their_faces() {
    let dome = part("filter-dome.step");
    assert!(dome.soundness.is_solid());
    let radii: Vec<f64> = dome
        .faces
        .iter()
        .filter_map(|f| match f.surface {
            Surface::Sphere { radius, .. } => Some(radius),
            _ => None,
        })
        .collect();
    assert!(radii.iter().any(|r| (r - 25.0).abs() < EXACT) && radii.iter().any(|r| (r - 22.6).abs() < EXACT));
    let nozzle = part("spray-nozzle.step");
    assert!(nozzle.soundness.is_solid());
    let angle = only(&nozzle, |s| match *s {
        Surface::Cone { angle, .. } => Some(angle),
        _ => None,
    });
    assert!((angle - 0.3_f64.atan()).abs() < EXACT);
}

#[test]
fn files_that_cannot_be_read_get_a_sentence_with_its_line() {
    let cone = String::from_utf8(bytes("cone.step")).unwrap();
    for (text, says) in [
        ("garbage".to_owned(), "expecting STEP"),
        (cone[..cone.len() / 2].to_owned(), "Line "),
        (cone.replace("MANIFOLD_SOLID_BREP", "MANIFOLD_SOLID_BROP"), "no solid"),
    ] {
        let said = read_part("part.step", text.as_bytes(), &wanted(None)).unwrap_err();
        assert!(matches!(said, PartError::Read(_)));
        assert!(said.to_string().contains(says), "“{said}” should say “{says}”");
    }
    assert!(read_part("part.stp", &[], &wanted(None)).unwrap_err().to_string().contains("empty"));
}

#[test]
fn time_memory_and_triangles_are_limited() {
    let sphere = bytes("sphere.step");
    let few = Limits { most_triangles: 100, ..Limits::default() };
    assert!(read(&sphere, &few).unwrap_err().to_string().contains("more than 100 triangles"));
    let brief = Limits { clock: Duration::from_millis(1), ..Limits::default() };
    assert!(matches!(read(&sphere, &brief), Err(StepError::Clock(_))));
    // with too little memory the kernel leaves out what it can't hold and says nothing
    let full = read(&sphere, &Limits::default()).unwrap();
    for megabytes in [60, 80, 100, 120, 140] {
        match read(&sphere, &Limits { memory: megabytes << 20, ..Limits::default() }) {
            Err(said) => assert!(matches!(said, StepError::Refused(_) | StepError::Ended(_)), "{said}"),
            Ok(file) => assert!((file.bodies[0].area / full.bodies[0].area - 1.0).abs() < 1e-9),
        }
    }
    let said = read(&sphere, &Limits { memory: 80 << 20, ..Limits::default() }).unwrap_err().to_string();
    assert!(said.contains("mesh"), "{said}");
}

/// Bytes changed at random: read or refused, never a hang past the clock.
#[test]
#[ignore = "a minute and more"]
fn five_hundred_mutated_files_end_in_time() {
    let mut state = 0x9E37_79B9_7F4A_7C15_u64;
    let mut random = move |below: usize| {
        // xorshift64 (Marsaglia 2003)
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        (state % below as u64) as usize
    };
    let limits = Limits { seconds: 10, clock: Duration::from_secs(15), memory: 2 << 30, ..Limits::default() };
    let names = ["cone.step", "torus.step", "bore.step", "pair.step", "spline-cylinder.step"];
    let (mut read_well, mut refused) = (0, 0);
    for round in 0..500 {
        let mut bytes = bytes(names[round % names.len()]);
        for _ in 0..=random(6) {
            let at = random(bytes.len());
            bytes[at] = b"0123456789.#,()E-*$'"[random(20)];
        }
        match read(&bytes, &limits) {
            Ok(file) => {
                read_well += 1;
                assert!(file.bodies.iter().all(|b| !b.faces.is_empty()));
            }
            Err(StepError::NoReader(why)) => panic!("{why}"),
            Err(_) => refused += 1,
        }
    }
    assert!(read_well > 0 && refused > 0, "{read_well} read, {refused} refused");
}

#[test]
fn names_end_as_step_files_do() {
    for (name, yes) in [("a.STEP", true), ("b.stp", true), ("c.p21", true), ("d.stl", false), ("step", false)] {
        assert_eq!(step::is_step(name), yes, "{name}");
    }
    assert!(Path::new(env!("CARGO_BIN_EXE_tinbadge-step")).is_file());
}
