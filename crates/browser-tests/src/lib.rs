//! What the tests of the running application stand on: a private database cluster, the server as a
//! process of its own, a line to it that can be cut, a browser. Each finds its own free ports and is gone when it is dropped.

pub mod browser;
pub mod cluster;
pub mod line;
pub mod server;

pub use browser::Browser;
pub use cluster::Cluster;
pub use line::Line;
pub use server::Server;

use std::{net::TcpListener, path::PathBuf};

/// A port that was free a moment ago.
///
/// # Panics
/// Loopback has no port left.
#[must_use]
pub fn free_port() -> u16 {
    let listener = TcpListener::bind(("127.0.0.1", 0)).expect("loopback has a free port");
    listener.local_addr().expect("a bound listener has an address").port()
}

/// The program under test, built beside the tests.
///
/// # Panics
/// The tests run from somewhere else than Cargo's target folder.
#[must_use]
pub fn program() -> PathBuf {
    let test = std::env::current_exe().expect("a running test has a file");
    let folder = test.parent().and_then(|deps| deps.parent()).expect("tests lie in target/…/deps");
    folder.join("tinbadge")
}

/// The repository's folder.
#[must_use]
pub fn repository() -> PathBuf {
    PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
}
