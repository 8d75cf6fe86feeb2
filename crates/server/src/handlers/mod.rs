//! The handlers, one file for each station and what is around them.

pub mod artwork;
mod attached;
pub mod callouts;
pub mod campaigns;
pub mod events;
pub mod exact;
pub mod faces;
pub mod facts;
pub mod handoff;
pub mod health;
pub mod history;
pub mod inspect;
pub mod job_files;
pub mod jobs;
pub mod letters;
pub mod looked_at;
pub mod marks;
pub mod mends;
pub mod note;
pub mod pages;
pub mod part;
pub mod patterns;
pub mod reading;
pub mod records;
pub mod revision;
pub mod roster;
pub mod rows;
pub mod section;
pub mod sheets;
pub mod shop;
pub mod tool;
pub mod tool_side;

use crate::problem::Problem;
use serde::Deserialize;
use utoipa::IntoParams;

/// Which of its variants a job is shown as.
#[derive(Clone, Copy, Default, Deserialize, IntoParams)]
pub struct Variant {
    /// A row of the roster by its id; the first where it is left out.
    row: Option<u32>,
}

/// What the window has already.
#[derive(Clone, Copy, Default, Deserialize, IntoParams)]
pub struct Has {
    /// A state whose roster it has: where the rows are the same ones, they are not sent again.
    roster_of: Option<i64>,
}

/// The name a change carries.
pub(crate) fn author(given: &str) -> Result<String, Problem> {
    let name = given.trim();
    if name.is_empty() || name.chars().count() > 80 {
        return Err(Problem::Wrong("Enter your name first: 1 to 80 characters.".into()));
    }
    Ok(name.to_owned())
}
