//! What a change does to the findings.

use crate::Outcome;
use inspection::{Check, Finding};
use trade::{
    Job, Mark,
    limits::{Side, State},
};

/// A finding before and after.
#[derive(Clone, Debug, PartialEq)]
pub struct Move {
    /// Id of the mark.
    pub mark: String,
    pub check: Check,
    pub unit: &'static str,
    pub before: (State, Option<f64>),
    pub after: (State, Option<f64>),
}

/// Figures that differ by less are told as the same one, in their units.
const SAME: f64 = 0.005;

fn pairs<'a, 'b>(before: &'b Outcome, after: &'a Outcome) -> impl Iterator<Item = (&'b Finding, Option<&'a Finding>)> {
    before.marks.iter().flat_map(|was| {
        let is = after.marks.iter().find(|m| m.id == was.id);
        was.findings.iter().map(move |f| (f, is.and_then(|m| m.findings.iter().find(|g| g.check == f.check))))
    })
}

/// The findings that come out otherwise; those that change their state first.
pub(super) fn between(before: &Outcome, after: &Outcome) -> Vec<Move> {
    let mut moves: Vec<Move> = pairs(before, after)
        .filter_map(|(was, is)| {
            let is = is?;
            let figure = match (was.measured, is.measured) {
                (Some(a), Some(b)) => (a - b).abs() > SAME,
                (a, b) => a.is_some() != b.is_some(),
            };
            (was.state != is.state || figure).then(|| Move {
                mark: was.mark.clone(),
                check: was.check,
                unit: if is.unit.is_empty() { was.unit } else { is.unit },
                before: (was.state, was.measured),
                after: (is.state, is.measured),
            })
        })
        .collect();
    moves.sort_by_key(|m| m.before.0 == m.after.0);
    moves
}

/// The first finding that is worse than it was.
pub(super) fn worse<'a>(before: &Outcome, after: &'a Outcome) -> Option<Worse<'a>> {
    pairs(before, after).find_map(|(was, is)| match is {
        None => Some(Worse::Unbuilt),
        Some(is) => is_worse(was, is).then_some(Worse::Finding(is)),
    })
}

/// What became worse.
#[derive(Clone, Copy, Debug)]
pub(super) enum Worse<'a> {
    /// A mark can't be built any more.
    Unbuilt,
    Finding(&'a Finding),
}

impl Worse<'_> {
    /// In a clause, of marks of this job.
    pub(super) fn told(self, job: &Job) -> String {
        match self {
            Self::Unbuilt => "a mark can't be built".into(),
            Self::Finding(finding) => told(finding, job),
        }
    }
}

/// Its state is worse, or it was not sound and is farther off.
pub(super) fn is_worse(was: &Finding, is: &Finding) -> bool {
    let farther = match (was.measured, is.measured, is.limit.as_ref()) {
        (Some(a), Some(b), Some(limit)) if was.state == is.state => match limit.side {
            Side::AtLeast => b < a - SAME,
            Side::AtMost => b > a + SAME,
        },
        _ => false,
    };
    is.state > State::Passes && (is.state > was.state || farther)
}

/// A finding in a clause.
fn told(finding: &Finding, job: &Job) -> String {
    let mark = job.marks.iter().find(|m| m.id == finding.mark).map_or_else(|| finding.mark.clone(), Mark::called);
    let what = format!("{} of “{mark}”", name(finding.check));
    match (finding.measured, &finding.limit) {
        (Some(value), Some(limit)) => {
            let side = if limit.side == Side::AtLeast { "at least" } else { "at most" };
            let (places, unit) = (if matches!(finding.unit, "°" | "%") { 1 } else { 2 }, finding.unit);
            let gap = if matches!(unit, "°" | "%" | "") { "" } else { " " };
            format!(
                "{what} {}: {value:.places$}{gap}{unit}, where {side} {:.places$}{gap}{unit} is asked",
                if finding.state == State::Fails { "fails" } else { "is worse" },
                limit.value
            )
        }
        _ => format!("{what} {}", if finding.state == State::Fails { "fails" } else { "can't be told" }),
    }
}

/// A check as it is read in a sentence.
pub(super) fn name(check: Check) -> &'static str {
    match check {
        Check::Draft => "the draft",
        Check::Release => "the release",
        Check::UniformDepth => "the uniform depth",
        Check::ReliefHeight => "the relief height",
        Check::CapHeight => "the cap height",
        Check::Stroke => "the stroke",
        Check::Counter => "the counter opening",
        Check::Gap => "the gap between letters",
        Check::WordGap => "the gap between words",
        Check::LineGap => "the gap between lines",
        Check::StrokeToHeight => "stroke to relief",
        Check::StrokeToCap => "stroke to cap height",
        Check::Island => "the smallest piece",
        Check::Steel => "the steel between letters",
        Check::InnerCorner => "the inner corner",
        Check::Parting => "the distance to the parting line",
        Check::Clearance => "the clearance",
        Check::KeepOuts => "the distance to keep-outs",
        Check::Complete => "being complete",
        Check::Wall => "the wall",
        Check::LookAlikes => "telling letters apart",
    }
}
