//! A sheet of limits: the thresholds of one process.

use super::{Limit, OwnLimit, Sheet, Subject};
use crate::process::Process;
use serde::Serialize;
use std::borrow::Cow;

#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LimitSet {
    pub id: &'static str,
    pub name: &'static str,
    /// It grows with every change of a value.
    pub version: u32,
    pub limits: Vec<Limit>,
}

impl LimitSet {
    /// Its name and version, as a finding names it.
    #[must_use]
    pub fn sheet(&self) -> String {
        format!("{}, version {}", self.name, self.version)
    }

    /// The limit on `subject`; every shipped set has one for each.
    #[must_use]
    pub fn limit(&self, subject: Subject) -> Limit {
        self.limits
            .iter()
            .find(|l| l.subject == subject)
            .expect("a test holds that every shipped set covers every subject")
            .clone()
    }

    /// The limit on `subject` for raised or sunken lettering.
    #[must_use]
    pub fn limit_of(&self, subject: Subject, sunken: bool) -> Limit {
        self.limit(if sunken { subject.of_sunken() } else { subject })
    }

    /// The set with what a shop's sheet asks otherwise, what a texture adds to the draft, and the limits that a job
    /// sets otherwise. A draft of the job's own is taken as it is: whoever sets it knows the texture.
    #[must_use]
    pub fn adapted(&self, sheet: Option<&Sheet>, process: &Process, own: &[OwnLimit]) -> Self {
        let mut limits = self.limits.clone();
        for limit in &mut limits {
            if let Some(sheet) = sheet
                && let Some(stated) = stated(&sheet.limits, limit.subject)
            {
                limit.value = stated.value;
                limit.source = source_of(stated, UNSAID_IN_SHEET);
                limit.sheet = sheet.told().into();
            }
            let texture = process.texture_draft();
            // of raised and of sunken lettering alike
            let asks = limit.subject.falls_back_on().unwrap_or(limit.subject);
            if asks == Subject::Draft && texture > 0.0 {
                limit.source =
                    format!("{}; {texture:.2}° of it for the texture, 1° for each 0.025 mm, from memory", limit.source)
                        .into();
                limit.value += texture;
            }
            let over = SEEN_OVER_TEXTURE * process.texture;
            if asks == Subject::ReliefHeight && over > limit.value {
                limit.source = format!("{SEEN_OVER_TEXTURE:.0} times the texture’s depth, common practice").into();
                limit.value = over;
            }
            if let Some(own) = stated(own, limit.subject) {
                limit.value = own.value;
                limit.sheet = "this job".into();
                limit.source = source_of(own, UNSAID_IN_JOB);
            }
        }
        Self { limits, ..*self }
    }
}

const UNSAID_IN_SHEET: &str = "set in the sheet";
const UNSAID_IN_JOB: &str = "set for this job";

impl Limit {
    /// As a sheet keeps it.
    pub(crate) fn stated(self) -> OwnLimit {
        let Self { subject, value, source, .. } = self;
        let unsaid = matches!(&*source, UNSAID_IN_SHEET | UNSAID_IN_JOB);
        OwnLimit { subject, value, source: if unsaid { String::new() } else { source.into_owned() } }
    }
}

/// What is stated on a subject, or on what stands for it.
fn stated(limits: &[OwnLimit], subject: Subject) -> Option<&OwnLimit> {
    let of = |wanted: Subject| limits.iter().find(|l| l.subject == wanted);
    of(subject).or_else(|| of(subject.falls_back_on()?))
}

fn source_of(stated: &OwnLimit, unsaid: &'static str) -> Cow<'static, str> {
    if stated.source.is_empty() { unsaid.into() } else { Cow::Owned(stated.source.clone()) }
}

/// Relief less than so many times as deep as the texture is lost in it.
const SEEN_OVER_TEXTURE: f64 = 4.0;
