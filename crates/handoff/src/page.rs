//! The findings as a page to read and print, complete in one file.

use crate::findings::{Checked, Findings, MarkFindings};
use inspection::Finding;
use maud::{DOCTYPE, Markup, PreEscaped, html};
use trade::{
    WaivedBy,
    limits::{Side, State},
};

const STYLE: &str = "body{font:15px/1.45 B612,Verdana,sans-serif;color:#22302d;background:#fbf8ef;margin:2.5em auto;max-width:64em;padding:0 1em}\
h1{font-size:1.5em;margin-bottom:.2em}h2{margin:1.8em 0 .4em;font-size:1.1em}table{border-collapse:collapse;width:100%}\
td,th{text-align:left;padding:.35em .8em .35em 0;border-bottom:1px solid #d9d2bd;vertical-align:top}\
td.n{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap}.fails{color:#a3221c;font-weight:bold}.marginal{color:#8a5a00;font-weight:bold}\
.not-checked{font-style:italic}p.small{color:#545d57;font-size:.85em}\
@media print{body{margin:0;max-width:none;padding:0;background:#fff;font-size:11px}tr{break-inside:avoid}h2{break-after:avoid}}";

/// Head and foot of printed pages: whose findings they are, of what, and which page of how many. (CSS Paged Media Module Level 3)
fn printed(job: &str, made: &str, sha256: &str) -> String {
    let (job, made) = (quoted(job), quoted(made));
    let hash = quoted(&sha256.chars().take(16).collect::<String>());
    format!(
        "@page{{size:A4;margin:18mm 14mm;@top-left{{content:{job};font:9px sans-serif}}@top-right{{content:{made};font:9px sans-serif}}\
         @bottom-left{{content:\"part SHA-256 \" {hash} \" …\";font:9px sans-serif}}\
         @bottom-right{{content:\"page \" counter(page) \" of \" counter(pages);font:9px sans-serif}}}}"
    )
}

/// A string of CSS that nothing in the text ends: what is no letter or figure stands as its number.
fn quoted(text: &str) -> String {
    let sign = |c: char| if c.is_alphanumeric() { c.to_string() } else { format!("\\{:06x} ", u32::from(c)) };
    format!("\"{}\"", text.chars().map(sign).collect::<String>())
}

/// The page. `made` is printed as the day it was made, `on` as what was measured on.
#[must_use]
pub fn page(findings: &Findings<'_>, made: &str, on: &str) -> String {
    let Findings { job, limits, reading_distance, part, marks, checked, revision, .. } = findings;
    let sha256 = part.sha256.as_deref().unwrap_or_default();
    html! {
        (DOCTYPE)
        html lang="en" {
            head {
                meta charset="utf-8";
                title { (job) ": findings" }
                style { (PreEscaped(STYLE)) (PreEscaped(printed(job, made, sha256))) }
            }
            body {
                h1 { (job) }
                p {
                    "Measured on " (on) ", " (made) ". Limits: " (limits) ". Read from "
                    (format!("{reading_distance:.0}")) " mm. "
                    @if let Some(revision) = revision { "Revision " (revision) ". " }
                    "Part file " (part.file) @if !sha256.is_empty() { ", SHA-256 " small { (sha256) } } "."
                }
                @for mark in marks { (section(mark)) }
                (solid_and_files(checked))
                p.small {
                    "States: passes, marginal (passes by less than its margin), fails, not checked (could not be measured; the sentence says why), does not apply (there is nothing to ask). Sources of the limits stand in findings.json."
                }
            }
        }
    }
    .into_string()
}

fn section(mark: &MarkFindings<'_>) -> Markup {
    html! {
        h2 { (mark.text.replace('\n', " / ")) " " small { "(" (mark.mark) ")" } }
        @if mark.on {
            table {
                thead { tr { th { "Check" } th { "Measured" } th { "Limit" } th { "State" } th { "Finding" } } }
                tbody { @for finding in mark.findings { (row(finding)) } }
            }
        } @else {
            p { "Switched off: neither built nor checked." }
        }
    }
}

fn solid_and_files(checked: &Checked) -> Markup {
    let solid = checked.solid.iter().map(|s| ("finished solid", s.state, &s.sentence));
    let files = checked.files.iter().map(|f| (f.file.as_str(), f.state, &f.sentence));
    html! {
        @if checked.solid.is_some() || !checked.files.is_empty() {
            h2 { "Solid and files" }
            table {
                thead { tr { th { "What" } th { "State" } th { "Finding" } } }
                tbody {
                    @for (what, state, sentence) in solid.chain(files) {
                        tr {
                            td { (what) }
                            (state_cell(state))
                            td { (sentence) }
                        }
                    }
                }
            }
        }
    }
}

fn state_cell(state: State) -> Markup {
    let word = state.word();
    html! { td class=(word.replace(' ', "-")) { (word) } }
}

fn row(finding: &Finding) -> Markup {
    let figure =
        finding.measured.map_or("–".into(), |m| with_unit(&format!("{m:.2}").replace('-', "−"), finding.unit));
    let limit = finding.limit.as_ref().map_or("–".into(), |l| {
        let side = if l.side == Side::AtLeast { "≥" } else { "≤" };
        format!("{side} {}", with_unit(&l.value.to_string(), finding.unit))
    });
    html! {
        tr {
            td { (finding.check.name()) }
            td.n { (figure) }
            td.n { (limit) }
            @if finding.is_waived() { td.fails { "fails, waived" } } @else { (state_cell(finding.state)) }
            td {
                (finding.sentence)
                @if let Some(waived) = &finding.waived { " " (waiver(waived)) }
            }
        }
    }
}

fn waiver(waived: &WaivedBy) -> String {
    let WaivedBy { reason, by, on, until, lapsed, .. } = waived;
    let until = until.as_ref().map(|until| format!(", until {until}")).unwrap_or_default();
    let lapsed = lapsed.as_ref().map(|why| format!(" It holds no more: {why}.")).unwrap_or_default();
    format!("Waived by {by} on {on}{until}: {reason}.{lapsed}")
}

/// Degrees and minutes stand close to their figure, other units apart.
fn with_unit(figure: &str, unit: &str) -> String {
    if matches!(unit, "°" | "′" | "") { format!("{figure}{unit}") } else { format!("{figure} {unit}") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_ends_neither_the_string_nor_the_style_it_stands_in() {
        let css = printed("a\"}</style><script>alert(1)</script>\\", "2031-02-03", "ab");
        assert!(!css.contains("</") && !css.contains("<script"), "{css}");
        assert_eq!(quoted("VB 2"), "\"VB\\000020 2\"");
        // braces pair up, so that the rule ends where it should
        assert_eq!(css.matches('{').count(), css.matches('}').count(), "{css}");
    }
}
