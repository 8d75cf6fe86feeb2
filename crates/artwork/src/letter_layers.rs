//! The layers of a drawing that stand for characters, each drawn by itself.

use crate::{
    bounds::MOST_ON_THE_WAY,
    drawing::{self, Drawn},
    error::ArtworkError,
    wish::Wish,
};
use trade::own_face::MOST_LETTERS;

/// A name that stands for a character, and what is drawn under it, or why that can't be drawn.
pub type DrawnLetter = (String, Result<Drawn, ArtworkError>);

/// What is drawn under each name that stands for a character, in the drawing's order.
pub struct DrawnLetters {
    pub letters: Vec<DrawnLetter>,
    /// Names of layers or groups that stand for none.
    pub other: Vec<String>,
}

/// Draws each of the layers or groups by itself.
///
/// # Errors
/// There are too many, or they ask too much; a letter that can't be drawn otherwise says so by itself.
pub fn drawn_each<'a>(
    names: impl Iterator<Item = &'a str>,
    mut draw: impl FnMut(&str, &Wish) -> Result<Drawn, ArtworkError>,
) -> Result<Vec<DrawnLetter>, ArtworkError> {
    let names: Vec<&str> = names.collect();
    if names.len() > MOST_LETTERS {
        return Err(ArtworkError::Letters(format!(
            "it has {} letters; a face has at most {MOST_LETTERS}",
            names.len()
        )));
    }
    let mut letters = Vec::new();
    let mut points = 0;
    for name in names {
        let drawn = draw(name, &Wish { layers: Some(vec![name.into()]), ..Wish::default() });
        match &drawn {
            Ok(drawn) => points += drawing::points(&drawn.region),
            Err(e @ (ArtworkError::Tangled | ArtworkError::TooFine(_))) => {
                return Err(ArtworkError::Letters(format!("“{name}”: {}", without_drawing(&e.to_string()))));
            }
            Err(_) => {}
        }
        if points > MOST_ON_THE_WAY {
            return Err(ArtworkError::TooFine(points));
        }
        letters.push((name.to_owned(), drawn));
    }
    Ok(letters)
}

/// What is wrong with a letter, not with the drawing.
pub fn without_drawing(why: &str) -> String {
    why.replacen("the drawing's outlines", "its outlines", 1).replacen("the drawing has", "it has", 1)
}
