//! The tool: which steel forms what, which way each piece of it leaves, where they meet, and where
//! lettering stays out.

use crate::{area::Area, keep_out::KeepOut};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Two halves and any number of slides.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Tool {
    /// Direction along which the fixed half leaves the part, in part coordinates; any length but
    /// zero. The moving half leaves the other way. `None`: not set yet.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub pull: Option<[f64; 3]>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub slides: Vec<Slide>,
    /// Areas that belong to a steel by hand; a later one outdoes an earlier one.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub assigned: Vec<Assigned>,
    /// Where the steels meet; several may be set, of different kinds.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub parting: Vec<Parting>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub keep_outs: Vec<KeepOut>,
}

/// A piece of steel that leaves sideways before the halves open.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Slide {
    /// Unlike every other slide's of the tool; by it areas and parting lines name the slide.
    pub name: String,
    /// Direction along which it leaves the part, any length but zero.
    pub pull: [f64; 3],
}

/// One piece of the tool.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "steel", deny_unknown_fields)]
pub enum Steel {
    /// The half that leaves along the pull.
    Fixed,
    /// The half that leaves against it.
    Moving,
    Slide {
        name: String,
    },
}

impl Steel {
    /// What it is called.
    #[must_use]
    pub fn name(&self) -> String {
        match self {
            Self::Fixed => "fixed half".into(),
            Self::Moving => "moving half".into(),
            Self::Slide { name } => format!("slide “{name}”"),
        }
    }
}

/// An area that a steel forms whatever the pulls say.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Assigned {
    pub area: Area,
    pub to: Steel,
}

/// One way of drawing a parting line on the part.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "kind", deny_unknown_fields)]
pub enum Parting {
    /// The part cut by the plane square to the pull at `height` mm along it from the part's origin.
    Plane { height: f64 },
    /// The outline of the part seen along the pull, or along a slide's.
    Silhouette {
        #[serde(default)]
        #[cfg_attr(feature = "openapi", schema(required = true))]
        slide: Option<String>,
    },
    /// Edges of the part: for each point the edge between two faces that runs nearest to it.
    Edges { through: Vec<[f64; 3]> },
}

impl Tool {
    /// All pieces of the tool that have a pull, in order: the halves, then the slides.
    #[must_use]
    pub fn steels(&self) -> Vec<(Steel, [f64; 3])> {
        let mut all = Vec::new();
        if let Some(pull) = self.pull {
            all.push((Steel::Fixed, pull));
            all.push((Steel::Moving, pull.map(|c| 0.0 - c)));
        }
        all.extend(self.slides.iter().map(|s| (Steel::Slide { name: s.name.clone() }, s.pull)));
        all
    }

    /// How far along the pull the first parting plane lies from the part's zero, mm.
    #[must_use]
    pub fn parting_plane(&self) -> Option<f64> {
        self.parting.iter().find_map(|p| match p {
            Parting::Plane { height } => Some(*height),
            Parting::Silhouette { .. } | Parting::Edges { .. } => None,
        })
    }

    /// # Errors
    /// The first setting that is wrong, with what would be right.
    pub(crate) fn check(&self) -> Result<(), String> {
        let directed = |what: &str, pull: &[f64; 3]| {
            let longest = pull.iter().fold(0.0_f64, |a, b| a.max(b.abs()));
            if pull.iter().all(|c| c.is_finite()) && longest >= 1e-9 {
                return Ok(());
            }
            Err(format!("{what} {pull:?} has no direction; give three numbers of which one is not 0"))
        };
        if let Some(pull) = &self.pull {
            directed("the pull", pull)?;
        }
        let mut names = std::collections::HashSet::new();
        if self.slides.len() > 100 {
            return Err(format!("the tool has {} slides; at most 100 are kept", self.slides.len()));
        }
        for slide in &self.slides {
            if slide.name.trim().is_empty() || slide.name.chars().count() > 100 {
                return Err("a slide's name has 1 to 100 characters".into());
            }
            if !names.insert(&slide.name) {
                return Err(format!("two slides are called “{}”; each needs a name of its own", slide.name));
            }
            directed(&format!("the pull of slide “{}”", slide.name), &slide.pull)?;
        }
        let known = |name: &String| {
            if names.contains(name) {
                return Ok(());
            }
            Err(format!("there is no slide “{name}” in the tool"))
        };
        for given in &self.assigned {
            given.area.check().map_err(|e| format!("an area assigned to a steel: {e}"))?;
            if let Steel::Slide { name } = &given.to {
                known(name)?;
            }
        }
        for parting in &self.parting {
            match parting {
                Parting::Plane { height } if !height.is_finite() => {
                    return Err("the parting plane's height is not a number".into());
                }
                Parting::Silhouette { slide: Some(slide) } => known(slide)?,
                Parting::Edges { through } => {
                    if through.is_empty() || through.len() > 1000 || !through.iter().flatten().all(|c| c.is_finite()) {
                        return Err("a parting line along edges names 1 to 1000 points of the part".into());
                    }
                }
                Parting::Plane { .. } | Parting::Silhouette { slide: None } => {}
            }
        }
        let mut names = std::collections::HashSet::new();
        for keep_out in &self.keep_outs {
            if !names.insert(&keep_out.name) {
                return Err(format!("two keep-outs are called “{}”; each needs a name of its own", keep_out.name));
            }
            keep_out.check().map_err(|e| format!("keep-out “{}”: {e}", keep_out.name))?;
        }
        Ok(())
    }
}
