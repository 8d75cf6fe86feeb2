//! Fair requests: lettering over creases wherever it stands, broad bars on round seats, pads among ribs. They are built,
//! or refused with a setting that does build.

use demo::shapes::{arc, cylinder, prism};
use glam::{DVec2, DVec3};
use inspection::{Check, State};
use rayon::prelude::*;
use relief::{MarkedSolid, Role, Tag};
use solid::{Part, Surface, boolean::Body, queries::Queries};
use trade::figure::Artwork;
use trade::{Field, Figure, Job, Lettering, Mark, Pad, PadForm, Relief, SeatRef, Sense, Tie, Tool, Walls};
use workbench::{Bench, Outcome, Scope, Steps};

/// A bar whose two upper faces rise to a ridge, or fall to a valley, by so many degrees each.
fn creased(slope: f64) -> Part {
    let rise = 20.0 * slope.to_radians().tan();
    let (middle, side) = (4.0 + rise.max(0.0), 4.0 - rise.min(0.0));
    // all of it is seen from the crease
    let points = [(0.0, middle), (-20.0, side), (-20.0, -8.0), (20.0, -8.0), (20.0, side)];
    let points = points.map(|(x, z)| DVec3::new(x, 20.0, z));
    Part::from_mesh(&prism(&points, DVec3::NEG_Y * 40.0)).unwrap()
}

fn over(part: &Part, wanted: impl Fn(&Surface) -> bool) -> SeatRef {
    let faces = part.faces.iter().enumerate().filter(|(_, f)| wanted(&f.surface)).map(|(at, _)| at as u32);
    let mut faces: Vec<u32> = faces.collect();
    let with = faces.split_off(1);
    SeatRef { face: faces[0], with }
}

fn outcome(bench: &Bench, mark: &Mark) -> Outcome {
    let tool = Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() };
    bench.outcome(&Job { tool, marks: vec![mark.clone()], ..Job::default() }, Scope::Whole)
}

/// Why it isn't built whole; `None` where it is.
fn lacks(outcome: &Outcome) -> Option<String> {
    let found = &outcome.marks[0];
    let complete = found.findings.iter().find(|f| f.check == Check::Complete);
    let lack = complete.filter(|f| f.state != State::Passes).map(|f| f.sentence.clone());
    found.problem.clone().or(lack)
}

fn square(sense: Sense) -> Relief {
    Relief { sense, height: 0.3, draft: 3.0, walls: Walls::Seat, ..Relief::default() }
}

/// Heights of tops or floors above two planes at `slope`, but within `beside` mm of their crease, by their own equations.
fn heights(solid: &MarkedSolid, slope: f64, beside: f64) -> Vec<f64> {
    let (sin, cos) = slope.to_radians().sin_cos();
    let middle = 4.0 + 20.0 * slope.to_radians().tan().max(0.0);
    let tops = (0..solid.tags.len())
        .filter(|&t| matches!(solid.tags[t], Tag::Relief { role: Role::Top | Role::Floor, .. }))
        .map(|t| solid.mesh.centroid(t));
    let away = tops.filter(|p| p.x.abs() > beside);
    away.map(|p| (p.z - middle) * cos + p.x.abs() * sin).collect()
}

#[test]
fn lettering_goes_over_creases_of_any_turn_wherever_it_stands() {
    let cases: Vec<(f64, usize)> =
        [5.0, 12.0, 35.0, 50.0, 58.0, -5.0, -35.0, -58.0].iter().flat_map(|s| (0..6).map(move |k| (*s, k))).collect();
    let benches: Vec<(f64, Bench)> =
        [5.0, 12.0, 35.0, 50.0, 58.0, -5.0, -35.0, -58.0].map(|slope| (slope, Bench::new(creased(slope)))).into();
    let refused: Vec<String> = cases
        .par_iter()
        .filter_map(|&(slope, k)| {
            let bench = &benches.iter().find(|b| b.0 == slope)?.1;
            let seat = over(bench.part(), |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.3));
            let on = bench.seat(&seat, Some(DVec3::Z)).unwrap();
            let middle = (on.start + on.end) / 2.0;
            let mut mark = Mark { id: "m".into(), text: "R2".into(), seat, ..Mark::default() };
            mark.lettering = Lettering { cap_height: 3.0, ..Lettering::default() };
            mark.relief = square([Sense::Raised, Sense::Sunken, Sense::Inlay][k % 3]);
            mark.place.turn = [0.0, 90.0, 30.0, -75.0][k % 4];
            // half a millimetre of them fall otherwise on the crease
            mark.place.along = Tie::At { position: middle.x - 1.3 + 0.47 * k as f64 };
            mark.place.up = Tie::At { position: middle.y };
            let made = outcome(bench, &mark);
            let why = lacks(&made).or_else(|| {
                let wanted = if k % 3 == 0 { 0.3 } else { -0.3 };
                // within 2.4 mm chords of caps go from facet to facet of the seat
                let off = heights(made.whole()?, slope, 2.6).into_iter().map(|h| (h - wanted).abs());
                let off = off.fold(0.0, f64::max);
                (off > 0.0015).then(|| format!("a top or floor is off by {off} mm"))
            });
            why.map(|why| format!("slope {slope}, {k}: {why}"))
        })
        .collect();
    assert!(refused.is_empty(), "{} of {}:\n{}", refused.len(), cases.len(), refused.join("\n"));
}

/// A block whose top runs over a fillet of R 6 into its front, lettered across.
#[test]
fn lettering_goes_over_a_fillet_as_over_one_face() {
    let mut side: Vec<DVec3> =
        arc(DVec2::new(10.0, 10.0), 6.0, 0.0, 90.0).iter().map(|p| DVec3::new(-30.0, p.x, p.y)).collect();
    side.extend([(-16.0, 16.0), (-16.0, -16.0), (16.0, -16.0)].map(|(y, z)| DVec3::new(-30.0, y, z)));
    let part = Part::from_mesh(&prism(&side, DVec3::X * 60.0)).unwrap();
    let fillet = over(&part, |s| matches!(s, Surface::Cylinder { .. })).face;
    let flats = over(&part, |s| matches!(s, Surface::Plane { normal, .. } if normal.y > 0.9 || normal.z > 0.9));
    let seat = SeatRef { face: fillet, with: flats.faces() };
    let bench = Bench::new(part);
    let on = bench.seat(&seat, Some(DVec3::Z)).unwrap();
    let mut mark = Mark { id: "m".into(), text: "HC-9 L".into(), seat, ..Mark::default() };
    mark.lettering.cap_height = 12.0;
    mark.place.up = Tie::At { position: f64::midpoint(on.start.y, on.end.y) };
    for sense in [Sense::Raised, Sense::Sunken] {
        mark.relief = Relief { height: 0.6, ..square(sense) };
        let made = outcome(&bench, &mark);
        assert_eq!(lacks(&made), None);
        // bends that are like their neighbours are no creases, along which everything would be cut up
        let facets: usize = made.marks[0].built.iter().flat_map(|b| &b.bodies).map(|b| b.mesh.triangles.len()).sum();
        assert!(facets < 60_000, "{facets}");
        let solid = made.whole().unwrap();
        let wanted = if sense == Sense::Raised { 0.6 } else { -0.6 };
        let mut round = 0;
        for t in 0..solid.tags.len() {
            let (p, tag) = (solid.mesh.centroid(t), &solid.tags[t]);
            if !matches!(tag, Tag::Relief { role: Role::Top | Role::Floor, .. }) {
                continue;
            }
            // by the equations of the three faces
            let (y, z) = (p.y - 10.0, p.z - 10.0);
            let height = if y > 0.0 && z > 0.0 { y.hypot(z) } else { y.max(z) } - 6.0;
            round += usize::from(y > 0.0 && z > 0.0);
            // the seat is its facets: they lie up to 0.002 mm inside the fillet
            assert!((height - wanted).abs() < 0.01, "{height} at {p}");
        }
        assert!(round > 100, "{round} facets over the fillet");
    }
}

/// Bars a third as wide as they are long, in a frame, a cross and a ring.
fn signs() -> [String; 3] {
    let circle = |r: f64, way: f64| {
        let points = (0..72).map(|k| DVec2::from_angle(way * f64::from(k) * 5.0_f64.to_radians()) * r + 50.0);
        format!("M{}Z", points.map(|p| format!("{:.3} {:.3}", p.x, p.y)).collect::<Vec<_>>().join("L"))
    };
    [
        "M0 0L100 0L100 100L0 100ZM30 30L30 70L70 70L70 30Z".into(),
        "M35 0L65 0L65 35L100 35L100 65L65 65L65 100L35 100L35 65L0 65L0 35L35 35Z".into(),
        circle(50.0, 1.0) + &circle(20.0, -1.0),
    ]
}

fn drawn(outline: &str, height: f64, seat: &SeatRef) -> Mark {
    let (told, left_out) = (Vec::new(), Vec::new());
    let figure = Artwork { file: "sign.svg".into(), outline: outline.into(), height, told, left_out };
    Mark {
        id: "m".into(),
        text: String::new(),
        seat: seat.clone(),
        figure: Some(Figure::Artwork(figure)),
        ..Mark::default()
    }
}

fn barrel(radius: f64) -> (Bench, SeatRef) {
    let part = Part::from_mesh(&cylinder(DVec3::ZERO, DVec3::X * 60.0, radius)).unwrap();
    let seat = over(&part, |s| matches!(s, Surface::Cylinder { .. }));
    (Bench::new(part), seat)
}

#[test]
fn broad_bars_go_on_cylinders_with_up_to_ten_degrees_of_draft() {
    for (radius, height) in [(8.0, 6.0), (20.0, 10.0)] {
        let (bench, seat) = barrel(radius);
        let mut marks = Vec::new();
        for (k, outline) in signs().iter().enumerate() {
            for (walls, draft) in [(Walls::Seat, 0.0), (Walls::Seat, 10.0), (Walls::Pull, 3.0), (Walls::Pull, 10.0)] {
                let mut mark = drawn(outline, height, &seat);
                mark.relief = Relief { height: 0.5, draft, walls, ..square([Sense::Raised, Sense::Sunken][k % 2]) };
                mark.place.turn = [0.0, 17.0, 45.0][k];
                marks.push(mark);
            }
        }
        let lacking = marks.par_iter().filter_map(|mark| {
            let Relief { sense, walls, draft, .. } = mark.relief;
            lacks(&outcome(&bench, mark)).map(|why| format!("R {radius} {sense:?} {walls:?} {draft}°: {why}"))
        });
        let lacking: Vec<String> = lacking.collect();
        assert!(lacking.is_empty(), "{}", lacking.join("\n"));
    }
}

/// The number before “ … would build”, or would fit.
fn named(refusal: &str, unit: &str) -> f64 {
    let told = refusal.rsplit("; ").next().unwrap();
    let number = told.split(unit).next().unwrap().rsplit(' ').find(|w| w.parse::<f64>().is_ok());
    number.unwrap_or_else(|| panic!("no number in “{told}”")).parse().unwrap()
}

#[test]
fn what_a_refusal_names_builds_and_a_little_more_does_not() {
    let bench = Bench::new(Part::from_mesh(&demo::parts::plain_block()).unwrap());
    let seat = over(bench.part(), |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.9));
    let mut mark = Mark { id: "m".into(), text: "B8".into(), seat, ..Mark::default() };
    mark.lettering = Lettering { face: "ibm-plex-sans".into(), cap_height: 2.5, ..Lettering::default() };
    // a round edge and root that thin strokes have no room for
    mark.relief = Relief { edge: 0.12, root: 0.12, ..square(Sense::Raised) };
    let refusal = lacks(&outcome(&bench, &mark)).expect("it has no room");
    assert!(refusal.contains("too large for its strokes"), "{refusal}");
    assert!(!refusal.contains("pull"), "the walls are square to the seat: {refusal}");
    let fits = named(&refusal, " mm and");
    mark.relief = Relief { edge: fits, root: fits, ..mark.relief };
    assert_eq!(lacks(&outcome(&bench, &mark)), None, "{refusal}");
    mark.relief = Relief { edge: fits + 0.02, root: fits + 0.02, ..mark.relief };
    assert!(lacks(&outcome(&bench, &mark)).is_some(), "{refusal}");
    // draft that closes a stroke
    mark.relief = Relief { height: 0.6, draft: 40.0, ..square(Sense::Raised) };
    mark.relief.measured_at = trade::MeasuredAt::Root;
    let refusal = lacks(&outcome(&bench, &mark)).expect("it closes");
    assert!(refusal.contains("walls run into one another"), "{refusal}");
    let draft = named(&refusal, "° draft would");
    mark.relief.draft = draft;
    assert_eq!(outcome(&bench, &mark).marks[0].problem, None, "{refusal}");
    mark.relief.draft = draft + 1.5;
    assert!(outcome(&bench, &mark).marks[0].problem.is_some(), "{refusal}");
}

/// Ø 40 with ribs 0.8 high along it, and a recessed pad 1 deep across them.
#[test]
fn a_recessed_pad_clears_the_ribs_that_stand_on_its_field_and_cuts_through_nothing() {
    let body = |mesh: &solid::Mesh| Body::new(mesh, "a piece of the grip").unwrap();
    let ribs: Vec<Body> = (0..12)
        .map(|k| {
            let out = DVec2::from_angle(f64::from(k) * 30.0_f64.to_radians());
            let side = out.perp() * 0.7;
            let corner = |r: f64, s: f64| (out * r + side * s).extend(0.0);
            let base = [corner(18.0, -1.0), corner(20.8, -1.0), corner(20.8, 1.0), corner(18.0, 1.0)];
            let base = base.map(|p| DVec3::new(4.0, p.x, p.y));
            body(&prism(&base, DVec3::X * 42.0))
        })
        .collect();
    let grip = body(&cylinder(DVec3::ZERO, DVec3::X * 50.0, 20.0)).with(&ribs, &[]).unwrap().traced().mesh;
    let part = Part::from_mesh(&grip).unwrap();
    let seats = part.faces.iter().enumerate().filter(|(_, f)| matches!(f.surface, Surface::Cylinder { .. }));
    let largest = seats.max_by(|a, b| a.1.area.total_cmp(&b.1.area)).unwrap().0 as u32;
    let bench = Bench::new(part);
    let mut mark = Mark { id: "m".into(), text: "GR-4".into(), seat: SeatRef::on(largest), ..Mark::default() };
    mark.lettering.cap_height = 4.0;
    mark.place.up = Tie::At { position: 0.0 };
    let pad = Pad { form: PadForm::Recessed, height: 1.0, draft: 5.0, clears: 0.0 };
    mark.relief = Relief { pad: Some(pad), field: Field { margin: 1.5, corner: 1.0 }, ..square(Sense::Raised) };
    let made = outcome(&bench, &mark);
    assert_eq!(made.marks[0].problem, None);
    let wall = made.marks[0].findings.iter().find(|f| f.check == Check::Wall).unwrap();
    assert!(!wall.sentence.contains("through"), "{}", wall.sentence);
    assert_eq!(lacks(&made), None);
    // a rib crosses the field's middle; above the floor there is only air now, outside of letters
    let solid = made.whole().unwrap();
    let seen = Queries::new(solid.mesh.clone());
    let built = made.marks[0].built.as_ref().unwrap();
    let (chart, floor) = (&built.ground.chart, built.placed.pad.as_ref().unwrap());
    let (low, high) = floor.bounds().unwrap();
    let mut looked = 0;
    for k in 4..=36 {
        let at = DVec2::new(low.x + 0.5, low.y + (high.y - low.y) * f64::from(k) / 40.0);
        let out = chart.normal(at);
        let hit = seen.first_hit(chart.point(at, 10.0), -out, 0.0, 40.0, |_| true).unwrap();
        let radius = hit.point.with_x(0.0).length();
        assert!((radius - 19.0).abs() < 0.01, "{radius} at {at}");
        looked += usize::from(bench.queries().first_hit(chart.point(at, 10.0), -out, 0.0, 9.5, |_| true).is_some());
    }
    assert!(looked > 0, "no rib stood there");
}
