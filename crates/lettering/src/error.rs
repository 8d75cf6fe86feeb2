//! What keeps a text from being lettered, in sentences.

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum LetteringError {
    #[error("there is no lettering face “{0}”")]
    NoFace(String),
    #[error("the lettering face “{face}” has no “{character}” (U+{code:04X}); choose another face or another character", code = u32::from(*character))]
    MissingGlyph { character: char, face: String },
    #[error("the outline of “{character}” in the lettering face “{face}” can't be read; read its drawing again")]
    NoOutline { character: char, face: String },
    #[error("the lettering face “{0}” has no letter with a stem to measure a stroke on; leave its strokes as drawn")]
    NoStem(String),
    #[error("the text is empty; type the mark's text")]
    Empty,
    #[error("strokes that wide fill the letters; set a smaller stroke or larger letters")]
    TooBold,
    #[error("strokes that thin leave nothing of some letters; set a larger stroke")]
    TooThin,
    #[error("{0}")]
    NoFit(String),
    #[error("{0}")]
    Figure(String),
    #[error("the font file of the lettering face “{0}” can't be read")]
    Unusable(String),
}
