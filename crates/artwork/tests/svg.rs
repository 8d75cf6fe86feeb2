//! SVG drawings as regions: areas against closed forms, and what must not be drawn, fetched or run.

use artwork::{ArtworkError, Drawing, FaultKind, Wish};
use std::f64::consts::PI;

fn read(file: &str, bytes: &[u8]) -> Result<Drawing, ArtworkError> {
    artwork::read(file, bytes, &Wish::default())
}

fn svg(inside: &str) -> String {
    format!(
        r##"<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 200 100">{inside}</svg>"##
    )
}

fn drawn(inside: &str) -> Drawing {
    read("mark.svg", svg(inside).as_bytes()).unwrap_or_else(|e| panic!("{inside}: {e}"))
}

fn refused(text: &str) -> ArtworkError {
    read("mark.svg", text.as_bytes()).unwrap_err()
}

/// All drawings here are 100 high, so that areas stay what they are drawn with. Circles are read as four cubics, which
/// are up to 0.027 % off in radius (a property of that construction, common knowledge).
#[test]
fn areas_are_those_of_the_shapes() {
    let circle = PI * 2500.0;
    for (inside, area) in [
        (r#"<rect width="60" height="100"/>"#, 6000.0),
        (r#"<circle cx="50" cy="50" r="50"/>"#, circle),
        (r#"<ellipse cx="80" cy="50" rx="80" ry="50"/>"#, PI * 80.0 * 50.0),
        // a ring by even-odd, the same full by non-zero, and a ring again by opposite windings
        (r#"<path fill-rule="evenodd" d="M0 0H100V100H0Z M25 25H75V75H25Z"/>"#, 7500.0),
        (r#"<path d="M0 0H100V100H0Z M25 25H75V75H25Z"/>"#, 10000.0),
        (r#"<path d="M0 0H100V100H0Z M25 25V75H75V25Z"/>"#, 7500.0),
        // strokes are widened: butt, square and round ends, mitred corners, dashes
        (r#"<path fill="none" stroke="black" stroke-width="100" d="M0 50H80"/>"#, 8000.0),
        (r#"<path fill="none" stroke="black" stroke-width="100" stroke-linecap="square" d="M50 50H100"/>"#, 15000.0),
        (
            r#"<path fill="none" stroke="black" stroke-width="100" stroke-linecap="round" d="M50 50H100"/>"#,
            5000.0 + circle,
        ),
        (
            r#"<rect x="10" y="10" width="80" height="80" fill="none" stroke="black" stroke-width="20"/>"#,
            10000.0 - 3600.0,
        ),
        (r#"<path fill="none" stroke="black" stroke-width="100" stroke-dasharray="20 10" d="M0 50H90"/>"#, 6000.0),
        // what overlaps counts once; white takes away what lies below and nothing above
        (r#"<rect width="60" height="100"/><rect x="40" width="60" height="100"/>"#, 10000.0),
        (r#"<rect width="100" height="100"/><circle cx="50" cy="50" r="30" fill="white"/>"#, 10000.0 - PI * 900.0),
        (
            r##"<rect width="100" height="100"/><circle cx="50" cy="50" r="30" fill="#fff"/><circle cx="50" cy="50" r="10"/>"##,
            10000.0 - PI * 800.0,
        ),
        // groups, transforms, uses, clips, styles
        (r#"<g transform="translate(10 0) scale(.5 1)"><rect width="100" height="100"/></g>"#, 5000.0),
        (r##"<defs><rect id="a" width="20" height="100"/></defs><use href="#a"/><use href="#a" x="50"/>"##, 4000.0),
        (
            r##"<clipPath id="c"><circle cx="50" cy="50" r="50"/></clipPath><rect width="200" height="100" clip-path="url(#c)"/>"##,
            circle,
        ),
        (
            r#"<style>.n{fill:none}</style><rect width="30" height="100"/><rect class="n" width="100" height="100"/>"#,
            3000.0,
        ),
        // nothing that isn't seen
        (
            r#"<rect width="30" height="100"/><rect width="100" height="100" opacity="0"/><rect width="99" height="100" display="none"/>"#,
            3000.0,
        ),
    ] {
        let found = drawn(inside).region.area();
        assert!((found - area).abs() < 5.5e-4 * area, "{inside}: {found}, not {area}");
    }
}

#[test]
fn it_stands_upright_at_the_origin_and_knows_its_size_where_that_is_said() {
    // an L: its foot is below
    let l = r#"<path d="M20 10V90H80V70H40V10Z"/>"#;
    let Drawing { region, height, .. } = drawn(l);
    let (low, high) = region.bounds().unwrap();
    assert!(low.length() < 1e-6 && (high.y - 100.0).abs() < 1e-6 && (high.x - 75.0).abs() < 1e-3, "{low} {high}");
    assert_eq!(height, None, "pixels are no size");
    let middle = region.contours().flatten().map(|p| p.x).fold(0.0, f64::max);
    let right = region.contours().flatten().filter(|p| (p.x - middle).abs() < 1e-3);
    assert!(right.map(|p| p.y).fold(0.0, f64::max) < 30.0, "the foot of the L reaches right at the bottom");
    for (size, mm) in [(r#"width="40mm" height="20mm""#, 16.0), (r#"width="4in" height="2in""#, 40.64)] {
        let text = svg(l).replacen("<svg ", &format!("<svg {size} "), 1);
        let height = read("mark.svg", text.as_bytes()).unwrap().height.unwrap();
        assert!((height - mm).abs() < 1e-3, "{size}: {height}");
    }
}

#[test]
fn outermost_named_groups_are_chosen() {
    let text = svg(r#"<g id="badge"><g id="inner"><rect width="60" height="100"/></g></g>
           <g transform="scale(.5)"><g id="notes"><rect x="200" width="20" height="40"/></g></g><rect x="150" width="5" height="50"/>"#);
    let of = |layers: Option<&[&str]>| {
        let layers = layers.map(|l| l.iter().map(|&l| l.to_owned()).collect());
        artwork::read("mark.svg", text.as_bytes(), &Wish { layers, ..Wish::default() })
    };
    let all = of(None).unwrap();
    assert!(all.asks && (all.region.area() - 6450.0).abs() < 1.0, "{}", all.region.area());
    let layers: Vec<(&str, usize)> = all.layers.iter().map(|l| (l.name.as_str(), l.shapes)).collect();
    assert_eq!(layers, [("badge", 1), ("notes", 1), ("", 1)]);
    // each fills the height by itself: 60 by 100, 10 by 20, 5 by 50
    for (layer, area) in [("badge", 6000.0), ("notes", 5000.0), ("", 1000.0)] {
        let one = of(Some(&[layer])).unwrap();
        assert!((one.region.area() - area).abs() < 1.0, "{layer}: {}", one.region.area());
    }
    assert_eq!(of(Some(&[])).unwrap_err().by_wish().unwrap().len(), 3);
}

#[test]
fn an_outline_that_crosses_itself_is_told_where_it_does() {
    let bow = drawn(r#"<path d="M0 0L100 100V0L0 100Z"/>"#);
    let crossing = bow.faults.iter().find(|f| f.kind == FaultKind::SelfCrossing).unwrap();
    assert_eq!(crossing.count, 1);
    assert!(crossing.places[0].distance(glam::DVec2::splat(50.0)) < 0.2, "{:?}", crossing.places);
    // what lies over something else, and the edge of a stroke, are no fault
    let plain = drawn(
        r#"<rect width="60" height="90"/><rect x="50" y="50" width="60" height="50"/><path fill="none" stroke="red" d="M0 0L50 50V0L0 50"/>"#,
    );
    assert_eq!(plain.faults, []);
}

#[test]
fn what_was_changed_or_left_out_is_told() {
    let drawing = drawn(
        r##"<script>alert(1)</script><image href="http://example.org/a.png" width="9" height="9"/>
            <use xlink:href="other.svg#x"/><path d="M0 0H90V100"/><rect x="10" y="5" width="5" height="5" fill="white"/>"##,
    );
    let told = drawing.told;
    for says in [
        "2 shapes make 1 closed region with 1 hole.",
        "1 white shape cut out",
        "1 open outline closed straight",
        "1 script left out and not run",
        "1 picture left out",
        "2 references to something outside left out and not fetched",
    ] {
        assert!(told.iter().any(|t| t.contains(says)), "{told:?} should say {says}");
    }
    // what was drawn and is lacking, not what was cut out, closed or would have been run
    let lacking: Vec<&str> =
        drawing.left_out.iter().map(|s| s.split_once(" left").map_or("", |(what, _)| what)).collect();
    assert_eq!(lacking, ["1 picture", "2 references to something outside"]);
    assert_eq!(drawn(r#"<rect width="20" height="9"/>"#).left_out, [""; 0]);
}

#[test]
fn what_asks_too_much_or_isnt_drawn_is_refused_in_words() {
    let nested = svg(&format!("{}<rect width='9' height='9'/>{}", "<g>".repeat(100_000), "</g>".repeat(100_000)));
    let bomb = r#"<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>
        <svg xmlns="http://www.w3.org/2000/svg"><desc>&b;</desc></svg>"#;
    let fetched =
        r#"<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"/>"#;
    for (text, says) in [
        (nested.as_str(), "are nested"),
        (bomb, "entity, “b”"),
        (fetched, "entity, “x”"),
        (&svg("<text x='1' y='9'>MARROWBY</text>"), "text (“MARROWBY”)"),
        (&svg(""), "nothing that is filled"),
        (&svg("<rect width='0' height='10'/>"), "nothing that is filled"),
        (&svg("<path d='M0 0H10'/>"), "nothing that is filled"),
        ("<svg><rect></svg>", "line 1"),
        ("<html></html>", "begins with “html”"),
        ("", "is not an SVG"),
        ("solid part", "is not an SVG"),
    ] {
        let error = refused(text).to_string();
        assert!(error.contains(says), "{error} should say {says}");
    }
    // deep, and not too deep
    let deep = svg(&format!("{}<rect width='9' height='9'/>{}", "<g opacity='.9'>".repeat(190), "</g>".repeat(190)));
    assert!(read("a.svg", deep.as_bytes()).is_ok());
    // each group draws the one before ten times over
    let mut defs = String::from("<g id='g0'><rect width='1' height='1'/></g>");
    for k in 1..9 {
        defs += &format!("<g id='g{k}'>{}</g>", format!("<use href='#g{}'/>", k - 1).repeat(10));
    }
    let error = refused(&svg(&format!("<defs>{defs}</defs><use href='#g8'/>"))).to_string();
    assert!(error.contains("draws more than"), "{error}");
    assert!(matches!(read("a.png", &[0x89, b'P', 0xff]), Err(ArtworkError::Format(_))));
    // plain entities, as drawing programs write them
    let plain = r#"<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd" [<!ENTITY ns "http://www.w3.org/2000/svg">]><svg xmlns="&ns;" viewBox="0 0 10 10"><rect width="5" height="10"/></svg>"#;
    assert!((read("a.svg", plain.as_bytes()).unwrap().region.area() - 5000.0).abs() < 0.1);
}

#[test]
fn what_is_drawn_over_and_over_is_joined_and_what_crosses_without_end_is_refused() {
    let twice = drawn(&"<circle cx='50' cy='50' r='50'/>".repeat(5000));
    assert!((twice.region.area() - PI * 2500.0).abs() < 5.0);
    assert!(twice.told.iter().any(|t| t == "4999 shapes drawn more than once left out."), "{:?}", twice.told);
    // four thousand hairs that cross one another millions of times
    let hair = |k: u64| {
        let at = |n: u64| (k.wrapping_mul(n) % 20_000) as f64 / 100.0;
        format!("<path stroke='black' stroke-width='.02' d='M{} 0L{} 100'/>", at(7919), at(104_729))
    };
    assert_eq!(refused(&svg(&(0..4000).map(hair).collect::<String>())), ArtworkError::Tangled);
    // a wheel with more teeth than points are kept
    let tooth = |k: u32| {
        let (radius, angle) = (if k.is_multiple_of(2) { 50.0 } else { 40.0 }, 2.0 * PI * f64::from(k) / 60_000.0);
        format!("L{} {}", 50.0 + radius * angle.cos(), 50.0 + radius * angle.sin())
    };
    let error = refused(&svg(&format!("<path d='M100 50{}Z'/>", (1..60_000).map(tooth).collect::<String>())));
    assert!(matches!(error, ArtworkError::TooFine(_)), "{error}");
    assert!(error.to_string().contains("at most 50000"), "{error}");
}

#[test]
fn no_cut_or_altered_file_stops_the_reader() {
    let whole = svg(r##"<defs><clipPath id="c"><circle cx="50" cy="50" r="50"/></clipPath></defs>
            <g transform="rotate(10)" clip-path="url(#c)"><path stroke="#000" d="M0 0C10 90 80 10 90 100L5 5Z"/></g>"##);
    let (mut read_some, mut refused_some) = (0, 0);
    for at in 0..whole.len() {
        for altered in [whole.as_bytes()[..at].to_vec(), {
            let mut bytes = whole.clone().into_bytes();
            bytes[at] = b"9<&\"-e"[at % 6];
            bytes
        }] {
            match read("a.svg", &altered) {
                Ok(drawing) => {
                    assert!(drawing.region.contours().flatten().all(|p| p.is_finite()));
                    read_some += 1;
                }
                Err(error) => {
                    assert!(!error.to_string().is_empty());
                    refused_some += 1;
                }
            }
        }
    }
    assert!(read_some > 50 && refused_some > 300, "{read_some} read, {refused_some} refused");
}

#[test]
fn the_outline_that_a_job_keeps_gives_the_region_back() {
    use trade::{Figure, Mark, figure::Artwork};
    let drawing =
        drawn(r#"<path fill-rule="evenodd" d="M0 0H100V100H0Z M25 25H75V75H25Z"/><circle cx="150" cy="50" r="20"/>"#);
    let outline = artwork::outline(&drawing.region);
    let artwork = Artwork { file: "two rings.svg".into(), outline, height: 8.0, told: drawing.told, left_out: vec![] };
    let mark = Mark { figure: Some(Figure::Artwork(artwork)), ..Mark::default() };
    let set = lettering::drawn(&mark).unwrap();
    let area: f64 = set.characters.iter().map(|c| c.region.area()).sum();
    assert!((area - (7500.0 + PI * 400.0) * 0.0064).abs() < 0.02, "{area}");
    assert_eq!((set.characters.len(), set.characters.iter().map(|c| c.region.counters()).sum::<usize>()), (2, 1));
    assert!((set.size.y - 8.0).abs() < 1e-6 && (set.size.x - 170.0 * 0.08).abs() < 0.01);
    assert!(drawing.region.contours().map(Vec::len).sum::<usize>() < 300);
}
