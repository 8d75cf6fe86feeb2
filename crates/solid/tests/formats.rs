//! Part files, good and bad: what can be read is read the same from each format, what can't gets a
//! sentence, and nothing panics.

use base64::{Engine, engine::general_purpose::STANDARD};
use proptest::prelude::*;
use solid::{
    Mesh, Part,
    formats::{read, stl},
};
use std::io::{Cursor, Write};
use trade::Unit;
use zip::write::SimpleFileOptions;

const CORNER_OBJ: &str = "v 0 0 0\nv 2 0 0\nv 0 2 0\nv 0 0 2\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 4 3\n";

fn corner() -> Mesh {
    read("corner.obj", CORNER_OBJ.as_bytes()).unwrap().mesh
}

fn ascii_stl(mesh: &Mesh) -> String {
    let facets: String = (0..mesh.triangles.len())
        .map(|t| {
            let corners: String = mesh.corners(t).iter().map(|p| format!("vertex {} {} {}\n", p.x, p.y, p.z)).collect();
            format!("facet normal 0 0 0\nouter loop\n{corners}endloop\nendfacet\n")
        })
        .collect();
    format!("solid corner\n{facets}endsolid corner\n")
}

fn ascii_ply(mesh: &Mesh) -> String {
    let vertices: String = mesh.vertices.iter().map(|v| format!("{} {} {} 200\n", v.x, v.y, v.z)).collect();
    let faces: String = mesh.triangles.iter().map(|t| format!("3 {} {} {}\n", t[0], t[1], t[2])).collect();
    format!(
        "ply\nformat ascii 1.0\ncomment a corner\nelement vertex {}\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nelement face {}\nproperty list uchar int vertex_indices\nend_header\n{vertices}{faces}",
        mesh.vertices.len(),
        mesh.triangles.len()
    )
}

fn binary_ply(mesh: &Mesh) -> Vec<u8> {
    let mut out = format!(
        "ply\nformat binary_big_endian 1.0\nelement vertex {}\nproperty double x\nproperty double y\nproperty double z\nelement face {}\nproperty list uchar uint vertex_index\nend_header\n",
        mesh.vertices.len(),
        mesh.triangles.len()
    )
    .into_bytes();
    out.extend(mesh.vertices.iter().flat_map(|v| v.to_array()).flat_map(f64::to_be_bytes));
    for t in &mesh.triangles {
        out.push(3);
        out.extend(t.iter().flat_map(|v| v.to_be_bytes()));
    }
    out
}

/// glTF with its data inside; `place` is the node's further settings.
fn gltf(mesh: &Mesh, place: &str) -> String {
    let mut data: Vec<u8> = Vec::new();
    data.extend(mesh.vertices.iter().flat_map(|v| v.as_vec3().to_array()).flat_map(f32::to_le_bytes));
    let corners = data.len();
    data.extend(mesh.triangles.iter().flatten().flat_map(|v| (*v as u16).to_le_bytes()));
    let text = STANDARD.encode(&data);
    format!(
        r#"{{"asset":{{"version":"2.0"}},"scene":0,"scenes":[{{"nodes":[0]}}],"nodes":[{{"mesh":0{place}}}],"meshes":[{{"primitives":[{{"attributes":{{"POSITION":0}},"indices":1}}]}}],"accessors":[{{"bufferView":0,"componentType":5126,"count":{},"type":"VEC3","min":[0,0,0],"max":[2,2,2]}},{{"bufferView":1,"componentType":5123,"count":{},"type":"SCALAR"}}],"bufferViews":[{{"buffer":0,"byteOffset":0,"byteLength":{corners}}},{{"buffer":0,"byteOffset":{corners},"byteLength":{}}}],"buffers":[{{"byteLength":{},"uri":"data:application/octet-stream;base64,{text}"}}]}}"#,
        mesh.vertices.len(),
        3 * mesh.triangles.len(),
        data.len() - corners,
        data.len(),
    )
}

fn threemf(model: &[u8]) -> Vec<u8> {
    let mut writer = zip::ZipWriter::new(Cursor::new(Vec::new()));
    let files: [(&str, &[u8]); 3] = [
        ("[Content_Types].xml", br#"<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>"#),
        ("_rels/.rels", br#"<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>"#),
        ("3D/3dmodel.model", model),
    ];
    for (name, bytes) in files {
        writer.start_file(name, SimpleFileOptions::default()).unwrap();
        writer.write_all(bytes).unwrap();
    }
    writer.finish().unwrap().into_inner()
}

fn corner_model(unit: &str, transform: &str) -> Vec<u8> {
    let mesh = corner();
    let vertices: String =
        mesh.vertices.iter().map(|v| format!(r#"<vertex x="{}" y="{}" z="{}"/>"#, v.x, v.y, v.z)).collect();
    let triangles: String =
        mesh.triangles.iter().map(|t| format!(r#"<triangle v1="{}" v2="{}" v3="{}"/>"#, t[0], t[1], t[2])).collect();
    threemf(
        format!(
            r#"<?xml version="1.0" encoding="UTF-8"?><model unit="{unit}" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices>{vertices}</vertices><triangles>{triangles}</triangles></mesh></object></resources><build><item objectid="1" {transform}/></build></model>"#
        )
        .as_bytes(),
    )
}

#[test]
fn every_format_gives_the_same_part() {
    let wanted = 8.0 / 6.0;
    let mesh = corner();
    for (name, bytes) in [
        ("corner.obj", CORNER_OBJ.as_bytes().to_vec()),
        ("corner.STL", stl::write(&mesh)),
        ("corner.stl", ascii_stl(&mesh).into_bytes()),
        ("corner.3mf", corner_model("millimeter", "")),
        ("corner.ply", ascii_ply(&mesh).into_bytes()),
        ("corner.ply", binary_ply(&mesh)),
    ] {
        let part = Part::read(name, &bytes, Some(Unit::Mm)).unwrap_or_else(|e| panic!("{name}: {e}"));
        assert!(part.soundness.is_solid(), "{name}");
        assert_eq!((part.mesh.vertices.len(), part.faces.len()), (4, 4), "{name}");
        assert!((part.mesh.volume() - wanted).abs() < 1e-6, "{name}");
    }
}

/// As other systems write it.
#[test]
fn ascii_stl_is_read_however_it_names_its_solids_and_writes_its_words() {
    let plain = ascii_stl(&corner());
    let nameless = plain.replace("solid corner", "solid");
    let second = plain.replace("corner", "other");
    for (written, facets) in [
        (nameless.clone().into_bytes(), 4),
        (nameless.replace('\n', "\r\n").into_bytes(), 4),
        (nameless.replace('\n', "\r").into_bytes(), 4),
        (format!("\n  \n{}", plain.replace('\n', "\n\t ")).into_bytes(), 4),
        (plain.to_uppercase().into_bytes(), 4),
        (plain.replace("normal 0 0 0", "normal nan -nan(ind) 1.#QNAN").into_bytes(), 4),
        ([b"solid D\xFCse".as_slice(), &nameless.as_bytes()[5..]].concat(), 4),
        // another solid in the same file
        ((plain.clone() + &second).into_bytes(), 8),
        ((nameless.clone() + "\n\n" + &nameless).into_bytes(), 8),
    ] {
        let text = String::from_utf8_lossy(&written).into_owned();
        let mesh = read("corner.stl", &written).unwrap_or_else(|e| panic!("{e}: {text}")).mesh;
        assert_eq!(mesh.triangles.len(), facets, "{text}");
        assert!((mesh.volume() - 8.0 / 6.0 * facets as f64 / 4.0).abs() < 1e-6, "{text}");
    }
}

/// An L of 3 × 3 without its corner of 2 × 2, 1 high, as six polygons, two of which turn back at a corner.
#[test]
fn polygons_that_turn_back_are_filled_inside_their_outlines() {
    let outline = [[0, 0], [3, 0], [3, 1], [1, 1], [1, 3], [0, 3]];
    // so that each corner is the first one once
    for start in 0..6 {
        let mut vertices = Vec::new();
        for z in [0, 1] {
            vertices.extend((0..6).map(|k| outline[(k + start) % 6]).map(|[x, y]| format!("{x} {y} {z}")));
        }
        let mut faces = vec![(0..6).rev().collect::<Vec<usize>>(), (6..12).collect()];
        faces.extend((0..6).map(|k| vec![k, (k + 1) % 6, (k + 1) % 6 + 6, k + 6]));
        let obj: String = vertices
            .iter()
            .enumerate()
            .map(|(k, v)| {
                // some vertices with colours, some without
                if k % 2 == 0 { format!("v {v} 0.5 0.25 1\n") } else { format!("v {v}\n") }
            })
            .chain(faces.iter().map(|f| {
                let corners: Vec<String> = f.iter().map(|v| (v + 1).to_string()).collect();
                format!("f {}\n", corners.join(" "))
            }))
            .collect();
        let listed: String = faces
            .iter()
            .map(|f| {
                let corners: Vec<String> = f.iter().map(ToString::to_string).collect();
                format!("{} {}\n", f.len(), corners.join(" "))
            })
            .collect();
        let header = "ply\nformat ascii 1.0\nelement vertex 12\nproperty float x\nproperty float y\nproperty float z\n\
                      element face 8\nproperty list uchar int vertex_indices\nend_header\n";
        let ply = format!("{header}{}\n{listed}", vertices.join("\n"));
        for (name, text) in [("ell.obj", &obj), ("ell.ply", &ply)] {
            let part = Part::read(name, text.as_bytes(), Some(Unit::Mm)).unwrap_or_else(|e| panic!("{name}: {e}"));
            let crossings = solid::crossing::crossing_pairs(&part.mesh).len();
            assert!(part.soundness.is_solid() && crossings == 0, "{name} {start}: {:?}", part.soundness);
            let area: f64 = part.faces.iter().map(|f| f.area).sum();
            assert_eq!((part.faces.len(), part.mesh.triangles.len()), (8, 20), "{name} {start}");
            assert!((part.mesh.volume() - 5.0).abs() < 1e-9 && (area - 22.0).abs() < 1e-9, "{name} {start}: {area}");
        }
    }
}

#[test]
fn a_3mf_brings_its_own_unit_and_place() {
    // moved by 10 along x, turned a quarter round z: row vectors, as the 3MF core specification 1.3 has it
    let bytes = corner_model("inch", r#"transform="0 1 0 -1 0 0 0 0 1 10 0 0""#);
    let part = Part::read("corner.3mf", &bytes, None).unwrap();
    assert_eq!(part.unit, Unit::Inch);
    let (low, high) = part.mesh.bounds();
    assert!((low / 25.4).distance(glam::DVec3::new(8.0, 0.0, 0.0)) < 1e-9, "{low}");
    assert!((high / 25.4).distance(glam::DVec3::new(10.0, 2.0, 2.0)) < 1e-9, "{high}");
}

#[test]
fn gltf_is_in_metres_with_y_up_and_stands_upright_here() {
    // 1/1000 of its size, moved by 10 mm along its y
    let text = gltf(&corner(), r#","scale":[0.001,0.001,0.001],"translation":[0,0.01,0]"#);
    let part = Part::read("corner.gltf", text.as_bytes(), None).unwrap();
    assert_eq!(part.unit, Unit::M);
    assert!(part.soundness.is_solid() && (part.mesh.volume() - 8.0 / 6.0).abs() < 1e-5);
    let (low, high) = part.mesh.bounds();
    // its y is up, its z comes to the front
    assert!(low.distance(glam::DVec3::new(0.0, -2.0, 10.0)) < 1e-5, "{low}");
    assert!(high.distance(glam::DVec3::new(2.0, 0.0, 12.0)) < 1e-5, "{high}");
    // 2 mm that were written as 2 m, which is no part: the unit is asked for, and taken where it is given
    let large = gltf(&corner(), r#","scale":[20,20,20]"#);
    let asked = Part::read("corner.gltf", large.as_bytes(), None).unwrap_err();
    assert!(matches!(asked, solid::PartError::NoUnit { mm, .. } if (mm - 40.0).abs() < 1e-4), "{asked}");
    let told = Part::read("corner.gltf", large.as_bytes(), Some(Unit::Mm)).unwrap();
    assert!((told.mesh.bounds().1.x - 40.0).abs() < 1e-4 && told.unit == Unit::Mm);
    // a mirroring node leaves the solid right side out
    let part = Part::read("corner.gltf", gltf(&corner(), r#","scale":[-0.001,0.001,0.001]"#).as_bytes(), None).unwrap();
    assert!(!part.soundness.turned && part.mesh.volume() > 0.0);
}

#[test]
fn bad_files_get_a_sentence() {
    let binary = stl::write(&corner());
    let mut claims = binary.clone();
    claims[80..84].copy_from_slice(&10_000_000_u32.to_le_bytes());
    let mut not_a_number = binary.clone();
    not_a_number[84 + 12..84 + 16].copy_from_slice(&f32::NAN.to_le_bytes());
    let mut endless = binary.clone();
    endless[84 + 12..84 + 16].copy_from_slice(&f32::INFINITY.to_le_bytes());
    for (name, bytes, says) in [
        ("part.stl", vec![], "empty"),
        ("part.dwg", binary.clone(), "STEP, STL, 3MF, OBJ, PLY or GLB"),
        ("part", binary.clone(), "STEP, STL, 3MF, OBJ, PLY or GLB"),
        ("part.stl", binary[..binary.len() - 30].to_vec(), "STL file can't be read"),
        ("part.stl", binary[..60].to_vec(), "STL file can't be read"),
        ("part.stl", claims, "10000000 triangles"),
        ("part.stl", not_a_number, "not a finite number"),
        ("part.stl", endless, "not a finite number"),
        ("part.stl", CORNER_OBJ.as_bytes().to_vec(), "STL file"),
        ("part.obj", binary.clone(), "OBJ file"),
        ("part.3mf", binary.clone(), "3MF file can't be read"),
        ("part.3mf", corner_model("millimeter", "")[..300].to_vec(), "3MF file can't be read"),
        ("part.3mf", threemf(b"<model"), "3MF file"),
        ("part.obj", b"v 0 0 0\nv 1 0 0\nf 1 2 9\n".to_vec(), "OBJ file"),
        ("part.obj", b"# nothing\n".to_vec(), "no triangles"),
        ("part.ply", binary.clone(), "PLY file can't be read"),
        ("part.ply", binary_ply(&corner())[..200].to_vec(), "PLY file can't be read"),
        (
            "part.ply",
            ascii_ply(&corner()).replace("vertex 4", "vertex 999999999999").into_bytes(),
            "more than it has bytes",
        ),
        ("part.ply", ascii_ply(&corner()).replace("property float z\n", "").into_bytes(), "not a finite number"),
        ("part.glb", binary.clone(), "glTF file can't be read"),
        (
            "part.gltf",
            gltf(&corner(), "").replace("data:application/octet-stream;base64,", "part.bin?").into_bytes(),
            "save it as GLB",
        ),
        ("part.gltf", gltf(&corner(), r#","children":[0]"#).into_bytes(), "in a circle"),
        ("part.gltf", gltf(&corner(), "").replace("5123", "5125").into_bytes(), "glTF file can't be read"),
    ] {
        let said = read(name, &bytes).map(|f| f.mesh.triangles.len()).unwrap_err().to_string();
        assert!(said.contains(says), "{name}: “{said}” should say “{says}”");
    }
}

#[test]
fn a_small_file_that_unpacks_to_gigabytes_is_refused() {
    let mut writer = zip::ZipWriter::new(Cursor::new(Vec::new()));
    writer.start_file("3D/3dmodel.model", SimpleFileOptions::default()).unwrap();
    let blank = vec![b' '; 1 << 20];
    for _ in 0..2048 {
        writer.write_all(&blank).unwrap();
    }
    let bomb = writer.finish().unwrap().into_inner();
    assert!(bomb.len() < 4 << 20);
    let said = read("part.3mf", &bomb).unwrap_err().to_string();
    assert!(said.contains("3MF file can't be read"), "{said}");
}

#[test]
fn a_part_of_the_wrong_size_asks_for_its_unit() {
    let said = Part::read("corner.obj", CORNER_OBJ.as_bytes(), Some(Unit::Micron)).unwrap_err().to_string();
    assert!(said.contains("is the unit right?"), "{said}");
}

/// A file of one of seven kinds with bytes changed and its end cut off: read or refused, but answered.
fn answered(changes: &[(usize, u8)], cut: usize, kind: usize) -> Result<(), TestCaseError> {
    let (name, mut bytes) = match kind {
        0 => ("corner.obj", CORNER_OBJ.as_bytes().to_vec()),
        1 => ("corner.stl", stl::write(&corner())),
        2 => ("corner.stl", ascii_stl(&corner()).into_bytes()),
        3 => ("corner.ply", ascii_ply(&corner()).into_bytes()),
        4 => ("corner.ply", binary_ply(&corner())),
        5 => ("corner.gltf", gltf(&corner(), "").into_bytes()),
        _ => ("corner.3mf", corner_model("millimeter", "")),
    };
    let length = bytes.len();
    for (place, byte) in changes {
        bytes[place % length] = *byte;
    }
    if cut < length {
        bytes.truncate(cut);
    }
    if let Ok(part) = Part::read(name, &bytes, Some(Unit::Mm)) {
        prop_assert!(part.mesh.vertices.iter().all(|v| v.is_finite()));
    }
    Ok(())
}

fn changes() -> impl Strategy<Value = Vec<(usize, u8)>> {
    prop::collection::vec((0_usize..4000, any::<u8>()), 1..12)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]
    #[test]
    fn mutated_files_never_panic(changes in changes(), cut in 0_usize..4000, kind in 0_usize..7) {
        answered(&changes, cut, kind)?;
    }
}

proptest! {
    // with the 500 mutated STEP files over 2,000
    #![proptest_config(ProptestConfig::with_cases(1600))]
    #[test]
    #[ignore = "many more of the same"]
    fn sixteen_hundred_mutated_files_never_panic(changes in changes(), cut in 0_usize..4000, kind in 0_usize..7) {
        answered(&changes, cut, kind)?;
    }
}
