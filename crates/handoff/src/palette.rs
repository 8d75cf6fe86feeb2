//! The colours that solids are handed off in.

use relief::BuiltMark;
use std::collections::BTreeMap;
use trade::{Colour, Job};

/// The part's colour, then the marks' in turn: apart for the colour-blind too (after Okabe and Ito
/// 2008).
pub(crate) const PART_COLOUR: &str = "#C9CFCB";
const COLOURS: [&str; 6] = ["#B3261E", "#0072B2", "#E69F00", "#009E73", "#CC79A7", "#56B4E9"];

/// What the marks of a job are called and which colours they have.
pub(crate) struct Tones {
    /// Names of the marks, by their places in the job.
    pub names: Vec<String>,
    /// Their colours.
    pub marks: Vec<String>,
    /// Those of single letters that have their own, by their marks' places in the job and their own in the mark.
    pub letters: BTreeMap<(u32, u32), Colour>,
}

impl Tones {
    pub fn of<'a>(job: &Job, built: impl Iterator<Item = (u32, &'a BuiltMark)>) -> Self {
        let names = job.marks.iter().map(|m| format!("{} {}", m.id, m.text.replace('\n', " / ")));
        let own = |(at, mark): (usize, &trade::Mark)| {
            mark.colour.as_ref().map_or(COLOURS[at % COLOURS.len()], Colour::as_str).to_owned()
        };
        let letters = built.flat_map(|(at, b)| b.letter_colours().map(move |(letter, c)| ((at, letter), c.clone())));
        Self {
            names: names.collect(),
            marks: job.marks.iter().enumerate().map(own).collect(),
            letters: letters.collect(),
        }
    }

    pub fn name(&self, mark: u32) -> String {
        self.names.get(mark as usize).cloned().unwrap_or_else(|| format!("mark {mark}"))
    }

    pub fn of_mark(&self, mark: u32) -> &str {
        self.marks.get(mark as usize).map_or(PART_COLOUR, String::as_str)
    }
}
