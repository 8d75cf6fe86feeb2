//! Part files, good and bad: what can be read is read the same from each format, what can't gets a
//! sentence, and nothing panics.

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
    ] {
        let part = Part::read(name, &bytes, Some(Unit::Mm)).unwrap_or_else(|e| panic!("{name}: {e}"));
        assert!(part.soundness.is_solid(), "{name}");
        assert_eq!((part.mesh.vertices.len(), part.faces.len()), (4, 4), "{name}");
        assert!((part.mesh.volume() - wanted).abs() < 1e-6, "{name}");
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
        ("part.step", binary.clone(), "STL, OBJ or 3MF"),
        ("part", binary.clone(), "STL, OBJ or 3MF"),
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

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]
    #[test]
    fn mutated_files_never_panic(at in prop::collection::vec((0_usize..4000, any::<u8>()), 1..12), cut in 0_usize..4000, kind in 0..4) {
        let (name, mut bytes) = match kind {
            0 => ("corner.obj", CORNER_OBJ.as_bytes().to_vec()),
            1 => ("corner.stl", stl::write(&corner())),
            2 => ("corner.stl", ascii_stl(&corner()).into_bytes()),
            _ => ("corner.3mf", corner_model("millimeter", "")),
        };
        let length = bytes.len();
        for (place, byte) in at {
            bytes[place % length] = byte;
        }
        if cut < length {
            bytes.truncate(cut);
        }
        // read or refused, but answered
        if let Ok(part) = Part::read(name, &bytes, Some(Unit::Mm)) {
            prop_assert!(part.mesh.vertices.iter().all(|v| v.is_finite()));
        }
    }
}
