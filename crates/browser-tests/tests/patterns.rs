//! Patterns of the shop, and what a revision changes, in a browser.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::{Value, json};
use solid::formats::stl;
use thirtyfour::Key;

const BY: &str = "A. Tester";

/// A job of a plain block that is pulled up, and the number of its top.
async fn block(server: &Server) -> Result<(String, u64)> {
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let top = faces.as_array().context("faces")?.iter().position(|f| f["says"].to_string().contains("+z"));
    Ok((id, top.context("a top")? as u64))
}

/// A number and a revision behind it, made from a roster, on the top of a block.
async fn numbered(server: &Server) -> Result<String> {
    let (id, top) = block(server).await?;
    let edit = |edit: Value| server.edit(&id, BY, edit);
    let roster = |edit: Value| json!({"do": "roster", "edit": edit});
    edit(roster(json!({"change": "add_column", "name": "no", "column": {"kind": "text"}}))).await?;
    edit(roster(json!({"change": "paste", "row": null, "column": "no", "text": "007\n"}))).await?;
    edit(roster(json!({"change": "set_revision", "revision": "H"}))).await?;
    for text in ["NO", "REV"] {
        edit(json!({"do": "add_mark", "face": top, "text": text, "point": null})).await?;
    }
    let number = json!({"recipe": [{"of": {"piece": "column", "column": "no"}}],
        "place": {"along": {"tie": "from_start", "distance": 4.0}}});
    edit(json!({"do": "set_mark", "id": "mark-1", "settings": number})).await?;
    let revision = json!({"recipe": [{"of": {"piece": "text", "text": "REV "}}, {"of": {"piece": "revision"}}],
        "place": {"along": {"tie": "mark", "id": "mark-1", "side": "end", "distance": 3.0}}});
    edit(json!({"do": "set_mark", "id": "mark-2", "settings": revision})).await?;
    Ok(id)
}

#[tokio::test(flavor = "multi_thread")]
async fn marks_of_a_seat_are_kept_and_laid_on_another_job_with_ties_and_columns() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let from = numbered(&server).await?;
    let (to, _) = block(&server).await?;

    browser.driver.goto(&format!("{}/jobs/{from}/marks?mark=mark-2", server.base)).await?;
    browser.press_text("patterns").await?;
    browser.says("None yet").await?;
    let keep = async |name: &str| -> Result<()> {
        browser.write("input[aria-label='name of the pattern']", name, Key::Enter).await
    };
    // a mark without the one that it is tied to is no pattern
    keep("revision").await?;
    browser.says("tied to the mark “mark-1”").await?;
    browser.choose("select[aria-label='what is kept']", "the 2 marks of its seat").await?;
    keep("number and revision").await?;
    browser.says("2 marks, kept by A. Tester").await?;
    browser.says("reads the roster's no").await?;

    browser.driver.goto(&format!("{}/jobs/{to}/marks", server.base)).await?;
    browser.press_text("patterns").await?;
    browser.press_text("place it").await?;
    browser.says("Click the face that “number and revision” goes on").await?;
    browser.still().await?;
    browser.press_at(browser.place("canvas", 0.5, 0.45).await?).await?;
    browser.until("both lie in the rack", "return document.querySelectorAll('nav [data-mark]').length === 2").await?;
    let view = server.get(&format!("/api/jobs/{to}")).await?;
    let marks = view["job"]["marks"].as_array().context("marks")?;
    ensure!(
        marks[1]["place"]["along"] == json!({"tie": "mark", "id": "mark-1", "side": "end", "distance": 3.0}),
        "{view}"
    );
    ensure!(marks[0]["place"]["along"] == json!({"tie": "from_start", "distance": 4.0}), "{view}");
    ensure!(view["job"]["roster"]["columns"] == json!([{"name": "no", "kind": {"kind": "text"}}]), "{view}");
    // one step, which one press takes back
    browser.press_text("undo").await?;
    browser.until("it is gone", "return document.querySelectorAll('nav [data-mark]').length === 0").await?;

    // off the list and on it again; laid from there
    browser.press_text("patterns").await?;
    browser.press_text("archive").await?;
    browser.says("Archived:").await?;
    browser.press_text("restore").await?;
    browser.says("kept by A. Tester").await?;
    let complaints = browser.complaints().await?;
    ensure!(complaints.iter().all(|c| c.contains("422")), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_next_revision_shows_which_marks_say_something_else() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let id = numbered(&server).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/roster", server.base)).await?;
    browser.press_text("next revision").await?;
    // I is not in the sequence
    browser.says("Since the last revision “REV J” replaces “REV H”.").await?;
    browser.press_text("“REV J”").await?;
    browser.until("the mark is picked", "return location.search.includes('mark=mark-2')").await?;
    browser.says("changed; was “REV H”").await?;
    let told = browser.value("return document.querySelectorAll('nav .was').length").await?;
    ensure!(told == 1, "the number has stayed: {told}");
    browser.quit().await
}
