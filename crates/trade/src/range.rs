//! How settings are held to their ranges.

/// Refuses a setting, by its name, value and unit, that lies out of its range.
pub(crate) type Within<'a> = &'a dyn Fn(&str, f64, std::ops::RangeInclusive<f64>, &str) -> Result<(), String>;

/// Refuses a setting, by its name, value and unit, that lies out of its range.
pub(crate) fn within(name: &str, value: f64, range: std::ops::RangeInclusive<f64>, unit: &str) -> Result<(), String> {
    if range.contains(&value) {
        Ok(())
    } else {
        Err(format!("{name} is {value}{unit}; it must lie between {} and {}{unit}", range.start(), range.end()))
    }
}
