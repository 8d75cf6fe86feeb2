//! What tells settings apart: their JSON, which holds every digit.

use trade::Mark;

/// What a mark is built from, for a key: its own face is not in its JSON.
pub(crate) fn settings_of(mark: &Mark) -> (&Mark, Option<u64>) {
    (mark, mark.lettering.own.as_ref().map(trade::HeldFace::key))
}

pub(crate) fn key<T: serde::Serialize>(value: &T) -> String {
    serde_json::to_string(value).expect("settings have string keys and finite numbers only")
}
