//! What is handed off, read again: closed, in millimetres, with the marks by their names.

use handoff::files;
use serde_json::Value;
use solid::{Part, formats, soundness};
use std::{
    collections::BTreeMap,
    io::{Cursor, Read},
};
use trade::{Figure, Unit, figure::Tally, recipe::DateFrom};
use workbench::{Bench, Scope, Steps};

fn made(at: usize) -> (trade::Job, Bench, BTreeMap<String, Vec<u8>>) {
    let demo = demo::jobs().remove(at);
    let part = demo.read();
    let bench = Bench::new(part);
    let files = files(&demo.job, &bench, "2031-02-03").unwrap().files.into_iter().map(|f| (f.name, f.bytes)).collect();
    (demo.job, bench, files)
}

fn model(bytes: &[u8]) -> String {
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).unwrap();
    let name = archive.file_names().find(|n| n.ends_with(".model")).unwrap().to_owned();
    let mut text = String::new();
    archive.by_name(&name).unwrap().read_to_string(&mut text).unwrap();
    text
}

#[test]
fn the_marked_solid_reads_again_closed_and_of_the_same_volume() {
    for at in 0..2 {
        let (job, bench, files) = made(at);
        let wanted = bench.outcome(&job, Scope::Whole).groups[0].solid.mesh.volume();
        for name in ["marked-solid.stl", "marked-solid.3mf", "marked-solid.glb"] {
            let part = Part::read(name, &files[name], Some(Unit::Mm)).unwrap();
            assert!(part.soundness.is_closed(), "{name}: {:?}", part.soundness.complaint());
            assert_eq!(part.soundness.shells, 1, "{name}");
            // glTF is in metres always
            assert_eq!(part.unit, if name.ends_with("glb") { Unit::M } else { Unit::Mm });
            assert!((part.mesh.volume() / wanted - 1.0).abs() < 1e-5, "{name}: {} {wanted}", part.mesh.volume());
            let [mark] = &job.marks[..] else { continue };
            // the plain block with one raised text: its box, and the outline's area times the height, less what draft takes
            // towards the top: at most perimeter · h · tan α over half the height, and the corners'
            let (low, high) = bench.part().mesh.bounds();
            let set = lettering::drawn(mark).unwrap();
            let area: f64 = set.characters.iter().map(|c| c.region.area()).sum();
            let edges =
                set.characters.iter().flat_map(|c| c.region.contours()).flat_map(|ring| flat::contour::edges(ring));
            let perimeter: f64 = edges.map(|[a, b]| a.distance(b)).sum();
            let relief = mark.relief;
            let added = part.mesh.volume() - (high - low).element_product();
            let leaned = perimeter * relief.height * relief.draft.to_radians().tan() / 2.0;
            let least = relief.height * (area - 1.05 * leaned) - 1e-2;
            assert!(added < relief.height * area && added > least, "{name}: {added}, {area} mm² and {perimeter} mm");
        }
    }
}

#[test]
fn the_3mf_is_one_object_in_millimetres_whose_marks_have_names_and_colours() {
    let (job, _, files) = made(0);
    let text = model(&files["marked-solid.3mf"]);
    assert!(text.contains(r#"unit="millimeter""#));
    assert_eq!(text.matches("<object ").count(), 1);
    assert_eq!(text.matches("<item ").count(), 1);
    for mark in &job.marks {
        let name = format!("{} {}", mark.id, mark.text.replace('\n', " / ")).replace('<', "&lt;").replace('>', "&gt;");
        assert!(text.contains(&name), "{name}");
    }
    assert!(text.contains("pindex=\"0\"") && text.contains("p1=\"1\"") && text.contains("p1=\"4\""));
}

#[test]
fn the_glb_has_a_named_node_for_each_face_and_mark_and_stands_as_the_part_does() {
    let (job, bench, files) = made(0);
    let bytes = &files["marked-solid.glb"];
    assert_eq!(u32::from_le_bytes(bytes[8..12].try_into().unwrap()) as usize, bytes.len());
    let text = u32::from_le_bytes(bytes[12..16].try_into().unwrap()) as usize;
    let data: Value = serde_json::from_slice(&bytes[20..20 + text]).unwrap();
    let names: Vec<&str> = data["nodes"].as_array().unwrap().iter().map(|n| n["name"].as_str().unwrap()).collect();
    assert_eq!(names.len(), bench.part().faces.len() + job.marks.len() + 1);
    assert!(names.contains(&"part-number VB-20-07 D") && names.iter().any(|n| n.ends_with("cylinder")));
    let read = Part::read("x.glb", bytes, None).unwrap();
    let (low, high) = bench.part().mesh.bounds();
    let (l, h) = read.mesh.bounds();
    assert!(l.distance(low) < 0.01 && h.z > high.z - 1e-4, "{l} {h}");
}

#[test]
fn lettering_bodies_stand_alone_and_closed_one_object_a_mark() {
    let (job, _, files) = made(0);
    // the recessed pad of the dial and its core are bodies of their own
    assert_eq!(model(&files["lettering.3mf"]).matches("<object ").count(), job.marks.len() + 2);
    let lettering = job.marks.iter().map(|mark| format!("lettering-{}.stl", mark.id));
    for name in lettering.chain(["recessed-pad-made.stl", "core-made.stl"].map(str::to_owned)) {
        let mesh = formats::read("x.stl", &files[&name]).unwrap().mesh;
        let part = Part::from_mesh(&mesh).unwrap();
        assert!(soundness::examine(&part.mesh).is_closed(), "{name}");
        assert!(part.mesh.volume() > 0.1, "{name}");
    }
}

#[test]
fn findings_say_the_same_as_data_and_as_a_page() {
    let (job, bench, files) = made(0);
    let outcome = bench.outcome(&job, Scope::Whole);
    let data: Value = serde_json::from_slice(&files["findings.json"]).unwrap();
    let page = String::from_utf8(files["findings.html"].clone()).unwrap();
    assert_eq!(data["state"], "fails");
    assert!(page.contains("2031-02-03") && !page.contains("<script"));
    // each check is called what it is called at Inspect
    let words = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/src/words.ts")).unwrap();
    let heads: Vec<&str> = words.split("{ head: \"").skip(1).map(|rest| rest.split('"').next().unwrap()).collect();
    assert_eq!(heads.len(), outcome.marks[0].findings.len());
    assert!(heads.iter().all(|head| page.contains(&format!("<td>{head}</td>"))), "{heads:?}");
    for (mark, found) in data["marks"].as_array().unwrap().iter().zip(&outcome.marks) {
        assert_eq!(mark["mark"], found.id.as_str());
        for (told, finding) in mark["findings"].as_array().unwrap().iter().zip(&found.findings) {
            assert_eq!(told["sentence"], finding.sentence.as_str());
            match (told["measured"].as_f64(), finding.measured) {
                (Some(told), Some(measured)) => assert!((told - measured).abs() <= 1e-12 * measured.abs()),
                (told, measured) => assert_eq!(told, measured),
            }
            let escaped =
                finding.sentence.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;");
            assert!(page.contains(&escaped), "{escaped}");
        }
    }
}

#[test]
fn with_no_mark_built_there_is_nothing_to_hand_off_and_it_says_why() {
    let demo = demo::jobs().remove(1);
    let part = demo.read();
    let mut job = demo.job;
    job.marks[0].text = "漢".into();
    let said = files(&job, &Bench::new(part), "2031-02-03").map(|f| f.files.len()).unwrap_err().to_string();
    assert!(said.contains('漢'), "{said}");
}

#[test]
fn lettering_on_a_surface_body_is_handed_off_as_bodies_and_not_as_a_solid() {
    let mut demo = demo::jobs().remove(1);
    let part = demo.read();
    let face = demo.job.marks[0].seat.face;
    let triangles = part.triangles_of(face).map(|t| part.mesh.triangles[t as usize]).collect();
    let mut surface = Part::from_mesh(&solid::Mesh { vertices: part.mesh.vertices.clone(), triangles }).unwrap();
    surface.take_as_surface_body(trade::BodySide::Front);
    demo.job.marks.truncate(1);
    demo.job.marks[0].seat.face = 0;
    demo.job.tool = trade::Tool { keep_outs: Vec::new(), assigned: Vec::new(), ..demo.job.tool };
    let bench = Bench::new(surface);
    let files: BTreeMap<String, Vec<u8>> =
        files(&demo.job, &bench, "2031-02-03").unwrap().files.into_iter().map(|f| (f.name, f.bytes)).collect();
    assert!(files.keys().all(|name| !name.starts_with("marked-solid")), "{:?}", files.keys());
    assert!(files.contains_key("marked-surface-body.glb") && files.contains_key("lettering.3mf"));
    let name = files.keys().find(|n| n.starts_with("lettering-")).unwrap();
    let lettering = Part::read(name, &files[name], Some(Unit::Mm)).unwrap();
    assert!(lettering.soundness.is_closed(), "{:?}", lettering.soundness.complaint());
    let outcome = bench.outcome(&demo.job, Scope::Whole);
    let bodies = &outcome.marks[0].built.as_ref().unwrap().bodies;
    let wanted: f64 = bodies.iter().map(|b| b.mesh.volume()).sum();
    assert!((lettering.mesh.volume() / wanted - 1.0).abs() < 1e-5);
    // the surface and the bodies on it
    let shown = Part::read("marked-surface-body.glb", &files["marked-surface-body.glb"], None).unwrap();
    assert!(shown.soundness.open_edges > 0 && shown.mesh.triangles.len() > lettering.mesh.triangles.len());
}

/// The plain block with `change` made to its mark, and what is handed off of it.
fn block(change: impl Fn(&mut trade::Job)) -> BTreeMap<String, Vec<u8>> {
    let demo = demo::jobs().remove(1);
    let part = demo.read();
    let mut job = demo.job;
    change(&mut job);
    files(&job, &Bench::new(part), "2031-02-03").unwrap().files.into_iter().map(|f| (f.name, f.bytes)).collect()
}

#[test]
fn letters_are_handed_off_as_one_body_a_mark_or_one_by_one() {
    // letters so near that their walls run into one another
    let crowded = |apart: bool| {
        block(|job| {
            job.letters_apart = apart;
            job.marks[0].text = "HH-H".into();
            job.marks[0].lettering.face = "overpass".into();
            job.marks[0].lettering.spacing = -2.0;
        })
    };
    let name = "lettering-part-number.stl";
    let (one, each) = (crowded(false), crowded(true));
    assert_eq!(model(&one["lettering.3mf"]).matches("<object ").count(), 1);
    assert_eq!(model(&each["lettering.3mf"]).matches("<object ").count(), 4);
    assert!(model(&each["lettering.3mf"]).contains("3: -"));
    // the letters of a stencil face are of several pieces each
    let stencil = block(|job| job.letters_apart = true);
    assert_eq!(model(&stencil["lettering.3mf"]).matches("<object ").count(), "SB-3-118".len());
    let read = |files: &BTreeMap<String, Vec<u8>>| Part::read(name, &files[name], Some(Unit::Mm)).unwrap();
    let (joined, separate) = (read(&one), read(&each));
    assert!(joined.soundness.is_closed() && joined.soundness.complaint().is_none());
    // what they share counts once
    assert!(joined.mesh.volume() < separate.mesh.volume() - 0.01, "{}", joined.mesh.volume());
    assert!(joined.soundness.shells < 4);
}

#[test]
fn a_letters_own_colour_and_a_plate_go_along() {
    let files = block(|job| {
        let mark = &mut job.marks[0];
        mark.relief.pad = Some(trade::Pad { form: trade::PadForm::Recessed, height: 0.6, draft: 10.0, clears: 0.0 });
        mark.letters = vec![trade::LetterChange {
            colour: Some("#0072b2".to_owned().try_into().unwrap()),
            ..trade::LetterChange::plain(0, "S")
        }];
    });
    let text = model(&files["marked-solid.3mf"]);
    assert!(text.contains("letter 1") && text.contains("#0072B2"));
    assert!(text.contains("p1=\"2\"") && text.contains("p1=\"1\""));
    let bytes = &files["marked-solid.glb"];
    assert!(String::from_utf8_lossy(bytes).contains("letter 1"));
    let recessed_pad = Part::read("recessed pad.stl", &files["recessed-pad-part-number.stl"], Some(Unit::Mm)).unwrap();
    assert!(recessed_pad.soundness.is_closed());
    let (low, high) = recessed_pad.mesh.bounds();
    assert!((low.z - 11.4).abs() < 1e-4 && high.z > 12.0, "{low} {high}");
    assert!(trade::Colour::try_from("red".to_owned()).unwrap_err().contains("hexadecimal"));
}

/// Pure red is the same in sRGB and in linear light.
#[test]
fn a_marks_own_colour_goes_along_and_its_letters_stay_one_node() {
    let files = block(|job| job.marks[0].colour = Some("#FF0000".to_owned().try_into().unwrap()));
    assert!(model(&files["marked-solid.3mf"]).contains("#FF0000"));
    let glb = String::from_utf8_lossy(&files["marked-solid.glb"]).into_owned();
    assert!(glb.contains("\"baseColorFactor\":[1.0,0.0,0.0,1.0]") && !glb.contains(", letter "), "{}", &glb[..900]);
    let plain = String::from_utf8_lossy(&block(|_| {})["marked-solid.glb"]).into_owned();
    assert!(!plain.contains("[1.0,0.0,0.0,1.0]"));
}

/// SB-3-118 has eight letters.
#[test]
fn letters_that_are_handed_off_apart_are_nodes_of_their_own() {
    let nodes = |files: &BTreeMap<String, Vec<u8>>| {
        let bytes = &files["marked-solid.glb"];
        let text = u32::from_le_bytes(bytes[12..16].try_into().unwrap()) as usize;
        let data: Value = serde_json::from_slice(&bytes[20..20 + text]).unwrap();
        let names = data["nodes"].as_array().unwrap().iter().map(|n| n["name"].as_str().unwrap().to_owned());
        names.filter(|name| name.contains(", letter ")).count()
    };
    assert_eq!(nodes(&block(|_| {})), 0);
    assert_eq!(nodes(&block(|job| job.letters_apart = true)), 8);
}

#[test]
fn what_a_tally_keeps_free_goes_along_as_a_patch() {
    let tally = Tally { from: DateFrom::Handoff, first_year: 2026, years: 2, pitch: 2.2, dot: 0.7, labels: false };
    let files = block(|job| {
        let mark = &mut job.marks[0];
        mark.figure = Some(Figure::Tally(tally.clone()));
        mark.text = "2026-11".into();
        mark.lettering.cap_height = 1.0;
    });
    let free = Part::read("free.stl", &files["kept-free-part-number.stl"], Some(Unit::Mm)).unwrap().mesh;
    let area = (0..free.triangles.len()).map(|t| free.cross(t).length() / 2.0).sum::<f64>();
    // thirteen months to come, each a square field: as wide as half way from a dot of 0.7 mm to a pitch of 2.2 mm
    let field = f64::midpoint(0.7, 2.2).powi(2);
    assert!((area - 13.0 * field).abs() < 1e-3, "{area} for 13 fields of {field}");
    let level = free.vertices[0].z;
    assert!(free.vertices.iter().all(|p| (p.z - level).abs() < 1e-6), "flat as its face");
    let plain = block(|_| {});
    assert!(!plain.keys().any(|name| name.starts_with("kept-free")));
}

/// All that is handed off of all jobs of the demo is what was made, and says so where it is read.
#[test]
fn every_file_of_every_demo_job_reads_back_as_it_was_made() {
    let mut read = 0;
    for demo in demo::jobs() {
        let job = demo.job.filled(demo.job.first_row(), time::macros::date!(2031 - 02 - 03));
        let bench = Bench::new(demo.read());
        let handed = files(&job, &bench, "2031-02-03").unwrap();
        assert_eq!(handed.checked.fault(), None, "{}", job.name);
        let geometry = |f: &&handoff::Named| [".stl", ".3mf", ".glb"].iter().any(|e| f.name.ends_with(e));
        let names: Vec<&str> = handed.files.iter().filter(geometry).map(|f| f.name.as_str()).collect();
        assert_eq!(handed.checked.files.iter().map(|f| f.file.as_str()).collect::<Vec<_>>(), names);
        read += names.len();
        let json = handed.files.iter().find(|f| f.name == "findings.json").unwrap();
        let data: Value = serde_json::from_slice(&json.bytes).unwrap();
        assert_eq!(data["files"].as_array().unwrap().len(), names.len());
        let Some(solid) = &handed.checked.solid else { continue };
        assert_eq!(data["solid"]["volume"].as_f64().map(|v| (v / solid.volume - 1.0).abs() < 1e-12), Some(true));
        assert_eq!((solid.bodies, solid.crossings, solid.closed), (1, 0, true), "{}", job.name);
        let stl = handed.checked.files.iter().find(|f| f.file == "marked-solid.stl").unwrap();
        assert!((stl.volume.unwrap() / solid.volume - 1.0).abs() < 1e-6);
        // moved by no more than its bodies, and by something
        let changed = solid.volume - solid.volume_before;
        assert!(changed != 0.0 && (-solid.cut..=solid.raised).contains(&changed), "{solid:?}");
    }
    assert!(read > 50, "{read}");
}
