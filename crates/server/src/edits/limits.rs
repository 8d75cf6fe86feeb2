//! What the job is measured against.

use super::Change;
use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::{
    Job, OwnLimit,
    limits::{Sheet, Subject},
};
use utoipa::ToSchema;
use workbench::Bench;

/// A limit of the job's own.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetLimit {
    pub limit: OwnLimit,
}

impl Change for SetLimit {
    fn label(&self, _: &Job) -> String {
        "limit of the job's own".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.own_limits.retain(|o| o.subject != self.limit.subject);
        job.own_limits.push(self.limit.clone());
        Ok(())
    }
}

/// Back to what the limits say.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ResetLimit {
    pub subject: Subject,
}

impl Change for ResetLimit {
    fn label(&self, _: &Job) -> String {
        "limit as it was".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.own_limits.retain(|o| o.subject != self.subject);
        Ok(())
    }
}

/// Another limit set, or a sheet of the shop's over it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetLimits {
    pub limits: String,
    #[serde(default)]
    pub sheet: Option<Sheet>,
}

impl Change for SetLimits {
    fn label(&self, _: &Job) -> String {
        match &self.sheet {
            Some(sheet) => format!("limits {}", sheet.told()),
            None => format!("limits for {}", trade::limits::set(&self.limits).map_or(&*self.limits, |set| set.name)),
        }
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.judge_by(&self.limits, self.sheet.clone());
        Ok(())
    }
}

/// From how far the marks are read.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetReadingDistance {
    pub mm: f64,
}

impl Change for SetReadingDistance {
    fn label(&self, _: &Job) -> String {
        format!("reading distance {} mm", self.mm)
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        job.reading_distance = self.mm;
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::{Edit, tests::bench};

    #[test]
    fn a_limit_of_the_jobs_own_counts_until_it_is_reset() {
        let (job, bench) = bench();
        let shipped = job.limit_set().limit(Subject::Draft).value;
        let own = |value: f64| {
            let limit = OwnLimit { subject: Subject::Draft, value, source: "drawing note 4".into() };
            Edit::SetLimit(SetLimit { limit })
        };
        let mut changed = job.clone();
        for value in [4.0, 5.0] {
            changed = own(value).apply(&changed, &bench).unwrap();
            assert_eq!(changed.own_limits.len(), 1, "the later one replaces the earlier one");
            let limit = changed.limit_set().limit(Subject::Draft).clone();
            assert_eq!((limit.value, &*limit.source), (value, "drawing note 4"));
        }
        let reset = Edit::ResetLimit(ResetLimit { subject: Subject::Draft }).apply(&changed, &bench).unwrap();
        assert_eq!(reset.limit_set().limit(Subject::Draft).value, shipped);
        assert!(own(-1.0).apply(&job, &bench).unwrap_err().to_string().contains("must lie between"));
    }

    #[test]
    fn only_limit_sets_that_ship_are_taken() {
        let (job, bench) = bench();
        let of = |limits: &str| Edit::SetLimits(SetLimits { limits: limits.into(), sheet: None });
        let changed = of("thermoplastic").apply(&job, &bench).unwrap();
        assert_ne!(changed.limit_set().limit(Subject::Draft).value, job.limit_set().limit(Subject::Draft).value);
        let sheet = changed.as_sheet("Works standard", 1);
        let to_sheet = Edit::SetLimits(SetLimits { limits: "thermoplastic".into(), sheet: Some(sheet) });
        assert_eq!(to_sheet.apply(&job, &bench).unwrap().limit_sheet(), "Works standard, version 1");
        let said = of("porcelain").apply(&job, &bench).unwrap_err().to_string();
        assert!(said.contains("“porcelain”") && said.contains("die-casting"), "{said}");
    }
}
