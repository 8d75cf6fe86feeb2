//! Letter shapes of a drawing as a lettering face: against the face that they were drawn from, and what is left out.

use artwork::{ArtworkError, FaultKind, Letters, character, letters};
use flat::Region;
use glam::DVec2;
use lettering::{own, set};
use std::fmt::Write;
use trade::{HeldFace, Lettering, OwnFace};

/// In no row of the drawing there are signs alone.
const CHARACTERS: &str = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz012345-/.&%\"_(6789";

/// Each character of a shipped face by itself, 40 mm high.
fn shipped(c: char) -> (Region, Lettering) {
    let lettering = Lettering { face: "overpass".into(), cap_height: 40.0, ..Lettering::default() };
    let set = set(&c.to_string(), &lettering, &[]).unwrap();
    (set.characters[0].region.clone(), lettering)
}

/// A region as the data of an SVG path, y down.
fn path(region: &Region) -> String {
    let ring = |ring: &Vec<DVec2>| {
        let points: Vec<String> = ring.iter().map(|p| format!("{:.5} {:.5}", p.x, -p.y)).collect();
        format!("M{}Z", points.join("L"))
    };
    region.contours().map(ring).collect()
}

/// What is safe to be the name of a group.
fn name(c: char) -> String {
    if c.is_alphanumeric() { c.into() } else { format!("U+{:04X}", u32::from(c)) }
}

fn svg(inside: &str) -> String {
    format!(r#"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 900 400">{inside}</svg>"#)
}

/// The characters in rows of sixteen.
fn sheet() -> String {
    let mut inside = String::from(r#"<g id="layer1" transform="translate(30 20) scale(.8)">"#);
    for (k, c) in CHARACTERS.chars().enumerate() {
        let (x, y) = (70 * (k % 16), 100 * (k / 16));
        let data = path(&shipped(c).0);
        let _ = write!(inside, r#"<g id="{}"><path transform="translate({x} {y})" d="{data}"/></g>"#, name(c));
    }
    svg(&(inside + "</g>"))
}

fn face(read: &Letters) -> OwnFace {
    let drawn: Vec<(char, Region)> = read.letters.iter().map(|l| (l.character, l.region.clone())).collect();
    own::face("Ours", "ours.svg", &drawn, &own::measured(&drawn).unwrap())
}

#[test]
fn letters_drawn_from_a_face_are_as_in_it() {
    let read = letters("ours.svg", sheet().as_bytes()).unwrap();
    assert_eq!(read.told, [""; 0]);
    let characters: String = read.letters.iter().map(|l| l.character).collect();
    assert_eq!(characters.len(), CHARACTERS.len());
    assert!(characters.starts_with("ABC") && characters.contains("z012"), "letters, digits, signs: {characters}");
    let face = face(&read);
    face.check().unwrap();
    own::check(&face).unwrap();
    let ours =
        Lettering { face: "Ours".into(), own: Some(HeldFace::new(&face)), cap_height: 40.0, ..Lettering::default() };
    for c in CHARACTERS.chars() {
        let (theirs, _) = shipped(c);
        let drawn = set(&c.to_string(), &ours, &[]).unwrap();
        let drawn = &drawn.characters[0].region;
        let (a, b) = (theirs.bounds().unwrap(), drawn.bounds().unwrap());
        assert!(a.0.distance(b.0) < 0.02 && a.1.distance(b.1) < 0.02, "{c}: {a:?} {b:?}");
        assert_eq!(theirs.counters(), drawn.counters(), "{c}");
        assert!((theirs.area() / drawn.area() - 1.0).abs() < 1e-3, "{c}: {} {}", theirs.area(), drawn.area());
    }
}

#[test]
fn layers_of_a_dxf_are_letters_each_with_its_faults() {
    let line = |layer: &str, points: &[(f64, f64)]| {
        let vertices: String = points.iter().map(|(x, y)| format!("10\n{x}\n20\n{y}\n")).collect();
        format!("0\nLWPOLYLINE\n8\n{layer}\n90\n{}\n70\n1\n{vertices}", points.len())
    };
    let block = |x: f64, y: f64, w: f64, h: f64| [(x, y), (x + w, y), (x + w, y + h), (x, y + h)];
    let open = |layer: &str| format!("0\nLINE\n8\n{layer}\n10\n0\n20\n0\n11\n9\n21\n9\n");
    let entities = [
        line("H", &block(0.0, 5.0, 8.0, 10.0)),
        line("U+002F", &block(20.0, 4.0, 2.0, 12.0)),
        line("seven", &block(40.0, 5.0, 6.0, 10.0)),
        // a hole, a double of its edge and a stray line
        line("O", &block(60.0, 5.0, 8.0, 10.0)),
        line("O", &block(62.0, 7.0, 4.0, 6.0)),
        line("O", &block(62.0, 7.0, 4.0, 6.0)),
        open("O"),
        line("7", &block(90.0, 5.0, 6.0, 10.0)),
        line("GUIDES", &block(0.0, 0.0, 100.0, 1.0)),
        open("X"),
    ];
    let section = |name: &str, inside: &str| format!("0\nSECTION\n2\n{name}\n{inside}0\nENDSEC\n");
    let text = section("ENTITIES", &entities.concat()) + "0\nEOF\n";
    let read = letters("ours.dxf", text.as_bytes()).unwrap();
    let characters: String = read.letters.iter().map(|l| l.character).collect();
    assert_eq!(characters, "HO7/");
    let areas: Vec<f64> = read.letters.iter().map(|l| (l.region.area() * 1e6).round() / 1e6).collect();
    assert_eq!(areas, [80.0, 80.0 - 24.0, 60.0, 24.0]);
    let kinds: Vec<FaultKind> = read.letters[1].faults.iter().map(|f| f.kind).collect();
    assert_eq!(kinds, [FaultKind::OpenEnd, FaultKind::Double]);
    // where they are in the drawing
    let double = read.letters[1].faults[1].places[0];
    assert!(double.distance(DVec2::new(62.0, 7.0)) < 0.01, "{double}");
    assert!(read.letters.iter().all(|l| l.character == 'O' || l.faults.is_empty()));
    let told = read.told.join(" ");
    for says in [
        "“7” is drawn again as “7”; the second is left out.",
        "“X” is left out: it has nothing that is filled or stroked, or no outline that closes.",
        "“GUIDES”: named after no character, left out.",
    ] {
        assert!(told.contains(says), "{told} should say {says}");
    }
    let face = face(&read);
    // the H is 10 units high
    let lettering =
        Lettering { face: "Ours".into(), own: Some(HeldFace::new(&face)), cap_height: 3.0, ..Lettering::default() };
    let slash = set("/", &lettering, &[]).unwrap().characters[0].region.bounds().unwrap();
    assert!(
        slash.0.distance(DVec2::new(0.0, -0.3)) < 1e-6 && slash.1.distance(DVec2::new(0.6, 3.3)) < 1e-6,
        "{slash:?}"
    );
}

#[test]
fn names_that_stand_for_characters() {
    for (name, c) in [
        ("A", 'A'),
        ("é", 'é'),
        ("7", '7'),
        ("seven", '7'),
        ("slash", '/'),
        ("U+002F", '/'),
        ("uni00C9", 'É'),
        ("_x37_", '7'),
        (" B ", 'B'),
    ] {
        assert_eq!(character(name), Some(c), "{name}");
    }
    for name in ["", " ", "AB", "path17", "layer1", "U+", "U+D800", "U+0020", "U+110000", "_x37", "Seven", "\u{7}"] {
        assert_eq!(character(name), None, "{name}");
    }
}

#[test]
fn drawings_without_letters_say_what_is_needed() {
    let refused = |inside: &str| letters("ours.svg", svg(inside).as_bytes()).unwrap_err().to_string();
    assert!(refused(r#"<rect width="9" height="9"/>"#).contains("a group of its own, named A, B or 7"));
    assert!(
        refused(r#"<g id="A"><path d="M0 0H9" /></g>"#).contains("none of its letters can be drawn. “A” is left out")
    );
    let many: String =
        (0..301).map(|k| format!(r#"<g id="U+{:04X}"><rect width="9" height="9"/></g>"#, 0x4E00 + k)).collect();
    assert!(refused(&many).contains("301 letters; a face has at most 300"));
    // what would take for ever is refused at the first letter that asks for it
    let hairs: String = (0..300).map(|k| format!("M0 {k}L300 {}L300 {}L0 {}Z", 300 - k, 301 - k, k + 1)).collect();
    let tangled = refused(&format!(r#"<g id="A"><path d="{hairs}"/></g>"#));
    assert!(tangled.starts_with("“A”: its outlines cross in more than"), "{tangled}");
    assert!(matches!(letters("a.svg", b"no drawing"), Err(ArtworkError::Format(_))));
    // stray shapes are told with the groups that they may lie in
    let stray = r#"<g id="A"><rect width="9" height="20"/></g><g id="frame"><rect width="90" height="90"/></g>"#;
    let read = letters("a.svg", svg(stray).as_bytes()).unwrap();
    assert_eq!((read.letters.len(), read.told), (1, vec!["“frame”: named after no character, left out.".to_owned()]));
    // what lies in no group at all has no name to be told by
    let bare = r#"<g id="A"><rect width="9" height="20"/></g><rect width="90" height="90"/>"#;
    let told = letters("a.svg", svg(bare).as_bytes()).unwrap().told;
    assert_eq!(told, ["What lies in no group is left out."]);
}

#[test]
fn cut_short_or_altered_files_are_answered() {
    let text = svg(r#"<g id="A"><path d="M0 0L40 0L20 60Z"/></g><g id="B"><circle r="9" cx="50" cy="9"/></g>"#);
    for end in 0..text.len() {
        let _ = letters("a.svg", &text.as_bytes()[..end]);
    }
    let mut bytes = text.clone().into_bytes();
    for at in 0..bytes.len() {
        let was = std::mem::replace(&mut bytes[at], b'9');
        let _ = letters("a.svg", &bytes);
        bytes[at] = was;
    }
    assert_eq!(letters("a.svg", &bytes).unwrap().letters.len(), 2);
}
