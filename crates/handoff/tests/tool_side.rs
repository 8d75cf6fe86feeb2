//! The tool's side as it is handed off, read by programs of others: trimesh for STL and 3MF, ezdxf for DXF, sha256sum for hashes.

use glam::DVec3;
use handoff::tool_side::{ToolSide, tool_side};
use serde_json::Value;
use solid::{Part, Surface};
use std::{collections::BTreeMap, fs, path::Path, process::Command};
use trade::{InSteel, Job, Lettering, Mark, MeasuredAt, PartRef, Process, Relief, SeatRef, Sense, Tool, limits::State};
use workbench::Bench;

const HEIGHT: f64 = 0.4;
const SCALE: f64 = 1.02;

fn job(face: u32, marks: &[(&str, &str, Sense, InSteel)]) -> Job {
    let mark = |&(id, text, sense, in_steel): &(&str, &str, Sense, InSteel)| Mark {
        id: id.into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 4.0, ..Lettering::default() },
        relief: Relief { sense, height: HEIGHT, draft: 0.0, measured_at: MeasuredAt::Root, ..Relief::default() },
        in_steel,
        ..Mark::default()
    };
    Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() },
        process: Process { shrinkage: Some(2.0), ..Process::default() },
        marks: marks.iter().map(mark).collect(),
        ..Job::default()
    }
}

fn plate() -> (Bench, u32) {
    let part = Part::from_mesh(&demo::shapes::block(DVec3::ZERO, DVec3::new(60.0, 30.0, 8.0))).unwrap();
    let up = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.distance(DVec3::Z) < 1e-6);
    let face = part.faces.iter().position(|f| up(&f.surface)).unwrap() as u32;
    (Bench::new(part), face)
}

fn put(side: &ToolSide, folder: &Path) {
    side.files.iter().for_each(|file| fs::write(folder.join(&file.name), &file.bytes).unwrap());
}

/// Volume and box of every STL and 3MF, and area, box and centroid of every DXF, by their names.
fn read_by_others(folder: &Path) -> BTreeMap<String, Value> {
    const SCRIPT: &str = r#"
import glob, json, os, sys, zipfile, re
import ezdxf, trimesh
from ezdxf import units
from shapely.geometry import Polygon
from shapely.ops import unary_union
out = {}
for path in glob.glob(os.path.join(sys.argv[1], "*")):
    name = os.path.basename(path)
    if name.endswith(".stl"):
        mesh = trimesh.load_mesh(path)
        out[name] = {"volume": mesh.volume, "box": mesh.bounds.tolist(), "closed": bool(mesh.is_watertight)}
    elif name.endswith(".3mf"):
        packed = zipfile.ZipFile(path)
        text = packed.read(next(n for n in packed.namelist() if n.endswith(".model"))).decode()
        out[name] = {"objects": re.findall(r'<object[^>]* name="([^"]*)"', text), "unit": re.search(r'unit="(\w+)"', text).group(1)}
    elif name.endswith(".dxf"):
        doc = ezdxf.readfile(path)
        shape = None
        for line in doc.modelspace().query("LWPOLYLINE"):
            ring = Polygon([(x, y) for x, y, *_ in line.get_points()])
            shape = ring if shape is None else shape.symmetric_difference(ring)
        out[name] = {"area": shape.area, "box": shape.bounds, "middle": [shape.centroid.x, shape.centroid.y], "mm": doc.units == units.MM}
print(json.dumps(out))
"#;
    let python = std::env::var("TINBADGE_PYTHON").expect("TINBADGE_PYTHON names the Python of ./tinbadge test");
    let ran = Command::new(python).args(["-c", SCRIPT]).arg(folder).output().unwrap();
    assert!(ran.status.success(), "{}", String::from_utf8_lossy(&ran.stderr));
    serde_json::from_slice(&ran.stdout).unwrap()
}

#[test]
fn the_files_are_mirrored_at_the_steels_size_once_and_the_contents_lists_them() {
    let (bench, face) = plate();
    let electrode = InSteel::Electrode { gap: 0.1, stock: 10.0, margin: 2.0 };
    let insert = InSteel::Insert { margin: 1.5, deep: 12.0, clearance: 0.02 };
    let mut job = job(face, &[("cut", "L", Sense::Raised, electrode), ("stands", "I", Sense::Sunken, insert)]);
    job.marks[0].place.along = trade::Tie::FromStart { distance: 5.0 };
    job.marks[1].place.along = trade::Tie::FromEnd { distance: 5.0 };
    let side = tool_side(&job, &bench).unwrap();
    let told = |k: usize| (&side.marks[k].says, &side.marks[k].refused);
    assert!(
        side.marks.iter().all(|m| m.refused.is_empty() && m.steel.as_deref() == Some("fixed half")),
        "{:?}",
        told(0)
    );
    assert!(
        told(0).0[0].starts_with("cut into the steel 0.408 mm deep") && told(0).0[2].contains("to 0.1"),
        "{:?}",
        told(0)
    );
    assert!(
        told(0).0.iter().any(|t| t.starts_with("a cutter of Ø 0.") && t.ends_with("0.41 mm deep")),
        "{:?}",
        told(0)
    );
    assert!(told(1).0[0].starts_with("left standing in the steel 0.408 mm tall"), "{:?}", told(1));
    assert!(side.read.iter().all(|read| read.state == State::Passes), "{:?}", side.read);
    let folder = tempfile::tempdir().unwrap();
    put(&side, folder.path());
    let read = read_by_others(folder.path());

    // each says its scale in its name, and outside readers find it there once
    let scaled = side.files.iter().filter(|f| f.name != "contents.csv");
    assert!(scaled.clone().all(|f| f.name.contains("-steel-x1.0200.")), "{:?}", side.marks);
    let outline = |k: usize| lettering::drawn(&job.marks[k]).unwrap().characters.remove(0).region;
    let l = outline(0);
    let engraving = &read["engraving-cut-steel-x1.0200.stl"];
    let [low, high]: [[f64; 3]; 2] = serde_json::from_value(engraving["box"].clone()).unwrap();
    let near = |a: f64, b: f64, off: f64| (a - b).abs() < off;
    // looked at along z: x as the part's, z the other way; 5 mm from the left, its top 8.4 mm up
    let wide = l.bounds().unwrap().1.x - l.bounds().unwrap().0.x;
    assert!(near(low[0], 5.0 * SCALE, 1e-4) && near(high[0], (5.0 + wide) * SCALE, 1e-4), "{low:?} {high:?}");
    assert!(near(low[2], -8.4 * SCALE, 1e-5) && engraving["closed"] == true);
    let past = (high[2] + 8.0 * SCALE) / SCALE;
    let volume = engraving["volume"].as_f64().unwrap();
    assert!(near(volume / (l.area() * (HEIGHT + past) * SCALE.powi(3)), 1.0, 1e-4), "{volume}, {past} past the seat");

    // the artwork of an L has its foot on the left, and is as large
    let artwork = &read["artwork-cut-mirrored-steel-x1.0200.dxf"];
    let [x0, _, x1, _]: [f64; 4] = serde_json::from_value(artwork["box"].clone()).unwrap();
    let [middle, _]: [f64; 2] = serde_json::from_value(artwork["middle"].clone()).unwrap();
    assert!(artwork["mm"] == true && near(x1 - x0, wide * SCALE, 1e-3), "{artwork}");
    assert!(near(artwork["area"].as_f64().unwrap(), l.area() * SCALE * SCALE, 1e-3), "{artwork}");
    assert!(middle > (x0 + x1) / 2.0 + 0.1, "mirrored its stem stands on the right: {artwork}");

    // an insert's block less what stands on its face: by hand
    let i = outline(1).bounds().unwrap();
    let size = (i.1 - i.0) * SCALE + 3.0;
    let insert = read["insert-stands-steel-x1.0200.stl"]["volume"].as_f64().unwrap();
    let wanted = size.x * size.y * 12.0 + outline(1).area() * HEIGHT * SCALE.powi(3);
    assert!(near(insert, wanted, 0.01), "{insert} for {wanted}");
    let pocket = read["insert-pocket-stands-steel-x1.0200.stl"]["volume"].as_f64().unwrap();
    let tall = 12.0 + HEIGHT * SCALE;
    assert!(near(pocket, (size.x + 0.04) * (size.y + 0.04) * tall, 0.01), "{pocket}");

    let objects: Vec<String> = serde_json::from_value(read["tool-side-steel-x1.0200.3mf"]["objects"].clone()).unwrap();
    assert_eq!(
        objects,
        [
            "engraving of cut L",
            "electrode of cut L",
            "standing form of stands I",
            "insert of stands I",
            "insert pocket of stands I"
        ]
    );

    // the contents list every other file with its bytes and hash
    let listed = fs::read_to_string(folder.path().join("contents.csv")).unwrap();
    assert_eq!(listed.lines().count(), side.files.len());
    for file in side.files.iter().filter(|f| f.name != "contents.csv") {
        let ran = Command::new("sha256sum").arg(folder.path().join(&file.name)).output().unwrap();
        let hash = String::from_utf8_lossy(&ran.stdout)[..64].to_owned();
        let line = listed.lines().find(|line| line.starts_with(&file.name)).unwrap();
        assert!(line.ends_with(&format!("mm,{},{hash}", file.bytes.len())), "{line}");
    }
    let line = listed.lines().find(|l| l.starts_with("engraving-cut")).unwrap();
    let axes =
        "0.000000 0.000000 0.000000,1.000000 0.000000 0.000000,0.000000 -1.000000 0.000000,0.000000 0.000000 -1.000000";
    assert!(line.contains(&format!("fixed half,1.020000,{axes}")), "{line}");
}

#[test]
fn what_cant_be_made_is_told_and_keeps_nothing_else_back() {
    let (bench, face) = plate();
    let electrode = InSteel::Electrode { gap: 0.1, stock: 10.0, margin: 2.0 };
    let mut two = job(face, &[("one", "I", Sense::Raised, InSteel::Cut), ("two", "I", Sense::Sunken, electrode)]);
    two.marks[0].place.along = trade::Tie::FromStart { distance: 5.0 };
    let side = tool_side(&two, &bench).unwrap();
    assert!(side.marks[0].refused.is_empty() && side.marks[1].refused[0].contains("not raised"), "{:?}", side.marks);
    assert!(side.files.iter().any(|f| f.name == "standing-form-two-steel-x1.0200.stl"));
    let why = |job: &Job| tool_side(job, &bench).err().expect("it is refused").to_string();
    let with = |change: &dyn Fn(&mut Job)| {
        let mut job = two.clone();
        change(&mut job);
        job
    };
    assert!(why(&with(&|job| job.process = Process::default())).contains("set the material at the part"));
    assert!(why(&with(&|job| job.tool.pull = None)).contains("set it at the part"));
    let flat = with(&|job| job.marks.iter_mut().for_each(|m| m.relief.sense = Sense::Surface));
    assert!(why(&flat).contains("no mark has any relief"), "{}", why(&flat));
}
