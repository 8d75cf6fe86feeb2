//! `./tinbadge demo` itself: it starts beside a busy port, once only, ends with nothing left
//! running, keeps what was made, and gets over having been killed.

use anyhow::{Context, Result, bail, ensure};
use browser_tests::{program, repository};
use reqwest::Client;
use serde_json::Value;
use solid::formats::stl;
use std::{
    fs,
    net::{TcpListener, TcpStream},
    os::unix::fs::symlink,
    path::{Path, PathBuf},
    process::{Child, Command, Output, Stdio},
    time::{Duration, Instant},
};
use tempfile::TempDir;
use tokio::time::sleep;

/// A folder that holds the script as a clone would, with what is built already linked in.
struct Clone {
    folder: TempDir,
}

impl Clone {
    fn new() -> Result<Self> {
        let folder = tempfile::tempdir()?;
        let (own, here) = (folder.path(), repository());
        // copied and written by others: a file that is open here for writing may be open in a child that another test has just
        // begun, and can't be run then
        let made = |command: &mut Command| -> Result<()> {
            ensure!(command.status()?.success(), "{command:?} failed");
            Ok(())
        };
        made(Command::new("cp").arg(here.join("tinbadge")).arg(own.join("tinbadge")))?;
        fs::create_dir_all(own.join("target/debug"))?;
        symlink(program(), own.join("target/debug/tinbadge"))?;
        symlink(here.join("web"), own.join("web"))?;
        symlink(here.join("target/node"), own.join("target/node"))?;
        // the program is built: cargo has nothing to do
        fs::create_dir(own.join("bin"))?;
        made(
            Command::new("sh").args(["-c", "echo '#!/bin/sh' > cargo && chmod 755 cargo"]).current_dir(own.join("bin")),
        )?;
        Ok(Self { folder })
    }

    /// Where the script keeps the database: beside itself, or as root in a folder named after its own.
    fn state(&self) -> Option<PathBuf> {
        let beside = self.folder.path().join(".tinbadge");
        if beside.exists() {
            return Some(beside);
        }
        let name = format!("{}-", self.folder.path().file_name()?.to_str()?);
        let kept = fs::read_dir("/var/lib/tinbadge").ok()?.flatten();
        kept.map(|e| e.path()).find(|p| p.file_name().is_some_and(|n| n.to_string_lossy().starts_with(&name)))
    }

    fn script(&self, arguments: &[&str]) -> Result<Command> {
        let own = self.folder.path();
        let path = format!("{}:{}", own.join("bin").display(), std::env::var("PATH")?);
        // Ctrl-C must reach the script even where the tests themselves run in the background
        let mut command = Command::new("env");
        command.arg("--default-signal=INT").arg(own.join("tinbadge")).args(arguments);
        // a home without a cargo of its own, so that the one above is found
        command.env("PATH", path).env("HOME", own).stderr(Stdio::piped()).stdout(Stdio::null());
        Ok(command)
    }

    /// Starts the demo; the script and the address it answers at.
    async fn start(&self, port: u16) -> Result<(Child, String)> {
        self.start_as(&["demo"], port).await
    }

    async fn start_as(&self, command: &[&str], port: u16) -> Result<(Child, String)> {
        if let Some(state) = self.state() {
            let _ = fs::remove_file(state.join("address"));
        }
        let mut script = self.script(&[command, &["--port", &port.to_string()]].concat())?.spawn()?;
        let until = Instant::now() + Duration::from_secs(120);
        while Instant::now() < until {
            if script.try_wait()?.is_some() {
                let Output { status, stderr, .. } = script.wait_with_output()?;
                bail!("the script ended: {status} {}", String::from_utf8_lossy(&stderr));
            }
            if let Some(address) = self.state().and_then(|s| fs::read_to_string(s.join("address")).ok())
                && reqwest::get(format!("{}/api/jobs", address.trim())).await.is_ok_and(|a| a.status().is_success())
            {
                return Ok((script, address.trim().to_owned()));
            }
            sleep(Duration::from_millis(100)).await;
        }
        script.kill()?;
        bail!("the demo did not answer within two minutes")
    }

    fn database_runs(&self) -> bool {
        let Some(log) = self.state().map(|s| s.join("database/postmaster.pid")) else { return false };
        // its first line is the process
        fs::read_to_string(log)
            .ok()
            .and_then(|text| text.lines().next().map(|pid| Path::new("/proc").join(pid).exists()))
            .unwrap_or(false)
    }
}

impl Drop for Clone {
    fn drop(&mut self) {
        if let Some(state) = self.state() {
            if self.database_runs()
                && let Ok(text) = fs::read_to_string(state.join("database/postmaster.pid"))
                && let Some(pid) = text.lines().next()
            {
                let _ = Command::new("kill").args(["-QUIT", pid]).status();
            }
            let _ = fs::remove_dir_all(state);
        }
    }
}

fn signal(process: &Child, name: &str) -> Result<()> {
    ensure!(Command::new("kill").args([name, &process.id().to_string()]).status()?.success());
    Ok(())
}

fn answers(address: &str) -> bool {
    TcpStream::connect(address.trim_start_matches("http://")).is_ok()
}

async fn names(address: &str) -> Result<Vec<String>> {
    let jobs: Value = reqwest::get(format!("{address}/api/jobs")).await?.json().await?;
    let jobs = jobs.as_array().context("a list of jobs")?;
    Ok(jobs.iter().filter_map(|j| j["name"].as_str().map(str::to_owned)).collect())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_script_starts_once_stops_cleanly_keeps_its_data_and_survives_being_killed() -> Result<()> {
    let clone = Clone::new()?;
    let taken = TcpListener::bind("127.0.0.1:0")?;
    let port = taken.local_addr()?.port();
    let (script, address) = clone.start(port).await?;
    ensure!(!address.ends_with(&format!(":{port}")), "a taken port is left alone: {address}");
    let shipped = names(&address).await?;
    ensure!(!shipped.is_empty(), "the demo comes with jobs");

    let second = clone.script(&["demo"])?.output()?;
    ensure!(second.status.code() == Some(2), "{second:?}");
    let said = String::from_utf8(second.stderr)?;
    ensure!(said.contains("already runs") && said.contains(&address), "{said}");

    let block = stl::write(&demo::parts::plain_block());
    let made = Client::new()
        .post(format!("{address}/api/jobs"))
        .query(&[("file", "kept.stl"), ("author", "A. Tester"), ("unit", "mm")])
        .body(block)
        .send()
        .await?;
    ensure!(made.status().is_success(), "{}", made.text().await?);
    ensure!(clone.database_runs());

    signal(&script, "-INT")?;
    let ended = script.wait_with_output()?;
    ensure!(ended.status.code() == Some(130), "{ended:?}");
    ensure!(!clone.database_runs() && !answers(&address), "nothing is left running");

    let (mut script, address) = clone.start(port).await?;
    let kept = names(&address).await?;
    ensure!(kept.len() == shipped.len() + 1, "a second start keeps the data and adds no second demo: {kept:?}");
    script.kill()?;
    script.wait()?;
    ensure!(clone.database_runs(), "a killed script can't stop its database: the next start must");

    let (script, address) = clone.start(port).await?;
    ensure!(names(&address).await? == kept);
    signal(&script, "-TERM")?;
    let ended = script.wait_with_output()?;
    ensure!(ended.status.code() == Some(143), "{ended:?}");
    ensure!(!clone.database_runs() && !answers(&address));

    let wrong = clone.script(&["polish"])?.output()?;
    ensure!(wrong.status.code() == Some(2) && String::from_utf8(wrong.stderr)?.contains("./tinbadge demo"));
    Ok(())
}

/// What the script says, where it does what it was asked to.
fn told(output: Output) -> Result<String> {
    let said = String::from_utf8(output.stderr)?;
    ensure!(output.status.success(), "{said}");
    Ok(said)
}

/// Every job as it is answered, without what its windows are told of at the moment.
async fn jobs(address: &str) -> Result<Vec<Value>> {
    let list: Value = reqwest::get(format!("{address}/api/jobs")).await?.json().await?;
    let mut all = Vec::new();
    for row in list.as_array().context("a list of jobs")? {
        let id = row["id"].as_str().context("an id")?;
        let job: Value = reqwest::get(format!("{address}/api/jobs/{id}")).await?.json().await?;
        all.push(serde_json::json!([id, job["state"], job["by"], job["at"], job["job"], job["part"]["sha256"]]));
    }
    Ok(all)
}

async fn stopped(script: Child) -> Result<()> {
    signal(&script, "-INT")?;
    ensure!(script.wait_with_output()?.status.code() == Some(130));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_served_is_apart_from_the_demo_and_backed_up_and_nothing_is_thrown_away() -> Result<()> {
    let clone = Clone::new()?;
    let free = || -> Result<u16> { Ok(TcpListener::bind("127.0.0.1:0")?.local_addr()?.port()) };
    let file = clone.folder.path().join("kept.backup");
    let file = file.to_str().context("a path of letters")?;
    let none = clone.script(&["backup", file])?.output()?;
    ensure!(none.status.code() == Some(2) && !Path::new(file).exists(), "there is nothing yet: {none:?}");

    let (demo, address) = clone.start(free()?).await?;
    let shipped = names(&address).await?;
    stopped(demo).await?;
    let (served, address) = clone.start_as(&["serve"], free()?).await?;
    ensure!(names(&address).await?.is_empty(), "no job of the demo is among those that are served");
    let block = stl::write(&demo::parts::plain_block());
    let begin = [("file", "kept.stl"), ("author", "A. Tester"), ("unit", "mm")];
    Client::new().post(format!("{address}/api/jobs")).query(&begin).body(block).send().await?.error_for_status()?;
    let before = jobs(&address).await?;
    ensure!(before.len() == 1);
    // while it runs
    let said = told(clone.script(&["backup", file])?.output()?)?;
    ensure!(said.contains(file), "{said}");
    let refused = clone.script(&["restore", file])?.output()?;
    ensure!(refused.status.code() == Some(2), "not under a server that runs: {refused:?}");
    stopped(served).await?;

    let refused = clone.script(&["serve", "--fresh"])?.output()?;
    ensure!(refused.status.code() == Some(2) && String::from_utf8(refused.stderr)?.contains("for the demo alone"));
    for asked in [&["demo", "--demo"][..], &["test", "--fresh"], &["backup", file, "--fresh"], &["serve", "x"]] {
        let refused = clone.script(asked)?.output()?;
        ensure!(
            refused.status.code() == Some(2) && String::from_utf8(refused.stderr)?.contains("takes no"),
            "{asked:?}"
        );
    }
    let broken = clone.folder.path().join("broken.backup");
    fs::write(&broken, b"PGDMP but no more than that")?;
    let refused = clone.script(&["restore", broken.to_str().context("a path")?])?.output()?;
    ensure!(String::from_utf8(refused.stderr)?.contains("nothing was changed"));
    let (served, address) = clone.start_as(&["serve"], free()?).await?;
    ensure!(jobs(&address).await? == before);
    let id = before[0][0].as_str().context("an id")?;
    Client::new().delete(format!("{address}/api/jobs/{id}")).send().await?.error_for_status()?;
    stopped(served).await?;
    let said = told(clone.script(&["restore", file])?.output()?)?;
    ensure!(said.contains("set aside") && said.contains("tinbadge_until_"), "{said}");
    let (served, address) = clone.start_as(&["serve"], free()?).await?;
    ensure!(jobs(&address).await? == before, "a restored server answers the same for every job");
    stopped(served).await?;

    let (demo, address) = clone.start_as(&["demo", "--fresh"], free()?).await?;
    ensure!(names(&address).await? == shipped);
    stopped(demo).await?;
    Ok(())
}
