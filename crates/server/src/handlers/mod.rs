//! The handlers, one file for each station and what is around them.

pub mod events;
pub mod facts;
pub mod handoff;
pub mod inspect;
pub mod jobs;
pub mod marks;
pub mod pages;
pub mod part;
pub mod revision;
pub mod tool;

use crate::problem::Problem;

/// The name a change carries.
pub(crate) fn author(given: &str) -> Result<String, Problem> {
    let name = given.trim();
    if name.is_empty() || name.chars().count() > 80 {
        return Err(Problem::Wrong("Say who you are first: a name of 1 to 80 characters.".into()));
    }
    Ok(name.to_owned())
}
