//! What a mark sits on, by the numbers of faces.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What a mark sits on, by the numbers of faces in the part as it was read; `faces_at` of the job says where
/// these lie, for a version of the program that numbers them otherwise.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SeatRef {
    pub face: u32,
    /// Neighbouring faces that belong to the seat too: it goes on over their common edges.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub with: Vec<u32>,
}

/// Most faces of one seat.
pub const MOST_SEAT_FACES: usize = 12;

impl SeatRef {
    /// A seat of one face.
    #[must_use]
    pub fn on(face: u32) -> Self {
        Self { face, with: Vec::new() }
    }

    /// All its faces, the first one first.
    #[must_use]
    pub fn faces(&self) -> Vec<u32> {
        std::iter::once(self.face).chain(self.with.iter().copied()).collect()
    }

    pub(crate) fn check(&self) -> Result<(), String> {
        let mut faces = self.faces();
        if faces.len() > MOST_SEAT_FACES {
            return Err(format!("a seat has at most {MOST_SEAT_FACES} faces"));
        }
        faces.sort_unstable();
        if faces.windows(2).any(|pair| pair[0] == pair[1]) {
            return Err("its seat names a face twice".into());
        }
        Ok(())
    }
}
