//! Waivers: somebody answers for a finding that fails, or does so no more.

use super::Change;
use crate::{app::today, handlers::author, problem::Problem};
use serde::{Deserialize, Serialize};
use trade::{Check, Job, Waived, Waiver, limits::State, waiver};
use utoipa::ToSchema;
use uuid::Uuid;
use workbench::{Bench, Scope};

/// Answers for a finding that fails, as it is now.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Waive {
    pub mark: String,
    pub check: Check,
    /// The row of the roster in which it is looked at; the first where it is left out.
    #[serde(default)]
    pub row: Option<u32>,
    /// It is for all rows in which the figure is no worse, not for this one alone.
    pub all_rows: bool,
    pub reason: String,
    pub by: String,
    /// The last day on which it holds, as 2026-11-30; left out, it has none.
    #[serde(default)]
    pub until: Option<String>,
}

impl Change for Waive {
    fn label(&self, _: &Job) -> String {
        format!("{} waived", self.check.name())
    }

    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem> {
        let by = author(&self.by)?;
        let row = self.row.or(job.first_row());
        if row.is_some_and(|row| job.roster.row(row).is_none()) {
            return Err(Problem::Missing("That row of the roster is gone; somebody else may have removed it.".into()));
        }
        let mark = job.marks.iter().find(|m| m.id == self.mark);
        let mark = mark.ok_or_else(|| Problem::Missing(format!("The job has no mark “{}” any more.", self.mark)))?;
        let on = waiver::written(today());
        if self.until.as_ref().is_some_and(|until| *until < on) {
            return Err(Problem::Wrong("The last day of a waiver can't lie in the past.".into()));
        }
        let outcome = bench.outcome(&job.filled(row, today()), Scope::NearMarks);
        let failing =
            |f: &&inspection::Finding| f.mark == self.mark && f.check == self.check && f.state == State::Fails;
        let finding = outcome.findings().find(failing).ok_or_else(|| {
            Problem::Wrong(format!(
                "The {} of “{}” doesn't fail, so there is nothing to waive.",
                self.check.name(),
                mark.text
            ))
        })?;
        let (side, limit) = finding.limit.as_ref().map(|l| (l.side, l.value)).unzip();
        let given = Waiver {
            id: Uuid::new_v4().simple().to_string(),
            mark: self.mark.clone(),
            check: self.check,
            rows: row.filter(|_| !self.all_rows).map(|row| vec![row]),
            reason: self.reason.trim().to_owned(),
            by,
            on,
            until: self.until.clone(),
            of: Waived {
                figure: finding.measured,
                unit: finding.unit.into(),
                limit,
                side,
                sentence: finding.sentence.clone(),
                mark: job.mark_digest(mark),
                part: job.part_digest(),
            },
        };
        // one that was given for the same before is overtaken; the history has it
        job.waivers.retain(|w| (&w.mark, w.check, &w.rows) != (&given.mark, given.check, &given.rows));
        job.waivers.push(given);
        Ok(())
    }
}

/// Nobody answers for it any more.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WithdrawWaiver {
    /// Its id.
    pub waiver: String,
}

impl Change for WithdrawWaiver {
    fn label(&self, _: &Job) -> String {
        "waiver withdrawn".into()
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let before = job.waivers.len();
        job.waivers.retain(|w| w.id != self.waiver);
        if job.waivers.len() == before {
            return Err(Problem::Missing("That waiver is gone already; somebody else may have withdrawn it.".into()));
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::tests::{bench, refused};

    fn waive(mark: &str, check: Check) -> Waive {
        let (reason, by) = ("tried on the moulded part".into(), "C. Hecker".into());
        Waive { mark: mark.into(), check, row: None, all_rows: true, reason, by, until: None }
    }

    #[test]
    fn a_finding_that_fails_is_waived_as_it_is_and_fails_all_the_same() {
        let (mut job, bench) = bench();
        job.marks[0].relief.draft = 0.5;
        let id = job.marks[0].id.clone();
        let of = |job: &Job| {
            let outcome = bench.outcome(&job.filled(job.first_row(), today()), Scope::NearMarks);
            let finding = outcome.findings().find(|f| f.check == Check::Draft).unwrap().clone();
            (finding, outcome.count(State::Fails), outcome.waived())
        };
        let (bare, fails, waived) = of(&job);
        assert_eq!((bare.state, waived), (State::Fails, 0));
        waive(&id, Check::Draft).apply(&mut job, &bench).unwrap();
        let (given, still, waived) = of(&job);
        assert_eq!((given.state, still, waived), (State::Fails, fails, 1));
        assert_eq!(given.waived.as_ref().unwrap().reason, "tried on the moulded part");
        assert!(given.is_waived() && !given.fails_unwaived());
        assert_eq!(job.waivers[0].of.figure, bare.measured);
        // a second one for the same takes its place, and one that is withdrawn is none
        waive(&id, Check::Draft).apply(&mut job, &bench).unwrap();
        assert_eq!(job.waivers.len(), 1);
        // less draft still: the mark was changed, so nobody answers for that
        let mut worse = job.clone();
        worse.marks[0].relief.draft = 0.25;
        let (lapsed, _, waived) = of(&worse);
        assert_eq!(waived, 0);
        assert_eq!(lapsed.waived.unwrap().lapsed.unwrap(), "the mark was changed since");
        WithdrawWaiver { waiver: job.waivers[0].id.clone() }.apply(&mut job, &bench).unwrap();
        assert_eq!(of(&job).0, bare);
    }

    #[test]
    fn what_passes_and_what_lacks_a_name_or_a_day_is_not_waived() {
        let (mut job, bench) = bench();
        let id = job.marks[0].id.clone();
        assert!(refused(&waive(&id, Check::CapHeight), &job, &bench).contains("nothing to waive"));
        job.marks[0].relief.draft = 0.5;
        let late = Waive { until: Some("2020-01-01".into()), ..waive(&id, Check::Draft) };
        assert!(refused(&late, &job, &bench).contains("in the past"));
        assert!(refused(&Waive { by: " ".into(), ..waive(&id, Check::Draft) }, &job, &bench).contains("name"));
        assert!(refused(&waive("gone", Check::Draft), &job, &bench).contains("no mark “gone”"));
        assert!(refused(&WithdrawWaiver { waiver: "x".into() }, &job, &bench).contains("gone already"));
    }
}
