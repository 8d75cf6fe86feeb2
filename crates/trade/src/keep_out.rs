//! Keep-outs: where no lettering may go, and how far it stays away.

use crate::{area::Area, limits::Subject};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct KeepOut {
    /// Unlike every other keep-out's of the job.
    pub name: String,
    pub kind: KeepOutKind,
    pub area: Area,
    /// How far marks stay away, mm; left out, as the limits says for the kind.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub margin: Option<f64>,
}

/// Why lettering stays out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum KeepOutKind {
    Polished,
    Sealing,
    Clamping,
    Gate,
    EjectorPin,
    WeldLine,
}

impl KeepOutKind {
    pub const ALL: [Self; 6] =
        [Self::Polished, Self::Sealing, Self::Clamping, Self::Gate, Self::EjectorPin, Self::WeldLine];

    /// Whose limit is its margin.
    #[must_use]
    pub fn subject(self) -> Subject {
        match self {
            Self::Polished => Subject::FromPolished,
            Self::Sealing => Subject::FromSealing,
            Self::Clamping => Subject::FromClamping,
            Self::Gate => Subject::FromGate,
            Self::EjectorPin => Subject::FromEjectorPin,
            Self::WeldLine => Subject::FromWeldLine,
        }
    }

    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Polished => "polished face",
            Self::Sealing => "sealing face",
            Self::Clamping => "clamping face",
            Self::Gate => "gate",
            Self::EjectorPin => "ejector pin",
            Self::WeldLine => "weld line",
        }
    }
}

impl KeepOut {
    pub(crate) fn check(&self) -> Result<(), String> {
        if self.name.trim().is_empty() || self.name.chars().count() > 100 {
            return Err("a keep-out's name has 1 to 100 characters".into());
        }
        if let Some(margin) = self.margin
            && !(0.0..=1000.0).contains(&margin)
        {
            return Err(format!("its margin is {margin} mm; it must lie between 0 and 1000 mm"));
        }
        self.area.check()
    }
}
