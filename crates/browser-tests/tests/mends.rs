//! Inspect answers what to change: a mend is taken with one press, and one undo takes it back; one press for all.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};

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

    // a mark that is gone, and a check that passes
    let ask = async |query: &str| server.ask(Method::GET, &format!("/api/jobs/{id}/mends?{query}"), None).await;
    ensure!(ask("mark=nobody&check=draft").await?.0 == StatusCode::NOT_FOUND);
    ensure!(ask("mark=mark-1&check=dance").await?.0 == StatusCode::BAD_REQUEST);
    let (status, none) = ask("mark=mark-1&check=uniform_depth").await?;
    ensure!(status == StatusCode::OK && none["offers"] == json!([]), "{none}");
    browser.quit().await
}
