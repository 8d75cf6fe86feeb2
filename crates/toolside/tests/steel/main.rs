//! What is made in the steel, held to closed forms of rectangles on a plate, and measured on a barrel.

mod cutters;

use flat::{Region, overlay::without};
use glam::{DVec2, DVec3};
use relief::BuiltMark;
use solid::{Mesh, Part, Surface, boolean::Body};
use std::sync::Arc;
use toolside::{
    Form, Frame, SteelError,
    changes::{Built, Differs, MarkChange, changes},
    electrode, engraved, insert,
};
use trade::{Datum, Job, Lettering, Mark, MeasuredAt, PartRef, Parting, Process, Relief, SeatRef, Sense, Steel, Tool};
use workbench::{Bench, Outcome, Scope, Steps};

const HEIGHT: f64 = 0.3;

fn upright(sense: Sense) -> Relief {
    Relief { sense, height: HEIGHT, draft: 0.0, measured_at: MeasuredAt::Root, ..Relief::default() }
}

fn job(text: &str, face: u32, relief: Relief) -> Job {
    let mark = Mark {
        id: "m".into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 4.0, ..Lettering::default() },
        relief,
        ..Mark::default()
    };
    Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() },
        process: Process { shrinkage: Some(2.0), ..Process::default() },
        marks: vec![mark],
        ..Job::default()
    }
}

/// A plate of 40 × 20 × 8 from the zero, and its top.
fn plate() -> (Bench, u32) {
    facing(&demo::shapes::block(DVec3::ZERO, DVec3::new(40.0, 20.0, 8.0)), DVec3::Z)
}

fn facing(mesh: &Mesh, way: DVec3) -> (Bench, u32) {
    let part = Part::from_mesh(mesh).unwrap();
    let looks = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.distance(way) < 1e-6);
    let face = part.faces.iter().position(|f| looks(&f.surface)).unwrap() as u32;
    (Bench::new(part), face)
}

fn barrel() -> (Bench, u32) {
    let part = Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 40.0, 9.0)).unwrap();
    let face = part.faces.iter().position(|f| f.surface.word() == "cylinder").unwrap() as u32;
    (Bench::new(part), face)
}

fn built(bench: &Bench, job: &Job) -> (Outcome, Arc<BuiltMark>) {
    let outcome = bench.joined(job, Scope::Whole);
    let mark = &outcome.marks[0];
    let built = mark.built.clone().unwrap_or_else(|| panic!("{:?}", mark.problem));
    (outcome, built)
}

/// The outline of all letters.
fn outline(job: &Job) -> Region {
    let set = lettering::drawn(&job.marks[0]).unwrap();
    Region { islands: set.characters.into_iter().flat_map(|c| c.region.islands).collect() }
}

/// Of a mesh what lies over a height, mm³.
fn over(mesh: &Mesh, z: f64) -> f64 {
    let block = Body::block(DVec3::new(-1e3, -1e3, z), DVec3::splat(1e3));
    Body::new(mesh, "it").unwrap().cut_by(&block).0.volume()
}

#[test]
fn coordinates_of_the_steel_are_mirrored_larger_and_begin_at_the_datum() {
    let (bench, face) = plate();
    let mut job = job("I", face, upright(Sense::Raised));
    let at = |job: &Job, steel: &Steel, p: [f64; 3]| {
        Frame::of(job, &bench.part().mesh, steel)
            .unwrap()
            .to_steel(p.into())
            .to_array()
            .map(|c| (c * 1e6).round() / 1e6)
    };
    // worked by hand with 2 %: the fixed half leaves along z, so it is looked at along z
    assert_eq!(at(&job, &Steel::Fixed, [10.0, 5.0, 8.0]), [10.2, -5.1, -8.16]);
    assert_eq!(at(&job, &Steel::Moving, [10.0, 5.0, 8.0]), [10.2, 5.1, 8.16]);
    job.datum = Datum::Corner { right: true, upper: false };
    assert_eq!(at(&job, &Steel::Fixed, [10.0, 5.0, 8.0]), [-30.6, 15.3, -8.16]);
    job.datum = Datum::Centre;
    job.tool.parting = vec![Parting::Plane { height: 3.0 }];
    assert_eq!(at(&job, &Steel::Fixed, [10.0, 5.0, 8.0]), [-10.2, 5.1, -5.1]);
    assert_eq!(at(&job, &Steel::Moving, [10.0, 5.0, 8.0]), [-10.2, -5.1, 5.1]);
    job.datum = Datum::Point { at: [10.0, 5.0, 8.0] };
    let frame = Frame::of(&job, &bench.part().mesh, &Steel::Fixed).unwrap();
    assert_eq!(frame.to_steel(DVec3::new(10.0, 5.0, 8.0)), DVec3::ZERO);
    assert!(frame.to_part(frame.to_steel(DVec3::new(3.0, 2.0, 1.0))).distance(DVec3::new(3.0, 2.0, 1.0)) < 1e-12);
    // read in the steel the lettering runs along x with its tops along −y: mirrored
    assert!((frame.axes.determinant() - 1.0).abs() < 1e-12);
    job.process = Process::default();
    let none = Frame::of(&job, &bench.part().mesh, &Steel::Fixed).unwrap_err();
    assert!(none.to_string().contains("shrinkage"), "{none}");
}

#[test]
fn what_is_cut_and_what_stands_is_as_large_as_the_steel() {
    let (bench, face) = plate();
    for (sense, form) in [(Sense::Raised, Form::Engraving), (Sense::Sunken, Form::StandingForm)] {
        let job = job("I8", face, upright(sense));
        let (_, built) = built(&bench, &job);
        let frame = Frame::of(&job, &bench.part().mesh, &Steel::Fixed).unwrap();
        let all = engraved(&built, &frame).unwrap();
        assert_eq!(all.iter().map(|e| e.form).collect::<Vec<_>>(), [form]);
        // over the seat: its area times its height, by the cube of the shrinkage; the seat lies at −8 × 1.02
        let (low, high) = all[0].mesh.bounds();
        let tip = if sense == Sense::Raised { low.z } else { high.z };
        let deep = if sense == Sense::Raised { -(8.0 + HEIGHT) } else { -(8.0 - HEIGHT) };
        assert!((tip - deep * 1.02).abs() < 1e-9, "{low} {high}");
        let seat = -8.0 * 1.02;
        let past = over(&all[0].mesh, seat);
        let whole = all[0].mesh.volume();
        let own = if sense == Sense::Raised { whole - past } else { past };
        let wanted = outline(&job).area() * HEIGHT * 1.02_f64.powi(3);
        assert!((own / wanted - 1.0).abs() < 1e-6, "{own} for {wanted}");
        assert!((all[0].height.unwrap() - HEIGHT * 1.02).abs() < 1e-12);
    }
}

/// Letters of 0.3 on a pad of 0.5, by hand: of one sense they reach 0.8 from the seat; raised on a recessed pad they are cut
/// 0.3 into what stands 0.5 tall.
#[test]
fn on_a_pad_each_form_is_as_high_as_it_is_cut_or_stands() {
    let (bench, face) = plate();
    let heights = |sense, form, through: bool| {
        let pad = (!through).then_some(trade::Pad { form, height: 0.5, draft: 0.0, clears: 0.0 });
        let job = job("I", face, Relief { pad, through, ..upright(sense) });
        let (_, built) = built(&bench, &job);
        let frame = Frame::of(&job, &bench.part().mesh, &Steel::Fixed).unwrap();
        let all = engraved(&built, &frame).unwrap();
        all.iter().map(|e| (e.form, e.height.map(|h| (h / 1.02 * 1e6).round() / 1e6))).collect::<Vec<_>>()
    };
    use trade::PadForm::{Raised, Recessed};
    let (cut, stands) = (Form::Engraving, Form::StandingForm);
    assert_eq!(heights(Sense::Raised, Raised, false), [(cut, Some(0.8))]);
    assert_eq!(heights(Sense::Sunken, Recessed, false), [(stands, Some(0.8))]);
    assert_eq!(heights(Sense::Raised, Recessed, false), [(cut, Some(0.3)), (stands, Some(0.5))]);
    assert_eq!(heights(Sense::Sunken, Raised, false), [(cut, Some(0.5)), (stands, Some(0.3))]);
    assert_eq!(heights(Sense::Sunken, Raised, true), [(stands, None)]);
}

#[test]
fn an_electrode_is_the_lettering_less_the_gap_on_every_side() {
    let (bench, face) = plate();
    let gap = 0.08;
    let job = job("I", face, upright(Sense::Raised));
    let (_, built) = built(&bench, &job);
    let made = electrode(&built, bench.queries(), [gap, 10.0, 2.0], 1.0).unwrap();
    // the face's I is a rectangle
    let (low, high) = outline(&job).bounds().unwrap();
    let size = high - low;
    assert!((outline(&job).area() - size.x * size.y).abs() < 1e-9);
    let wanted = (size.x - 2.0 * gap) * (size.y - 2.0 * gap) * (HEIGHT - gap);
    assert!((over(&made.mesh, 8.0) - wanted).abs() < 1e-5, "{} for {wanted}", over(&made.mesh, 8.0));
    assert!(made.gap.iter().all(|g| (g - gap).abs() < 1e-6), "{:?}", made.gap);
    assert!((made.block - DVec3::new(size.x - 2.0 * gap + 4.0, size.y - 2.0 * gap + 4.0, 10.0)).length() < 1e-3);
    assert!(made.by_the_pull && made.along == DVec3::Z);
    // the block stays a millimetre off the steel
    let (_, top) = made.mesh.bounds();
    assert!((top.z - (8.0 + HEIGHT - gap)).abs() < 1e-9);
    assert!(
        (over(&made.mesh, 7.2) / ((size.x - 2.0 * gap) * (size.y - 2.0 * gap)) - (0.8 + HEIGHT - gap)).abs() < 1e-4
    );
    // in steel that is twice the size the same gap is half of it on the part
    let larger = electrode(&built, bench.queries(), [gap, 10.0, 2.0], 2.0).unwrap();
    let wanted = (size.x - gap) * (size.y - gap) * (HEIGHT - gap / 2.0);
    assert!((over(&larger.mesh, 8.0) - wanted).abs() < 1e-5);
    assert!(larger.gap.iter().all(|g| (g - gap).abs() < 1e-6), "{:?}", larger.gap);
}

#[test]
fn the_gap_is_the_same_all_round_whatever_the_draft_and_the_seat() {
    let gap = 0.06;
    for (name, (bench, face), text) in
        [("plate", plate(), "I"), ("plate", plate(), "R8"), ("barrel", barrel(), "I"), ("barrel", barrel(), "R8")]
    {
        for measured_at in [MeasuredAt::Top, MeasuredAt::Root] {
            // round the barrel the letters lean by 13° to either side
            let relief = Relief { draft: 15.0, measured_at, ..upright(Sense::Raised) };
            let job = job(text, face, relief);
            let (_, built) = built(&bench, &job);
            let made =
                electrode(&built, bench.queries(), [gap, 6.0, 1.0], 1.02).unwrap_or_else(|e| panic!("{name}: {e}"));
            let [least, greatest] = made.gap;
            // a rectangle has no inner corners; in those of an R it is up to √2 times as wide, and more where they are sharper
            // at its top a barrel is 0.3 of 9 mm wider than on its strip: 3 % of what the draft moves, 0.08
            let widest = if text == "I" { gap + 0.003 } else { 2.0 * gap };
            assert!(least > gap - 0.002 && greatest < widest, "{name} {text} {measured_at:?}: {least} {greatest}");
            assert_eq!(Body::new(&made.mesh, "it").unwrap().pieces(), 1);
        }
    }
}

/// Walls along the pull lean on a seat that lies aslant: here by 30°. The gap stays, square to them.
#[test]
fn on_a_slope_walls_along_the_pull_keep_the_gap_too() {
    let slope = 30.0_f64.to_radians().tan() * 20.0;
    let v = DVec3::new;
    let side = [v(0.0, 0.0, 0.0), v(20.0, 0.0, 0.0), v(20.0, 0.0, 6.0 + slope), v(0.0, 0.0, 6.0)];
    let mesh = demo::shapes::prism(&side, DVec3::Y * 40.0);
    let mesh = if mesh.volume() < 0.0 {
        demo::shapes::prism(&side.map(|p| p + DVec3::Y * 40.0), DVec3::Y * -40.0)
    } else {
        mesh
    };
    let (bench, face) = facing(&mesh, DVec3::new(-0.5, 0.0, 0.75_f64.sqrt()));
    for (draft, measured_at) in [(0.0, MeasuredAt::Root), (0.0, MeasuredAt::Top), (5.0, MeasuredAt::Top)] {
        let relief = Relief { draft, measured_at, walls: trade::Walls::Pull, ..upright(Sense::Raised) };
        let job = job("I", face, relief);
        let (_, built) = built(&bench, &job);
        let made = electrode(&built, bench.queries(), [0.06, 6.0, 1.0], 1.0).unwrap();
        // draft is to the pull: to the seat it is another one on each side
        let off = if draft == 0.0 { 1e-6 } else { 0.006 };
        assert!(made.gap.iter().all(|g| (g - 0.06).abs() < off), "{draft} {measured_at:?}: {:?}", made.gap);
        assert!(made.by_the_pull);
    }
}

fn no<T>(made: Result<T, SteelError>) -> String {
    made.err().expect("it is refused").to_string()
}

#[test]
fn what_no_electrode_can_sink_is_refused_with_the_reason() {
    let (bench, face) = plate();
    let tried = |bench: &Bench, job: &Job, gap: f64| {
        let (_, built) = built(bench, job);
        electrode(&built, bench.queries(), [gap, 6.0, 1.0], 1.0)
    };
    let raised = |text: &str| job(text, face, upright(Sense::Raised));
    assert!(no(tried(&bench, &job("I", face, upright(Sense::Sunken)), 0.05)).contains("not raised"));
    assert!(no(tried(&bench, &raised("I"), 0.295)).contains("height"));
    assert!(
        no(tried(&bench, &job("8", face, Relief { height: 2.0, ..upright(Sense::Raised) }), 0.5)).contains("thinner")
    );
    // round half of a barrel walls that are square to it lean over, whichever way
    let (bench, face) = barrel();
    let mut round = job("HHHH", face, upright(Sense::Raised));
    round.marks[0].place.turn = 90.0;
    assert!(no(tried(&bench, &round, 0.05)).contains("lean over"));
}

#[test]
fn an_insert_is_its_block_less_the_part() {
    let (bench, face) = plate();
    for sense in [Sense::Raised, Sense::Sunken] {
        let job = job("I", face, upright(sense));
        let (outcome, built) = built(&bench, &job);
        let marked = outcome.whole().unwrap();
        let made = insert(&built, bench.queries(), marked, [1.5, 12.0, 0.02], 1.0).unwrap();
        let (low, high) = outline(&job).bounds().unwrap();
        let size = high - low + 3.0;
        let letters = outline(&job).area() * HEIGHT;
        let (tall, letters) = if sense == Sense::Raised { (12.0 + HEIGHT, -letters) } else { (12.0, letters) };
        let wanted = size.x * size.y * tall + letters;
        assert!((made.mesh.volume() - wanted).abs() < 1e-4, "{sense:?}: {} for {wanted}", made.mesh.volume());
        let pocket = (size.x + 0.04) * (size.y + 0.04) * made.size.z;
        assert!((made.pocket.volume() - pocket).abs() < 1e-6);
        assert!((made.size.truncate() - size).length() < 1e-6 && made.along == DVec3::Z);
        let past = insert(&built, bench.queries(), marked, [15.0, 12.0, 0.02], 1.0);
        assert!(no(past).contains("past the edge"));
    }
}

#[test]
fn under_a_thin_wall_the_hollow_is_not_taken_for_steel() {
    // a cup with a bottom of 0.4, marked from below
    let v = DVec2::new;
    let profile = [v(0.0, 0.0), v(16.0, 0.0), v(16.0, 10.0), v(15.0, 10.0), v(15.0, 0.4), v(0.0, 0.4)];
    let (bench, face) = facing(&demo::shapes::turned(&profile), -DVec3::Z);
    let mut job = job("I", face, Relief { height: 0.2, ..upright(Sense::Raised) });
    job.tool.pull = Some([0.0, 0.0, -1.0]);
    let (outcome, built) = built(&bench, &job);
    let made = insert(&built, bench.queries(), outcome.whole().unwrap(), [1.0, 5.0, 0.0], 1.0).unwrap();
    let (low, high) = outline(&job).bounds().unwrap();
    let size = high - low + 2.0;
    let wanted = size.x * size.y * 5.2 - outline(&job).area() * 0.2;
    assert!((made.mesh.volume() - wanted).abs() < 1e-4, "{} for {wanted}", made.mesh.volume());
}

fn changed(bench: &Bench, before: &Job, after: &Job, scale: f64) -> MarkChange {
    let (was, is) = (bench.joined(before, Scope::NearMarks), bench.joined(after, Scope::NearMarks));
    let of = |job, outcome| Built { job, outcome, part: bench.part() };
    changes(of(before, &was), of(after, &is), scale).unwrap().remove(0)
}

#[test]
fn steel_comes_off_where_raised_letters_grow_and_is_put_on_where_they_shrink() {
    let (bench, face) = plate();
    let of = |sense, height| job("I", face, Relief { height, ..upright(sense) });
    let area = outline(&of(Sense::Raised, 0.3)).area();
    let tried = |sense, before, after| {
        let change = changed(&bench, &of(sense, before), &of(sense, after), 1.0);
        assert_eq!(change.differs, [Differs::Relief]);
        assert_eq!(change.letters, [["I"], ["I"]].map(|l| l.map(String::from).to_vec()));
        let near = |v: f64, wanted: f64| (v - wanted).abs() < 1e-4;
        let (off, on) = (change.off, change.on);
        let plan = |v: f64| v > 0.0;
        assert!(near(off.area, if plan(off.volume) { area } else { 0.0 }), "{} {}", off.area, on.area);
        assert!(near(on.area, if plan(on.volume) { area } else { 0.0 }), "{} {}", off.area, on.area);
        [off.volume, on.volume].map(|v| (v / area * 1e4).round() / 1e4)
    };
    assert_eq!(tried(Sense::Raised, 0.3, 0.4), [0.1, 0.0]);
    assert_eq!(tried(Sense::Raised, 0.4, 0.3), [0.0, 0.1]);
    assert_eq!(tried(Sense::Sunken, 0.3, 0.4), [0.0, 0.1]);
    assert_eq!(tried(Sense::Sunken, 0.4, 0.3), [0.1, 0.0]);
}

#[test]
fn of_another_letter_only_what_lies_beside_the_old_one_changes() {
    let (bench, face) = plate();
    let [before, after] = ["12D", "12E"].map(|text| {
        let mut job = job(text, face, upright(Sense::Raised));
        // tied by its left edge, so that what stays does not move
        job.marks[0].place.along = trade::Tie::FromStart { distance: 5.0 };
        job
    });
    let change = changed(&bench, &before, &after, 1.0);
    assert!(change.differs.contains(&Differs::Text), "{:?}", change.differs);
    assert_eq!(change.letters, [["D"], ["E"]].map(|l| l.map(String::from).to_vec()));
    let letter = |job: &Job| {
        let (_, built) = built(&bench, job);
        built.placed.characters[2].region.clone()
    };
    let (d, e) = (letter(&before), letter(&after));
    let near = |v: f64, wanted: f64| (v - wanted).abs() < 2e-3 * wanted;
    assert!(near(change.on.volume, without(&d, &e).area() * HEIGHT), "{}", change.says);
    assert!(near(change.off.volume, without(&e, &d).area() * HEIGHT), "{}", change.says);
    let [wide, tall] = change.insert.unwrap();
    assert!((4.0..7.0).contains(&wide) && (tall - 6.0).abs() < 0.51, "{wide} × {tall}");
    assert!(change.says.contains("“D” → “E”: steel must be put on."), "{}", change.says);
    // nothing changes of what is the same, and all of what is gone
    let same = changed(&bench, &before, &before.clone(), 1.0);
    assert!(same.differs.is_empty() && same.off.volume == 0.0 && same.on.volume == 0.0, "{}", same.says);
    let mut none = before.clone();
    none.marks.clear();
    let gone = changed(&bench, &before, &none, 1.02);
    assert_eq!(gone.differs, [Differs::Removed]);
    let wanted = outline(&before).area() * HEIGHT * 1.02_f64.powi(3);
    assert!((gone.on.volume - wanted).abs() < 1e-3 * wanted && gone.off.volume == 0.0, "{}", gone.says);
    let new = changed(&bench, &none, &before, 1.02);
    assert!((new.off.volume - wanted).abs() < 1e-3 * wanted && new.on.volume == 0.0, "{}", new.says);
    assert!(new.says.contains("Nothing is to be welded"), "{}", new.says);
}
