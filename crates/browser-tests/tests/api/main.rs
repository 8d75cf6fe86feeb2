//! The running server: nothing that was acknowledged is lost, windows and servers hear of one
//! another, foreign pages and bad files are refused.

mod edits;
mod shapes;

use anyhow::{Context, Result, ensure};
use browser_tests::{Cluster, Server, repository, server::face};
use reqwest::{Method, StatusCode, header};
use serde_json::{Value, json};
use solid::formats::stl;
use std::{
    collections::HashSet,
    io::{Read, Write},
    path::Path,
    time::Duration,
};
use tokio::time::timeout;

fn block() -> Vec<u8> {
    stl::write(&demo::parts::plain_block())
}

#[tokio::test(flavor = "multi_thread")]
async fn only_this_machine_and_its_own_pages_are_answered() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let port = server.base.rsplit_once(':').context("a port")?.1;
    ensure!(
        std::net::TcpStream::connect(format!("127.0.0.2:{port}")).is_err(),
        "it listens on loopback's own address only"
    );
    let ask = |method: Method, name: header::HeaderName, value: &str| {
        server
            .client
            .request(method, format!("{}/api/jobs?file=a.stl&author=x", server.base))
            .header(name, value)
            .send()
    };
    assert_eq!(ask(Method::GET, header::HOST, "tin.example:80").await?.status(), StatusCode::MISDIRECTED_REQUEST);
    assert_eq!(ask(Method::POST, header::ORIGIN, "http://tin.example").await?.status(), StatusCode::FORBIDDEN);
    assert_eq!(ask(Method::POST, header::ORIGIN, "null").await?.status(), StatusCode::FORBIDDEN);
    assert_eq!(
        ask(Method::POST, header::HeaderName::from_static("sec-fetch-site"), "cross-site").await?.status(),
        StatusCode::FORBIDDEN
    );
    assert_eq!(ask(Method::GET, header::ORIGIN, &server.base).await?.status(), StatusCode::OK);
    // what is worked out for a page of somebody else's costs as much, though the page can't read it
    let fetched = header::HeaderName::from_static("sec-fetch-site");
    let refused = ask(Method::GET, fetched.clone(), "cross-site").await?;
    assert_eq!(refused.status(), StatusCode::FORBIDDEN);
    assert!(refused.headers().contains_key(header::CONTENT_SECURITY_POLICY));
    assert_eq!(ask(Method::GET, fetched, "none").await?.status(), StatusCode::OK);
    // a second host, and another one in the address
    for asked in [
        format!("GET /api/jobs HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nHost: tin.example\r\nConnection: close\r\n\r\n"),
        format!("GET http://tin.example/api/jobs HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nConnection: close\r\n\r\n"),
    ] {
        let mut line = std::net::TcpStream::connect(format!("127.0.0.1:{port}"))?;
        line.write_all(asked.as_bytes())?;
        let mut answer = String::new();
        line.read_to_string(&mut answer)?;
        assert!(answer.starts_with("HTTP/1.1 421") || answer.starts_with("HTTP/1.1 400"), "{answer}");
    }
    let old = server.client.get(format!("{}/assets/gone-1a2b3c.js", server.base)).send().await?;
    assert_eq!(old.status(), StatusCode::NOT_FOUND);
    let page = server.client.get(&server.base).send().await?;
    let policy = page.headers()[header::CONTENT_SECURITY_POLICY].to_str()?.to_owned();
    assert!(
        policy.contains("default-src 'none'") && policy.contains("script-src 'self'") && !policy.contains("unsafe"),
        "{policy}"
    );
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn bad_part_files_get_a_sentence_and_leave_no_job() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let good = block();
    let mut claims = good.clone();
    claims[80..84].copy_from_slice(&10_000_000_u32.to_le_bytes());
    for (file, bytes, says) in [
        ("part.stl", vec![], "empty"),
        ("part.stl", good[..300].to_vec(), "can't be read"),
        ("part.3mf", good.clone(), "3MF file can't be read"),
        ("part.dwg", good.clone(), "STEP, STL, 3MF, OBJ, PLY or GLB"),
        ("part.stl", claims, "10000000"),
    ] {
        let (status, body) = server.send_part(file, bytes, Some("mm")).await?;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{file}");
        let said = body["detail"].as_str().unwrap();
        assert!(said.contains(says) && said.ends_with('.'), "{said}");
    }
    let (status, body) = server.send_part("part.stl", good, None).await?;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!((body["unit"]["mm"].as_f64(), body["unit"]["inch"].as_f64()), (Some(60.0), Some(1524.0)));
    assert_eq!(server.get("/api/jobs").await?, json!([]));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn settings_that_make_no_sense_are_refused_with_their_range_and_change_nothing() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let before = server.get(&format!("/api/jobs/{id}")).await?;
    for (settings, says) in [
        (json!({"lettering": {"cap_height": 0}}), "between 0.2 and 500 mm"),
        (json!({"lettering": {"cap_height": 1e6}}), "between 0.2 and 500 mm"),
        (json!({"text": "A".repeat(10_000)}), "10000 characters"),
        (json!({"relief": {"draft": -1}}), "between 0 and 60"),
        (json!({"relief": {"measured_at": "nowhere"}}), "nowhere"),
    ] {
        let (status, body) =
            server.try_edit(&id, "A. Tester", json!({"do": "set_mark", "id": "mark-1", "settings": settings})).await?;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
        assert!(body["detail"].as_str().unwrap().contains(says), "{body}");
    }
    let (status, _) = server.try_edit(&id, " ", json!({"do": "swap_halves"})).await?;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "a change carries a name");
    assert_eq!(server.get(&format!("/api/jobs/{id}")).await?["state"], before["state"]);
    // a font without the glyph and a place off the part are kept, and said
    for (settings, says) in [
        (json!({"text": "R4漢07"}), "漢"),
        (json!({"text": "R4-07", "place": {"along": {"tie": "at", "position": 4000.0}}}), "off its seat"),
    ] {
        server.edit(&id, "A. Tester", json!({"do": "set_mark", "id": "mark-1", "settings": settings})).await?;
        let outcome = server.get(&format!("/api/jobs/{id}/outcome")).await?;
        assert_eq!(outcome["marks"][0]["state"], "fails");
        let said = outcome["marks"][0]["findings"].to_string();
        assert!(said.contains(says), "{said}");
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn two_people_who_change_different_things_keep_both_on_two_servers() -> Result<()> {
    let cluster = Cluster::start(false);
    let (one, other) = (Server::start(&cluster.url())?, Server::start(&cluster.url())?);
    let id = one.block_with_mark().await?;
    let mut events = other.client.get(format!("{}/api/events", other.base)).send().await?;
    let set = |settings: Value| json!({"do": "set_mark", "id": "mark-1", "settings": settings});
    let (a, b) = tokio::join!(
        one.edit(&id, "A. Tester", set(json!({"text": "BOTH"}))),
        other.edit(&id, "B. Tester", set(json!({"relief": {"height": 0.45}}))),
    );
    a?;
    b?;
    let job = one.get(&format!("/api/jobs/{id}")).await?;
    assert_eq!(job["job"]["marks"][0]["text"], "BOTH");
    assert_eq!(job["job"]["marks"][0]["relief"]["height"], 0.45);
    // the other server's windows hear of the change that was made on the first
    let heard = async {
        let mut text = String::new();
        while let Some(chunk) = events.chunk().await? {
            text += &String::from_utf8_lossy(&chunk);
            if text.contains(&id) && text.contains(&format!("\"state\":{}", job["state"])) {
                return Ok(true);
            }
        }
        anyhow::Ok(false)
    };
    assert!(timeout(Duration::from_secs(20), heard).await??);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_application_and_the_command_line_make_the_same_solid_and_findings() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    server
        .edit(
            &id,
            "A. Tester",
            json!({"do": "set_mark", "id": "mark-1", "settings": {"lettering": {"face": "barlow"}}}),
        )
        .await?;
    let folder = tempfile::tempdir()?;
    let base = format!("/api/jobs/{id}/handoff");
    // the archive holds all that the command line needs
    let archive = server.bytes(&format!("{base}/all.zip")).await?;
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(archive))?;
    archive.extract(folder.path())?;
    assert!(std::fs::read(folder.path().join("block.stl"))? == block());
    let out = folder.path().join("out");
    tinbadge::run_file(&folder.path().join("job.tinbadge.json"), None, &out, server::app::today(), None)?;
    for file in ["marked-solid.stl", "findings.json", "lettering-mark-1.stl"] {
        assert!(std::fs::read(out.join(file))? == server.bytes(&format!("{base}/{file}")).await?, "{file}");
    }
    let listed = server.get(&base).await?;
    let names: Vec<&str> = listed["files"].as_array().unwrap().iter().map(|f| f["name"].as_str().unwrap()).collect();
    let mut packed: Vec<&str> = archive.file_names().collect();
    let mut names = names;
    names.push("block.stl");
    packed.sort_unstable();
    names.sort_unstable();
    assert_eq!(packed, names);
    // handed off, then changed
    let (status, _) =
        server.ask(Method::POST, &base, Some(json!({"author": "A. Tester", "state": listed["state"]}))).await?;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(server.get(&format!("/api/jobs/{id}")).await?["handed_off"]["changed"], false);
    let changed = server.edit(&id, "A. Tester", json!({"do": "rename", "name": "Other"})).await?;
    assert_eq!(changed["handed_off"]["changed"], true);
    let (status, _) =
        server.ask(Method::POST, &base, Some(json!({"author": "A. Tester", "state": listed["state"]}))).await?;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "an older state's files can't be handed off unseen");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_seat_of_a_cylinder_unrolls_to_its_length_once_round() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let barrel = demo::shapes::cylinder(glam::DVec3::ZERO, glam::DVec3::X * 60.0, 15.0);
    let id = server.begin("cylinder.stl", stl::write(&barrel)).await?;
    server.edit(&id, "A. Tester", json!({"do": "set_pull", "direction": [0, 0, 2]})).await?;
    let job = server.edit(&id, "A. Tester", json!({"do": "add_parting", "parting": {"kind": "silhouette"}})).await?;
    let seat =
        server.get(&format!("/api/jobs/{id}/seats/{}", face(&job, "cylinder R 15.000").context("a cylinder")?)).await?;
    let number = |v: &Value| v.as_f64().unwrap();
    assert!((number(&seat["end"][0]) - number(&seat["start"][0]) - 60.0).abs() < 1e-4);
    let round = std::f64::consts::TAU * 15.0;
    assert!((number(&seat["end"][1]) - number(&seat["start"][1]) - round).abs() < 1e-3);
    // the silhouette lies a quarter turn from the crown
    let along: Vec<f64> = seat["parting"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|line| (number(&line[0][0]) - number(&line[1][0])).abs() > 1.0)
        .map(|line| number(&line[0][1]))
        .collect();
    assert!(along.iter().any(|y| *y > 0.0) && along.iter().any(|y| *y < 0.0));
    assert!(along.iter().all(|y| (y.abs() - round / 4.0).abs() < 0.01), "{along:?}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn servers_that_start_at_the_same_time_make_the_database_once() -> Result<()> {
    let cluster = Cluster::start(false);
    let url = cluster.url();
    let start = |_| {
        tokio::task::spawn_blocking({
            let url = url.clone();
            move || Server::with_demo(&url)
        })
    };
    let started = futures::future::join_all((0..3).map(start)).await;
    let servers = started.into_iter().map(|s| s?).collect::<Result<Vec<_>>>()?;
    for server in &servers {
        let jobs = server.get("/api/jobs").await?;
        ensure!(jobs.as_array().map(Vec::len) == Some(demo::jobs().len()), "{jobs}");
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn an_archived_job_is_restored_as_it_was() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let before = server.get(&format!("/api/jobs/{id}")).await?["job"].clone();
    for (method, path, gone) in [(Method::DELETE, "", true), (Method::POST, "/restore", false)] {
        let (status, _) = server.ask(method, &format!("/api/jobs/{id}{path}"), None).await?;
        assert_eq!(status, StatusCode::NO_CONTENT);
        assert_eq!(server.get("/api/jobs").await?[0]["gone"], gone);
    }
    assert_eq!(server.get(&format!("/api/jobs/{id}")).await?["job"], before);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn lengths_are_read_as_they_are_typed() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let mm = |typed: &str| format!("/api/length?typed={typed}");
    assert_eq!(server.get(&mm("0.2in")).await?["mm"], 5.08);
    assert_eq!(server.get(&mm("3%2F16in")).await?["mm"], 4.7625);
    let (status, body) = server.ask(Method::GET, &mm("wide"), None).await?;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(body["detail"].as_str().unwrap().contains("type for instance"), "{body}");
    Ok(())
}

#[test]
fn the_description_of_the_interface_and_the_client_made_from_it_are_up_to_date() {
    let web = repository().join("web");
    let kept = std::fs::read_to_string(web.join("src/api/openapi.json")).unwrap();
    let wanted = server::description().to_pretty_json().unwrap();
    assert!(
        kept.trim() == wanted.trim(),
        "run: target/debug/tinbadge describe > web/src/api/openapi.json && cd web && npm run client"
    );
    let folder = tempfile::tempdir().unwrap();
    let out = folder.path().join("schema.d.ts");
    let made = std::process::Command::new("npx")
        .args(["--no-install", "openapi-typescript", "src/api/openapi.json", "--empty-objects-unknown", "-o"])
        .arg(&out)
        .current_dir(&web)
        .output()
        .unwrap();
    assert!(made.status.success(), "{}", String::from_utf8_lossy(&made.stderr));
    assert!(
        std::fs::read(out).unwrap() == std::fs::read(web.join("src/api/schema.d.ts")).unwrap(),
        "run: cd web && npm run client"
    );
}

/// Of two types with one name the description keeps one, and the client takes each for the other.
#[test]
fn no_two_described_types_share_a_name() {
    fn sources(folder: &Path, found: &mut Vec<String>) {
        for entry in std::fs::read_dir(folder).unwrap().flatten().map(|e| e.path()) {
            if entry.is_dir() {
                sources(&entry, found);
            } else if entry.extension().is_some_and(|e| e == "rs") {
                found.push(std::fs::read_to_string(&entry).unwrap());
            }
        }
    }
    let mut all = Vec::new();
    for name in std::fs::read_dir(repository().join("crates")).unwrap().flatten() {
        sources(&name.path().join("src"), &mut all);
    }
    let mut names = HashSet::new();
    for source in &all {
        for described in source.split("ToSchema").skip(1) {
            let after = described.lines().map(str::trim_start).find_map(|line| {
                let line = line.strip_prefix("pub ").or(line.strip_prefix("pub(crate) ")).unwrap_or(line);
                line.strip_prefix("struct ").or(line.strip_prefix("enum "))
            });
            let Some(name) = after.and_then(|a| a.split(|c: char| !c.is_alphanumeric()).next()) else { continue };
            // a macro's `$name` is empty here
            assert!(name.is_empty() || names.insert(name.to_owned()), "two types are called {name}");
        }
    }
    assert!(names.len() > 100 && names.contains("Mark"), "{} names", names.len());
}

#[test]
fn nothing_that_is_not_open_source_is_in_the_bundle() {
    let assets = repository().join("web/dist/assets");
    let scripts: Vec<_> = std::fs::read_dir(assets)
        .unwrap()
        .flatten()
        .filter(|e| e.path().extension().is_some_and(|x| x == "js"))
        .collect();
    assert!(!scripts.is_empty(), "the front end is built");
    for script in scripts {
        assert!(
            !std::fs::read_to_string(script.path()).unwrap().to_lowercase().contains("apexcharts"),
            "{:?}",
            script.path()
        );
    }
}
