//! Results against libraries that are not ours: volumes and section areas by trimesh and manifold3d, heights on
//! the written file by numpy and trimesh, strips of freeform faces by libigl, outlines by fontTools, dates by datetime,
//! spreadsheets by openpyxl, drawings by ezdxf (all from Python and PyPI, under free licences).

use demo::shapes::{arc, cylinder, turned};
use glam::{DVec2, DVec3};
use relief::{Role, Seat, Tag};
use serde_json::{Value, json};
use solid::{Mesh, Part, Surface, cut, formats::stl};
use std::{
    io::Write,
    path::PathBuf,
    process::{Command, Stdio},
};
use trade::{Held, Lettering, Place, Relief, SeatRef, Sense, Tie, Tool};
use workbench::{Bench, Scope, Steps};

/// What a Python script prints as JSON, given `input` as JSON.
fn python(script: &str, input: &Value) -> Value {
    let kept = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/python/bin/python"));
    let program = std::env::var_os("TINBADGE_PYTHON").map_or(kept, PathBuf::from);
    let mut child = Command::new(&program)
        .args(["-c", script])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap_or_else(|e| panic!("{}: {e}; ./tinbadge test installs what is compared with", program.display()));
    child.stdin.take().unwrap().write_all(input.to_string().as_bytes()).unwrap();
    let output = child.wait_with_output().unwrap();
    assert!(output.status.success());
    serde_json::from_slice(&output.stdout).unwrap()
}

fn as_json(mesh: &Mesh) -> Value {
    json!({"vertices": mesh.vertices.iter().map(|v| v.to_array()).collect::<Vec<_>>(), "triangles": mesh.triangles})
}

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
        let plates = built().filter_map(|b| Some((b, b.plate.as_ref()?)));
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

# lands and floors are what runs level at the far side of half the height
step = 1e-4
middles, normals = mesh.triangles_center, mesh.face_normals
level = abs(above(middles + normals * step) - above(middles)) > 0.999 * step
corners = [numpy.abs(above(mesh.triangles[:, k])) for k in range(3)]
flat = level & (numpy.min(corners, axis=0) > 0.5 * abs(nominal)) & (numpy.max(corners, axis=0) < 1.5 * abs(nominal))
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

fn base64(bytes: &[u8]) -> String {
    const DIGITS: &[u8; 64] = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    bytes
        .chunks(3)
        .flat_map(|chunk| {
            let word = chunk.iter().fold(0_u32, |word, b| (word << 8) | u32::from(*b)) << (8 * (3 - chunk.len()));
            let digit =
                move |k: usize| if k <= chunk.len() { DIGITS[(word >> (18 - 6 * k)) as usize & 63] } else { b'=' };
            (0..4).map(digit).map(char::from).collect::<Vec<_>>()
        })
        .collect()
}

/// The height of lettering all over its land or floor, by 20,000 points of the file that is handed off and the
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
        for (sense, held) in [(Sense::Raised, Held::Land), (Sense::Sunken, Held::Root)] {
            let mut job = demo::jobs().remove(1).job;
            job.tool = Tool { pull: Some(pull.to_array()), ..Tool::default() };
            let mark = &mut job.marks[0];
            mark.text = "R8-B4".into();
            mark.seat = SeatRef::on(face);
            mark.lettering = Lettering { face: "overpass".into(), cap_height: 4.0, ..Lettering::default() };
            mark.relief = Relief { sense, held, height: 0.4, draft: 3.0, ..Relief::default() };
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

const STRIPS: &str = r#"
import json, sys
import numpy, igl
given = json.load(sys.stdin)
v = numpy.array(given["vertices"])
f = numpy.array(given["triangles"], dtype=numpy.int64)
ours = numpy.array(given["flat"])

def stretches(flat):
    """Singular values of the map from the strip to each facet."""
    e1, e2 = v[f[:, 1]] - v[f[:, 0]], v[f[:, 2]] - v[f[:, 0]]
    x = e1 / numpy.linalg.norm(e1, axis=1)[:, None]
    n = numpy.cross(e1, e2)
    y = numpy.cross(n / numpy.linalg.norm(n, axis=1)[:, None], x)
    space = numpy.stack([numpy.stack([(e1 * x).sum(1), (e1 * y).sum(1)], 1),
                         numpy.stack([(e2 * x).sum(1), (e2 * y).sum(1)], 1)], 2)
    strip = numpy.stack([flat[f[:, 1]] - flat[f[:, 0]], flat[f[:, 2]] - flat[f[:, 0]]], 2)
    return numpy.linalg.svd(strip @ numpy.linalg.inv(space), compute_uv=False)

area = igl.doublearea(v, f) / 2
def told(flat):
    s = stretches(flat)
    return {"energy": float((area * ((s - 1) ** 2).sum(1)).sum() / area.sum()),
            "worst": float(numpy.abs(s - 1).max())}

# begun from its own conformal map, not from ours
edge = igl.boundary_loop(f)
ends = numpy.array([edge[0], edge[len(edge) // 2]], dtype=numpy.int64)
far = numpy.linalg.norm(v[ends[0]] - v[ends[1]])
start = igl.lscm(v, f, ends, numpy.array([[0.0, 0.0], [far, 0.0]]))[0]
data = igl.ARAPData()
data.max_iter = 400
igl.arap_precomputation(v, f, 2, numpy.zeros(0, dtype=numpy.int32), data)
theirs = igl.arap_solve(numpy.zeros((0, 2)), data, start)
# turned and shifted on to one another (Kabsch)
a, b = ours - ours.mean(0), theirs[:, :2] - theirs[:, :2].mean(0)
u, _, w = numpy.linalg.svd(a.T @ b)
turn = u @ numpy.diag([1, numpy.sign(numpy.linalg.det(u @ w))]) @ w
apart = numpy.linalg.norm(a @ turn - b, axis=1).max()
print(json.dumps({"ours": told(ours), "theirs": told(theirs[:, :2]), "apart": float(apart)}))
"#;

/// The strip of the lever's grip against another library's parametrisation by the same energy, begun elsewhere.
#[test]
fn a_freeform_strip_is_laid_as_another_library_lays_it() {
    let part = Part::from_mesh(&demo::parts::shut_off_lever()).unwrap();
    let faces = (0..part.faces.len()).filter(|&f| matches!(part.faces[f].surface, Surface::Freeform));
    let grip = faces.max_by(|&a, &b| part.faces[a].area.total_cmp(&part.faces[b].area)).unwrap() as u32;
    let seat = Seat::on(&part, grip, Some(DVec3::Z)).unwrap();
    let mut numbers = std::collections::HashMap::new();
    let (mut vertices, mut flat) = (Vec::new(), Vec::new());
    let mut triangles: Vec<[usize; 3]> = Vec::new();
    for &t in seat.chart.patch().unwrap() {
        triangles.push(part.mesh.triangles[t as usize].map(|v| {
            *numbers.entry(v).or_insert_with(|| {
                let p = part.mesh.vertices[v as usize];
                vertices.push(p.to_array());
                flat.push(seat.chart.strip(p).0.to_array());
                vertices.len() - 1
            })
        }));
    }
    let told = python(STRIPS, &json!({"vertices": vertices, "triangles": triangles, "flat": flat}));
    println!("{told}");
    let of = |whose: &str, what: &str| told[whose][what].as_f64().unwrap();
    // no more stretch on the whole, nor at the worst place, than what the other library reaches
    assert!(of("ours", "energy") < 1.02 * of("theirs", "energy"), "{told}");
    assert!(of("ours", "worst") < 1.05 * of("theirs", "worst") + 0.002, "{told}");
    assert!(told["apart"].as_f64().unwrap() < 0.25, "{told}");
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
    mark.relief = Relief { sense: Sense::Sunken, held: Held::Root, height: 3.0, draft: 1.0, ..Relief::default() };
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

const OUTLINES: &str = r#"
import json, sys
from fontTools.ttLib import TTFont
from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.areaPen import AreaPen
given = json.load(sys.stdin)
told = {}
for face, path in given["faces"]:
    font = TTFont(path)
    glyphs, names = font.getGlyphSet(), font.getBestCmap()
    def bounds(c):
        pen = BoundsPen(glyphs); glyphs[names[ord(c)]].draw(pen); return pen.bounds
    scale = given["cap_height"] / bounds("H")[3]
    letters = {}
    for c in given["letters"]:
        pen = AreaPen(glyphs); glyphs[names[ord(c)]].draw(pen)
        low_x, low_y, high_x, high_y = bounds(c)
        letters[c] = [abs(pen.value) * scale ** 2, (high_x - low_x) * scale, low_y * scale, high_y * scale]
    told[face] = letters
print(json.dumps(told))
"#;

#[test]
fn outlines_and_cap_heights_agree_with_another_font_library() {
    let faces: Vec<(&str, String)> = lettering::faces()
        .iter()
        .filter(|f| f.id != "centre-line")
        .map(|f| (f.id, format!("{}/../lettering/faces/{}.ttf", env!("CARGO_MANIFEST_DIR"), f.id)))
        .collect();
    assert_eq!(faces.len(), 8);
    let letters = "ABCDEGHJKMNOPQRSUWZ0123456789-";
    let cap_height = 10.0;
    let told = python(OUTLINES, &json!({"faces": faces, "letters": letters, "cap_height": cap_height}));
    let mut compared = 0;
    for (face, _) in &faces {
        for c in letters.chars() {
            let lettering = Lettering { face: (*face).into(), cap_height, ..Lettering::default() };
            let set = lettering::set(&c.to_string(), &lettering, &[]).unwrap();
            let region = &set.characters[0].region;
            let (low, high) = region.bounds().unwrap();
            let theirs: Vec<f64> =
                told[face][c.to_string()].as_array().unwrap().iter().map(|v| v.as_f64().unwrap()).collect();
            let (area, width) = (theirs[0], theirs[1]);
            assert!((high.x - low.x - width).abs() < 0.005, "{face} {c}: width {} {width}", high.x - low.x);
            assert!(
                (low.y - theirs[2]).abs() < 0.005 && (high.y - theirs[3]).abs() < 0.005,
                "{face} {c}: {low} {high} {theirs:?}"
            );
            // flattened to 0.002 along every edge: at most that times the length of the outline
            let round: f64 = region.contours().map(|k| k.windows(2).map(|p| p[0].distance(p[1])).sum::<f64>()).sum();
            // contours of a glyph may overlap, and the other library counts what they share twice
            assert!(region.area() <= area + 0.002 * round, "{face} {c}: {} {area}", region.area());
            if (region.area() - area).abs() <= 0.002 * round {
                compared += 1;
            }
        }
    }
    assert!(compared as f64 > 0.9 * 8.0 * letters.len() as f64, "{compared} of {} areas agree", 8 * letters.len());
}

const DATES: &str = r#"
import datetime, json, sys
given = json.load(sys.stdin)
day, out = datetime.date(2000, 1, 1), []
while day < datetime.date(2400, 1, 1):
    year, week, weekday = day.isocalendar()
    out.append(f"{year:04}-W{week:02}-{weekday} {day.year:04}-{day.timetuple().tm_yday:03} {day.isoformat()}")
    day += datetime.timedelta(days=1)
print(json.dumps(out))
"#;

/// Against Python's datetime, day by day over the 400 years after which the calendar repeats.
#[test]
fn date_codes_are_those_of_another_date_library_over_400_years() {
    use trade::date_code::{DateForm, DateOf, YearPlace, read};
    let form = |of, between: &str| DateForm { of, year: YearPlace::First, digits: 4, between: between.into() };
    let (week, day) = (form(DateOf::WeekDay, "-"), form(DateOf::Day, "-"));
    let others = python(DATES, &json!({}));
    let others = others.as_array().unwrap();
    assert_eq!(others.len(), 146_097);
    for other in others {
        let [by_week, by_day, plain] = other.as_str().unwrap().split(' ').collect::<Vec<_>>()[..] else {
            panic!("{other}")
        };
        let date = read(plain).unwrap();
        assert_eq!((read(by_week).unwrap(), read(by_day).unwrap()), (date, date));
        assert_eq!(week.write(date), by_week.replace('W', ""));
        assert_eq!(day.write(date), by_day);
    }
}

const SPREADSHEET: &str = r##"
import base64, datetime, io, json, sys
import openpyxl
given = json.load(sys.stdin)
ours = openpyxl.load_workbook(io.BytesIO(bytes(given["ours"]))).active
book = openpyxl.Workbook()
sheet = book.active
sheet.append(["part", "variant", "date"])
sheet.append(["007", 7, datetime.date(2026, 11, 26)])
sheet["B2"].number_format = "000"
sheet.append(["ä \"b\"", 12, None])
sheet["E9"] = "far"
out = io.BytesIO()
book.save(out)
print(json.dumps({"cells": [[cell.value for cell in row] for row in ours.iter_rows()],
                  "types": sorted({cell.data_type for row in ours.iter_rows() for cell in row}),
                  "theirs": list(out.getvalue())}))
"##;

/// Against openpyxl, both ways.
#[test]
fn rosters_are_read_and_written_as_another_spreadsheet_library_does() {
    use trade::{Column, ColumnKind, Roster, Row};
    let column = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
    let row = |id, cells: [&str; 2]| Row { id, cells: cells.map(Into::into).to_vec() };
    let ours = Roster {
        columns: ["part", "no"].map(column).to_vec(),
        rows: vec![row(1, ["007", "=1+1"]), row(2, ["ä \"b\"", "1e5"])],
    };
    let found = python(SPREADSHEET, &json!({"ours": roster::xlsx::write(&ours).unwrap()}));
    assert_eq!(found["cells"], json!([["part", "no"], ["007", "=1+1"], ["ä \"b\"", "1e5"]]));
    // texts, none of them a number or a formula
    assert_eq!(found["types"], json!(["s"]));
    let theirs: Vec<u8> = serde_json::from_value(found["theirs"].clone()).unwrap();
    let table = roster::read("theirs.xlsx", &theirs).unwrap();
    assert_eq!(table.rows[0], ["part", "variant", "date", "", ""]);
    assert_eq!(table.rows[1], ["007", "007", "2026-11-26", "", ""]);
    assert_eq!(table.rows[2], ["ä \"b\"", "12", "", "", ""]);
    assert_eq!((table.rows.len(), table.rows[8][4].as_str()), (9, "far"));
}

const DRAWING: &str = r#"
import io, json, math, sys
import ezdxf
from ezdxf import path
from ezdxf.enums import InsertUnits

doc = ezdxf.new("R2010", units=InsertUnits.Inches)
space = doc.modelspace()

# one shape in each cell of a grid; what is drawn in a block counts when it is put in
def cell(k):
    return (20 * (k % 4), 20 * (k // 4))

def moved(points, k):
    x, y = cell(k)
    return [(x + p[0], y + p[1], *p[2:]) for p in points]

space.add_circle(cell(0), 4)
space.add_ellipse(cell(1), major_axis=(5, 2), ratio=0.4)
ring = [(0, -5), (4, -5), (6, 0), (3, 5), (-4, 4), (-6, -1), (-3, -4), (0, -5)]
space.add_open_spline([(*p, 0) for p in moved(ring, 2)], degree=3)
space.add_rational_spline([(*p, 0) for p in moved(ring, 3)], weights=[1, 2, 1, 0.5, 1, 3, 1, 1], degree=3)
space.add_lwpolyline(moved([(0, 0, 0.4), (8, 0, -0.3), (8, 6, 0), (2, 7, 1)], 4), format="xyb", close=True)
space.add_lwpolyline(moved([(0, 0, 0.4), (8, 0, -0.3), (8, 6, 0), (2, 7, 1)], 1), format="xyb", close=True,
                     dxfattribs={"extrusion": (0, 0, -1)}).translate(0, 20, 0)

hatch = space.add_hatch()
x, y = cell(6)
edges = hatch.paths.add_edge_path()
edges.add_line((x - 5, y), (x - 2, y))
edges.add_arc((x, y), 2, 180, 0, ccw=False)
edges.add_line((x + 2, y), (x + 5, y))
edges.add_ellipse((x, y), (5, 0), 0.8, 0, 180, ccw=True)
hole = hatch.paths.add_polyline_path([(x - 0.5, y + 3, 1), (x + 0.5, y + 3, 1)], is_closed=True)
wild = space.add_hatch()
x, y = cell(7)
edges = wild.paths.add_edge_path()
edges.add_spline(control_points=[(x, y), (x + 3, y - 3), (x + 6, y + 1), (x + 6, y + 5)], degree=3,
                 knot_values=[0, 0, 0, 0, 1, 1, 1, 1])
edges.add_line((x + 6, y + 5), (x - 2, y + 5))
edges.add_ellipse((x - 2, y + 2.5), (0, 2.5), 0.5, 0, 180, ccw=True)
edges.add_line((x - 2, y), (x, y))

part = doc.blocks.new("part")
part.add_circle((1, 1), 1)
part.add_lwpolyline([(3, 0, 0), (6, 0, 0.5), (6, 2, 0)], format="xyb", close=True)
whole = doc.blocks.new("whole", base_point=(1, 1))
whole.add_blockref("part", (0, 0), dxfattribs={"xscale": -1, "yscale": 1})
whole.add_blockref("part", (1, 0), dxfattribs={"rotation": 30})
space.add_blockref("whole", cell(9), dxfattribs={"rotation": 200, "xscale": 0.8, "yscale": 0.8})
mirrored = space.add_blockref("whole", (-100, 40), dxfattribs={"extrusion": (0, 0, -1)})

from ezdxf.disassemble import recursive_decompose
total, low, high = 0.0, math.inf, -math.inf
def shoelace(points):
    return abs(sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(points, points[1:] + points[:1]))) / 2
for entity in recursive_decompose(space):
    if entity.dxftype() == "HATCH":
        loops = [list(p.flattening(1e-5, 64)) for p in path.from_hatch(entity)]
    else:
        loops = [list(path.make_path(entity).flattening(1e-5, 64))]
    areas = sorted((shoelace([(v.x, v.y) for v in l]) for l in loops), reverse=True)
    total += areas[0] - sum(areas[1:])
    low = min([low] + [v.y for l in loops for v in l])
    high = max([high] + [v.y for l in loops for v in l])
out = io.StringIO()
doc.write(out)
print(json.dumps({"text": out.getvalue(), "area": total, "height": high - low}))
"#;

/// Areas and the height of a drawing with every kind of entity that bounds something, as ezdxf reads them.
#[test]
fn drawings_enclose_what_another_reader_finds() {
    let told = python(DRAWING, &Value::Null);
    let text = told["text"].as_str().unwrap();
    let drawing = artwork::read("all.dxf", text.as_bytes(), &artwork::Wish::default()).unwrap();
    let inch = 25.4;
    let [area, height] = ["area", "height"].map(|key| told[key].as_f64().unwrap());
    let found = drawing.height.unwrap();
    assert!((found - height * inch).abs() < 1e-4 * found, "{found} mm, not {}", height * inch);
    // an outline that lies no farther off than it is flattened to, 3e-5 of the height, encloses as much more or less
    // as that is times its length
    let length = |c: &Vec<DVec2>| (0..c.len()).map(|k| c[k].distance(c[(k + 1) % c.len()])).sum::<f64>();
    let around: f64 = drawing.region.contours().map(length).sum::<f64>();
    let (found, area) = (drawing.region.area(), area * (inch * 100.0 / found).powi(2));
    assert!((found - area).abs() < 0.003 * around, "{found}, not {area}; {around} round it");
    assert!((found / area - 1.0).abs() < 3e-4, "{found}, not {area}");
    assert!(drawing.faults.is_empty(), "{:?}", drawing.faults);
}
