//! Results against libraries that are not ours: volumes and section areas by trimesh and manifold3d,
//! outlines by fontTools (all from PyPI, under free licences).

use glam::DVec3;
use serde_json::{Value, json};
use solid::{Mesh, cut};
use std::{
    io::Write,
    path::PathBuf,
    process::{Command, Stdio},
};
use trade::Lettering;
use workbench::{Bench, Scope};

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
const HEIGHTS: [[f64; 4]; 4] =
    [[2.93, 3.2, 9.7, 15.15], [4.0, 11.9, 12.2, 12.45], [1.5, 3.1, 10.0, 17.5], [0.1, 4.0, 12.0, 27.0]];

#[test]
fn volume_and_sections_of_the_marked_solids_agree_with_other_mesh_libraries() {
    for (demo, heights) in demo::jobs().into_iter().zip(HEIGHTS) {
        let part = demo.read();
        let bench = Bench::new(part);
        let outcome = bench.outcome(&demo.job, Scope::Whole);
        let marked = &outcome.groups[0].solid.mesh;
        let bodies: Vec<Value> = outcome
            .marks
            .iter()
            .filter_map(|m| m.built.as_ref())
            .flat_map(|b| b.bodies.iter().map(|body| json!([b.mark.relief.sense, as_json(&body.mesh)])))
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
