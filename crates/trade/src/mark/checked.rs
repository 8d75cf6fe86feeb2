//! Every setting of a mark held to its range.

use super::{CAP_HEIGHTS, LONGEST_TEXT, Mark};
use crate::{Figure, Sense, range::within, roster::Roster};

impl Mark {
    /// Every setting inside its range?
    pub(crate) fn check(&self, roster: &Roster) -> Result<(), String> {
        let count = self.text.chars().count();
        if count > LONGEST_TEXT {
            return Err(format!("the text has {count} characters; at most {LONGEST_TEXT} are built"));
        }
        if self.id.is_empty() || self.id.len() > 100 {
            return Err("a mark's id has 1 to 100 characters".into());
        }
        self.seat.check()?;
        let lettering = &self.lettering;
        within("cap height", lettering.cap_height, CAP_HEIGHTS, " mm")?;
        if let Some(stroke) = lettering.stroke {
            within("stroke", stroke, 0.02..=lettering.cap_height / 3.0, " mm")?;
        }
        within("letter width", lettering.width, 0.3..=3.0, " times the face's own")?;
        within("slant", lettering.slant, -30.0..=45.0, "°")?;
        if let Some(fit) = lettering.fit {
            within("length of the text", fit.length, 0.2..=1e4, " mm")?;
        }
        within("spacing", lettering.spacing, -lettering.cap_height..=10.0 * lettering.cap_height, " mm")?;
        within("line gap", lettering.line_gap, 0.0..=100.0 * lettering.cap_height, " mm")?;
        self.relief.check(&within)?;
        self.place.check(&within)?;
        self.in_steel.check(&within)?;
        if let Some(figure) = &self.figure {
            figure.check(&within, roster)?;
            if matches!(figure, Figure::Pocket(_)) && self.relief.sense != Sense::Sunken {
                return Err("the pocket of an insert is sunken".into());
            }
        }
        let shift = 10.0 * lettering.cap_height;
        for letter in &self.letters {
            let name = |what: &str| format!("{what} of letter {} “{}”", letter.at + 1, letter.text);
            within(&name("size"), letter.size, 0.2..=5.0, " times the others'")?;
            within(&name("shift along"), letter.along, -shift..=shift, " mm")?;
            within(&name("shift up"), letter.up, -shift..=shift, " mm")?;
            within(&name("turn"), letter.turn, -360.0..=360.0, "°")?;
            if letter.sense.is_some() && self.relief.through {
                return Err(format!(
                    "letter {} “{}” has a sense of its own, and the mark goes through",
                    letter.at + 1,
                    letter.text
                ));
            }
            if letter.sense.is_some_and(|own| !own.has_relief() || !self.relief.sense.has_relief()) {
                return Err(format!(
                    "letter {} “{}” can only be raised, sunken or inlaid by itself, in a mark that is one of them",
                    letter.at + 1,
                    letter.text
                ));
            }
        }
        let mut changed: Vec<u32> = self.letters.iter().map(|l| l.at).collect();
        changed.sort_unstable();
        if changed.windows(2).any(|pair| pair[0] == pair[1]) {
            return Err("a letter is changed twice; change each once".into());
        }
        Ok(())
    }
}
