//! Marked solids against mesh libraries.

use super::{
    grounds::{Ground, barrel, ellipse, grounds, waved},
    python::{as_json, base64, python},
};
use demo::{Dice, shapes::cylinder};
use glam::DVec3;
use inspection::{Check, State};
use rayon::prelude::*;
use relief::{Role, Tag};
use serde_json::{Value, json};
use solid::{Part, Surface, cut, formats::stl};
use trade::{Lettering, Mark, MeasuredAt, Place, Relief, SeatRef, Sense, Tie, Tool};
use workbench::{Bench, Scope, Steps};

const MESHES: &str = r#"
import json, sys
import numpy, trimesh, manifold3d
given = json.load(sys.stdin)

def solid(m):
    return manifold3d.Manifold(manifold3d.Mesh64(
        numpy.array(m["vertices"], dtype=numpy.float64), numpy.array(m["triangles"], dtype=numpy.uint64)))

marked = trimesh.Trimesh(given["marked"]["vertices"], given["marked"]["triangles"], process=False)
joined = solid(given["part"])
for sense, body in given["bodies"]:
    joined = joined + solid(body) if sense == "raised" else joined - solid(body)
print(json.dumps({
    "watertight": bool(marked.is_watertight and marked.is_winding_consistent),
    "volume": float(marked.volume),
    "joined": float(joined.volume()),
    "areas": [float(solid(given["marked"]).slice(h).area()) for h in given["heights"]],
}))
"#;

/// Where the demo's marked solids are cut, mm: through marks and elsewhere.
const HEIGHTS: [[f64; 4]; 8] = [
    [-2.1, 3.2, 9.7, 15.15],
    [4.0, 11.9, 12.2, 12.45],
    [1.5, 3.1, 10.0, 17.5],
    [0.1, 4.0, 12.0, 27.0],
    [-3.0, 3.7, 6.9, 7.1],
    [2.5, 5.1, 15.0, 33.0],
    [5.0, 19.9, 30.0, 35.8],
    [1.5, 12.0, 19.3, 36.0],
];

#[test]
fn volume_and_sections_of_the_marked_solids_agree_with_other_mesh_libraries() {
    for (demo, heights) in demo::jobs().into_iter().zip(HEIGHTS) {
        let part = demo.read();
        let bench = Bench::new(part);
        let outcome = bench.outcome(&demo.job, Scope::Whole);
        let marked = &outcome.groups[0].solid.mesh;
        let built = || outcome.marks.iter().filter_map(|m| m.built.as_ref());
        // plates first: letters stand on them
        let plates = built().filter_map(|b| Some((b, b.pad.as_ref()?)));
        let letters = built().flat_map(|b| b.bodies.iter().map(move |body| (b, body)));
        let bodies: Vec<Value> = plates
            .chain(letters)
            .map(|(b, body)| (b.relief(body.character).sense, body))
            .filter(|(sense, _)| sense.has_relief())
            .map(|(sense, body)| json!([sense, as_json(&body.mesh)]))
            .collect();
        let given = json!({"marked": as_json(marked), "part": as_json(&bench.part().mesh), "bodies": bodies, "heights": heights});
        let told = python(MESHES, &given);
        assert_eq!(told["watertight"], true);
        let ours = marked.volume();
        for key in ["volume", "joined"] {
            let theirs = told[key].as_f64().unwrap();
            assert!((ours / theirs - 1.0).abs() < 1e-9, "{key}: {ours} {theirs}");
        }
        for (height, theirs) in heights.iter().zip(told["areas"].as_array().unwrap()) {
            let (ours, theirs) = (cut::section_area(marked, DVec3::Z, *height), theirs.as_f64().unwrap());
            assert!((ours - theirs).abs() < 1e-4 * theirs, "area at {height}: {ours} {theirs}");
        }
    }
}

/// The height of lettering all over its top or floor, by 20,000 points of the file that is handed off and the
/// formulas of the surfaces.
#[test]
fn heights_on_the_written_file_are_even_on_every_kind_of_seat() {
    for ground in grounds() {
        let kind = ground.kind;
        let part = Part::from_mesh(&ground.mesh).unwrap();
        let seat = ground.seat(&part);
        let bench = Bench::new(part);
        for (sense, held) in [(Sense::Raised, MeasuredAt::Top), (Sense::Sunken, MeasuredAt::Root)] {
            // not every letter can be sunk over a sharp crease
            let text = if kind == "crease" { "H6-4E" } else { "R8-B4" };
            let mut mark = Mark { text: text.into(), seat: seat.clone(), ..Mark::default() };
            mark.lettering = Lettering { face: "overpass".into(), cap_height: 4.0, ..Lettering::default() };
            mark.relief = Relief { sense, measured_at: held, height: 0.4, draft: 3.0, ..Relief::default() };
            if kind == "freeform" {
                mark.place.along = Tie::FromStart { distance: 16.0 };
            }
            let found = even(&ground, &bench, mark).unwrap_or_else(|problem| panic!("{kind} {sense:?}: {problem}"));
            println!("{kind} {sense:?}: {found:?}");
            let within = if kind == "freeform" { 0.01 } else { 0.003 };
            assert!(found.off() < within, "{kind} {sense:?}: {found:?}");
            // all of the lettering was looked at; over a crease floors are shorter
            let least_share = if kind == "crease" { 0.7 } else { 0.85 };
            assert!((least_share..1.15).contains(&found.share), "{kind} {sense:?}: {found:?}");
        }
    }
}

/// The same of thrown marks anywhere on turned, drawn and freeform faces of thrown sizes.
#[test]
#[ignore = "slow: about three minutes"]
fn heights_on_the_written_files_of_two_hundred_jobs_are_even() {
    const JOBS: u64 = 220;
    let looked_at: Vec<(&str, Result<f64, String>)> = (0..JOBS)
        .into_par_iter()
        .map(|seed| {
            let mut dice = Dice(4001 + 7919 * seed);
            let d = &mut dice;
            let ground = match seed % 4 {
                0 => barrel(d.between(10.0, 30.0), d.between(40.0, 200.0), d.between(25.0, 35.0)),
                1 => ellipse(d.between(22.0, 35.0), d.between(8.0, 18.0)),
                2 => waved(d.between(0.5, 1.8), d.between(5.0, 12.0), d.between(5.0, 12.0)),
                _ => grounds().pop().unwrap(),
            };
            let part = Part::from_mesh(&ground.mesh).unwrap();
            let seat = ground.seat(&part);
            let bench = Bench::new(part);
            let sense = d.one(&[Sense::Raised, Sense::Sunken]);
            let text = d.one(&["R8-B4", "7A", "MK", "S&Q", "40%", "E-16"]);
            let mut mark = Mark { text: text.into(), seat, ..Mark::default() };
            let face = d.one(&["overpass", "barlow", "osifont", "b612-mono"]);
            mark.lettering = Lettering { face: face.into(), cap_height: d.between(2.0, 4.0), ..Lettering::default() };
            let height = d.between(0.15, 0.5);
            mark.relief = Relief { sense, height, draft: d.between(0.5, 4.0), ..Relief::default() };
            let (along, up) = (d.between(7.0, 16.0), d.between(4.0, 9.0));
            mark.place = Place {
                // a barrel has no edge along
                along: match ground.kind {
                    "barrel" => Tie::At { position: along },
                    _ => Tie::FromStart { distance: along },
                },
                up: Tie::FromStart { distance: up },
                turn: d.between(-180.0, 180.0),
                ..Place::default()
            };
            let told = even(&ground, &bench, mark.clone()).and_then(|found| {
                let all = (0.8..1.2).contains(&found.share);
                if all { Ok(found.off()) } else { Err(format!("{found:?}")) }
            });
            let within = if matches!(ground.kind, "freeform" | "waved") { 0.01 } else { 0.003 };
            if told.as_ref().is_ok_and(|off| *off > within) {
                println!("{seed} {} {:?}: {told:?}", ground.kind, mark.relief);
            }
            (ground.kind, told)
        })
        .collect();
    let mut even = 0;
    for (kind, within) in [("barrel", 0.003), ("ellipse", 0.003), ("waved", 0.01), ("freeform", 0.01)] {
        let of_kind = || looked_at.iter().filter(|(k, _)| *k == kind).map(|(_, told)| told);
        for problem in of_kind().filter_map(|told| told.as_ref().err()) {
            println!("{kind}, not looked at: {problem}");
        }
        let off: Vec<f64> = of_kind().filter_map(|told| told.as_ref().ok().copied()).collect();
        println!("{kind}: {} jobs, off by {:.4} at most", off.len(), off.iter().copied().fold(0.0, f64::max));
        assert!(off.iter().all(|off| *off < within), "{kind}");
        even += off.len();
    }
    assert!(even >= 200, "{even}");
}

/// What the outside program tells of the heights of one job.
#[derive(Debug)]
struct Even {
    nominal: f64,
    least: f64,
    greatest: f64,
    /// Area of tops and floors as a share of that of the outlines.
    share: f64,
}

impl Even {
    fn off(&self) -> f64 {
        (self.greatest - self.nominal).max(self.nominal - self.least)
    }
}

/// Heights all over the mark's tops or floors on the written file; why it is not built, or not whole.
fn even(ground: &Ground, bench: &Bench, mark: Mark) -> Result<Even, String> {
    let nominal = mark.relief.height;
    let mut job = demo::jobs().remove(1).job;
    job.tool = Tool { pull: Some(ground.pull.to_array()), ..Tool::default() };
    job.marks = vec![Mark { id: "m".into(), ..mark }];
    let outcome = bench.outcome(&job, Scope::Whole);
    let mark = &outcome.marks[0];
    let Some(built) = &mark.built else { return Err(mark.problem.clone().unwrap_or_default()) };
    let whole = mark.findings.iter().find(|f| f.check == Check::Complete).unwrap();
    if whole.state != State::Passes {
        return Err(whole.sentence.clone());
    }
    let (low, high) = built.bounds();
    let mut given = ground.formula.clone();
    given["nominal"] = nominal.into();
    given["near"] = json!([low.to_array(), high.to_array()]);
    given["stl"] = base64(&stl::write(&outcome.whole().unwrap().mesh)).into();
    let script = [include_str!("above.py"), include_str!("heights.py")].concat();
    let told = python(&script, &given);
    let figure = |name: &str| told[name].as_f64().unwrap();
    let ink: f64 = built.placed.characters.iter().map(|c| c.region.area()).sum();
    let (least, greatest) = (figure("least"), figure("greatest"));
    Ok(Even { nominal, least, greatest, share: figure("area") / ink })
}

/// What a flat-floored cut pushed straight in would do on R = 20 with 3.0 at the crown, by its formula, and what
/// is built instead.
#[test]
fn lettering_keeps_its_depth_where_a_straight_cut_would_lose_it() {
    // depth = R − (R − d) / cos θ with sin θ = x / R (worked figures: 2.44, 1.45 and 0.37)
    let straight = |x: f64| {
        let cos = (1.0 - (x / 20.0_f64).powi(2)).sqrt();
        20.0 - 17.0 / cos
    };
    for (x, figure) in [(5.0, 2.44), (8.0, 1.45), (10.0, 0.37)] {
        assert!((straight(x) - figure).abs() < 0.005, "{} {figure}", straight(x));
    }
    let part = Part::from_mesh(&cylinder(DVec3::ZERO, DVec3::X * 60.0, 20.0)).unwrap();
    let round = part.faces.iter().position(|f| matches!(f.surface, Surface::Cylinder { .. })).unwrap() as u32;
    let bench = Bench::new(part);
    let mut job = demo::jobs().remove(1).job;
    job.tool = Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() };
    let mark = &mut job.marks[0];
    // a text that reaches 10.5 off the crown on both sides
    (mark.text, mark.seat) = ("III".into(), SeatRef::on(round));
    mark.place = Place { turn: 90.0, ..Place::default() };
    mark.lettering = Lettering { face: "overpass".into(), cap_height: 12.0, spacing: 6.0, ..Lettering::default() };
    mark.relief =
        Relief { sense: Sense::Sunken, measured_at: MeasuredAt::Root, height: 3.0, draft: 1.0, ..Relief::default() };
    let outcome = bench.outcome(&job, Scope::Whole);
    let solid = outcome.whole().unwrap();
    let floor = (0..solid.tags.len())
        .filter(|&t| matches!(solid.tags[t], Tag::Relief { role: Role::Floor, .. }))
        .flat_map(|t| solid.mesh.corners(t));
    let (mut far, mut least, mut most) = (0.0_f64, f64::MAX, 0.0_f64);
    for p in floor {
        let depth = 20.0 - p.y.hypot(p.z);
        far = far.max(p.y.abs() * 20.0 / 17.0);
        (least, most) = (least.min(depth), most.max(depth));
    }
    assert!(far > 8.0 && straight(far) < 1.5, "{far}");
    assert!((least - 3.0).abs() < 0.003 && (most - 3.0).abs() < 0.003, "{least} {most}");
}
