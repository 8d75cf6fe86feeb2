//! Date dials, tally grids and artwork in a browser: chosen, set, dated by a roster, handed off.

use anyhow::{Context, Result, ensure};
use browser_tests::{Browser, Cluster, Server};
use serde_json::json;
use solid::{Part, formats::stl, soundness};
use thirtyfour::Key;
use trade::Unit;

const BY: &str = "A. Tester";

/// A plain block with one mark, “VB”, on its top.
struct Marked {
    server: Server,
    browser: Browser,
    id: String,
    /// Dropped last: the server runs on it.
    _cluster: Cluster,
}

async fn marked() -> Result<Marked> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let browser = Browser::at_the_bench(&server.base, BY).await?;
    let id = server.begin("block.stl", stl::write(&demo::parts::plain_block())).await?;
    server.edit(&id, BY, json!({"do": "set_pull", "direction": [0, 0, 1]})).await?;
    let faces = server.get(&format!("/api/jobs/{id}")).await?["part"]["faces"].clone();
    let top = faces.as_array().context("faces")?.iter().position(|f| f["says"].to_string().contains("+z"));
    server.edit(&id, BY, json!({"do": "add_mark", "face": top, "text": "VB", "point": null})).await?;
    Ok(Marked { server, browser, id, _cluster: cluster })
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dial_is_drawn_dated_row_by_row_and_handed_off_with_its_core_apart() -> Result<()> {
    let Marked { server, browser, id, _cluster } = marked().await?;
    let roster = |change| json!({"do": "roster", "edit": change});
    server.edit(&id, BY, roster(json!({"change": "add_column", "name": "made", "column": {"kind": "date"}}))).await?;
    server.edit(&id, BY, roster(json!({"change": "add_rows", "count": 2, "below": null}))).await?;
    for (row, day) in [(1, "2026-03-31"), (2, "2027-01-01")] {
        let cell = json!({"change": "set_cell", "row": row, "column": "made", "text": day});
        server.edit(&id, BY, roster(cell)).await?;
    }
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.choose("select[aria-label='draw something else']", "a date dial").await?;
    browser.says("A date dial of").await?;
    let count =
        |texts: usize| format!("return document.querySelectorAll('g.mark path[data-letter]').length === {texts}");
    // two lines, twelve months, arrow and two digits
    browser.until("the dial lies on the strip", &count(17)).await?;
    browser.choose("select[aria-label='which day it is of']", "the day in the column").await?;
    browser.write("input[aria-label='diameter of the dial']", "22", Key::Enter).await?;
    browser.choose("select[aria-label='digits of the year']", "the whole year").await?;
    browser.choose("select[aria-label='how the core is handed off']", "as a body of their own").await?;
    let arrow = "(() => { const b = document.querySelector('g.mark path[data-letter=\"14\"]').getBBox(); \
                 const o = document.querySelector('g.mark path[data-letter=\"0\"]').getBBox(); \
                 return [b.x + b.width / 2 - o.x - o.width / 2, b.y + b.height / 2 - o.y - o.height / 2, b.width, b.height]; })()";
    // March is at three o'clock: the arrow lies across; January is nearly up
    browser.until("the arrow is at March", &format!("const a = {arrow}; return a[2] > 3 * a[3]")).await?;
    browser.find("body").await?.send_keys("]").await?;
    browser.until("the arrow is at January", &format!("const a = {arrow}; return a[3] > 1.2 * a[2]")).await?;
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    // a second ring makes the dial larger; where it has no room that is said
    browser.press_text("one more ring outside").await?;
    browser.until("there are two rings", &count(17 + 1 + 31 + 1)).await?;
    browser.write("input[aria-label='diameter of the dial']", "12", Key::Enter).await?;
    browser.says("set a larger diameter").await?;
    browser.write("input[aria-label='diameter of the dial']", "32", Key::Enter).await?;
    browser.until("there is room again", &count(17 + 1 + 31 + 1)).await?;
    browser.press_text("remove it").await?;
    browser.until("one ring is left", &count(17)).await?;
    // a round recessed pad under it
    browser.choose("select[aria-label='what it stands on']", "in a recessed pad").await?;
    browser.until("it has its field", "return !!document.querySelector('g.mark path.field')").await?;
    browser.measured().await?;
    browser.press("nav a[href$='/handoff']").await?;
    browser.press("a[href*='/core-mark-1.stl']").await?;
    let core = Part::read("core.stl", &browser.downloaded("core-mark-1.stl").await?, Some(Unit::Mm))?;
    let sound = soundness::examine(&core.mesh);
    ensure!(sound.shells == 5 && sound.complaint().is_none(), "arrow and four digits: {} shells", sound.shells);

    // its text has waited
    browser.press("nav a[href$='/marks']").await?;
    browser.press_text("back to its text").await?;
    browser.until("the text is back", "return document.querySelector('textarea')?.value === 'VB'").await?;

    // a tally grid: dotted up to the row's month, the others kept free
    browser.choose("select[aria-label='draw something else']", "a tally grid").await?;
    browser.write("input[aria-label='first year of the tally']", "2026", Key::Enter).await?;
    browser.write("input[aria-label='years of the tally']", "2", Key::Enter).await?;
    browser.choose("select[aria-label='which day it is of']", "the day in the column").await?;
    let dots = |dots: usize| {
        format!(
            "return document.querySelectorAll('g.mark path[data-letter]').length === {} && \
             document.querySelector('g.mark .free').getAttribute('d').split('Z').length - 1 === {}",
            14 + dots,
            24 - dots
        )
    };
    browser.until("thirteen months are over", &dots(13)).await?;
    browser.find("body").await?.send_keys("[").await?;
    browser.until("three months are over", &dots(3)).await?;
    // a column that it is dated by can't be removed
    let take = roster(json!({"change": "remove_column", "name": "made"}));
    let refused = server.edit(&id, BY, take).await;
    ensure!(refused.is_err_and(|e| e.to_string().contains("comes from the column")), "the column is gone");
    browser.quit().await
}

/// A badge with fills by both rules, strokes with every end and join, dashes, white on black, clips and transforms.
const BADGE: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" width="36mm" height="24mm" viewBox="0 0 360 240">
  <defs><clipPath id="half"><circle cx="300" cy="60" r="45"/></clipPath>
    <g id="star"><path fill-rule="evenodd" d="M50 0L79 90L2 35H98L21 90Z"/></g></defs>
  <rect x="10" y="10" width="340" height="220" rx="40" fill="none" stroke="#000" stroke-width="14"/>
  <use href="#star" x="40" y="40"/>
  <g transform="translate(60 150) rotate(-8) scale(1.2 .8)">
    <path d="M0 0C40 -40 60 60 100 0S160 -30 180 30" fill="none" stroke="#000" stroke-width="12" stroke-linecap="round"/>
    <path d="M0 40L30 10L60 40L90 10" fill="none" stroke="#000" stroke-width="8" stroke-linejoin="miter"/>
  </g>
  <g clip-path="url(#half)"><rect x="250" y="10" width="60" height="120"/></g>
  <circle cx="285" cy="60" r="14" fill="#fff"/>
  <path d="M200 40V120" stroke="#000" stroke-width="10" stroke-dasharray="14 9" stroke-linecap="square"/>
</svg>"##;

#[tokio::test(flavor = "multi_thread")]
async fn artwork_is_dropped_sized_and_as_large_as_the_browser_draws_it() -> Result<()> {
    let Marked { server, browser, id, _cluster } = marked().await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.find("textarea").await?;
    // what it can't take is said, and nothing is lost
    browser.drop_file("words.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><text y='9'>MT</text></svg>").await?;
    browser.says("“words.svg”: The drawing contains text").await?;
    browser.until("the text is still there", "return document.querySelector('textarea')?.value === 'VB'").await?;
    browser.drop_file("badge.svg", BADGE.as_bytes()).await?;
    browser.says("badge.svg").await?;
    browser.says("1 white shape cut out").await?;
    // as large as the file says: 234 of 240 of 24 mm
    let field = |name: &str| format!("return document.querySelector('input[aria-label=\"{name}\"]').value");
    let high = browser.value(&field("height of the artwork")).await?;
    ensure!(high.as_str() == Some("23.40"), "{high}");
    browser.write("input[aria-label='width of the artwork']", "17.7", Key::Enter).await?;
    browser.until("it is half as high", &format!("{} === '11.70'", field("height of the artwork"))).await?;
    // against another renderer: how much of its box the browser paints dark, at 3,000 dots
    let share = browser
        .value(&format!(
            "return (async () => {{ const svg = {};
             const image = new Image();
             image.src = 'data:image/svg+xml;base64,' + btoa(svg);
             await image.decode();
             const wide = 3600, tall = 2400;
             const canvas = new OffscreenCanvas(wide, tall), on = canvas.getContext('2d');
             on.fillStyle = '#fff'; on.fillRect(0, 0, wide, tall); on.drawImage(image, 0, 0, wide, tall);
             const dots = on.getImageData(0, 0, wide, tall).data;
             let dark = 0;
             for (let k = 0; k < dots.length; k += 4) dark += 1 - dots[k] / 255;
             return dark / (wide * tall); }})();",
            json!(BADGE)
        ))
        .await?
        .as_f64()
        .context("a share")?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    let mark: trade::Mark = serde_json::from_value(job["job"]["marks"][0].clone())?;
    let ours: f64 = lettering::drawn(&mark)?.characters.iter().map(|c| c.region.area()).sum();
    // half of 36 × 24 mm
    let theirs = share * 18.0 * 12.0;
    ensure!((ours - theirs).abs() < 5e-4 * theirs, "{ours} mm², the browser paints {theirs}");

    // relieved and handed off like any mark
    browser.measured().await?;
    let outcome = server.get(&format!("/api/jobs/{id}/outcome")).await?;
    let findings = outcome["marks"][0]["findings"].as_array().context("findings")?;
    let complete = findings.iter().find(|f| f["check"] == "complete").context("complete")?;
    // the star's points touch one another where even-odd leaves the middle out
    let sentence = complete["sentence"].as_str().context("a sentence")?;
    ensure!(complete["state"] == "fails" && sentence.contains("run together"), "{sentence}");
    browser.press("nav a[href$='/handoff']").await?;
    browser.press("a[href*='/marked-solid.stl']").await?;
    let solid = Part::read("solid.stl", &browser.downloaded("marked-solid.stl").await?, Some(Unit::Mm))?;
    let sound = soundness::examine(&solid.mesh);
    ensure!(sound.shells == 1 && sound.complaint().is_none(), "{:?}", sound.complaint());
    browser.quit().await
}

/// Two layers, no unit, an open end: a shield of lines and an arc round a ring, and a frame.
fn shield() -> String {
    let line = |a: (i32, i32), b: (i32, i32)| {
        format!("0\nLINE\n8\nshield\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n", a.0, a.1, b.0, b.1)
    };
    let circle = |radius: i32| format!("0\nCIRCLE\n8\nshield\n10\n10\n20\n12\n40\n{radius}\n");
    let frame = "0\nLWPOLYLINE\n8\nframe\n70\n1\n10\n-5\n20\n-5\n10\n25\n20\n-5\n10\n25\n20\n25\n10\n-5\n20\n25\n";
    let arc = "0\nARC\n8\nshield\n10\n10\n20\n10\n40\n10\n50\n180\n51\n0\n";
    let sides = [line((0, 10), (0, 20)), line((20, 20), (0, 20)), line((20, 10), (20, 20))].concat();
    let entities = [sides.as_str(), arc, &circle(5), &circle(3), &line((9, 12), (11, 12)), frame].concat();
    format!("0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_drawing_is_asked_about_before_it_is_drawn_and_the_strip_is_written_down() -> Result<()> {
    let Marked { server, browser, id, _cluster } = marked().await?;
    browser.driver.goto(&format!("{}/jobs/{id}/marks", server.base)).await?;
    browser.find("textarea").await?;
    browser.drop_file("shield.dxf", shield().as_bytes()).await?;
    browser.says("The file doesn't say what its lengths are").await?;
    browser.says("2 open ends: what they belong to is left out.").await?;
    let draw = "[...document.querySelectorAll('dialog button')].find((b) => b.textContent === 'draw it')";
    browser.until("it can't be drawn yet", &format!("return {draw}.disabled")).await?;
    let places = "document.querySelectorAll('dialog svg circle')";
    browser.until("both ends are shown", &format!("return {places}.length === 2")).await?;
    browser.press_text("2 open ends: what they belong to is left out.").await?;
    browser
        .until("they are looked at", &format!("return [...{places}].every((c) => c.classList.contains('looked'))"))
        .await?;
    browser.choose("select[aria-label='length of a unit']", "1 mm").await?;
    browser.says("30.00 mm wide, 30.00 mm high").await?;
    // without the frame: a half disc of radius 10 below a rectangle, a ring cut out and its middle left
    browser.press("dialog fieldset label:nth-of-type(1) input").await?;
    browser.says("20.00 mm wide, 20.00 mm high").await?;
    browser.choose("select[aria-label='points of its outlines']", "fewer points").await?;
    browser.write("input[aria-label='tolerance of the outlines']", "0.05", Key::Enter).await?;
    browser.says("Within 0.05 mm").await?;
    browser.choose("select[aria-label='points of its outlines']", "all their points").await?;
    browser.write("input[aria-label='height of the drawing']", "10", Key::Enter).await?;
    browser.says("10.00 mm wide, 10.00 mm high").await?;
    browser.press_text("draw it").await?;
    // the text has two letters as the drawing has two regions: what tells them apart is that the text is gone
    browser
        .until(
            "it lies on the strip",
            "return !document.querySelector('textarea, dialog[open]') && \
             document.querySelectorAll('g.mark path[data-letter]').length === 2",
        )
        .await?;
    let drawn = |job: &serde_json::Value| -> Result<f64> {
        let mark: trade::Mark = serde_json::from_value(job["job"]["marks"][0].clone())?;
        Ok(lettering::drawn(&mark)?.characters.iter().map(|c| c.region.area()).sum())
    };
    let area = drawn(&server.get(&format!("/api/jobs/{id}")).await?)?;
    let exact = (200.0 + std::f64::consts::PI * (50.0 - 25.0 + 9.0)) / 4.0;
    ensure!((area - exact).abs() < 5e-4 * exact, "{area} mm², not {exact}");

    // the strip at true size, read again: the mark's layer encloses what it did
    for form in ["SVG", "DXF"] {
        for side in ["", ", mirrored for the tool"] {
            browser.press(&format!("a[aria-label='the strip as {form}{side}']")).await?;
            let seen = if side.is_empty() { "part" } else { "tool" };
            let name = format!("mark-1-strip-{seen}-side.{}", form.to_lowercase());
            let bytes = browser.downloaded(&name).await?;
            let wish = artwork::Wish { layers: Some(vec!["mark-1".into()]), ..artwork::Wish::default() };
            let read = artwork::read(&name, &bytes, &wish)?;
            let found = read.region.area() * (read.height.context("a height")? / 100.0).powi(2);
            ensure!((found - area).abs() < 5e-4 * area, "{name}: {found} mm², not {area}");
            ensure!(read.layers.iter().any(|l| l.name == "face"), "{:?}", read.layers);
        }
    }
    let complaints = browser.complaints().await?;
    ensure!(complaints.is_empty(), "{complaints:?}");
    browser.quit().await
}
