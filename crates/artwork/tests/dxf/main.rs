//! DXF drawings as regions: areas against closed forms, faults found where they are, and what is refused.

mod writer;

use artwork::{ArtworkError, Drawing, FaultKind, Wish, read};
use std::f64::consts::PI;
use writer::{Dxf, area, circle, item, line, numbered, polyline, square};

#[test]
fn areas_and_heights_are_those_of_the_shapes() {
    let tau = 2.0 * PI;
    let hatch = |loops: &str| {
        let begin = item("HATCH", &[(8, "0"), (10, "0"), (20, "0"), (30, "0"), (2, "SOLID"), (70, "1"), (71, "0")]);
        begin + loops + "75\n0\n76\n1\n98\n0\n"
    };
    for (what, entities, high, mm2) in [
        ("circle", circle("0", (3.0, 4.0), 10.0), 20.0, 100.0 * PI),
        ("ellipse", numbered("ELLIPSE", "0", &[(11, 0.0), (21, 10.0), (40, 0.4), (41, 0.0), (42, tau)]), 20.0, 40.0 * PI),
        (
            "half an ellipse, closed by a line",
            numbered("ELLIPSE", "0", &[(11, 10.0), (21, 0.0), (40, 0.5), (41, 0.0), (42, PI)])
                + &line("0", (-10.0, 0.0), (10.0, 0.0)),
            5.0,
            25.0 * PI,
        ),
        // a slot: two bulges of one are half circles
        ("slot", polyline("0", 0.0, &[(0.0, 0.0, 0.0), (20.0, 0.0, 1.0), (20.0, 8.0, 0.0), (0.0, 8.0, 1.0)]), 8.0, 160.0 + 16.0 * PI),
        // a quarter's bulge is tan(π/8); a negative one bites into the corner
        (
            "corner bitten out",
            polyline("0", 0.0, &[(0.0, 0.0, 0.0), (10.0, 0.0, 0.0), (10.0, 5.0, -(PI / 8.0).tan()), (5.0, 10.0, 0.0), (0.0, 10.0, 0.0)]),
            10.0,
            100.0 - 25.0 * PI / 4.0,
        ),
        (
            "lines and an arc in any order",
            line("0", (0.0, 0.0), (10.0, 0.0))
                + &line("0", (0.0, 10.0), (0.0, 0.0))
                + &numbered("ARC", "0", &[(10, 0.0), (20, 0.0), (40, 10.0), (50, 0.0), (51, 90.0)]),
            10.0,
            25.0 * PI,
        ),
        ("ring by even-odd", circle("0", (0.0, 0.0), 10.0) + &circle("0", (0.0, 0.0), 6.0), 20.0, 64.0 * PI),
        ("two layers are joined, not taken from one another", circle("a", (0.0, 0.0), 10.0) + &circle("b", (0.0, 0.0), 6.0), 20.0, 100.0 * PI),
        ("wide line, its corners sharp", polyline("0", 2.0, &[(0.0, 0.0, 0.0), (10.0, 0.0, 0.0), (10.0, 10.0, 0.0), (0.0, 10.0, 0.0)]), 12.0, 80.0),
        (
            "polyline of the old kind",
            numbered("POLYLINE", "0", &[(66, 1.0), (70, 1.0)])
                + &[(0.0, 0.0), (10.0, 0.0), (0.0, 10.0)].map(|(x, y)| numbered("VERTEX", "0", &[(10, x), (20, y)])).concat()
                + "0\nSEQEND\n",
            10.0,
            50.0,
        ),
        ("solid, its corners crosswise", numbered("SOLID", "0", &[(10, 0.0), (20, 0.0), (11, 10.0), (21, 0.0), (12, 0.0), (22, 10.0), (13, 10.0), (23, 10.0)]), 10.0, 100.0),
        (
            "hatch of a polyline with a round hole that runs clockwise",
            hatch(
                &("91\n2\n92\n2\n72\n0\n73\n1\n93\n4\n10\n0\n20\n0\n10\n10\n20\n0\n10\n10\n20\n10\n10\n0\n20\n10\n97\n0\n".to_owned()
                    + "92\n1\n93\n2\n72\n2\n10\n5\n20\n5\n40\n3\n50\n0\n51\n180\n73\n0\n72\n2\n10\n5\n20\n5\n40\n3\n50\n180\n51\n360\n73\n0\n97\n0\n"),
            ),
            10.0,
            100.0 - 9.0 * PI,
        ),
        (
            "full circle of three quarters and one, both rational",
            spline_circle(10.0),
            20.0,
            100.0 * PI,
        ),
        ("seen from behind", numbered("ARC", "0", &[(10, 0.0), (20, 0.0), (40, 10.0), (50, 0.0), (51, 90.0), (230, -1.0)]) + &line("0", (0.0, 0.0), (-10.0, 0.0)) + &line("0", (0.0, 0.0), (0.0, 10.0)), 10.0, 25.0 * PI),
    ] {
        let drawing = Dxf::of(entities).drawn();
        let found = area(&drawing);
        assert!((found - mm2).abs() < 3e-4 * mm2, "{what}: {found}, not {mm2}; {:?}", drawing.told);
        assert!((drawing.height.unwrap() - high).abs() < 2e-3 * high, "{what}: {:?}", drawing.height);
        assert!(drawing.faults.is_empty() && drawing.sized, "{what}: {:?}", drawing.faults);
        assert_eq!(drawing.asks, drawing.layers.len() > 1, "{what}");
    }
}

/// A circle as a rational B-spline of degree two: nine points, weights 1 and 1/√2 in turn (Piegl and Tiller, The
/// NURBS Book, example of the full circle by a square; from memory).
fn spline_circle(radius: f64) -> String {
    let around = [(1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1), (1, 0)];
    let mut pairs = vec![(70, 4.0), (71, 2.0)];
    pairs.extend([0.0, 0.0, 0.0, 1.0, 1.0, 2.0, 2.0, 3.0, 3.0, 4.0, 4.0, 4.0].map(|k| (40, k)));
    for (k, (x, y)) in around.into_iter().enumerate() {
        let weight = if k % 2 == 0 { 1.0 } else { 0.5_f64.sqrt() };
        pairs.extend([(41, weight), (10, f64::from(x) * radius), (20, f64::from(y) * radius)]);
    }
    numbered("SPLINE", "0", &pairs)
}

#[test]
fn blocks_are_put_in_turned_scaled_and_repeated_and_may_not_lie_in_themselves() {
    let insert = |name: &str, pairs: &[(i32, f64)]| {
        let values: Vec<(i32, String)> = pairs.iter().map(|(c, v)| (*c, v.to_string())).collect();
        let mut all = vec![(8, "art"), (2, name)];
        all.extend(values.iter().map(|(c, v)| (*c, v.as_str())));
        item("INSERT", &all)
    };
    let block =
        |name: &str, inside: &str| item("BLOCK", &[(2, name), (10, "1"), (20, "1")]) + inside + &item("ENDBLK", &[]);
    let mut dxf = Dxf::of(insert("pair", &[(10, 50.0), (20, 20.0), (41, 2.0), (42, 3.0), (50, 90.0)]));
    dxf.blocks = block("dot", &circle("0", (1.0, 1.0), 1.0))
        + &block("pair", &insert("dot", &[(10, 1.0), (20, 1.0), (70, 2.0), (44, 4.0), (71, 3.0), (45, 5.0)]));
    let drawing = dxf.drawn();
    assert_eq!(drawing.region.islands.len(), 6);
    assert!((area(&drawing) - 36.0 * PI).abs() < 0.03, "{}", area(&drawing));
    // turned by a quarter: what was 4 + 2 wide and twice as wide again is 12 high
    assert!((drawing.height.unwrap() - 12.0).abs() < 1e-3);
    assert_eq!(drawing.layers.iter().map(|l| (l.name.as_str(), l.shapes)).collect::<Vec<_>>(), [("art", 6)]);

    dxf.blocks = block("pair", &insert("other", &[])) + &block("other", &insert("pair", &[]));
    let error = dxf.read(&Wish::default()).unwrap_err().to_string();
    assert!(error.contains("“pair” contains itself"), "{error}");
    dxf.blocks = String::new();
    assert!(dxf.read(&Wish::default()).unwrap_err().to_string().contains("“pair”, which it doesn't have"));
    // ten in each of ten of each of ten …
    dxf.blocks = block("b0", &circle("0", (0.0, 0.0), 1.0));
    for k in 1..9 {
        dxf.blocks += &block(&format!("b{k}"), &insert(&format!("b{}", k - 1), &[]).repeat(10));
    }
    dxf.entities = insert("b8", &[]);
    assert_eq!(dxf.read(&Wish::default()).unwrap_err(), ArtworkError::TooMany);
    dxf.entities = insert("b0", &[(70, 1e9), (71, 1e9)]);
    assert_eq!(dxf.read(&Wish::default()).unwrap_err(), ArtworkError::TooMany);
}

#[test]
fn layers_are_chosen_and_what_is_hidden_is_drawn_only_if_wished() {
    let mut dxf = Dxf::of(
        circle("badge", (0.0, 0.0), 10.0)
            + &square("frame", (-20.0, -20.0), 40.0)
            + &circle("notes", (0.0, 0.0), 100.0),
    );
    dxf.tables =
        item("LAYER", &[(2, "notes"), (70, "1"), (62, "7")]) + &item("LAYER", &[(2, "badge"), (70, "0"), (62, "7")]);
    let drawing = dxf.drawn();
    assert!((area(&drawing) - 1600.0).abs() < 0.1 && drawing.asks, "which of the two is to be said");
    let layers: Vec<(&str, bool)> = drawing.layers.iter().map(|l| (l.name.as_str(), l.drawn)).collect();
    assert_eq!(layers, [("badge", true), ("frame", true), ("notes", false)]);
    let only = |name: &str| area(&dxf.read(&Wish { layers: Some(vec![name.into()]), ..Wish::default() }).unwrap());
    assert!((only("badge") - 100.0 * PI).abs() < 0.1 && (only("notes") - 1e4 * PI).abs() < 10.0);
    let none = Wish { layers: Some(Vec::new()), ..Wish::default() };
    let error = dxf.read(&none).unwrap_err();
    let layers: Vec<&str> = error.by_wish().unwrap().iter().map(|l| l.name.as_str()).collect();
    assert_eq!(layers, ["badge", "frame", "notes"]);
}

#[test]
fn the_unit_is_the_files_or_asked_for() {
    for (number, mm) in [(1, 25.4), (2, 304.8), (4, 1.0), (5, 10.0), (6, 1000.0), (13, 0.001)] {
        let dxf = Dxf { header: format!("9\n$INSUNITS\n70\n{number}\n"), ..Dxf::of(circle("0", (0.0, 0.0), 0.01)) };
        let height = dxf.drawn().height.unwrap();
        assert!((height - 0.02 * mm).abs() < 1e-4 * mm, "{number}: {height}");
    }
    for header in ["", "9\n$INSUNITS\n70\n0\n"] {
        let dxf = Dxf { header: header.into(), ..Dxf::of(circle("0", (0.0, 0.0), 1.0)) };
        let asked = dxf.drawn();
        assert!(asked.asks && !asked.sized && asked.height.is_none());
        let said = dxf.read(&Wish { unit: Some(25.4), ..Wish::default() }).unwrap();
        assert!(!said.asks && (said.height.unwrap() - 50.8).abs() < 0.01, "{:?}", said.height);
    }
}

#[test]
fn faults_are_counted_where_they_are_and_mended_where_that_is_safe() {
    let kinds = |drawing: &Drawing| drawing.faults.iter().map(|f| (f.kind, f.count)).collect::<Vec<_>>();
    // a frame that is never at fault, 100 high
    let frame = square("0", (0.0, 0.0), 100.0);
    let with = |entities: String| Dxf::of(frame.clone() + &entities);
    for (what, entities, expected, lost) in [
        (
            "open",
            line("0", (20.0, 20.0), (30.0, 20.0)) + &line("0", (30.0, 20.0), (30.0, 40.0)),
            (FaultKind::OpenEnd, 2),
            0.0,
        ),
        (
            "small gap",
            line("0", (20.0, 20.0), (30.0, 20.0))
                + &line("0", (30.02, 20.0), (20.0, 40.0))
                + &line("0", (20.0, 40.0), (20.0, 20.0)),
            (FaultKind::Gap, 1),
            100.0,
        ),
        ("double", square("0", (20.0, 20.0), 10.0) + &square("0", (20.0, 20.0), 10.0), (FaultKind::Double, 1), 100.0),
        (
            "bow",
            polyline("0", 0.0, &[(20.0, 20.0, 0.0), (40.0, 40.0, 0.0), (40.0, 20.0, 0.0), (20.0, 40.0, 0.0)]),
            (FaultKind::Crossing, 1),
            200.0,
        ),
        ("dust", circle("0", (50.0, 50.0), 0.05), (FaultKind::Dust, 1), 0.0),
    ] {
        let drawing = with(entities).drawn();
        let found: Vec<_> = kinds(&drawing).into_iter().filter(|(k, _)| *k != FaultKind::Touching).collect();
        assert_eq!(found, [expected], "{what}: {:?}", drawing.told);
        assert!((area(&drawing) - (1e4 - lost)).abs() < 0.5, "{what}: {}", area(&drawing));
        assert_eq!(drawing.told.last().map(String::as_str), drawing.faults.last().map(|f| f.says.as_str()), "{what}");
    }
    let bow =
        with(polyline("0", 0.0, &[(20.0, 20.0, 0.0), (40.0, 40.0, 0.0), (40.0, 20.0, 0.0), (20.0, 40.0, 0.0)])).drawn();
    let crossing = bow.faults.iter().find(|f| f.kind == FaultKind::Crossing).unwrap();
    assert!(crossing.places[0].distance(glam::DVec2::splat(30.0)) < 1e-3 && !crossing.mended && bow.asks);

    // two squares corner to corner are cut free of one another
    let drawing = Dxf::of(square("0", (0.0, 0.0), 10.0) + &square("0", (10.0, 10.0), 10.0)).drawn();
    assert_eq!(kinds(&drawing), [(FaultKind::Touching, 1)]);
    assert_eq!(drawing.region.islands.len(), 2);
    let [one, other] = [0, 1].map(|k| &drawing.region.islands[k].outer);
    let apart = one.iter().flat_map(|a| other.iter().map(move |b| a.distance(*b))).fold(f64::INFINITY, f64::min);
    assert!(apart > 0.05, "{apart}");

    // narrower than the process makes: a hairline of a piece that is wide elsewhere, and a piece of its own
    let wish = Wish { least: Some(0.5), ..Wish::default() };
    let hair = polyline(
        "0",
        0.0,
        &[
            (0.0, 0.0, 0.0),
            (10.0, 0.0, 0.0),
            (10.0, 4.0, 0.0),
            (30.0, 4.0, 0.0),
            (30.0, 4.3, 0.0),
            (10.0, 4.3, 0.0),
            (10.0, 10.0, 0.0),
            (0.0, 10.0, 0.0),
        ],
    );
    let drawing = Dxf::of(hair + &circle("0", (40.0, 5.0), 0.2)).read(&wish).unwrap();
    assert_eq!(kinds(&drawing), [(FaultKind::Hairline, 1), (FaultKind::Narrow, 1)]);
    assert!(drawing.told.iter().any(|t| t.contains("nowhere as wide as 0.50 mm")), "{:?}", drawing.told);
    let wish = Wish { least: Some(0.25), ..Wish::default() };
    assert_eq!(Dxf::of(square("0", (0.0, 0.0), 10.0) + &circle("0", (40.0, 5.0), 0.2)).read(&wish).unwrap().faults, []);

    let hatch = |solid: &str| {
        let header = item("HATCH", &[(8, "0"), (70, solid), (91, "1"), (92, "2"), (72, "0"), (73, "1"), (93, "3")]);
        Dxf::of(header + "10\n0\n20\n0\n10\n9\n20\n0\n10\n0\n20\n9\n97\n0\n").drawn()
    };
    let says = |drawing: &Drawing| drawing.told.iter().any(|t| t == "1 hatch of lines filled as a whole.");
    assert!(says(&hatch("0")) && !says(&hatch("1")));

    let text = item("TEXT", &[(8, "0"), (10, "5"), (20, "5"), (40, "2"), (1, "MARROWBY")]);
    let dimension = item("DIMENSION", &[(8, "0")]);
    let drawing = with(text + &dimension).drawn();
    assert_eq!(kinds(&drawing), [(FaultKind::Text, 1)]);
    assert!(drawing.told.iter().any(|t| t.contains("1 DIMENSION")), "{:?}", drawing.told);
    // the text is lacking, the dimension isn't; a face in space is
    assert_eq!(drawing.left_out, [drawing.faults[0].says.clone()]);
    let face = with(item("3DFACE", &[(8, "0")])).drawn();
    assert!(face.left_out.len() == 1 && face.left_out[0].contains("1 3DFACE"), "{:?}", face.left_out);
}

#[test]
fn lines_are_widened_if_that_is_wished() {
    // an L of two lines 10 long, 1 wide with round ends: 11 high
    let dxf = Dxf::of(line("0", (0.0, 0.0), (10.0, 0.0)) + &line("0", (0.0, 0.0), (0.0, 10.0)));
    assert!(dxf.read(&Wish::default()).unwrap_err().by_wish().is_some());
    let drawing = dxf.read(&Wish { stroke: Some(1.0), ..Wish::default() }).unwrap();
    assert!((drawing.height.unwrap() - 11.0).abs() < 0.01, "{:?}", drawing.height);
    // two bars that share a quarter of a square and of a disc, three half discs
    let exact = 20.0 + PI / 2.0 / 2.0 + (PI / 4.0) * 0.25 - 0.25;
    assert!((area(&drawing) - exact).abs() < 0.06, "{} {exact}", area(&drawing));
    // at another height they keep their width
    let drawing = dxf.read(&Wish { stroke: Some(1.0), height: Some(5.0), ..Wish::default() }).unwrap();
    let wide = drawing.region.area() * 0.0025 / 8.0;
    assert!((wide - 1.0).abs() < 0.12, "{wide}");
    // mm mean nothing as long as nothing says how long a unit is
    let unsized_ = Dxf { header: String::new(), ..dxf };
    let error = unsized_.read(&Wish { stroke: Some(1.0), ..Wish::default() }).unwrap_err();
    assert!(error.to_string().contains("height first") && error.by_wish().is_some(), "{error}");
}

#[test]
fn simplifying_keeps_within_its_tolerance_and_says_what_it_did() {
    let dxf = Dxf::of(circle("0", (0.0, 0.0), 10.0));
    let all = dxf.drawn();
    for within in [0.01, 0.1] {
        let drawing = dxf.read(&Wish { within: Some(within), ..Wish::default() }).unwrap();
        let told = drawing.simplified.unwrap();
        let points = |d: &Drawing| d.region.contours().map(Vec::len).sum::<usize>();
        assert_eq!((points(&all), points(&drawing)), told.points);
        assert!(told.points.1 * 2 < told.points.0, "{told:?}");
        let change =
            drawing.region.area() * drawing.height.unwrap().powi(2) / (all.region.area() * all.height.unwrap().powi(2));
        assert!(((change - 1.0) * 100.0 - told.area).abs() < 1e-6, "{told:?} {change}");
        // a circle of radius r whose outline moves by no more than t loses no more than 2 t / r
        assert!(told.area < 0.0 && told.area > -200.0 * within / 10.0, "{told:?}");
    }
    let unsized_ = Dxf { header: String::new(), ..dxf };
    let error = unsized_.read(&Wish { within: Some(0.1), ..Wish::default() }).unwrap_err().to_string();
    assert!(error.contains("height first"), "{error}");
}

#[test]
fn what_is_broken_or_asks_too_much_is_refused_in_words() {
    let ok = Dxf::of(circle("0", (0.0, 0.0), 10.0)).text();
    for (text, says) in [
        (ok.replace("\n10\n", "\nten\n").replacen("  40\n10", "  40\nnan", 1), "not a number"),
        (ok.replacen("  40\n10", "  40\nnan", 1), "“nan” is not a number"),
        (ok.replacen("  40\n10", "  40\n1e300", 1), "“1e300” is not a number"),
        (ok.replacen("  40\n10", "  x\n10", 1), "“x” is not a DXF group code"),
        (ok.replacen("0\nEOF\n", "0\n", 1), "ends in the middle"),
        (format!("{ok}\0"), "binary DXF"),
        (Dxf::of("").text(), "nothing that is filled"),
        (Dxf::of(circle("0", (0.0, 0.0), 0.0)).text(), "nothing that is filled"),
        (Dxf::of(line("0", (0.0, 0.0), (1.0, 1.0))).text(), "no outline that closes"),
        (Dxf::of(item("HATCH", &[(8, "0"), (91, "1"), (92, "2")])).text(), "group code 72 is missing"),
    ] {
        let error = read("a.dxf", text.as_bytes(), &Wish::default()).unwrap_err().to_string();
        assert!(error.contains(says), "{error} should say {says}");
    }
    // a polygon that crosses itself millions of times
    let star: Vec<(f64, f64, f64)> = (0..4000_u64)
        .map(|k| (k.wrapping_mul(7919) % 10_007, k.wrapping_mul(104_729) % 10_009))
        .map(|(x, y)| (x as f64, y as f64, 0.0))
        .collect();
    let tangled = Dxf::of(polyline("0", 0.0, &star)).read(&Wish::default()).unwrap_err();
    assert_eq!(tangled, ArtworkError::Tangled);
    for wish in [
        Wish { height: Some(f64::NAN), ..Wish::default() },
        Wish { within: Some(-1.0), ..Wish::default() },
        Wish { unit: Some(0.0), ..Wish::default() },
    ] {
        assert!(matches!(read("a.dxf", ok.as_bytes(), &wish), Err(ArtworkError::Wish(_))));
    }
}

#[test]
fn no_cut_or_altered_file_stops_the_reader() {
    let mut dxf = Dxf::of(
        item("INSERT", &[(8, "0"), (2, "b"), (41, "2")])
            + &polyline("a", 0.5, &[(0.0, 0.0, 0.3), (9.0, 0.0, 0.0), (9.0, 9.0, 0.0)])
            + &spline_circle(4.0)
            + &item(
                "HATCH",
                &[
                    (8, "0"),
                    (91, "1"),
                    (92, "1"),
                    (93, "1"),
                    (72, "2"),
                    (10, "5"),
                    (20, "5"),
                    (40, "3"),
                    (50, "0"),
                    (51, "360"),
                    (73, "1"),
                    (97, "0"),
                ],
            ),
    );
    dxf.blocks = item("BLOCK", &[(2, "b")]) + &circle("0", (1.0, 1.0), 3.0) + &item("ENDBLK", &[]);
    let whole = dxf.text();
    let (mut read_some, mut refused_some) = (0, 0);
    for at in 0..whole.len() {
        for altered in [whole.as_bytes()[..at].to_vec(), {
            let mut bytes = whole.clone().into_bytes();
            bytes[at] = b"90-.e\n"[at % 6];
            bytes
        }] {
            match read("a.dxf", &altered, &Wish::default()) {
                Ok(drawing) => {
                    assert!(drawing.region.contours().flatten().all(|p| p.is_finite()));
                    read_some += 1;
                }
                Err(error) => {
                    assert_ne!(error, ArtworkError::Unreadable("the reader failed on it".into()), "at {at}");
                    refused_some += 1;
                }
            }
        }
    }
    assert!(read_some > 500 && refused_some > 200, "{read_some} read, {refused_some} refused");
}
