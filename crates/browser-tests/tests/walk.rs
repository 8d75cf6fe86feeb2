//! The whole path in a browser, as a tooling engineer walks it: drop a part, set the tool, mark it,
//! read the findings, take the solid away; and two windows on one job.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::Value;
use solid::{Part, formats::stl};
use thirtyfour::Key;
use trade::Unit;

async fn job(server: &Server, id: &str) -> Result<Value> {
    server.get(&format!("/api/jobs/{id}")).await
}

/// A STEP file with two bodies, drawn in inches, as the kernel itself writes it.
fn pair() -> Result<Vec<u8>> {
    let folder = tempfile::tempdir()?;
    let reader = browser_tests::program().with_file_name("tinbadge-step");
    let made = std::process::Command::new(reader).arg("samples").arg(folder.path()).output()?;
    ensure!(made.status.success(), "{made:?}");
    Ok(std::fs::read(folder.path().join("pair.step"))?)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_step_assembly_shows_its_bodies_and_the_chosen_one_is_marked() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    // a broken one is refused with its line, and nothing is begun
    let bytes = pair()?;
    browser.drop_file("broken.step", &bytes[..bytes.len() / 2]).await?;
    browser.says("Incorrect syntax").await?;
    ensure!(server.get("/api/jobs").await?.as_array().is_some_and(Vec::is_empty));
    // the unit is the file's own; of two bodies the larger is taken
    browser.drop_file("pair.step", &bytes).await?;
    browser.says("bodies in the file").await?;
    browser.says("Größe Ω").await?;
    browser.says("drawn in inch").await?;
    let address = browser.driver.current_url().await?.to_string();
    let id = address.split('/').nth(4).context("the job is in the address")?.to_owned();
    let view = server.get(&format!("/api/jobs/{id}")).await?;
    ensure!(view["job"]["part"]["bodies"] == serde_json::json!([1]), "the pin is the larger: {view}");
    browser.says("cylinder R 6.350").await?;
    // both, then the block alone
    browser.press(".bodies li:nth-child(1) input").await?;
    browser.says("of 2 shells").await?;
    browser.press(".bodies li:nth-child(2) input").await?;
    browser.says("25.40 × 12.70 × 6.35").await?;
    browser.press_face("plane facing +z").await?;
    browser.press_text("pull along its normal").await?;
    browser.says("The fixed half leaves along").await?;
    browser.press_text("mark it here").await?;
    browser.until("the card came", "return !!document.querySelector('textarea')").await?;
    browser.measured().await?;
    // marks hold the bodies fast
    let (status, said) =
        server.try_edit(&id, "A. Tester", serde_json::json!({"do": "take_bodies", "bodies": [1]})).await?;
    ensure!(status == 422 && said.to_string().contains("Remove the marks first"), "{status} {said}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn from_dropping_a_file_to_opening_the_downloaded_solid() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;

    // a bad file is named and nothing is begun
    let part = stl::write(&demo::parts::plain_block());
    browser.drop_file("broken.stl", &part[..200]).await?;
    browser.says("broken.stl: The STL file can't be read").await?;
    // the unit is required, with the size as the hint
    browser.drop_file("block.stl", &part).await?;
    browser.says("60.0 mm: drawn in millimetres").await?;
    browser.press_text("60.0 mm: drawn in millimetres").await?;

    // part: closed, pull and parting line from a pressed face
    browser.says("A closed solid, 60.00 × 30.00 × 12.00 mm").await?;
    browser.press_face("plane facing +z").await?;
    browser.press_text("pull along its normal").await?;
    browser.says("The fixed half leaves along").await?;
    browser.press_text("the silhouette").await?;
    browser.says("The silhouette along").await?;
    browser.says("closed, mm").await?;
    browser.press_text("mark it here").await?;

    // marks: text, lettering, lay, relief
    browser.until("the card came", "return !!document.querySelector('textarea')").await?;
    browser
        .until(
            "the text waits to be typed over",
            "return document.activeElement === document.querySelector('textarea')",
        )
        .await?;
    browser.find("textarea").await?.send_keys("R4-07" + Key::Tab).await?;
    browser
        .until(
            "the plate was lettered",
            "return document.querySelector('.plate svg')?.getAttribute('aria-label') === 'R4-07'",
        )
        .await?;
    browser.write("input[aria-label='cap height']", "0.2in", Key::Enter).await?;
    browser
        .until("inches were read", "return document.querySelector(\"input[aria-label='cap height']\").value === '5.08'")
        .await?;
    browser.write("input[aria-label='cap height']", "tall", Key::Enter).await?;
    browser.says("type for instance 3.5, 0.2in or 3/16in").await?;
    browser.find("input[aria-label='cap height']").await?.send_keys("" + Key::Escape).await?;
    browser.write("input[aria-label='draft']", "2.5", Key::Enter).await?;
    browser.press("button[aria-label^='lettering face']").await?;
    browser.press("button[data-face='overpass']").await?;
    browser.says("Overpass").await?;
    browser.measured().await?;
    browser.says("Everything passes on the finished solid").await?;

    // dragged on the strip, by what the rulers say
    let address = browser.driver.current_url().await?.to_string();
    let id = address.split('/').nth(4).context("the job is in the address")?.to_owned();
    let before = job(&server, &id).await?;
    let scale: f64 = browser.find("figure svg").await?.attr("data-scale").await?.context("a scale")?.parse()?;
    let from = browser.place("[data-grab]", 0.5, 0.5).await?;
    browser.drag(from, (from.0 - (8.0 * scale) as i64, from.1 + (4.0 * scale) as i64)).await?;
    browser
        .until(
            "the drag was kept",
            "return document.querySelectorAll('.history button')[0].title.includes('along, up')",
        )
        .await?;
    let after = job(&server, &id).await?;
    let moved = |which: &str| {
        let at = |job: &Value| {
            let tie = &job["job"]["marks"][0]["place"][which];
            tie["position"].as_f64().unwrap_or_default()
        };
        at(&after) - at(&before)
    };
    ensure!(
        (moved("along") + 8.0).abs() < 0.3 && (moved("up") + 4.0).abs() < 0.3,
        "{} {}",
        moved("along"),
        moved("up")
    );

    // back, through a reload, and again
    browser.press_text("undo").await?;
    browser.until("it went back", "return !document.querySelectorAll('.history button')[1].disabled").await?;
    browser.driver.refresh().await?;
    browser
        .until("again is still there", "return document.querySelectorAll('.history button')[1]?.disabled === false")
        .await?;
    assert_eq!(job(&server, &id).await?["job"], before["job"]);
    browser.press_text("redo").await?;
    browser.until("it was done again", "return document.querySelectorAll('.history button')[1].disabled").await?;
    assert_eq!(job(&server, &id).await?["job"], after["job"]);

    // sunken and too steep fails in words, and holds again after a step back
    browser.write("input[aria-label='draft']", "0", Key::Enter).await?;
    browser.says("least draft of the walls").await?;
    browser.press_text("see it on the solid").await?;
    browser.says("Measured on the finished solid").await?;
    let cell = browser.find("button[data-finding='mark-1 draft']").await?;
    assert!(cell.class_name().await?.unwrap_or_default().contains("fails"));
    browser.says("Limit ≥ 1.5°").await?;
    browser.press_text("undo").await?;
    browser.measured().await?;
    browser
        .until(
            "draft holds",
            "return document.querySelector(\"button[data-finding='mark-1 draft']\").classList.contains('passes')",
        )
        .await?;
    browser.press("button[data-finding='mark-1 parting']").await?;
    browser.says("from the parting line").await?;
    // what a mark of one word has nothing of stands below the table, not in it
    browser.says("Nothing to check here: gap between words, gap between lines").await?;
    browser.until("the finding has its address", "return location.search.includes('check=parting')").await?;

    // hand off: preview, download, open
    browser.press("nav a[href$='/handoff']").await?;
    browser.says("marked-solid.3mf").await?;
    browser.until("the page is shown before it is made", "return document.querySelector('iframe')?.contentDocument?.body?.innerText.includes('Measured on the finished solid')").await?;
    browser.says("The finished solid is closed, 1 body").await?;
    browser.says("Read back: 1 body, closed").await?;
    browser.press("a[href$='/marked-solid.3mf']").await?;
    let solid = Part::read("marked-solid.3mf", &browser.downloaded("marked-solid.3mf").await?, None)?;
    assert!(solid.soundness.is_closed());
    assert_eq!((solid.unit, solid.soundness.shells), (Unit::Mm, 1));
    let added = solid.mesh.volume() - 60.0 * 30.0 * 12.0;
    assert!((1.0..20.0).contains(&added), "{added}");
    browser.press("a[href$='/findings.json']").await?;
    let findings: Value = serde_json::from_slice(&browser.downloaded("findings.json").await?)?;
    assert_eq!(findings["state"], "passes");
    let told = findings["files"].as_array().unwrap().iter().find(|f| f["file"] == "marked-solid.3mf").unwrap();
    let volume = told["volume"].as_f64().unwrap();
    assert!((volume / solid.mesh.volume() - 1.0).abs() < 1e-9, "{volume}");
    browser.press("a[href$='/all.zip']").await?;
    browser.downloaded("all.zip").await?;
    browser.says("handed off").await?;

    let complaints: Vec<String> = browser.complaints().await?.into_iter().filter(|c| !c.contains("422")).collect();
    assert_eq!(complaints, Vec::<String>::new());
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn two_windows_on_one_job_see_each_others_changes() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    server.edit(&id, "A. Tester", serde_json::json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    let top = job["part"]["faces"]
        .as_array()
        .unwrap()
        .iter()
        .position(|f| f["says"].as_str().unwrap().contains("+z"))
        .unwrap();
    server
        .edit(&id, "A. Tester", serde_json::json!({"do": "add_mark", "face": top, "text": "ONE", "point": null}))
        .await?;
    let one = Browser::at_the_bench(&server.base, "B. Tester").await?;
    let other = Browser::at_the_bench(&server.base, "C. Tester").await?;
    for browser in [&one, &other] {
        browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
        browser.measured().await?;
    }
    one.write("textarea", "TWO", Key::Tab).await?;
    other.until("the text came over", "return document.querySelector('textarea').value === 'TWO'").await?;
    other
        .until("and the plate", "return document.querySelector('.plate svg').getAttribute('aria-label') === 'TWO'")
        .await?;
    other.press_text("copy").await?;
    one.until("the copy came over", "return document.querySelectorAll('[data-mark]').length === 2").await?;
    // it says in the list who was last
    one.driver.goto(&server.base).await?;
    one.says("C. Tester").await?;
    one.quit().await?;
    other.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_open_part_is_shown_with_its_faults_and_nothing_is_lost() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let mut mesh = demo::parts::plain_block();
    mesh.triangles.pop();
    browser.drop_file("open.stl", &stl::write(&mesh)).await?;
    browser.press_text("60.0 mm: drawn in millimetres").await?;
    browser.says("3 open edges").await?;
    browser.says("not a closed solid").await?;
    browser.press_face("plane facing").await?;
    let disabled =
        browser.value("return [...document.querySelectorAll('section.face button')].at(-1).disabled").await?;
    assert_eq!(disabled, Value::Bool(true), "an open part can't be marked");
    // the hole is flat: closing it is offered with what it changes, done, taken back and done again
    browser.press_text("close 1 flat hole").await?;
    browser.says("A closed solid").await?;
    browser.says("Mended: close 1 flat hole").await?;
    browser.press_text("remove").await?;
    browser.says("3 open edges").await?;
    browser.press_text("close 1 flat hole").await?;
    browser.says("21600 mm³").await?;
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_part_is_cut_open_moved_through_and_measured() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/part", server.base)).await?;
    browser.says("A closed solid").await?;
    browser.still().await?;
    // 60 × 30 × 12, cut in the middle of each direction
    for (axis, area) in [(1, "360.0 mm²"), (2, "720.0 mm²"), (3, "1800.0 mm²")] {
        browser.press(&format!(".tools span button:nth-of-type({axis})")).await?;
        browser.says(&format!("{area} cut through")).await?;
    }
    browser.still().await?;
    let open = browser.find("canvas").await?.screenshot_as_png().await?;
    for x in [0.45, 0.55] {
        browser.press_at(browser.place("canvas", x, 0.5).await?).await?;
    }
    browser.until("the distance was told", "return / mm apart/.test(document.body.innerText)").await?;
    let told = browser.value("return Number(document.body.innerText.match(/([0-9.]+) mm apart/)[1])").await?;
    let told = told.as_f64().context("a number")?;
    ensure!(told > 1.0 && told < 60.0, "{told}");
    // near the top the cut is still whole, above it there is nothing to fill
    browser.write("input[aria-label='height of the cut']", "11.9", Key::Enter).await?;
    browser.says("1800.0 mm² cut through; click an edge").await?;
    browser.press(".tools span button:nth-of-type(3)").await?;
    browser.says("click a face to see what").await?;
    browser.still().await?;
    ensure!(browser.find("canvas").await?.screenshot_as_png().await? != open, "the part is whole again");
    ensure!(browser.complaints().await?.is_empty(), "{:?}", browser.complaints().await?);
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_keyboard_alone_adds_nothing_by_mistake_and_reaches_every_station() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/part", server.base)).await?;
    browser.says("A closed solid").await?;
    let page = browser.find("body").await?;
    for (key, says) in [
        ("2", "One part, one text"),
        ("3", "No marks yet"),
        ("4", "There is nothing to check yet"),
        ("5", "For the toolmaker"),
        ("1", "A closed solid"),
    ] {
        page.send_keys(key).await?;
        browser.says(says).await?;
    }
    page.send_keys("?").await?;
    browser.says("undo").await?;
    assert_eq!(server.get(&format!("/api/jobs/{id}?person=A.%20Tester")).await?["undo"], Value::Null);
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mark_dragged_on_the_part_goes_where_it_is_let_go() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    server.edit(&id, "A. Tester", serde_json::json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let top = faces.as_array().unwrap().iter().position(|f| f["says"].as_str().unwrap().contains("+z")).unwrap();
    server
        .edit(&id, "A. Tester", serde_json::json!({"do": "add_mark", "face": top, "text": "H", "point": null}))
        .await?;
    let settings = serde_json::json!({"lettering": {"cap_height": 8.0}});
    server.edit(&id, "A. Tester", serde_json::json!({"do": "set_mark", "id": "mark-1", "settings": settings})).await?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    browser.driver.goto(format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.measured().await?;
    browser.press_text("square-on").await?;
    browser.still().await?;
    // seen square-on, the bar of the H lies in the middle of the view
    let from = browser.place("canvas", 0.5, 0.5).await?;
    browser.drag(from, (from.0 + 120, from.1)).await?;
    browser
        .until("the drag was kept", "return document.querySelectorAll('.history button')[0].title.includes('H: place')")
        .await?;
    let place = job(&server, &id).await?["job"]["marks"][0]["place"].clone();
    let (along, up) =
        (place["along"]["position"].as_f64().context("tied")?, place["up"]["position"].as_f64().context("tied")?);
    let lay = server
        .ask(
            reqwest::Method::POST,
            &format!("/api/jobs/{id}/placement"),
            Some(serde_json::json!({"mark": job(&server, &id).await?["job"]["marks"][0]})),
        )
        .await?
        .1;
    // the view shows 12 mm in its shorter direction: 120 pixels are between 2 and 6 mm
    ensure!((lay["middle"][0].as_f64().unwrap_or_default() - along).abs() < 1e-6);
    ensure!((32.0..36.5).contains(&lay["at"][0].as_f64().unwrap_or_default()), "{lay}");
    ensure!((lay["at"][1].as_f64().unwrap_or_default() - 15.0).abs() < 0.5, "{up} {lay}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn lettering_on_the_surface_only_is_handed_off_as_a_patch_and_leaves_the_solid_alone() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    let faces = job(&server, &id).await?["part"]["faces"].clone();
    let top = faces
        .as_array()
        .and_then(|all| all.iter().find(|f| f["says"].as_str().is_some_and(|s| s.starts_with("plane facing +z"))))
        .context("a top")?["face"]
        .clone();
    let add = serde_json::json!({"do": "add_mark", "face": top, "text": "HEL 4", "point": null});
    server.edit(&id, "A. Tester", add).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark=mark-1", server.base)).await?;
    browser.choose("select[aria-label='raised or sunken']", "on the surface only").await?;
    browser.says("No height, no change of the solid").await?;
    browser.until("height and draft are gone", "return !document.querySelector(\"[aria-label='draft']\")").await?;
    browser.driver.goto(&format!("{}/jobs/{id}/inspect?mark=mark-1&check=uniform_depth", server.base)).await?;
    browser.says("Surface-only lettering has neither walls nor height").await?;
    browser.driver.goto(&format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.says("surface-mark-1.stl").await?;
    browser.press("a[href$='/surface-mark-1.stl']").await?;
    let patch = Part::read("patch.stl", &browser.downloaded("surface-mark-1.stl").await?, Some(Unit::Mm))?;
    ensure!(patch.soundness.open_edges > 0 && patch.mesh.bounds().0.z == 12.0 && patch.mesh.bounds().1.z == 12.0);
    browser.press("a[href$='/marked-solid.3mf']").await?;
    let solid = Part::read("marked-solid.3mf", &browser.downloaded("marked-solid.3mf").await?, None)?;
    ensure!((solid.mesh.volume() - 60.0 * 30.0 * 12.0).abs() < 1e-6, "{}", solid.mesh.volume());
    browser.quit().await
}
