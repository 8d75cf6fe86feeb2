//! The proof's pages with what stands under each, as PDF.

use crate::{
    ProofError,
    flow::{LEFT, PAGE, WIDTH},
};
use paper::{
    About, Page,
    face::Face,
    ink::{LINE, Op, SOFT},
};
use record::Record;
use time::{OffsetDateTime, format_description::well_known::Rfc3339};

/// # Errors
/// The PDF could not be put together.
pub fn pdf(record: &Record, pages: Vec<Vec<Op>>) -> Result<Vec<u8>, ProofError> {
    let about = About {
        title: format!("{}: proof of inspection, {}", record.job.name, record.name()),
        author: Some(record.by.clone()),
        program: format!("Tin Badge {}", record.program),
        id: record::sha256(&record.to_json()),
        at: OffsetDateTime::parse(&record.at, &Rfc3339).ok(),
    };
    let count = pages.len();
    let pages: Vec<Page> = pages
        .into_iter()
        .enumerate()
        .map(|(k, mut ops)| {
            ops.extend(foot(record, k + 1, count));
            Page { size: PAGE, ops }
        })
        .collect();
    Ok(paper::pdf(&about, &pages)?)
}

/// What stands under every page.
fn foot(record: &Record, page: usize, of: usize) -> Vec<Op> {
    let y = PAGE[1] - 40.0;
    let text = |x: f32, text: String| Op::Text { at: [x, y + 12.0], size: 7.5, face: Face::Text, colour: SOFT, text };
    let pages = format!("page {page} of {of}");
    let right = LEFT + WIDTH - Face::Text.width(&pages, 7.5);
    vec![
        Op::Line { points: vec![[LEFT, y], [LEFT + WIDTH, y]], width: 0.5, colour: LINE },
        text(LEFT, format!("{} · {} · {}", record.job.name, record.name(), record.day)),
        text(right, pages),
    ]
}
