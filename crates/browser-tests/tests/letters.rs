//! A lettering face of the shop's own in a browser: read from a drawing, spaced, lettered in, handed off, kept for
//! other jobs.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use glam::DVec3;
use reqwest::Method;
use serde_json::json;
use solid::{Part, formats::stl};
use std::path::Path;
use thirtyfour::Key;
use trade::{Job, Unit};

const BY: &str = "A. Tester";

/// A job of a plain block that is pulled up, with one mark on its top.
async fn marked(server: &Server, text: &str) -> Result<String> {
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let top = faces.as_array().context("faces")?.iter().position(|f| f["says"].to_string().contains("+z"));
    server.edit(&id, BY, json!({"do": "add_mark", "face": top, "text": text, "point": null})).await?;
    Ok(id)
}

/// Gives a file to the chooser of lettering faces.
async fn take(browser: &Browser, name: &str, bytes: &[u8]) -> Result<()> {
    let folder = tempfile::tempdir_in(env!("CARGO_TARGET_TMPDIR"))?;
    let file = folder.path().join(name);
    std::fs::write(&file, bytes)?;
    let path = file.to_str().context("a path in UTF-8")?;
    browser.press("button[aria-label^='lettering face']").await?;
    browser.says("letters from a drawing").await?;
    browser.find("input[aria-label='drawing of letters']").await?.send_keys(path).await?;
    // the browser reads it before it goes
    browser.until("it was answered", "return !!document.querySelector('dialog, p.trouble, [role=alert]')").await
}

fn letter(c: char) -> String {
    format!("return !!document.querySelector('[aria-label=\"letter {c}\"]')")
}

#[tokio::test(flavor = "multi_thread")]
async fn letters_of_a_drawing_are_spaced_lettered_in_and_handed_off() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let id = marked(&server, "VB-20").await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.find("textarea").await?;
    // a drawing without letters says what is needed, and nothing is lost
    let plain = b"<svg xmlns='http://www.w3.org/2000/svg'><rect width='9' height='9'/></svg>";
    take(&browser, "plate.svg", plain).await?;
    browser.says("“plate.svg”: None of its layers or groups is named after a character").await?;

    let [_, (file, letters)] = demo::DRAWINGS;
    take(&browser, file, letters).await?;
    browser.says("39 letters in 3 rows, each with its baseline; capitals are as high as “H”.").await?;
    let tried = browser.value("return document.querySelector('[aria-label^=\"text to try\"]').value").await?;
    ensure!(tried == "VB-20", "what the mark says is tried: {tried}");
    browser.write("input[aria-label='text to try the face with']", "Vü", Key::Tab).await?;
    browser.says("The face lacks ü").await?;
    browser.write("input[aria-label='name of the face']", "Overpass", Key::Tab).await?;
    browser.press_text("use this face").await?;
    browser.says("“Overpass” is a face that ships").await?;
    browser.write("input[aria-label='name of the face']", "Marrowby", Key::Tab).await?;
    browser.write("input[aria-label='right bearing of all letters']", "14", Key::Enter).await?;
    browser.until("V is there", &letter('V')).await?;
    let press =
        "document.querySelector('[aria-label=\"letter V\"]').dispatchEvent(new MouseEvent('click', {bubbles: true}))";
    browser.value(press).await?;
    browser.write("input[aria-label='right bearing of the letter']", "2", Key::Enter).await?;
    browser.press_text("use this face").await?;
    browser
        .until("the sheet is gone", "return !document.querySelector('[aria-label=\"letters of the face\"]')")
        .await?;
    browser.says("Marrowby").await?;

    let job: Job = serde_json::from_value(server.get(&format!("/api/jobs/{id}")).await?["job"].clone())?;
    let face = &job.own_faces[0];
    let bearings = |c| face.letter(c).map(|l| (l.left, l.right));
    ensure!((bearings('V'), bearings('B')) == (Some((10.0, 2.0)), Some((10.0, 14.0))), "{:?}", bearings('V'));
    ensure!(job.marks[0].lettering.face == "Marrowby", "{:?}", job.marks[0].lettering);
    // ink of a V and of a B as drawn, with what they keep between them, at a cap height of 3.5 mm
    let gap = browser
        .value(
            "const ink = document.querySelectorAll('g.mark path[data-letter]'); \
             const [v, b] = [ink[0].getBBox(), ink[1].getBBox()]; return b.x - v.x - v.width",
        )
        .await?;
    let gap = gap.as_f64().context("a gap")?;
    ensure!((gap - 0.12 * 3.5).abs() < 0.01, "{gap}");
    // a letter that it lacks is named
    browser.write("textarea", "VB ü", Key::Tab).await?;
    browser.says("has no “ü”").await?;
    browser.write("textarea", "VB-20/A", Key::Tab).await?;
    browser.until("seven letters", "return document.querySelectorAll('g.mark path[data-letter]').length === 7").await?;
    browser.measured().await?;

    // the solid carries it, and the job file that goes with it makes the same solid elsewhere
    browser.press("nav a[href$='/handoff']").await?;
    browser.press("a[href*='/marked-solid.stl']").await?;
    let bytes = browser.downloaded("marked-solid.stl").await?;
    let solid = Part::read("marked.stl", &bytes, Some(Unit::Mm))?;
    let added = solid.mesh.volume() - demo::parts::plain_block().volume();
    browser.press("a[href*='/job.tinbadge.json']").await?;
    let kept = Job::from_json(&browser.downloaded("job.tinbadge.json").await?)?;
    let area: f64 = lettering::drawn(&kept.marks[0])?.characters.iter().map(|c| c.region.area()).sum();
    let high = kept.marks[0].relief.height;
    ensure!(added > 0.8 * area * high && added < 1.6 * area * high, "{added} mm³ over {area} mm² {high} high");
    elsewhere(&kept, &bytes)?;
    browser.quit().await
}

/// The command line makes the same marked solid from the job file and the part alone.
fn elsewhere(job: &Job, marked: &[u8]) -> Result<()> {
    let folder = tempfile::tempdir_in(env!("CARGO_TARGET_TMPDIR"))?;
    let job_file = folder.path().join("job.tinbadge.json");
    std::fs::write(&job_file, serde_json::to_vec(job)?)?;
    std::fs::write(folder.path().join(&job.part.file), stl::write(&demo::parts::plain_block()))?;
    let out = folder.path().join("out");
    let run = |args: &[&Path]| std::process::Command::new(browser_tests::program()).arg("run").args(args).output();
    let said = run(&[&job_file, Path::new("--out"), &out])?;
    ensure!(said.status.code() != Some(2), "{}", String::from_utf8_lossy(&said.stderr));
    ensure!(std::fs::read(out.join("marked-solid.stl"))? == marked, "another solid");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_shop_keeps_a_face_for_other_jobs_and_a_pattern_brings_its_own() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let (from, to) = (marked(&server, "MT").await?, marked(&server, "A 1").await?);
    let [_, (file, letters)] = demo::DRAWINGS;
    browser.driver.goto(&format!("{}/jobs/{from}/marks", server.base)).await?;
    browser.find("textarea").await?;
    take(&browser, file, letters).await?;
    browser.press_text("use this face").await?;
    browser
        .until("it is lettered in it", "return /marrowby-letters/.test(document.querySelector('aside').innerText)")
        .await?;

    // on another job it is offered, taken with one press, and taken back with one
    browser.driver.goto(&format!("{}/jobs/{to}/marks", server.base)).await?;
    browser.press("button[aria-label='lettering face: Centre line']").await?;
    browser.says("kept by the shop: 39 letters").await?;
    browser.press("[data-face='marrowby-letters']").await?;
    browser
        .until(
            "it is lettered in it",
            "return !!document.querySelector('button[aria-label=\"lettering face: marrowby-letters\"]')",
        )
        .await?;
    let job = server.get(&format!("/api/jobs/{to}")).await?["job"].clone();
    ensure!(job["own_faces"][0]["letters"].as_array().is_some_and(|l| l.len() == 39), "{job}");
    browser.press_text("undo").await?;
    browser
        .until(
            "it is as before",
            "return !!document.querySelector('button[aria-label=\"lettering face: Centre line\"]')",
        )
        .await?;

    // its bearings are changed in the first job; the other is offered the new one, its own stays
    browser.driver.goto(&format!("{}/jobs/{from}/marks", server.base)).await?;
    browser.press("button[aria-label='lettering face: marrowby-letters']").await?;
    browser.press_text("its bearings").await?;
    browser.write("input[aria-label='width of a blank']", "75", Key::Enter).await?;
    browser.press_text("use this face").await?;
    browser
        .until("the sheet is gone", "return !document.querySelector('[aria-label=\"letters of the face\"]')")
        .await?;
    let kept = server.get("/api/own-face?name=marrowby-letters").await?;
    ensure!(kept["blank"] == 75.0, "{kept}");

    // off the list and on it again
    browser.driver.goto(&format!("{}/jobs/{to}/marks", server.base)).await?;
    browser.press("button[aria-label='lettering face: Centre line']").await?;
    browser.press_text("archive").await?;
    browser.says("Archived:").await?;
    browser.press_text("restore").await?;
    browser.says("kept by the shop: 39 letters").await?;

    // a pattern comes with the face that it is lettered in
    let mark = json!({"author": BY, "name": "maker", "marks": ["mark-1"]});
    server.ask(Method::POST, &format!("/api/jobs/{from}/patterns"), Some(mark)).await?;
    let patterns = server.get("/api/patterns").await?;
    let pattern = server.get(&format!("/api/patterns/{}", patterns[0]["id"].as_str().context("an id")?)).await?;
    ensure!(patterns[0]["plates"][0]["problem"].is_null(), "{patterns}");
    let face = server.get(&format!("/api/jobs/{to}")).await?["job"]["marks"][0]["seat"]["face"].clone();
    let view = server.edit(&to, BY, json!({"do": "place_pattern", "pattern": pattern, "face": face})).await?;
    ensure!(view["job"]["own_faces"][0]["name"] == "marrowby-letters", "{view}");
    let plates = server.get(&format!("/api/jobs/{to}/plates")).await?;
    ensure!(
        plates[1]["problem"].is_null() && plates[1]["characters"].as_array().is_some_and(|c| c.len() == 2),
        "{plates}"
    );
    browser.quit().await
}

/// A roof whose flats fall by 25° from a ridge along y; the letters are read across it.
#[tokio::test(flavor = "multi_thread")]
async fn letters_are_kept_off_a_crease_and_get_the_edge_that_fits_them() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let corners = [(-15.0, 0.0), (15.0, 0.0), (15.0, 4.0), (0.0, 11.0), (-15.0, 4.0)];
    let base: Vec<DVec3> = corners.iter().map(|&(x, z)| DVec3::new(x, 10.0, z)).collect();
    let id = server.begin("roof.stl", stl::write(&demo::shapes::prism(&base, DVec3::NEG_Y * 20.0))).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let faces = faces.as_array().context("faces")?.iter();
    let flats: Vec<usize> = faces
        .enumerate()
        .filter(|(_, f)| f["says"].to_string().contains("0.423") || f["says"].to_string().contains("0.906"))
        .map(|(k, _)| k)
        .collect();
    ensure!(flats.len() == 2, "{flats:?}");
    server.edit(&id, BY, json!({"do": "add_mark", "face": flats[0], "text": "HIH", "point": null})).await?;
    server.edit(&id, BY, json!({"do": "extend_over", "id": "mark-1", "face": flats[1]})).await?;
    let middle = json!({"place": {"along": {"tie": "middle"}, "up": {"tie": "middle"}}});
    server.edit(&id, BY, json!({"do": "set_mark", "id": "mark-1", "settings": middle})).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark=mark-1", server.base)).await?;
    browser.says("“I” lies over a crease and bends with it.").await?;
    ensure!(browser.value("return document.querySelectorAll('g.mark path.over').length").await? == 1);
    browser.press_text("keep letters off it").await?;
    browser.until("no letter lies over it", "return !document.querySelector('g.mark path.over')").await?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    let letters = job["job"]["marks"][0]["letters"].as_array().context("letters")?.clone();
    let shifts: Vec<f64> = letters.iter().filter_map(|l| l["along"].as_f64()).collect();
    // the bar and the letter beyond it, alike
    ensure!(shifts.len() == 2 && (shifts[0] - shifts[1]).abs() < 1e-9 && shifts[0].abs() > 0.2, "{shifts:?}");
    // an edge that is too large for its strokes is refused with what fits, and then given that where it is allowed
    browser.write("input[aria-label='edge']", "0.3", Key::Enter).await?;
    browser.says("would fit").await?;
    browser.choose("select[aria-label='where a letter is too thin for it']", "as much as fits the letter").await?;
    browser.says("Less round, as much as fits: “H” edge").await?;
    browser.measured().await?;
    let told = server.get(&format!("/api/jobs/{id}/outcome")).await?["marks"][0]["less_round"].clone();
    ensure!(told.as_array().is_some_and(|t| t.len() == 3), "{told}");
    ensure!(told[0]["edge"].as_f64().is_some_and(|edge| edge > 0.05 && edge < 0.3), "{told}");
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}
