//! Exact geometry at the hand-off: made with one press, read back, downloaded and opened; or why there is none.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::{Method, StatusCode};
use step::{Limits, read};

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
