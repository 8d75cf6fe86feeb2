//! A drawing's note, read: what each phrase becomes in the card of a mark.

use crate::problem::{Problem, Refusal};
use axum::Json;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use trade::{
    Mark,
    note::{LONGEST_NOTE, Wish, read},
};
use utoipa::ToSchema;

#[derive(Deserialize, ToSchema)]
pub struct NoteAsked {
    note: String,
    /// Figures without a unit are inches, where the note says nothing of that.
    inch: Option<bool>,
    /// The mark that it is a note on.
    mark: Mark,
}

#[derive(Serialize, ToSchema)]
pub struct NoteRead {
    pub phrases: Vec<PhraseView>,
    /// What asks for something that is not understood: characters of the note, from and to.
    pub left: Vec<[usize; 2]>,
    /// Figures without a unit were taken as inches.
    pub inch: bool,
    /// In what the mark differs from it.
    pub differs: Vec<String>,
}

/// A phrase that is understood.
#[derive(Serialize, ToSchema)]
pub struct PhraseView {
    /// Characters of the note.
    pub from: usize,
    pub to: usize,
    pub becomes: Vec<Becomes>,
}

/// One thing that a phrase asks for.
#[derive(Serialize, ToSchema)]
pub struct Becomes {
    pub wish: Wish,
    pub says: String,
    /// The settings of the mark that it becomes; nothing for what is done elsewhere.
    #[schema(value_type = Option<Object>)]
    pub settings: Option<Value>,
    /// The mark does not have it.
    pub differs: bool,
}

/// Reads a drawing's note on a mark.
#[utoipa::path(post, path = "/api/note", request_body = NoteAsked,
    responses((status = 200, body = NoteRead), (status = 422, body = Refusal)))]
pub async fn read_note(Json(asked): Json<NoteAsked>) -> Result<Json<NoteRead>, Problem> {
    let NoteAsked { note, inch, mark } = asked;
    let long = note.chars().count();
    if long > LONGEST_NOTE {
        return Err(Problem::Wrong(format!("The note has {long} characters; at most {LONGEST_NOTE} are read.")));
    }
    let found = read(&note, inch);
    let differs = found.wishes().filter_map(|wish| wish.differs(&mark)).collect();
    let phrase = |phrase: trade::note::Phrase| PhraseView {
        from: phrase.from,
        to: phrase.to,
        becomes: phrase
            .wishes
            .into_iter()
            .map(|wish| Becomes {
                says: wish.says(),
                settings: wish.settings(&mark),
                differs: wish.differs(&mark).is_some(),
                wish,
            })
            .collect(),
    };
    Ok(Json(NoteRead {
        phrases: found.phrases.into_iter().map(phrase).collect(),
        left: found.left.into_iter().map(|(from, to)| [from, to]).collect(),
        inch: found.inch,
        differs,
    }))
}
