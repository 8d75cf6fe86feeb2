//! The front end is embedded from `web/dist`. The folder must be there to compile, even before the
//! front end has been built.

fn main() {
    let dist = std::path::Path::new("../../web/dist");
    if let Err(problem) = std::fs::create_dir_all(dist) {
        println!("cargo::error=web/dist could not be made: {problem}");
    }
    println!("cargo::rerun-if-changed=build.rs");
}
