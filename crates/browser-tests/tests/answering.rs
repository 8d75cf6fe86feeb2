//! Inspect shows why and somebody answers for it: the finished solid cut through a mark and measured, a failing finding waived,
//! an inspection recorded, its proof taken, repeated and held against another.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use thirtyfour::Key;

fn set(settings: Value) -> Value {
    json!({"do": "set_mark", "id": "mark-1", "settings": settings})
}

#[tokio::test(flavor = "multi_thread")]
async fn the_finished_solid_is_cut_through_a_mark_turned_and_measured() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    server.edit(&id, "B. Tester", set(json!({"text": "HILL", "relief": {"draft": 5.0}}))).await?;
    // through the middle of the top of the block of 60 × 30 × 12, along the text: every wall of a stem leans by 5°
    let cut =
        async |query: &str| server.ask(Method::GET, &format!("/api/jobs/{id}/marked-section?{query}"), None).await;
    let (status, along) = cut("mark=mark-1&x=30&y=15&z=12&turn=0&tilt=0&shift=0").await?;
    ensure!(status == StatusCode::OK, "{along}");
    let edges = along["section"]["edges"].as_array().context("edges")?;
    let walls: Vec<&Value> =
        edges.iter().filter(|e| e["of"].as_str().is_some_and(|o| o.starts_with("wall of “"))).collect();
    ensure!(walls.len() >= 8, "{} walls", walls.len());
    for wall in walls {
        let (draft, seen) =
            (wall["draft"].as_f64().context("a draft")?, wall["seen_angle"].as_f64().context("an angle")?);
        ensure!((draft - 5.0).abs() < 1e-4 && (seen - 5.0).abs() < 1e-4, "{wall}");
    }
    ensure!(cut("mark=nobody&x=0&y=0&z=0").await?.0 == StatusCode::NOT_FOUND);
    ensure!(cut("mark=mark-1&x=1e9&y=0&z=0").await?.0 == StatusCode::UNPROCESSABLE_ENTITY);
    let on_a_line = json!({"points": [[0, 0, 0], [1, 0, 0], [2, 0, 0]], "normal": [0, 0, 1]});
    ensure!(server.ask(Method::POST, "/api/circle", Some(on_a_line)).await?.0 == StatusCode::UNPROCESSABLE_ENTITY);

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=stroke", server.base)).await?;
    browser.measured().await?;
    browser.still().await?;
    let canvas = async || anyhow::Ok(browser.find("canvas").await?.screenshot_as_png().await?);
    let whole = canvas().await?;
    browser.press_text("cut").await?;
    browser.says("mm² cut through; click an edge").await?;
    browser.still().await?;
    let open = canvas().await?;
    ensure!(open != whole, "the part is cut open");
    // the stroke was measured on the plane: across the middle of the view lies the letter's edge
    let readout = async || browser.text("[aria-label='measured in the cut']").await;
    let mut on_edge = None;
    for y in (0..30).map(|k| 0.2 + 0.01 * f64::from(k)) {
        browser.press_at(browser.place("canvas", 0.5, y).await?).await?;
        if readout().await?.contains("mm long") {
            on_edge = Some(y);
            break;
        }
    }
    let on_edge = on_edge.context("no edge lies across the middle of the view")?;
    // opened anew nothing is measured yet
    browser.press_text("cut").await?;
    browser.press_text("cut").await?;
    browser.says("mm² cut through; click an edge").await?;
    browser.still().await?;
    browser.press_at(browser.place("canvas", 0.5, on_edge).await?).await?;
    browser
        .until("the edge is told", "return /of “.*mm long/.test(document.querySelector('.measured').innerText)")
        .await?;
    // further places: how far they are apart, then a circle, or that there is none
    browser.press_at(browser.place("canvas", 0.6, 0.5).await?).await?;
    browser.says("mm apart").await?;
    browser.press_at(browser.place("canvas", 0.4, 0.45).await?).await?;
    browser
        .until(
            "the circle is told",
            "return /through the three places: R|three places that don't lie/.test(document.body.innerText)",
        )
        .await?;
    browser.press_text("level with the seat").await?;
    browser
        .until("it is level", "return document.querySelector(\"input[aria-label='lean of the cut']\").value === '90.0'")
        .await?;
    browser.says("mm² cut through; click an edge").await?;
    browser.write("input[aria-label='turn of the cut']", "30", Key::Enter).await?;
    browser.still().await?;
    let turned = canvas().await?;
    ensure!(turned != open);
    // a link shows the same cut
    let link = browser.driver.current_url().await?;
    browser.driver.goto(link.as_str()).await?;
    browser.says("mm² cut through; click an edge").await?;
    let lie = "return ['turn of the cut', 'lean of the cut'].map(l => document.querySelector(`input[aria-label='${l}']`).value).join(' ')";
    ensure!(browser.value(lie).await? == "30.0 90.0", "{}", browser.value(lie).await?);
    browser.press_text("cut").await?;
    browser.until("it is closed", "return !document.querySelector(\"[aria-label='measured in the cut']\")").await?;
    // three places on a line have no circle, which the browser tells as well
    let complaints = browser.complaints().await?;
    ensure!(complaints.iter().all(|c| c.contains("/api/circle")), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_check_is_shown_place_by_place_and_a_letter_laid_flat() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    server.edit(&id, "B. Tester", set(json!({"text": "OI", "relief": {"draft": 0.5}}))).await?;
    // every wall of the letters has the draft that was set, and lacks what is asked
    let ask = async |query: &str| server.ask(Method::GET, &format!("/api/jobs/{id}/{query}"), None).await;
    let (status, map) = ask("marked-map?mark=mark-1&check=draft").await?;
    ensure!(status == StatusCode::OK, "{map}");
    let values: Vec<f64> =
        map["values"].as_array().context("values")?.iter().filter_map(Value::as_f64).filter(|v| *v < 45.0).collect();
    ensure!(values.len() > 60 && values.iter().all(|v| (v - 0.5).abs() < 0.3), "{} values", values.len());
    ensure!(map["corners"].as_array().map(Vec::len) == map["values"].as_array().map(|v| 3 * v.len()));
    ensure!(map["beyond"].as_f64() > Some(1.0) && map["beyond"].as_f64() < map["area"].as_f64(), "{}", map["beyond"]);
    ensure!(ask("marked-map?mark=mark-1&check=stroke").await?.0 == StatusCode::UNPROCESSABLE_ENTITY);
    ensure!(ask("marked-map?mark=nobody&check=draft").await?.0 == StatusCode::NOT_FOUND);
    ensure!(ask("marked-map?mark=mark-1&check=beauty").await?.0 == StatusCode::BAD_REQUEST);
    ensure!(ask("letter?mark=mark-1&letter=7").await?.0 == StatusCode::UNPROCESSABLE_ENTITY);
    let (_, flat) = ask("letter?mark=mark-1&letter=0").await?;
    ensure!(flat["text"] == "O" && flat["spaces"].as_array().map(Vec::len) == Some(1), "{flat}");

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=draft", server.base)).await?;
    browser.measured().await?;
    browser.still().await?;
    let canvas = async || anyhow::Ok(browser.find("canvas").await?.screenshot_as_png().await?);
    let plain = canvas().await?;
    browser.press_text("map").await?;
    browser.says("draft against the pull; hatched below the limit").await?;
    browser.says("mm²").await?;
    browser.still().await?;
    ensure!(canvas().await? != plain, "the walls are painted");
    // what stands under the pointer is read off: somewhere in the view lies a wall
    let mut read = String::new();
    'over: for x in (0..40).map(|k| 0.2 + 0.015 * f64::from(k)) {
        for y in [0.35, 0.45, 0.5, 0.55, 0.65] {
            let (x, y) = browser.place("canvas", x, y).await?;
            browser.driver.action_chain().move_to(x, y).perform().await?;
            let said = browser.value("return document.querySelector('.probe')?.innerText ?? ''").await?;
            read = said.as_str().unwrap_or_default().to_owned();
            if read.contains("0.50°") {
                break 'over;
            }
        }
    }
    ensure!(read.contains("“") && read.contains("0.50° draft against the pull"), "{read}");
    // another check has its own map, one without figures by place has none, and a link shows the same
    browser.press("[data-finding='mark-1 clearance']").await?;
    browser.says("from the edge or the next mark; hatched below the limit").await?;
    let link = browser.driver.current_url().await?;
    browser.driver.goto(link.as_str()).await?;
    browser.says("from the edge or the next mark; hatched below the limit").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=stroke&map=on", server.base)).await?;
    browser.measured().await?;
    browser
        .until("there is no map", "return !document.querySelector('figure[aria-label=\"what the colours mean\"]')")
        .await?;
    // by keys: the torch puts the map out
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=draft", server.base)).await?;
    browser.measured().await?;
    browser.find("body").await?.send_keys("m").await?;
    browser.says("hatched below the limit").await?;
    browser.find("body").await?.send_keys("l").await?;
    browser.until("the torch is lit", "return !!document.querySelector('[aria-label^=\"torch\"]') && !document.querySelector('figure[aria-label=\"what the colours mean\"]')").await?;

    // a letter laid flat, and the next
    browser.press_text("“O” laid flat").await?;
    browser.says("narrowest stroke").await?;
    browser.says("to “I”").await?;
    let figures = browser.text("[role=dialog], dialog").await?;
    let width = flat["stroke"]["width"].as_f64().context("a stroke")?;
    ensure!(figures.contains(&format!("{width:.3} mm")), "{figures}");
    // a cutter as wide as half the stroke gets round the O's arcs, one wider than the stroke doesn't get in
    let asked = async |diameter: f64| {
        let path = format!("/api/jobs/{id}/letter?mark=mark-1&letter={}&cutter={diameter}", flat["character"]);
        anyhow::Ok(server.get(&path).await?["uncut"].clone())
    };
    let (thin, thick) = (asked(width / 2.0).await?, asked(width * 1.2).await?);
    ensure!(thin["places"] == 0 && thick["area"].as_f64().context("an area")? > 0.2, "{thin} {thick}");
    let largest = thick["largest"].as_f64().context("the largest")?;
    ensure!((largest - width).abs() < 0.03, "{largest} for a stroke of {width}");
    browser.write("input[aria-label='cutter diameter']", &format!("{:.2}", width * 1.2), Key::Tab).await?;
    browser.says("in 1 place").await?;
    browser.until("it is drawn red", "return !!document.querySelector('path.uncut')?.getAttribute('d')").await?;
    browser.says(&format!("Ø {largest:.2} is the largest")).await?;
    browser.press_text("the next").await?;
    browser.says("“I” laid flat").await?;
    browser.says("it has none").await?;
    ensure!(browser.complaints().await?.iter().all(|c| c.contains("422")), "{:?}", browser.complaints().await?);
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_failing_finding_is_waived_fails_all_the_same_and_lapses_with_its_mark() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    server.edit(&id, "B. Tester", set(json!({"text": "HILL", "relief": {"draft": 0.5}}))).await?;
    let browser = Browser::at_the_bench(&server.base, "C. Checker").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=draft", server.base)).await?;
    browser.says("1 fails").await?;
    browser.press_text("waive it").await?;
    browser.write("input[aria-label='reason of the waiver']", "tried on the moulded part", Key::Null).await?;
    browser.press_text("waive it as C. Checker").await?;
    browser.says("1 fails (1 waived)").await?;
    browser.says("least draft of the walls: fails, waived").await?;
    browser.says("Waived by C. Checker on").await?;
    let cell = browser.find("[data-finding='mark-1 draft']").await?;
    ensure!(cell.attr("aria-label").await?.is_some_and(|l| l.ends_with("fails, waived")));
    let outcome = server.get(&format!("/api/jobs/{id}/outcome")).await?;
    let draft = outcome["marks"][0]["findings"].as_array().context("findings")?.iter().find(|f| f["check"] == "draft");
    let draft = draft.context("the draft")?;
    ensure!(draft["state"] == "fails" && draft["waived"]["reason"] == "tried on the moulded part", "{draft}");
    let row = &server.get("/api/jobs").await?[0]["verdict"];
    ensure!(row["fails"] == 1 && row["waived"] == 1, "{row}");
    // it stands in what is handed off, too
    let page = String::from_utf8(server.bytes(&format!("/api/jobs/{id}/handoff/findings.html")).await?)?;
    ensure!(page.contains("fails, waived") && page.contains("tried on the moulded part"));

    // the mark is changed: nobody answers for that
    server.edit(&id, "B. Tester", set(json!({"relief": {"draft": 0.6}}))).await?;
    browser.says("It holds no more: the mark was changed since.").await?;
    browser.until("it fails plainly", "return !document.querySelector('.cell.waived')").await?;
    browser.press_text("withdraw it").await?;
    browser.until("the waiver is gone", "return !/Was waived by/.test(document.body.innerText)").await?;
    // one undo, and it is as it was given
    browser.press("button[title^='undo:']").await?;
    browser.says("It holds no more").await?;

    let waive = |change: Value| {
        let mut edit =
            json!({"do": "waive", "mark": "mark-1", "check": "draft", "all_rows": true, "reason": "r", "by": "C"});
        edit.as_object_mut().expect("an object").extend(change.as_object().expect("an object").clone());
        edit
    };
    for (change, says) in [
        (json!({"check": "cap_height"}), "nothing to waive"),
        (json!({"reason": "  "}), "needs a reason"),
        (json!({"until": "1999-01-01"}), "in the past"),
        (json!({"until": "tomorrow"}), "write it as 2026-11-30"),
        (json!({"by": ""}), "Enter your name"),
    ] {
        let (status, said) = server.try_edit(&id, "C. Checker", waive(change)).await?;
        ensure!(status == StatusCode::UNPROCESSABLE_ENTITY && said.to_string().contains(says), "{says}: {said}");
    }
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_inspection_is_recorded_once_and_for_all_repeated_and_compared() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    server.edit(&id, "B. Tester", set(json!({"text": "HILL"}))).await?;
    let browser = Browser::at_the_bench(&server.base, "C. Checker").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=draft", server.base)).await?;
    browser.measured().await?;
    // a cut is kept with it, and what is measured in it
    browser.press_text("cut").await?;
    browser.says("mm² cut through; click an edge").await?;
    browser.still().await?;
    for x in [0.4, 0.6] {
        browser.press_at(browser.place("canvas", x, 0.3).await?).await?;
    }
    browser.says("mm apart").await?;
    let apart = "return document.querySelector('.measured').innerText.match(/[0-9.]+ mm apart/)[0]";
    let apart = browser.value(apart).await?.as_str().context("a distance")?.to_owned();
    browser.press_text("keep it for the record").await?;
    browser.says("one is kept").await?;
    browser.press_text("records").await?;
    browser.says("There is none yet").await?;
    browser.says("with a cut that is kept").await?;
    browser.press_text("record it as it is").await?;
    browser.until("it is on the list", "return document.querySelectorAll('dialog tbody tr').length === 1").await?;
    browser.says("by C. Checker").await?;
    let number = server.get(&format!("/api/jobs/{id}/records")).await?[0]["number"].as_i64().context("a number")?;
    browser.press_text("repeat").await?;
    browser
        .until(
            "it was repeated",
            "return /Inspected once more: \\d+ figures the same to the last digit\\./.test(document.body.innerText)",
        )
        .await?;
    // the proof opens, and figures and data come down
    ensure!(server.bytes(&format!("/api/jobs/{id}/records/{number}/proof.pdf")).await?.starts_with(b"%PDF-"));
    browser.press_text("figures").await?;
    let figures = String::from_utf8(browser.downloaded(".csv").await?)?;
    let of_draft = figures.lines().filter(|l| l.contains(",draft,")).count();
    ensure!(of_draft == 5, "a line for the mark and one for each of four letters: {of_draft}");
    let record: Value =
        serde_json::from_slice(&server.bytes(&format!("/api/jobs/{id}/records/{number}/record.json")).await?)?;
    ensure!(record["number"] == number && record["job"]["marks"][0]["text"] == "HILL", "{record}");
    ensure!(record["files"].as_array().is_some_and(|f| f.iter().any(|f| f["name"] == "marked-solid.stl")), "{record}");

    let cut = record["sections"][0]["says"].to_string();
    ensure!(cut.contains(&apart), "{apart} was read, {cut} is recorded");

    // what is recorded stays, whoever asks
    for statement in ["update record set author = 'X'", "delete from record", "truncate record"] {
        let refused = format!(
            "do $$ begin {statement}; raise exception 'it was done'; exception when others then if sqlerrm not like '%written once%' then raise; end if; end $$"
        );
        cluster.sql("tinbadge", &refused);
    }
    ensure!(server.get(&format!("/api/jobs/{id}/records/{number}")).await?["by"] == "C. Checker");

    // a second one of the changed job, from a window that has not seen the change, and then from one that has
    let before = server.get(&format!("/api/jobs/{id}")).await?["state"].clone();
    server.edit(&id, "B. Tester", set(json!({"relief": {"draft": 7.0}}))).await?;
    let make = async |state: &Value| {
        let body = json!({"author": "C. Checker", "state": state, "row": null});
        server.ask(Method::POST, &format!("/api/jobs/{id}/records"), Some(body)).await
    };
    ensure!(make(&before).await?.0 == StatusCode::UNPROCESSABLE_ENTITY);
    let now = server.get(&format!("/api/jobs/{id}")).await?["state"].clone();
    let (status, made) = make(&now).await?;
    ensure!(status == StatusCode::CREATED, "{made}");
    let second = made["number"].as_i64().context("a number")?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?records={second}", server.base)).await?;
    browser.says("Made").await?;
    browser.press_text(&number.to_string()).await?;
    browser
        .until(
            "the draft differs",
            "return /mark-1: draft: \\d.*→ \\d/.test(document.querySelector('.differences').innerText)",
        )
        .await?;
    let differs = browser.text(".differences").await?;
    ensure!(!differs.contains("limit on") && differs.contains("marked-solid.stl"), "{differs}");
    browser.press_text("all records").await?;
    browser.until("both are listed", "return document.querySelectorAll('dialog tbody tr').length === 2").await?;
    ensure!(server.ask(Method::GET, &format!("/api/jobs/{id}/records/999"), None).await?.0 == StatusCode::NOT_FOUND);
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}
