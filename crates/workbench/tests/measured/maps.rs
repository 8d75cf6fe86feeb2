//! Figures over the marked solid, and a letter laid flat, against what is worked out by hand for every place.

use crate::made::{block, job, looking, mark, part, plate, rod, round};
use glam::{DVec2, DVec3};
use inspection::{
    Check,
    letter_flat::{self, LetterFlat},
    map::{self, Map, Piece},
};
use relief::{Role, Tag};
use solid::Part;
use std::sync::Arc;
use trade::{Job, Mark, MeasuredAt, Parting, Relief, Sense, Tie, limits::Subject};
use workbench::{Bench, Outcome, Scope, line, outcome::Group};

fn built(job: &Job, part: Part) -> (Bench, Outcome) {
    let bench = Bench::new(part);
    let outcome = bench.outcome(job, Scope::NearMarks);
    assert!(outcome.marks.iter().all(|m| m.problem.is_none()));
    (bench, outcome)
}

fn mapped(job: &Job, part: Part, check: Check) -> Result<Map, String> {
    let (bench, outcome) = built(job, part);
    line::on_site(job, &bench, &outcome, 0, |site| map::of(site, check)).unwrap()
}

fn flat(job: &Job, part: Part, letter: u32) -> LetterFlat {
    let (bench, outcome) = built(job, part);
    line::on_site(job, &bench, &outcome, 0, |site| letter_flat::of(site, letter)).unwrap().unwrap()
}

/// A bar on the top of a plate, its size measured at its top or floor.
fn bar(sense: Sense, draft: f64, plate: &Part) -> Mark {
    let mark = mark("I", looking(plate, DVec3::Z), 8.0, sense);
    Mark { relief: Relief { draft, measured_at: MeasuredAt::Top, ..mark.relief }, ..mark }
}

fn own(map: &Map) -> impl Iterator<Item = &Piece> {
    map.pieces.iter().filter(|p| p.character.is_some())
}

/// How wide and high the outline is.
fn size(rings: &[Vec<DVec2>]) -> DVec2 {
    let points = || rings.iter().flatten().copied();
    points().fold(DVec2::NEG_INFINITY, DVec2::max) - points().fold(DVec2::INFINITY, DVec2::min)
}

#[test]
fn every_wall_has_its_draft_and_the_area_that_lacks_it_is_that_of_the_walls() {
    let tan = |degrees: f64| degrees.to_radians().tan();
    for (sense, draft) in [(Sense::Raised, 5.0), (Sense::Raised, 0.4), (Sense::Sunken, 5.0), (Sense::Sunken, 0.4)] {
        let job = job(vec![bar(sense, draft, &plate(3.0, &[]))], vec![]);
        let map = mapped(&job, plate(3.0, &[]), Check::Draft).unwrap();
        let asked = job.limit_set().limit_of(Subject::Draft, sense == Sense::Sunken).value;
        let walls = || map.pieces.iter().filter(|p| p.values[0] < 45.0);
        assert!(walls().count() >= 8 && walls().all(|p| p.values.iter().all(|v| (v - draft).abs() < 1e-4)));
        assert!(walls().all(|p| p.limit == asked) && map.limit.value == asked);
        // a bar's four walls: the mean of its sides at top and root, 0.6 high along the lean
        let top = size(&flat(&job, plate(3.0, &[]), 0).top);
        let area = 2.0 * (top.x + top.y + 2.0 * 0.6 * tan(draft)) * 0.6 / draft.to_radians().cos();
        let found: f64 = walls().map(Piece::area).sum();
        assert!((found - area).abs() < 1e-3, "{sense:?} {draft}: {found} for {area}");
        let [beyond, all] = map.beyond();
        let lacking = if draft < asked { area } else { 0.0 };
        assert!((beyond - lacking).abs() < 1e-3 && (all - area - top.x * top.y).abs() < 1e-3, "{beyond} of {all}");
        assert!((map.worst().unwrap().0 - draft).abs() < 1e-4);
    }
}

#[test]
fn under_a_pull_that_leans_each_wall_has_what_its_side_leaves_of_the_draft() {
    let mut job = job(vec![bar(Sense::Raised, 5.0, &plate(3.0, &[]))], vec![]);
    let (sin, cos) = 8_f64.to_radians().sin_cos();
    job.tool.pull = Some([sin, 0.0, cos]);
    let map = mapped(&job, plate(3.0, &[]), Check::Draft).unwrap();
    for piece in map.pieces.iter().filter(|p| p.values[0] < 45.0) {
        let [a, b, c] = piece.corners;
        let normal = (b - a).cross(c - a).normalize();
        // 5° that lean towards the pull by 8°, away from it, or square to it
        let draft = match normal.x {
            x if x > 0.5 => 13.0,
            x if x < -0.5 => -3.0,
            _ => (5_f64.to_radians().sin() * cos).asin().to_degrees(),
        };
        assert!((piece.values[0] - draft).abs() < 1e-4, "{normal}: {} for {draft}", piece.values[0]);
    }
    assert!((map.worst().unwrap().0 + 3.0).abs() < 1e-4);
}

#[test]
fn what_lies_higher_than_it_was_set_is_told_where_it_does() {
    let rod = || part(&rod([-20.0, 0.0, 0.0], [40.0, 0.0, 0.0], 15.0));
    for (part, on) in [(plate(3.0, &[]), looking(&plate(3.0, &[]), DVec3::Z)), (rod(), round(&rod()))] {
        let mut mark = mark("HI", on, 6.0, Sense::Raised);
        mark.place.along = Tie::FromStart { distance: 14.0 };
        let job = job(vec![mark], vec![]);
        let (bench, mut outcome) = built(&job, part);
        let sound = line::on_site(&job, &bench, &outcome, 0, |s| map::of(s, Check::UniformDepth)).unwrap().unwrap();
        // 0.0008 mm of 0.6
        assert!(own(&sound).all(|p| p.values.iter().all(|v| v.abs() < 0.14)), "{:?}", sound.worst());
        assert_eq!(sound.beyond()[0], 0.0);
        // the second of its letters is lifted by 0.09 mm, 15 % of what was set
        let seat = outcome.marks[0].built.as_ref().unwrap().seat.clone();
        let group = &outcome.groups[0];
        let mut solid = group.solid.clone();
        let tops = (0..solid.tags.len())
            .filter(|&t| matches!(solid.tags[t], Tag::Relief { role: Role::Top, character: 1, .. }))
            .flat_map(|t| solid.mesh.triangles[t]);
        for v in tops.collect::<std::collections::BTreeSet<u32>>() {
            let p = solid.mesh.vertices[v as usize];
            solid.mesh.vertices[v as usize] = p + seat.normal(p) * 0.09;
        }
        let tampered = Group {
            key: "lifted".into(),
            block: group.block,
            apart: group.apart,
            marks: group.marks.clone(),
            solid,
            looked_at: None,
            colours: group.colours.clone(),
            stamps: group.stamps.clone(),
        };
        outcome.groups[0] = Arc::new(tampered);
        let map = line::on_site(&job, &bench, &outcome, 0, |s| map::of(s, Check::UniformDepth)).unwrap().unwrap();
        for piece in own(&map) {
            let off = if piece.character == Some(1) { 15.0 } else { 0.0 };
            assert!(piece.values.iter().all(|v| (v - off).abs() < 0.14), "{piece:?}");
            assert_eq!(map.is_beyond(piece), piece.character == Some(1));
        }
    }
}

#[test]
fn the_wall_is_thin_over_a_hole_and_beside_a_bore_and_there_only() {
    // from behind up to 0.1 under a floor 0.6 deep in a plate of 3
    let drilled = || plate(3.0, &[rod([0.0, 2.0, -4.0], [0.0, 0.0, 3.3], 0.5)]);
    let job_of = |part: &Part| job(vec![bar(Sense::Sunken, 0.0, part)], vec![]);
    let map = mapped(&job_of(&drilled()), drilled(), Check::Wall).unwrap();
    let at = |p: &Piece| (p.corners[0] + p.corners[1] + p.corners[2]) / 3.0 - DVec3::Y * 2.0;
    let reach = |p: &Piece| {
        p.corners.iter().map(|c| c.distance((p.corners[0] + p.corners[1] + p.corners[2]) / 3.0)).fold(0.0, f64::max)
    };
    let floor: Vec<&Piece> = own(&map).filter(|p| p.corners.iter().all(|c| (c.z + 0.6).abs() < 1e-9)).collect();
    let (mut over, mut beside) = (0, 0);
    for piece in floor {
        let far = at(piece).truncate().length();
        if far + reach(piece) < 0.45 {
            over += 1;
            assert!(piece.values.iter().all(|v| (v - 0.1).abs() < 0.011), "{piece:?}");
        } else if far - reach(piece) > 3.0 {
            beside += 1;
            // straight down 2.4, to the hole's rim no less than its distance
            assert!(piece.values.iter().all(|v| *v > 2.0 && *v < 2.411), "{piece:?}");
        }
    }
    assert!(over > 0 && beside > 0, "{over} {beside}");
    assert!((map.worst().unwrap().0 - 0.1).abs() < 0.011);
    // the same plate whole
    let whole = mapped(&job_of(&plate(3.0, &[])), plate(3.0, &[]), Check::Wall).unwrap();
    assert!(own(&whole).all(|p| p.values.iter().all(|v| (v - 2.4).abs() < 0.011)), "{:?}", whole.worst());
    assert_eq!(whole.beyond()[0], 0.0);
}

#[test]
fn what_is_raised_adds_its_share_to_the_wall() {
    for thick in [1.5, 3.0] {
        let job = job(vec![bar(Sense::Raised, 0.0, &plate(thick, &[]))], vec![]);
        let map = mapped(&job, plate(thick, &[]), Check::Wall).unwrap();
        let share = 100.0 * 0.6 / thick;
        assert!(own(&map).all(|p| p.values.iter().all(|v| (v - share).abs() < 1e-6)), "{:?}", map.worst());
        let asked = job.limit_set().limit(Subject::WallAdded).value;
        assert_eq!(map.beyond()[0] > 0.0, share > asked, "{share} of at most {asked}");
    }
}

#[test]
fn every_place_is_as_far_from_the_edge_and_from_the_next_mark_as_it_lies() {
    let plate_of = || part(&block([-30.0, -15.0, -3.0], [30.0, 15.0, 0.0]));
    let mut first = bar(Sense::Raised, 0.0, &plate_of());
    first.place.along = Tie::FromStart { distance: 9.0 };
    let alone = job(vec![first.clone()], vec![]);
    let map = mapped(&alone, plate_of(), Check::Clearance).unwrap();
    let edge = |p: DVec3| (30.0 - p.x.abs()).min(15.0 - p.y.abs());
    for piece in &map.pieces {
        for (p, value) in piece.corners.iter().zip(piece.values) {
            assert!((value - edge(*p) / 8.0).abs() < 1e-6, "{p}: {value}");
        }
    }
    assert!(map.pieces.iter().any(|p| p.character.is_none()) && own(&map).count() > 0);
    // a bar beside it: its root is a box known from its own letter laid flat
    let mut second = Mark { id: "second".into(), ..bar(Sense::Raised, 0.0, &plate_of()) };
    second.place.along = Tie::FromStart { distance: 15.0 };
    let half = size(&flat(&alone, plate_of(), 0).root) / 2.0;
    let two = job(vec![first, second], vec![]);
    let (bench, outcome) = built(&two, plate_of());
    let other = outcome.marks[1].built.as_ref().unwrap();
    let middle = other.seat.chart.point(other.placed.characters[0].middle, 0.0);
    let map = line::on_site(&two, &bench, &outcome, 0, |s| map::of(s, Check::Clearance)).unwrap().unwrap();
    let mut nearer = 0;
    for piece in own(&map) {
        for (p, value) in piece.corners.iter().zip(piece.values) {
            let off = ((*p - middle).truncate().abs() - half).max(DVec2::ZERO).length();
            assert!((value - edge(*p).min(off) / 8.0).abs() < 1e-4, "{p}: {value}");
            nearer += u32::from(off < edge(*p));
        }
    }
    assert!(nearer > 0);
    // on the other mark itself there is no room at all
    let on_it = map.pieces.iter().filter(|p| p.character.is_none()).flat_map(|p| p.corners.into_iter().zip(p.values));
    assert!(
        on_it.filter(|(p, _)| ((*p - middle).truncate().abs() - half).max_element() < -1e-3).all(|(_, v)| v == 0.0)
    );
}

#[test]
fn every_place_is_as_far_from_the_parting_line_as_it_lies() {
    // the pull runs along x: the plane at x = 4 leaves a straight line over the top
    let plate_of = || part(&block([-30.0, -15.0, -3.0], [30.0, 15.0, 0.0]));
    let mut job = job(vec![bar(Sense::Raised, 0.0, &plate_of())], vec![Parting::Plane { height: 4.0 }]);
    job.tool.pull = Some([1.0, 0.0, 0.0]);
    let map = mapped(&job, plate_of(), Check::Parting).unwrap();
    for piece in &map.pieces {
        for (p, value) in piece.corners.iter().zip(piece.values) {
            assert!((value - (p.x - 4.0).abs()).abs() < 1e-6, "{p}: {value}");
        }
    }
    job.tool.parting.clear();
    assert!(mapped(&job, plate_of(), Check::Parting).unwrap_err().contains("No parting line"));
}

#[test]
fn what_has_no_map_says_why() {
    let mut job = job(vec![bar(Sense::Raised, 0.0, &plate(3.0, &[]))], vec![]);
    assert!(mapped(&job, plate(3.0, &[]), Check::Stroke).unwrap_err().contains("no map"));
    job.tool.pull = None;
    assert!(mapped(&job, plate(3.0, &[]), Check::Draft).unwrap_err().contains("No pull"));
    job.marks[0].relief.sense = Sense::Surface;
    assert!(mapped(&job, plate(3.0, &[]), Check::Wall).unwrap_err().contains("Surface-only"));
}

#[test]
fn a_letter_laid_flat_has_its_outlines_at_each_level_and_its_discs() {
    // O: its counter and its narrowest stroke; drafted by 10° its root is larger all round by 0.6 tan 10°, its counter smaller
    let plate_of = || plate(3.0, &[]);
    let mut o = mark("OI", looking(&plate_of(), DVec3::Z), 8.0, Sense::Raised);
    o.relief = Relief { draft: 10.0, measured_at: MeasuredAt::Top, ..o.relief };
    let drafted = job(vec![o.clone()], vec![]);
    let upright = job(vec![Mark { relief: Relief { draft: 0.0, ..o.relief }, ..o.clone() }], vec![]);
    let (leaning, square) = (flat(&drafted, plate_of(), 0), flat(&upright, plate_of(), 0));
    let by = 0.6 * 10_f64.to_radians().tan();
    assert_eq!(leaning.text, "O");
    assert!((size(&leaning.top) - size(&square.top)).length() < 1e-4);
    assert!((size(&leaning.root) - size(&leaning.top) - 2.0 * by).length() < 1e-3, "{}", size(&leaning.root));
    // its own top is measured at the top; upright root and top are one
    assert!((size(&square.root) - size(&square.top)).length() < 1e-9);
    let counter = |f: &LetterFlat| f.spaces.iter().map(|s| s.width).fold(f64::MAX, f64::min);
    assert!(
        (counter(&square) - counter(&leaning) - 2.0 * by).abs() < 2e-3,
        "{} {}",
        counter(&square),
        counter(&leaning)
    );
    let stroke = leaning.stroke.unwrap();
    assert!(
        (stroke.width - square.stroke.unwrap().width).abs() < 1e-4 && (stroke.width - stroke.diameter).abs() < 1e-6
    );
    // the disc lies in the ink: half of it away from the outline
    let away = leaning.top.iter().flatten().map(|p| p.distance(stroke.middle)).fold(f64::MAX, f64::min);
    assert!((away - stroke.diameter / 2.0).abs() < 5e-3, "{away} for {}", stroke.diameter);
    // the I stands beside it: as far at the root as its outline is drawn, and nearer by twice the lean than upright
    let gap = &leaning.gaps[0];
    assert_eq!((gap.to, gap.text.as_str()), (1, "I"));
    assert!((gap.ends[0].distance(gap.ends[1]) - gap.width).abs() < 1e-6);
    assert!((square.gaps[0].width - gap.width - 2.0 * by).abs() < 1e-3, "{} {}", square.gaps[0].width, gap.width);
    let beside = leaning.beside[0].iter().flatten().map(|p| p.x).fold(f64::MAX, f64::min);
    let own = leaning.root.iter().flatten().map(|p| p.x).fold(f64::MIN, f64::max);
    assert!((beside - own - gap.width).abs() < 1e-3, "{} for {}", beside - own, gap.width);
}

#[test]
fn round_a_rod_a_letter_is_as_wide_as_its_level_is_long() {
    // set true on R 15 and 0.6 high: at its top it is 15.6 / 15 as wide as at its root, and as high
    let part = part(&rod([-20.0, 0.0, 0.0], [40.0, 0.0, 0.0], 15.0));
    let mut h = mark("H", round(&part), 6.0, Sense::Raised);
    h.place.along = Tie::FromStart { distance: 14.0 };
    let laid = flat(&job(vec![h], vec![]), part, 0);
    let (top, root) = (size(&laid.top), size(&laid.root));
    let ratio = top / root;
    let [straight, bent] =
        if (ratio.x - 1.0).abs() < (ratio.y - 1.0).abs() { [ratio.x, ratio.y] } else { [ratio.y, ratio.x] };
    assert!((straight - 1.0).abs() < 1e-4 && (bent - 15.6 / 15.0).abs() < 1e-3, "{top} {root}");
    // about one middle, wherever it lies on the strip
    let middle = |rings: &[Vec<DVec2>]| {
        let points = || rings.iter().flatten().copied();
        points().fold(DVec2::NEG_INFINITY, DVec2::max).midpoint(points().fold(DVec2::INFINITY, DVec2::min))
    };
    assert!(middle(&laid.top).length() < 2e-3 && middle(&laid.root).length() < 2e-3, "{}", middle(&laid.top));
    let heights = laid.heights.unwrap();
    assert!((heights.least.0 - 0.6).abs() < 1e-3 && (heights.greatest.0 - 0.6).abs() < 1e-3);
}
