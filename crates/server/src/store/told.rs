//! What is told to every server and every window when something was written.

use crate::problem::Problem;
use sea_orm::{ConnectionTrait, Statement};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// Channel of `LISTEN`.
pub const CHANNEL: &str = "tinbadge";

/// What is told to every server and every window when something was written.
#[derive(Clone, Debug, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Told {
    pub job: Uuid,
    /// The state that holds now.
    pub state: i64,
    pub what: Happened,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Happened {
    Changed,
    Inspected,
    /// A row of the roster was measured or built, or that began or ended.
    Rows,
    HandedOff,
    /// A record of it was made.
    Recorded,
    Removed,
    Restored,
    /// Something of a change of many jobs, whose id stands in place of a job's.
    Campaign,
    /// Something of the shop: a face, a sheet, a pattern, a setting. No job is named.
    Shop,
}

/// Told when the transaction commits, to all servers on the database.
pub(crate) async fn tell(connection: &impl ConnectionTrait, told: &Told) -> Result<(), Problem> {
    let message = serde_json::to_string(told).expect("ids and words only");
    let statement = Statement::from_sql_and_values(
        connection.get_database_backend(),
        "SELECT pg_notify($1, $2)",
        [CHANNEL.into(), message.into()],
    );
    connection.execute_raw(statement).await?;
    Ok(())
}
