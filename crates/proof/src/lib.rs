//! The proof: the evidence of a record as a document to send to a customer. The part with its marks, every figure against its
//! limit, for each finding that fails, is marginal or waived its place and a section through it, how each mark reads, waivers,
//! files, lines to sign. The same record gives the same bytes.

mod contents;
mod evidence;
mod flow;
mod strips;
mod write;

use inspection::Finding;
use record::Record;
use workbench::{Bench, Outcome};

#[derive(Debug, thiserror::Error)]
pub enum ProofError {
    #[error("the proof could not be written: {0}")]
    Pdf(#[from] paper::PaperError),
}

/// The proof of a record as PDF. `outcome` is what was recorded, built on `bench`.
///
/// # Errors
/// The PDF could not be put together.
pub fn pdf(record: &Record, bench: &Bench, outcome: &Outcome) -> Result<Vec<u8>, ProofError> {
    write::pdf(record, contents::pages(record, bench, outcome))
}

/// A figure with its unit: two decimals for mm, one for degrees and percent.
fn figure(value: f64, unit: &str) -> String {
    let places = if matches!(unit, "°" | "%") { 1 } else { 2 };
    with_unit(&format!("{value:.places$}").replace('-', "−"), unit)
}

/// Degrees stand close to their figure, other units apart.
fn with_unit(figure: &str, unit: &str) -> String {
    if matches!(unit, "°" | "") { format!("{figure}{unit}") } else { format!("{figure} {unit}") }
}

/// How a finding stands: a waived one fails, and is told to be waived.
fn stands(finding: &Finding) -> &'static str {
    if finding.is_waived() { "fails, waived" } else { finding.state.word() }
}
