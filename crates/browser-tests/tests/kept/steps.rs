//! Steps back and again, the history, and what is one step of it.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use std::time::Duration;

#[tokio::test(flavor = "multi_thread")]
async fn undo_and_redo_carry_names_and_survive_a_restart() -> Result<()> {
    let cluster = Cluster::start(false);
    let mut server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let text = |job: &Value| job["job"]["marks"][0]["text"].as_str().unwrap_or_default().to_owned();
    let set = |text: &str| json!({"do": "set_mark", "id": "mark-1", "settings": {"text": text}});
    server.edit(&id, "C. Tester", set("ONE")).await?;
    server.edit(&id, "C. Tester", set("TWO")).await?;
    let back = server.step(&id, "C. Tester", "undo").await?;
    assert_eq!((text(&back).as_str(), back["by"].as_str()), ("ONE", Some("C. Tester")));
    assert_eq!(back["redo"], "ONE: text");
    drop(server);
    server = Server::start(&cluster.url())?;
    assert_eq!(text(&server.step(&id, "C. Tester", "undo").await?), "R4-07");
    assert_eq!(text(&server.step(&id, "C. Tester", "redo").await?), "ONE");
    assert_eq!(text(&server.step(&id, "C. Tester", "redo").await?), "TWO");
    assert!(server.step(&id, "C. Tester", "redo").await.is_err(), "there is nothing more to redo");
    // a change after a step back begins a new branch, and the old one can't be done again by mistake
    server.step(&id, "C. Tester", "undo").await?;
    let branched = server.edit(&id, "C. Tester", set("THREE")).await?;
    assert_eq!(branched["redo"], Value::Null);
    assert_eq!(text(&server.step(&id, "C. Tester", "undo").await?), "ONE");
    assert_eq!(text(&server.step(&id, "C. Tester", "undo").await?), "R4-07");
    // how the job was begun is another person's
    let (status, body) =
        server.ask(Method::POST, &format!("/api/jobs/{id}/undo"), Some(json!({"author": "C. Tester"}))).await?;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn undo_takes_ones_own_change_and_leaves_what_others_did() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let set = |settings: Value| json!({"do": "set_mark", "id": "mark-1", "settings": settings});
    let mark = |view: &Value| {
        let mark = &view["job"]["marks"][0];
        (mark["text"].as_str().unwrap_or_default().to_owned(), mark["relief"]["draft"].as_f64().unwrap_or_default())
    };
    let begun = server.get(&format!("/api/jobs/{id}")).await?;
    let before = mark(&begun);
    let mine = server.edit(&id, "A. Tester", set(json!({"text": "MINE"}))).await?;
    server.edit(&id, "B. Tester", set(json!({"relief": {"draft": 7.0}}))).await?;
    let add = json!({"do": "add_mark", "face": 1, "text": "MORE", "point": null});
    server.edit(&id, "B. Tester", add).await?;

    // the one takes back a text under what the other has done since, and brings it again
    let undone = server.step(&id, "A. Tester", "undo").await?;
    ensure!(mark(&undone) == (before.0.clone(), 7.0), "{undone}");
    ensure!(undone["job"]["marks"].as_array().map(Vec::len) == Some(2) && undone["redo"] == "R4-07: text");
    let again = server.step(&id, "A. Tester", "redo").await?;
    ensure!(mark(&again) == ("MINE".into(), 7.0) && again["redo"].is_null(), "{again}");
    // … over and over, by way of the states that there are
    server.step(&id, "A. Tester", "undo").await?;
    let redone = server.step(&id, "A. Tester", "redo").await?;
    ensure!(redone["state"] == again["state"], "{redone}");

    // the other one steps through theirs, newest first; the first one's text stays
    let other = server.step(&id, "B. Tester", "undo").await?;
    ensure!(mark(&other) == ("MINE".into(), 7.0) && other["job"]["marks"].as_array().map(Vec::len) == Some(1));
    let other = server.step(&id, "B. Tester", "undo").await?;
    ensure!(mark(&other) == ("MINE".into(), before.1) && other["undo"].is_null(), "{other}");
    let person = |name: &str| format!("/api/jobs/{id}?person={name}");
    ensure!(server.get(&person("A.%20Tester")).await?["undo"] == "R4-07: text");
    ensure!(server.get(&person("C.%20Tester")).await?["undo"].is_null());

    // what somebody else has changed since is not taken from them: it is said, and asked
    server.edit(&id, "B. Tester", set(json!({"text": "THEIRS"}))).await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    browser.press_text("undo").await?;
    browser.says("B. Tester has changed the same since (MINE: text)").await?;
    ensure!(mark(&server.get(&format!("/api/jobs/{id}")).await?).0 == "THEIRS");
    browser.press_text("undo all that was done since, too").await?;
    browser.measured().await?;
    let back = server.get(&format!("/api/jobs/{id}")).await?;
    ensure!(back["job"] == begun["job"], "as before the first change");
    ensure!(back["latest"].as_i64() > mine["latest"].as_i64());
    // that was a change of one's own again
    browser.press_text("undo").await?;
    browser.measured().await?;
    ensure!(mark(&server.get(&format!("/api/jobs/{id}")).await?).0 == "THEIRS");
    browser.quit().await
}

/// A person who types a text, stops to think and goes on has typed one text.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_into_a_field_is_one_step_however_often_it_is_kept() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let path = format!("/api/jobs/{id}");
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    browser.press("[data-mark]").await?;
    let field = browser.find("textarea[aria-label='text of the mark']").await?;
    field.clear().await?;
    let says = async |text: &str| -> Result<()> {
        for _ in 0..100 {
            if server.get(&path).await?["job"]["marks"][0]["text"] == text {
                return Ok(());
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        anyhow::bail!("{text} is not kept")
    };
    for (more, kept) in [("VB", "VB"), ("-20", "VB-20"), ("40", "VB-2040")] {
        field.send_keys(more).await?;
        says(kept).await?;
    }
    let rows = server.get(&format!("{path}/history")).await?;
    let of_text = |row: &Value| row["says"].as_str().is_some_and(|says| says.ends_with(": text"));
    let typed = rows.as_array().into_iter().flatten().filter(|row| of_text(row)).count();
    ensure!(typed == 1, "{rows}");
    // left and come back to: that is another step
    browser.press("canvas").await?;
    browser.press("[data-mark]").await?;
    let field = browser.find("textarea[aria-label='text of the mark']").await?;
    field.send_keys("-B").await?;
    says("VB-2040-B").await?;
    for text in ["VB-2040", "R4-07"] {
        server.step(&id, "A. Tester", "undo").await?;
        says(text).await?;
    }
    ensure!(browser.complaints().await?.is_empty());
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_history_says_who_did_what_and_brings_a_job_back() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let set = |text: &str| json!({"do": "set_mark", "id": "mark-1", "settings": {"text": text}});
    let first = server.edit(&id, "B. Tester", set("FIRST")).await?;
    server.edit(&id, "C. Tester", set("SECOND")).await?;
    server.step(&id, "C. Tester", "undo").await?;
    let path = format!("/api/jobs/{id}/history");
    let rows = server.get(&path).await?;
    let told = |row: &Value| ["by", "says"].map(|key| row[key].as_str().unwrap_or_default().to_owned());
    let all: Vec<[String; 2]> = rows.as_array().context("rows")?.iter().map(told).collect();
    ensure!(
        all[0] == ["C. Tester", "undo: FIRST: text"] && all[1][0] == "C. Tester" && all[2][0] == "B. Tester",
        "{all:?}"
    );
    ensure!(all.last().is_some_and(|row| row[1] == "job begun"));
    ensure!(rows[0]["state"] == first["state"]);
    let earlier = server.get(&format!("{path}?before={}", rows[2]["row"])).await?;
    ensure!(earlier.as_array().map(Vec::len) == Some(all.len() - 3));
    let (status, _) = server.ask(Method::GET, "/api/jobs/0b6f6c7e-6f0a-4a39-9d9c-0f6f5d3f7a11/history", None).await?;
    ensure!(status == StatusCode::NOT_FOUND);

    // a person reads it and goes back to where there was no mark yet; undo brings the mark again
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    browser.press_text("history").await?;
    browser.says("mark “R4-07” added").await?;
    ensure!(
        browser
            .value(
                "return document.querySelector('dialog li small').closest('li').innerText.includes('undo: FIRST: text')"
            )
            .await?
            == true
    );
    let before = "[...document.querySelectorAll('dialog li')].find(li => li.innerText.includes('parting line added'))";
    browser.value(&format!("{before}.querySelector('button.word').click()")).await?;
    browser.until("the mark is gone", "return document.querySelectorAll('[data-mark]').length === 0").await?;
    browser.measured().await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"].as_array().is_some_and(Vec::is_empty));
    browser.press_text("undo").await?;
    browser.measured().await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0]["text"] == "FIRST");
    ensure!(browser.complaints().await?.is_empty());
    browser.quit().await
}
