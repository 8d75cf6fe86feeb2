//! The proof as a reader of PDF files finds it: pypdf, which has nothing to do with what wrote it.

use record::{Making, PartFile, Record, made};
use serde_json::Value;
use std::{path::PathBuf, process::Command};
use time::{Date, OffsetDateTime, macros::date};
use trade::{Job, limits::State};
use workbench::{Bench, Outcome, Scope, Steps};

const DAY: Date = date!(2026 - 11 - 30);

/// A cut through the middle of the first mark, square to its place, with two places pressed 1 mm apart.
fn kept(job: &Job, bench: &Bench, outcome: &Outcome) -> record::SectionRecord {
    let (built, id) = (outcome.marks[0].built.as_ref().unwrap(), outcome.marks[0].id.clone());
    let chart = &built.seat.chart;
    let middle = chart.point(built.placed.middle, 0.0);
    let out = chart.normal(built.placed.middle);
    let wish = record::SectionWish {
        mark: id,
        lies: workbench::section::Laid { through: vec![middle], turn_deg: Some(0.0), tilt_deg: 0.0, shift: 0.0 },
        places: vec![middle, middle - out],
    };
    record::section(bench, outcome, job, &wish).unwrap()
}

fn recorded(job: &Job, bench: &Bench) -> (Record, Outcome) {
    let row = job.first_row();
    let filled = job.filled(row, DAY);
    let outcome = bench.outcome(&filled, Scope::NearMarks);
    let handed = handoff::files(&filled, bench, "2026-11-30").unwrap();
    let record = made(Making {
        number: Some(12),
        by: "E. Marrow",
        at: OffsetDateTime::UNIX_EPOCH,
        day: DAY,
        program: "0.1.0 (test)",
        state: Some(3),
        job,
        row,
        part: PartFile { file: job.part.file.clone(), sha256: bench.part().sha256.clone(), bytes: 684 },
        outcome: &outcome,
        handed: Some(&handed),
        sections: vec![kept(&filled, bench, &outcome)],
        rows: Vec::new(),
    });
    (record, outcome)
}

/// Text and number of pictures of each page, and what the document says of itself.
fn read(pdf: &[u8]) -> (Vec<String>, Vec<u64>, Value) {
    const SCRIPT: &str = r#"
import json, sys
from pypdf import PdfReader
reader = PdfReader(sys.argv[1], strict=True)
print(json.dumps({
    "pages": [page.extract_text() for page in reader.pages],
    "images": [len(page.images) for page in reader.pages],
    "about": {key: str(value) for key, value in reader.metadata.items()},
    "size": [float(x) for x in reader.pages[0].mediabox[2:]],
}))
"#;
    let file = tempfile::NamedTempFile::new().unwrap();
    std::fs::write(file.path(), pdf).unwrap();
    let kept = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/python/bin/python"));
    let program = std::env::var_os("TINBADGE_PYTHON").map_or(kept, PathBuf::from);
    let ran = Command::new(&program).args(["-c", SCRIPT]).arg(file.path()).output();
    let ran =
        ran.unwrap_or_else(|e| panic!("{}: {e}; ./tinbadge test installs what is compared with", program.display()));
    assert!(ran.status.success(), "{}", String::from_utf8_lossy(&ran.stderr));
    let mut told: Value = serde_json::from_slice(&ran.stdout).unwrap();
    // A4, points
    assert!(
        (told["size"][0].as_f64().unwrap() - 595.28).abs() < 0.01
            && (told["size"][1].as_f64().unwrap() - 841.89).abs() < 0.01
    );
    let pages = serde_json::from_value(told["pages"].take()).unwrap();
    let images = serde_json::from_value(told["images"].take()).unwrap();
    (pages, images, told["about"].take())
}

fn bare(text: &str) -> String {
    text.chars().filter(|c| !c.is_whitespace()).collect()
}

#[test]
fn a_job_that_fails_shows_each_finding_with_its_place_and_its_figures_to_be_searched() {
    let demo = demo::jobs().remove(0);
    let bench = Bench::new(demo.read());
    let (record, outcome) = recorded(&demo.job, &bench);
    let pdf = proof::pdf(&record, &bench, &outcome).unwrap();
    assert_eq!(pdf, proof::pdf(&record, &bench, &outcome).unwrap(), "the same record gives the same bytes");
    let (pages, images, about) = read(&pdf);
    for (at, page) in pages.iter().enumerate() {
        assert!(page.contains(&format!("page {} of {}", at + 1, pages.len())), "{page}");
        assert!(page.contains("record 12"), "{page}");
    }
    let all = bare(&pages.concat());
    let says = |text: &str| assert!(all.contains(&bare(text)), "the proof should say {text}");
    assert!(record.count(State::Fails) > 0 && record.count(State::Marginal) > 0);
    for mark in &record.marks {
        says(&mark.text.replace('\n', " / "));
        for finding in mark.findings.iter().filter(|f| f.state > State::Passes) {
            says(&finding.sentence);
        }
        for finding in mark.findings.iter().filter(|f| f.unit == "mm") {
            let Some(figure) = finding.measured else { continue };
            says(&format!("{figure:.2} mm").replace('-', "−"));
        }
    }
    for file in &record.files {
        says(&file.sha256);
    }
    says(&record.part.sha256);
    says("name and signature");
    says("its shadows on a satin surface");
    says("1.000 mm apart: 1.000 up, 0.000 across");
    // a view of the part, one for each finding that has a place, and eight of each mark that is read
    let places = record.findings().filter(|f| f.state > State::Passes && !f.witnesses.is_empty()).count();
    let read = record.marks.iter().filter(|m| m.reading.is_some()).count();
    assert!(places > 2 && read > 2);
    let images: u64 = images.iter().sum();
    assert!(images as usize > places + 8 * read, "{images} pictures, {places} places, {read} marks");
    assert_eq!(about["/Title"], "Valve body VB-20: proof of inspection, record 12");
    assert_eq!(about["/Author"], "E. Marrow");
    assert!(about["/CreationDate"].as_str().unwrap().starts_with("D:19700101000000"), "{about}");
}

#[test]
fn a_sound_job_says_that_all_passes_and_has_no_findings_to_show() {
    let demo = demo::jobs().remove(5);
    let bench = Bench::new(demo.read());
    let (record, outcome) = recorded(&demo.job, &bench);
    let open: Vec<_> = record.findings().filter(|f| f.state > State::Passes).collect();
    assert!(open.is_empty(), "{open:?}");
    let (pages, _, _) = read(&proof::pdf(&record, &bench, &outcome).unwrap());
    let all = pages.concat();
    assert!(all.contains("findings that apply pass"), "{}", pages[0]);
    assert!(!all.contains("where it was measured") && !all.contains("Waivers"));
    // the figure stands beside its limit
    let cap = record.findings().find(|f| f.check == trade::Check::CapHeight).unwrap();
    let figure = format!("{:.2} mm", cap.measured.unwrap());
    assert!(bare(&all).contains(&bare(&format!("cap height {figure} ≥"))), "{all}");
}
