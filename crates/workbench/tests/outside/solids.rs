//! Marked solids against mesh libraries.

use super::{
    grounds::grounds,
    python::{as_json, base64, python},
};
use demo::shapes::cylinder;
use glam::DVec3;
use relief::{Role, Tag};
use serde_json::{Value, json};
use solid::{Part, Surface, cut, formats::stl};
use trade::{Lettering, MeasuredAt, Place, Relief, SeatRef, Sense, Tie, Tool};
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
    let script = [include_str!("above.py"), include_str!("heights.py")].concat();
    for ground in grounds() {
        let kind = ground.kind;
        let part = Part::from_mesh(&ground.mesh).unwrap();
        let seat = ground.seat(&part);
        let bench = Bench::new(part);
        for (sense, held) in [(Sense::Raised, MeasuredAt::Top), (Sense::Sunken, MeasuredAt::Root)] {
            let mut job = demo::jobs().remove(1).job;
            job.tool = Tool { pull: Some(ground.pull.to_array()), ..Tool::default() };
            let mark = &mut job.marks[0];
            // not every letter can be sunk over a sharp crease
            mark.text = if kind == "crease" { "H6-4E" } else { "R8-B4" }.into();
            mark.seat = seat.clone();
            mark.lettering = Lettering { face: "overpass".into(), cap_height: 4.0, ..Lettering::default() };
            mark.relief = Relief { sense, measured_at: held, height: 0.4, draft: 3.0, ..Relief::default() };
            if kind == "freeform" {
                mark.place.along = Tie::FromStart { distance: 16.0 };
            }
            let outcome = bench.outcome(&job, Scope::Whole);
            assert_eq!(outcome.marks[0].problem, None, "{kind} {sense:?}");
            let built = outcome.marks[0].built.as_ref().unwrap();
            let (low, high) = built.bounds();
            let mut given = ground.formula.clone();
            given["nominal"] = 0.4.into();
            given["near"] = json!([low.to_array(), high.to_array()]);
            given["stl"] = base64(&stl::write(&outcome.whole().unwrap().mesh)).into();
            let told = python(&script, &given);
            println!("{kind} {sense:?}: {told}");
            let (least, greatest) = (told["least"].as_f64().unwrap(), told["greatest"].as_f64().unwrap());
            let within = if kind == "freeform" { 0.01 } else { 0.003 };
            assert!(least > 0.4 - within && greatest < 0.4 + within, "{kind} {sense:?}: {told}");
            // all of the lettering was looked at
            let ink: f64 = built.placed.characters.iter().map(|c| c.region.area()).sum();
            let area = told["area"].as_f64().unwrap();
            // over a crease floors are shorter
            let least_share = if kind == "crease" { 0.7 } else { 0.85 };
            assert!(area > least_share * ink && area < 1.15 * ink, "{kind} {sense:?}: {area} of {ink}");
        }
    }
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
