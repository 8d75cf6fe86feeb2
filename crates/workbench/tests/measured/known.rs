//! What is known of a job before it is measured.

use inspection::Check;
use trade::{Job, limits::Subject};

/// What is known of a job: the figure that a check ought to find.
pub struct Known {
    pub check: Check,
    pub subject: Subject,
    pub truth: f64,
    /// By so much a limit is missed, or kept.
    pub by: f64,
    pub job: Job,
    pub part: solid::Part,
}

pub fn known(check: Check, subject: Subject, truth: f64, by: f64, job: Job, part: solid::Part) -> Known {
    Known { check, subject, truth, by, job, part }
}
