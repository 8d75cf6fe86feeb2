//! The shapes of answers: what says no, conditions, pages of the list, and what is for whoever watches over a server.

use super::block;
use anyhow::{Context, Result, ensure};
use browser_tests::{Cluster, Server};
use reqwest::{Method, StatusCode, header};
use serde_json::{Value, json};

/// What says no has one shape (RFC 9457), whether a handler, a library below it or nobody stands at the address.
#[tokio::test(flavor = "multi_thread")]
async fn every_answer_that_says_no_is_a_problem_in_json() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let changes = format!("/api/jobs/{id}/changes");
    let none = "/api/jobs/0b6f6c7e-6f0a-4a39-9d9c-0f6f5d3f7a11";
    for (method, path, body, status) in [
        (Method::GET, none, None, 404),
        (Method::GET, "/api/nothing/here", None, 404),
        (Method::GET, "/api/jobs/no-id", None, 400),
        (Method::PATCH, "/api/jobs", None, 405),
        (Method::POST, "/api/jobs", None, 400),
        (Method::POST, &changes, Some(r#"{"author": "A. Tester", "edit": {"do": "dance"}}"#), 422),
        (Method::POST, &changes, Some("{"), 400),
        (Method::POST, &changes, Some(r#"{"author": "", "edit": {"do": "rename", "name": "A"}}"#), 422),
    ] {
        let mut request = server.client.request(method.clone(), format!("{}{path}", server.base));
        if let Some(body) = body {
            request = request.header(header::CONTENT_TYPE, "application/json").body(body);
        }
        let answer = request.send().await?;
        ensure!(answer.status().as_u16() == status, "{method} {path}: {}", answer.status());
        ensure!(answer.headers()[header::CONTENT_TYPE] == "application/problem+json", "{method} {path}");
        let told: Value = answer.json().await?;
        ensure!(told["status"] == status && told["detail"].as_str().is_some_and(|d| d.ends_with(['.', '?'])), "{told}");
        ensure!(told["title"].as_str().is_some_and(|t| !t.is_empty()), "{told}");
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_on_condition_is_made_where_the_job_stands_as_it_was_read() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    let id = server.block_with_mark().await?;
    let path = format!("{}/api/jobs/{id}", server.base);
    let read = server.client.get(&path).send().await?;
    let tag = read.headers()[header::ETAG].clone();
    let rename = |name: &str, tag: header::HeaderValue| {
        let body = json!({"author": "A. Tester", "edit": {"do": "rename", "name": name}});
        server.client.post(format!("{path}/changes")).header(header::IF_MATCH, tag).json(&body).send()
    };
    let first = rename("First", tag.clone()).await?;
    ensure!(first.status() == StatusCode::OK && first.headers()[header::ETAG] != tag);
    let next = first.headers()[header::ETAG].clone();
    let late = rename("Late", tag).await?;
    ensure!(late.status() == StatusCode::PRECONDITION_FAILED, "{}", late.text().await?);
    ensure!(rename("Odd", header::HeaderValue::from_static("7")).await?.status() == StatusCode::UNPROCESSABLE_ENTITY);
    ensure!(rename("Second", next).await?.status() == StatusCode::OK);
    ensure!(rename("Any", header::HeaderValue::from_static("*")).await?.status() == StatusCode::OK);
    ensure!(server.get(&format!("/api/jobs/{id}")).await?["job"]["name"] == "Any");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn who_watches_over_a_server_is_told_whether_it_works_and_what_it_does() -> Result<()> {
    let mut cluster = Cluster::start(true);
    let server = Server::start(&cluster.url())?;
    let text = async |path: &str| -> Result<(StatusCode, String)> {
        let answer = server.client.get(format!("{}{path}", server.base)).send().await?;
        Ok((answer.status(), answer.text().await?))
    };
    ensure!(text("/api/health").await? == (StatusCode::OK, "alive".into()));
    ensure!(text("/api/ready").await? == (StatusCode::OK, "ready".into()));
    for _ in 0..3 {
        server.get("/api/jobs").await?;
    }
    let (status, told) = text("/api/metrics").await?;
    ensure!(status == StatusCode::OK, "{told}");
    let counted = r#"tinbadge_answers_total{method="GET",path="/api/jobs",status="200"} 3"#;
    for line in [counted, "tinbadge_queued 0", "tinbadge_working 0", "tinbadge_answer_seconds_bucket"] {
        ensure!(told.contains(line), "{line}: {told}");
    }
    // without its database it is alive, and can't work
    cluster.stop();
    ensure!(text("/api/health").await?.0 == StatusCode::OK);
    ensure!(text("/api/ready").await?.0 == StatusCode::SERVICE_UNAVAILABLE);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn jobs_are_listed_in_pages_and_found_by_what_they_are_called() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::start(&cluster.url())?;
    for name in ["Valve body", "Spacer", "valve cap"] {
        let id = server.begin("block.stl", block()).await?;
        server.edit(&id, "A. Tester", json!({"do": "rename", "name": name})).await?;
    }
    let names = async |query: &str| -> Result<Vec<(String, i64)>> {
        let rows = server.get(&format!("/api/jobs{query}")).await?;
        let row = |row: &Value| Some((row["name"].as_str()?.to_owned(), row["latest"].as_i64()?));
        rows.as_array().context("rows")?.iter().map(|r| row(r).context("a row")).collect()
    };
    let called = |rows: &[(String, i64)]| rows.iter().map(|(name, _)| name.clone()).collect::<Vec<_>>();
    let first = names("?most=2").await?;
    ensure!(called(&first) == ["valve cap", "Spacer"], "{first:?}");
    let next = names(&format!("?most=2&before={}", first[1].1)).await?;
    ensure!(called(&next) == ["Valve body"], "{next:?}");
    ensure!(called(&names("?search=VALVE").await?) == ["valve cap", "Valve body"]);
    ensure!(called(&names("?search=valve&most=1").await?) == ["valve cap"]);
    ensure!(names("?search=block.stl").await?.len() == 3 && names("?search=nothing").await?.is_empty());
    Ok(())
}
