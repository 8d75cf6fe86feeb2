//! Marked solids against mesh libraries.

use super::python::{as_json, base64, python};
use demo::shapes::{arc, cylinder, turned};
use glam::{DVec2, DVec3};
use relief::{Role, Tag};
use serde_json::{Value, json};
use solid::{Mesh, Part, Surface, cut, formats::stl};
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

const HEIGHTS_ON_FILE: &str = r#"
import json, sys, io, base64
import numpy, trimesh, igl
given = json.load(sys.stdin)
mesh = trimesh.load(io.BytesIO(base64.b64decode(given["stl"])), file_type="stl")
kind, nominal = given["kind"], given["nominal"]

def above(points):
    """How far outward points lie from the seat, from its formula."""
    if kind == "plane":
        return points[:, 2] - given["level"]
    if kind == "cylinder":
        return numpy.hypot(points[:, 1], points[:, 2]) - given["radius"]
    if kind == "sphere":
        return numpy.linalg.norm(points, axis=1) - given["radius"]
    if kind == "torus":
        out = numpy.hypot(points[:, 0], points[:, 1]) - given["major"]
        return numpy.hypot(out, points[:, 2]) - given["minor"]
    if kind == "cone":  # radius falls from `foot` at z = 0 to `top` at z = `tall`
        slope = numpy.array([given["tall"], given["foot"] - given["top"]])
        slope = slope / numpy.linalg.norm(slope)
        radial = numpy.hypot(points[:, 0], points[:, 1])
        return (radial - given["foot"]) * slope[0] + points[:, 2] * slope[1]
    v, f = numpy.array(given["vertices"]), numpy.array(given["triangles"], dtype=numpy.int64)
    return numpy.sqrt(igl.point_mesh_squared_distance(numpy.ascontiguousarray(points), v, f)[0])

# tops and floors are what runs level and is not the part's own surface, however high it stands
step = 1e-4
middles, normals = mesh.triangles_center, mesh.face_normals
level = abs(above(middles + normals * step) - above(middles)) > 0.999 * step
flat = level & (numpy.abs(above(middles)) > 0.25 * abs(nominal))
if given.get("near"):
    low, high = numpy.array(given["near"])
    flat &= numpy.all((middles > low) & (middles < high), axis=1)
chosen = numpy.flatnonzero(flat)
weight = mesh.area_faces[chosen]
random = numpy.random.default_rng(7)
picked = mesh.triangles[random.choice(chosen, 20000, p=weight / weight.sum())]
shares = random.dirichlet([1, 1, 1], 20000)
heights = numpy.abs(above(numpy.einsum("ij,ijk->ik", shares, picked)))
print(json.dumps({"area": float(weight.sum()), "least": float(heights.min()), "greatest": float(heights.max())}))
"#;

/// A seat's name, its part, the pull, its formula, and which face it is.
type Ground = (&'static str, Mesh, DVec3, Value, fn(&Surface) -> bool);

/// The height of lettering all over its top or floor, by 20,000 points of the file that is handed off and the
/// formulas of the surfaces.
#[test]
fn heights_on_the_written_file_are_even_on_every_kind_of_seat() {
    let of = |points: &[(f64, f64)]| points.iter().map(|&(r, z)| DVec2::new(r, z)).collect::<Vec<_>>();
    let dome: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(DVec2::ZERO, 25.0, 0.0, 90.0)).collect();
    let mut ring = arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0);
    ring.pop();
    let lever = demo::parts::shut_off_lever();
    let cone = of(&[(0.0, 0.0), (12.0, 0.0), (6.0, 20.0), (0.0, 20.0)]);
    let on: [Ground; 6] = [
        (
            "plane",
            demo::parts::plain_block(),
            DVec3::Z,
            json!({"level": 12.0}),
            |s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.999),
        ),
        ("cylinder", cylinder(DVec3::ZERO, DVec3::X * 50.0, 20.0), DVec3::Z, json!({"radius": 20.0}), |s| {
            matches!(s, Surface::Cylinder { .. })
        }),
        ("cone", turned(&cone), DVec3::NEG_Y, json!({"foot": 12.0, "top": 6.0, "tall": 20.0}), |s| {
            matches!(s, Surface::Cone { .. })
        }),
        ("sphere", turned(&dome), DVec3::Z, json!({"radius": 25.0}), |s| matches!(s, Surface::Sphere { .. })),
        ("torus", turned(&ring), DVec3::Z, json!({"major": 24.0, "minor": 8.0}), |s| {
            matches!(s, Surface::Torus { .. })
        }),
        (
            "freeform",
            lever.clone(),
            DVec3::Z,
            json!({"vertices": lever.vertices.iter().map(|v| v.to_array()).collect::<Vec<_>>(), "triangles": lever.triangles}),
            |s| matches!(s, Surface::Freeform),
        ),
    ];
    for (kind, mesh, pull, formula, wanted) in on {
        let part = Part::from_mesh(&mesh).unwrap();
        let faces = (0..part.faces.len()).filter(|&f| wanted(&part.faces[f].surface));
        let face = faces.max_by(|&a, &b| part.faces[a].area.total_cmp(&part.faces[b].area)).unwrap() as u32;
        let bench = Bench::new(part);
        for (sense, held) in [(Sense::Raised, MeasuredAt::Top), (Sense::Sunken, MeasuredAt::Root)] {
            let mut job = demo::jobs().remove(1).job;
            job.tool = Tool { pull: Some(pull.to_array()), ..Tool::default() };
            let mark = &mut job.marks[0];
            mark.text = "R8-B4".into();
            mark.seat = SeatRef::on(face);
            mark.lettering = Lettering { face: "overpass".into(), cap_height: 4.0, ..Lettering::default() };
            mark.relief = Relief { sense, measured_at: held, height: 0.4, draft: 3.0, ..Relief::default() };
            if kind == "freeform" {
                mark.place.along = Tie::FromStart { distance: 16.0 };
            }
            let outcome = bench.outcome(&job, Scope::Whole);
            let built = outcome.marks[0].built.as_ref().unwrap();
            let (low, high) = built.bounds();
            let mut given = formula.clone();
            given["kind"] = kind.into();
            given["nominal"] = 0.4.into();
            given["near"] = json!([low.to_array(), high.to_array()]);
            given["stl"] = base64(&stl::write(&outcome.whole().unwrap().mesh)).into();
            let told = python(HEIGHTS_ON_FILE, &given);
            println!("{kind} {sense:?}: {told}");
            let (least, greatest) = (told["least"].as_f64().unwrap(), told["greatest"].as_f64().unwrap());
            let within = if kind == "freeform" { 0.01 } else { 0.003 };
            assert!(least > 0.4 - within && greatest < 0.4 + within, "{kind} {sense:?}: {told}");
            // all of the lettering was looked at
            let ink: f64 = built.placed.characters.iter().map(|c| c.region.area()).sum();
            let area = told["area"].as_f64().unwrap();
            assert!(area > 0.85 * ink && area < 1.15 * ink, "{kind} {sense:?}: {area} of {ink}");
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
