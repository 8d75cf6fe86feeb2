//! Jobs in the database: an append-only history, part files by hash, what inspections came to.

mod blobs;
mod documents;
mod entry;
mod history;
mod inspections;
mod lettering_faces;
mod own_steps;
mod patterns;
mod records;
mod sheets;
mod shop;
mod states;
mod told;

pub use entry::{By, Entry, Of};
pub use lettering_faces::KeptFace;
pub use own_steps::{OwnStep, OwnSteps, Way};
pub use patterns::KeptPattern;
pub use records::{KeptRecord, Listed, Summary};
pub use sheets::KeptSheet;
pub use states::{Standing, UnreadableJob};
pub(crate) use told::tell;
pub use told::{CHANNEL, Happened, Told};

use crate::newest::Newest;
use sea_orm::DatabaseConnection;
use states::{ROWS, Row};
use std::sync::{Arc, Mutex};

#[derive(Clone)]
pub struct Store {
    pub database: DatabaseConnection,
    rows: Arc<Mutex<Newest<i64, Arc<Row>>>>,
}

impl Store {
    #[must_use]
    pub fn new(database: DatabaseConnection) -> Self {
        Self { database, rows: Arc::new(Mutex::new(Newest::new(ROWS))) }
    }
}
