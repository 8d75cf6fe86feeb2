//! Sound files of every format, spoilt by chance: whatever comes, the reader answers with what it read or with a sentence,
//! within its limits, and never ends in the middle.

use artwork::Wish;
use reader::Unread;
use rust_xlsxwriter::Workbook;
use solid::Unwatched;
use std::{
    io::Write,
    sync::atomic::{AtomicU64, Ordering},
    time::{Duration, Instant},
};
use trade::{PartRef, Unit};

/// A tetrahedron, in every format that parts come in and in text.
const CORNERS: [[f32; 3]; 4] = [[0.0, 0.0, 0.0], [20.0, 0.0, 0.0], [0.0, 20.0, 0.0], [0.0, 0.0, 20.0]];
const FACETS: [[u32; 3]; 4] = [[0, 2, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]];

fn obj() -> Vec<u8> {
    let corners = CORNERS.map(|[x, y, z]| format!("v {x} {y} {z}\n")).concat();
    let facets = FACETS.map(|[a, b, c]| format!("f {}/1/1 {} {}\n", a + 1, b + 1, c + 1)).concat();
    format!("# mm\no corner\n{corners}{facets}").into_bytes()
}

fn ply() -> Vec<u8> {
    let corners = CORNERS.map(|[x, y, z]| format!("{x} {y} {z}\n")).concat();
    let facets = FACETS.map(|[a, b, c]| format!("3 {a} {b} {c}\n")).concat();
    let head = "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n\
                element face 4\nproperty list uchar int vertex_indices\nend_header\n";
    format!("{head}{corners}{facets}").into_bytes()
}

fn ascii_stl() -> Vec<u8> {
    let facet = |[a, b, c]: [u32; 3]| {
        let corner = |k: u32| CORNERS[k as usize].map(|v| v.to_string()).join(" ");
        let loops = [a, b, c].map(|k| format!("vertex {}\n", corner(k))).concat();
        format!("facet normal 0 0 0\nouter loop\n{loops}endloop\nendfacet\n")
    };
    format!("solid corner\n{}endsolid corner\n", FACETS.map(facet).concat()).into_bytes()
}

fn glb() -> Vec<u8> {
    let mut data: Vec<u8> = CORNERS.iter().flatten().flat_map(|v| (v / 1000.0).to_le_bytes()).collect();
    data.extend(FACETS.iter().flatten().flat_map(|i| i.to_le_bytes()));
    let mut json = format!(
        r#"{{"asset":{{"version":"2.0"}},"buffers":[{{"byteLength":{}}}],"bufferViews":[{{"buffer":0,"byteLength":48}},{{"buffer":0,"byteOffset":48,"byteLength":48}}],"accessors":[{{"bufferView":0,"componentType":5126,"count":4,"type":"VEC3","min":[0,0,0],"max":[0.02,0.02,0.02]}},{{"bufferView":1,"componentType":5125,"count":12,"type":"SCALAR"}}],"meshes":[{{"primitives":[{{"attributes":{{"POSITION":0}},"indices":1}}]}}],"nodes":[{{"mesh":0}}],"scenes":[{{"nodes":[0]}}],"scene":0}}"#,
        data.len()
    );
    json += &" ".repeat((4 - json.len() % 4) % 4);
    let mut out = Vec::new();
    for word in [0x4654_6c67, 2, (28 + json.len() + data.len()) as u32, json.len() as u32, 0x4e4f_534a] {
        out.extend(u32::to_le_bytes(word));
    }
    out.extend(json.bytes());
    out.extend([data.len() as u32, 0x004e_4942].iter().flat_map(|w| w.to_le_bytes()));
    out.extend(data);
    out
}

fn three_mf() -> Vec<u8> {
    let corners = CORNERS.map(|[x, y, z]| format!(r#"<vertex x="{x}" y="{y}" z="{z}"/>"#)).concat();
    let facets = FACETS.map(|[a, b, c]| format!(r#"<triangle v1="{a}" v2="{b}" v3="{c}"/>"#)).concat();
    let model = format!(
        r#"<?xml version="1.0"?><model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices>{corners}</vertices><triangles>{facets}</triangles></mesh></object><object id="2" type="model"><components><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/></components></object></resources><build><item objectid="2"/></build></model>"#
    );
    let types = r#"<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>"#;
    let relations = r#"<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="r" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>"#;
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    // stored as they are: what is spoilt lies in the model, not in its packing
    let plainly = zip::write::SimpleFileOptions::default().compression_method(zip::CompressionMethod::Stored);
    for (name, text) in [("[Content_Types].xml", types), ("_rels/.rels", relations), ("3D/3dmodel.model", &model)] {
        zip.start_file(name, plainly).unwrap();
        zip.write_all(text.as_bytes()).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

fn table() -> Vec<u8> {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    for (row, cells) in [["cavity", "note"], ["1", "ä"], ["2", "b"]].iter().enumerate() {
        for (column, cell) in cells.iter().enumerate() {
            sheet.write(row as u32, column as u16, *cell).unwrap();
        }
    }
    sheet.write(3, 0, 12.5).unwrap();
    book.save_to_buffer().unwrap()
}

/// Sound files by name.
fn sound() -> Vec<(String, Vec<u8>)> {
    let mut all: Vec<(String, Vec<u8>)> = vec![
        ("corner.obj".into(), obj()),
        ("corner.ply".into(), ply()),
        ("corner.stl".into(), ascii_stl()),
        ("block.stl".into(), solid::formats::stl::write(&demo::parts::plain_block())),
        ("corner.glb".into(), glb()),
        ("corner.3mf".into(), three_mf()),
        ("table.csv".into(), b"cavity;note\n1;\"a; b\"\n2;\xc3\xa4\n".to_vec()),
        ("table.xlsx".into(), table()),
    ];
    // one in many of these: the kernel takes its time for each
    let step = demo::jobs().into_iter().find(|d| d.job.part.file.ends_with(".step")).expect("a demo part is of STEP");
    all.push((step.job.part.file, step.part));
    all.extend(demo::DRAWINGS.iter().map(|(file, bytes)| ((*file).to_owned(), bytes.to_vec())));
    all
}

/// Numbers by chance, the same ones every time (Marsaglia's xorshift64).
struct Chance(u64);

impl Chance {
    fn below(&mut self, most: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 % most.max(1) as u64) as usize
    }
}

/// Spoils a file in one to four places.
fn spoilt(sound: &[u8], chance: &mut Chance) -> Vec<u8> {
    const ODD: [&[u8]; 12] = [
        b"99999999999",
        b"-1",
        b"1e308",
        b"NaN",
        b"0",
        b"\xff\xff\xff\xff",
        b"\0\0\0\0",
        b"\x7f\xff\xff\xff",
        b"#REF",
        b"\"",
        b"<",
        b"\n",
    ];
    let mut bytes = sound.to_vec();
    for _ in 0..=chance.below(4) {
        let at = chance.below(bytes.len());
        let length = 1 + chance.below(40);
        let end = (at + length).min(bytes.len());
        match chance.below(8) {
            0 => bytes[at] ^= 1 << chance.below(8),
            1 => bytes.truncate(at.max(1)),
            2 => drop(bytes.drain(at..end)),
            3 => {
                let again = bytes[at..end].to_vec();
                bytes.splice(at..at, again.repeat(1 + chance.below(50)));
            }
            4 => bytes[at..end].fill(0),
            5 => drop(bytes.splice(at..at, ODD[chance.below(ODD.len())].iter().copied())),
            6 => {
                let odd = ODD[chance.below(ODD.len())];
                let end = (at + odd.len()).min(bytes.len());
                bytes[at..end].copy_from_slice(&odd[..end - at]);
            }
            // a number of a text becomes another one
            _ => {
                if let Some(digit) = bytes[at..].iter().position(u8::is_ascii_digit) {
                    bytes[at + digit] = b'0' + chance.below(10) as u8;
                }
            }
        }
        if bytes.is_empty() {
            bytes.push(0);
        }
    }
    bytes
}

/// What the reader says of a file; `None` where it read it.
fn told(file: &str, bytes: &[u8]) -> Option<String> {
    let unread = |read: Result<Option<String>, Unread>| read.unwrap_or_else(|e| Some(e.to_string()));
    match file.rsplit_once('.').map_or("", |(_, ending)| ending) {
        "csv" | "xlsx" => unread(reader::roster(file, bytes, &Unwatched).map(Result::err)),
        "svg" | "dxf" => unread(
            reader::artwork(file, bytes, &Wish::default(), &Unwatched)
                .map(|(read, _)| read.err().map(|e| e.to_string())),
        ),
        _ => reader::part(bytes, &PartRef::of_file(file, Some(Unit::Mm)), &Unwatched).err().map(|e| e.to_string()),
    }
}

/// Tries mutants of the sound files, two at once, and says of how many kinds the answers were.
fn tried(seeds: std::ops::Range<u64>) {
    let sound = sound();
    for (file, bytes) in &sound {
        assert_eq!(told(file, bytes), None, "{file} is sound");
    }
    let (next, last) = (AtomicU64::new(seeds.start), seeds.end);
    let (read, refused) = (AtomicU64::new(0), AtomicU64::new(0));
    std::thread::scope(|scope| {
        let one = || {
            loop {
                let seed = next.fetch_add(1, Ordering::Relaxed);
                if seed >= last {
                    return;
                }
                let mut chance = Chance(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1);
                let (file, bytes) = &sound[chance.below(sound.len())];
                let spoilt = spoilt(bytes, &mut chance);
                let begun = Instant::now();
                let told = told(file, &spoilt);
                // a part may take its three minutes, and little else beside it
                assert!(begun.elapsed() < reader::PART.clock + Duration::from_secs(20), "{file}, seed {seed}");
                match told {
                    None => read.fetch_add(1, Ordering::Relaxed),
                    Some(says) => {
                        assert!(says.len() > 10, "{file}, seed {seed}: {says}");
                        // the kernel that reads STEP is others' work, and may end its own process
                        let ended = if file.ends_with(".step") { "panicked" } else { "in the middle of it" };
                        for fault in [ended, "can't be started", "panicked", "error of its own"] {
                            assert!(!says.contains(fault), "{file}, seed {seed}: {says}");
                        }
                        refused.fetch_add(1, Ordering::Relaxed)
                    }
                };
            }
        };
        scope.spawn(one);
        scope.spawn(one);
    });
    let (read, refused) = (read.into_inner(), refused.into_inner());
    println!("{read} read, {refused} refused");
    // neither is everything refused at the door, nor is anything taken
    assert!(read * 20 > last - seeds.start && refused * 20 > last - seeds.start, "{read} read, {refused} refused");
}

#[test]
fn spoilt_files_are_read_or_refused_in_words() {
    tried(0..240);
}

#[test]
#[ignore = "long: some minutes"]
fn ten_thousand_spoilt_files_are_read_or_refused_in_words() {
    tried(1_000..11_000);
}
