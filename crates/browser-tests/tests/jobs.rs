//! The list of jobs as a shop with many uses it: found, put in order, into folders, copied, sent as one file and taken in again,
//! archived.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::{Value, json};
use std::io::{Cursor, Read};
use thirtyfour::{By, Key, prelude::ElementQueryable};

const NAMES: &str = "return [...document.querySelectorAll('.page li strong')].map((e) => e.innerText)";

async fn listed(browser: &Browser, names: &[&str]) -> Result<()> {
    let wanted = json!(names);
    let same = format!("const all = (() => {{ {NAMES} }})(); return JSON.stringify(all) === JSON.stringify({wanted})");
    browser.until(&format!("a list of {names:?}"), &same).await
}

/// Of the job that is called so.
fn of(name: &str, what: &str) -> String {
    format!("//li[.//strong[normalize-space()='{name}']]//*[self::button or self::a][normalize-space()='{what}']")
}

async fn press(browser: &Browser, name: &str, what: &str) -> Result<()> {
    let path = of(name, what);
    let found = browser.driver.query(By::XPath(&path)).first().await;
    found.with_context(|| format!("“{what}” of {name}"))?.click().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn jobs_are_found_put_into_folders_copied_and_archived() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    // the last changed stands first
    let block = solid::formats::stl::write(&demo::parts::plain_block());
    for (file, name, by) in
        [("cap-2.stl", "Cap 2", "A. Tester"), ("lid.stl", "Lid", "B. Tester"), ("cap-10.stl", "Cap 10", "A. Tester")]
    {
        let id = server.begin(file, block.clone()).await?;
        server.edit(&id, by, json!({"do": "rename", "name": name})).await?;
    }
    let marked = server.block_with_mark().await?;
    server.edit(&marked, "A. Tester", json!({"do": "rename", "name": "Valve"})).await?;

    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    listed(&browser, &["Valve", "Cap 10", "Lid", "Cap 2"]).await?;
    // by their figures, as people count
    browser.choose("select[aria-label='order']", "by name").await?;
    listed(&browser, &["Cap 2", "Cap 10", "Lid", "Valve"]).await?;
    browser.choose("select[aria-label='order']", "last changed first").await?;
    browser.write("input[aria-label='find a job']", "CAP", Key::Enter).await?;
    listed(&browser, &["Cap 10", "Cap 2"]).await?;
    browser.choose("select[aria-label='who changed them last']", "by B. Tester").await?;
    browser.says("No job is like that.").await?;
    browser.press_text("show all").await?;
    browser.choose("select[aria-label='who changed them last']", "by B. Tester").await?;
    listed(&browser, &["Lid"]).await?;
    browser.press_text("show all").await?;
    // a block with a mark and nothing set otherwise passes; jobs without marks have nothing that does
    browser.choose("select[aria-label='how they stand']", "passes").await?;
    listed(&browser, &["Valve"]).await?;
    browser.press_text("show all").await?;

    // into a folder, one by itself and two together
    press(&browser, "Lid", "folder").await?;
    browser.write("input[aria-label='folder of Lid']", "Tool 4471", Key::Enter).await?;
    browser.says("Tool 4471").await?;
    browser.press_text("change many jobs").await?;
    for name in ["Cap 2", "Cap 10"] {
        browser.press(&format!("input[aria-label='pick {name}']")).await?;
    }
    browser.write("input[aria-label='folder of those picked']", "Tool 4471", Key::Tab).await?;
    browser.press_text("Put there").await?;
    browser.until("two went there", "return document.querySelector('.press[disabled]') !== null").await?;
    browser.press_text("leave").await?;
    browser.choose("select[aria-label='folder']", "Tool 4471").await?;
    listed(&browser, &["Cap 10", "Lid", "Cap 2"]).await?;
    browser.choose("select[aria-label='folder']", "no folder").await?;
    listed(&browser, &["Valve"]).await?;
    browser.press_text("show all").await?;

    press(&browser, "Lid", "copy").await?;
    listed(&browser, &["Lid copy", "Valve", "Cap 10", "Lid", "Cap 2"]).await?;
    press(&browser, "Lid copy", "archive").await?;
    browser.says("“Lid copy” is archived.").await?;
    listed(&browser, &["Valve", "Cap 10", "Lid", "Cap 2"]).await?;
    browser.press_text("undo").await?;
    listed(&browser, &["Lid copy", "Valve", "Cap 10", "Lid", "Cap 2"]).await?;
    browser.press_text("change many jobs").await?;
    for name in ["Cap 2", "Cap 10"] {
        browser.press(&format!("input[aria-label='pick {name}']")).await?;
    }
    browser.press_text("archive").await?;
    browser.says("2 jobs are archived.").await?;
    listed(&browser, &["Lid copy", "Valve", "Lid"]).await?;
    let long = json!({"folder": "x".repeat(61)});
    let refused = server.ask(reqwest::Method::PUT, &format!("/api/jobs/{marked}/folder"), Some(long)).await?;
    ensure!(refused.0 == 422 && refused.1.to_string().contains("at most 60 characters"), "{refused:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_job_is_sent_as_one_file_and_taken_in_again() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    server.edit(&id, "A. Tester", json!({"do": "rename", "name": "Gehäuse 3"})).await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    press(&browser, "Gehäuse 3", "as one file").await?;
    let sent = browser.downloaded("Gehäuse-3-job.zip").await?;
    let mut archive = zip::ZipArchive::new(Cursor::new(&sent))?;
    let mut part = Vec::new();
    archive.by_name("block.stl")?.read_to_end(&mut part)?;
    ensure!(part == solid::formats::stl::write(&demo::parts::plain_block()));
    let job: Value = serde_json::from_reader(archive.by_name("job.tinbadge.json")?)?;
    ensure!(job["name"] == "Gehäuse 3" && job["marks"][0]["text"] == "R4-07", "{job}");

    // what is no such archive is told, and begins nothing
    browser.drop_file("notes.zip", b"PK nothing").await?;
    browser.says("notes.zip: The archive can’t be read").await?;
    ensure!(server.get("/api/jobs").await?.as_array().is_some_and(|all| all.len() == 1));
    // at another shop, which has neither the job nor its part
    let other = Cluster::start(false);
    let there = Server::start(&other.url())?;
    browser.driver.goto(&there.base).await?;
    browser.write("#person", "B. Tester", Key::Enter).await?;
    browser.says("No jobs yet.").await?;
    browser.drop_file("Gehäuse-3-job.zip", &sent).await?;
    browser.until("the job is open", "return location.pathname.endsWith('/marks')").await?;
    browser.measured().await?;
    let all = there.get("/api/jobs").await?;
    let taken = there.get(&format!("/api/jobs/{}", all[0]["id"].as_str().context("an id")?)).await?;
    let own = server.get(&format!("/api/jobs/{id}")).await?;
    for what in ["name", "part", "marks", "tool", "limits", "process"] {
        ensure!(taken["job"][what] == own["job"][what], "{what}: {} and {}", taken["job"][what], own["job"][what]);
    }
    // a handoff's archive is one, too
    let handed = server.bytes(&format!("/api/jobs/{id}/handoff/all.zip")).await?;
    browser.driver.goto(&there.base).await?;
    browser.find(".page li").await?;
    browser.drop_file("handoff.zip", &handed).await?;
    browser.until("the job is open", "return location.pathname.endsWith('/marks')").await?;
    ensure!(there.get("/api/jobs").await?.as_array().is_some_and(|all| all.len() == 2));
    browser.quit().await
}
