//! The roster and recipes in a browser: cells typed, pasted and read from files; a mark's text put together from
//! pieces, shown row by row and handed off.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::Method;
use serde_json::{Value, json};
use solid::formats::stl;
use thirtyfour::Key;
use trade::{Column, ColumnKind, Roster, Row};

const BY: &str = "A. Tester";

/// A block with one mark on its top.
async fn marked(server: &Server) -> Result<String> {
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let top = faces.as_array().context("faces")?.iter().position(|f| f["says"].to_string().contains("+z"));
    server.edit(&id, BY, json!({"do": "add_mark", "face": top, "text": "VB-", "point": null})).await?;
    Ok(id)
}

/// The rows of the roster that is kept, once they are as wanted.
async fn rows(server: &Server, id: &str, wanted: &[&str]) -> Result<()> {
    let mut last = Vec::new();
    for _ in 0..100 {
        let job = server.get(&format!("/api/jobs/{id}")).await?;
        let rows = job["job"]["roster"]["rows"].as_array().context("rows")?.clone();
        let cells = |row: &Value| {
            let cells = row["cells"].as_array().map_or(&[][..], Vec::as_slice);
            cells.iter().map(|c| c.as_str().unwrap_or_default()).collect::<Vec<_>>().join("|")
        };
        last = rows.iter().map(cells).collect();
        if last == wanted {
            return Ok(());
        }
        tokio::time::sleep(std::time::Duration::from_millis(80)).await;
    }
    anyhow::bail!("{last:?} is kept, not {wanted:?}")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_roster_is_typed_pasted_and_read_and_a_recipe_says_each_row() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let id = marked(&server).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/roster", server.base)).await?;
    browser.press_text("Begin with part, variant, cavity").await?;
    let grid = browser.find("[role='grid']").await?;
    rows(&server, &id, &["||"]).await?;

    // typed with the keyboard alone: a letter begins, Tab goes on, Escape leaves the cell as it was
    browser.press("[data-cell='0 0']").await?;
    grid.send_keys("V").await?;
    browser.find(".cell input").await?.send_keys("B" + Key::Tab).await?;
    rows(&server, &id, &["VB||"]).await?;
    grid.send_keys("0").await?;
    browser.find(".cell input").await?.send_keys("07" + Key::Enter).await?;
    rows(&server, &id, &["VB|007|"]).await?;
    grid.send_keys(Key::Enter + "").await?;
    browser.find(".cell input").await?.send_keys("9" + Key::Escape).await?;

    // pasted from a spreadsheet: to the letter, with rows added
    browser
        .value(
            "const data = new DataTransfer(); data.setData('text/plain', 'VB\\t007\\t1\\nVB\\t008\\t10\\nVB\\t009\\t101\\n');
             document.querySelector('[role=grid]').dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true}))",
        )
        .await?;
    // the picked cell is the first of the second column; three columns don't fit there, and it says so
    browser.says("3 columns were pasted and the roster has 2").await?;
    rows(&server, &id, &["VB|007|"]).await?;
    browser.press("[data-cell='0 0']").await?;
    browser
        .value(
            "const data = new DataTransfer(); data.setData('text/plain', 'VB\\t007\\t1\\nVB\\t008\\t10\\nVB\\t009\\t101\\n');
             document.querySelector('[role=grid]').dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true}))",
        )
        .await?;
    rows(&server, &id, &["VB|007|1", "VB|008|10", "VB|009|101"]).await?;

    // a kind that a cell doesn't fit is said where it stands, and the cell stays
    browser.press("button[role='columnheader']:nth-of-type(2)").await?;
    browser.choose("select[aria-label='kind of the column']", "whole numbers").await?;
    browser.says("3 cells don't fit the column").await?;
    browser.says("has 3 digits; the column is 2 wide").await?;
    browser.write("input[aria-label='digits of the column']", "3", Key::Enter).await?;
    browser.until("they fit", "return !document.querySelector('.cell.fault')").await?;

    // a recipe: the text becomes its first piece, a column the next
    browser.press("nav a[href$='/marks']").await?;
    browser.press_text("put it together from pieces").await?;
    browser.press("button.piece").await?;
    browser.choose("select[aria-label='add a piece']", "a column of the roster").await?;
    browser.choose("select[aria-label='column of the piece']", "variant").await?;
    browser.press("button.piece:nth-of-type(2)").await?;
    browser.choose("select[aria-label='add a piece']", "a fixed text").await?;
    browser.write("input[aria-label='fixed text of the piece']", " C", Key::Enter).await?;
    browser.choose("select[aria-label='add a piece']", "a column of the roster").await?;
    browser.choose("select[aria-label='column of the piece']", "cavity").await?;
    let lettered =
        |text: &str| format!("return document.querySelector('.plate svg')?.getAttribute('aria-label') === '{text}'");
    browser.until("the first row is lettered", &lettered("VB-007 C1")).await?;
    // row by row, with a key; strip and findings follow
    browser.find("body").await?.send_keys("]").await?;
    browser.until("the second row is lettered", &lettered("VB-008 C10")).await?;
    browser.until("it was measured", "return !/Measuring/.test(document.querySelector('aside').innerText)").await?;
    let outcome = server.get(&format!("/api/jobs/{id}/outcome?row=2")).await?;
    ensure!(outcome["marks"][0]["text"] == "VB-008 C10", "{}", outcome["marks"][0]["text"]);

    // what can be mistaken stands beside the roster
    browser.press("nav a[href$='/roster']").await?;
    browser.says("shortest “VB-007 C1”, longest “VB-009 C101”").await?;
    // it goes back and forth like every other change
    browser.press("button[title^='take back']").await?;
    browser.says("VB-007 C").await?;
    browser.press("button[title^='do again']").await?;

    // handed off as the row on show, and written as a file
    browser.press("button[aria-label='show row 3']").await?;
    browser.press("nav a[href$='/handoff']").await?;
    browser.press("a[href*='/findings.json']").await?;
    let findings: Value = serde_json::from_slice(&browser.downloaded("findings.json").await?)?;
    ensure!(findings["marks"][0]["text"] == "VB-009 C101", "{}", findings["marks"][0]["text"]);
    browser.press("nav a[href$='/roster']").await?;
    browser.press("a[href$='/roster/csv']").await?;
    let written = browser.downloaded("roster.csv").await?;
    ensure!(String::from_utf8(written)?.contains("VB,007,1\r\n"));

    // another roster from a spreadsheet; one without the columns that recipes read is refused, and nothing is lost
    let folder = tempfile::tempdir()?;
    let column = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
    let row = |id, cells: [&str; 3]| Row { id, cells: cells.map(Into::into).to_vec() };
    let mut other = Roster {
        columns: ["part", "variant", "cavity"].map(column).to_vec(),
        rows: vec![row(1, ["SN", "012", "1"]), row(2, ["SN", "013", "2"])],
    };
    let good = folder.path().join("tool.xlsx");
    std::fs::write(&good, roster::xlsx::write(&other)?)?;
    other.columns[1].name = "version".into();
    let bad = folder.path().join("bad.csv");
    std::fs::write(&bad, roster::csv::write(&other))?;
    let picker = browser.find("input[type='file']").await?;
    picker.send_keys(bad.to_string_lossy()).await?;
    browser.says("reads the column “variant”, which the roster doesn't have").await?;
    rows(&server, &id, &["VB|007|1", "VB|008|10", "VB|009|101"]).await?;
    picker.send_keys(good.to_string_lossy()).await?;
    rows(&server, &id, &["SN|012|1", "SN|013|2"]).await?;
    browser.says("VB-012 C1").await?;

    let complaints: Vec<String> = browser.complaints().await?.into_iter().filter(|c| !c.contains("422")).collect();
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn rows_that_are_gone_and_recipes_without_a_text_are_said_and_hold_nothing_up() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = marked(&server).await?;
    let roster = |edit: Value| json!({"do": "roster", "edit": edit});
    server.edit(&id, BY, roster(json!({"change": "add_column", "name": "no", "column": {"kind": "text"}}))).await?;
    server.edit(&id, BY, roster(json!({"change": "paste", "row": null, "column": "no", "text": "1\n2\n"}))).await?;
    let recipe = json!({"recipe": [{"of": {"piece": "column", "column": "no"}}, {"of": {"piece": "revision"}}]});
    server.edit(&id, BY, json!({"do": "set_mark", "id": "mark-1", "settings": recipe})).await?;
    // no revision yet: the mark says why it isn't built, and the part is there
    let outcome = server.get(&format!("/api/jobs/{id}/outcome")).await?;
    ensure!(outcome["marks"][0]["findings"].to_string().contains("the revision is empty"), "{outcome}");
    let solid = server.get(&format!("/api/jobs/{id}/solid")).await?;
    ensure!(solid["pieces"].as_array().context("pieces")?.len() == 1, "{solid}");
    let said = server.get(&format!("/api/jobs/{id}/said")).await?;
    ensure!(said["faults"][0]["sentence"].to_string().contains("the revision is empty, in 2 rows"), "{said}");
    for _ in 0..2 {
        server.edit(&id, BY, roster(json!({"change": "next_revision"}))).await?;
    }
    let view = server.get(&format!("/api/jobs/{id}?row=2")).await?;
    ensure!(view["job"]["marks"][0]["text"] == "2B" && view["shown"] == 2, "{view}");
    // who looks at a row that somebody takes away is shown the first
    let (status, view) = server
        .ask(
            Method::POST,
            &format!("/api/jobs/{id}/changes?row=2"),
            Some(json!({"author": BY, "edit": roster(json!({"change": "remove_rows", "rows": [2]}))})),
        )
        .await?;
    ensure!(status == 200 && view["shown"] == 1, "{status} {view}");
    let (status, told) = server.ask(Method::GET, &format!("/api/jobs/{id}/outcome?row=2"), None).await?;
    ensure!(status == 404 && told.to_string().contains("row of the roster is gone"), "{status} {told}");
    Ok(())
}
