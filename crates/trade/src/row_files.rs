//! The files that are made for every row of the roster, and how they are called.

use crate::{
    recipe::{MOST_PIECES, Piece, PieceOf},
    roster::Roster,
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What is made for every row, and the recipe of its name.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RowFiles {
    /// Without pieces it is the job's name with the cavity, or with the row's number.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub name: Vec<Piece>,
    pub kinds: Vec<RowFile>,
}

impl Default for RowFiles {
    fn default() -> Self {
        Self { name: Vec::new(), kinds: vec![RowFile::Solid3mf, RowFile::FindingsHtml] }
    }
}

/// The archive of a row's tool side, as it is kept.
pub const TOOL_SIDE: &str = "tool-side.zip";

/// A file of a row.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RowFile {
    #[serde(rename = "solid_3mf")]
    Solid3mf,
    SolidStl,
    SolidGlb,
    #[serde(rename = "lettering_3mf")]
    Lettering3mf,
    FindingsHtml,
    FindingsJson,
    /// What the toolmaker makes in the steel, in an archive of its own.
    ToolSideZip,
}

impl RowFile {
    pub const ALL: [Self; 7] = [
        Self::Solid3mf,
        Self::SolidStl,
        Self::SolidGlb,
        Self::Lettering3mf,
        Self::FindingsHtml,
        Self::FindingsJson,
        Self::ToolSideZip,
    ];

    /// Its name in the handoff of a single row. A surface body makes no solid: it has one file for viewers.
    #[must_use]
    pub fn handed_as(self, surface_body: bool) -> Option<&'static str> {
        match self {
            Self::Solid3mf | Self::SolidStl | Self::ToolSideZip if surface_body => None,
            Self::SolidGlb if surface_body => Some("marked-surface-body.glb"),
            Self::Solid3mf => Some("marked-solid.3mf"),
            Self::SolidStl => Some("marked-solid.stl"),
            Self::SolidGlb => Some("marked-solid.glb"),
            Self::Lettering3mf => Some("lettering.3mf"),
            Self::FindingsHtml => Some("findings.html"),
            Self::FindingsJson => Some("findings.json"),
            Self::ToolSideZip => Some(TOOL_SIDE),
        }
    }

    /// What stands behind the row's name.
    #[must_use]
    pub fn ending(self) -> &'static str {
        match self {
            Self::Solid3mf => ".3mf",
            Self::SolidStl => ".stl",
            Self::SolidGlb => ".glb",
            Self::Lettering3mf => "-lettering.3mf",
            Self::FindingsHtml => "-findings.html",
            Self::FindingsJson => "-findings.json",
            Self::ToolSideZip => "-tool-side.zip",
        }
    }
}

impl RowFiles {
    /// # Errors
    /// What can't be a recipe of a name.
    pub fn check(&self, roster: &Roster) -> Result<(), String> {
        if self.name.len() > MOST_PIECES {
            return Err(format!("a recipe has at most {MOST_PIECES} pieces"));
        }
        if self.name.iter().any(|p| matches!(p.of, PieceOf::LineEnd(_))) {
            return Err("the name of a file is one line".into());
        }
        if self.kinds.is_empty() {
            return Err("choose at least one file".into());
        }
        self.name.iter().try_for_each(|piece| piece.check(roster))
    }
}
