//! The tool's side at the hand-off: how marks come into the steel, from where it is measured, the files; and what changes in steel
//! that is cut already.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use glam::DVec3;
use serde_json::json;
use solid::{Mesh, formats};
use thirtyfour::Key;

fn bounds(bytes: &[u8]) -> Result<(Mesh, DVec3, DVec3)> {
    let mesh = formats::read("it.stl", bytes)?.mesh;
    let (low, high) = mesh.bounds();
    Ok((mesh, low, high))
}

#[tokio::test(flavor = "multi_thread")]
async fn a_toolmaker_gets_what_is_cut_an_electrode_and_an_insert_where_he_measures() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.press_text("the tool’s side").await?;
    // nobody knows how large the steel is before the material is set
    browser.says("Set the material at the part").await?;
    let job = server.get(&format!("/api/jobs/{id}")).await?["job"].clone();
    let mut process = job["process"].clone();
    process["shrinkage"] = 2.0.into();
    server.edit(&id, "B. Tester", json!({"do": "set_process", "process": process})).await?;
    browser.says("At the steel’s size, × 1.0200").await?;
    browser.measured().await?;
    browser.press("a[href*='/tool-side/engraving-mark-1-steel-x1.0200.stl']").await?;
    let (own, low, high) = bounds(&browser.downloaded("engraving-mark-1-steel-x1.0200.stl").await?)?;
    ensure!(own.volume() > 0.0, "{low} {high}");

    // from the middle of the part it lies elsewhere and is the same
    // the callout sheet, as somebody who has A3 paper and thinks in inches takes it
    browser.press_text("the callout sheet").await?;
    browser.choose("select[aria-label='paper']", "A3").await?;
    browser.choose("select[aria-label='unit of the dimensions']", "inches").await?;
    browser.press("a[href*='/callouts.pdf']").await?;
    let sheet = browser.downloaded("callouts.pdf").await?;
    ensure!(sheet.starts_with(b"%PDF-") && sheet.len() > 20_000, "{} bytes", sheet.len());
    let wide = String::from_utf8_lossy(&sheet).contains("1190.55");
    ensure!(wide, "A3 is 420 mm wide: 1190.55 points");
    browser.press_text("the tool’s side").await?;
    browser.measured().await?;
    browser.choose("select[aria-label='zero of the tool']", "the middle of the part").await?;
    browser.measured().await?;
    let view = server.get(&format!("/api/jobs/{id}")).await?;
    ensure!(view["job"]["datum"] == json!({"datum": "centre"}), "{}", view["job"]["datum"]);
    browser.forget_downloads()?;
    browser.press("a[href*='/tool-side/engraving-mark-1-steel-x1.0200.stl']").await?;
    let (moved, from, to) = bounds(&browser.downloaded("engraving-mark-1-steel-x1.0200.stl").await?)?;
    ensure!((moved.volume() / own.volume() - 1.0).abs() < 1e-5 && (from - low).length() > 1.0);
    ensure!(((to - from) - (high - low)).length() < 1e-4);

    // a cutter that is there: what it leaves, which letters, and lettering that it cuts in one pass
    browser.press_text("try a cutter you have").await?;
    browser.says("it is too wide for most of it").await?;
    browser.press_text("Ø 0.50").await?;
    browser
        .until("it is drawn", "return document.querySelector('.sheet img')?.src.includes('/left-by-cutter-1-mark-1-')")
        .await?;
    browser.write("input[aria-label='diameter of cutter 1']", "0.3", Key::Enter).await?;
    // strokes of 0.36 mm with round ends have no corner that it could leave
    browser.says("Ø 0.30 leaves nothing wider than 0.01 mm").await?;
    browser.measured().await?;
    browser.press("button[aria-label='remove cutter 1']").await?;
    browser.says("try a cutter you have").await?;
    browser.measured().await?;

    browser.choose("select[aria-label^='how “']", "sunk by an electrode").await?;
    browser.says("Electrode on a block of").await?;
    browser.measured().await?;
    browser.write("input[aria-label^='spark gap']", "0.05", Key::Enter).await?;
    browser.measured().await?;
    let view = server.get(&format!("/api/jobs/{id}")).await?;
    ensure!(view["job"]["marks"][0]["in_steel"]["gap"] == 0.05, "{}", view["job"]["marks"][0]["in_steel"]);
    browser.press("a[href*='/tool-side/electrode-mark-1-steel-x1.0200.stl']").await?;
    let (electrode, ..) = bounds(&browser.downloaded("electrode-mark-1-steel-x1.0200.stl").await?)?;
    ensure!(electrode.volume() > 100.0, "{}", electrode.volume());
    // what can't be is told where it is set, and stays in the field
    browser.write("input[aria-label^='spark gap']", "7", Key::Enter).await?;
    browser.says("must lie between 0.005 and 1 mm").await?;

    browser.choose("select[aria-label^='how “']", "on an insert").await?;
    browser.says("Insert of").await?;
    browser.measured().await?;
    ensure!(browser.value("return document.querySelectorAll(\"a[href*='insert-pocket-mark-1']\").length").await? == 1);
    // its letters as solids where the steel lies
    browser.press_text("make lettering.step").await?;
    browser.says("Read back:").await?;
    browser.press("a[href*='/exact/lettering.step']").await?;
    let name = "lettering-mark-1-steel-x1.0200.step";
    let file = step::read(&browser.downloaded(name).await?, &step::Limits::default())?;
    let all = file.bodies.iter().flat_map(|b| &b.faces).flat_map(|f| &f.vertices);
    let (least, most) = all.fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(a, b), p| (a.min(*p), b.max(*p)));
    ensure!((least - from).length() < 0.02 && (most - to).length() < 0.02, "{least} {most}, {from} {to}");
    // refused were the tool's side without a shrinkage, and the gap
    let complaints = browser.complaints().await?;
    ensure!(complaints.iter().all(|c| c.contains("422")), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_change_asks_of_steel_is_told_letter_by_letter() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let set = |settings: serde_json::Value| json!({"do": "set_mark", "id": "mark-1", "settings": settings});
    let place = json!({"along": {"tie": "from_start", "distance": 6.0}});
    server.edit(&id, "B. Tester", set(json!({"text": "PN 7 D", "place": place}))).await?;
    let cut = server.get(&format!("/api/jobs/{id}")).await?["state"].as_i64().context("a state")?;
    server.edit(&id, "B. Tester", set(json!({"text": "PN 7 E"}))).await?;

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.press_text("what changes in steel").await?;
    browser.says("“D” → “E”: steel must be put on. Let in an insert of").await?;
    browser.says("PN 7 D → PN 7 E").await?;
    browser
        .until("the picture is there", "return [...document.querySelectorAll('img')].some(i => i.naturalWidth === 720)")
        .await?;
    let told = server.get(&format!("/api/jobs/{id}/states/{cut}/steel")).await?;
    let [off, on] = ["off", "on"].map(|what| told["marks"][0][what]["volume"].as_f64().unwrap_or_default());
    ensure!(off > 0.01 && on > 0.01 && told["marks"][0]["differs"] == json!(["another text"]), "{told}");
    // raised higher nothing is to be welded
    server.edit(&id, "B. Tester", set(json!({"text": "PN 7 D"}))).await?;
    browser.says("Nothing changes in the steel").await?;
    server.edit(&id, "B. Tester", set(json!({"relief": {"height": 0.45}}))).await?;
    browser.says("Nothing is to be welded").await?;
    ensure!(browser.complaints().await?.is_empty(), "{:?}", browser.complaints().await?);
    browser.quit().await
}
