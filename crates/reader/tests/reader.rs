//! Files read in a process of their own: the same comes of them as where they are read here, and what would end or stop a
//! program ends with a sentence.

mod tangled;

use artwork::Wish;
use reader::Unread;
use solid::{PartError, Unwatched};
use std::io::Write;
use tangled::tangled;
use trade::{PartRef, Unit};

#[test]
fn what_is_read_apart_is_what_is_read_here_to_the_last_bit() {
    for demo in demo::jobs() {
        let apart = reader::part(&demo.part, &demo.job.part, &Unwatched).unwrap();
        assert_eq!(
            apart,
            step::read_part(&demo.job.part.file, &demo.part, &demo.job.part).unwrap(),
            "{}",
            demo.job.name
        );
    }
    for (file, bytes) in demo::DRAWINGS {
        for wish in [Wish::default(), Wish { height: Some(12.0), least: Some(0.4), ..Wish::default() }] {
            let (drawing, lines) = reader::artwork(file, bytes, &wish, &Unwatched).unwrap();
            assert_eq!(drawing, artwork::read(file, bytes, &wish), "{file}");
            assert_eq!(lines, artwork::has_lines(bytes));
        }
        let letters = reader::letters(file, bytes, &Unwatched).unwrap();
        assert_eq!(letters, artwork::letters(file, bytes), "{file}");
    }
    let table = b"cavity;note\n1;\xc3\xa4\n2;b\n";
    let read = reader::roster("cavities.csv", table, &Unwatched).unwrap().unwrap();
    assert_eq!(read, roster::read("cavities.csv", table).unwrap().into_roster());
}

#[test]
fn what_is_wrong_with_a_file_is_said_in_the_same_words() {
    let corner = b"v 0 0 0\nv 2 0 0\nv 0 2 0\nv 0 0 2\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 4 3\n";
    let wanted = PartRef::of_file("corner.obj", None);
    let unit = reader::part(corner, &wanted, &Unwatched);
    assert!(matches!(unit, Err(PartError::NoUnit { mm: 2.0, inch: 50.8 })), "{unit:?}");
    for (file, bytes) in [("part.stl", &b"solid\nfacet\n"[..]), ("part.xyz", b"1"), ("part.step", b"ISO-10303-21;")] {
        let wanted = PartRef::of_file(file, Some(Unit::Mm));
        let here = step::read_part(file, bytes, &wanted).unwrap_err().to_string();
        assert_eq!(reader::part(bytes, &wanted, &Unwatched).unwrap_err().to_string(), here);
    }
    let text = br#"<svg xmlns="http://www.w3.org/2000/svg"><text>A</text></svg>"#;
    let here = artwork::read("a.svg", text, &Wish::default()).unwrap_err();
    assert_eq!(reader::artwork("a.svg", text, &Wish::default(), &Unwatched).unwrap().0.unwrap_err(), here);
    let here = roster::read("a.xlsx", b"PK").unwrap_err().to_string();
    assert_eq!(reader::roster("a.xlsx", b"PK", &Unwatched).unwrap().unwrap_err(), here);
}

/// A GLB of half a kilobyte that promises three milliards of corners.
fn promising() -> Vec<u8> {
    let json = r#"{"asset":{"version":"2.0"},"buffers":[{"byteLength":16}],"bufferViews":[{"buffer":0,"byteLength":16}],
        "accessors":[{"componentType":5126,"count":3000000000,"type":"VEC3","min":[0,0,0],"max":[1,1,1],"sparse":{"count":1,
        "indices":{"bufferView":0,"componentType":5125},"values":{"bufferView":0}}}],
        "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}],"scenes":[{"nodes":[0]}],"scene":0}"#;
    let json = format!("{json}{}", " ".repeat((4 - json.len() % 4) % 4));
    let mut out = Vec::new();
    for word in [0x4654_6c67, 2, 12 + 8 + json.len() as u32 + 8 + 16, json.len() as u32, 0x4e4f_534a] {
        out.extend(u32::to_le_bytes(word));
    }
    out.extend(json.bytes());
    out.extend([16_u32, 0x004e_4942].iter().flat_map(|w| w.to_le_bytes()));
    out.extend([0; 16]);
    out
}

/// A 3MF whose components hold sixty of the one before, eight times over.
fn multiplied() -> Vec<u8> {
    let mut model = String::from(
        r#"<?xml version="1.0"?><model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/></vertices><triangles></triangles></mesh></object>"#,
    );
    for id in 2..10 {
        let sixty = format!("<component objectid=\"{}\"/>", id - 1).repeat(60);
        model += &format!("<object id=\"{id}\" type=\"model\"><components>{sixty}</components></object>");
    }
    model += "</resources><build><item objectid=\"9\"/></build></model>";
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, text) in [
        (
            "[Content_Types].xml",
            r#"<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>"#,
        ),
        (
            "_rels/.rels",
            r#"<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="r" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>"#,
        ),
        ("3D/3dmodel.model", &model),
    ] {
        zip.start_file(name, zip::write::SimpleFileOptions::default()).unwrap();
        zip.write_all(text.as_bytes()).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

#[test]
fn part_files_that_promise_or_multiply_too_much_are_refused_in_words() {
    for (file, bytes, says) in
        [("part.glb", promising(), "promises 3000000000 corners"), ("part.3mf", multiplied(), "more than 100000 times")]
    {
        let refused = reader::part(&bytes, &PartRef::of_file(file, None), &Unwatched).unwrap_err().to_string();
        assert!(refused.contains(says), "{file}: {refused}");
    }
    let wanted = PartRef::of_file("part.stl", Some(Unit::Mm));
    let part = reader::part(&tangled(6_000), &wanted, &Unwatched).unwrap();
    assert!(part.soundness.faults("It").unwrap().contains("at least"), "{:?}", part.soundness.faults("It"));
}

/// Masks that are each masked twice by the one before, and a line of kilometres in dashes: what a reader makes of them is
/// beyond any memory. The program that asked goes on, and so does the next file.
#[test]
fn drawings_that_would_end_a_program_end_their_reader() {
    let dashes = br#"<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100"><path d="M0 0H10000000" stroke="black" stroke-width="1" stroke-dasharray="0.0001" fill="none"/></svg>"#;
    let read = reader::artwork("dashes.svg", dashes, &Wish::default(), &Unwatched);
    assert!(matches!(read, Err(Unread::Memory(_) | Unread::Clock(_))), "{read:?}");
    let clips: String = (1..30_000)
        .map(|k| format!(r##"<clipPath id="p{k}" clip-path="url(#p{})"><path d="M0 0h9v9h-9z"/></clipPath>"##, k - 1))
        .collect();
    let deep = format!(
        r##"<svg xmlns="http://www.w3.org/2000/svg"><defs>{clips}</defs><path clip-path="url(#p29999)" d="M0 0h9v9h-9z"/></svg>"##
    );
    let read = reader::artwork("deep.svg", deep.as_bytes(), &Wish::default(), &Unwatched);
    assert!(matches!(read, Err(Unread::Deep)), "{read:?}");
    let (file, bytes) = demo::DRAWINGS[0];
    assert!(reader::artwork(file, bytes, &Wish::default(), &Unwatched).unwrap().0.is_ok());
}
