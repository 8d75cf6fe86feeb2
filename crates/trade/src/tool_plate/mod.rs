//! The tool plate: where each cavity lies in the tool, how it is turned, and which row of the roster it is.
//!
//! Places are mm from the plate's middle, x to the right and y up, seen from the parting face of the half that the
//! marks lie in. Turns are degrees, counter-clockwise.

mod layout;

pub use layout::{Corner, Layout};

use crate::{
    cavity_id::CavityNaming,
    given::Given,
    roster::{Roster, fresh},
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// Far above any tool's.
pub const MOST_CAVITIES: usize = 1024;
/// Overlaps that are told.
pub const MOST_OVERLAPS: usize = 100;
/// Places and plates beyond this are slips, mm.
const FARTHEST: f64 = 10_000.0;
/// Parts that lie less than this overlapping only touch, mm.
const TOUCHING: f64 = 1e-6;

#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ToolPlate {
    /// In the order in which they were numbered.
    pub cavities: Vec<Cavity>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Cavity {
    /// Unlike every other cavity's of the job, from 1; left out, it gets one.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub id: u32,
    /// Middle of the part.
    pub at: [f64; 2],
    pub turn: f64,
    /// Id of its row; a place without one is left out of the tool.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub row: Option<u32>,
}

impl ToolPlate {
    /// # Errors
    /// What is out of range, or a row that two cavities have.
    pub fn check(&self, roster: &Roster) -> Result<(), String> {
        if self.cavities.len() > MOST_CAVITIES {
            return Err(format!("a tool plate has at most {MOST_CAVITIES} cavities"));
        }
        let (mut rows, mut ids) = (HashSet::new(), HashSet::new());
        for (at, cavity) in self.cavities.iter().enumerate() {
            let within = |v: f64| v.abs() <= FARTHEST;
            if !cavity.at.into_iter().all(within) || !(-360.0..=360.0).contains(&cavity.turn) {
                return Err(format!(
                    "cavity {} lies outside of the plate or is turned by more than once round",
                    at + 1
                ));
            }
            if !ids.insert(cavity.id) {
                return Err(format!("cavity {} has the id {} of another cavity", at + 1, cavity.id));
            }
            if let Some(row) = cavity.row {
                if roster.row(row).is_none() {
                    return Err(format!("cavity {} is of a row that the roster doesn't have", at + 1));
                }
                if !rows.insert(row) {
                    return Err(format!("cavity {} is of a row that another cavity has", at + 1));
                }
            }
        }
        Ok(())
    }

    /// Gives the cavities of a job file that says nothing of their ids their ids.
    pub(crate) fn number(&mut self) {
        let mut fresh = self.fresh(&Given::default());
        for cavity in self.cavities.iter_mut().filter(|c| c.id == 0) {
            cavity.id = fresh.next().unwrap_or_default();
        }
    }

    /// Ids that no cavity has or had, as far as `given` knows.
    pub fn fresh(&self, given: &Given) -> impl Iterator<Item = u32> + use<> {
        fresh(self.cavities.iter().map(|c| c.id).collect(), given.cavity())
    }

    /// Cavities, two by two by their places in the list, the lower first, whose parts' extents lie overlapping;
    /// at most [`MOST_OVERLAPS`]. `part` is the [`footprint`], mm. Places that are left out are in nobody's way.
    #[must_use]
    pub fn overlapping(&self, part: [f64; 2]) -> Vec<[u32; 2]> {
        let laid: Vec<(u32, &Cavity)> = (0..).zip(&self.cavities).filter(|(_, c)| c.row.is_some()).collect();
        let pairs = laid.iter().enumerate().flat_map(|(at, a)| laid[at + 1..].iter().map(move |b| (a, b)));
        let upon = pairs.filter(|((_, a), (_, b))| a.lies_upon(b, part)).map(|((a, _), (b, _))| [*a, *b]);
        upon.take(MOST_OVERLAPS).collect()
    }

    /// Rows that no cavity is of.
    #[must_use]
    pub fn missing<'a>(&self, roster: &'a Roster) -> Vec<&'a crate::Row> {
        let laid: HashSet<u32> = self.cavities.iter().filter_map(|c| c.row).collect();
        roster.rows.iter().filter(|r| !laid.contains(&r.id)).collect()
    }
}

impl Cavity {
    /// Do the extents of their parts lie overlapping? Two rectangles don't where a side of either lies between
    /// them (separating axes).
    fn lies_upon(&self, other: &Self, part: [f64; 2]) -> bool {
        let apart = [other.at[0] - self.at[0], other.at[1] - self.at[1]];
        let squared = |v: [f64; 2]| v[0] * v[0] + v[1] * v[1];
        if squared(apart) >= squared(part) {
            return false;
        }
        let ways = |c: &Self| {
            let (sin, cos) = c.turn.to_radians().sin_cos();
            [[cos, sin], [-sin, cos]]
        };
        let along = |a: [f64; 2], b: [f64; 2]| (a[0] * b[0] + a[1] * b[1]).abs();
        let reach =
            |c: &Self, way| ways(c).into_iter().zip(part).map(|(side, long)| long / 2.0 * along(side, way)).sum();
        let free = |way: [f64; 2]| {
            let both: f64 = [self, other].map(|c| -> f64 { reach(c, way) }).into_iter().sum();
            along(apart, way) > both - TOUCHING
        };
        !ways(self).into_iter().chain(ways(other)).any(free)
    }
}

/// The part's extents across the axis nearest to the pull, mm: to the right and up on the plate. `size` is the part's,
/// along x, y and z.
#[must_use]
pub fn footprint(size: [f64; 3], pull: Option<[f64; 3]>) -> [f64; 2] {
    let [x, y, z] = size;
    let pull = pull.unwrap_or([0.0, 0.0, 1.0]).map(f64::abs);
    if pull[2] >= pull[0] && pull[2] >= pull[1] {
        [x, y]
    } else if pull[1] >= pull[0] {
        [x, z]
    } else {
        [y, z]
    }
}

/// Cavities arranged anew: the rows of the roster in order, each with its ID in `column`. Where there are fewer rows than
/// places, the last row is repeated, under ids that nothing of `given` has had; rows that are left over keep their IDs, and have no place.
///
/// # Errors
/// The layout is out of range.
pub fn arranged(
    layout: &Layout,
    naming: CavityNaming,
    start: u32,
    roster: &mut Roster,
    column: usize,
    given: &Given,
) -> Result<ToolPlate, String> {
    layout.check()?;
    let ids = naming.ids(start, layout.count());
    let mut cavities = Vec::with_capacity(ids.len());
    let mut fresh = ToolPlate::default().fresh(given);
    for (at, ((place, turn), id)) in layout.places().into_iter().zip(ids).enumerate() {
        if at == roster.rows.len() {
            let cells =
                roster.rows.last().map_or_else(|| vec![String::new(); roster.columns.len()], |r| r.cells.clone());
            roster.rows.push(crate::Row { id: roster.fresh(given.row()).next().unwrap_or_default(), cells });
        }
        roster.rows[at].cells[column] = id;
        let id = fresh.next().unwrap_or_default();
        cavities.push(Cavity { id, at: place, turn, row: Some(roster.rows[at].id) });
    }
    Ok(ToolPlate { cavities })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::roster::{Column, ColumnKind, Row};

    fn rows(across: u32, up: u32) -> Layout {
        Layout::Rows {
            across,
            up,
            pitch: [10.0, 20.0],
            first: Corner::LowerLeft,
            by_columns: false,
            back_and_forth: false,
            turned: false,
        }
    }

    fn ats(layout: &Layout) -> Vec<[f64; 2]> {
        layout.places().into_iter().map(|(at, _)| at).collect()
    }

    #[test]
    fn rows_are_numbered_from_a_corner_along_or_up_one_way_or_back_and_forth() {
        assert_eq!(
            ats(&rows(3, 2)),
            [[-10.0, -10.0], [0.0, -10.0], [10.0, -10.0], [-10.0, 10.0], [0.0, 10.0], [10.0, 10.0]]
        );
        let with = |first, by_columns, back_and_forth| match rows(3, 2) {
            Layout::Rows { across, up, pitch, .. } => {
                Layout::Rows { across, up, pitch, first, by_columns, back_and_forth, turned: true }
            }
            other => other,
        };
        let forth = with(Corner::LowerLeft, false, true);
        assert_eq!(ats(&forth)[2..4], [[10.0, -10.0], [10.0, 10.0]]);
        assert_eq!(
            forth.places().iter().map(|(_, turn)| *turn).collect::<Vec<_>>(),
            [0.0, 0.0, 0.0, 180.0, 180.0, 180.0]
        );
        let up = with(Corner::UpperRight, true, false);
        assert_eq!(ats(&up)[..3], [[10.0, 10.0], [10.0, -10.0], [0.0, 10.0]]);
        // every order goes to the same places
        let mut places = ats(&rows(3, 2));
        let mut others = ats(&with(Corner::UpperLeft, true, true));
        for list in [&mut places, &mut others] {
            list.sort_by(|a, b| a[0].total_cmp(&b[0]).then(a[1].total_cmp(&b[1])));
        }
        assert_eq!(places, others);
    }

    #[test]
    fn round_a_circle_tops_look_outward() {
        let circle = Layout::Circle { count: 4, radius: 50.0, first: 90.0, clockwise: true, turned: true };
        let near = |a: f64, b: f64| (a - b).abs() < 1e-9;
        for (((at, turn), wanted), out) in circle
            .places()
            .into_iter()
            .zip([[0.0, 50.0], [50.0, 0.0], [0.0, -50.0], [-50.0, 0.0]])
            .zip([0.0, 270.0, 180.0, 90.0])
        {
            assert!(near(at[0], wanted[0]) && near(at[1], wanted[1]) && near(turn, out), "{at:?} {turn}");
        }
    }

    #[test]
    fn cavities_whose_parts_lie_upon_one_another_are_told() {
        let upon = |cavities: &[(f64, f64, f64)], part| {
            let cavity =
                |(row, &(x, y, turn)): (u32, &(f64, f64, f64))| Cavity { id: row, at: [x, y], turn, row: Some(row) };
            let mut plate = ToolPlate { cavities: (1..).zip(cavities).map(cavity).collect() };
            let found = plate.overlapping(part);
            plate.cavities[0].row = None;
            assert!(plate.overlapping(part).iter().all(|pair| pair[0] != 0), "left out");
            found
        };
        // side by side they touch; a hair nearer they don't
        assert!(upon(&[(0.0, 0.0, 0.0), (10.0, 0.0, 180.0), (0.0, 6.0, 0.0)], [10.0, 6.0]).is_empty());
        assert_eq!(upon(&[(0.0, 0.0, 0.0), (9.99, 0.0, 0.0), (30.0, 0.0, 0.0)], [10.0, 6.0]), [[0, 1]]);
        // squares on their corners: half the diagonals apart and not the sides
        let corner = 10.0 * 2.0_f64.sqrt();
        assert!(upon(&[(0.0, 0.0, 45.0), (corner, 0.0, 45.0)], [10.0, 10.0]).is_empty());
        assert_eq!(upon(&[(0.0, 0.0, 45.0), (corner - 0.01, 0.0, 45.0)], [10.0, 10.0]), [[0, 1]]);
        // one on its corner beside one that stands: a side and half a diagonal apart
        let beside = 5.0 + corner / 2.0;
        assert!(upon(&[(0.0, 0.0, 0.0), (beside, 0.0, -45.0)], [10.0, 10.0]).is_empty());
        assert_eq!(upon(&[(0.0, 0.0, 0.0), (beside - 0.01, 0.0, -45.0)], [10.0, 10.0]), [[0, 1]]);
        // diagonally their boxes meet and they don't
        assert!(upon(&[(0.0, 0.0, 45.0), (8.0, 8.0, 45.0)], [10.0, 10.0]).is_empty());
        let heap: Vec<_> = (0..50).map(|_| (0.0, 0.0, 0.0)).collect();
        assert_eq!(upon(&heap, [10.0, 10.0]).len(), MOST_OVERLAPS);
    }

    #[test]
    fn the_footprint_is_across_the_pull() {
        let size = [3.0, 5.0, 7.0];
        assert_eq!(footprint(size, None), [3.0, 5.0]);
        assert_eq!(footprint(size, Some([0.1, -0.9, 0.2])), [3.0, 7.0]);
        assert_eq!(footprint(size, Some([-1.0, 0.0, 0.0])), [5.0, 7.0]);
    }

    #[test]
    fn laying_cavities_writes_their_ids_and_adds_the_rows_that_are_missing() {
        let columns = ["variant", "cavity"].map(|name| Column { name: name.into(), kind: ColumnKind::Text });
        let row = |id, cells: [&str; 2]| Row { id, cells: cells.map(Into::into).to_vec() };
        let mut roster = Roster { columns: columns.to_vec(), rows: vec![row(4, ["007", "x"]), row(2, ["008", ""])] };
        let plate = arranged(&rows(6, 2), CavityNaming::Numbers, 1, &mut roster, 1, &Given::default()).unwrap();
        assert_eq!(roster.rows[0].cells, ["007", "01"]);
        assert_eq!(roster.rows[11].cells, ["008", "12"]);
        assert_eq!((plate.cavities[0].row, plate.cavities[2].row), (Some(4), Some(5)));
        plate.check(&roster).unwrap();
        assert!(plate.missing(&roster).is_empty());
        // fewer places: the rows that are left over have none
        let plate = arranged(&rows(5, 2), CavityNaming::Letters, 1, &mut roster, 1, &Given::default()).unwrap();
        assert_eq!(plate.missing(&roster).iter().map(|r| r.cells[1].as_str()).collect::<Vec<_>>(), ["11", "12"]);
        let mut twice = plate.clone();
        twice.cavities[1].row = twice.cavities[0].row;
        assert!(twice.check(&roster).unwrap_err().contains("cavity 2 is of a row that another cavity has"));
        for wrong in [
            rows(0, 2),
            rows(2000, 2000),
            Layout::Circle { count: 4, radius: f64::NAN, first: 0.0, clockwise: false, turned: false },
        ] {
            assert!(arranged(&wrong, CavityNaming::Numbers, 1, &mut roster.clone(), 1, &Given::default()).is_err());
        }
    }
}
