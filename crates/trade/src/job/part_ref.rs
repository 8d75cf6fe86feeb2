//! The part file that a job was made for.

use crate::{
    length::Unit,
    mend::{BodySide, FaceMend, PartMend},
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The part file a job was made for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PartRef {
    /// Name of the file; `tinbadge run` looks for it beside the job file.
    pub file: String,
    /// SHA-256 of its bytes, hexadecimal; left out, the file is not compared.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub sha256: Option<String>,
    /// The unit it is drawn in, where the format does not say.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub unit: Option<Unit>,
    /// Which bodies of a file with several make up the part, by their places from 0; left out, all.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub bodies: Option<Vec<u32>>,
    /// What is mended in the file's mesh, in this order, before anything else is done with it.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub mends: Vec<PartMend>,
    /// The part is a surface body, not a solid with a hole in its surface: marks on it are bodies
    /// of their own. Left out, it is one where its file says so.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub surface_body: Option<BodySide>,
    /// Faces joined and divided by hand, in this order, once the mesh's faces are found.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub face_mends: Vec<FaceMend>,
    /// The revision of the part that this one took the place of, to be compared with.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub replaces: Option<Replaced>,
}

/// An earlier revision of the part, as it was read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Replaced {
    pub file: String,
    pub sha256: String,
    pub unit: Option<Unit>,
    pub bodies: Option<Vec<u32>>,
    pub mends: Vec<PartMend>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub surface_body: Option<BodySide>,
}

impl PartRef {
    /// A part as its file has it, all bodies taken and nothing mended.
    #[must_use]
    pub fn of_file(file: &str, unit: Option<Unit>) -> Self {
        Self {
            file: file.into(),
            sha256: None,
            unit,
            bodies: None,
            mends: Vec::new(),
            surface_body: None,
            face_mends: Vec::new(),
            replaces: None,
        }
    }
}

impl From<Replaced> for PartRef {
    fn from(r: Replaced) -> Self {
        Self {
            sha256: Some(r.sha256),
            bodies: r.bodies,
            mends: r.mends,
            surface_body: r.surface_body,
            ..Self::of_file(&r.file, r.unit)
        }
    }
}
