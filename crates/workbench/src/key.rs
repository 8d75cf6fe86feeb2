//! What tells settings apart: their JSON, which holds every digit.

use std::borrow::Cow;
use trade::Mark;

/// What a mark is built from, for a key: its own face is not in its JSON, and its name builds nothing.
pub(crate) fn settings_of(mark: &Mark) -> (Cow<'_, Mark>, Option<u64>) {
    let own = mark.lettering.own.as_ref().map(trade::HeldFace::key);
    (if mark.is_bare() { Cow::Borrowed(mark) } else { Cow::Owned(mark.bare()) }, own)
}

pub(crate) fn key<T: serde::Serialize>(value: &T) -> String {
    serde_json::to_string(value).expect("settings have string keys and finite numbers only")
}
