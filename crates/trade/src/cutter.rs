//! A cutter that the toolmaker has.

use crate::range::Within;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Cutters of one job.
pub const MOST_CUTTERS: usize = 12;

/// A cutter that turns. Lengths are the steel's.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Cutter {
    /// At its tip, mm; 0 of one that is pointed.
    pub diameter: f64,
    /// Degrees that its flank leans out on each side.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub taper: f64,
    /// Round between its tip and its flank, mm.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub corner: f64,
    /// How deep it cuts before what holds it touches the steel, mm; left out, deep enough for everything.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub reach: Option<f64>,
}

impl Cutter {
    /// A straight one that cuts square corners.
    #[must_use]
    pub fn straight(diameter: f64) -> Self {
        Self { diameter, taper: 0.0, corner: 0.0, reach: None }
    }

    /// How it is called among others.
    #[must_use]
    pub fn name(&self) -> String {
        let mut name = if self.diameter > 0.0 { format!("Ø {:.2}", self.diameter) } else { "point".to_owned() };
        if self.taper > 0.0 {
            name += &format!(", {}° a side", self.taper);
        }
        if self.corner > 0.0 {
            name += &format!(", R {}", self.corner);
        }
        if let Some(reach) = self.reach {
            name += &format!(", {reach} mm long");
        }
        name
    }

    /// How wide it is so far over its tip, mm.
    #[must_use]
    pub fn wide_at(&self, height: f64) -> f64 {
        self.diameter + 2.0 * height * self.taper.to_radians().tan()
    }

    /// How deep it cuts a groove that is so wide at the surface, mm; `None` where it can't or needn't.
    #[must_use]
    pub fn depth_for(&self, wide: f64) -> Option<f64> {
        let deep = (wide - self.diameter) / (2.0 * self.taper.to_radians().tan());
        (self.taper > 0.0 && deep > 0.0).then_some(deep)
    }

    pub(crate) fn check(&self, within: Within<'_>) -> Result<(), String> {
        within("diameter of the cutter", self.diameter, 0.0..=50.0, " mm")?;
        within("taper of the cutter", self.taper, 0.0..=60.0, "° a side")?;
        within("corner radius of the cutter", self.corner, 0.0..=self.diameter / 2.0, " mm, half its diameter")?;
        if let Some(reach) = self.reach {
            within("reach of the cutter", reach, 0.05..=200.0, " mm")?;
        }
        if self.diameter < 0.01 && self.taper <= 0.0 {
            return Err("a cutter without a taper has a diameter of at least 0.01 mm".into());
        }
        Ok(())
    }
}

/// What is wrong with the cutters of a job.
pub(crate) fn check(cutters: &[Cutter], within: Within<'_>) -> Result<(), String> {
    if cutters.len() > MOST_CUTTERS {
        return Err(format!("there are {} cutters; at most {MOST_CUTTERS} are kept with a job", cutters.len()));
    }
    cutters.iter().try_for_each(|cutter| cutter.check(within))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::range::within;

    #[test]
    fn a_pointed_cutter_is_as_wide_as_its_flanks_make_it() {
        // 45° a side: as wide as it is deep, twice over
        let pointed = Cutter { taper: 45.0, ..Cutter::straight(0.0) };
        assert!((pointed.wide_at(0.3) - 0.6).abs() < 1e-12 && (pointed.depth_for(0.6).unwrap() - 0.3).abs() < 1e-12);
        assert_eq!(Cutter::straight(0.4).depth_for(0.6), None);
        assert_eq!(Cutter { taper: 10.0, corner: 0.05, ..Cutter::straight(0.2) }.name(), "Ø 0.20, 10° a side, R 0.05");
    }

    #[test]
    fn what_is_no_cutter_is_told() {
        assert!(Cutter::straight(0.3).check(&within).is_ok());
        assert!(Cutter::straight(0.0).check(&within).unwrap_err().contains("without a taper"));
        let round = Cutter { corner: 0.2, ..Cutter::straight(0.3) };
        assert!(round.check(&within).unwrap_err().contains("corner radius"));
        assert!(check(&[Cutter::straight(0.3); 13], &within).unwrap_err().contains("at most 12"));
        assert!(Cutter { reach: Some(f64::NAN), ..Cutter::straight(0.3) }.check(&within).is_err());
    }
}
