//! Lettering on cones, spheres and tori, straight, on arcs and rings, rolled and dropped: heights,
//! drafts and lengths on the marked solid against closed forms.

use demo::shapes::{arc, turned};
use glam::{DVec2, DVec3};
use relief::{
    BuiltMark, MarkedSolid, PlacedMark, Role, Seat, Tag,
    marked::Stock,
    place::{carried, place},
};
use solid::{Part, Surface, soundness};
use std::sync::Arc;
use trade::{
    Baseline, Justify, Lettering, Mark, MeasuredAt, Place, Placement, Relief, SeatRef, Sense, Tie, Tops, Walls,
};

fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).expect("the part has such a face") as u32
}

fn of(points: &[(f64, f64)]) -> Vec<DVec2> {
    points.iter().map(|&(r, z)| DVec2::new(r, z)).collect()
}

/// A dome of radius 25 over a flat foot at z = 0.
fn dome() -> (Part, u32) {
    let profile: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(DVec2::ZERO, 25.0, 0.0, 90.0)).collect();
    let part = Part::from_mesh(&turned(&profile)).unwrap();
    let round = face(&part, |s| matches!(s, Surface::Sphere { .. }));
    (part, round)
}

/// trade: radii 12 and 6 over a height of 20.
fn cone() -> (Part, u32) {
    let part = Part::from_mesh(&turned(&of(&[(0.0, 0.0), (12.0, 0.0), (6.0, 20.0), (0.0, 20.0)]))).unwrap();
    let round = face(&part, |s| matches!(s, Surface::Cone { .. }));
    (part, round)
}

/// A ring whose tube has the radius 8, 24 from its axis.
fn ring() -> (Part, u32) {
    let mut profile = arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0);
    profile.pop();
    let part = Part::from_mesh(&turned(&profile)).unwrap();
    let round = face(&part, |s| matches!(s, Surface::Torus { .. }));
    (part, round)
}

fn mark(text: &str, face: u32) -> Mark {
    Mark {
        id: "m".into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 3.0, line_gap: 1.5, ..Lettering::default() },
        relief: Relief { height: 0.4, draft: 3.0, ..Relief::default() },
        ..Mark::default()
    }
}

fn seat(part: &Part, face: u32, pull: DVec3) -> Arc<Seat> {
    Arc::new(Seat::on(part, face, Some(pull)).unwrap())
}

fn build(part: &Part, mark: &Mark, pull: DVec3) -> (BuiltMark, MarkedSolid) {
    let built = BuiltMark::new(mark, seat(part, mark.seat.face, pull), Some(pull)).unwrap();
    let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
    let sound = soundness::examine(&solid.mesh);
    assert!(sound.is_solid(), "{:?} {mark:?} {:?}", sound.complaint(), sound.crossing_triangles);
    assert_eq!(sound.shells, 1, "{mark:?}");
    (built, solid)
}

fn facets(solid: &MarkedSolid, wanted: Role) -> impl Iterator<Item = usize> + '_ {
    (0..solid.tags.len()).filter(move |&t| matches!(solid.tags[t], Tag::Relief { role, .. } if role == wanted))
}

fn arc_of(radius: f64, tops: Tops) -> Baseline {
    Baseline::Arc { radius, tops, share: 50.0, stands: Justify::Middle, bent: false }
}

fn at(x: f64, y: f64) -> Place {
    Place { along: Tie::At { position: x }, up: Tie::At { position: y }, ..Place::default() }
}

/// Every seat with every way to lie on it.
fn ways() -> Vec<(Part, u32, Place)> {
    let mut all = Vec::new();
    let (dome, cap) = dome();
    for place in [
        Place::default(),
        at(8.0, 5.0),
        Place { turn: 40.0, ..at(-6.0, -9.0) },
        Place { baseline: arc_of(11.0, Tops::Out), ..Place::default() },
        Place { baseline: arc_of(13.0, Tops::In), ..Place::default() },
        Place {
            baseline: Baseline::Arc { radius: 11.0, tops: Tops::Out, share: 20.0, stands: Justify::Start, bent: true },
            ..Place::default()
        },
        Place { baseline: Baseline::Ring { bent: false }, ..at(0.0, -14.0) },
        Place { placement: Placement::Projected, ..at(4.0, 3.0) },
        Place { placement: Placement::ProjectedAlongPull, baseline: arc_of(10.0, Tops::Out), ..Place::default() },
    ] {
        all.push((dome.clone(), cap, place));
    }
    let (cone, slope) = cone();
    for place in [
        Place::default(),
        at(5.0, 6.0),
        Place { turn: 180.0, ..Place::default() },
        Place { baseline: Baseline::Ring { bent: false }, ..Place::default() },
        Place { baseline: Baseline::Ring { bent: true }, ..at(26.0, 9.0) },
        Place { placement: Placement::Projected, ..Place::default() },
    ] {
        all.push((cone.clone(), slope, place));
    }
    let (ring, tube) = ring();
    for place in [
        Place::default(),
        at(40.0, 3.0),
        Place { baseline: Baseline::Ring { bent: false }, turn: 180.0, ..at(-60.0, -2.0) },
        Place { baseline: arc_of(6.0, Tops::Out), ..at(0.0, -5.0) },
        Place { placement: Placement::ProjectedAlongPull, ..Place::default() },
    ] {
        all.push((ring.clone(), tube, place));
    }
    all
}

#[test]
fn height_is_even_within_three_micrometres_on_every_seat_however_it_lies() {
    for (part, round, place) in ways() {
        for (sense, walls) in [(Sense::Raised, Walls::Seat), (Sense::Sunken, Walls::Seat), (Sense::Raised, Walls::Pull)]
        {
            // on the cone's side the pull stands too nearly along the seat
            let surface = part.faces[round as usize].surface.clone();
            let pull = if matches!(surface, Surface::Cone { .. }) { DVec3::NEG_Y } else { DVec3::Z };
            if walls == Walls::Pull && place.along == (Tie::At { position: 26.0 }) {
                continue;
            }
            let mut mark = mark("R8-A", round);
            mark.place = place.clone();
            mark.relief = Relief { sense, walls, measured_at: MeasuredAt::Top, ..mark.relief };
            let (built, solid) = build(&part, &mark, pull);
            let nominal = if sense == Sense::Raised { 0.4 } else { -0.4 };
            let role = if sense == Sense::Raised { Role::Top } else { Role::Floor };
            let mut seen = 0;
            for t in facets(&solid, role) {
                let [a, b, c] = solid.mesh.corners(t);
                seen += 1;
                for p in [a, b, c, (a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0, (a + b + c) / 3.0] {
                    let height = surface.height(p).unwrap();
                    assert!((height - nominal).abs() < 0.003, "{place:?} {sense:?} {walls:?} {height} at {p}");
                }
            }
            assert!(seen > 100, "{seen}");
            let added = solid.mesh.volume() - part.mesh.volume();
            assert!(added.signum() == nominal.signum() && added.abs() > 0.5, "{added}");
            assert_eq!(built.placed.characters.len(), 4);
        }
    }
}

/// Walls square to the seat have the set draft against the seat's normal, walls along the pull against the
/// pull, away from corners.
#[test]
fn walls_have_the_draft_that_was_set_on_every_seat() {
    for (part, round, place) in ways() {
        let surface = part.faces[round as usize].surface.clone();
        let pull = if matches!(surface, Surface::Cone { .. }) { DVec3::NEG_Y } else { DVec3::Z };
        for walls in [Walls::Seat, Walls::Pull] {
            if walls == Walls::Pull && place.along == (Tie::At { position: 26.0 }) {
                continue;
            }
            let mut mark = mark("HNO8", round);
            mark.place = place.clone();
            mark.relief = Relief { walls, draft: 5.0, ..mark.relief };
            let (_, solid) = build(&part, &mark, pull);
            let mut seen = 0;
            for t in facets(&solid, Role::Wall) {
                let [a, b, c] = solid.mesh.corners(t);
                let longest = a.distance(b).max(b.distance(c)).max(c.distance(a));
                if 2.0 * solid.mesh.area(t) / longest < 0.02 {
                    continue;
                }
                let normal = solid.mesh.normal(t);
                let axis = match walls {
                    Walls::Pull => pull * pull.dot(surface.normal(a).unwrap()).signum(),
                    // at the level that the draft starts from, along the edge's middle
                    // at the edge that the wall starts from
                    Walls::Seat => {
                        let mut by_height = [a, b, c];
                        by_height.sort_by(|p, q| surface.height(*q).unwrap().total_cmp(&surface.height(*p).unwrap()));
                        let [top, other, root] = by_height;
                        let ruled = surface.height(other).unwrap() > 0.4 - 1e-3 && surface.height(root).unwrap() < 0.02;
                        if !ruled || top.distance(other) < 0.05 {
                            continue;
                        }
                        surface.normal((top + other) / 2.0).unwrap()
                    }
                };
                seen += 1;
                let draft = normal.dot(axis).asin().to_degrees();
                assert!((draft - 5.0).abs() < 0.05, "{place:?} {walls:?} {draft} at {a} {b} {c} {:?}", solid.tags[t]);
            }
            assert!(seen > 50, "{seen}");
        }
    }
}

/// trade: a ball of Ø 50 with 1.5 of relief fits a sphere of Ø 53 (not 51.5).
#[test]
fn relief_on_a_sphere_lies_on_the_concentric_sphere() {
    let (part, cap) = dome();
    let mut mark = mark("FD-40", cap);
    mark.relief.height = 1.5;
    mark.relief.draft = 1.0;
    mark.place.baseline = arc_of(10.0, Tops::Out);
    let (_, solid) = build(&part, &mark, DVec3::Z);
    let radii: Vec<f64> = facets(&solid, Role::Top).flat_map(|t| solid.mesh.corners(t)).map(|p| p.length()).collect();
    let (least, most) = radii.iter().fold((f64::MAX, 0.0), |(l, m): (f64, f64), r| (l.min(*r), m.max(*r)));
    assert!(2.0 * least > 53.0 - 0.003 && 2.0 * most < 53.0 + 0.003, "Ø {} to {}", 2.0 * least, 2.0 * most);
}

/// trade: with the baseline at latitude φ, lengths at the height t above it are scaled by
/// cos(φ + t/R) / cos φ; R = 25, φ = 15°, t = 5: 0.927.
#[test]
fn lettering_bent_along_a_parallel_is_scaled_as_the_formula_says() {
    let (part, cap) = dome();
    let (radius, latitude) = (25.0, 15.0_f64.to_radians());
    let from_crown = radius * (std::f64::consts::FRAC_PI_2 - latitude);
    let mut m = mark("I", cap);
    m.lettering = Lettering { face: "centre-line".into(), cap_height: 5.0, stroke: Some(0.5), ..m.lettering };
    m.place.baseline =
        Baseline::Arc { radius: from_crown, tops: Tops::In, share: 50.0, stands: Justify::Middle, bent: true };
    let seat = seat(&part, cap, DVec3::Z);
    let placed = place(&m, &seat).unwrap();
    // width of the stroke, as an angle round z, at its foot and its top
    let space: Vec<DVec3> =
        placed.characters[0].region.contours().flatten().map(|&p| seat.chart.point(p, 0.0)).collect();
    let width = |height: f64| {
        let level = radius * (latitude + height / radius).sin();
        let near = space.iter().filter(|p| (p.z - level).abs() < 0.05);
        let angles: Vec<f64> = near.map(|p| p.x.atan2(-p.y)).collect();
        let spread = angles.iter().copied().fold(f64::MIN, f64::max) - angles.iter().copied().fold(f64::MAX, f64::min);
        spread * radius * (latitude + height / radius).cos()
    };
    let ratio = width(4.75) / width(0.25);
    let expected = ((latitude + 4.75 / radius).cos()) / ((latitude + 0.25 / radius).cos());
    assert!((ratio - expected).abs() < 0.002, "{ratio} {expected}");
    let worked = (latitude + 5.0 / radius).cos() / latitude.cos();
    assert!((worked - 0.927).abs() < 5e-4);
    // and the mark says so: the top of the letter is 7.3 % too short
    assert!((placed.stretch.scale - (worked - 1.0)).abs() < 0.002, "{:?}", placed.stretch);
    // letters that stay whole are hardly stretched
    m.place.baseline = arc_of(from_crown, Tops::In);
    let whole = place(&m, &seat).unwrap().stretch;
    assert!(whole.scale.abs() < 0.01, "{whole:?}");
}

#[test]
fn what_unrolls_is_not_stretched_and_what_is_dropped_says_by_how_much() {
    let (part, slope) = cone();
    let seat = seat(&part, slope, DVec3::NEG_Y);
    let mut m = mark("SN-12", slope);
    for baseline in [Baseline::Straight, Baseline::Ring { bent: false }] {
        m.place.baseline = baseline;
        let placed = place(&m, &seat).unwrap();
        assert!(placed.stretch.scale.abs() < 1e-5 && placed.stretch.shear_deg < 1e-3, "{:?}", placed.stretch);
    }
    // dropped from the front on a cylinder of radius 15: at the distance x from the crown lengths grow by
    // 1 / sqrt(1 − x²/R²)
    let rod = Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0)).unwrap();
    let round = face(&rod, |s| matches!(s, Surface::Cylinder { .. }));
    let seat = Arc::new(Seat::on(&rod, round, Some(DVec3::Z)).unwrap());
    let mut m = mark("I", round);
    m.lettering = Lettering { face: "centre-line".into(), cap_height: 12.0, stroke: Some(1.0), ..m.lettering };
    m.place.placement = Placement::Projected;
    let placed = place(&m, &seat).unwrap();
    let half: f64 = 6.0;
    let expected = 1.0 / (1.0 - (half / 15.0).powi(2)).sqrt() - 1.0;
    assert!((placed.stretch.scale - expected).abs() < 1e-3, "{:?} {expected}", placed.stretch);
    let (low, high) = placed.characters[0].region.bounds().unwrap();
    assert!((high.y - low.y - 2.0 * 15.0 * (half / 15.0).asin()).abs() < 0.01, "{low} {high}");
    m.place.placement = Placement::Wrapped;
    assert!(place(&m, &seat).unwrap().stretch.scale.abs() < 1e-6);
}

fn mean(placed: &PlacedMark, seat: &Seat, character: usize) -> DVec3 {
    seat.chart.point(placed.characters[character].middle, 0.0)
}

#[test]
fn text_on_arcs_and_rings_reads_the_right_way_round() {
    let (part, cap) = dome();
    let seat_on_dome = seat(&part, cap, DVec3::Z);
    let mut m = mark("ABC", cap);
    // seen from above: tops out reads clockwise over the top, tops in counter-clockwise under the middle
    for (tops, y) in [(Tops::Out, 1.0), (Tops::In, -1.0)] {
        m.place.baseline = arc_of(11.0, tops);
        let placed = place(&m, &seat_on_dome).unwrap();
        let [a, b, c] = [0, 1, 2].map(|k| mean(&placed, &seat_on_dome, k));
        assert!(a.x < b.x && b.x < c.x && b.y * y > 8.0, "{tops:?} {a} {b} {c}");
    }
    // a quarter of the way further, at its start
    m.place.baseline =
        Baseline::Arc { radius: 11.0, tops: Tops::Out, share: 75.0, stands: Justify::Start, bent: false };
    let placed = place(&m, &seat_on_dome).unwrap();
    let [a, _, c] = [0, 1, 2].map(|k| mean(&placed, &seat_on_dome, k));
    assert!(a.x > 8.0 && a.y < 0.5 && c.y < a.y, "{a} {c}");
    // longer than once round
    m.text = "ABCDEFGHIJ ABCDEFGHIJ ABCDEFGHIJ ABCDEFGHIJ".into();
    let error = place(&m, &seat_on_dome).unwrap_err().to_string();
    assert!(error.contains("mm round"), "{error}");

    let (part, slope) = cone();
    let seat = seat(&part, slope, DVec3::NEG_Y);
    let mut m = mark("SPRAY NOZZLE", slope);
    m.place.baseline = Baseline::Ring { bent: false };
    let placed = place(&m, &seat).unwrap();
    let heights: Vec<f64> = (0..11).map(|k| mean(&placed, &seat, k).z).collect();
    assert!(heights.iter().all(|z| (z - heights[0]).abs() < 0.1), "{heights:?}");
    assert!(mean(&placed, &seat, 0).x < -8.0 && mean(&placed, &seat, 10).x > 8.0);
    // a flat seat has no rings
    m.seat.face = face(&part, |s| matches!(s, Surface::Plane { .. }));
    let flat = Seat::on(&part, m.seat.face, Some(DVec3::Z)).unwrap();
    assert!(place(&m, &flat).unwrap_err().to_string().contains("rings run round"));
}

#[test]
fn a_mark_carried_over_the_strip_keeps_the_kind_of_its_ties() {
    let (part, slope) = cone();
    let seat = seat(&part, slope, DVec3::NEG_Y);
    let mut m = mark("SN", slope);
    m.place.up = Tie::FromStart { distance: 3.0 };
    let placed = place(&m, &seat).unwrap();
    assert!((placed.margins(&seat)[2] - 3.0).abs() < 1e-6, "{:?}", placed.margins(&seat));
    // a quarter round and 2 up the slant
    let grid = seat.chart.grid(placed.middle) + DVec2::new(seat.chart.period().x / 4.0, 2.0);
    m.place = carried(&m.place, &placed, &seat, seat.chart.off_grid(grid));
    assert!(matches!(m.place.up, Tie::FromStart { distance } if (distance - 5.0).abs() < 0.011), "{:?}", m.place);
    let moved = place(&m, &seat).unwrap();
    assert!(mean(&moved, &seat, 0).x > 7.0, "{}", mean(&moved, &seat, 0));
    // upright there as well: the letters' tops lie higher
    assert!((moved.along - seat.chart.level(moved.middle)).length() < 1e-3);
}

#[test]
fn rounds_along_the_pull_are_refused_in_words_where_the_seat_leans() {
    let (part, cap) = dome();
    let mut m = mark("I", cap);
    m.relief = Relief { walls: Walls::Pull, root: 0.1, ..m.relief };
    let seat = seat(&part, cap, DVec3::Z);
    BuiltMark::new(&m, seat.clone(), Some(DVec3::Z)).unwrap();
    m.place = at(16.0, 0.0);
    let error = BuiltMark::new(&m, seat, Some(DVec3::Z)).err().unwrap().to_string();
    assert!(error.contains("“I”: a root radius of 0.1 mm is too large along the pull"), "{error}");
}

/// Cones to their tips, standing and upside down, and an ogive: half-way up the slant, near the tip, and on it.
#[test]
fn a_seat_that_runs_to_a_tip_takes_lettering_up_to_it() {
    let mut ogive = arc(DVec2::new(-30.0, 0.0), 45.0, 0.0, (30.0_f64 / 45.0).acos().to_degrees());
    ogive.last_mut().unwrap().x = 0.0;
    ogive.insert(0, DVec2::ZERO);
    let slant = 15.0_f64.hypot(40.0);
    for (profile, slant) in [
        (of(&[(0.0, 0.0), (15.0, 0.0), (0.0, 40.0)]), slant),
        (of(&[(0.0, 0.0), (15.0, 40.0), (0.0, 40.0)]), slant),
        (ogive, f64::NAN),
    ] {
        let part = Part::from_mesh(&turned(&profile)).unwrap();
        let round = face(&part, |s| matches!(s, Surface::Cone { .. } | Surface::Revolution { .. }));
        let pointed = matches!(part.faces[round as usize].surface, Surface::Cone { .. });
        let seat = seat(&part, round, DVec3::NEG_Y);
        let long = seat.end.y - seat.start.y;
        assert!(!pointed || (long - slant).abs() < 0.01, "{long} for {slant}");
        for up in [Tie::Middle, Tie::At { position: (seat.start.y + seat.end.y) / 2.0 }] {
            let mut m = mark("AB", round);
            m.place = Place { up, ..Place::default() };
            let (built, solid) = build(&part, &m, DVec3::NEG_Y);
            assert!(soundness::examine(&solid.mesh).is_solid());
            for t in facets(&solid, Role::Top) {
                for p in solid.mesh.corners(t) {
                    assert!((built.seat.height(p) - m.relief.height).abs() < 0.003, "{} at {p}", built.seat.height(p));
                }
            }
        }
        if pointed {
            // the strip's other end is the base
            let base = if profile[1].y == 0.0 { seat.start.y } else { seat.end.y };
            let tip = seat.start.y + seat.end.y - base;
            let inward = (seat.start.y + seat.end.y) / 2.0 - tip;
            let at = |off: f64| {
                let mut m = mark("8", round);
                m.lettering.cap_height = 2.0;
                m.place = Place { up: Tie::At { position: tip + off * inward.signum() }, ..Place::default() };
                place(&m, &seat).map_err(|e| e.to_string())
            };
            assert!(at(0.5).unwrap_err().contains("tip"), "{:?}", at(0.5).map(|_| ()));
            at(6.0).unwrap();
        }
    }
}
