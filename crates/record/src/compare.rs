//! In what one record differs from another.

use crate::Record;
use inspection::Finding;
use serde::{Deserialize, Serialize};

/// Something that differs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Difference {
    /// “part”, “limit on draft”, or a mark and its check.
    pub what: String,
    /// Empty where there was none, or is none now.
    pub was: String,
    pub is: String,
    /// A figure that moved by no more than the errors that were stated with both, and stands as before.
    pub within_error: bool,
}

impl Difference {
    fn of(what: impl Into<String>, was: impl Into<String>, is: impl Into<String>) -> Self {
        Self { what: what.into(), was: was.into(), is: is.into(), within_error: false }
    }
}

fn said(finding: &Finding) -> String {
    let word = if finding.is_waived() { "fails, waived" } else { finding.state.word() };
    match finding.measured {
        Some(figure) => {
            let apart = if matches!(finding.unit, "°" | "′" | "") { "" } else { " " };
            format!("{figure:.4}{apart}{}, {word}", finding.unit)
        }
        None => word.into(),
    }
}

/// Findings that differ, in the order of the later ones; those that are gone at the end.
pub(crate) fn findings(was: &[Finding], is: &[Finding]) -> Vec<Difference> {
    let of = |f: &Finding| format!("{}: {}", f.mark, f.check.name());
    let same = |a: &Finding, b: &Finding| (&a.mark, a.check) == (&b.mark, b.check);
    let mut out = Vec::new();
    for now in is {
        let Some(then) = was.iter().find(|f| same(f, now)) else {
            out.push(Difference::of(of(now), "", said(now)));
            continue;
        };
        let stands = (then.state, then.is_waived()) == (now.state, now.is_waived());
        if then.measured == now.measured && stands {
            continue;
        }
        let moved = then.measured.zip(now.measured).map(|(a, b)| (a - b).abs());
        let within_error = stands && moved.is_some_and(|by| by <= then.error + now.error);
        out.push(Difference { within_error, ..Difference::of(of(now), said(then), said(now)) });
    }
    let gone = was.iter().filter(|f| !is.iter().any(|now| same(f, now)));
    out.extend(gone.map(|f| Difference::of(of(f), said(f), "")));
    out
}

/// In what `is` differs from `was`: the part, the sheet and its limits, then finding by finding, then the files.
#[must_use]
pub fn differences(was: &Record, is: &Record) -> Vec<Difference> {
    let mut out = Vec::new();
    let mut differs = |what: &str, a: &str, b: &str| {
        if a != b {
            out.push(Difference::of(what, a, b));
        }
    };
    differs("part", &was.part.file, &is.part.file);
    differs("part’s SHA-256", &was.part.sha256, &is.part.sha256);
    differs("limits", &was.sheet, &is.sheet);
    differs("program", &was.program, &is.program);
    let row = |r: &Record| r.row.as_ref().map_or(String::new(), |r| format!("{} {}", r.place, r.cells.join(" · ")));
    differs("row", &row(was), &row(is));
    let word = |s: trade::limits::Subject| {
        serde_json::to_value(s).ok().and_then(|v| v.as_str().map(|s| s.replace('_', " "))).unwrap_or_default()
    };
    for now in &is.limits {
        let then = was.limits.iter().find(|l| l.subject == now.subject);
        let value = |l: &crate::LimitLine| format!("{} ({})", l.limit.value, l.limit.sheet);
        let then_value = then.map(value).unwrap_or_default();
        if then.is_none_or(|then| then.limit.value != now.limit.value) {
            differs(&format!("limit on {}", word(now.subject)), &then_value, &value(now));
        }
    }
    let all = |r: &Record| r.findings().cloned().collect::<Vec<_>>();
    out.extend(findings(&all(was), &all(is)));
    for file in &is.files {
        let then = was.files.iter().find(|f| f.name == file.name);
        if then.is_none_or(|f| f.sha256 != file.sha256) {
            out.push(Difference::of(&*file.name, then.map_or("", |f| &f.sha256), &*file.sha256));
        }
    }
    let gone = was.files.iter().filter(|f| !is.files.iter().any(|now| now.name == f.name));
    out.extend(gone.map(|f| Difference::of(&*f.name, &*f.sha256, "")));
    out
}
