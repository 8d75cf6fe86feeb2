//! Edits as programs send them: several in one step, ids of what they made, rows that need not be sent again; states looked
//! at; things of the shop.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use thirtyfour::Key;

#[tokio::test(flavor = "multi_thread")]
async fn several_edits_are_one_step_and_the_answer_names_what_they_made() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let path = format!("/api/jobs/{id}/changes");
    let send = async |edit: Value, and: Value| {
        server.ask(Method::POST, &path, Some(json!({"author": "A. Tester", "edit": edit, "and": and}))).await
    };
    let column = json!({"do": "roster", "edit": {"change": "add_column", "name": "lot", "column": {"kind": "text"}}});
    let rows = json!({"do": "roster", "edit": {"change": "add_rows", "count": 3, "below": null}});
    let copy = json!({"do": "copy_mark", "id": "mark-1"});
    let slide = json!({"do": "add_slide", "direction": [1.0, 0.0, 0.0]});
    let (status, view) = send(column, json!([rows, copy, slide])).await?;
    ensure!(status == StatusCode::OK, "{view}");
    let made = json!({"marks": ["mark-2"], "rows": [1, 2, 3], "cavities": [], "slides": ["slide 1"], "keep_outs": []});
    ensure!(view["made"] == made, "{}", view["made"]);
    // one of them is refused: none is made
    let rename = json!({"do": "rename", "name": "Other"});
    let (status, said) = send(rename.clone(), json!([{"do": "copy_mark", "id": "nobody"}])).await?;
    ensure!(status == StatusCode::NOT_FOUND || status == StatusCode::UNPROCESSABLE_ENTITY, "{status} {said}");
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["name"] == "block");
    let (status, said) = send(rename.clone(), json!(vec![rename; 200])).await?;
    ensure!(
        status == StatusCode::UNPROCESSABLE_ENTITY && said["detail"].as_str().unwrap_or("").contains("200"),
        "{said}"
    );
    // one step back takes all of them back
    let back = server.step(&id, "A. Tester", "undo").await?;
    ensure!(back["job"]["marks"].as_array().map(Vec::len) == Some(1) && back["job"]["roster"]["rows"] == json!([]));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn an_id_that_was_given_is_never_given_again() -> Result<()> {
    let cluster = Cluster::start(false);
    let mut server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let edit = async |server: &Server, edit: Value| server.edit(&id, "A. Tester", edit).await;
    let add = || json!({"do": "add_mark", "face": 1, "text": "NEW", "point": null});
    let rows = |edit: Value| json!({"do": "roster", "edit": edit});
    edit(&server, rows(json!({"change": "add_column", "name": "lot", "column": {"kind": "text"}}))).await?;
    edit(&server, rows(json!({"change": "add_rows", "count": 2, "below": null}))).await?;
    // removed, taken back, and after a restart
    edit(&server, json!({"do": "remove_mark", "id": "mark-1"})).await?;
    let second = edit(&server, add()).await?;
    ensure!(second["made"]["marks"] == json!(["mark-2"]), "{}", second["made"]);
    server.step(&id, "A. Tester", "undo").await?;
    server.kill()?;
    server = Server::start(&cluster.url())?;
    let third = edit(&server, add()).await?;
    ensure!(third["made"]["marks"] == json!(["mark-3"]), "{}", third["made"]);
    edit(&server, rows(json!({"change": "remove_rows", "rows": [2]}))).await?;
    let more = edit(&server, rows(json!({"change": "add_rows", "count": 1, "below": null}))).await?;
    ensure!(more["made"]["rows"] == json!([3]), "{}", more["made"]);
    let slide = || json!({"do": "add_slide", "direction": [1.0, 0.0, 0.0]});
    edit(&server, slide()).await?;
    edit(&server, json!({"do": "remove_slide", "name": "slide 1"})).await?;
    ensure!(edit(&server, slide()).await?["made"]["slides"] == json!(["slide 2"]));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn rows_that_stay_are_left_out_for_who_has_them() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let rows = |edit: Value| json!({"do": "roster", "edit": edit});
    server
        .edit(&id, "A. Tester", rows(json!({"change": "add_column", "name": "lot", "column": {"kind": "text"}})))
        .await?;
    let had = server.edit(&id, "A. Tester", rows(json!({"change": "add_rows", "count": 3, "below": null}))).await?;
    let state = had["state"].as_i64().context("a state")?;
    let path = format!("/api/jobs/{id}/changes?roster_of={state}");
    let change = async |edit: Value| -> Result<Value> {
        let (status, view) =
            server.ask(Method::POST, &path, Some(json!({"author": "A. Tester", "edit": edit}))).await?;
        ensure!(status == StatusCode::OK, "{view}");
        Ok(view)
    };
    let renamed = change(json!({"do": "rename", "name": "Other"})).await?;
    ensure!(renamed["rows_of"] == state && renamed["job"]["roster"]["rows"] == json!([]), "{renamed}");
    ensure!(renamed["job"]["roster"]["columns"] == had["job"]["roster"]["columns"]);
    let set = json!({"change": "set_cell", "row": 2, "column": "lot", "text": "7"});
    let other = change(rows(set)).await?;
    ensure!(
        other["rows_of"].is_null() && other["job"]["roster"]["rows"].as_array().map(Vec::len) == Some(3),
        "{other}"
    );
    // a state of another job tells nothing of this one's rows
    let elsewhere = server.block_with_mark().await?;
    let begun = server.get(&format!("/api/jobs/{elsewhere}?roster_of={state}")).await?;
    ensure!(begun["rows_of"].is_null(), "{begun}");
    Ok(())
}

/// In a window: how a job was is looked at, compared, and opened as a job of its own.
#[tokio::test(flavor = "multi_thread")]
async fn a_state_of_the_history_is_looked_at_compared_and_opened() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let set = |settings: Value| json!({"do": "set_mark", "id": "mark-1", "settings": settings});
    let then = server.edit(&id, "A. Tester", set(json!({"text": "THEN"}))).await?["state"].clone();
    server.edit(&id, "B. Tester", set(json!({"text": "NOW", "relief": {"draft": 7.5}}))).await?;
    let told = server.get(&format!("/api/jobs/{id}/states/{then}/differences")).await?;
    let line = |d: &Value| [&d["of"], &d["what"], &d["then"], &d["now"]].map(|v| v.as_str().unwrap_or("").to_owned());
    let lines: Vec<[String; 4]> = told["all"].as_array().context("differences")?.iter().map(line).collect();
    ensure!(lines.contains(&["mark “NOW”", "text", "THEN", "NOW"].map(Into::into)), "{lines:?}");
    ensure!(lines.iter().any(|l| l[1] == "relief, draft" && l[3] == "7.5") && lines.len() == 2, "{lines:?}");
    let pictures = [format!("/api/jobs/{id}/picture?state={then}"), format!("/api/jobs/{id}/picture")];
    let [was, is] = [server.bytes(&pictures[0]).await?, server.bytes(&pictures[1]).await?];
    ensure!(was.starts_with(b"\x89PNG") && is.starts_with(b"\x89PNG") && was != is, "the letters are others");
    let (status, _) = server.ask(Method::GET, &format!("/api/jobs/{id}/picture?state=1234567"), None).await?;
    ensure!(status == StatusCode::NOT_FOUND);

    let browser = Browser::at_the_bench(&server.base, "C. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    browser.press_text("history").await?;
    browser.press_text("R4-07: text").await?;
    browser.says("THEN → NOW").await?;
    browser.until("the picture is there", "return document.querySelector('.then img')?.naturalWidth === 360").await?;
    browser.press_text("open it as a job of its own").await?;
    browser.until("it is open", "return document.querySelector('header input')?.value.startsWith('block of ')").await?;
    let jobs = server.get("/api/jobs").await?;
    let jobs = jobs.as_array().context("jobs")?;
    ensure!(jobs.len() == 2);
    let copy = jobs[0]["id"].as_str().context("an id")?;
    ensure!(server.get(&format!("/api/jobs/{copy}")).await?["job"]["marks"][0]["text"] == "THEN");
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0]["text"] == "NOW");
    browser.quit().await
}

/// The shop's time zone and its lettering faces: set and kept by one of those who do it at once, told who did what, and an
/// older face brought back.
#[tokio::test(flavor = "multi_thread")]
async fn the_shops_things_have_versions_a_history_and_one_who_is_first() -> Result<()> {
    let cluster = Cluster::start(false);
    let (server, other) = (Server::start(&cluster.url())?, Server::start(&cluster.url())?);
    let zone = async |server: &Server, zone: Value, seen: i32| {
        let body = json!({"author": "A. Tester", "zone": zone, "seen": seen});
        server.ask(Method::PUT, "/api/shop/zone", Some(body)).await
    };
    // at any moment it is another day in one of the two than in the other, or the clocks stand a day apart
    ensure!(zone(&server, json!("Pacific/Kiritimati"), 0).await?.0 == StatusCode::NO_CONTENT);
    let (status, said) = zone(&other, json!("Pacific/Midway"), 0).await?;
    ensure!(status == StatusCode::CONFLICT && said["detail"].as_str().unwrap_or("").contains("meanwhile"), "{said}");
    let (status, said) = zone(&server, json!("Middle/Earth"), 1).await?;
    ensure!(status == StatusCode::UNPROCESSABLE_ENTITY, "{said}");
    let east = server.get("/api/shop").await?["day"].clone();
    // the other server hears of it
    let mut heard = false;
    for _ in 0..100 {
        heard = other.get("/api/shop").await?["day"] == east;
        if heard {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    ensure!(heard, "the other server shows another day");
    ensure!(zone(&server, json!("Pacific/Midway"), 1).await?.0 == StatusCode::NO_CONTENT);
    ensure!(server.get("/api/shop").await?["day"] != east, "25 hours lie between the two");

    let face = |side: f64| {
        json!({"name": "Marrowby", "file": "letters.svg", "blank": 40.0, "letters":
            [{"character": "I", "outline": format!("M0 0H{side}V100H0Z"), "left": 10.0, "right": 10.0, "rise": 0.0}]})
    };
    let keep = async |server: &Server, face: Value, seen: i32| {
        let body = json!({"author": "B. Tester", "face": face, "seen": seen});
        server.ask(Method::POST, "/api/own-face", Some(body)).await
    };
    let (status, said) = keep(&server, face(20.0), 0).await?;
    ensure!(status == StatusCode::NO_CONTENT, "{said}");
    ensure!(keep(&server, face(30.0), 1).await?.0 == StatusCode::NO_CONTENT);
    let (status, said) = keep(&other, face(40.0), 1).await?;
    ensure!(status == StatusCode::CONFLICT && said["detail"].as_str().unwrap_or("").contains("B. Tester"), "{said}");

    let browser = Browser::at_the_bench(&server.base, "C. Tester").await?;
    browser.press_text("shop").await?;
    browser.says("version 2: 1 letter, kept by B. Tester").await?;
    browser.press_text("bring it back").await?;
    browser.says("version 3").await?;
    ensure!(
        server.get("/api/own-face?name=Marrowby").await? == server.get("/api/own-face?name=Marrowby&version=1").await?
    );
    browser.write("input[aria-label='time zone']", "Europe/Berlin", Key::Enter).await?;
    browser.says("days change at midnight in Europe/Berlin").await?;
    browser.says("lettering face “Marrowby” kept, version 3").await?;
    browser.write("input[aria-label='time zone']", "Nowhere", Key::Enter).await?;
    browser.says("There is no time zone “Nowhere”").await?;
    ensure!(
        browser.value("return document.querySelector(\"input[aria-label='time zone']\").value").await? == "Nowhere"
    );
    let shop = server.get("/api/shop").await?;
    ensure!(shop["zone"] == "Europe/Berlin" && shop["steps"][0]["author"] == "C. Tester", "{}", shop["steps"]);
    browser.quit().await
}
