//! How cavities are arranged on a tool plate, and in which order they are numbered.

use super::{FARTHEST, MOST_CAVITIES};
use serde::{Deserialize, Serialize};

/// How cavities are arranged and numbered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "layout", deny_unknown_fields)]
pub enum Layout {
    Rows {
        /// How many to the right and up.
        across: u32,
        up: u32,
        /// From middle to middle, mm.
        pitch: [f64; 2],
        /// The corner of the first.
        first: Corner,
        /// Numbered up each column instead of along each row.
        by_columns: bool,
        /// Every other row is numbered the other way.
        back_and_forth: bool,
        /// Every other row, or column where these are numbered, lies turned by half.
        turned: bool,
    },
    Circle {
        count: u32,
        /// mm.
        radius: f64,
        /// Where the first lies, from the right counter-clockwise, degrees.
        first: f64,
        clockwise: bool,
        /// Tops outward; else all lie upright.
        turned: bool,
    },
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Corner {
    LowerLeft,
    LowerRight,
    UpperLeft,
    UpperRight,
}

impl Layout {
    /// # Errors
    /// What is out of range.
    pub fn check(&self) -> Result<(), String> {
        let count = self.count();
        if count == 0 || count > MOST_CAVITIES {
            return Err(format!("{count} cavities; between 1 and {MOST_CAVITIES} can be arranged"));
        }
        let reach = match *self {
            Self::Rows { across, up, pitch, .. } => {
                if pitch.iter().any(|p| !(0.1..=FARTHEST).contains(p)) {
                    return Err(format!("cavities lie between 0.1 and {FARTHEST} mm apart"));
                }
                f64::max(pitch[0] * f64::from(across), pitch[1] * f64::from(up)) / 2.0
            }
            Self::Circle { radius, first, .. } => {
                if !(0.1..=FARTHEST).contains(&radius) || !(-360.0..=360.0).contains(&first) {
                    return Err(format!(
                        "the circle's radius lies between 0.1 and {FARTHEST} mm, its first place within once round"
                    ));
                }
                radius
            }
        };
        if reach > FARTHEST {
            return Err(format!("the plate would reach {reach:.0} mm from its middle; at most {FARTHEST} mm"));
        }
        Ok(())
    }

    #[must_use]
    pub fn count(&self) -> usize {
        match *self {
            Self::Rows { across, up, .. } => (across as usize).saturating_mul(up as usize),
            Self::Circle { count, .. } => count as usize,
        }
    }

    /// Places and turns, in the order of their numbers.
    #[must_use]
    pub fn places(&self) -> Vec<([f64; 2], f64)> {
        match *self {
            Self::Rows { across, up, pitch, first, by_columns, back_and_forth, turned } => {
                let (lines, along) = if by_columns { (across, up) } else { (up, across) };
                let mut places = Vec::with_capacity(self.count());
                for line in 0..lines {
                    for k in 0..along {
                        let k = if back_and_forth && line % 2 == 1 { along - 1 - k } else { k };
                        let (column, row) = if by_columns { (line, k) } else { (k, line) };
                        let right = matches!(first, Corner::LowerRight | Corner::UpperRight);
                        let upper = matches!(first, Corner::UpperLeft | Corner::UpperRight);
                        let column = if right { across - 1 - column } else { column };
                        let row = if upper { up - 1 - row } else { row };
                        let middle = |n: u32, of: u32, pitch: f64| (f64::from(n) - f64::from(of - 1) / 2.0) * pitch;
                        let at = [middle(column, across, pitch[0]), middle(row, up, pitch[1])];
                        places.push((at, if turned && line % 2 == 1 { 180.0 } else { 0.0 }));
                    }
                }
                places
            }
            Self::Circle { count, radius, first, clockwise, turned } => (0..count)
                .map(|k| {
                    let by = 360.0 * f64::from(k) / f64::from(count);
                    let angle = if clockwise { first - by } else { first + by };
                    let (sin, cos) = angle.to_radians().sin_cos();
                    // upright at the top of the circle
                    let turn = if turned { (angle - 90.0).rem_euclid(360.0) } else { 0.0 };
                    ([radius * cos, radius * sin], turn)
                })
                .collect(),
        }
    }
}
