//! How pages lie at every size of window, and how they are read by who doesn't see them: boxes are measured, and axe-core's
//! rules (Web Content Accessibility Guidelines 2.2, A and AA) are asked. Texts are as long as they are in earnest.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::{Value, json};
use std::time::Duration;

/// What is wrong with how a page lies.
const LAYOUT: &str = include_str!("../src/layout.js");
/// axe-core (npm, MPL-2.0).
const AXE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");
/// Finds what is serious; what is not measured (pictures under text) is not found.
const RULES: &str = "const done = arguments[arguments.length - 1]; \
    const found = (v) => `${v.id}: ${v.help}: ${v.nodes.slice(0, 3).map((n) => n.html.slice(0, 200)).join(' … ')}`; \
    axe.run(document, { resultTypes: ['violations'] }).then( \
      (all) => done(all.violations.filter((v) => ['serious', 'critical'].includes(v.impact)).map(found)), \
      (e) => done([String(e)]));";
/// From the smallest window to the largest, and 1920 × 1080 at twice its size.
const SIZES: [(u32, u32); 4] = [(1024, 700), (1280, 800), (2560, 1440), (960, 540)];
const PERSON: &str = "Maximiliane von Untergrundhausen";

async fn faults(browser: &Browser) -> Result<Vec<String>> {
    Ok(serde_json::from_value(browser.value(LAYOUT).await?)?)
}

/// A page at all sizes, and by axe-core's rules.
async fn look(browser: &Browser, page: &str) -> Result<()> {
    for (width, height) in SIZES {
        browser.size(width, height).await?;
        browser.measured().await?;
        // the view follows the window with its next picture
        tokio::time::sleep(Duration::from_millis(250)).await;
        let found = faults(browser).await?;
        ensure!(found.is_empty(), "{page} at {width} × {height}: {}", found.join("; "));
    }
    browser.size(1280, 800).await?;
    let found = rules(browser).await?;
    ensure!(found.is_empty(), "{page}: {}", found.join("; "));
    Ok(())
}

async fn rules(browser: &Browser) -> Result<Vec<String>> {
    if browser.value("return !window.axe").await? == Value::Bool(true) {
        let axe = std::fs::read_to_string(AXE).context("./tinbadge test installs axe-core")?;
        browser.value(&format!("{axe}; window.axe = axe;")).await?;
    }
    let found = browser.driver.execute_async(RULES, vec![]).await?;
    Ok(serde_json::from_value(found.json().clone())?)
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_overlaps_or_scrolls_sideways_and_everything_has_a_name() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::with_demo(&cluster.url())?;
    let jobs = server.get("/api/jobs").await?;
    let valve = jobs.as_array().and_then(|all| all.iter().find(|j| j["part_file"] == "valve-body.stl"));
    let id = valve.context("the valve body")?["id"].as_str().context("an id")?.to_owned();
    let long = "Valve body VB-20, left-hand variant with threaded inlet (tool 4471)";
    server.edit(&id, PERSON, json!({"do": "rename", "name": long})).await?;
    let name = json!({"name": "part number and revision on the crown, side"});
    server.edit(&id, PERSON, json!({"do": "set_mark", "id": "part-number", "settings": name})).await?;
    let text = json!({"text": "MARROWBY & THRUPP PNEUMATIC SYSTEMS\nMADE IN ENGLAND"});
    server.edit(&id, PERSON, json!({"do": "set_mark", "id": "maker", "settings": text})).await?;

    let browser = Browser::at_the_bench(&server.base, PERSON).await?;
    look(&browser, "the list of jobs").await?;
    browser.driver.goto(format!("{}/shop", server.base)).await?;
    look(&browser, "the shop").await?;
    for station in ["part", "roster", "marks", "inspect", "inspect?rows=all", "inspect?records=all", "handoff"] {
        browser.driver.goto(format!("{}/jobs/{id}/{station}", server.base)).await?;
        browser.find("nav a.here").await?;
        look(&browser, station).await?;
    }
    for page in ["the tool’s side", "the callout sheet", "what changes in steel"] {
        browser.press_text(page).await?;
        look(&browser, page).await?;
    }
    browser.quit().await
}

/// The twin of the test above: faults that are put there are found.
#[tokio::test(flavor = "multi_thread")]
async fn what_lies_wrong_or_has_no_name_is_found() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.measured().await?;
    // the pages' policy takes no styles in attributes
    let put = async |html: &str| -> Result<Vec<String>> {
        let script = "document.querySelector('#put')?.remove(); \
            document.body.insertAdjacentHTML('beforeend', `<div id='put'>${arguments[0]}</div>`); \
            document.querySelectorAll('[data-style]').forEach((e) => (e.style.cssText = e.dataset.style));";
        browser.driver.execute(script, vec![json!(html)]).await?;
        faults(&browser).await
    };
    let at = "position: fixed; left: 200px; top: 300px";
    for (html, told) in [
        (format!("<p data-style='{at}'>one</p><p data-style='{at}'>other</p>"), "“one” lies over “other”"),
        (
            format!(
                "<p data-style='{at}'>hidden</p><div data-style='{at}; width: 90px; height: 90px; background: white'></div>"
            ),
            "“hidden” lies under div",
        ),
        (
            format!("<p data-style='{at}; width: 40px; overflow: hidden; white-space: nowrap'>very long indeed</p>"),
            "cut off at 40 of",
        ),
        ("<p data-style='width: 3000px'>wide</p>".into(), "the page scrolls sideways"),
    ] {
        let found = put(&html).await?;
        ensure!(found.iter().any(|f| f.contains(told)), "{told}: {found:?}");
    }
    ensure!(put(&format!("<p data-style='{at}'>alone</p>")).await?.is_empty());
    put("<button></button>").await?;
    let found = rules(&browser).await?;
    ensure!(found.iter().any(|f| f.starts_with("button-name")), "{found:?}");
    browser.quit().await
}
