//! The marks station in a browser: arcs on a dome, letters fitted to a length, inlays, seats over an edge,
//! repeats and styles.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use demo::shapes::{arc, turned};
use reqwest::Method;
use serde_json::{Value, json};
use solid::{DVec2, DVec3, Part, formats::stl, soundness};
use thirtyfour::Key;
use trade::Unit;

const BY: &str = "A. Tester";

/// A job with one mark on the face under `point`, seen in the marks station.
async fn marked(server: &Server, browser: &Browser, bytes: Vec<u8>, point: [f64; 3], text: &str) -> Result<String> {
    let part = Part::read("part.stl", &bytes, Some(Unit::Mm))?;
    let at = solid::DVec3::from(point);
    let hit = solid::queries::Queries::new(part.mesh.clone()).nearest(at, 1.0).context("a point of the part")?;
    let face = part.face_of[hit.triangle as usize];
    let id = server.begin("part.stl", bytes).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0.0, 0.0, 1.0]})).await?;
    server.edit(&id, BY, json!({"do": "add_mark", "face": face, "text": text, "point": point})).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.find("textarea").await?;
    browser.still().await?;
    Ok(id)
}

/// The marks that are kept, once `wanted` holds of them.
async fn kept(server: &Server, id: &str, what: &str, wanted: impl Fn(&[Value]) -> bool) -> Result<Vec<Value>> {
    for _ in 0..100 {
        let job = server.get(&format!("/api/jobs/{id}")).await?;
        let marks = job["job"]["marks"].as_array().context("marks")?.clone();
        if wanted(&marks) {
            return Ok(marks);
        }
        tokio::time::sleep(std::time::Duration::from_millis(80)).await;
    }
    anyhow::bail!("{what} was not kept")
}

fn near(value: &Value, wanted: f64) -> bool {
    value.as_f64().is_some_and(|v| (v - wanted).abs() < 1e-6)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_text_goes_round_the_crown_of_a_dome_fitted_and_inlaid() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let profile: Vec<DVec2> = std::iter::once(DVec2::ZERO).chain(arc(DVec2::ZERO, 25.0, 0.0, 90.0)).collect();
    let dome = stl::write(&turned(&profile));
    let id = marked(&server, &browser, dome, [0.0, 0.0, 25.0], "FD-40").await?;
    browser.says("sphere R 25.000").await?;
    browser.choose("select[aria-label='baseline']", "on an arc").await?;
    browser.write("input[aria-label='radius of the arc']", "9", Key::Enter).await?;
    browser.choose("select[aria-label='tops of the letters']", "in").await?;
    let marks = kept(&server, &id, "the arc", |m| {
        let line = &m[0]["place"]["baseline"];
        line["line"] == "arc" && near(&line["radius"], 9.0) && line["tops"] == "in"
    })
    .await?;
    ensure!(marks[0]["place"]["along"]["tie"] == "middle", "round the crown: {}", marks[0]["place"]);
    browser.says("lengths are off by").await?;
    // under the middle of the strip, bent with it
    browser
        .until(
            "the letters lie on the arc",
            "const b = document.querySelector('g.mark polygon'); return b.points.numberOfItems > 20 && \
             [...b.points].every((p) => p.y < 0)",
        )
        .await?;
    // dragged on the strip the arc's middle goes along
    let from = browser.value("const r = document.querySelector('g.mark path:nth-of-type(3)').getBoundingClientRect(); return [r.left + 4, r.top + 3]").await?;
    let (x, y) = (from[0].as_f64().context("x")? as i64, from[1].as_f64().context("y")? as i64);
    browser.drag((x, y), (x + 40, y - 30)).await?;
    kept(&server, &id, "the drag", |m| m[0]["place"]["along"]["tie"] == "at").await?;
    server.step(&id, BY, "undo").await?;
    // a length to fit says what it was fitted by
    browser.choose("select[aria-label='fitted to a length']", "Fitted by its spacing").await?;
    browser.write("input[aria-label='length of the text']", "18", Key::Enter).await?;
    browser.says("mm of extra spacing.").await?;
    kept(&server, &id, "the length", |m| near(&m[0]["lettering"]["fit"]["length"], 18.0)).await?;
    browser.write("input[aria-label='letter width']", "120", Key::Enter).await?;
    browser.write("input[aria-label='slant']", "10", Key::Enter).await?;
    kept(&server, &id, "the slant", |m| near(&m[0]["lettering"]["slant"], 10.0)).await?;
    // inlaid and handed off with its filling
    browser.choose("select[aria-label='raised or sunken']", "inlaid in a second colour").await?;
    browser.write("input[aria-label='root radius']", "0.05", Key::Enter).await?;
    kept(&server, &id, "the root", |m| near(&m[0]["relief"]["root"], 0.05)).await?;
    browser.measured().await?;
    browser.driver.goto(&format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.press("a[href$='/filling-mark-1.stl']").await?;
    let filling = Part::read("filling.stl", &browser.downloaded("filling-mark-1.stl").await?, Some(Unit::Mm))?;
    ensure!(filling.mesh.volume() > 1.0, "{}", filling.mesh.volume());
    // flush with the sphere of radius 25, within the rounding of the file
    let (least, most) =
        filling.mesh.vertices.iter().map(|p| p.length()).fold((f64::MAX, 0.0_f64), |(l, m), r| (l.min(r), m.max(r)));
    ensure!((most - 25.0).abs() < 1e-3 && (least - 24.7).abs() < 1e-3, "{least} {most}");
    browser.press("a[href$='/marked-solid.3mf']").await?;
    let both = Part::read("marked-solid.3mf", &browser.downloaded("marked-solid.3mf").await?, None)?.mesh.volume();
    browser.press("a[href$='/marked-solid.stl']").await?;
    let solid = Part::read("solid.stl", &browser.downloaded("marked-solid.stl").await?, Some(Unit::Mm))?.mesh.volume();
    ensure!((both - solid - filling.mesh.volume()).abs() < 0.01, "the solid and its filling: {both}, {solid}");
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}

/// A unit vector of an answer.
fn vector(value: &Value) -> Result<DVec3> {
    let at = |k: usize| value[k].as_f64().with_context(|| format!("three numbers, not {value}"));
    Ok(DVec3::new(at(0)?, at(1)?, at(2)?))
}

#[tokio::test(flavor = "multi_thread")]
async fn on_a_ball_a_mark_stands_upright_where_it_is_clicked_and_is_moved_as_on_a_globe() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let ball = stl::write(&turned(&arc(DVec2::ZERO, 25.0, -90.0, 90.0)));
    let id = server.begin("ball.stl", ball).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.still().await?;
    // to the right of the middle and below it
    browser.press_text("add a mark").await?;
    browser.press_at(browser.place("canvas", 0.58, 0.6).await?).await?;
    browser.says("sphere R 25.000").await?;
    let lies = async || -> Result<(DVec3, DVec3)> {
        let mark = server.get(&format!("/api/jobs/{id}")).await?["job"]["marks"][0].clone();
        let wish = json!({"mark": mark, "at": null, "to": null});
        let (_, placed) = server.ask(Method::POST, &format!("/api/jobs/{id}/placement"), Some(wish)).await?;
        Ok((vector(&placed["at"])?, vector(&placed["up"])?))
    };
    // as far from the middle as it is, upright is where z lies square to the ball
    let is_upright = |(at, up): (DVec3, DVec3)| {
        let out = at.normalize();
        let wanted = (DVec3::Z - out * out.z).normalize();
        ensure!(up.distance(wanted) < 2e-3, "tops point along {up} at {at}, and {wanted} is upright");
        Ok(())
    };
    let clicked = lies().await?;
    ensure!(clicked.0.truncate().length() > 12.0, "it lies on the side: {}", clicked.0);
    is_upright(clicked)?;
    browser.write("input[aria-label='latitude']", "0", Key::Enter).await?;
    let marks = kept(&server, &id, "the latitude", |m| m[0]["place"]["along"]["tie"] == "at").await?;
    ensure!(marks[0]["place"]["turn"].is_number());
    let comes = async |what: &str, wanted: &dyn Fn(DVec3) -> bool| -> Result<(DVec3, DVec3)> {
        for _ in 0..100 {
            let lies = lies().await?;
            if wanted(lies.0) {
                return Ok(lies);
            }
            tokio::time::sleep(std::time::Duration::from_millis(80)).await;
        }
        anyhow::bail!("{what}: it lies at {}", lies().await?.0)
    };
    is_upright(comes("level with the middle", &|at| at.z.abs() < 1e-3).await?)?;
    browser.write("input[aria-label='longitude']", "40", Key::Enter).await?;
    let wanted = DVec3::new(40_f64.to_radians().cos(), 40_f64.to_radians().sin(), 0.0) * 25.0;
    is_upright(comes("40° round", &|at| at.distance(wanted) < 1e-2).await?)?;
    browser
        .until("the longitude is shown", "return document.querySelector(\"[aria-label='longitude']\").value === '40.0'")
        .await?;
    // by what it reaches to; a bare number after "to" could be either
    browser.write("input[aria-label='height']", "to 53", Key::Enter).await?;
    browser.says("could be a diameter or a radius").await?;
    browser.write("input[aria-label='height']", "to Ø 53", Key::Enter).await?;
    kept(&server, &id, "the height", |m| near(&m[0]["relief"]["height"], 1.5)).await?;
    browser.says("to Ø 53.00").await?;
    // a first arc fits, and one that would run on the far side is refused for that
    browser.choose("select[aria-label='baseline']", "on an arc").await?;
    browser.measured().await?;
    let marks = kept(&server, &id, "the arc", |m| m[0]["place"]["baseline"]["line"] == "arc").await?;
    let radius = marks[0]["place"]["baseline"]["radius"].as_f64().context("a radius")?;
    ensure!(radius <= 25.0 * std::f64::consts::FRAC_PI_2, "{radius}");
    // it stays where it was, and upright
    let on_arc = lies().await?;
    ensure!(on_arc.0.distance(wanted) < 0.05, "{} for {wanted}", on_arc.0);
    is_upright(on_arc)?;
    browser.write("input[aria-label='radius of the arc']", "45", Key::Enter).await?;
    browser.says("runs on the far side of this sphere").await?;
    // what was refused was answered so
    let complaints = browser.complaints().await?;
    ensure!(complaints.iter().all(|c| c.contains("422")), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mark_goes_over_an_edge_is_repeated_and_shares_its_style() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let block = stl::write(&demo::parts::plain_block());
    let id = marked(&server, &browser, block, [30.0, 22.0, 12.0], "A7").await?;
    // three in a row, by pressing
    browser.press_text("repeat").await?;
    browser.write("input[aria-label='repeat up']", "-7", Key::Enter).await?;
    browser.press_text("Place them").await?;
    let marks = kept(&server, &id, "the repeats", |m| m.len() == 3).await?;
    ensure!(near(&marks[2]["place"]["up"]["position"], 22.0 - 14.0), "{}", marks[2]["place"]);
    // a style of two of them: changed once
    browser.choose("select[aria-label='style']", "under a new name …").await?;
    browser.write("input[aria-label='name of the style']", "small", Key::Enter).await?;
    kept(&server, &id, "the style", |m| m[0]["style"] == "small").await?;
    let second = marks[1]["id"].as_str().context("an id")?.to_owned();
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark={second}", server.base)).await?;
    browser.choose("select[aria-label='style']", "in the style “small”").await?;
    browser.says("like 1 other mark").await?;
    browser.write("input[aria-label='cap height']", "4.2", Key::Enter).await?;
    let marks = kept(&server, &id, "both heights", |m| near(&m[1]["lettering"]["cap_height"], 4.2)).await?;
    ensure!(near(&marks[0]["lettering"]["cap_height"], 4.2) && near(&marks[2]["lettering"]["cap_height"], 3.5));
    // over the edge that is seen in front
    browser.press_text("whole part").await?;
    browser.still().await?;
    browser.press_text("extend over faces").await?;
    browser.says("Click more faces for the seat").await?;
    let mut over = false;
    for (x, y) in [(0.5, 0.72), (0.5, 0.66), (0.45, 0.78), (0.55, 0.62), (0.4, 0.6), (0.6, 0.7)] {
        browser.press_at(browser.place("canvas", x, y).await?).await?;
        browser.still().await?;
        let job = server.get(&format!("/api/jobs/{id}")).await?;
        if job["job"]["marks"][1]["seat"]["with"].as_array().is_some_and(|w| !w.is_empty()) {
            over = true;
            break;
        }
    }
    ensure!(over, "no press took a neighbour in");
    browser.press_text("done").await?;
    browser.says("plane and a neighbour").await?;
    // a letter is pressed on the strip, made larger and turned, and left out
    browser.press_at(browser.place("g.mark path[data-letter='1']", 0.5, 0.5).await?).await?;
    browser.says("“7” is").await?;
    browser.write("input[aria-label='size of the letter']", "150", Key::Enter).await?;
    browser.write("input[aria-label='turn of the letter']", "30", Key::Enter).await?;
    kept(&server, &id, "the letter", |m| {
        let own = &m[1]["letters"][0];
        near(&own["size"], 1.5) && near(&own["turn"], 30.0) && own["text"] == "7"
    })
    .await?;
    browser.choose("select[aria-label='letter left out']", "left out").await?;
    browser.until("the 7 is gone", "return document.querySelectorAll('g.mark path[data-letter]').length === 1").await?;
    browser.press_text("like the others").await?;
    kept(&server, &id, "its being like the others", |m| m[1]["letters"].as_array().is_some_and(Vec::is_empty)).await?;
    // to the other side, and turned rotate 180°
    let third = marks[2]["id"].as_str().context("an id")?.to_owned();
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark={third}", server.base)).await?;
    browser.press_text("move to the opposite face").await?;
    browser.says("plane facing −z").await?;
    browser.press_text("rotate 180°").await?;
    kept(&server, &id, "the turn", |m| near(&m[2]["place"]["turn"], 180.0)).await?;
    browser.measured().await?;
    browser.driver.goto(&format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.press("a[href$='/marked-solid.stl']").await?;
    let solid = Part::read("solid.stl", &browser.downloaded("marked-solid.stl").await?, Some(Unit::Mm))?;
    ensure!(soundness::examine(&solid.mesh).is_solid() && solid.mesh.volume() > 60.0 * 30.0 * 12.0);
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mark_is_tied_to_a_hole_and_to_another_mark_and_stands_beside_an_edge() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let block = stl::write(&demo::parts::manifold_block());
    let id = marked(&server, &browser, block, [10.0, 30.0, 36.0], "B1").await?;
    // to the middle of the hole at (18, 22): pressed on the strip, where points are shown
    browser.choose("select[aria-label='tied along']", "from a point of the part").await?;
    browser.choose("select[aria-label='tied up']", "from a point of the part").await?;
    browser.press_text("whole seat").await?;
    let looked_at = "return document.querySelector('svg[data-scale]').dataset.scale";
    let whole = browser.value(looked_at).await?;
    browser.press("svg circle[aria-label='tie to the centre of a round edge']").await?;
    browser.write("input[aria-label='distance along']", "0", Key::Enter).await?;
    browser.write("input[aria-label='distance up']", "8", Key::Enter).await?;
    let marks = kept(&server, &id, "the tie to the hole", |m| {
        let [along, up] = [&m[0]["place"]["along"], &m[0]["place"]["up"]];
        along["point"]["kind"] == "centre" && near(&along["distance"], 0.0) && near(&up["distance"], 8.0)
    })
    .await?;
    ensure!(near(&marks[0]["place"]["up"]["point"]["near"][1], 22.0), "{}", marks[0]["place"]);
    browser.measured().await?;
    ensure!(browser.value(looked_at).await? == whole, "what is looked at stays while the mark changes");
    browser.choose("select[aria-label='side that is tied up']", "lower side").await?;
    browser.says("the centre at 18.0, 14.0").await?;
    kept(&server, &id, "the lower side", |m| m[0]["place"]["anchor"]["up"] == "start").await?;
    // the arrows move it; a run of steps is one change, and none is lost
    browser.measured().await?;
    browser.find("svg[data-scale]").await?.send_keys(Key::Up + Key::Up + Key::Up + Key::Up + Key::Down).await?;
    kept(&server, &id, "the steps", |m| near(&m[0]["place"]["up"]["distance"], 8.3)).await?;
    server.step(&id, BY, "undo").await?;
    kept(&server, &id, "undo", |m| near(&m[0]["place"]["up"]["distance"], 8.0)).await?;
    // a second one below it, tied to the first
    server.edit(&id, BY, json!({"do": "copy_mark", "id": "mark-1"})).await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark=mark-2", server.base)).await?;
    browser.choose("select[aria-label='tied up']", "from another mark").await?;
    browser.choose("select[aria-label='side of the other mark up']", "lower side").await?;
    browser.choose("select[aria-label='side that is tied up']", "upper side").await?;
    browser.write("input[aria-label='distance up']", "-1.5", Key::Enter).await?;
    kept(&server, &id, "the tie to the mark", |m| {
        m[1]["place"]["up"]["id"] == "mark-1" && near(&m[1]["place"]["up"]["distance"], -1.5)
    })
    .await?;
    let gap = "const box = (sel) => document.querySelector(sel).getBoundingClientRect(); \
               const scale = Number(document.querySelector('svg[data-scale]').dataset.scale); \
               return Math.abs((box('g.mark polygon').top - box('g.other polygon').bottom) / scale - 1.5) < 0.06";
    browser.until("it lies 1.5 below the other", gap).await?;
    // tied back it would go in a circle, and says so
    server
        .edit(
            &id,
            BY,
            json!({"do": "set_mark", "id": "mark-1", "settings":
            {"place": {"along": {"tie": "mark", "id": "mark-2", "side": "middle", "distance": 0.0}}}}),
        )
        .await?;
    browser.says("tied to one another in a circle").await?;
    server.step(&id, BY, "undo").await?;
    // beside the hole's edge, then beside another that is pressed, dragged along it
    browser.choose("select[aria-label='baseline']", "beside an edge").await?;
    browser.write("input[aria-label='gap to the edge']", "2", Key::Enter).await?;
    browser.choose("select[aria-label='which side it is read from']", "from the other side").await?;
    kept(&server, &id, "the edge", |m| {
        let line = &m[1]["place"]["baseline"];
        line["line"] == "edge"
            && near(&line["gap"], 2.0)
            && line["turned"] == true
            && m[1]["place"]["up"]["tie"] == "middle"
    })
    .await?;
    let before = browser.value("return document.querySelector('g.mark polygon').getAttribute('points')").await?;
    browser.press_text("whole seat").await?;
    // the edge at the strip's right side
    let (x, y) = browser.place("svg .edges", 1.0, 0.5).await?;
    browser.press_at((x, y)).await?;
    browser
        .until(
            "it went there",
            &format!("return document.querySelector('g.mark polygon').getAttribute('points') !== {before}"),
        )
        .await?;
    let marks = kept(&server, &id, "the other edge", |m| {
        m[1]["place"]["baseline"]["near"][0].as_f64().is_some_and(|x| (x - 36.0).abs() < 0.01)
    })
    .await?;
    let share = marks[1]["place"]["baseline"]["share"].as_f64().context("a share")?;
    let at = browser.place("g.mark polygon", 0.5, 0.5).await?;
    browser.drag(at, (at.0, at.1 + 25)).await?;
    kept(&server, &id, "the drag along the edge", |m| {
        m[1]["place"]["baseline"]["share"].as_f64().is_some_and(|s| (s - share).abs() > 2.0)
    })
    .await?;
    let mut complaints = browser.complaints().await?;
    // laying marks that are tied in a circle is refused, as it was said
    complaints.retain(|c| !(c.contains("/placement") && c.contains("422")));
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mark_stands_in_a_recessed_pad_with_a_red_letter_on_both_sides_and_a_stamp_area_beside_it() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let block = stl::write(&demo::parts::plain_block());
    let id = marked(&server, &browser, block, [15.0, 21.0, 12.0], "A7").await?;
    browser.choose("select[aria-label='what it stands on']", "in a recessed pad").await?;
    browser.write("input[aria-label='depth of the recessed pad']", "0.5", Key::Enter).await?;
    browser.write("input[aria-label='margin of the field']", "2.5", Key::Enter).await?;
    kept(&server, &id, "the recessed pad", |m| {
        let relief = &m[0]["relief"];
        relief["pad"]["form"] == "recessed"
            && near(&relief["pad"]["height"], 0.5)
            && near(&relief["field"]["margin"], 2.5)
    })
    .await?;
    browser.find("g.mark path.field").await?;
    // one letter red and sunken
    browser.press_at(browser.place("g.mark path[data-letter='0']", 0.5, 0.9).await?).await?;
    browser.says("“A” is").await?;
    browser.choose("select[aria-label='sense of the letter']", "sunken").await?;
    browser.press_text("a colour of its own").await?;
    let marks = kept(&server, &id, "the letter", |m| {
        m[0]["letters"][0]["sense"] == "sunken" && m[0]["letters"][0]["colour"] == "#B3261E"
    })
    .await?;
    ensure!(marks[0]["letters"][0]["text"] == "A");
    browser.press_text("done").await?;
    browser
        .until(
            "the strip shows it red",
            "return getComputedStyle(document.querySelector(\"g.mark path[data-letter='0']\")).fill === 'rgb(179, 38, 30)'",
        )
        .await?;
    // once more on the other side, and mirrored
    browser.press_text("copy to the opposite face").await?;
    kept(&server, &id, "the other side", |m| m.len() == 2 && m[1]["seat"] != m[0]["seat"]).await?;
    browser.press_text("repeat").await?;
    browser.choose("select[aria-label='how it is repeated']", "where the part is mirrored along x.").await?;
    browser.press_text("Place it").await?;
    let marks = kept(&server, &id, "the mirrored one", |m| m.len() == 3).await?;
    let mirrored = marks[1]["place"]["along"]["position"].as_f64().context("a place")?;
    ensure!((mirrored - 45.0).abs() < 0.011, "{}", marks[1]["place"]);
    // a stamp area that it lies in
    server
        .edit(
            &id,
            BY,
            json!({"do": "repeat_mark", "id": "mark-1", "times": 2, "along": 3.0, "up": 0.0, "round": false}),
        )
        .await?;
    let marks = kept(&server, &id, "the copy", |m| m.len() == 4).await?;
    let area = marks[1]["id"].as_str().context("an id")?.to_owned();
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark={area}", server.base)).await?;
    browser.find("textarea").await?;
    browser.choose("select[aria-label='raised or sunken']", "a stamp area").await?;
    browser.says("kept free for what is struck in later").await?;
    let marks = kept(&server, &id, "the stamp area", |m| m[1]["relief"]["sense"] == "stamp").await?;
    // what has no height has no pad and no sunken letter
    ensure!(marks[1]["relief"]["pad"].is_null() && marks[1]["letters"][0]["sense"].is_null(), "{}", marks[1]);
    browser.find("g.mark.stamp path").await?;
    browser.says("overlaps the mark").await?;
    server.edit(&id, BY, json!({"do": "remove_mark", "id": area})).await?;
    // right through on purpose, without the recessed pad
    browser.driver.goto(&format!("{}/jobs/{id}/marks?mark=mark-1", server.base)).await?;
    browser.find("textarea").await?;
    browser.choose("select[aria-label='raised or sunken']", "sunken").await?;
    browser.choose("select[aria-label='how far it is sunken']", "right through the wall").await?;
    browser.write("input[aria-label='draft']", "0.5", Key::Enter).await?;
    kept(&server, &id, "the cut through", |m| {
        m[0]["relief"]["through"] == true && m[0]["letters"][0]["sense"].is_null()
    })
    .await?;
    browser.measured().await?;
    browser.driver.goto(&format!("{}/jobs/{id}/inspect?mark=mark-1&check=complete", server.base)).await?;
    browser.says("The inside of “A” falls out where it goes through. Use a stencil face.").await?;
    // handed off letter by letter
    browser.driver.goto(&format!("{}/jobs/{id}/handoff", server.base)).await?;
    browser.choose("select[aria-label='how lettering bodies are handed off']", "kept letter by letter").await?;
    browser.find("a[href$='/recessed-pad-mark-2.stl']").await?;
    browser.press("a[href$='/marked-solid.stl']").await?;
    let solid = Part::read("solid.stl", &browser.downloaded("marked-solid.stl").await?, Some(Unit::Mm))?;
    ensure!(soundness::examine(&solid.mesh).is_closed());
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}
