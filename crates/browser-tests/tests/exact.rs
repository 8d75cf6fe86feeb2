//! Exact geometry at the hand-off: made with one press, read back, downloaded and opened; or why there is none.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server, repository};
use reqwest::{Method, StatusCode};
use std::{fs, process::Command};
use step::{Limits, read};

/// Name, number of faces and volume, mm³, of each solid of a STEP file, as occt-import-js reads it (npm, LGPL-2.1): a build of its
/// own that never saw what drew the file. Volumes are of its triangles, which lie within 0.001 mm of the faces.
fn elsewhere(bytes: &[u8]) -> Result<Vec<(String, usize, f64)>> {
    const SCRIPT: &str = r#"
const fs = require("fs");
require("occt-import-js")().then((reader) => {
  const asked = { linearUnit: "millimeter", linearDeflectionType: "absolute_value", linearDeflection: 0.001, angularDeflection: 0.05 };
  const read = reader.ReadStepFile(fs.readFileSync(process.argv[1]), asked);
  if (!read.success) throw new Error("it can't be read");
  const volume = ({ attributes, index }) => {
    const p = attributes.position.array, at = index.array;
    let sum = 0;
    for (let i = 0; i < at.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((axis) => p[3 * at[i + k] + axis]));
      sum += a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
    }
    return sum / 6;
  };
  console.log(JSON.stringify(read.meshes.map((m) => [m.name, m.brep_faces.length, volume(m)])));
});
"#;
    let folder = tempfile::tempdir()?;
    let path = folder.path().join("it.step");
    fs::write(&path, bytes)?;
    let ran = Command::new("node").args(["-e", SCRIPT]).arg(&path).current_dir(repository().join("web")).output()?;
    ensure!(ran.status.success(), "{}", String::from_utf8_lossy(&ran.stderr));
    Ok(serde_json::from_slice(&ran.stdout)?)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_step_part_is_marked_in_its_own_faces_and_its_letters_are_solids() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let dome = demo::jobs().into_iter().find(|d| d.job.part.file == "filter-dome.step").context("the dome")?;
    let id = server.begin("filter-dome.step", dome.part.clone()).await?;
    let part = server.get(&format!("/api/jobs/{id}")).await?;
    let faces = part["part"]["faces"].as_array().context("faces")?;
    let sphere = faces.iter().position(|f| f["kind"] == "sphere").context("a sphere")?;
    let mark = serde_json::json!({"do": "add_mark", "face": sphere, "text": "R7", "point": null});
    server.edit(&id, "B. Tester", mark).await?;

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.says("Exact geometry").await?;
    browser.press_text("make marked-solid.step").await?;
    browser.says("Read back: 1 solid").await?;
    browser.press("a[href*='/exact/marked-solid.step']").await?;
    let bare = read(&dome.part, &Limits::default())?.bodies[0].volume;
    let solid = read(&browser.downloaded("marked-solid.step").await?, &Limits::default())?;
    let [body] = &solid.bodies[..] else { anyhow::bail!("{} bodies", solid.bodies.len()) };
    ensure!(body.solid && body.volume > bare + 0.1 && body.volume < bare + 10.0, "{} on {bare}", body.volume);

    // a reader from elsewhere finds one solid of the same volume, with the part's own faces and more
    let [(name, faces, volume)] = &elsewhere(&browser.downloaded("marked-solid.step").await?)?[..] else {
        anyhow::bail!("one solid was drawn")
    };
    ensure!((volume / body.volume - 1.0).abs() < 1e-4 && *faces == body.faces.len(), "{name}: {volume}, {faces} faces");

    // in the other protocol what was made is made anew
    browser.choose("select[aria-label='application protocol']", "AP242").await?;
    browser.press_text("make lettering.step").await?;
    browser.says("Read back: 2 solids").await?;
    browser.press("a[href*='/exact/lettering.step']").await?;
    let bytes = browser.downloaded("lettering.step").await?;
    ensure!(String::from_utf8_lossy(&bytes[..2000.min(bytes.len())]).contains("AP242"));
    let letters = read(&bytes, &Limits::default())?;
    let names: Vec<&str> = letters.bodies.iter().map(|b| b.name.as_str()).collect();
    ensure!(names == ["mark-1 1: R", "mark-1 2: 7"], "{names:?}");
    let others = elsewhere(&bytes)?;
    ensure!(others.iter().map(|(name, ..)| name.as_str()).eq(names), "{others:?}");
    for ((name, faces, volume), own) in others.iter().zip(&letters.bodies) {
        ensure!(
            (volume / own.volume - 1.0).abs() < 1e-3 && *faces == own.faces.len(),
            "{name}: {volume}, {faces} faces"
        );
    }
    ensure!(browser.complaints().await?.is_empty(), "{:?}", browser.complaints().await?);
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_has_no_step_file_is_told_why() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let (status, told) = server.ask(Method::POST, &format!("/api/jobs/{id}/exact/marked-solid.step"), None).await?;
    ensure!(status == StatusCode::UNPROCESSABLE_ENTITY && told.to_string().contains("came as triangles"), "{told}");
    let (status, told) = server.ask(Method::POST, &format!("/api/jobs/{id}/exact/all.step"), None).await?;
    ensure!(status == StatusCode::NOT_FOUND && told.to_string().contains("there are lettering.step and"), "{told}");
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.says("The part came as triangles: its own faces are not known").await?;
    ensure!(browser.value("return !!document.body.innerText.match(/make marked-solid/)").await? == false);
    // with nothing but a surface-only mark there is no body
    let set = serde_json::json!({"do": "set_mark", "id": "mark-1", "settings": {"relief": {"sense": "surface"}}});
    server.edit(&id, "B. Tester", set).await?;
    browser.press_text("make lettering.step").await?;
    browser.says("no mark has any relief").await?;
    browser.quit().await
}
