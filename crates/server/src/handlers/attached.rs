//! What a file that is sent is called.

use axum::{
    body::Body,
    http::header,
    response::{IntoResponse, Response},
};
use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, utf8_percent_encode};

/// What RFC 8187 lets stand as it is (attr-char), of what file names hold.
const BARE: &AsciiSet = &NON_ALPHANUMERIC.remove(b'-').remove(b'.').remove(b'_').remove(b'~');

/// A file to be kept, of a media type `kind`.
pub(super) fn attached(kind: &str, name: &str, body: impl Into<Body>) -> Response {
    answer(kind, disposition("attachment", name), body)
}

/// A file that is shown where it can be.
pub(super) fn shown(kind: &str, name: &str, body: impl Into<Body>) -> Response {
    answer(kind, disposition("inline", name), body)
}

fn answer(kind: &str, disposition: String, body: impl Into<Body>) -> Response {
    let head = [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)];
    (head, body.into()).into_response()
}

/// A file's name in full as UTF-8, and in plain letters for who reads no others. (RFC 6266)
fn disposition(how: &str, name: &str) -> String {
    let plain: String =
        name.chars().map(|c| if c.is_ascii_graphic() && !matches!(c, '"' | '\\') { c } else { '-' }).collect();
    if plain == name {
        return format!("{how}; filename=\"{name}\"");
    }
    format!("{how}; filename=\"{plain}\"; filename*=UTF-8''{}", utf8_percent_encode(name, BARE))
}

/// A job's name as the beginning of a file name.
pub(super) fn stem(job: &str) -> String {
    job.chars().map(|c| if c.is_alphanumeric() || matches!(c, '-' | '_') { c } else { '-' }).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The example of RFC 6266, section 5, and names of files on a shop's shelf.
    #[test]
    fn letters_of_every_alphabet_stay_in_the_names_of_files() {
        assert_eq!(
            disposition("attachment", "€ rates"),
            "attachment; filename=\"--rates\"; filename*=UTF-8''%E2%82%AC%20rates"
        );
        assert_eq!(disposition("inline", "block-callouts.pdf"), "inline; filename=\"block-callouts.pdf\"");
        assert_eq!(
            disposition("attachment", "Gehäuse-3.stl"),
            "attachment; filename=\"Geh-use-3.stl\"; filename*=UTF-8''Geh%C3%A4use-3.stl"
        );
        assert_eq!(stem("Gehäuse 3/4 \"links\""), "Gehäuse-3-4--links-");
        assert_eq!(stem("外壳_2"), "外壳_2");
        // nothing ends the head or the line
        assert!(!disposition("attachment", "a\"b\r\nc\\").contains(['\r', '\n', '\\']));
    }
}
