//! How the part is made: its material with the shrinkage, and the texture of its surface.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Draft that a texture asks for on top of the process's own: 1° for each 0.025 mm of its depth,
/// from memory.
pub const DRAFT_PER_TEXTURE_MM: f64 = 1.0 / 0.025;

#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Process {
    /// Id of one of the shipped materials; `None`: not said.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub material: Option<String>,
    /// Percent; left out, the material's own.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub shrinkage: Option<f64>,
    /// Depth of the texture on the marked faces, mm; 0 for a plain surface.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub texture: f64,
    /// How the surface shines where no texture breaks the light.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub finish: Finish,
}

/// How a surface gives back light.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Finish {
    /// Mostly to all sides, a little as a mirror does.
    #[default]
    Satin,
    /// To all sides.
    Matt,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Material {
    pub id: &'static str,
    pub name: &'static str,
    /// Percent: the cavity is larger than the part by it.
    pub shrinkage: f64,
    pub source: &'static str,
}

const fn material(id: &'static str, name: &'static str, shrinkage: f64) -> Material {
    Material { id, name, shrinkage, source: "from memory" }
}

/// The shipped materials. Grades differ: the maker's sheet has the last word.
pub const MATERIALS: [Material; 7] = [
    material("abs", "ABS", 0.5),
    material("pc", "PC", 0.6),
    material("pa66", "PA66", 1.5),
    material("pp", "PP", 1.5),
    material("pom", "POM", 2.0),
    material("zinc", "zinc alloy, die cast", 0.6),
    material("aluminium", "aluminium alloy, die cast", 0.6),
];

impl Process {
    #[must_use]
    pub fn material(&self) -> Option<&'static Material> {
        MATERIALS.iter().find(|m| Some(m.id) == self.material.as_deref())
    }

    /// Percent, with where it comes from.
    #[must_use]
    pub fn shrinkage(&self) -> Option<(f64, &'static str)> {
        self.shrinkage.map(|s| (s, "set for this job")).or_else(|| self.material().map(|m| (m.shrinkage, m.source)))
    }

    /// The steel's size by the part's, 1 + s; `None` where nobody knows the shrinkage.
    #[must_use]
    pub fn steel_scale(&self) -> Option<f64> {
        self.shrinkage().map(|(percent, _)| 1.0 + percent / 100.0)
    }

    /// Degrees of draft that the texture adds.
    #[must_use]
    pub fn texture_draft(&self) -> f64 {
        self.texture * DRAFT_PER_TEXTURE_MM
    }

    pub(crate) fn check(&self) -> Result<(), String> {
        if let Some(id) = &self.material
            && self.material().is_none()
        {
            let known: Vec<&str> = MATERIALS.iter().map(|m| m.id).collect();
            return Err(format!("there is no material “{id}”; there are {}", known.join(", ")));
        }
        if let Some(shrinkage) = self.shrinkage
            && !(0.0..=10.0).contains(&shrinkage)
        {
            return Err(format!("the shrinkage is {shrinkage} %; it must lie between 0 and 10 %"));
        }
        if !(0.0..=0.5).contains(&self.texture) {
            return Err(format!("the texture is {} mm deep; it must lie between 0 and 0.5 mm", self.texture));
        }
        Ok(())
    }
}
