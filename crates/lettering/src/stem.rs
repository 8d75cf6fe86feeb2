//! How wide the stems of a lettering are.

use crate::{faces, outline, own};
use skrifa::FontRef;
use trade::Lettering;

/// Width of an upright stem of a lettering's face at a cap height, mm; `None` for the centre-line alphabet, unknown
/// faces and own ones without a letter to measure it on.
#[must_use]
pub fn stem(lettering: &Lettering, cap_height: f64) -> Option<f64> {
    if let Some(own) = &lettering.own {
        return own::stem(&own.face).map(|share| share * cap_height);
    }
    let (high, stem) = outline::height_and_stem(&FontRef::new(faces::file(&lettering.face)?).ok()?)?;
    Some(stem / high * cap_height)
}
