//! The front end is embedded from `web/dist`: the folder must be there to compile, even before the front end has been built.
//! And a digest of all code tells what was made by it from what other versions made.

use sha2::{Digest, Sha256};
use std::{
    io,
    path::{Path, PathBuf},
};

fn main() {
    let dist = Path::new("../../web/dist");
    if let Err(problem) = std::fs::create_dir_all(dist) {
        println!("cargo::error=web/dist could not be made: {problem}");
    }
    println!("cargo::rerun-if-changed=build.rs");
    match made_from(Path::new("..")) {
        Ok(digest) => println!("cargo::rustc-env=TINBADGE_MADE_FROM={digest}"),
        Err(problem) => println!("cargo::error=the crates can't be read: {problem}"),
    }
}

/// Of the sources of all crates that make or judge something, and of the libraries that they use.
fn made_from(crates: &Path) -> io::Result<String> {
    let mut files = vec![crates.join("../Cargo.lock")];
    println!("cargo::rerun-if-changed={}", files[0].display());
    for entry in std::fs::read_dir(crates)? {
        let folder = entry?.path();
        let sources = folder.join("src");
        if sources.is_dir() && !["server", "cli", "browser-tests"].iter().any(|other| folder.ends_with(other)) {
            println!("cargo::rerun-if-changed={}", sources.display());
            gather(&sources, &mut files)?;
        }
    }
    files.sort();
    let mut digest = Sha256::new();
    for file in &files {
        digest.update(file.to_string_lossy().as_bytes());
        digest.update(std::fs::read(file)?);
    }
    Ok(digest.finalize().iter().take(8).map(|b| format!("{b:02x}")).collect())
}

fn gather(folder: &Path, into: &mut Vec<PathBuf>) -> io::Result<()> {
    for entry in std::fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            gather(&path, into)?;
        } else {
            into.push(path);
        }
    }
    Ok(())
}
