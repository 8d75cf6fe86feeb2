//! Several marks at once, views of the part, the drawing's note.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::{Value, json};
use thirtyfour::Key;

/// Presses a plate of the rack with a key held down.
async fn press_with(browser: &Browser, key: Key, mark: &str) -> Result<()> {
    let plate = browser.find(&format!("nav [data-mark='{mark}']")).await?;
    let held = browser.driver.action_chain().key_down(key.clone()).click_element(&plate).key_up(key);
    Ok(held.perform().await?)
}

async fn marks(server: &Server, id: &str) -> Result<Vec<Value>> {
    let view = server.get(&format!("/api/jobs/{id}")).await?;
    Ok(view["job"]["marks"].as_array().context("marks")?.clone())
}

/// How long the history is, newest first.
async fn history(server: &Server, id: &str) -> Result<Vec<Value>> {
    Ok(server.get(&format!("/api/jobs/{id}/history")).await?.as_array().context("rows")?.clone())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_value_is_set_for_all_marks_in_one_step_and_marks_come_into_line() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    for _ in 0..2 {
        server.edit(&id, "A. Tester", json!({"do": "copy_mark", "id": "mark-1"})).await?;
    }
    let all: Vec<String> =
        marks(&server, &id).await?.iter().map(|m| m["id"].as_str().unwrap_or_default().to_owned()).collect();
    for (mark, at) in all.iter().zip([20.0, 28.0, 41.0]) {
        let place = json!({"along": {"tie": "at", "position": at}});
        let settings = json!({"place": place, "relief": {"draft": at / 10.0}});
        server.edit(&id, "A. Tester", json!({"do": "set_mark", "id": mark, "settings": settings})).await?;
    }
    let before = history(&server, &id).await?.len();
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks?mark={}", server.base, all[0])).await?;
    browser.measured().await?;
    press_with(&browser, Key::Control, &all[1]).await?;
    browser.says("2 marks picked").await?;
    press_with(&browser, Key::Control, &all[1]).await?;
    browser.until("one alone is picked", "return !document.querySelector('[aria-label$=\"marks picked\"]')").await?;
    // draft for all marks: a key, and the value
    browser.driver.action_chain().send_keys("a").perform().await?;
    browser.says("3 marks picked").await?;
    browser.says("They differ in draft: 2°, 2.8°, 4.1°.").await?;
    browser.write("input[aria-label='draft']", "7", Key::Enter).await?;
    browser.until("they don't differ", "return !document.body.innerText.includes('They differ in draft')").await?;
    browser.measured().await?;
    ensure!(marks(&server, &id).await?.iter().all(|m| m["relief"]["draft"] == 7.0));
    let rows = history(&server, &id).await?;
    ensure!(rows.len() == before + 1 && rows[0]["says"] == "R4-07, R4-07, R4-07: draft", "{}", rows[0]["says"]);
    // they say the same, so their left sides are in line where their places are alike
    browser.press_text("left").await?;
    browser.measured().await?;
    let along = |m: &Value| m["place"]["along"]["position"].as_f64().unwrap_or_default();
    let lined = marks(&server, &id).await?;
    ensure!(lined.iter().all(|m| (along(m) - 20.0).abs() < 0.011), "{lined:?}");
    browser.write("input[aria-label='group of the picked marks']", "numbers", Key::Enter).await?;
    browser.measured().await?;
    browser.press("[aria-label='switch group numbers off']").await?;
    browser.find("[aria-label='switch group numbers on']").await?;
    ensure!(marks(&server, &id).await?.iter().all(|m| m["on"] == false && m["group"] == "numbers"));
    browser.press_text("one alone").await?;
    browser.write("input[aria-label='name of the mark']", "maker", Key::Enter).await?;
    browser.measured().await?;
    let named = marks(&server, &id).await?;
    ensure!(named[0]["name"] == "maker" && named[1]["name"].is_null(), "a name is one mark's own");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_letter_stands_on_every_face_in_one_press_and_the_part_is_turned_by_keys() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.measured().await?;
    browser.press_text("copy to a face").await?;
    browser.press_text("every flat face that holds it").await?;
    browser.until("six plates", "return document.querySelectorAll('nav li').length === 6").await?;
    let seats: std::collections::BTreeSet<u64> =
        marks(&server, &id).await?.iter().filter_map(|m| m["seat"]["face"].as_u64()).collect();
    ensure!(seats.len() == 6, "a block has six faces: {seats:?}");

    // the pull points up the block: from the top it comes to the eye, from the front it points up
    let tip = "const l = document.querySelector('.pull line'); \
               return l ? [l.x2.baseVal.value - l.x1.baseVal.value, l.y2.baseVal.value - l.y1.baseVal.value] : null";
    browser.still().await?;
    let begun = browser.value(tip).await?;
    browser.driver.action_chain().send_keys("vt").perform().await?;
    browser.until("the pull comes to the eye", "return !!document.querySelector('.pull circle')").await?;
    browser.driver.action_chain().send_keys("vf").perform().await?;
    browser
        .until(
            "the pull points up",
            "const l = document.querySelector('.pull line'); \
             return !!l && Math.abs(l.x2.baseVal.value - l.x1.baseVal.value) < 0.5 && l.y2.baseVal.value < l.y1.baseVal.value",
        )
        .await?;
    browser.press_text("views").await?;
    browser.press_text("last view").await?;
    browser.until("seen from the top again", "return !!document.querySelector('.pull circle')").await?;
    ensure!(!begun.is_null(), "it was seen aslant at first");
    ensure!(marks(&server, &id).await?.len() == 6, "no letter of a view was a key of the station");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_drawings_note_is_pasted_taken_and_held_against_the_mark() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.measured().await?;
    browser.press_text("paste what the drawing says").await?;
    let note = "MARK P/N, 3.0 HIGH, SUNKEN 0.42, 6.5° DRAFT, PER SPEC 12";
    browser.find("textarea[aria-label='note of the drawing']").await?.send_keys(note).await?;
    browser.says("To see to by hand: part number.").await?;
    browser.says("What is dotted is not understood").await?;
    let left = "return [...document.querySelectorAll('.read .left')].map((e) => e.innerText).join()";
    ensure!(browser.value(left).await? == "SPEC 12");
    browser.press_text("take all 4").await?;
    browser.says("The mark has what the note gives as a figure.").await?;
    let mark = marks(&server, &id).await?.remove(0);
    ensure!(mark["note"] == note && mark["lettering"]["cap_height"] == 3.0, "{mark}");
    ensure!(mark["relief"]["sense"] == "sunken" && mark["relief"]["height"] == 0.42 && mark["relief"]["draft"] == 6.5);
    browser.write("input[aria-label='cap height']", "2.8", Key::Enter).await?;
    browser.says("The note says cap height 3 mm, the mark has 2.8 mm.").await?;
    // a comma before three digits is asked about, and stays in the field
    browser.write("input[aria-label='cap height']", "1,250", Key::Enter).await?;
    browser.says("can be 1.250 or 1250").await?;
    ensure!(marks(&server, &id).await?[0]["lettering"]["cap_height"] == 2.8);
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_removed_is_told_the_pick_is_kept_and_a_mark_has_its_colour() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    for _ in 0..2 {
        server.edit(&id, "A. Tester", json!({"do": "copy_mark", "id": "mark-1"})).await?;
    }
    for (at, text) in [(1, "B2"), (2, "C3")] {
        let mark = marks(&server, &id).await?[at]["id"].clone();
        server.edit(&id, "A. Tester", json!({"do": "set_mark", "id": mark, "settings": {"text": text}})).await?;
    }
    let all: Vec<String> =
        marks(&server, &id).await?.iter().map(|m| m["id"].as_str().unwrap_or_default().to_owned()).collect();
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.press(&format!("nav [data-mark='{}']", all[1])).await?;
    browser.press_text("remove").await?;
    browser
        .until(
            "it is told",
            "return /B2.* removed|removed.*B2/.test(document.querySelector('[data-removed]')?.innerText)",
        )
        .await?;
    ensure!(marks(&server, &id).await?.len() == 2);
    browser.press("[data-removed] button").await?;
    browser.until("it is there again", "return document.querySelectorAll('nav [data-mark]').length === 3 && !document.querySelector('[data-removed]')").await?;
    ensure!(marks(&server, &id).await?.len() == 3);

    // at Inspect the mark stands that was picked, and back again
    browser.press(&format!("nav [data-mark='{}']", all[1])).await?;
    browser.measured().await?;
    let here = "[...document.querySelectorAll('thead button.plate')].findIndex((e) => e.classList.contains('here'))";
    browser.press("nav a[href$='/inspect']").await?;
    browser.until("the picked mark's findings", &format!("return {here} === 1")).await?;
    browser.press("tbody tr:first-child td:nth-child(4) .cell").await?;
    browser.until("the third one's", &format!("return {here} === 2")).await?;
    browser.press("nav a[href$='/marks']").await?;
    let picked = format!(
        "return document.querySelector(\"nav [data-mark='{}']\")?.getAttribute('aria-current') === 'true'",
        all[2]
    );
    browser.until("it is picked at Marks, too", &picked).await?;

    browser.press_text("a colour of its own").await?;
    browser.find("input[aria-label='colour of the mark']").await?;
    browser.measured().await?;
    ensure!(marks(&server, &id).await?[2]["colour"] == "#0072B2");
    browser.press_text("no colour of its own").await?;
    browser.until("it is gone", "return !document.querySelector(\"input[aria-label='colour of the mark']\")").await?;
    browser.measured().await?;
    ensure!(marks(&server, &id).await?[2].get("colour").is_none_or(Value::is_null));
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}
