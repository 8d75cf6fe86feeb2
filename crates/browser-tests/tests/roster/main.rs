//! The roster and recipes in a browser: cells typed, pasted and read from files; a mark's text put together from
//! pieces, shown row by row and handed off.

mod tool_plate;
mod workers;

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
    browser.press_text("compose from pieces").await?;
    browser.press("button.piece").await?;
    browser.choose("select[aria-label='add a piece']", "a column of the roster").await?;
    browser.choose("select[aria-label='column of the piece']", "variant").await?;
    browser.press("button.piece:nth-of-type(2)").await?;
    browser.choose("select[aria-label='add a piece']", "a fixed text").await?;
    // the strip follows while it is typed; Escape leaves it as it was
    let letters = |n: usize| format!("return document.querySelectorAll('g.mark path[data-letter]').length === {n}");
    browser.until("two letters, three digits, a hyphen twice", &letters(7)).await?;
    browser.find("input[aria-label='fixed text of the piece']").await?.send_keys("XYZ").await?;
    browser.until("three more letters", &letters(10)).await?;
    browser.find("input[aria-label='fixed text of the piece']").await?.send_keys("" + Key::Escape).await?;
    browser.until("as it was", &letters(7)).await?;
    browser.write("input[aria-label='fixed text of the piece']", " C", Key::Enter).await?;
    browser.choose("select[aria-label='add a piece']", "a column of the roster").await?;
    browser.choose("select[aria-label='column of the piece']", "cavity").await?;
    let lettered =
        |text: &str| format!("return document.querySelector('.plate svg')?.getAttribute('aria-label') === '{text}'");
    browser.until("the first row is lettered", &lettered("VB-007 C1")).await?;
    // row by row, with a key; strip and findings follow
    browser.find("body").await?.send_keys("]").await?;
    browser.until("the second row is lettered", &lettered("VB-008 C10")).await?;
    browser.measured().await?;
    let outcome = server.get(&format!("/api/jobs/{id}/outcome?row=2")).await?;
    ensure!(outcome["marks"][0]["text"] == "VB-008 C10", "{}", outcome["marks"][0]["text"]);

    // what can be mistaken stands beside the roster
    browser.press("nav a[href$='/roster']").await?;
    browser.says("shortest “VB-007 C1”, longest “VB-009 C101”").await?;
    // it goes back and forth like every other change
    browser.press("button[title^='undo:']").await?;
    browser.says("VB-007 C").await?;
    browser.press("button[title^='redo:']").await?;

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
    browser.says("New: “version”. Goes: “variant”.").await?;
    browser.press_text("Take it").await?;
    browser.says("reads the column “variant”, which the roster doesn't have").await?;
    rows(&server, &id, &["VB|007|1", "VB|008|10", "VB|009|101"]).await?;
    browser.press_text("leave it").await?;
    // what it would do is told before it does: two rows say otherwise, the third goes
    picker.send_keys(good.to_string_lossy()).await?;
    browser.says("tool.xlsx holds 3 columns and 2 rows.").await?;
    browser.says("0 rows stay, 2 change, 1 goes.").await?;
    browser.says("row 1: part VB → SN, variant 007 → 012").await?;
    rows(&server, &id, &["VB|007|1", "VB|008|10", "VB|009|101"]).await?;
    browser.press_text("Take it").await?;
    browser.until("it is taken", "return !document.querySelector('.reading')").await?;
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

/// Six cavities in two variants, two of them alike, with a recipe of both.
async fn six_cavities(server: &Server) -> Result<String> {
    let id = marked(server).await?;
    let column = |name: &str, kind: ColumnKind| Column { name: name.into(), kind };
    let rows = ["007 1", "007 2", "008 3", "008 4", "008 5", "007 2"].iter().zip(1..);
    let rows = rows.map(|(cells, id)| Row { id, cells: cells.split(' ').map(Into::into).collect() });
    let roster = Roster {
        columns: vec![column("variant", ColumnKind::Text), column("cavity", ColumnKind::Text)],
        rows: rows.collect(),
    };
    server.edit(&id, BY, json!({"do": "roster", "edit": {"change": "take", "roster": roster}})).await?;
    let piece = |of: Value| json!({"of": of});
    let recipe = json!([
        piece(json!({"piece": "column", "column": "variant"})),
        piece(json!({"piece": "text", "text": "-"})),
        piece(json!({"piece": "column", "column": "cavity"})),
    ]);
    server.edit(&id, BY, json!({"do": "set_mark", "id": "mark-1", "settings": {"recipe": recipe}})).await?;
    Ok(id)
}

/// All rows once no run is under way.
async fn ended(server: &Server, id: &str) -> Result<Value> {
    for _ in 0..600 {
        let rows = server.get(&format!("/api/jobs/{id}/rows")).await?;
        if rows["running"].is_null() {
            return Ok(rows);
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    anyhow::bail!("the run doesn't end")
}

async fn begin(server: &Server, id: &str, work: &str) -> Result<reqwest::StatusCode> {
    Ok(server.ask(Method::POST, &format!("/api/jobs/{id}/rows/run"), Some(json!({"work": work}))).await?.0)
}

fn opened(archive: Vec<u8>) -> Result<std::collections::BTreeMap<String, Vec<u8>>> {
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(archive))?;
    let mut files = std::collections::BTreeMap::new();
    for at in 0..archive.len() {
        let mut file = archive.by_index(at)?;
        let mut bytes = Vec::new();
        std::io::Read::read_to_end(&mut file, &mut bytes)?;
        files.insert(file.name().to_owned(), bytes);
    }
    Ok(files)
}

#[tokio::test(flavor = "multi_thread")]
async fn all_rows_are_measured_and_built_once_and_again_only_where_they_differ() -> Result<()> {
    let cluster = Cluster::start(true);
    let server = Server::start(&cluster.url())?;
    let id = six_cavities(&server).await?;
    let set = |change: Value| json!({"do": "roster", "edit": change});
    ensure!(begin(&server, &id, "measure").await? == 202);
    let rows = ended(&server, &id).await?;
    ensure!(rows["measured"] == 6 && rows["built"] == 0, "{rows}");
    // what stands there is what each row's own findings say, and the range is over them all
    let mut least = f64::INFINITY;
    for (at, row) in rows["rows"].as_array().context("rows")?.iter().enumerate() {
        let outcome = server.get(&format!("/api/jobs/{id}/outcome?row={}", at + 1)).await?;
        let mark = &outcome["marks"][0];
        ensure!(row["marks"][0]["text"] == mark["text"] && row["marks"][0]["state"] == mark["state"], "{row}");
        let findings = mark["findings"].as_array().context("findings")?;
        let gap = findings.iter().find(|f| f["check"] == "gap").and_then(|f| f["measured"].as_f64());
        least = least.min(gap.context("letters have gaps")?);
    }
    let ranges = rows["ranges"].as_array().context("ranges")?;
    let gap = ranges.iter().find(|r| r["check"] == "gap").context("a range of gaps")?;
    ensure!((gap["least"]["measured"].as_f64().context("a figure")? - least).abs() < 1e-9, "{gap} and {least}");

    // of a changed cell only its row is left; nobody gets an archive of rows that are not built
    server.edit(&id, BY, set(json!({"change": "set_cell", "row": 5, "column": "cavity", "text": "50"}))).await?;
    let rows = ended(&server, &id).await?;
    ensure!(rows["measured"] == 5, "{rows}");
    let (status, said) = server.ask(Method::GET, &format!("/api/jobs/{id}/rows/all.zip"), None).await?;
    ensure!(status == 422 && said.to_string().contains("6 of 6 rows are not built"), "{said}");

    // built; the server ends in between without a word, and what was done is there when it begins anew
    server
        .edit(&id, BY, set(json!({"change": "set_files", "files": {"kinds": ["solid_stl", "findings_json"]}})))
        .await?;
    let (one, other) = tokio::join!(begin(&server, &id, "build"), begin(&server, &id, "build"));
    let mut answers = [one?.as_u16(), other?.as_u16()];
    answers.sort_unstable();
    ensure!(answers == [202, 422], "two runs at once: {answers:?}");
    let some = loop {
        let rows = server.get(&format!("/api/jobs/{id}/rows")).await?;
        if rows["built"].as_u64() > Some(0) {
            break rows["built"].as_u64();
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    };
    server.kill()?;
    let server = Server::start(&cluster.url())?;
    let rows = server.get(&format!("/api/jobs/{id}/rows")).await?;
    ensure!(rows["built"].as_u64() >= some && !rows["running"].is_null(), "{rows}");
    let rows = ended(&server, &id).await?;
    ensure!(rows["built"] == 6 && rows["measured"] == 6, "it goes on by itself: {rows}");

    // the archive: each row's files are those that are handed off by themselves, byte by byte; two rows that are alike
    // would have one name, which is said
    let name = json!([{"of": {"piece": "text", "text": "VB C"}}, {"of": {"piece": "column", "column": "cavity"}}]);
    let files = json!({"kinds": ["solid_stl", "findings_json", "tool_side_zip"], "name": name});
    let mut process = server.get(&format!("/api/jobs/{id}")).await?["job"]["process"].clone();
    process["shrinkage"] = 1.5.into();
    server.edit(&id, BY, json!({"do": "set_process", "process": process})).await?;
    server.edit(&id, BY, set(json!({"change": "set_files", "files": files}))).await?;
    ensure!(begin(&server, &id, "build").await? == 202);
    ended(&server, &id).await?;
    let (status, said) = server.ask(Method::GET, &format!("/api/jobs/{id}/rows/all.zip"), None).await?;
    ensure!(status == 422 && said.to_string().contains("Row 2 has no name for its files: row 6 would be"), "{said}");
    server.edit(&id, BY, set(json!({"change": "set_cell", "row": 6, "column": "cavity", "text": "6"}))).await?;
    ensure!(begin(&server, &id, "build").await? == 202);
    let rows = ended(&server, &id).await?;
    ensure!(rows["built"] == 6 && rows["rows"][5]["name"] == "VB C6", "{rows}");
    let files = opened(server.bytes(&format!("/api/jobs/{id}/rows/all.zip")).await?)?;
    ensure!(files.len() == 3 * 6 + 3 && files.contains_key("block.stl"), "{:?}", files.keys());
    let side = opened(files["VB C50-tool-side.zip"].clone())?;
    let own = server.bytes(&format!("/api/jobs/{id}/tool-side/engraving-mark-1-steel-x1.0150.stl?row=5")).await?;
    ensure!(
        side["engraving-mark-1-steel-x1.0150.stl"] == own && side.contains_key("contents.csv"),
        "{:?}",
        side.keys()
    );
    for (row, cavity) in (1..).zip(["1", "2", "3", "4", "50", "6"]) {
        let alone = server.bytes(&format!("/api/jobs/{id}/handoff/marked-solid.stl?row={row}")).await?;
        ensure!(files[&format!("VB C{cavity}.stl")] == alone, "row {row}");
        let findings: Value = serde_json::from_slice(&files[&format!("VB C{cavity}-findings.json")])?;
        let text = findings["marks"][0]["text"].as_str().context("a text")?;
        ensure!(text.ends_with(&format!("-{cavity}")), "{text}");
    }
    let list = String::from_utf8(files["rows.csv"].clone())?;
    ensure!(list.contains("variant,cavity,files called,worst finding") && list.contains("008,50,VB C50,"), "{list}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn all_rows_are_looked_through_stopped_and_handed_off() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let id = six_cavities(&server).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/inspect", server.base)).await?;
    browser.press_text("all 6 rows").await?;
    browser.press_text("Check all 6 rows").await?;
    browser.says("over all rows").await?;
    browser
        .until(
            "letters are named, and marks by what they say in that row",
            "const said = [...document.querySelectorAll('.ranges small')].map((e) => e.innerText.trim().match(/^row (\\d), (\\S+)( “.”)?$/)); \
             return said.length > 4 && said.every((m) => m && m[2].endsWith('-' + m[1])) && said.some((m) => m[3])",
        )
        .await?;
    // a picture of the mark in each row
    browser.press(".pictures button").await?;
    let seen = "return [...document.querySelectorAll('[aria-label^=\"pictures of\"] img')].filter(i => i.naturalWidth > 40).length === 6";
    browser.until("six pictures are there", seen).await?;
    browser.press(".pictures button").await?;
    // a row's worst finding leads to it
    browser.press("[data-row='4 mark-1']").await?;
    browser
        .until(
            "row 4 is on show",
            "return document.querySelector(\"input[aria-label='row of the roster']\")?.value === '4'",
        )
        .await?;
    browser.until("its findings", "return !!document.querySelector('table svg[aria-label=\"008-4\"]')").await?;
    // a link shows the same
    let link = browser.driver.current_url().await?;
    ensure!(link.query().is_some_and(|q| q.contains("row=4")), "{link}");
    browser.driver.goto(link.as_str()).await?;
    browser.until("its findings again", "return !!document.querySelector('table svg[aria-label=\"008-4\"]')").await?;

    browser.press("nav a[href$='/handoff']").await?;
    browser.press_text("all 6 rows").await?;
    browser.press("input[data-kind='solid_stl']").await?;
    // two rows are alike in all that the name is made of here
    browser.press_text("Compose the name from pieces").await?;
    browser.says("6 rows can't be named this way").await?;
    browser.choose("select[aria-label='add a piece']", "a column of the roster").await?;
    browser.choose("select[aria-label='column of the piece']", "cavity").await?;
    browser.says("2 rows can't be named this way: row 2").await?;
    server
        .edit(
            &id,
            BY,
            json!({"do": "roster", "edit": {"change": "set_cell", "row": 6, "column": "cavity", "text": "6"}}),
        )
        .await?;
    // many more, so that there is something to stop; then gone on with
    let more: String = (7..=60).map(|cavity| format!("009\t{cavity}\n")).collect();
    let paste = json!({"change": "paste", "row": null, "column": "variant", "text": more});
    server.edit(&id, BY, json!({"do": "roster", "edit": paste})).await?;
    browser.press_text("Build all 60 rows").await?;
    browser.until("a row is built", "return document.querySelector('.run progress')?.value >= 1").await?;
    browser.press_text("Stop").await?;
    browser.says("built and kept").await?;
    browser.press(".run .press.first").await?;
    browser.press_text("Hand off all 60 rows").await?;
    let files = opened(browser.downloaded("-rows.zip").await?)?;
    ensure!(files.len() == 3 * 60 + 3, "{:?}", files.keys());
    for cavity in 1..=6 {
        let name = |ending: &str| format!("block{cavity}{ending}");
        for ending in [".3mf", ".stl", "-findings.html"] {
            ensure!(files.get(&name(ending)).is_some_and(|f| !f.is_empty()), "{} of {:?}", name(ending), files.keys());
        }
        let mesh = stl::read(&files[&name(".stl")])?;
        ensure!(mesh.mesh.volume() > demo::parts::plain_block().volume(), "raised letters add to the block");
    }
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["handed_off"]["by"] == BY);
    browser.quit().await
}
