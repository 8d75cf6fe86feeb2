//! A tally grid: a row of months for each year, dotted up to a month.

use super::{Label, Pen, disc, widest};
use crate::{error::LetteringError, lettered::Lettered};
use flat::{Island, Region};
use glam::DVec2;
use time::Date;
use trade::{Lettering, figure::Tally};

/// The grid with its dots up to the month of a date, in its box.
///
/// # Errors
/// The grid ends before the date, its labels run into each other, or there is nothing to build.
pub(super) fn drawn(tally: &Tally, date: Date, lettering: &Lettering) -> Result<Lettered, LetteringError> {
    let wrong = |what: String| Err(LetteringError::Figure(what));
    let mut pen = Pen::new(lettering);
    let (pitch, rows) = (tally.pitch, i32::from(tally.years));
    let last = tally.first_year + rows - 1;
    if date.year() > last {
        return wrong(format!("the tally ends with {last} and is to be dotted up to {}; add years", date.year()));
    }
    let mut left = 0.0;
    if tally.labels {
        let label = |text: String| pen.label(text);
        let months: Vec<Label> = (1..=12).map(|n| label(n.to_string())).collect::<Result<_, _>>()?;
        let years = (tally.first_year..=last).map(|y| format!("{:02}", y.rem_euclid(100)));
        let years: Vec<Label> = years.map(label).collect::<Result<_, _>>()?;
        let wide = widest(&months);
        if wide + pen.stroke() > pitch || lettering.cap_height + pen.stroke() > pitch {
            return wrong("the numbers of the months stand too close; set a larger pitch or smaller capitals".into());
        }
        let years_wide = widest(&years);
        left = years_wide + lettering.cap_height / 2.0;
        for (k, year) in years.iter().enumerate() {
            pen.put_label(year, DVec2::new(years_wide / 2.0, row(k as i32, rows, pitch)), 0.0);
        }
        let above = f64::from(rows) * pitch + lettering.cap_height / 2.0;
        for (k, month) in months.iter().enumerate() {
            pen.put_label(month, DVec2::new(left + (k as f64 + 0.5) * pitch, above), 0.0);
        }
    }
    let over = 12 * (date.year() - tally.first_year) + i32::from(u8::from(date.month()));
    let mut fields = Vec::new();
    for at in 0..12 * rows {
        let middle = DVec2::new(left + (f64::from(at % 12) + 0.5) * pitch, row(at / 12, rows, pitch));
        if at < over {
            pen.put("●", disc(middle, tally.dot / 2.0), 0.0);
        } else {
            // wider than a dot, narrower than the pitch
            let half = (pitch + tally.dot) / 4.0;
            let corners = [(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)];
            let outer = corners.map(|(x, y)| middle + DVec2::new(x, y) * half).to_vec();
            fields.push(Region { islands: vec![Island { outer, counters: Vec::new() }] });
        }
    }
    if pen.characters.is_empty() {
        return wrong("no month of the tally is over and it has no labels, so there is nothing to build".into());
    }
    let labels = if tally.labels { lettering.cap_height } else { 0.0 };
    let size = DVec2::new(left + 12.0 * pitch, f64::from(rows) * pitch + labels);
    Ok(Lettered { fields, ..pen.of_size(size) })
}

/// The height of a year's row; the first stands uppermost.
fn row(at: i32, rows: i32, pitch: f64) -> f64 {
    (f64::from(rows - at) - 0.5) * pitch
}
