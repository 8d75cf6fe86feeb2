//! The part station in a browser: what the tool does to the part, where lettering stays out, limits
//! of the job's own, and a newer revision of the part.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::json;
use solid::{Mesh, formats::stl};
use thirtyfour::Key;

fn block(x: f64, y: f64, z: f64) -> Vec<u8> {
    stl::write(&demo::shapes::block(solid::DVec3::ZERO, solid::DVec3::new(x, y, z)))
}

/// The plain block with a hole along x, which halves that open along z can't free.
fn drilled() -> Result<Mesh> {
    let body = |mesh: &Mesh| solid::boolean::Body::new(mesh, "a piece");
    let hole = demo::shapes::cylinder(solid::DVec3::new(-1.0, 15.0, 6.0), solid::DVec3::X * 62.0, 3.0);
    Ok(body(&demo::parts::plain_block())?.with(&[], &[body(&hole)?])?.traced().mesh)
}

async fn begun(server: &Server, browser: &Browser, name: &str, bytes: Vec<u8>) -> Result<String> {
    let id = server.begin(name, bytes).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/part", server.base)).await?;
    browser.says("A closed solid").await?;
    browser.still().await?;
    Ok(id)
}

#[tokio::test(flavor = "multi_thread")]
async fn what_the_tool_cant_free_is_shown_and_a_slide_frees_it() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let id = begun(&server, &browser, "drilled.stl", stl::write(&drilled()?)).await?;
    browser.press_face("plane facing +z").await?;
    browser.press_text("pull along its normal").await?;
    browser.says("undercut:").await?;
    let told = server.get(&format!("/api/jobs/{id}/tool")).await?;
    // all of the bore: 2π · 3 · 60, chords are shorter by less than 0.2 %
    let (caught, bore) = (told["caught"]["area"].as_f64().context("an area")?, std::f64::consts::TAU * 180.0);
    ensure!((caught - bore).abs() < 0.002 * bore, "{caught} of {bore}");
    browser.press_text("look").await?;
    browser.says("moving half").await?;
    // a slide along x, named, frees all of it
    browser.press(".slides button:nth-of-type(1)").await?;
    browser.says("Every facet releases").await?;
    browser.write("input[aria-label='name of the slide']", "side core", Key::Enter).await?;
    browser
        .until("the slide has its name", "return /side core/.test(document.querySelector('figure ul')?.innerText)")
        .await?;
    // a face is assigned to the slide, and left to what releases it again
    browser.press_text("whole part").await?;
    browser.press_face("plane facing +z").await?;
    browser.choose("select[aria-label='steel that forms this face']", "side core").await?;
    browser.says("assigned to side core").await?;
    browser.choose("select[aria-label='steel that forms this face']", "what releases it").await?;
    browser
        .until("the face is taken back", "return !/assigned to/.test(document.querySelector('aside').innerText)")
        .await?;
    // the probe under the pointer reads the draft
    browser.press_text("draft").await?;
    browser.until("the scale came", "return !!document.querySelector('figure .scale')").await?;
    browser.press_text("whole part").await?;
    browser.still().await?;
    let (x, y) = browser.place("canvas", 0.5, 0.45).await?;
    browser.driver.action_chain().move_to(x, y).perform().await?;
    browser.says("draft 90.00°, fixed half").await?;
    browser.press_text("wall by ray").await?;
    browser.until("the walls came", "return /wall by ray/.test(document.querySelector('figure')?.innerText)").await?;
    browser.driver.action_chain().move_to(x + 2, y + 2).perform().await?;
    browser
        .until("the probe reads the wall", "return /mm by ray/.test(document.querySelector('.probe')?.innerText)")
        .await?;
    // a parting line along picked edges: a press takes an edge in, another leaves it out
    browser.press_text("wall by ray").await?;
    browser.press_text("edges that you pick").await?;
    browser.press_at((x, y)).await?;
    browser.says("Along 1 edge").await?;
    browser.says("2 open ends").await?;
    browser.press_text("done").await?;
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn keep_outs_are_set_on_faces_as_circles_and_by_brush_and_marks_answer_to_them() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let id = begun(&server, &browser, "block.stl", block(60.0, 30.0, 12.0)).await?;
    browser.press_face("plane facing +z").await?;
    browser.press_text("pull along its normal").await?;
    browser.says("Every facet releases").await?;
    browser.write("input[aria-label='name of the face']", "lid", Key::Enter).await?;
    browser.says("lid: plane facing +z").await?;
    browser.choose("select[aria-label='may lettering go on this face']", "keeps out: sealing face").await?;
    browser
        .until(
            "the face is kept out of",
            "return !!document.querySelector(\"[aria-label='margin of sealing face 1']\")",
        )
        .await?;
    // a circle where it is pressed, and a stroke of the brush
    browser.press_text("a circle").await?;
    browser.press_at(browser.place("canvas", 0.45, 0.4).await?).await?;
    browser
        .until(
            "the circle is kept",
            "return document.querySelector(\"[aria-label='radius of ejector pin 1']\")?.value === '2.50'",
        )
        .await?;
    browser.press_text("painted").await?;
    let (from, to) = (browser.place("canvas", 0.55, 0.42).await?, browser.place("canvas", 0.62, 0.46).await?);
    browser.drag(from, to).await?;
    browser.until("the stroke is kept", "return /painted,/.test(document.querySelector('aside').innerText)").await?;
    browser.press_text("done").await?;
    let kept = server.get(&format!("/api/jobs/{id}")).await?["job"]["tool"]["keep_outs"].clone();
    ensure!(kept.as_array().is_some_and(|k| k.len() == 3), "{kept}");
    ensure!(kept[2]["area"]["spots"].as_array().is_some_and(|s| s.len() > 2), "{kept}");
    // a margin of its own, and back to the set's
    browser.write("input[aria-label='margin of sealing face 1']", "0.1in", Key::Enter).await?;
    browser.says("margin set for this keep-out").await?;
    browser.press_text("as the limits say").await?;
    browser
        .until(
            "the set's margin is back",
            "return document.querySelector(\"[aria-label='margin of sealing face 1']\").value === '1.50'",
        )
        .await?;
    // a mark on the lid lies on the sealing face; the strip is hatched and the finding says so
    let top = server.get(&format!("/api/jobs/{id}")).await?["job"]["face_names"][0]["face"].clone();
    server.edit(&id, "A. Tester", json!({"do": "add_mark", "face": top, "text": "HEL", "point": null})).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.until("the strip is hatched", "return document.querySelectorAll('figure .keep-out').length >= 3").await?;
    browser.driver.goto(&format!("{}/jobs/{id}/inspect?mark=mark-1&check=keep_outs", server.base)).await?;
    browser.says("lies on “sealing face 1” (sealing face)").await?;
    // letting the lid go makes it hold
    server.edit(&id, "A. Tester", json!({"do": "remove_keep_out", "name": "sealing face 1"})).await?;
    browser
        .until(
            "the other keep-outs count now",
            "const t = document.body.innerText; return /“ejector pin \\d” \\(ejector pin\\)/.test(t) && !/sealing/.test(t)",
        )
        .await?;
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_face_is_divided_with_the_brush_and_joined_again_and_its_mark_stays() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let barrel = demo::shapes::cylinder(solid::DVec3::ZERO, solid::DVec3::Z * 40.0, 12.0);
    let id = begun(&server, &browser, "cylinder.stl", stl::write(&barrel)).await?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    let faces = job["part"]["faces"].as_array().context("faces")?;
    let face = faces.iter().find(|f| f["kind"] == "cylinder").context("a cylinder")?["face"].clone();
    let by = "A. Tester";
    server.edit(&id, by, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    server.edit(&id, by, json!({"do": "name_face", "face": face, "name": "grip"})).await?;
    browser.press_face("cylinder R 12.000").await?;
    browser.press_text("divide").await?;
    browser.says("paint the facets of this face").await?;
    let (from, to) = (browser.place("canvas", 0.44, 0.5).await?, browser.place("canvas", 0.52, 0.5).await?);
    browser.drag(from, to).await?;
    browser.press_text("divide it").await?;
    browser.says("Faces divided 1× by hand").await?;
    let divided = server.get(&format!("/api/jobs/{id}")).await?;
    let halves: Vec<f64> = divided["part"]["faces"]
        .as_array()
        .context("faces")?
        .iter()
        .filter(|f| f["kind"] == "cylinder")
        .filter_map(|f| f["area"].as_f64())
        .collect();
    let whole = faces.iter().find(|f| f["kind"] == "cylinder").and_then(|f| f["area"].as_f64()).context("an area")?;
    ensure!(halves.len() == 2 && halves.iter().all(|a| *a > 0.02 * whole), "{halves:?} of {whole}");
    ensure!((halves.iter().sum::<f64>() - whole).abs() < 1e-6 * whole, "{halves:?} of {whole}");
    // the made face is the pressed one now; joined to the other by pressing that
    browser.press_text("whole part").await?;
    browser.press_face("cylinder R 12.000").await?;
    browser.press_text("join").await?;
    browser.says("click the neighbours that belong to this face").await?;
    server.edit(&id, by, json!({"do": "join_faces", "face": face, "with": faces.len()})).await?;
    browser.says("joined 1× and divided 1×").await?;
    browser.press_text("done").await?;
    let joined = server.get(&format!("/api/jobs/{id}")).await?;
    let found = &joined["part"]["faces"][face.as_u64().context("a number")? as usize];
    ensure!((found["area"].as_f64().context("an area")? - whole).abs() < 1e-6 * whole, "{found}");
    // a name holds the faces fast until it is removed
    browser.press_text("back to the faces as found").await?;
    browser.says("Remove the names first").await?;
    server.edit(&id, by, json!({"do": "name_face", "face": face, "name": ""})).await?;
    browser.press_text("back to the faces as found").await?;
    browser
        .until("the faces are as found", "return !/by hand/.test(document.querySelector('aside').innerText)")
        .await?;
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_open_part_is_taken_as_a_surface_body_and_its_lettering_handed_off_as_bodies() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let corner = |x: f64, y: f64| solid::DVec3::new(x, y, 0.0);
    let cover = Mesh {
        vertices: vec![corner(0.0, 0.0), corner(60.0, 0.0), corner(60.0, 30.0), corner(0.0, 30.0)],
        triangles: vec![[0, 1, 2], [0, 2, 3]],
    };
    let id = server.begin("cover.stl", stl::write(&cover)).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/part", server.base)).await?;
    browser.says("4 open edges").await?;
    browser.press_text("take it as a surface body").await?;
    browser.says("A surface body").await?;
    browser.press_face("plane facing +z").await?;
    browser.press_text("pull along its normal").await?;
    browser.says("The fixed half leaves along").await?;
    browser.press_text("mark it here").await?;
    browser.until("a mark is there", "return /mark=mark-1/.test(location.search)").await?;
    browser.driver.goto(&format!("{}/jobs/{id}/inspect?mark=mark-1&check=wall", server.base)).await?;
    browser.says("A surface body has no wall that lettering could change").await?;
    // with a mark on it its outside stays where it is
    let turned = server.edit(&id, "A. Tester", json!({"do": "take_as_surface_body", "side": "undo"})).await;
    ensure!(turned.is_err(), "{turned:?}");
    browser.driver.goto(&format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.says("Measured on the lettering bodies").await?;
    browser.press("a[href$='/lettering-mark-1.stl']").await?;
    let bytes = browser.downloaded("lettering-mark-1.stl").await?;
    let lettering = solid::Part::read("lettering-mark-1.stl", &bytes, Some(trade::Unit::Mm))?;
    ensure!(lettering.soundness.is_solid(), "{:?}", lettering.soundness.complaint());
    ensure!(lettering.mesh.bounds().0.z.abs() < 1e-6, "the bodies stand on the surface: {:?}", lettering.mesh.bounds());
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_limit_can_be_set_for_one_job_with_who_asks_for_it_and_texture_asks_for_draft() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let id = begun(&server, &browser, "block.stl", block(60.0, 30.0, 12.0)).await?;
    browser.write("input[aria-label='texture depth']", "0.05", Key::Enter).await?;
    browser
        .until(
            "the texture asks for 2° more",
            "return document.querySelector(\"[aria-label='limit: least draft of the walls']\").value === '3.50'",
        )
        .await?;
    browser.write("input[aria-label='limit: least draft of the walls']", "4", Key::Enter).await?;
    browser
        .write("input[aria-label='source of the limit: least draft of the walls']", "drawing note 7", Key::Enter)
        .await?;
    let wanted = json!([{"subject": "draft", "value": 4.0, "source": "drawing note 7"}]);
    let mut limits = json!(null);
    for _ in 0..100 {
        limits = server.get(&format!("/api/jobs/{id}")).await?["job"]["own_limits"].clone();
        if limits == wanted {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    ensure!(limits == wanted, "{limits}");
    browser.says("back to 3.5").await?;
    browser.write("input[aria-label='limit: least draft of the walls']", "400", Key::Enter).await?;
    browser.says("it must lie between 0 and 60").await?;
    browser.press_text("back to 3.5").await?;
    browser
        .until(
            "the set's limit is back",
            "return document.querySelector(\"[aria-label='limit: least draft of the walls']\").value === '3.50'",
        )
        .await?;
    browser.choose("select[aria-label='material']", "POM").await?;
    // 2 % larger in steel
    browser.says("61.20 × 30.60 × 12.24").await?;
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn limits_are_kept_as_a_sheet_in_versions_and_judge_another_job() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let id = begun(&server, &browser, "block.stl", block(60.0, 30.0, 12.0)).await?;
    let own = |value: f64| json!({"do": "set_limit", "limit": {"subject": "draft", "value": value, "source": "WS 12"}});
    let judged = async |id: &str| -> Result<serde_json::Value> {
        let limits = server.get(&format!("/api/jobs/{id}")).await?["limits"].clone();
        let draft = limits.as_array().and_then(|l| l.iter().find(|l| l["subject"] == "draft")).context("a draft")?;
        Ok(json!([draft["limit"]["value"], draft["limit"]["sheet"], draft["own"]]))
    };
    browser.press_text("sheets of the shop…").await?;
    browser.says("None yet").await?;
    for (version, value) in [(1, 2.25), (2, 2.75)] {
        server.edit(&id, "A. Tester", own(value)).await?;
        browser.says("with 1 limit set here").await?;
        browser.write("input[aria-label='name of the sheet']", "Works standard", Key::Enter).await?;
        browser.says(&format!("version {version}, over thermoplastic moulding, kept by A. Tester")).await?;
        browser.says("in use here").await?;
        let wanted = json!([value, format!("Works standard, version {version}"), false]);
        ensure!(judged(&id).await? == wanted, "{}", judged(&id).await?);
    }
    let other = begun(&server, &browser, "bar.stl", block(50.0, 30.0, 12.0)).await?;
    let choice = "select[aria-label='limits']";
    browser.choose(choice, "Works standard, version 2").await?;
    browser
        .until(
            "the sheet's draft",
            "return [...document.querySelectorAll('td')].some((t) => t.textContent.includes('WS 12'))",
        )
        .await?;
    ensure!(judged(&other).await? == json!([2.75, "Works standard, version 2", false]));
    // an older version is taken from the list, and the newer one is offered
    browser.press_text("sheets of the shop…").await?;
    browser.press_text("judge by it").await?;
    browser.says("Version 2 of this sheet is there").await?;
    ensure!(judged(&other).await? == json!([2.25, "Works standard, version 1", false]));
    browser.press_text("archive").await?;
    browser.says("Archived:").await?;
    // what a job was judged by stays, whatever becomes of the list
    ensure!(judged(&other).await? == json!([2.25, "Works standard, version 1", false]));
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_newer_part_is_shown_before_it_is_taken_and_undo_brings_the_old_one() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, "A. Tester").await?;
    let id = begun(&server, &browser, "block.stl", block(60.0, 30.0, 12.0)).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let facing = |way: &str| {
        let all = faces.as_array().context("faces")?;
        let found =
            all.iter().find(|f| f["says"].as_str().is_some_and(|s| s.starts_with(&format!("plane facing {way}"))));
        Ok::<_, anyhow::Error>(found.context("a face")?["face"].clone())
    };
    let by = "A. Tester";
    server.edit(&id, by, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    server.edit(&id, by, json!({"do": "add_parting", "parting": {"kind": "plane", "height": 12.0}})).await?;
    server.edit(&id, by, json!({"do": "add_mark", "face": facing("+z")?, "text": "HEL", "point": null})).await?;
    let before = server.edit(&id, by, json!({"do": "name_face", "face": facing("+x")?, "name": "seal end"})).await?;
    // a file that can't be read changes nothing
    browser.drop_file("broken.stl", &block(64.0, 30.0, 11.5)[..200]).await?;
    browser.says("broken.stl: The STL file can't be read").await?;
    browser.drop_file("block-b.stl", &block(64.0, 30.0, 11.5)).await?;
    browser.press_text("64.0 mm: drawn in millimetres").await?;
    browser.says("block-b.stl replaces block.stl").await?;
    browser.says("moved by 4.00 mm").await?;
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["state"] == before["state"], "nothing is changed yet");
    // what is to be left out is said before
    browser.choose("select[aria-label^='face for named']", "nowhere: left out").await?;
    browser.says("Left out if you take it now: named “seal end”").await?;
    browser.press_text("take the newer part").await?;
    browser.says("It replaced block.stl").await?;
    browser.says("how far the surface lies inside or outside").await?;
    let taken = server.get(&format!("/api/jobs/{id}")).await?["job"].clone();
    ensure!(taken["part"]["file"] == "block-b.stl" && taken["face_names"] == json!([]), "{taken}");
    ensure!(taken["tool"]["parting"][0]["height"] == 11.5, "the plane went along with the face it lies on: {taken}");
    ensure!(taken["marks"].as_array().is_some_and(|m| m.len() == 1), "{taken}");
    browser.press_text("undo").await?;
    browser.says("60.00 × 30.00 × 12.00").await?;
    let back = server.get(&format!("/api/jobs/{id}")).await?["job"].clone();
    ensure!(back == before["job"], "{back}");
    browser.quit().await
}
