//! The callout sheet as others read it: pypdf for its pages and boxes, fontTools for how wide its words run.

use callouts::{CalloutError, Callouts, Manner, Paper, Projection, callouts};
use serde_json::Value;
use std::{fs, process::Command};
use trade::Job;
use workbench::{Bench, Scope, Steps};

const DAY: &str = "2026-11-30";

/// Texts with their boxes, boxes of pictures and of what is clipped, and the size of each page; points from the lower left corner.
fn read(pdf: &[u8]) -> Vec<Value> {
    const SCRIPT: &str = r#"
import json, sys
from pypdf import PdfReader
from pypdf.generic import ContentStream
from fontTools.ttLib import TTFont
reader = PdfReader(sys.argv[1], strict=True)
faces = [TTFont(path) for path in sys.argv[2:4]]
def wide(text, size, face):
    cmap, advances, em = face.getBestCmap(), face["hmtx"], face["head"].unitsPerEm
    return sum(advances[cmap.get(ord(c), ".notdef")][0] for c in text) * size / em
pages = []
for page in reader.pages:
    texts = []
    def seen(text, cm, tm, font, size):
        text = text.strip("\n")
        if text.strip():
            x = tm[4] * cm[0] + tm[5] * cm[2] + cm[4]
            y = tm[4] * cm[1] + tm[5] * cm[3] + cm[5]
            # which way up the page is told does not matter for how large the words are
            points = abs(size * tm[0] * cm[0])
            name = str((font or {}).get("/BaseFont", ""))
            face = faces[1] if "Bold" in name else faces[0]
            texts.append([text, x, y - 0.22 * points, x + wide(text, points, face), y + 0.74 * points])
    page.extract_text(visitor_text=seen)
    pictures, clips, stack, now, path = [], [], [], [1, 0, 0, 1, 0, 0], []
    def times(m, n):
        return [m[0]*n[0]+m[1]*n[2], m[0]*n[1]+m[1]*n[3], m[2]*n[0]+m[3]*n[2], m[2]*n[1]+m[3]*n[3], m[4]*n[0]+m[5]*n[2]+n[4], m[4]*n[1]+m[5]*n[3]+n[5]]
    def place(x, y):
        return (x*now[0]+y*now[2]+now[4], x*now[1]+y*now[3]+now[5])
    def box(points):
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        return [min(xs), min(ys), max(xs), max(ys)]
    for operands, operator in ContentStream(page["/Contents"].get_object(), reader).operations:
        v = [float(o) for o in operands if isinstance(o, (int, float)) or hasattr(o, "as_numeric")]
        if operator == b"q": stack.append(now)
        elif operator == b"Q": now = stack.pop()
        elif operator == b"cm": now = times(v, now)
        elif operator in (b"m", b"l"): path.append(place(*v))
        elif operator == b"re": path += [place(v[0], v[1]), place(v[0] + v[2], v[1] + v[3])]
        elif operator in (b"W", b"W*"): clips.append((len(path), box(path)))
        elif operator == b"Do": pictures.append(box([place(0, 0), place(1, 1)]))
        if operator in (b"n", b"f", b"f*", b"S", b"s", b"B", b"b"): path = []
    # pictures and drawings have windows of four corners; what is hatched has more
    pages.append({"texts": texts, "pictures": pictures, "clips": [b for n, b in clips if n in (2, 4)],
                  "size": [float(x) for x in page.mediabox[2:]]})
print(json.dumps(pages))
"#;
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("callouts.pdf");
    fs::write(&path, pdf).unwrap();
    let faces = concat!(env!("CARGO_MANIFEST_DIR"), "/../paper/faces/dejavu-sans-condensed");
    let python = std::env::var("TINBADGE_PYTHON").expect("TINBADGE_PYTHON names the Python of ./tinbadge test");
    let ran = Command::new(python)
        .args(["-c", SCRIPT])
        .arg(&path)
        .args([format!("{faces}.ttf"), format!("{faces}-bold.ttf")])
        .output()
        .unwrap();
    assert!(ran.status.success(), "{}", String::from_utf8_lossy(&ran.stderr));
    serde_json::from_slice(&ran.stdout).unwrap()
}

fn made(job: &Job, bench: &Bench, manner: Manner) -> Vec<u8> {
    let day = time::macros::date!(2026 - 11 - 30);
    let row = job.first_row();
    let filled = job.filled(row, day);
    let outcome = bench.joined(&filled, Scope::NearMarks);
    let texts = trade::said::texts(job, day);
    let of = Callouts {
        job: &filled,
        row,
        outcome: &outcome,
        bench,
        texts: &texts,
        by: "E. Marrow",
        day: DAY,
        state: Some(3),
        record: None,
        program: "0.1.0 (test)",
    };
    callouts(&of, manner).unwrap()
}

type Box4 = [f64; 4];

fn boxes(page: &Value, of: &str) -> Vec<Box4> {
    page[of].as_array().unwrap().iter().map(|b| serde_json::from_value(b.clone()).unwrap()).collect()
}

fn texts(page: &Value) -> Vec<(String, Box4)> {
    let all = page["texts"].as_array().unwrap().iter();
    all.map(|t| (t[0].as_str().unwrap().to_owned(), [1, 2, 3, 4].map(|k| t[k].as_f64().unwrap()))).collect()
}

/// By how much they lie over one another, points.
fn over(a: Box4, b: Box4) -> f64 {
    (a[2].min(b[2]) - a[0].max(b[0])).min(a[3].min(b[3]) - a[1].max(b[1]))
}

fn manners() -> [Manner; 3] {
    [
        Manner::default(),
        Manner { paper: Paper::A3, projection: Projection::ThirdAngle, inch: false },
        Manner { paper: Paper::A4, projection: Projection::ThirdAngle, inch: true },
    ]
}

/// On every sheet of every job of the demo, in both sizes, units and projections.
#[test]
fn no_words_lie_over_others_over_a_picture_or_off_the_sheet() {
    for mut demo in demo::jobs() {
        let bench = Bench::new(demo.read());
        // with as much of a drawing's note as stands on a sheet, which none of them is as
        for mark in &mut demo.job.marks {
            mark.note =
                Some(format!("MARK 17.5 HIGH, RAISED 1.9, 12° DRAFT, {}", "SEE THE GENERAL NOTES; ".repeat(20)));
        }
        for manner in manners() {
            for (number, page) in read(&made(&demo.job, &bench, manner)).iter().enumerate() {
                let [wide, tall]: [f64; 2] = serde_json::from_value(page["size"].clone()).unwrap();
                let name = format!("{} {manner:?} sheet {}", demo.job.name, number + 1);
                let texts = texts(page);
                assert!(texts.len() > 12, "{name}: {texts:?}");
                for (k, (text, own)) in texts.iter().enumerate() {
                    assert!(
                        own[0] > 28.0 && own[1] > 28.0 && own[2] < wide - 28.0 && own[3] < tall - 28.0,
                        "{name}: “{text}” at {own:?} runs off the sheet"
                    );
                    for (other, box_) in &texts[k + 1..] {
                        assert!(over(*own, *box_) < 0.4, "{name}: “{text}” lies over “{other}”: {own:?} {box_:?}");
                    }
                    // a section's own scale stands in its window; all else keeps off drawings and pictures
                    let scale = text.ends_with(" mm") && text.trim_end_matches(" mm").parse::<f64>().is_ok();
                    let windows = boxes(page, "pictures").into_iter().chain(boxes(page, "clips"));
                    for window in windows.filter(|_| !scale) {
                        assert!(over(*own, window) < 0.6, "{name}: “{text}” {own:?} lies over a drawing {window:?}");
                    }
                }
            }
        }
    }
}

#[test]
fn every_question_of_the_toolmaker_has_its_answer_in_figures_worked_by_hand() {
    let mut demo = demo::jobs().into_iter().find(|d| d.job.name.contains("VB-20")).unwrap();
    let bench = Bench::new(demo.read());
    // capitals of 4 mm, a relief of 0.4
    let maker = demo.job.marks.iter_mut().find(|m| m.id == "maker").unwrap();
    maker.note = Some("MAKER'S NAME 5.0 HIGH,\nRAISED 0.4".into());
    let pages = read(&made(&demo.job, &bench, Manner::default()));
    let words = |page: &Value| texts(page).into_iter().map(|(text, _)| text).collect::<Vec<_>>().join(" ");
    // six marks, the part, and the rows of 32 cavities
    assert!(pages.len() >= 8, "{}", pages.len());
    let first = words(&pages[0]);
    for told in ["PA66", "E. Marrow", DAY, "state 3", "valve-body.stl", "mm, at the part’s size"] {
        assert!(first.contains(told), "{told}: {first}");
    }
    let (low, high) = bench.part().mesh.bounds();
    let size = high - low;
    // two of the part's extents at least stand in the first sheet
    let seen = size.to_array().into_iter().filter(|mm| first.contains(&format!("{mm:.2}"))).count();
    assert!(seen >= 2, "{size}: {first}");
    let maker = pages.iter().map(words).find(|text| text.contains("“MARROWBY / THRUPP”")).unwrap();
    // height 0.4, measured on the solid; capitals of 4 mm; a stroke of a tenth; PA66 shrinks by 1.5 %: a cutter of 0.4 is 0.41
    for told in [
        "0.40 mm",
        "on the finished solid 0.40",
        "4.00 mm",
        "× 1.0150",
        "fixed half",
        "electrode",
        "mirrored in the steel",
        "Ø 0.40 mm, 0.41 mm",
        "MAKER'S NAME 5.0 HIGH, / RAISED 0.4",
        "the note says cap height 5 mm, the mark has 4 mm",
    ] {
        assert!(maker.contains(told), "{told}: {maker}");
    }
    assert!(!maker.contains("says relief"), "{maker}");
    // in the middle of the flange, which lies across from the pull: its middle is told on the part, and in the steel 1.015 times
    // as far from the zero
    let three = |after: &str| -> Vec<f64> {
        let told = maker.split(after).nth(1).unwrap().trim_start();
        told.split([',', ' ']).filter(|w| !w.is_empty()).take(3).map(|w| w.replace('−', "-").parse().unwrap()).collect()
    };
    let (part, steel) = (three("middle on the part"), three("middle in the steel"));
    let far = |p: &[f64]| p.iter().map(|c| c * c).sum::<f64>().sqrt();
    assert!((far(&steel) / far(&part) - 1.015).abs() < 1e-3, "{part:?} {steel:?}");
    let number = pages.iter().map(words).find(|text| text.contains("“VB-20-07 D”")).unwrap();
    assert!(number.contains("0 zero") && number.contains("B letter B"), "{number}");
    let rows = words(pages.last().unwrap());
    assert!(rows.contains("C01") && rows.contains("C32"), "{rows}");
    let inch = read(&made(&demo.job, &bench, Manner { inch: true, ..Manner::default() }));
    let maker = inch.iter().map(words).find(|text| text.contains("“MARROWBY / THRUPP”")).unwrap();
    // 4 mm are 0.1575 in
    assert!(maker.contains("0.1575 in") && words(&inch[0]).contains("in, at the part’s size"), "{maker}");
}

#[test]
fn the_same_job_gives_the_same_bytes_and_one_without_marks_says_why() {
    let demo = demo::jobs().remove(1);
    let bench = Bench::new(demo.read());
    assert_eq!(made(&demo.job, &bench, Manner::default()), made(&demo.job, &bench, Manner::default()));
    let mut none = demo.job.clone();
    none.marks.clear();
    let outcome = bench.joined(&none, Scope::NearMarks);
    let of = Callouts {
        job: &none,
        row: None,
        outcome: &outcome,
        bench: &bench,
        texts: &[],
        by: "E. Marrow",
        day: DAY,
        state: None,
        record: None,
        program: "test",
    };
    let why = callouts(&of, Manner::default()).err().unwrap();
    assert!(matches!(&why, CalloutError::NothingBuilt(why) if why == "none is on"), "{why}");
}
