//! Inspect answers what to change: a mend is taken with one press, and one undo takes it back; one press for all. And whether it
//! can be read: letter by letter under eight lights, and under a torch on the part.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use thirtyfour::Key;

/// The state of a finding on the job's only mark.
async fn state(server: &Server, id: &str, check: &str) -> Result<String> {
    let outcome = server.get(&format!("/api/jobs/{id}/outcome")).await?;
    let findings = outcome["marks"][0]["findings"].as_array().context("findings")?;
    let found = findings.iter().find(|f| f["check"] == check).context("the check")?;
    Ok(found["state"].as_str().unwrap_or_default().into())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mend_is_one_press_and_one_undo_and_all_of_them_another() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let set = |settings: Value| json!({"do": "set_mark", "id": "mark-1", "settings": settings});
    server.edit(&id, "B. Tester", set(json!({"text": "HK-34", "relief": {"draft": 0.5}}))).await?;
    ensure!(state(&server, &id, "draft").await? == "fails");

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=draft", server.base)).await?;
    browser.says("Each was built and inspected").await?;
    let offer = browser.value("return document.querySelector('.mends .press').innerText").await?;
    let offer = offer.as_str().context("an offer")?.to_owned();
    ensure!(offer.starts_with("draft 0.5° → "), "{offer}");
    browser.press_text(&offer).await?;
    browser.until("it passes", "return !!document.querySelector(\"[data-finding='mark-1 draft'].passes\")").await?;
    browser.until("nothing more is offered", "return !document.querySelector('.mends')").await?;
    let mended = server.get(&format!("/api/jobs/{id}")).await?;
    let draft = mended["job"]["marks"][0]["relief"]["draft"].as_f64().context("a draft")?;
    ensure!(offer.ends_with(&format!("{draft:.1}°")) && draft > 0.5, "{offer} set {draft}");
    ensure!(state(&server, &id, "draft").await? == "passes");
    // one undo takes it back
    browser.press("button[title^='undo:']").await?;
    browser.until("it fails again", "return !!document.querySelector(\"[data-finding='mark-1 draft'].fails\")").await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0]["relief"]["draft"] == 0.5);

    // two faults at once: one press for both, and one undo
    let place = json!({"place": {"along": {"tie": "from_start", "distance": 0.6}}});
    let before = server.edit(&id, "B. Tester", set(place)).await?;
    ensure!(state(&server, &id, "clearance").await? != "passes");
    browser.press_text("mend all").await?;
    browser.says("One undo takes them back").await?;
    let steps =
        browser.value("return document.querySelectorAll('.changes li').length").await?.as_u64().context("a number")?;
    ensure!(steps >= 2, "{steps}");
    browser.press_text(&format!("Make {steps} changes")).await?;
    browser.until("all passes", "return !document.querySelector('[data-finding].fails, [data-finding].marginal') && !!document.querySelector('[data-finding].passes')").await?;
    for check in ["draft", "clearance"] {
        ensure!(state(&server, &id, check).await? == "passes", "{check}");
    }
    browser.press("button[title^='undo:']").await?;
    browser.until("both are back", "return !!document.querySelector(\"[data-finding='mark-1 draft'].fails\")").await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"] == before["job"]["marks"]);

    // what is locked beside its value no mend changes; pressed once more it may
    browser.driver.goto(format!("{}/jobs/{id}/marks?mark=mark-1", server.base)).await?;
    browser.press("button[aria-label='keep the draft'][aria-pressed='false']").await?;
    browser.find("button[aria-label='keep the draft'][aria-pressed='true']").await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0]["fixed"] == json!(["draft"]));
    let offers = server.get(&format!("/api/jobs/{id}/mends?mark=mark-1&check=draft")).await?;
    let changed: Vec<&Value> = offers["offers"].as_array().context("offers")?.iter().map(|o| &o["changes"]).collect();
    ensure!(changed.iter().all(|c| c.as_array().is_some_and(|c| !c.contains(&json!("draft")))), "{changed:?}");
    browser.press("button[aria-label='keep the draft'][aria-pressed='true']").await?;
    browser.find("button[aria-label='keep the draft'][aria-pressed='false']").await?;
    for kept in ["sense", "cap height", "stroke", "spacing", "place", "turn", "pad", "pad that", "seat"] {
        let found = format!("return document.querySelectorAll(\"button[aria-label='keep the {kept}']\").length");
        ensure!(browser.value(&found).await? == u64::from(kept != "pad that"), "{kept}");
    }
    // the level at which the size is measured is a choice of the card like any other
    browser.choose("select[aria-label='size measured at']", "root").await?;
    browser
        .until(
            "it is kept",
            "return document.querySelector(\"select[aria-label='size measured at']\").value === 'root'",
        )
        .await?;
    browser.measured().await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0]["relief"]["measured_at"] == "root");

    // a mark that is gone, and a check that passes
    let ask = async |query: &str| server.ask(Method::GET, &format!("/api/jobs/{id}/mends?{query}"), None).await;
    ensure!(ask("mark=nobody&check=draft").await?.0 == StatusCode::NOT_FOUND);
    ensure!(ask("mark=mark-1&check=dance").await?.0 == StatusCode::BAD_REQUEST);
    let (status, none) = ask("mark=mark-1&check=uniform_depth").await?;
    ensure!(status == StatusCode::OK && none["offers"] == json!([]), "{none}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mark_is_read_under_eight_lights_and_looked_at_under_a_torch() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let read = async || server.get(&format!("/api/jobs/{id}/reading?mark=mark-1")).await;
    let plain = read().await?;
    ensure!(plain["verdict"] == "passes" && plain["letters"].as_array().is_some_and(|l| l.len() == 5), "{plain}");
    let relief = |relief: Value| json!({"do": "set_mark", "id": "mark-1", "settings": {"relief": relief}});
    server.edit(&id, "B. Tester", relief(json!({"height": 0.01}))).await?;
    let faint = read().await?;
    ensure!(faint["verdict"] == "fails" && faint["sheet"].as_str().is_some_and(|s| s.contains("version 1")), "{faint}");

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/inspect?mark=mark-1&check=cap_height", server.base)).await?;
    browser.press_text("can it be read?").await?;
    browser.says("doesn’t read").await?;
    let seen = "return [...document.querySelectorAll('dialog img')].filter(i => i.naturalWidth > 40).length === 8";
    browser.until("eight pictures are there", seen).await?;
    ensure!(browser.value("return document.querySelectorAll('dialog li.fails').length").await? == 5);
    browser.press("dialog button[aria-label='Close']").await?;
    server.edit(&id, "B. Tester", relief(json!({"height": 0.3}))).await?;
    browser.press_text("can it be read?").await?;
    browser.says("Every letter reads").await?;
    browser.press("dialog button[aria-label='Close']").await?;

    browser.still().await?;
    let canvas = async || anyhow::Ok(browser.find("canvas").await?.screenshot_as_png().await?);
    let plain = canvas().await?;
    browser.press_text("torch").await?;
    let lamp =
        async || anyhow::Ok(browser.find("[role=slider]").await?.attr("aria-valuetext").await?.unwrap_or_default());
    ensure!(lamp().await?.starts_with("from 135°") && lamp().await?.contains("20° over"), "{}", lamp().await?);
    browser.still().await?;
    let lit = canvas().await?;
    ensure!(lit != plain, "the torch changes what is seen");
    // to the right of the mark, and as low as it goes
    let (from, to) =
        (browser.place("[role=slider]", 0.5, 0.5).await?, browser.place("[role=slider]", 0.95, 0.5).await?);
    browser.drag(from, to).await?;
    ensure!(
        lamp().await? == "from 0° counter-clockwise of the reading direction, 5° over the ground",
        "{}",
        lamp().await?
    );
    browser.find("[role=slider]").await?.send_keys(Key::Left + Key::Up).await?;
    ensure!(lamp().await?.starts_with("from 5°") && lamp().await?.contains("10° over"), "{}", lamp().await?);
    browser.still().await?;
    ensure!(canvas().await? != lit, "shadows go with the lamp");
    // a link shows the same
    let link = browser.driver.current_url().await?;
    ensure!(link.query().is_some_and(|q| q.contains("torch=5+10") || q.contains("torch=5%2010")), "{link}");
    browser.driver.goto(link.as_str()).await?;
    browser.until("the torch is on", "return !!document.querySelector('[role=slider]')").await?;
    ensure!(lamp().await?.starts_with("from 5°") && lamp().await?.contains("10° over"), "{}", lamp().await?);
    browser.press_text("torch").await?;
    browser.until("it is off", "return !document.querySelector('[role=slider]')").await?;

    let ask = async |query: &str| server.ask(Method::GET, &format!("/api/jobs/{id}/reading{query}"), None).await;
    ensure!(ask("?mark=nobody").await?.0 == StatusCode::NOT_FOUND);
    ensure!(ask("/picture?mark=mark-1&light=8").await?.0 == StatusCode::UNPROCESSABLE_ENTITY);
    server.edit(&id, "B. Tester", relief(json!({"sense": "surface"}))).await?;
    let (status, said) = ask("?mark=mark-1").await?;
    ensure!(status == StatusCode::UNPROCESSABLE_ENTITY && said.to_string().contains("no relief"), "{said}");
    browser.quit().await
}
