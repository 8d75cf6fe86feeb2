//! A text made as long as is required.

use crate::{error::LetteringError, lettered::Lettered};
use trade::{Fit, FitBy, Lettering};

/// The settings with the one changed that makes the longest line as long as asked for. Lengths grow
/// in a straight line with spacing and width, and nearly so with height: secants find the value.
pub(crate) fn fitted(
    lettering: &Lettering,
    fit: Fit,
    set: impl Fn(&Lettering) -> Result<Lettered, LetteringError>,
) -> Result<Lettering, LetteringError> {
    let with = |value: f64| match fit.by {
        FitBy::Spacing => Lettering { spacing: value, ..lettering.clone() },
        FitBy::Width => Lettering { width: value, ..lettering.clone() },
        FitBy::Height => Lettering {
            cap_height: value,
            line_gap: lettering.line_gap * value / lettering.cap_height,
            ..lettering.clone()
        },
    };
    let (own, least, most, name) = match fit.by {
        FitBy::Spacing => (lettering.spacing, -lettering.cap_height, 10.0 * lettering.cap_height, "spacing"),
        FitBy::Width => (lettering.width, 0.3, 3.0, "letter width"),
        FitBy::Height => (lettering.cap_height, 0.2, 500.0, "cap height"),
    };
    let length = |value: f64| Ok(set(&with(value))?.size.x - fit.length);
    let no_fit = |why: &str| {
        LetteringError::NoFit(format!("the text can't be made {:.2} mm long by its {name}: {why}", fit.length))
    };
    let (mut a, mut b) = (own, (own + 0.05 * lettering.cap_height).min(most));
    if fit.by == FitBy::Width {
        b = own * 1.05;
    }
    let (mut at_a, mut at_b) = (length(a)?, length(b)?);
    for _ in 0..12 {
        if at_b.abs() < 1e-7 {
            break;
        }
        if (at_b - at_a).abs() < 1e-12 {
            return Err(no_fit("it makes no difference to it"));
        }
        let next = b - at_b * (b - a) / (at_b - at_a);
        if !(least..=most).contains(&next) {
            return Err(no_fit(&format!("it would have to be {next:.2}, outside {least:.1} to {most:.1}")));
        }
        (a, at_a) = (b, at_b);
        (b, at_b) = (next, length(next)?);
    }
    Ok(with(b))
}
