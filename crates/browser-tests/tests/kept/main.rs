//! How jobs are kept: what was acknowledged is there, what is sent again is made once, and what can't be sent yet waits.

mod steps;

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Line, Server};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use std::time::Duration;
use thirtyfour::Key;

#[tokio::test(flavor = "multi_thread")]
async fn acknowledged_changes_survive_kill_9_of_server_and_database() -> Result<()> {
    let mut cluster = Cluster::start(true);
    let mut server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let mut height = 3.0;
    for round in 0..3 {
        for _ in 0..5 {
            height += 0.1;
            let edit = json!({"do": "set_mark", "id": "mark-1", "settings": {"lettering": {"cap_height": height}}});
            server.edit(&id, "A. Tester", edit).await?;
        }
        let acknowledged = server.get(&format!("/api/jobs/{id}")).await?;
        server.kill()?;
        cluster.crash_and_restart();
        server = Server::start(&cluster.url())?;
        let after = server.get(&format!("/api/jobs/{id}")).await?;
        assert_eq!(after["job"], acknowledged["job"], "round {round}");
        assert_eq!(after["job"]["marks"][0]["lettering"]["cap_height"].as_f64(), Some(height));
        assert_eq!(after["by"], "A. Tester");
        // and the part file is there too
        assert_eq!(server.get(&format!("/api/jobs/{id}/outcome")).await?["state"], after["state"]);
    }
    Ok(())
}

/// What a server does that finds other faces in the same file: the numbers that were kept name other ones for it.
#[tokio::test(flavor = "multi_thread")]
async fn a_job_that_was_kept_under_other_face_numbers_finds_its_faces_again() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let path = format!("/api/jobs/{id}");
    let before = server.get(&path).await?;
    let findings = server.bytes(&format!("{path}/handoff/findings.json")).await?;
    server.kill()?;
    let top = before["job"]["marks"][0]["seat"]["face"].as_u64().context("the mark has a face")?;
    let mut kept = before["job"].clone();
    kept["marks"][0]["seat"]["face"] = json!((top + 1) % 6);
    for placed in kept["faces_at"].as_array_mut().context("its faces are placed")? {
        placed["face"] = json!((placed["face"].as_u64().context("a number")? + 1) % 6);
    }
    cluster.sql("tinbadge", &format!("update change set document = '{kept}' where id = {}", before["state"]));
    let server = Server::start(&cluster.url())?;
    assert_eq!(server.get(&path).await?["job"], before["job"]);
    assert!(server.bytes(&format!("{path}/handoff/findings.json")).await? == findings);
    let renamed = server.edit(&id, "A. Tester", json!({"do": "rename", "name": "Other"})).await?;
    assert_eq!(renamed["job"]["marks"], before["job"]["marks"]);
    assert_eq!(renamed["job"]["faces_at"], before["job"]["faces_at"]);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_job_that_cant_be_read_hides_no_other_one() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let (odd, sound) = (server.block_with_mark().await?, server.block_with_mark().await?);
    server.edit(&odd, "A. Tester", json!({"do": "rename", "name": "Odd one"})).await?;
    let state = server.get(&format!("/api/jobs/{odd}")).await?["state"].clone();
    server.kill()?;
    let odd_one = r#"'{"version": 2, "name": "Odd one", "marks": 7}'"#;
    cluster.sql("tinbadge", &format!("update change set document = {odd_one} where id = {state}"));
    let server = Server::start(&cluster.url())?;
    let list = server.get("/api/jobs").await?;
    let row = |id: &str| list.as_array().and_then(|l| l.iter().find(|r| r["id"] == id)).context("a row");
    ensure!(row(&sound)?["unreadable"].is_null() && row(&sound)?["marks"] == 1, "{list}");
    ensure!(row(&odd)?["name"] == "Odd one" && row(&odd)?["unreadable"].as_str().is_some_and(|w| !w.is_empty()));
    let (status, said) = server.ask(Method::GET, &format!("/api/jobs/{odd}"), None).await?;
    ensure!(status == StatusCode::INTERNAL_SERVER_ERROR && said["detail"].as_str().unwrap().contains("can't be read"));
    // a step back reaches what can be read
    let back = server.step(&odd, "A. Tester", "undo").await?;
    ensure!(back["job"]["marks"].as_array().is_some_and(|marks| marks.len() == 1), "{back}");
    Ok(())
}

/// A change whose answer was lost on the way is sent again under its key, and so is a step back.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_sent_again_under_its_key_is_made_once() -> Result<()> {
    let cluster = Cluster::start(false);
    let (one, other) = (Server::start(&cluster.url())?, Server::start(&cluster.url())?);
    let id = one.block_with_mark().await?;
    let before = one.get(&format!("/api/jobs/{id}")).await?["latest"].as_i64().context("a number")?;
    let again = json!({"author": "A. Tester", "key": "0b6f6c7e-6f0a-4a39-9d9c-0f6f5d3f7a11",
        "edit": {"do": "add_mark", "face": 1, "text": "ONCE", "point": null}});
    let path = format!("/api/jobs/{id}/changes");
    let (first, second, third) = tokio::join!(
        one.ask(Method::POST, &path, Some(again.clone())),
        other.ask(Method::POST, &path, Some(again.clone())),
        one.ask(Method::POST, &path, Some(again.clone())),
    );
    for (status, view) in [first?, second?, third?] {
        ensure!(status == StatusCode::OK && view["job"]["marks"].as_array().is_some_and(|m| m.len() == 2), "{view}");
    }
    let step = json!({"author": "A. Tester", "key": "0b6f6c7e-6f0a-4a39-9d9c-0f6f5d3f7a12"});
    for server in [&one, &other] {
        let (status, view) = server.ask(Method::POST, &format!("/api/jobs/{id}/undo"), Some(step.clone())).await?;
        ensure!(status == StatusCode::OK && view["job"]["marks"].as_array().is_some_and(|m| m.len() == 1), "{view}");
    }
    let rows = format!("select count(*) from change where job = '{id}' and id > {before}");
    ensure!(cluster.asked("tinbadge", &rows) == "2", "one change and one step back");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_text_that_cant_be_kept_is_told_as_what_it_is() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let edit = json!({"author": "A. Tester", "edit": {"do": "rename", "name": "A\u{0}B"}});
    let (status, said) = server.ask(Method::POST, &format!("/api/jobs/{id}/changes"), Some(edit)).await?;
    ensure!(
        status == StatusCode::UNPROCESSABLE_ENTITY && said["detail"].as_str().unwrap().contains("U+0000"),
        "{said}"
    );
    Ok(())
}

/// While the line is cut a window takes changes as before; they are sent in their order when it is back, those of one field
/// as its last value, and one whose answer was lost is not made twice.
#[tokio::test(flavor = "multi_thread")]
async fn changes_wait_while_the_line_is_cut_and_are_sent_in_order() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    let before = server.get(&format!("/api/jobs/{id}")).await?["latest"].as_i64().context("a number")?;
    // an answer that gets lost
    browser.value("window.lose = 1").await?;
    browser.write("header input", "Lost answer", Key::Enter).await?;
    browser.measured().await?;
    let rows = |wanted: &str| format!("select count(*) from change where job = '{id}' and id > {before} {wanted}");
    ensure!(cluster.asked("tinbadge", &rows("")) == "1", "it was made once");
    // no line at all
    browser.value("window.lose = 1e9; window.cut = true").await?;
    for name in ["First", "Second"] {
        browser.write("header input", name, Key::Enter).await?;
    }
    browser.says("Your last 2 changes wait here").await?;
    ensure!(
        browser.value("const e = new Event('beforeunload', {cancelable: true}); return !dispatchEvent(e)").await?
            == true
    );
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["name"] == "Lost answer");
    browser.value("window.lose = 0; window.cut = false").await?;
    browser.until("all was sent", "return dispatchEvent(new Event('beforeunload', {cancelable: true}))").await?;
    browser.measured().await?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    ensure!(job["job"]["name"] == "Second", "{}", job["job"]["name"]);
    ensure!(cluster.asked("tinbadge", &rows("")) == "3", "each was made once");
    ensure!(browser.value("return document.querySelector('header input').value").await? == "Second");
    // what was picked to be typed over stays picked when another value arrives
    let field = browser.find("header input").await?;
    field.click().await?;
    field.send_keys(Key::Control + "a").await?;
    let other = json!({"author": "B. Tester", "edit": {"do": "rename", "name": "From elsewhere"}});
    ensure!(server.ask(Method::POST, &format!("/api/jobs/{id}/changes"), Some(other)).await?.0 == StatusCode::OK);
    let arrived = "return document.querySelector('header input').value === 'From elsewhere'";
    browser.until("another name arrived", arrived).await?;
    field.send_keys("Typed over" + Key::Enter).await?;
    browser.measured().await?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    ensure!(job["job"]["name"] == "Typed over", "{}", job["job"]["name"]);
    ensure!(browser.complaints().await?.is_empty());
    browser.quit().await
}

/// A line that is slow, and cut at any moment, also between a change and its answer: nothing that was typed is lost or made
/// twice, the order stays, and nothing is said of a change that isn't so.
#[tokio::test(flavor = "multi_thread")]
async fn a_line_that_fails_loses_nothing_and_nothing_false_is_said() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let line = Line::to(&server.base).await?;
    let browser = Browser::at_the_bench(&line.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", line.base)).await?;
    browser.still().await?;
    browser
        .value(
            "window.alerts = []; new MutationObserver(() => { for (const a of document.querySelectorAll('[role=alert]')) \
             if (!alerts.includes(a.innerText)) alerts.push(a.innerText) }).observe(document.body, \
             {subtree: true, childList: true, characterData: true}); return true",
        )
        .await?;
    let before = server.get(&format!("/api/jobs/{id}")).await?["latest"].as_i64().context("a number")?;
    let mut typed = Vec::new();
    for round in 0..12_u64 {
        // never the same moment: the change may be on its way, made, or answered
        line.delay(Duration::from_millis(37 * round % 400));
        let name = format!("Name {round}");
        browser.write("header input", &name, Key::Enter).await?;
        typed.push(name);
        tokio::time::sleep(Duration::from_millis(53 * round % 300)).await;
        if round % 3 != 0 {
            line.cut();
            tokio::time::sleep(Duration::from_millis(211 * round % 900)).await;
            line.mend();
        }
    }
    line.delay(Duration::ZERO);
    browser.until("all was sent", "return dispatchEvent(new Event('beforeunload', {cancelable: true}))").await?;
    browser.measured().await?;
    let shown = browser.value("return document.querySelector('header input').value").await?;
    ensure!(shown == "Name 11", "{shown}");
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["name"] == "Name 11");
    let kept = cluster.asked(
        "tinbadge",
        &format!("select string_agg(label, '|' order by id) from change where job = '{id}' and id > {before}"),
    );
    let kept: Vec<&str> = kept.split('|').collect();
    ensure!(kept.len() == typed.len(), "{kept:?}");
    ensure!(kept.iter().zip(&typed).all(|(label, name)| label.contains(name.as_str())), "{kept:?}");
    // that a part of the page could not be fetched may be said; of a change nothing was refused
    let said = browser.value("return alerts.join('\\n')").await?;
    let said = said.as_str().unwrap_or_default();
    ensure!(["not kept", "nothing was changed", "anew", "refused"].iter().all(|word| !said.contains(word)), "{said}");
    browser.quit().await
}

/// Who changes what somebody else has changed since they looked is told, and nothing is written over; other fields of the
/// same mark are nobody's concern.
#[tokio::test(flavor = "multi_thread")]
async fn what_somebody_else_changed_meanwhile_is_not_written_over() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let path = format!("/api/jobs/{id}/changes");
    let seen = server.get(&format!("/api/jobs/{id}")).await?["latest"].as_i64().context("a number")?;
    let set = |author: &str, settings: Value| json!({"author": author, "seen": seen, "edit": {"do": "set_mark", "id": "mark-1", "settings": settings}});
    let tried = async |body: Value| server.ask(Method::POST, &path, Some(body)).await;
    ensure!(tried(set("B. Tester", json!({"relief": {"height": 0.45}}))).await?.0 == StatusCode::OK);
    // the same again, by whoever made it
    ensure!(tried(set("B. Tester", json!({"relief": {"height": 0.5}}))).await?.0 == StatusCode::OK);
    let (status, said) = tried(set("A. Tester", json!({"relief": {"height": 0.3}}))).await?;
    let said = said["detail"].as_str().context("a sentence")?.to_owned();
    ensure!(status == StatusCode::CONFLICT && said.contains("B. Tester has changed the same meanwhile"), "{said}");
    let (status, view) = tried(set("A. Tester", json!({"relief": {"draft": 6.0}, "text": "R4-08"}))).await?;
    let mark = &view["job"]["marks"][0];
    ensure!(status == StatusCode::OK && mark["relief"]["height"] == 0.5 && mark["relief"]["draft"] == 6.0, "{mark}");
    // a mark that is gone, and another one under its name
    server.edit(&id, "B. Tester", json!({"do": "remove_mark", "id": "mark-1"})).await?;
    server.edit(&id, "B. Tester", json!({"do": "add_mark", "face": 1, "text": "OTHER", "point": null})).await?;
    let (status, said) = tried(set("A. Tester", json!({"text": "R4-09"}))).await?;
    ensure!(status == StatusCode::CONFLICT, "{said}");

    // in a window: the change is told and can be made anew
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    browser.value("window.cut = true; window.lose = 1e9").await?;
    browser.write("header input", "Of A", Key::Enter).await?;
    browser.says("Your last change waits here").await?;
    server.edit(&id, "B. Tester", json!({"do": "rename", "name": "Of B"})).await?;
    browser.value("window.lose = 0; window.cut = false").await?;
    browser.says("B. Tester has changed the same meanwhile").await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["name"] == "Of B");
    browser.press_text("make it anew").await?;
    browser.until("it was made anew", "return document.querySelector('header input').value === 'Of A'").await?;
    browser.measured().await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["name"] == "Of A");
    ensure!(browser.value("return document.querySelector('[role=alert]') === null").await? == true);
    // the browser's own line about the answer that said no
    ensure!(browser.complaints().await?.iter().all(|c| c.contains("409")));
    browser.quit().await
}

/// A drawing that is read for as long as its reader may: nobody waits for it once the server is to end.
#[tokio::test(flavor = "multi_thread")]
async fn a_server_that_is_to_end_does_not_wait_for_what_it_works_out() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let pattern = |k: u32| {
        let fill = format!("<path fill=\"url(#p{})\" d=\"M0 0h3v3h-3z\"/>", k.saturating_sub(1)).repeat(2);
        format!("<pattern id=\"p{k}\" width=\"5\" height=\"5\" patternUnits=\"userSpaceOnUse\">{fill}</pattern>")
    };
    let patterns: String = (1..400).map(pattern).collect();
    let drawing = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\"><defs>{patterns}</defs><path fill=\"url(#p399)\" d=\"M0 0h90v90h-90z\"/></svg>"
    );
    let asked = server.client.post(format!("{}/api/artwork?file=a.svg", server.base)).body(drawing).send();
    let asked = tokio::spawn(asked);
    tokio::time::sleep(Duration::from_secs(2)).await;
    ensure!(!asked.is_finished(), "it takes long");
    let readers = server.readers()?;
    ensure!(readers.len() == 1, "{readers:?}");
    ensure!(server.end(Duration::from_secs(8))?, "it ends at once");
    ensure!(asked.await?.is_err());
    tokio::time::sleep(Duration::from_secs(1)).await;
    ensure!(!std::path::Path::new(&format!("/proc/{}/exe", readers[0])).exists(), "and its reader with it");
    Ok(())
}

/// A job file of a handoff, dropped with its part file on another server, is the same job there.
#[tokio::test(flavor = "multi_thread")]
async fn a_job_is_made_again_from_its_file_on_another_server() -> Result<()> {
    let (here, there) = (Cluster::start(false), Cluster::start(false));
    let (from, to) = (Server::start(&here.url())?, Server::start(&there.url())?);
    let id = from.block_with_mark().await?;
    let file = from.bytes(&format!("/api/jobs/{id}/handoff/job.tinbadge.json")).await?;
    let findings = from.bytes(&format!("/api/jobs/{id}/handoff/findings.json")).await?;
    let (status, said) =
        to.ask(Method::POST, "/api/jobs/of-file?author=A", Some(serde_json::from_slice(&file)?)).await?;
    ensure!(
        status == StatusCode::NOT_FOUND
            && said["detail"].as_str().is_some_and(|d| d.contains("drop both files together"))
    );
    let (status, said) = to.ask(Method::POST, "/api/jobs/of-file?author=A", Some(json!({"version": 2}))).await?;
    ensure!(
        status == StatusCode::UNPROCESSABLE_ENTITY && said["detail"].as_str().is_some_and(|d| d.contains("name")),
        "{said}"
    );
    ensure!(to.get("/api/jobs").await? == json!([]));

    let folder = tempfile::tempdir()?;
    let (job, part) = (folder.path().join("job.tinbadge.json"), folder.path().join("block.stl"));
    std::fs::write(&job, &file)?;
    std::fs::write(&part, solid::formats::stl::write(&demo::parts::plain_block()))?;
    let browser = Browser::at_the_bench(&to.base, "A. Tester").await?;
    browser.driver.goto(&to.base).await?;
    browser.find("#part-file").await?.send_keys(format!("{}\n{}", job.display(), part.display())).await?;
    browser.until("the job is open", "return !!document.querySelector('[data-mark]')").await?;
    browser.measured().await?;
    let made = to.get("/api/jobs").await?[0]["id"].as_str().context("an id")?.to_owned();
    ensure!(to.get(&format!("/api/jobs/{made}")).await?["job"] == from.get(&format!("/api/jobs/{id}")).await?["job"]);
    ensure!(to.bytes(&format!("/api/jobs/{made}/handoff/findings.json")).await? == findings);
    ensure!(browser.complaints().await?.is_empty());
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_refused_stays_in_its_field_with_the_reason_beside_it() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    browser.press("[data-mark]").await?;
    let field = "document.querySelector(\"input[aria-label='cap height']\")";
    browser.write("input[aria-label='cap height']", "900", Key::Enter).await?;
    let beside =
        format!("return {field}.closest('.field').querySelector('[role=alert]')?.innerText.includes('must lie')");
    browser.until("the reason stands beside it", &beside).await?;
    ensure!(browser.value(&format!("return {field}.value")).await? == "900");
    // leaving sends nothing again, and what is typed next is taken
    browser.press("canvas").await?;
    ensure!(browser.value(&format!("return {field}.value")).await? == "900");
    browser.write("input[aria-label='cap height']", "4", Key::Enter).await?;
    browser.until("it is taken", &format!("return !{field}.closest('.field').querySelector('[role=alert]')")).await?;
    browser.measured().await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0]["lettering"]["cap_height"] == 4.0);
    browser.quit().await
}
