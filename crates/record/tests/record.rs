//! Records of the demo's jobs: frozen, read again, repeated, held against one another.

use inspection::Finding;
use record::{Making, PartFile, Record, csv, differences, made, repeated, sha256};
use time::{Date, OffsetDateTime, macros::date};
use trade::{Check, Job, Waived, Waiver, limits::State, waiver};
use workbench::{Bench, Scope, Steps};

const DAY: Date = date!(2026 - 11 - 30);

fn recorded(job: &Job, bench: &Bench) -> Record {
    let row = job.first_row();
    let filled = job.filled(row, DAY);
    let outcome = bench.outcome(&filled, Scope::NearMarks);
    let handed = handoff::files(&filled, bench, "2026-11-30").unwrap();
    let part = bench.part();
    made(Making {
        number: Some(7),
        by: "E. Marrow",
        at: OffsetDateTime::UNIX_EPOCH,
        day: DAY,
        program: "test",
        state: Some(3),
        job,
        row,
        part: PartFile { file: job.part.file.clone(), sha256: part.sha256.clone(), bytes: 1 },
        outcome: &outcome,
        handed: Some(&handed),
        sections: Vec::new(),
        rows: Vec::new(),
    })
}

/// The spacer block.
fn block() -> (Job, Bench) {
    let demo = demo::jobs().remove(1);
    (demo.job.clone(), Bench::new(demo.read()))
}

#[test]
fn what_is_written_is_read_to_the_last_digit_and_the_same_again_when_repeated() {
    for demo in demo::jobs().into_iter().take(3) {
        let bench = Bench::new(demo.read());
        let record = recorded(&demo.job, &bench);
        let json = record.to_json();
        let read = Record::from_json(&json).unwrap();
        assert_eq!(read.findings().collect::<Vec<_>>(), record.findings().collect::<Vec<_>>());
        assert_eq!(read.to_json(), json, "the same record gives the same bytes");
        // on a bench that has built nothing yet
        let again = repeated(&read, &Bench::new(demo.read())).unwrap();
        let figures = record.findings().filter(|f| f.measured.is_some()).count();
        assert!(figures > 10);
        assert_eq!((again.same, again.within, again.otherwise), (figures, 0, Vec::new()), "{}", demo.job.name);
    }
}

#[test]
fn a_record_names_its_files_by_their_sha256() {
    // FIPS 180-2, appendix B.1
    assert_eq!(sha256(b"abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    let (job, bench) = block();
    let record = recorded(&job, &bench);
    let handed = handoff::files(&job.filled(job.first_row(), DAY), &bench, "2026-11-30").unwrap();
    let stl = handed.files.iter().find(|f| f.name == "marked-solid.stl").unwrap();
    let named = record.files.iter().find(|f| f.name == "marked-solid.stl").unwrap();
    assert_eq!((named.bytes, &named.sha256), (stl.bytes.len() as u64, &sha256(&stl.bytes)));
    assert_eq!(record.files.len(), handed.files.len());
    // a record that was tampered with is another one
    let mut other = record.clone();
    other.marks[0].findings[0].measured = Some(9.0);
    assert_ne!(sha256(&other.to_json()), sha256(&record.to_json()));
}

#[test]
fn records_of_a_changed_job_differ_in_what_was_changed_and_in_nothing_else() {
    let (job, bench) = block();
    let before = recorded(&job, &bench);
    assert_eq!(differences(&before, &recorded(&job, &bench)), []);
    let mut changed = job.clone();
    changed.marks[0].relief.draft += 2.0;
    let after = recorded(&changed, &bench);
    let told = differences(&before, &after);
    let draft = told.iter().find(|d| d.what.ends_with(": draft")).expect("the draft differs");
    assert!(draft.was != draft.is && !draft.within_error, "{draft:?}");
    assert!(told.iter().any(|d| d.what == "marked-solid.stl"), "and the file of the solid");
    assert!(!told.iter().any(|d| d.what == "part" || d.what.starts_with("limit")), "{told:?}");
    // and other limits
    let mut judged = job.clone();
    judged.own_limits.push(trade::OwnLimit {
        subject: trade::limits::Subject::Draft,
        value: 12.0,
        source: "note 4".into(),
    });
    let told = differences(&before, &recorded(&judged, &bench));
    assert!(told.iter().any(|d| d.what == "limit on draft" && d.is.starts_with("12")), "{told:?}");
}

#[test]
fn the_table_has_a_line_for_each_finding_and_each_of_its_letters() {
    let (mut job, bench) = block();
    let mark = job.marks[0].id.clone();
    job.marks[0].relief.draft = 0.5;
    let finding = |record: &Record| record.findings().find(|f| f.check == Check::Draft).unwrap().clone();
    let bare: Finding = finding(&recorded(&job, &bench));
    assert_eq!(bare.state, State::Fails);
    let limit = bare.limit.clone().unwrap();
    job.waivers.push(Waiver {
        id: "w".into(),
        mark,
        check: Check::Draft,
        rows: None,
        reason: "tried, \"it falls out\"; fine".into(),
        by: "C. Hecker".into(),
        on: waiver::written(DAY),
        until: None,
        of: Waived {
            figure: bare.measured,
            unit: bare.unit.into(),
            limit: Some(limit.value),
            side: Some(limit.side),
            sentence: bare.sentence.clone(),
            mark: job.mark_digest(&job.marks[0]),
            part: job.part_digest(),
        },
    });
    let record = recorded(&job, &bench);
    assert!(finding(&record).is_waived());
    assert_eq!((record.waived(), record.verdict), (1, State::Fails), "it fails all the same");
    let table = csv(&record);
    let mut read = csv::ReaderBuilder::new().from_reader(&table[..]);
    let lines: Vec<csv::StringRecord> = read.records().map(Result::unwrap).collect();
    let all: usize = record.findings().map(|f| 1 + f.letters.len()).sum();
    assert_eq!(lines.len(), all);
    let draft = lines.iter().find(|l| &l[4] == "draft" && l[5].is_empty()).unwrap();
    assert_eq!((&draft[6], &draft[7]), ("fails", "C. Hecker"));
    assert_eq!(draft[8].parse::<f64>().unwrap(), bare.measured.unwrap(), "every digit");
}
