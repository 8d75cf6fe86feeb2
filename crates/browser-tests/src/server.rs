//! The server under test, as a process of its own, and a client to it.

use crate::program;
use anyhow::{Context, Result, bail, ensure};
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use std::{
    io::{BufRead, BufReader},
    process::{Child, Command, Stdio},
    time::{Duration, Instant},
};

pub struct Server {
    process: Child,
    /// `http://127.0.0.1:…`
    pub base: String,
    pub client: Client,
}

impl Server {
    /// # Errors
    /// The server does not start.
    pub fn start(database: &str) -> Result<Self> {
        Self::start_with(database, &[])
    }

    /// One that leaves the queue to workers.
    ///
    /// # Errors
    /// The server does not start.
    pub fn without_work(database: &str) -> Result<Self> {
        Self::start_with(database, &["--at-once", "0"])
    }

    /// One with the demo's jobs.
    ///
    /// # Errors
    /// The server does not start.
    pub fn with_demo(database: &str) -> Result<Self> {
        Self::start_with(database, &["--demo"])
    }

    fn start_with(database: &str, more: &[&str]) -> Result<Self> {
        let mut process = Command::new(program())
            .args(["serve", "--port", "0", "--database", database])
            .args(more)
            .stdout(Stdio::piped())
            .spawn()
            .context("the program is built beside the tests")?;
        let mut line = String::new();
        let output = process.stdout.take().context("its output is piped")?;
        BufReader::new(output).read_line(&mut line)?;
        let Some((_, base)) = line.trim().rsplit_once(' ') else { bail!("the server did not say where it is") };
        Ok(Self { process, base: base.into(), client: Client::new() })
    }

    /// Ends the server as `kill -9` does.
    ///
    /// # Errors
    /// It had ended already.
    pub fn kill(mut self) -> Result<()> {
        self.process.kill()?;
        self.process.wait()?;
        Ok(())
    }

    /// The processes that read files for it.
    ///
    /// # Errors
    /// Processes can't be looked at.
    pub fn readers(&self) -> Result<Vec<u32>> {
        let of = |status: &str, key: &str| Some(status.lines().find_map(|l| l.strip_prefix(key))?.trim().to_owned());
        let own = self.process.id().to_string();
        let reads = |status: &String| {
            of(status, "PPid:").as_ref() == Some(&own) && of(status, "Name:").is_some_and(|n| n == "tinbadge-reader")
        };
        let all = std::fs::read_dir("/proc")?.filter_map(|entry| {
            let status = std::fs::read_to_string(entry.ok()?.path().join("status")).ok().filter(reads)?;
            of(&status, "Pid:")?.parse().ok()
        });
        Ok(all.collect())
    }

    /// Asks the server to end; whether it did `within` that time.
    ///
    /// # Errors
    /// It had ended already.
    pub fn end(mut self, within: Duration) -> Result<bool> {
        let asked = Command::new("kill").arg(self.process.id().to_string()).status()?;
        ensure!(asked.success(), "it had ended already");
        let until = Instant::now() + within;
        while Instant::now() < until {
            if self.process.try_wait()?.is_some() {
                return Ok(true);
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        Ok(false)
    }

    /// # Errors
    /// No answer.
    pub async fn ask(&self, method: Method, path: &str, body: Option<Value>) -> Result<(StatusCode, Value)> {
        let mut request = self.client.request(method, format!("{}{path}", self.base)).timeout(Duration::from_secs(120));
        if let Some(body) = body {
            request = request.json(&body);
        }
        let answer = request.send().await?;
        let (status, text) = (answer.status(), answer.text().await?);
        Ok((status, serde_json::from_str(&text).unwrap_or(Value::String(text))))
    }

    /// What stands at `path`.
    ///
    /// # Errors
    /// No answer, or one that says no.
    pub async fn get(&self, path: &str) -> Result<Value> {
        let (status, body) = self.ask(Method::GET, path, None).await?;
        ensure!(status.is_success(), "{path}: {status} {body}");
        Ok(body)
    }

    /// # Errors
    /// No answer, or one that says no.
    pub async fn bytes(&self, path: &str) -> Result<Vec<u8>> {
        let answer = self.client.get(format!("{}{path}", self.base)).send().await?;
        ensure!(answer.status().is_success(), "{path}: {}", answer.status());
        Ok(answer.bytes().await?.to_vec())
    }

    /// Sends a part file; the status and the answer.
    ///
    /// # Errors
    /// No answer.
    pub async fn send_part(&self, file: &str, bytes: Vec<u8>, unit: Option<&str>) -> Result<(StatusCode, Value)> {
        let mut query = vec![("file", file), ("author", "A. Tester")];
        query.extend(unit.map(|u| ("unit", u)));
        let answer = self.client.post(format!("{}/api/jobs", self.base)).query(&query).body(bytes).send().await?;
        let status = answer.status();
        Ok((status, answer.json().await?))
    }

    /// A new job's id.
    ///
    /// # Errors
    /// The part was refused.
    pub async fn begin(&self, file: &str, bytes: Vec<u8>) -> Result<String> {
        let (status, body) = self.send_part(file, bytes, Some("mm")).await?;
        ensure!(status == StatusCode::CREATED, "{status} {body}");
        Ok(body["id"].as_str().context("a new job has an id")?.into())
    }

    /// The answer to an edit.
    ///
    /// # Errors
    /// No answer.
    pub async fn try_edit(&self, job: &str, author: &str, edit: Value) -> Result<(StatusCode, Value)> {
        self.ask(Method::POST, &format!("/api/jobs/{job}/changes"), Some(json!({"author": author, "edit": edit}))).await
    }

    /// The job after an edit that is expected to be kept.
    ///
    /// # Errors
    /// It was refused.
    pub async fn edit(&self, job: &str, author: &str, edit: Value) -> Result<Value> {
        let (status, body) = self.try_edit(job, author, edit).await?;
        ensure!(status.is_success(), "{status} {body}");
        Ok(body)
    }

    /// The id of a new job: the demo's plain block, pulled up, with a parting line and a mark on its top.
    ///
    /// # Errors
    /// Something of it was refused.
    pub async fn block_with_mark(&self) -> Result<String> {
        let id = self.begin("block.stl", solid::formats::stl::write(&demo::parts::plain_block())).await?;
        let top = face(&self.get(&format!("/api/jobs/{id}")).await?, "facing +z").context("the block has a top")?;
        self.edit(&id, "A. Tester", json!({"do": "pull_from_face", "face": top})).await?;
        self.edit(&id, "A. Tester", json!({"do": "add_parting", "parting": {"kind": "silhouette"}})).await?;
        self.edit(&id, "A. Tester", json!({"do": "add_mark", "face": top, "text": "R4-07", "point": null})).await?;
        Ok(id)
    }

    /// Undo or redo.
    ///
    /// # Errors
    /// It was refused.
    pub async fn step(&self, job: &str, author: &str, which: &str) -> Result<Value> {
        let (status, body) =
            self.ask(Method::POST, &format!("/api/jobs/{job}/{which}"), Some(json!({"author": author}))).await?;
        ensure!(status.is_success(), "{status} {body}");
        Ok(body)
    }
}

/// A worker as a process of its own.
pub struct Worker(Child);

impl Worker {
    /// # Errors
    /// It does not start.
    pub fn start(database: &str) -> Result<Self> {
        let process = Command::new(program()).args(["work", "--database", database]).spawn();
        Ok(Self(process.context("the program is built beside the tests")?))
    }

    /// Ends it as `kill -9` does.
    ///
    /// # Errors
    /// It had ended already.
    pub fn kill(mut self) -> Result<()> {
        self.0.kill()?;
        self.0.wait()?;
        Ok(())
    }
}

impl Drop for Worker {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Whether something comes true within half a minute.
pub async fn until(mut is_so: impl FnMut() -> bool) -> bool {
    for _ in 0..600 {
        if is_so() {
            return true;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    false
}

/// The first face of a job's part of which this is said.
#[must_use]
pub fn face(job: &Value, says: &str) -> Option<u64> {
    let faces = job["part"]["faces"].as_array()?;
    faces.iter().find(|f| f["says"].as_str().is_some_and(|s| s.contains(says)))?["face"].as_u64()
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}
