//! The tool plate.

use super::{BY, marked, rows};
use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::{Value, json};
use thirtyfour::Key;
use trade::{Column, ColumnKind, Roster, Row};

/// The tool plate that is kept, once it is as wanted.
pub(super) async fn plate(
    server: &Server,
    id: &str,
    what: &str,
    wanted: impl Fn(&[Value]) -> bool,
) -> Result<Vec<Value>> {
    for _ in 0..100 {
        let job = server.get(&format!("/api/jobs/{id}")).await?;
        let cavities = job["job"]["tool_plate"]["cavities"].as_array().context("cavities")?.clone();
        if wanted(&cavities) {
            return Ok(cavities);
        }
        tokio::time::sleep(std::time::Duration::from_millis(80)).await;
    }
    anyhow::bail!("not kept: {what}")
}

#[tokio::test(flavor = "multi_thread")]
async fn cavities_are_arranged_on_the_tool_plate_moved_left_out_and_printed() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let id = marked(&server).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/roster?show=plate", server.base)).await?;
    browser.write("input[aria-label='cavities across']", "3", Key::Enter).await?;
    browser.write("input[aria-label='distance across']", "50", Key::Enter).await?;
    browser.write("input[aria-label='distance up']", "40", Key::Enter).await?;
    browser.choose("select[aria-label='way of the numbers']", "back and forth").await?;
    browser.choose("select[aria-label='how cavities are turned']", "every other line turned by half").await?;
    browser.press_text("Arrange 6 cavities").await?;
    let laid = plate(&server, &id, "six cavities", |c| c.len() == 6).await?;
    ensure!(laid[0]["at"] == json!([-50.0, -20.0]) && laid[0]["turn"] == 0.0, "{laid:?}");
    ensure!(laid[3]["at"] == json!([50.0, 20.0]) && laid[3]["turn"] == 180.0, "{laid:?}");
    rows(&server, &id, &["1", "2", "3", "4", "5", "6"]).await?;
    // the block is 60 long and 50 from the next
    browser.says("Cavities 1 and 2 overlap. Cavities 2 and 3 overlap.").await?;
    browser.says("So does 1 more pair.").await?;

    // dragged to where it lies; its row is shown
    let from = browser.place("[aria-label='cavity 2']", 0.5, 0.5).await?;
    browser.drag(from, (from.0 + 30, from.1 - 20)).await?;
    let moved = plate(&server, &id, "a cavity dragged", |c| c[1]["at"] != laid[1]["at"]).await?;
    let at = |k: usize| moved[1]["at"][k].as_f64().context("a place");
    ensure!(at(0)? > 0.0 && at(1)? > -20.0, "to the right and up: {moved:?}");
    browser.write("input[aria-label='turn of the cavity']", "90", Key::Enter).await?;
    plate(&server, &id, "a cavity turned", |c| c[1]["turn"] == 90.0).await?;

    // left out: its row goes, its place stays; put back it has no ID yet, and says so
    browser.press_text("leave out").await?;
    plate(&server, &id, "a cavity left out", |c| c[1]["row"].is_null()).await?;
    rows(&server, &id, &["1", "3", "4", "5", "6"]).await?;
    browser.press_text("restore").await?;
    rows(&server, &id, &["1", "3", "4", "5", "6", ""]).await?;
    browser.says("Cavity without an ID").await?;
    browser.press("button[title^='undo:']").await?;
    plate(&server, &id, "taken back", |c| c[1]["row"].is_null()).await?;

    // printed with the handoff
    browser.press("nav a[href$='/handoff']").await?;
    browser.press("a[href*='/tool-plate.svg']").await?;
    let drawn = String::from_utf8(browser.downloaded("tool-plate.svg").await?)?;
    ensure!(
        drawn.contains("5 cavities, seen from the parting face") && drawn.contains("<title>left out</title>"),
        "{drawn}"
    );
    ensure!(drawn.matches("text-anchor").count() == 5, "{drawn}");

    // a roster that is read instead keeps cavities by their IDs
    let column = Column { name: "cavity".into(), kind: ColumnKind::Cavity };
    let other = [(1, "6"), (2, "7")].map(|(id, cell)| Row { id, cells: vec![cell.into()] });
    let roster = Roster { columns: vec![column], rows: other.to_vec() };
    server.edit(&id, BY, json!({"do": "roster", "edit": {"change": "take", "roster": roster}})).await?;
    let cavities = plate(&server, &id, "the new roster", |c| c[4]["row"].is_null()).await?;
    ensure!(cavities[5]["row"] == 6, "the row that says the same is the same one: {cavities:?}");
    ensure!(cavities[..5].iter().all(|c| c["row"].is_null()), "{cavities:?}");
    let layout =
        json!({"layout": "circle", "count": 2000, "radius": 50.0, "first": 0.0, "clockwise": true, "turned": true});
    let lay =
        json!({"do": "tool_plate", "edit": {"change": "arrange", "layout": layout, "naming": "letters", "start": 1}});
    let (status, said) = server.try_edit(&id, BY, lay).await?;
    ensure!(status == 422 && said.to_string().contains("between 1 and 1024 can be arranged"), "{status} {said}");
    browser.quit().await
}
