//! Relief bodies and marked solids against closed forms.

mod rounds;

use demo::{parts, shapes};
use glam::{DVec2, DVec3};
use relief::{BuiltMark, MarkedSolid, Role, Seat, Tag, marked::Stock};
use solid::{Mesh, Part, Surface, soundness, topology::neighbours};
use std::sync::Arc;
use trade::{Lettering, Mark, MeasuredAt, Relief, SeatRef, Sense, Tie, Walls};

fn mark(text: &str, face: u32, relief: Relief) -> Mark {
    Mark {
        id: "m".into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), ..Lettering::default() },
        relief,
        ..Mark::default()
    }
}

fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap() as u32
}

fn top_of_block() -> (Part, u32) {
    let part = Part::from_mesh(&parts::plain_block()).unwrap();
    let top = face(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.9));
    (part, top)
}

fn barrel(radius: f64) -> (Part, u32) {
    let part = Part::from_mesh(&shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, radius)).unwrap();
    let round = face(&part, |s| matches!(s, Surface::Cylinder { .. }));
    (part, round)
}

fn build(part: &Part, mark: &Mark) -> (BuiltMark, MarkedSolid) {
    let seat = Arc::new(Seat::on(part, mark.seat.face, Some(DVec3::Z)).unwrap());
    let built = BuiltMark::new(mark, seat, Some(DVec3::Z)).unwrap();
    let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
    let sound = soundness::examine(&solid.mesh);
    assert!(sound.is_solid(), "{:?} {:?} {mark:?}", sound.complaint(), sound.crossing_triangles);
    assert_eq!(sound.shells, 1);
    (built, solid)
}

fn facets(solid: &MarkedSolid, wanted: Role) -> Vec<usize> {
    (0..solid.tags.len()).filter(|&t| matches!(solid.tags[t], Tag::Relief { role, .. } if role == wanted)).collect()
}

/// A facet wide enough that its normal means something.
fn is_stout(mesh: &Mesh, t: usize) -> bool {
    let [a, b, c] = mesh.corners(t);
    2.0 * mesh.area(t) / a.distance(b).max(b.distance(c)).max(c.distance(a)) > 1e-3
}

#[test]
fn a_face_that_goes_once_round_has_both_rims_on_the_turn_of_its_strip() {
    // starting anywhere on the rims, which run opposite ways
    for turn in 0..8 {
        let part = Part::from_mesh(&shapes::cylinder(DVec3::ZERO, DVec3::X * 60.0, 15.0)).unwrap();
        let round = face(&part, |s| matches!(s, Surface::Cylinder { .. }));
        let pull = DVec3::new(0.0, f64::from(turn).sin(), f64::from(turn).cos());
        let seat = Seat::on(&part, round, Some(pull)).unwrap();
        assert_eq!(seat.closed(), [false, true]);
        assert_eq!(seat.outline.len(), 2);
        let once = seat.end.y - seat.start.y;
        for ring in &seat.outline {
            let first = ring.first().unwrap().y;
            assert!((first).abs() <= once / 2.0 + 1e-6, "{first} of {once}");
            assert!(((ring.last().unwrap().y - first).abs() - once).abs() < 1e-6);
        }
    }
}

#[test]
fn volume_added_on_a_plane_without_draft_is_outline_area_times_height() {
    let (part, top) = top_of_block();
    for (sense, sign) in [(Sense::Raised, 1.0), (Sense::Sunken, -1.0)] {
        for held in [MeasuredAt::Top, MeasuredAt::Root] {
            let relief =
                Relief { sense, height: 0.4, draft: 0.0, measured_at: held, walls: Walls::Seat, ..Relief::default() };
            let (built, solid) = build(&part, &mark("VB-20-07 &8%", top, relief));
            let area: f64 = built.placed.characters.iter().map(|c| c.region.area()).sum();
            let moved = solid.mesh.volume() - part.mesh.volume();
            assert!((moved / (sign * area * 0.4) - 1.0).abs() < 1e-4, "{moved} {area}");
        }
    }
}

#[test]
fn walls_on_a_plane_have_the_draft_that_was_set() {
    let (part, top) = top_of_block();
    for draft in [0.5, 3.0, 10.0_f64] {
        for sense in [Sense::Raised, Sense::Sunken] {
            for held in [MeasuredAt::Top, MeasuredAt::Root] {
                let relief =
                    Relief { sense, height: 0.3, draft, measured_at: held, walls: Walls::Seat, ..Relief::default() };
                let (_, solid) = build(&part, &mark("R2-S8 @K4", top, relief));
                let walls = facets(&solid, Role::Wall);
                assert!(walls.len() > 500);
                for t in walls.into_iter().filter(|&t| is_stout(&solid.mesh, t)) {
                    let measured = solid.mesh.normal(t).z.asin().to_degrees();
                    assert!((measured - draft).abs() < 0.01, "{sense:?} {held:?} {draft}: {measured}");
                }
            }
        }
    }
}

#[test]
fn height_on_plane_and_cylinder_is_even_within_three_micrometres() {
    let (block, top) = top_of_block();
    let (rod, round) = barrel(15.0);
    for (part, seat_face) in [(&block, top), (&rod, round)] {
        for sense in [Sense::Raised, Sense::Sunken] {
            for walls in [Walls::Seat, Walls::Pull] {
                let relief =
                    Relief { sense, height: 0.4, draft: 3.0, measured_at: MeasuredAt::Top, walls, ..Relief::default() };
                let (_, solid) = build(part, &mark("VB-20-07\n8 @S%", seat_face, relief));
                let (role, nominal) = if sense == Sense::Raised { (Role::Top, 0.4) } else { (Role::Floor, -0.4) };
                let surface = part.faces[seat_face as usize].surface.clone();
                let tops = facets(&solid, role);
                assert!(tops.len() > 100);
                for t in tops {
                    let [a, b, c] = solid.mesh.corners(t);
                    for p in [a, b, c, (a + b) / 2.0, (b + c) / 2.0, (a + b + c) / 3.0] {
                        let height = surface.height(p).unwrap();
                        assert!((height - nominal).abs() < 0.003, "{sense:?} {walls:?} {height}");
                    }
                }
            }
        }
    }
}

/// trade: on a cylinder, walls square to the seat lose a degree of draft for each degree round from
/// the crown; walls along the pull keep it.
#[test]
fn cylinder_walls_follow_alpha_minus_theta_or_keep_alpha() {
    let (part, round) = barrel(15.0);
    let alpha = 5.0;
    for at in [0.0, 3.0, 6.0] {
        for walls in [Walls::Seat, Walls::Pull] {
            let relief = Relief {
                sense: Sense::Raised,
                height: 0.4,
                draft: alpha,
                measured_at: MeasuredAt::Top,
                walls,
                ..Relief::default()
            };
            let mut mark = mark("HE", round, relief);
            mark.place.up = Tie::At { position: at };
            let (_, solid) = build(&part, &mark);
            let mut seen = 0;
            for t in facets(&solid, Role::Wall).into_iter().filter(|&t| is_stout(&solid.mesh, t)) {
                let (normal, middle) = (solid.mesh.normal(t), solid.mesh.centroid(t));
                // long walls that run along the axis
                if normal.x.abs() > 1e-3 {
                    continue;
                }
                seen += 1;
                let draft = normal.z.asin().to_degrees();
                let theta = middle.y.atan2(middle.z).to_degrees();
                // θ counts against the draft on walls that look away from the crown
                let away = theta * normal.y.signum();
                let expected = if walls == Walls::Seat { alpha - away } else { alpha };
                assert!((draft - expected).abs() < 0.1, "{walls:?} θ {theta}: {draft}, not {expected}");
            }
            assert!(seen >= 12, "{seen}");
        }
    }
}

/// Every wall of the sense "pull" has the set draft, oblique and curved ones too.
#[test]
fn walls_along_the_pull_keep_their_draft_all_over_the_cylinder() {
    let (part, round) = barrel(15.0);
    let relief = Relief {
        sense: Sense::Raised,
        height: 0.4,
        draft: 3.0,
        measured_at: MeasuredAt::Top,
        walls: Walls::Pull,
        ..Relief::default()
    };
    let mut mark = mark("NO@8SK", round, relief);
    mark.place.up = Tie::At { position: 8.0 };
    let (_, solid) = build(&part, &mark);
    for t in facets(&solid, Role::Wall).into_iter().filter(|&t| is_stout(&solid.mesh, t)) {
        let draft = solid.mesh.normal(t).z.asin().to_degrees();
        assert!((draft - 3.0).abs() < 0.05, "{draft} at {}", solid.mesh.centroid(t));
    }
}

/// trade section 2: size measured at the top, root stroke = w + 2 h tan α; held at the root,
/// top = w − 2 h tan α. Measured on a slot of the centre-line alphabet.
#[test]
fn strokes_widen_and_narrow_by_twice_h_tan_alpha() {
    let (part, top) = top_of_block();
    let (h, alpha, w) = (0.4, 10.0_f64, 0.5);
    let moved = 2.0 * h * alpha.to_radians().tan();
    for (held, upper, root) in [(MeasuredAt::Top, w, w + moved), (MeasuredAt::Root, w - moved, w)] {
        let relief = Relief {
            sense: Sense::Raised,
            height: h,
            draft: alpha,
            measured_at: held,
            walls: Walls::Seat,
            ..Relief::default()
        };
        let mut mark = mark("I", top, relief);
        mark.lettering = Lettering { face: "centre-line".into(), stroke: Some(w), ..Lettering::default() };
        let (_, solid) = build(&part, &mark);
        let width = |level: f64| {
            let at: Vec<f64> = facets(&solid, Role::Wall)
                .iter()
                .flat_map(|&t| solid.mesh.corners(t))
                .filter(|p| (p.z - 12.0 - level).abs() < 1e-6)
                .map(|p| p.x)
                .collect();
            at.iter().copied().fold(f64::MIN, f64::max) - at.iter().copied().fold(f64::MAX, f64::min)
        };
        assert!((width(h) - upper).abs() < 1e-6, "{}", width(h));
        assert!((width(0.0) - root).abs() < 1e-6, "{}", width(0.0));
    }
}

/// trade section 2: a stroke closes up at h = w / (2 tan α).
#[test]
fn a_stroke_that_the_draft_closes_up_is_refused_by_name() {
    let (part, top) = top_of_block();
    let (w, alpha) = (0.3, 20.0_f64);
    let closes_at = w / (2.0 * alpha.to_radians().tan());
    for (height, fits) in [(closes_at * 0.97, true), (closes_at * 1.03, false)] {
        let relief = Relief {
            sense: Sense::Raised,
            height,
            draft: alpha,
            measured_at: MeasuredAt::Root,
            walls: Walls::Seat,
            ..Relief::default()
        };
        let mut mark = mark("I", top, relief);
        mark.lettering = Lettering { face: "centre-line".into(), stroke: Some(w), ..Lettering::default() };
        let seat = Arc::new(Seat::on(&part, top, None).unwrap());
        match BuiltMark::new(&mark, seat, None) {
            Ok(_) => assert!(fits, "{height}"),
            Err(e) => assert!(!fits && e.to_string().contains("“I”"), "{height}: {e}"),
        }
    }
}

#[test]
fn raised_lettering_reads_rightly_seen_from_outside() {
    let (part, top) = top_of_block();
    let (built, _) = build(&part, &mark("L", top, Relief::default()));
    // the L's foot points along x when seen from above with y up
    let (low, high) = built.placed.characters[0].region.bounds().unwrap();
    let seat = &built.seat;
    let along = seat.chart.point(DVec2::new(high.x, low.y), 0.0) - seat.chart.point(low, 0.0);
    let up = seat.chart.point(DVec2::new(low.x, high.y), 0.0) - seat.chart.point(low, 0.0);
    assert!(along.normalize().dot(DVec3::X) > 0.9999 && up.normalize().dot(DVec3::Y) > 0.9999);
}

#[test]
fn neighbouring_facets_of_one_character_are_joined() {
    let (part, top) = top_of_block();
    let (_, solid) = build(&part, &mark("A8", top, Relief::default()));
    let tops = facets(&solid, Role::Top);
    let joined =
        neighbours(&solid.mesh).iter().filter(|n| n.triangles.iter().all(|&t| tops.contains(&(t as usize)))).count();
    assert!(joined > 50, "{joined}");
}

#[test]
fn a_mark_off_its_seat_is_refused_with_its_text() {
    let (part, top) = top_of_block();
    let mut mark = mark("VB", top, Relief::default());
    mark.place.along = Tie::At { position: 500.0 };
    let seat = Arc::new(Seat::on(&part, top, None).unwrap());
    let error = BuiltMark::new(&mark, seat, None).err().unwrap().to_string();
    assert!(error.contains("“VB”") && error.contains("off its seat"), "{error}");
}

#[test]
fn short_edges_in_inner_corners_don_t_keep_a_letter_from_being_built() {
    // faces whose outlines have edges of a few hundredths in the corners of A, V, W, X
    let (part, round) = barrel(15.0);
    for (walls, sense) in [(Walls::Pull, Sense::Raised), (Walls::Pull, Sense::Sunken), (Walls::Seat, Sense::Sunken)] {
        let mut m = mark("AVWX", round, Relief { walls, sense, ..Relief::default() });
        m.lettering.face = "barlow".into();
        m.place.up = Tie::At { position: -3.0 };
        build(&part, &m);
    }
}

#[test]
fn the_order_of_facets_depends_on_the_solid_alone() {
    let (part, top) = top_of_block();
    let (_, solid) = build(&part, &mark("B8", top, Relief::default()));
    let sorted = solid.in_order();
    assert!((sorted.mesh.volume() - solid.mesh.volume()).abs() < 1e-9);
    let mut shuffled = solid.clone();
    shuffled.mesh.triangles.reverse();
    shuffled.tags.reverse();
    for t in &mut shuffled.mesh.triangles {
        t.rotate_left(1);
    }
    let again = shuffled.in_order();
    assert_eq!(
        (again.mesh.vertices, again.mesh.triangles, again.tags),
        (sorted.mesh.vertices, sorted.mesh.triangles, sorted.tags)
    );
}
