//! The bodies of a mark as the steel has them: what is cut into it, and what is left standing.

use crate::{Frame, SteelError};
use relief::{BuiltMark, CharacterBody};
use solid::{Mesh, boolean::Body};

/// Which way round it is in the steel.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Form {
    /// Raised on the part: cut into the steel.
    Engraving,
    /// Sunken on the part: it stands up in the steel.
    StandingForm,
}

impl Form {
    pub const ALL: [Self; 2] = [Self::Engraving, Self::StandingForm];

    /// As it stands in file names.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Engraving => "engraving",
            Self::StandingForm => "standing-form",
        }
    }

    pub(crate) fn has(self, built: &BuiltMark, body: &CharacterBody) -> bool {
        built.relief(body.character).sense.sinks() == (self == Self::StandingForm)
    }
}

/// What a mark has of one form: its letters and pads of that sense, joined. It reaches a little past the seat, so that it
/// is cut from the steel, or joined to it, without a skin between.
#[derive(Clone, Debug)]
pub struct Engraved {
    pub form: Form,
    /// In the steel.
    pub mesh: Mesh,
    /// The deepest of an engraving, the tallest of a standing form, mm in the steel: from the seat, or, on a pad of the other
    /// sense, from that. `None` for what goes through the wall.
    pub height: Option<f64>,
}

/// All forms of a mark, in the coordinates of its steel.
///
/// # Errors
/// Its bodies can't be joined.
pub fn engraved(built: &BuiltMark, frame: &Frame) -> Result<Vec<Engraved>, SteelError> {
    let mut all = Vec::new();
    for form in Form::ALL {
        let bodies = built.bodies.iter().chain(&built.pad).filter(|b| form.has(built, b));
        let own: Vec<&CharacterBody> = bodies.filter(|b| built.relief(b.character).sense.has_relief()).collect();
        if let Some(mesh) = united(own.iter().map(|b| &b.mesh))? {
            // letters stand on a pad of their own sense, and the higher for it
            let pad = built.pad.iter().find(|b| form.has(built, b)).map_or(0.0, |b| built.relief(b.character).height);
            let tall = own.iter().map(|b| {
                let on_pad = built.placed.characters.get(b.character as usize).is_some();
                built.relief(b.character).height + if on_pad { pad } else { 0.0 }
            });
            let through = form == Form::StandingForm && built.mark.relief.through;
            let height = (!through).then(|| tall.fold(0.0, f64::max) * frame.scale);
            all.push(Engraved { form, mesh: frame.mesh(&mesh), height });
        }
    }
    Ok(all)
}

/// Bodies joined to one mesh; nothing of none.
pub(crate) fn united<'a>(bodies: impl Iterator<Item = &'a Mesh>) -> Result<Option<Mesh>, SteelError> {
    let bodies: Vec<Body> = bodies.map(|mesh| Body::new(mesh, "a letter")).collect::<Result<_, _>>().map_err(joined)?;
    let Some((first, rest)) = bodies.split_first() else { return Ok(None) };
    Ok(Some(first.with(rest, &[]).map_err(joined)?.traced().mesh))
}

pub(crate) fn joined(e: solid::boolean::BooleanError) -> SteelError {
    SteelError::new(format!("its bodies can't be joined: {e}"))
}
