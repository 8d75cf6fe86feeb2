//! A job as it is in one row of its roster: the texts of its marks are what their recipes make.

use crate::{
    Job, Mark,
    mark::LONGEST_TEXT,
    recipe::{Source, write},
    roster::Row,
    waiver::FilledFor,
};
use time::Date;

impl Job {
    /// The job as it is for a row of the roster and a day of handoff: the texts of its marks are what their recipes
    /// make. A mark whose recipe makes none has none, and says why.
    #[must_use]
    pub fn filled(&self, row: Option<u32>, today: Date) -> Self {
        self.filled_from(row.and_then(|id| self.roster.row(id)), today)
    }

    /// As [`Job::filled`], from a row that is given.
    #[must_use]
    pub fn filled_from(&self, row: Option<&Row>, today: Date) -> Self {
        let texts = self.texts_made(row, today);
        let mut job = self.clone();
        job.filled_for = Some(FilledFor { row: row.map(|r| r.id), day: today });
        job.take_texts(texts);
        job
    }

    /// Becomes what [`Job::filled`] makes of it.
    pub fn fill(&mut self, row: Option<u32>, today: Date) {
        let texts = self.texts_made(row.and_then(|id| self.roster.row(id)), today);
        self.filled_for = Some(FilledFor { row, day: today });
        self.take_texts(texts);
    }

    /// What each mark says in a row, in order; nothing for one whose text stands fixed.
    #[must_use]
    pub fn texts_made(&self, row: Option<&Row>, today: Date) -> Vec<Option<Result<String, String>>> {
        self.marks.iter().map(|mark| mark.is_made().then(|| self.says(mark, row, today))).collect()
    }

    fn take_texts(&mut self, texts: Vec<Option<Result<String, String>>>) {
        for (mark, made) in self.marks.iter_mut().zip(texts) {
            (mark.text, mark.unsaid) = match made {
                None => continue,
                Some(Ok(text)) => (text, None),
                Some(Err(why)) => (String::new(), Some(why)),
            };
        }
    }

    /// The row that is shown where none is required.
    #[must_use]
    pub fn first_row(&self) -> Option<u32> {
        self.roster.rows.first().map(|r| r.id)
    }

    /// What a mark says in a row of the roster: that of a figure is the date that it shows.
    ///
    /// # Errors
    /// Why its recipe gives no text.
    pub fn says(&self, mark: &Mark, row: Option<&Row>, today: Date) -> Result<String, String> {
        let source = Source { roster: &self.roster, row, revision: self.revision.as_deref(), today };
        if let Some(figure) = &mark.figure {
            return figure.says(source);
        }
        if mark.recipe.is_empty() {
            return Ok(mark.text.clone());
        }
        let text = write(&mark.recipe, source)?;
        if text.chars().count() > LONGEST_TEXT {
            return Err(format!("it gives more than {LONGEST_TEXT} characters"));
        }
        if text.trim().is_empty() {
            return Err("it gives no text".into());
        }
        Ok(text)
    }
}
