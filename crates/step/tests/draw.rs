//! Solids that the kernel draws, read back by it and held to closed forms.

use glam::{DAffine3, DVec3};
use solid::{Stage, Stopped, Surface, Unwatched, Watch};
use std::{f64::consts::PI, fs, process::Command};
use step::{
    Chain, Drawing, Drawn, DrawnFace, DrawnSeat, Limits, Schema, StepBody, StepError, StepFile, What, draw, read,
};

fn drawing<'a>(bodies: &'a [Drawn], part: Option<&'a [u8]>) -> Drawing<'a> {
    Drawing {
        name: "a drawing",
        made: "2031-02-03T00:00:00",
        schema: Schema::Ap214,
        place: DAffine3::IDENTITY,
        bodies,
        part,
    }
}

fn drawn(bodies: &[Drawn], part: Option<&[u8]>) -> StepFile {
    read(&draw(&drawing(bodies, part), &Unwatched).unwrap(), &Limits::default()).unwrap()
}

fn empty(name: &str, what: What) -> Drawn {
    Drawn {
        name: name.into(),
        colour: None,
        what,
        points: Vec::new(),
        seats: Vec::new(),
        chains: Vec::new(),
        faces: Vec::new(),
    }
}

/// Points of two runs of as many, evenly spaced; the second one's chain runs the other way.
fn chained(body: &mut Drawn, seat: u32, points: &[DVec3], backwards: bool) -> u32 {
    let first = body.points.len() as u32;
    body.points.extend(points);
    let last = points.len() - 1;
    let at = |k: usize| first + if backwards { last - k } else { k } as u32;
    body.chains.push(Chain { seat, points: (0..=last).map(|k| (at(k), k as f64 / last as f64)).collect() });
    body.chains.len() as u32 - 1
}

/// A frustum on the plane z = 0, its side in two halves.
fn frustum(name: &str, [wide, narrow]: [f64; 2], height: f64, points: usize) -> Drawn {
    let mut body = empty(name, What::Apart);
    let plane = |z: f64, up: f64| DrawnSeat {
        surface: Surface::Plane { origin: DVec3::Z * z, normal: DVec3::Z * up },
        middle: DVec3::Z * z,
    };
    body.seats = vec![plane(height, 1.0), plane(0.0, -1.0)];
    let half = |radius: f64, z: f64, from: f64| -> Vec<DVec3> {
        let angle = |k: usize| from + PI * k as f64 / points as f64;
        (0..=points).map(|k| DVec3::new(radius * angle(k).cos(), radius * angle(k).sin(), z)).collect()
    };
    let mut loops = [Vec::new(), Vec::new()];
    for from in [0.0, PI] {
        let top = chained(&mut body, 0, &half(narrow, height, from), false);
        let under = chained(&mut body, 1, &half(wide, 0.0, from), true);
        body.faces.push(DrawnFace::Ruled(top, under));
        loops[0].push(top);
        loops[1].insert(0, under);
    }
    let [top, under] = loops;
    body.faces.push(DrawnFace::OnSeat { seat: 0, loops: vec![top] });
    body.faces.push(DrawnFace::OnSeat { seat: 1, loops: vec![under] });
    body
}

fn count(body: &StepBody, word: &str) -> usize {
    body.faces.iter().filter(|f| f.surface.word() == word).count()
}

#[test]
fn a_frustum_holds_what_it_holds() {
    // V = π h (R² + R r + r²) / 3
    for (radii, height) in [([3.0, 2.9], 0.5), ([3.0, 3.0], 0.3), ([0.6, 0.2], 0.4)] {
        let [wide, narrow] = radii;
        let wanted = PI * height * (wide * wide + wide * narrow + narrow * narrow) / 3.0;
        let file = drawn(&[frustum("boss", radii, height, 24)], None);
        let [body] = &file.bodies[..] else { panic!("{}", file.bodies.len()) };
        assert!(body.solid && body.name == "boss");
        assert!((body.volume / wanted - 1.0).abs() < 1e-5, "{} for {wanted}", body.volume);
        assert_eq!((count(body, "plane"), body.faces.len()), (2, 4));
        // with fewer corners the curve is still one through all of them: off by less than a thousandth
        let coarse = drawn(&[frustum("boss", radii, height, 10)], None);
        assert!((coarse.bodies[0].volume / wanted - 1.0).abs() < 1e-3);
    }
}

#[test]
fn names_colours_and_order_are_kept_and_the_same_drawing_is_the_same_file() {
    let mut red = frustum("“A” rouge", [2.0, 1.9], 0.3, 12);
    red.colour = Some([0.8, 0.1, 0.2]);
    let bodies = [red, frustum("1: B", [1.0, 0.9], 0.3, 12)];
    let bytes = draw(&drawing(&bodies, None), &Unwatched).unwrap();
    assert_eq!(bytes, draw(&drawing(&bodies, None), &Unwatched).unwrap());
    let text = String::from_utf8(bytes.clone()).unwrap();
    assert!(text.contains("2031-02-03T00:00:00") && text.contains("AUTOMOTIVE_DESIGN"), "{}", &text[..600]);
    let file = read(&bytes, &Limits::default()).unwrap();
    let names: Vec<&str> = file.bodies.iter().map(|b| b.name.as_str()).collect();
    assert_eq!(names, ["“A” rouge", "1: B"]);
    let colour = file.bodies[0].colour.unwrap();
    assert!(colour.iter().zip([0.8, 0.1, 0.2]).all(|(a, b)| (a - b).abs() < 2e-3), "{colour:?}");
    assert_eq!(file.unit.to_lowercase(), "millimetre");
    let other = draw(&Drawing { schema: Schema::Ap242, ..drawing(&bodies, None) }, &Unwatched).unwrap();
    let text = String::from_utf8(other).unwrap();
    assert!(text.contains("AP242") && !text.contains("AUTOMOTIVE_DESIGN"), "{}", &text[..600]);
}

/// A window of `half` rad to either side and `long` mm along a cylinder's axis, from one radius to another.
fn window(axis: DVec3, start: DVec3, [deep, past]: [f64; 2], half: f64, [from, to]: [f64; 2], what: What) -> Drawn {
    let across = axis.any_orthonormal_vector();
    let side = axis.cross(across);
    let at = |radius: f64, angle: f64, along: f64| {
        start + axis * along + (across * angle.cos() + side * angle.sin()) * radius
    };
    let mut body = empty("window", what);
    let middle = (from + to) / 2.0;
    let seat = |radius: f64| DrawnSeat {
        surface: Surface::Cylinder { origin: start, axis, radius, inside: false },
        middle: at(radius, 0.0, middle),
    };
    body.seats = vec![seat(deep), seat(past)];
    let arc = |radius: f64, along: f64, way: f64| -> Vec<DVec3> {
        (0..=12).map(|k| at(radius, way * half * (k as f64 / 6.0 - 1.0), along)).collect()
    };
    let line = |radius: f64, angle: f64, from: f64, to: f64| vec![at(radius, angle, from), at(radius, angle, to)];
    let mut loops = [Vec::new(), Vec::new()];
    let runs = |radius: f64| {
        [arc(radius, from, 1.0), line(radius, half, from, to), arc(radius, to, -1.0), line(radius, -half, to, from)]
    };
    for (inner, outer) in runs(deep).into_iter().zip(runs(past)) {
        let one = chained(&mut body, 0, &inner, false);
        let other = chained(&mut body, 1, &outer, true);
        body.faces.push(DrawnFace::Ruled(one, other));
        loops[0].push(one);
        loops[1].insert(0, other);
    }
    for (seat, chains) in loops.into_iter().enumerate() {
        body.faces.push(DrawnFace::OnSeat { seat: seat as u32, loops: vec![chains] });
    }
    body
}

fn sample(name: &str) -> Vec<u8> {
    let folder = tempfile::tempdir().unwrap();
    let made = Command::new(env!("CARGO_BIN_EXE_tinbadge-step")).arg("samples").arg(folder.path()).output().unwrap();
    assert!(made.status.success());
    fs::read(folder.path().join(name)).unwrap()
}

#[test]
fn a_window_in_a_cylinder_takes_and_adds_its_sector() {
    let bytes = sample("cylinder.step");
    let bare = read(&bytes, &Limits::default()).unwrap().bodies.remove(0);
    // of radius 7.5 about this axis, as the sample is made
    let (axis, start) = (DVec3::new(1.0, 2.0, 2.0) / 3.0, DVec3::new(3.0, -4.0, 5.0));
    let (half, long) = (0.3, [6.0, 14.0]);
    let sector = |a: f64, b: f64| half * (b * b - a * a) * (long[1] - long[0]);
    let cut = drawn(&[window(axis, start, [7.0, 7.6], half, long, What::Cut)], Some(&bytes)).bodies;
    let raised = drawn(&[window(axis, start, [7.4, 8.0], half, long, What::Raised)], Some(&bytes)).bodies;
    for (bodies, wanted) in [(cut, -sector(7.0, 7.5)), (raised, sector(7.5, 8.0))] {
        let [body] = &bodies[..] else { panic!("{}", bodies.len()) };
        let changed = body.volume - bare.volume;
        assert!((changed / wanted - 1.0).abs() < 1e-4, "{changed} for {wanted}");
        // its own faces are what they were: a cylinder and two ends, and a floor or top of the same kind
        assert_eq!(count(body, "cylinder"), 2, "{:?}", body.faces.iter().map(|f| f.surface.word()).collect::<Vec<_>>());
    }
    // apart, it stays a solid beside the part
    let apart = drawn(&[window(axis, start, [7.0, 7.6], half, long, What::Apart)], Some(&bytes)).bodies;
    assert_eq!(apart.len(), 2);
    assert!((apart[0].volume - bare.volume).abs() < 1e-6 * bare.volume);
    assert!((apart[1].volume / sector(7.0, 7.6) - 1.0).abs() < 1e-4);
}

/// At the steel's size lengths are 1 + s times the part's, volumes its cube: by hand.
#[test]
fn in_the_steel_all_is_larger_by_the_shrinkage_once() {
    let bytes = sample("cylinder.step");
    let bodies = [frustum("boss", [3.0, 2.9], 0.5, 24)];
    let larger = |scale: f64, part: Option<&[u8]>| {
        let bytes =
            draw(&Drawing { place: DAffine3::from_scale(DVec3::splat(scale)), ..drawing(&bodies, part) }, &Unwatched)
                .unwrap();
        read(&bytes, &Limits::default()).unwrap().bodies
    };
    let (own, steel) = (larger(1.0, Some(&bytes)), larger(1.02, Some(&bytes)));
    for (own, steel) in own.iter().zip(&steel) {
        // 1.02² = 1.0404, 1.02³ = 1.061208
        assert!((steel.area / own.area - 1.0404).abs() < 1e-6 && (steel.volume / own.volume - 1.061_208).abs() < 1e-6);
        assert_eq!(steel.name, own.name);
    }
    let radius = |body: &StepBody| {
        body.faces.iter().find_map(|f| match f.surface {
            Surface::Cylinder { radius, .. } => Some(radius),
            _ => None,
        })
    };
    assert!((radius(&steel[0]).unwrap() - 7.65).abs() < 1e-9, "a cylinder stays one: 7.5 × 1.02");
}

#[test]
fn what_cant_be_drawn_says_why() {
    let refused = |bodies: &[Drawn], part: Option<&[u8]>| match draw(&drawing(bodies, part), &Unwatched) {
        Err(StepError::NotDrawn(why)) => why,
        other => panic!("{:?}", other.map(|b| b.len())),
    };
    // a side is missing
    let mut open = frustum("open", [2.0, 1.9], 0.3, 8);
    open.faces.remove(0);
    assert!(refused(&[open], None).contains("“open” don’t close"), "an open body");
    // a curve that turns back, and one whose corner was never told
    let mut back = frustum("back", [2.0, 1.9], 0.3, 8);
    back.chains[0].points[3].1 = 0.0;
    assert!(refused(&[back], None).contains("turns back"));
    let mut lost = frustum("lost", [2.0, 1.9], 0.3, 8);
    lost.chains[0].points[3].0 = 900;
    assert!(refused(&[lost], None).contains("not told"));
    let sound = || [frustum("sound", [2.0, 1.9], 0.3, 8)];
    assert!(refused(&sound(), Some(b"no part")).contains("own file"));
    // a part of several bodies
    let mut raised = sound();
    raised[0].what = What::Raised;
    let why = refused(&raised, Some(&sample("pair.step")));
    assert!(why.contains("solids"), "{why}");
    // far from the part it would be a body of its own
    raised[0].points.iter_mut().for_each(|p| *p += DVec3::splat(500.0));
    for seat in &mut raised[0].seats {
        if let Surface::Plane { origin, .. } = &mut seat.surface {
            *origin += DVec3::splat(500.0);
        }
    }
    let why = refused(&raised, Some(&sample("cylinder.step")));
    assert!(why.contains("joined, the part is of 2 solids"), "{why}");
}

#[test]
fn drawing_ends_when_nobody_waits() {
    struct Gone;
    impl Watch for Gone {
        fn reached(&self, _: Stage, _: f64) -> Result<(), Stopped> {
            Err(Stopped)
        }
    }
    let body = [frustum("boss", [3.0, 2.9], 0.5, 24)];
    assert!(matches!(draw(&drawing(&body, None), &Gone), Err(StepError::Stopped)));
}
