//! The sheets that ship: a file each, with what differs from what all processes ask alike.

mod common;
mod die_casting;
mod elastomer;
mod gravity_casting;
mod investment_casting;
mod sand_casting;
mod thermoplastic;
mod thermoset;

use super::{Limit, LimitSet, Side, Subject};
use std::sync::LazyLock;

/// A sheet as its file states it.
pub struct Shipped {
    id: &'static str,
    name: &'static str,
    version: u32,
    rows: &'static [Row],
}

/// Subject, side, value, margin, source.
pub type Row = (Subject, Side, f64, f64, &'static str);

const COMMON: &str = "common practice";
const MEMORY: &str = "from memory";

const fn least(subject: Subject, value: f64, margin: f64, source: &'static str) -> Row {
    (subject, Side::AtLeast, value, margin, source)
}
const fn most(subject: Subject, value: f64, margin: f64, source: &'static str) -> Row {
    (subject, Side::AtMost, value, margin, source)
}

const SHEETS: [Shipped; 7] = [
    thermoplastic::SHEET,
    die_casting::SHEET,
    thermoset::SHEET,
    elastomer::SHEET,
    gravity_casting::SHEET,
    investment_casting::SHEET,
    sand_casting::SHEET,
];

static SETS: LazyLock<Vec<LimitSet>> = LazyLock::new(|| SHEETS.iter().map(of).collect());

/// A sheet with what it asks like all others, in the order of the subjects.
fn of(sheet: &Shipped) -> LimitSet {
    let named = LimitSet { id: sheet.id, name: sheet.name, version: sheet.version, limits: Vec::new() };
    let own = |subject: Subject| sheet.rows.iter().any(|row| row.0 == subject);
    let rows = || sheet.rows.iter().chain(common::ROWS.iter().filter(|row| !own(row.0))).copied();
    // sunken lettering has what raised has where nothing else is known of it
    let twins = rows().filter_map(|(subject, side, value, margin, source)| {
        let twin = subject.of_sunken();
        (twin != subject && !own(twin)).then_some((twin, side, value, margin, source))
    });
    let mut limits: Vec<Limit> = rows()
        .chain(twins)
        .map(|(subject, side, value, margin, source)| Limit {
            subject,
            value,
            side,
            margin,
            source: source.into(),
            sheet: named.sheet().into(),
        })
        .collect();
    limits.sort_by_key(|l| l.subject);
    LimitSet { limits, ..named }
}

/// The shipped sheets.
#[must_use]
pub fn sets() -> &'static [LimitSet] {
    &SETS
}

/// The shipped sheet called `id`.
#[must_use]
pub fn set(id: &str) -> Option<&'static LimitSet> {
    SETS.iter().find(|s| s.id == id)
}

pub(crate) fn ids() -> Vec<&'static str> {
    SETS.iter().map(|s| s.id).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{limits::OwnLimit, process::Process};

    #[test]
    fn every_set_has_every_limit_once_with_its_source() {
        for set in sets() {
            let mut subjects: Vec<Subject> = set.limits.iter().map(|l| l.subject).collect();
            subjects.sort();
            subjects.dedup();
            assert_eq!(subjects.len(), 31, "{}", set.name);
            assert_eq!(set.limits.len(), 31, "{}", set.name);
            let told = |source: &str| [COMMON, MEMORY, "own trial"].iter().any(|kind| source.contains(kind));
            assert!(set.limits.iter().all(|l| told(&l.source)));
        }
    }

    #[test]
    fn texture_adds_its_draft_and_a_limit_of_the_jobs_own_outdoes_the_set() {
        let set = set("thermoplastic").unwrap();
        // 0.05 mm deep: 2° on top of 1.5°, 1° for each 0.025 mm (from memory)
        let process = Process { texture: 0.05, ..Process::default() };
        let draft = set.adapted(None, &process, &[]).limit(Subject::Draft);
        assert!((draft.value - 3.5).abs() < 1e-12 && draft.source.contains("2.00°"), "{draft:?}");
        let height = set.adapted(None, &process, &[]).limit(Subject::ReliefHeight);
        assert!((height.value - 0.2).abs() < 1e-12 && !height.source.contains("texture"), "{height:?}");
        let coarse = Process { texture: 0.08, ..Process::default() };
        let height = set.adapted(None, &coarse, &[]).limit(Subject::ReliefHeight);
        assert!((height.value - 0.32).abs() < 1e-12 && height.source.contains("texture"), "{height:?}");
        let own = OwnLimit { subject: Subject::Draft, value: 3.0, source: "drawing note 7".into() };
        let draft = set.adapted(None, &process, &[own]).limit(Subject::Draft);
        assert_eq!((draft.value, &*draft.source, draft.margin), (3.0, "drawing note 7", 0.25));
        assert_eq!((&*draft.sheet, &*height.sheet), ("this job", "thermoplastic moulding, version 1"));
        assert_eq!(set.adapted(None, &Process::default(), &[]), *set);
    }

    #[test]
    fn sunken_lettering_has_its_own_limits_and_else_those_of_raised() {
        let own = |subject, value| OwnLimit { subject, value, source: String::new() };
        let of = |set: &LimitSet, sunken| {
            [Subject::Draft, Subject::ReliefHeight, Subject::Stroke].map(|s| set.limit_of(s, sunken).value)
        };
        let sand = set("sand-casting").unwrap();
        assert_eq!((of(sand, false), of(sand, true)), ([10.0, 0.8, 1.0], [10.0, 1.2, 1.0]));
        let plain = Process::default();
        // a job or a sheet of before these limits stated one for both
        let both = sand.adapted(None, &plain, &[own(Subject::Draft, 4.0), own(Subject::ReliefHeight, 0.6)]);
        assert_eq!((of(&both, false), of(&both, true)), ([4.0, 0.6, 1.0], [4.0, 0.6, 1.0]));
        let apart = sand.adapted(None, &plain, &[own(Subject::Draft, 4.0), own(Subject::SunkenDraft, 6.0)]);
        assert_eq!((of(&apart, false), of(&apart, true)), ([4.0, 0.8, 1.0], [6.0, 1.2, 1.0]));
        let textured = Process { texture: 0.5, ..plain };
        let textured = sand.adapted(None, &textured, &[]);
        // 1° for each 0.025 mm, four times as deep
        assert_eq!((of(&textured, false), of(&textured, true)), ([30.0, 2.0, 1.0], [30.0, 2.0, 1.0]));
    }
}
