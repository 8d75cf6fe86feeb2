//! What tells settings apart: their JSON, which holds every digit.

use std::borrow::Cow;
use trade::{InSteel, Mark};

/// What a mark is built from, for a key: its own face is not in its JSON, and what mends leave alone and how it comes into
/// the steel builds nothing.
pub(crate) fn settings_of(mark: &Mark) -> (Cow<'_, Mark>, Option<u64>) {
    let own = mark.lettering.own.as_ref().map(trade::HeldFace::key);
    let plain = InSteel::default();
    if mark.fixed.is_empty() && mark.in_steel == plain {
        return (Cow::Borrowed(mark), own);
    }
    (Cow::Owned(Mark { fixed: Vec::new(), in_steel: plain, ..mark.clone() }), own)
}

pub(crate) fn key<T: serde::Serialize>(value: &T) -> String {
    serde_json::to_string(value).expect("settings have string keys and finite numbers only")
}
