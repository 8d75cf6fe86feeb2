//! A private PostgreSQL cluster in a temporary folder, on loopback.

use crate::free_port;
use std::{
    fs,
    path::{Path, PathBuf},
    process::{Child, Command, Stdio},
    thread::sleep,
    time::{Duration, Instant},
};
use tempfile::TempDir;

pub struct Cluster {
    folder: TempDir,
    port: u16,
    bin: PathBuf,
    /// Writes reach the disk before they are acknowledged; only tests of crashes need it.
    durable: bool,
    process: Child,
}

/// PostgreSQL's programs: where the script found them, or the newest version installed.
fn bin() -> PathBuf {
    if let Some(given) = std::env::var_os("TINBADGE_POSTGRES") {
        return given.into();
    }
    let mut found: Vec<PathBuf> = fs::read_dir("/usr/lib/postgresql")
        .map(|entries| entries.flatten().map(|e| e.path().join("bin")).filter(|p| p.join("initdb").exists()).collect())
        .unwrap_or_default();
    found.sort();
    found.pop().expect("PostgreSQL is installed: ./tinbadge test sees to it")
}

fn is_root() -> bool {
    let id = Command::new("id").arg("-u").output().expect("id is there");
    id.stdout.trim_ascii() == b"0"
}

/// PostgreSQL refuses to run as root.
fn command(program: PathBuf) -> Command {
    if !is_root() {
        return Command::new(program);
    }
    let mut command = Command::new("setpriv");
    command.args(["--reuid=postgres", "--regid=postgres", "--init-groups", "--reset-env", "--"]).arg(program);
    command
}

impl Cluster {
    /// # Panics
    /// The cluster can't be made; the reason is in the message.
    #[must_use]
    pub fn start(durable: bool) -> Self {
        let folder = tempfile::tempdir().expect("a temporary folder can be made");
        if is_root() {
            let owned = Command::new("chown").arg("postgres").arg(folder.path()).status();
            assert!(owned.is_ok_and(|s| s.success()), "the postgres user can own the cluster's folder");
        }
        let bin = bin();
        let made = command(bin.join("initdb"))
            .arg("-D")
            .arg(folder.path().join("data"))
            .args(["-U", "tinbadge", "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync"])
            .output()
            .expect("initdb starts");
        assert!(made.status.success(), "{}", String::from_utf8_lossy(&made.stderr));
        let port = free_port();
        let process = run(&bin, &folder, port, durable);
        let cluster = Self { folder, port, bin, durable, process };
        cluster.ready();
        cluster.sql("postgres", "create database tinbadge");
        cluster
    }

    /// The database's address.
    #[must_use]
    pub fn url(&self) -> String {
        format!("postgres://tinbadge@127.0.0.1:{}/tinbadge", self.port)
    }

    /// Ends the cluster as a power cut would, and starts it again on the same files.
    pub fn crash_and_restart(&mut self) {
        // the postmaster's children notice that it is gone and end by themselves
        self.process.kill().expect("the cluster runs");
        self.process.wait().expect("it was started here");
        sleep(Duration::from_millis(300));
        self.process = run(&self.bin, &self.folder, self.port, self.durable);
        self.ready();
    }

    fn ready(&self) {
        let until = Instant::now() + Duration::from_secs(60);
        let port = self.port.to_string();
        while Instant::now() < until {
            let asked = Command::new(self.bin.join("pg_isready")).args(["-q", "-h", "127.0.0.1", "-p", &port]).status();
            if asked.is_ok_and(|s| s.success()) {
                return;
            }
            sleep(Duration::from_millis(50));
        }
        panic!("the database did not start within a minute");
    }

    /// Runs a statement in a database of the cluster.
    ///
    /// # Panics
    /// It is refused.
    pub fn sql(&self, database: &str, statement: &str) {
        let _ = self.asked(database, statement);
    }

    /// Ends it in an orderly way, so that no child of the postmaster outlives the folder.
    pub fn stop(&mut self) {
        let _ = Command::new("kill").args(["-INT", &self.process.id().to_string()]).status();
        let _ = self.process.wait();
    }

    /// What a statement comes to, without heads and blanks around it.
    ///
    /// # Panics
    /// It is refused.
    #[must_use]
    pub fn asked(&self, database: &str, statement: &str) -> String {
        let done = Command::new(self.bin.join("psql"))
            .args([
                "-q",
                "-A",
                "-t",
                "-h",
                "127.0.0.1",
                "-p",
                &self.port.to_string(),
                "-U",
                "tinbadge",
                "-d",
                database,
                "-c",
                statement,
            ])
            .output()
            .expect("psql starts");
        assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
        String::from_utf8_lossy(&done.stdout).trim().into()
    }
}

fn run(bin: &Path, folder: &TempDir, port: u16, durable: bool) -> Child {
    let mut command = command(bin.join("postgres"));
    command.arg("-D").arg(folder.path().join("data"));
    let port = format!("port={port}");
    let mut settings = vec!["listen_addresses=127.0.0.1", "unix_socket_directories=", &port];
    if !durable {
        settings.extend(["fsync=off", "full_page_writes=off", "synchronous_commit=off"]);
    }
    for setting in settings {
        command.arg("-c").arg(setting);
    }
    command.stdout(Stdio::null()).stderr(Stdio::null()).spawn().expect("postgres starts")
}

impl Drop for Cluster {
    fn drop(&mut self) {
        self.stop();
    }
}
