//! The command line as it is used: files in a folder, files in another, an exit code.

use std::{
    fs,
    path::Path,
    process::{Command, Output, Stdio},
};
use tempfile::tempdir;

fn tinbadge(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_tinbadge")).args(arguments).output().unwrap()
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stdout).into_owned() + &String::from_utf8_lossy(&output.stderr)
}

fn demo_data(folder: &Path) {
    let output = tinbadge(&["demo-data", folder.to_str().unwrap()]);
    assert!(output.status.success(), "{}", said(&output));
}

fn change(job: &Path, alter: impl Fn(&mut serde_json::Value)) {
    let mut value: serde_json::Value = serde_json::from_slice(&fs::read(job).unwrap()).unwrap();
    alter(&mut value);
    fs::write(job, value.to_string()).unwrap();
}

#[test]
fn the_exit_code_says_whether_all_holds() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let out = folder.path().join("out");
    let run = |job: &str| tinbadge(&["run", folder.path().join(job).to_str().unwrap(), "--out", out.to_str().unwrap()]);
    let fails = run("valve-body.tinbadge.json");
    assert_eq!(fails.status.code(), Some(1), "{}", said(&fails));
    assert!(said(&fails).contains("FAILS") && said(&fails).contains("leans back"));
    let names = || -> Vec<_> { fs::read_dir(&out).unwrap().map(|f| f.unwrap().file_name()).collect() };
    let many = names().len();
    fs::write(out.join("mine.txt"), "kept").unwrap();
    let holds = run("block.tinbadge.json");
    // of the marks of the job before nothing stays, of other people's files all does
    assert!(names().len() < many && out.join("mine.txt").exists(), "{:?}", names());
    let listed = fs::read_to_string(out.join("written-files.txt")).unwrap();
    assert_eq!(listed.lines().count() + 2, names().len(), "{listed}");
    assert_eq!(holds.status.code(), Some(0), "{}", said(&holds));
    for file in ["marked-solid.stl", "marked-solid.3mf", "lettering.3mf", "findings.json", "findings.html"] {
        assert!(out.join(file).metadata().unwrap().len() > 500, "{file}");
    }
    change(&folder.path().join("block.tinbadge.json"), |job| job["tool"] = serde_json::json!({}));
    let unchecked = run("block.tinbadge.json");
    assert_eq!(unchecked.status.code(), Some(3), "{}", said(&unchecked));
}

#[test]
fn a_mended_job_file_passes_when_it_is_run() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    change(&folder.path().join("block.tinbadge.json"), |job| {
        job["marks"][0]["relief"]["draft"] = 0.0.into();
        job["marks"][0]["text"] = "HK-34".into();
    });
    let (job, mended, out) = (path("block.tinbadge.json"), path("mended.tinbadge.json"), path("out"));
    assert_eq!(tinbadge(&["run", &job, "--out", &out]).status.code(), Some(1));
    let mend = tinbadge(&["mend", &job, "--out", &mended]);
    assert_eq!(mend.status.code(), Some(0), "{}", said(&mend));
    assert!(said(&mend).contains("draft 0.0° → "), "{}", said(&mend));
    let run = tinbadge(&["run", &mended, "--out", &out]);
    assert_eq!(run.status.code(), Some(0), "{}", said(&run));
    assert!(!said(&run).contains("marginal"), "{}", said(&run));
}

#[test]
fn lettering_that_is_too_faint_to_read_is_told_letter_by_letter() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let job = folder.path().join("block.tinbadge.json");
    let read = || tinbadge(&["read", job.to_str().unwrap()]);
    let plain = read();
    assert_eq!(plain.status.code(), Some(0), "{}", said(&plain));
    change(&job, |job| job["marks"][0]["relief"]["height"] = 0.01.into());
    let faint = read();
    assert_eq!(faint.status.code(), Some(1), "{}", said(&faint));
    assert!(said(&faint).contains("FAILS          “"), "{}", said(&faint));
    change(&job, |job| job["marks"][0]["relief"]["sense"] = "surface".into());
    let flat = read();
    assert_eq!(flat.status.code(), Some(3), "{}", said(&flat));
    assert!(said(&flat).contains("no relief"), "{}", said(&flat));
}

#[test]
fn the_same_job_gives_the_same_files_to_the_byte() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let job = folder.path().join("block.tinbadge.json");
    let bytes = |out: &str| {
        let out = folder.path().join(out);
        tinbadge(&["run", job.to_str().unwrap(), "--out", out.to_str().unwrap()]);
        ["marked-solid.stl", "findings.json"].map(|f| fs::read(out.join(f)).unwrap())
    };
    assert!(bytes("one") == bytes("two"));
}

#[test]
fn what_cant_be_run_exits_with_2_and_a_sentence() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let job = folder.path().join("block.tinbadge.json");
    let part = folder.path().join("block.stl");
    let run = |extra: &[&str]| {
        let out = folder.path().join("out");
        let mut arguments = vec!["run", job.to_str().unwrap(), "--out", out.to_str().unwrap()];
        arguments.extend(extra);
        let output = tinbadge(&arguments);
        assert_eq!(output.status.code(), Some(2), "{}", said(&output));
        assert!(!out.exists(), "nothing is left half made");
        said(&output)
    };
    assert!(run(&["--part", "/nowhere/part.stl"]).contains("/nowhere/part.stl"));
    let other = folder.path().join("valve-body.stl");
    assert!(run(&["--part", other.to_str().unwrap()]).contains("not the file the job was made for"));
    let whole = fs::read(&part).unwrap();
    fs::write(&part, &whole[..200]).unwrap();
    assert!(run(&[]).contains("STL file can't be read"));
    fs::write(&part, &whole).unwrap();
    change(&job, |job| job["marks"][0]["lettering"]["cap_height"] = 1e6.into());
    assert!(run(&[]).contains("cap height is 1000000 mm"));
    change(&job, |job| {
        job["marks"][0]["lettering"]["cap_height"] = 6.0.into();
        job["marks"][0]["text"] = "☂".into();
    });
    assert!(run(&[]).contains('☂'));
    fs::write(&job, "{ \"version\": 1, ").unwrap();
    assert!(run(&[]).contains("line 1"));
}

#[test]
fn the_schema_is_json_and_the_demo_jobs_follow_its_names() {
    let output = tinbadge(&["run", "--schema"]);
    let schema: serde_json::Value = serde_json::from_slice(&output.stdout).unwrap();
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let job: serde_json::Value =
        serde_json::from_slice(&fs::read(folder.path().join("valve-body.tinbadge.json")).unwrap()).unwrap();
    for key in job.as_object().unwrap().keys() {
        assert!(schema["properties"].get(key).is_some(), "{key}");
    }
}

/// The server starts the reader of STEP files as a program of its own, which stands beside it only where it is built too.
#[test]
fn the_script_builds_every_program() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let script = fs::read_to_string(root.join("tinbadge")).unwrap();
    let build = script.lines().find(|line| line.trim_start().starts_with("cargo build")).unwrap();
    let packages = fs::read_dir(root.join("crates")).unwrap().map(|entry| entry.unwrap().path());
    let programs: Vec<_> = packages.filter(|package| package.join("src/main.rs").is_file()).collect();
    assert!(programs.len() > 1);
    for package in programs {
        let manifest = fs::read_to_string(package.join("Cargo.toml")).unwrap();
        let name = manifest.lines().find_map(|line| line.strip_prefix("name = ")).unwrap().trim_matches('"');
        assert!(build.contains(&format!("--package {name}")), "{name}: {build}");
    }
}

/// 14 hours before and 11 behind UTC: never on one day.
#[test]
fn the_day_is_that_of_the_machines_own_time_zone() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let job = folder.path().join("block.tinbadge.json");
    for (zone, ahead) in [("EAST-14", 14), ("WEST+11", -11)] {
        let there = || (time::OffsetDateTime::now_utc() + time::Duration::hours(ahead)).date().to_string();
        let (out, before) = (folder.path().join(zone), there());
        let ran = Command::new(env!("CARGO_BIN_EXE_tinbadge"))
            .args(["run", job.to_str().unwrap(), "--out", out.to_str().unwrap()])
            .env("TZ", zone)
            .output()
            .unwrap();
        assert_eq!(ran.status.code(), Some(0), "{}", said(&ran));
        let page = fs::read_to_string(out.join("findings.html")).unwrap();
        // midnight may have gone by meanwhile
        assert!([before, there()].iter().any(|day| page.contains(day)), "{zone}");
    }
}

#[test]
fn a_record_is_written_with_its_table_and_its_proof() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let out = folder.path().join("out");
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    let record =
        |by: &str| tinbadge(&["record", &path("block.tinbadge.json"), "--out", out.to_str().unwrap(), "--by", by]);
    let made = record("E. Marrow");
    assert_eq!(made.status.code(), Some(0), "{}", said(&made));
    let written = |name: &str| fs::read(out.join(name)).unwrap();
    assert!(written("proof.pdf").starts_with(b"%PDF-"));
    let json: serde_json::Value = serde_json::from_slice(&written("record.json")).unwrap();
    assert_eq!((&json["by"], &json["number"]), (&"E. Marrow".into(), &serde_json::Value::Null));
    let table = String::from_utf8(written("figures.csv")).unwrap();
    assert!(table.starts_with("record,row,mark,text,check,letter,state,waived by,figure,unit,error"), "{table}");
    assert!(table.lines().any(|l| l.contains(",draft,,passes,")), "{table}");
}

#[test]
fn a_map_and_a_letter_are_told_as_they_were_measured() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    // on the top of the block, 5° all round where 3° are asked
    change(&folder.path().join("block.tinbadge.json"), |job| {
        job["marks"][0]["text"] = "IO".into();
        job["marks"][0]["relief"]["draft"] = 5.0.into();
        job["own_limits"] = serde_json::json!([{"subject": "draft", "value": 3.0, "source": "made"}]);
    });
    let (job, table) = (path("block.tinbadge.json"), path("map.csv"));
    let id = serde_json::from_slice::<serde_json::Value>(&fs::read(&job).unwrap()).unwrap()["marks"][0]["id"].clone();
    let id = id.as_str().unwrap();
    let map = |check: &str| tinbadge(&["map", &job, "--mark", id, "--check", check, "--out", &table]);
    let draft = map("draft");
    assert_eq!(draft.status.code(), Some(0), "{}", said(&draft));
    // what a low facet leaves open is not held against it
    let told = said(&draft);
    let worst: f64 = told.split("the worst is ").nth(1).unwrap().split(' ').next().unwrap().parse().unwrap();
    assert!((worst - 5.0).abs() < 0.06 && told.contains("\n0.000 of "), "{told}");
    // each wall of the table leans by what its own corners say
    let written = fs::read_to_string(&table).unwrap();
    let mut walls = 0;
    for line in written.lines().skip(1) {
        let n: Vec<f64> = line.split(',').skip(1).map(|n| n.parse().unwrap()).collect();
        let [a, b, c] = [0, 3, 6].map(|k| glam::DVec3::new(n[k], n[k + 1], n[k + 2]));
        let normal = (b - a).cross(c - a).normalize();
        let own = normal.z.asin().to_degrees();
        // corners are written to a millionth
        if (b - a).cross(c - a).length() > 1e-3 {
            assert!((own - n[9]).abs() < 0.3, "{line}: {own}");
            walls += u32::from(own < 45.0);
        }
    }
    assert!(walls > 20, "{walls}");
    change(&folder.path().join("block.tinbadge.json"), |job| job["marks"][0]["relief"]["draft"] = 0.5.into());
    assert_eq!(map("draft").status.code(), Some(1));
    let unknown = map("beauty");
    assert!(unknown.status.code() == Some(2) && said(&unknown).contains("uniform_depth"), "{}", said(&unknown));
    let letter = |at: &str| tinbadge(&["letter", &job, "--mark", id, "--letter", at]);
    let o = letter("2");
    assert!(said(&o).contains("“O”") && said(&o).contains("counter or space") && said(&o).contains("to “I”"));
    // a stencil's O is of two halves: a cutter wider than its stroke gets into neither; one of 0.01 reaches all
    let cut = |diameter: &str| said(&tinbadge(&["letter", &job, "--mark", id, "--letter", "2", "--cutter", diameter]));
    assert!(
        cut("3").contains("in 2 places in steel × 1.0000") && cut("3").contains("is the largest that leaves nothing"),
        "{}",
        cut("3")
    );
    assert!(cut("0.01").contains("leaves 0.0000 mm² in 0 places"), "{}", cut("0.01"));
    assert!(cut("99").contains("a diameter of 0.01 to 50 mm"), "{}", cut("99"));
    for (asked, why) in [(letter("9"), "nothing of letter 9"), (letter("0"), "nothing of letter 0")] {
        assert!(asked.status.code() == Some(2) && said(&asked).contains(why), "{}", said(&asked));
    }
    let nobody = tinbadge(&["letter", &job, "--mark", "nobody", "--letter", "1"]);
    assert!(nobody.status.code() == Some(2) && said(&nobody).contains("has no mark"), "{}", said(&nobody));
}

#[test]
fn exact_geometry_is_written_where_it_can_be() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    // of triangles: the lettering, and why there is no more
    let (job, out) = (path("block.tinbadge.json"), path("exact"));
    let made = tinbadge(&["exact", &job, "--out", &out, "--ap242"]);
    assert_eq!(made.status.code(), Some(1), "{}", said(&made));
    assert!(
        said(&made).contains("Read back: 13 solids") && said(&made).contains("came as triangles"),
        "{}",
        said(&made)
    );
    let text = fs::read_to_string(folder.path().join("exact/lettering.step")).unwrap();
    assert!(text.starts_with("ISO-10303-21;") && text.contains("AP242") && text.contains("'Tin Badge'"));
    assert_eq!(text.matches("MANIFOLD_SOLID_BREP(").count(), 13);
    assert!(!folder.path().join("exact/marked-solid.step").exists());
    // without a material nobody knows how large the steel is; with one its name says it
    let steel = || tinbadge(&["exact", &job, "--out", &out, "--steel"]);
    change(Path::new(&job), |job| {
        job["process"] = serde_json::json!({"material": null, "shrinkage": null, "texture": 0.0})
    });
    assert!(said(&steel()).contains("no shrinkage is set"));
    change(Path::new(&job), |job| job["process"]["shrinkage"] = 1.5.into());
    assert!(said(&steel()).contains("lettering-steel-x1.0150.step"), "{}", said(&steel()));
    assert_eq!(tinbadge(&["exact", &path("missing.json")]).status.code(), Some(2));
}

#[test]
fn the_tools_side_is_written_and_a_change_is_told_in_steel() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    let (job, out) = (path("valve-body.tinbadge.json"), path("tool-side"));
    let made = tinbadge(&["tool-side", &job, "--out", &out]);
    assert_eq!(made.status.code(), Some(0), "{}", said(&made));
    assert!(
        said(&made).contains("maker, fixed half") && said(&made).contains("electrode on a block of"),
        "{}",
        said(&made)
    );
    assert!(said(&made).contains("cavity, fixed half") && said(&made).contains("insert of"), "{}", said(&made));
    let names: Vec<String> =
        fs::read_dir(&out).unwrap().map(|e| e.unwrap().file_name().to_string_lossy().into_owned()).collect();
    for name in [
        "contents.csv",
        "electrode-maker-steel-x1.0150.stl",
        "insert-cavity-steel-x1.0150.stl",
        "tool-side-steel-x1.0150.3mf",
    ] {
        assert!(names.iter().any(|n| n == name), "{names:?}");
    }
    let sheet = path("callouts.pdf");
    let drawn = tinbadge(&["callouts", &job, "--out", &sheet, "--row", "3", "--by", "E. Marrow", "--third-angle"]);
    assert_eq!(drawn.status.code(), Some(0), "{}", said(&drawn));
    assert!(fs::read(&sheet).unwrap().starts_with(b"%PDF-"));
    // the next revision: its letter alone
    let next = path("next.tinbadge.json");
    fs::copy(&job, &next).unwrap();
    change(Path::new(&next), |job| {
        for row in job["roster"]["rows"].as_array_mut().unwrap() {
            for cell in row["cells"].as_array_mut().unwrap().iter_mut().filter(|c| **c == "D") {
                *cell = "E".into();
            }
        }
        if job["revision"] == "D" {
            job["revision"] = "E".into();
        }
    });
    let told = tinbadge(&["steel-changes", &job, &next, "--part", &path("valve-body.stl")]);
    assert_eq!(told.status.code(), Some(0), "{}", said(&told));
    assert!(said(&told).contains("part-number “VB-20-07 D” → “VB-20-07 E”: another text"), "{}", said(&told));
    assert!(said(&told).contains("steel must be put on. Let in an insert of"), "{}", said(&told));
    assert_eq!(said(&told).matches("Nothing changes in the steel.").count(), 5, "{}", said(&told));
}

/// A block of 60 × 30 × 12 at the part's zero, and a mark on its top tied by hand.
#[test]
fn what_lies_where_is_told_without_building_anything() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_owned();
    let block = path("block.stl");
    let unknown = tinbadge(&["faces", &block]);
    assert!(unknown.status.code() == Some(2) && said(&unknown).contains("give it with --unit"), "{}", said(&unknown));
    let faces = said(&tinbadge(&["faces", &block, "--unit", "mm"]));
    assert!(faces.contains("plane facing +z") && faces.contains("6 faces"), "{faces}");
    assert!(faces.contains("1800.000 mm², from 0.000 0.000 12.000 to 60.000 30.000 12.000"), "{faces}");
    let json = tinbadge(&["faces", &block, "--unit", "inch", "--json"]);
    let all: serde_json::Value = serde_json::from_slice(&json.stdout).unwrap();
    let area: f64 = all.as_array().unwrap().iter().map(|f| f["area"].as_f64().unwrap()).sum();
    let inches = 2.0 * (60.0 * 30.0 + 60.0 * 12.0 + 30.0 * 12.0) * 25.4 * 25.4;
    assert!((area / inches - 1.0).abs() < 1e-6, "{area} for {inches}");
    assert_eq!(all[0]["surface"]["kind"], "plane");

    let job = path("block.tinbadge.json");
    change(Path::new(&job), |job| {
        job["marks"][0]["place"]["along"] = serde_json::json!({"tie": "from_start", "distance": 4.5});
        job["marks"][0]["place"]["up"] = serde_json::json!({"tie": "at", "position": 21.0});
    });
    let before = fs::read_dir(folder.path()).unwrap().count();
    let dry = tinbadge(&["run", &job, "--dry", "--explain"]);
    assert_eq!(dry.status.code(), Some(0), "{}", said(&dry));
    let told = said(&dry);
    assert!(told.contains("left 4.500, ") && told.contains(" 21.000 12.000, outward 0.000 0.000 1.000"), "{told}");
    assert!(
        told.contains("strip: zero at 0.000 0.000 12.000, along 1.000 0.000 0.000, up 0.000 1.000 0.000"),
        "{told}"
    );
    assert!(told.contains("along from 0.000 to 60.000 mm; up from 0.000 to 30.000 mm"), "{told}");
    // once round a barrel of R 15
    let round = said(&tinbadge(&["run", &path("valve-body.tinbadge.json"), "--dry", "--explain"]));
    assert!(round.contains(&format!("once round {:.3} mm", 30.0 * std::f64::consts::PI)), "{round}");
    // no lettering face here has this sign
    change(Path::new(&job), |job| job["marks"][0]["text"] = "漢".into());
    let nowhere = tinbadge(&["run", &job, "--dry"]);
    assert!(nowhere.status.code() == Some(1) && said(&nowhere).contains("CAN’T BE LAID: "), "{}", said(&nowhere));
    assert_eq!(fs::read_dir(folder.path()).unwrap().count(), before, "nothing is written");
}

/// Nobody reads on: as `| head -1` does.
#[test]
fn a_pipe_that_is_closed_ends_a_command_without_a_word() {
    let folder = tempdir().unwrap();
    demo_data(folder.path());
    let mut command = Command::new(env!("CARGO_BIN_EXE_tinbadge"));
    command.args(["faces", "--unit", "mm"]).arg(folder.path().join("valve-body.stl"));
    let mut running = command.stdout(Stdio::piped()).stderr(Stdio::piped()).spawn().unwrap();
    drop(running.stdout.take());
    let ended = running.wait_with_output().unwrap();
    assert!(ended.stderr.is_empty(), "{}", said(&ended));
    assert_eq!(ended.status.code(), Some(141));
}
