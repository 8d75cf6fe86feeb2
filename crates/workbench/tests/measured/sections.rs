//! Sections through the finished solid against figures that are worked out by hand.

use crate::made::{block, job, looking, mark, outcome, part, plate, rod, round};
use glam::DVec3;
use relief::{Role, Tag};
use solid::{
    Part,
    cut_edge::{Middles, Shape},
};
use trade::{Job, Lettering, Mark, MeasuredAt, Relief, Sense, Tie, Walls};
use workbench::{
    Bench, Outcome, Scope,
    section::{Edge, Lie, Plane, Section, of_outcome, of_part, square_to, through},
};

const ALONG: Lie = Lie { turn_deg: 0.0, tilt_deg: 0.0, shift: 0.0 };

fn near(a: f64, b: f64, within: f64) -> bool {
    (a - b).abs() <= within
}

/// The job built near its marks only, as an edit is, and its section through a letter of the first mark.
fn cut(job: &Job, part: Part, character: usize, lie: Lie) -> (Section, Outcome, Bench) {
    let bench = Bench::new(part);
    let outcome = bench.outcome(job, Scope::NearMarks);
    assert_eq!(outcome.marks[0].problem, None);
    let built = outcome.marks[0].built.clone().unwrap();
    let middle = built.seat.chart.point(built.placed.characters[character].middle, 0.0);
    let plane = through(&built, middle, lie).plane;
    let section = of_outcome(&bench, &outcome, plane, built.pull);
    (section, outcome, bench)
}

fn of_role(section: &Section, role: Role) -> Vec<&Edge> {
    section.edges.iter().filter(|e| matches!(e.of, Tag::Relief { role: r, .. } if r == role)).collect()
}

/// A raised or sunken stem of known width: 0.6 mm high or deep, its size measured at its top or floor, 5° of draft.
fn stem(sense: Sense) -> Job {
    let relief = Relief { draft: 5.0, measured_at: MeasuredAt::Top, ..mark("I", 0, 8.0, sense).relief };
    let mut job = job(vec![Mark { relief, ..mark("I", 0, 8.0, sense) }], vec![]);
    job.marks[0].seat = trade::SeatRef::on(looking(&plate(3.0, &[]), DVec3::Z));
    job
}

#[test]
fn a_stem_cut_along_the_text_is_the_trapezoid_that_its_draft_makes() {
    for sense in [Sense::Raised, Sense::Sunken] {
        let (section, _, _) = cut(&stem(sense), plate(3.0, &[]), 0, ALONG);
        let walls = of_role(&section, Role::Wall);
        assert_eq!(walls.len(), 2, "{sense:?}");
        for wall in &walls {
            // as long as 0.6 mm is along a wall that leans by 5°
            assert!(near(wall.length, 0.6 / 5_f64.to_radians().cos(), 1e-6), "{sense:?}: {}", wall.length);
            assert!(near(wall.draft.unwrap(), 5.0, 1e-6), "{sense:?}: {:?}", wall.draft);
            assert!(near(wall.seen_angle(section.plane, DVec3::Z).unwrap(), 5.0, 1e-6), "{sense:?}");
        }
        let end = of_role(&section, if sense == Sense::Raised { Role::Top } else { Role::Floor });
        assert_eq!(end.len(), 1);
        assert!(matches!(end[0].shape, Shape::Straight { .. }));
        // the plate is 60 × 3, and the stem stands on it or is cut into it
        let wide = end[0].length;
        let trapezoid = 0.6 * (wide + 0.6 * 5_f64.to_radians().tan());
        let by = if sense == Sense::Raised { trapezoid } else { -trapezoid };
        assert!(near(section.area, 180.0 + by, 1e-6), "{sense:?}: {} for a stem of {wide}", section.area);
        let filled: f64 = section
            .bodies
            .iter()
            .flat_map(|b| &b.triangles)
            .map(|[a, b, c]| (*b - *a).cross(*c - *a).length() / 2.0)
            .sum();
        assert!(near(filled, section.area, 1e-6), "what is hatched is what is cut through: {filled}");
    }
}

#[test]
fn a_plane_turned_by_an_angle_sees_walls_longer_and_their_draft_as_it_is() {
    // turned by 60° a stem is cut over twice its width; its walls seem to lean by more, and have the draft that they have
    let (square, ..) = cut(&stem(Sense::Raised), plate(3.0, &[]), 0, ALONG);
    let (turned, ..) = cut(&stem(Sense::Raised), plate(3.0, &[]), 0, Lie { turn_deg: 60.0, ..ALONG });
    let wide = |s: &Section| of_role(s, Role::Top)[0].length;
    assert!(near(wide(&turned), 2.0 * wide(&square), 1e-6));
    let wall = of_role(&turned, Role::Wall)[0];
    let seen = (2.0 * 5_f64.to_radians().tan()).atan().to_degrees();
    assert!(near(wall.seen_angle(turned.plane, DVec3::Z).unwrap(), seen, 1e-6));
    assert!(near(wall.draft.unwrap(), 5.0, 1e-6));
}

#[test]
fn a_cut_is_turned_square_to_what_was_measured() {
    let (_, outcome, _) = cut(&stem(Sense::Raised), plate(3.0, &[]), 0, ALONG);
    let built = outcome.marks[0].built.as_ref().unwrap();
    let middle = built.seat.chart.point(built.placed.characters[0].middle, 0.0);
    let near = |a: f64, b: f64| ((a - b).rem_euclid(180.0)).min((b - a).rem_euclid(180.0)) < 1e-6;
    // on the stem's right wall: across the stem, whichever way round; on its upper end: along it
    assert!(near(square_to(&outcome, 0, &[middle + DVec3::new(0.6, 0.0, 0.3)]), 0.0));
    assert!(near(square_to(&outcome, 0, &[middle + DVec3::new(0.0, 4.1, 0.3)]), 90.0));
    // between two places: along what lies between them, and where they lie over one another as for one
    let places = |to: DVec3| [middle, middle + to];
    assert!(near(square_to(&outcome, 0, &places(DVec3::new(1.0, 1.0, 0.4))), 45.0));
    assert!(near(square_to(&outcome, 0, &places(DVec3::new(0.0, 0.0, 0.6))), 0.0));
}

#[test]
fn a_floor_sunk_into_a_cylinder_runs_round_its_axis_with_the_skin() {
    // R 15, sunk 0.6: the floor has R 14.4 about the same axis
    let part = part(&rod([-20.0, 0.0, 0.0], [40.0, 0.0, 0.0], 15.0));
    let mut mark = mark("I", round(&part), 8.0, Sense::Sunken);
    mark.relief.walls = Walls::Seat;
    // away from the plane where its facets happen to meet
    mark.place.along = Tie::FromStart { distance: 14.0 };
    let job = job(vec![mark], vec![]);
    let (along, ..) = cut(&job, part.clone(), 0, ALONG);
    let (across, ..) = cut(&job, part, 0, Lie { turn_deg: 90.0, ..ALONG });
    // whichever of the two is square to the axis
    let section = if along.plane.normal.x.abs() > 0.9 { along } else { across };
    assert!(section.plane.normal.x.abs() > 1.0 - 1e-9, "{:?}", section.plane);
    let arc = |edge: &&Edge| match edge.shape {
        Shape::Arc(circle) => Some(circle),
        Shape::Straight { .. } | Shape::Curve => None,
    };
    let skin = section.edges.iter().filter(|e| matches!(e.of, Tag::Part { .. }) && e.length > 20.0);
    let skin = skin.max_by(|a, b| a.length.total_cmp(&b.length)).expect("the skin");
    let skin = arc(&skin).expect("a circle");
    assert!(near(skin.radius, 15.0, 0.01) && near(skin.centre.y.hypot(skin.centre.z), 0.0, 0.01), "{skin:?}");
    let floor =
        of_role(&section, Role::Floor).into_iter().max_by(|a, b| a.length.total_cmp(&b.length)).expect("a floor");
    let floor = arc(&floor).expect("a circle");
    assert!(near(floor.radius, 14.4, 0.01), "{floor:?}");
    assert!(!matches!(skin.middles(&floor), Middles::Apart { .. }), "{:?}", skin.middles(&floor));
}

#[test]
fn an_inlay_is_cut_as_a_body_of_its_own_and_fills_its_pocket() {
    let mut inlaid = mark("I", 0, 8.0, Sense::Inlay);
    inlaid.seat = trade::SeatRef::on(looking(&plate(3.0, &[]), DVec3::Z));
    let (section, ..) = cut(&job(vec![inlaid], vec![]), plate(3.0, &[]), 0, ALONG);
    let area = |filling: bool| -> f64 {
        let bodies = section.bodies.iter().filter(|b| b.filling == filling).flat_map(|b| &b.triangles);
        bodies.map(|[a, b, c]| (*b - *a).cross(*c - *a).length() / 2.0).sum()
    };
    assert!(area(true) > 0.3, "{}", area(true));
    assert!(near(area(true) + area(false), 180.0, 1e-3), "{} and {}", area(true), area(false));
}

#[test]
fn a_level_cut_half_way_up_an_o_is_a_ring_that_is_looked_at_from_outside() {
    let mut mark = mark("O", 0, 8.0, Sense::Raised);
    mark.seat = trade::SeatRef::on(looking(&plate(3.0, &[]), DVec3::Z));
    mark.lettering = Lettering { stroke: None, ..mark.lettering };
    let job = job(vec![mark], vec![]);
    let lie = Lie { turn_deg: 0.0, tilt_deg: 90.0, shift: 0.3 };
    let (section, outcome, _) = cut(&job, plate(3.0, &[]), 0, lie);
    let built = outcome.marks[0].built.as_ref().unwrap();
    let seen = through(built, built.seat.chart.point(built.placed.middle, 0.0), lie);
    assert!(seen.eye.distance(DVec3::Z) < 1e-9 && seen.up.distance(DVec3::Y) < 1e-9, "{seen:?}");
    assert!(near(seen.at.z, 0.3, 1e-9));
    // without draft it is the letter's own outline: an outer and an inner ring
    let region = &built.placed.characters[0].region;
    assert!(near(section.area, region.area(), 1e-3), "{} and {}", section.area, region.area());
    assert!(section.edges.iter().all(|e| matches!(e.of, Tag::Relief { role: Role::Wall, .. })));
}

#[test]
fn what_was_built_near_the_marks_is_cut_as_the_whole_is() {
    let part = || part(&block([-30.0, -15.0, -3.0], [30.0, 15.0, 0.0]));
    let job = stem(Sense::Raised);
    let (section, _, bench) = cut(&job, part(), 0, ALONG);
    let whole = of_outcome(&bench, &outcome(&job, part()), section.plane, Some(DVec3::Z));
    let told = |s: &Section| {
        let mut all: Vec<(String, i64)> =
            s.edges.iter().map(|e| (format!("{:?}", e.of), (e.length * 1e6).round() as i64)).collect();
        all.sort();
        all
    };
    assert_eq!(told(&section), told(&whole));
    // and the bare part beside it
    let bare = of_part(&bench, Plane { ..section.plane }, Some(DVec3::Z));
    assert!(near(bare.area, 180.0, 1e-9) && bare.edges.iter().all(|e| matches!(e.of, Tag::Part { .. })));
}
