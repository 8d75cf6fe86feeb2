//! The lettering faces that ship with the application, each under a free licence that lies beside
//! its file.

use harfrust::Font;
use std::sync::LazyLock;

/// What a chooser shows of a face.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize)]
pub struct FaceInfo {
    pub id: &'static str,
    pub name: &'static str,
    pub character: &'static str,
    pub licence: &'static str,
}

/// The centre-line alphabet's id.
pub const CENTRE_LINE: &str = "centre-line";

macro_rules! faces {
    ($($id:literal, $name:literal, $character:literal, $licence:literal;)*) => {
        const INFOS: &[FaceInfo] = &[
            FaceInfo { id: CENTRE_LINE, name: "Centre line", character: "one cutter pass, ISO 3098 grid", licence: "our own" },
            $(FaceInfo { id: $id, name: $name, character: $character, licence: $licence },)*
        ];
        static FILES: &[(&str, &[u8])] = &[$(($id, include_bytes!(concat!("../faces/", $id, ".ttf")))),*];
    };
}

faces! {
    "osifont", "Drawing office", "technical drawing lettering", "GPL with font exception";
    "overpass", "Overpass", "grotesque, road signs", "SIL OFL 1.1";
    "barlow", "Barlow", "grotesque, plates", "SIL OFL 1.1";
    "ibm-plex-sans", "Plex Sans", "grotesque, open", "SIL OFL 1.1";
    "b612-mono", "B612 Mono", "monospaced, cockpit", "SIL OFL 1.1";
    "overpass-mono", "Overpass Mono", "monospaced", "SIL OFL 1.1";
    "saira-stencil-one", "Saira Stencil", "stencil, heavy", "SIL OFL 1.1";
    "stardos-stencil", "Stardos Stencil", "stencil, Roman", "SIL OFL 1.1";
}

/// All faces, in the order they are offered.
#[must_use]
pub fn faces() -> &'static [FaceInfo] {
    INFOS
}

/// Bytes of an outline face's font file.
#[must_use]
pub fn file(id: &str) -> Option<&'static [u8]> {
    FILES.iter().find(|(known, _)| *known == id).map(|(_, bytes)| *bytes)
}

static FONTS: LazyLock<Vec<(&'static str, Font)>> =
    LazyLock::new(|| FILES.iter().filter_map(|(id, bytes)| Font::new(*bytes, 0).map(|font| (*id, font))).collect());

pub(crate) fn font(id: &str) -> Option<&'static Font> {
    FONTS.iter().find(|(known, _)| *known == id).map(|(_, font)| font)
}
