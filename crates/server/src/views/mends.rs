//! Mends as they are offered.

use inspection::{Check, State};
use serde::Serialize;
use serde_json::Value;
use trade::Fixed;
use utoipa::ToSchema;
use workbench::mending::{AllMends, Mend, Mends, Move};

/// The mends of one finding, of a state of the job in a row.
#[derive(Serialize, ToSchema)]
pub struct MendsOfFinding {
    pub state: i64,
    pub row: Option<u32>,
    /// The nearest first.
    pub offers: Vec<FindingMend>,
    /// Changes that would do it if something else did not stand against them.
    pub against: Vec<StoodAgainst>,
    /// Changes that were built and inspected for it.
    pub tried: usize,
    /// Other rows that say something else, in which mends are tried; a few of many.
    pub other_rows: usize,
    /// The search ran out of time.
    pub cut_short: bool,
}

/// A change that would do it, and what stands against it.
#[derive(Serialize, ToSchema)]
pub struct StoodAgainst {
    pub changes: Fixed,
    pub says: String,
}

/// A change of a mark after which its finding passes and no other is worse.
#[derive(Serialize, ToSchema)]
pub struct FindingMend {
    pub mark: String,
    pub says: String,
    /// The values that it changes: one that is to stay is named among those that the mark keeps fixed.
    pub changes: Vec<Fixed>,
    /// What is set otherwise: as the settings of a change of the mark.
    #[schema(value_type = Object)]
    pub settings: Value,
    pub moves: Vec<FindingMove>,
    /// Other rows in which it was tried, and its finding passes.
    pub rows: usize,
}

/// A finding before and after a change.
#[derive(Serialize, ToSchema)]
pub struct FindingMove {
    pub mark: String,
    pub check: Check,
    pub unit: String,
    pub before: Stands,
    pub after: Stands,
}

#[derive(Serialize, ToSchema)]
pub struct Stands {
    pub state: State,
    /// In the unit.
    pub measured: Option<f64>,
}

/// Mends one after another, each on what the one before it made.
#[derive(Serialize, ToSchema)]
pub struct MendsOfAll {
    pub state: i64,
    pub row: Option<u32>,
    pub steps: Vec<FindingMend>,
    pub moves: Vec<FindingMove>,
    /// What still fails or is close.
    pub left: Vec<StillOpen>,
    pub cut_short: bool,
}

#[derive(Serialize, ToSchema)]
pub struct StillOpen {
    pub mark: String,
    pub check: Check,
    pub sentence: String,
}

fn moved(of: Move) -> FindingMove {
    let stands = |(state, measured)| Stands { state, measured };
    FindingMove {
        mark: of.mark,
        check: of.check,
        unit: of.unit.into(),
        before: stands(of.before),
        after: stands(of.after),
    }
}

fn mend(of: Mend) -> FindingMend {
    let moves = of.moves.into_iter().map(moved).collect();
    FindingMend { mark: of.mark, says: of.says, changes: of.changes, settings: of.settings, moves, rows: of.rows }
}

pub(crate) fn of_finding(of: Mends, state: i64, row: Option<u32>, other_rows: usize) -> MendsOfFinding {
    MendsOfFinding {
        state,
        row,
        offers: of.offers.into_iter().map(mend).collect(),
        against: of.against.into_iter().map(|(changes, says)| StoodAgainst { changes, says }).collect(),
        tried: of.tried,
        other_rows,
        cut_short: of.cut_short,
    }
}

pub(crate) fn of_all(of: AllMends, state: i64, row: Option<u32>) -> MendsOfAll {
    MendsOfAll {
        state,
        row,
        steps: of.steps.into_iter().map(mend).collect(),
        moves: of.moves.into_iter().map(moved).collect(),
        left: of.left.into_iter().map(|f| StillOpen { mark: f.mark, check: f.check, sentence: f.sentence }).collect(),
        cut_short: of.cut_short,
    }
}
