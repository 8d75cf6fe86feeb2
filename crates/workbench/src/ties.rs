//! Ties to points of the part and to other marks, looked up: what is left are coordinates of the mark's strip.

use crate::steps::Steps;
use glam::{DVec2, DVec3};
use relief::{PlacedMark, Seat, chart::shifted_to, edge};
use std::{cell::RefCell, collections::HashMap, rc::Rc, sync::Arc};
use trade::{Baseline, BoxSide, Mark, PartPoint, PointKind, Tie};

/// A point of the part that has gone farther than this from where it was tied to is another one, as a share of
/// the part's size.
const MOST_MOVED: f64 = 0.25;

fn name(kind: PointKind) -> &'static str {
    match kind {
        PointKind::Corner => "corner",
        PointKind::Centre => "centre of a hole or round edge",
        PointKind::Halfway => "point halfway along an edge",
    }
}

/// `mark` of a job that holds `marks`, its ties to points and to other marks looked up.
///
/// # Errors
/// No such point or mark, a mark that is laid out nowhere, or marks tied to one another in a circle.
pub fn settled(steps: &impl Steps, marks: &[Mark], mark: &Mark, pull: Option<DVec3>) -> Result<Mark, String> {
    Ties::new(steps, marks, pull).settled(mark)
}

/// The ties of a job's marks, each mark that others are tied to laid out once.
pub struct Ties<'a, S> {
    steps: &'a S,
    marks: &'a [Mark],
    pull: Option<DVec3>,
    laid: RefCell<HashMap<&'a str, Rc<Laid>>>,
}

/// A mark that others are tied to, laid out.
struct Laid {
    seat: Arc<Seat>,
    placed: PlacedMark,
    /// It runs along a line or an edge, so that its box is one on its strip.
    straight: bool,
}

impl<'a, S: Steps> Ties<'a, S> {
    #[must_use]
    pub fn new(steps: &'a S, marks: &'a [Mark], pull: Option<DVec3>) -> Self {
        Self { steps, marks, pull, laid: RefCell::default() }
    }

    /// # Errors
    /// As [`settled`].
    pub fn settled(&self, mark: &Mark) -> Result<Mark, String> {
        self.settle(mark, &mut Vec::new())
    }

    fn settle(&self, mark: &Mark, above: &mut Vec<String>) -> Result<Mark, String> {
        let loose = |tie: &Tie| !matches!(tie, Tie::Point { .. } | Tie::Mark { .. });
        let place = &mark.place;
        if loose(&place.along) && loose(&place.up) {
            return Ok(mark.clone());
        }
        above.push(mark.id.clone());
        let seat = self.steps.seat(&mark.seat, self.pull)?;
        let mut out = mark.clone();
        for (k, tie) in [&place.along, &place.up].into_iter().enumerate() {
            let position = match tie {
                Tie::Point { point, distance } => point_on(self.steps, &seat, point)?[k] + distance,
                Tie::Mark { id, side, distance } => {
                    let (low, high) = box_on(&seat, &*self.laid(id, above)?);
                    let at = match side {
                        BoxSide::Start => low[k],
                        BoxSide::Middle => (low[k] + high[k]) / 2.0,
                        BoxSide::End => high[k],
                    };
                    at + distance
                }
                _ => continue,
            };
            *(if k == 0 { &mut out.place.along } else { &mut out.place.up }) = Tie::At { position };
        }
        above.pop();
        Ok(out)
    }

    fn called(&self, id: &str) -> String {
        self.marks.iter().find(|m| m.id == id).map_or_else(|| id.to_owned(), Mark::called)
    }

    /// The mark that one is tied to.
    fn laid(&self, id: &str, above: &mut Vec<String>) -> Result<Rc<Laid>, String> {
        if let Some(laid) = self.laid.borrow().get(id) {
            return Ok(laid.clone());
        }
        let other = self
            .marks
            .iter()
            .find(|m| m.id == id)
            .ok_or("it is tied to a mark that is gone; tie it to something else")?;
        if above.iter().any(|a| a == id) {
            let circle: Vec<String> =
                above.iter().map(String::as_str).chain([id]).map(|id| format!("“{}”", self.called(id))).collect();
            return Err(format!(
                "marks are tied to one another in a circle ({}); tie one of them to an edge or a place",
                circle.join(" to ")
            ));
        }
        let settled = self.settle(other, above)?;
        let seat = self.steps.seat(&settled.seat, self.pull)?;
        let placed = relief::place::place(&settled, &seat)
            .map_err(|e| format!("it is tied to the mark “{}”, which could not be laid out: {e}", other.called()))?;
        let straight = !matches!(settled.place.baseline, Baseline::Arc { .. });
        let laid = Rc::new(Laid { seat, placed, straight });
        self.laid.borrow_mut().insert(&other.id, laid.clone());
        Ok(laid)
    }
}

/// Grid coordinates of a point of the seat's edges.
fn point_on(steps: &impl Steps, seat: &Seat, wanted: &PartPoint) -> Result<DVec2, String> {
    let near = DVec3::from(wanted.near);
    let what = name(wanted.kind);
    let found = edge::points(seat)
        .into_iter()
        .filter(|p| p.kind == wanted.kind)
        .min_by(|a, b| a.point.distance(near).total_cmp(&b.point.distance(near)))
        .ok_or_else(|| format!("it is tied to a {what}, and its seat has none; tie it to something else"))?;
    if found.point.distance(near) > MOST_MOVED * steps.part().mesh.diagonal() {
        return Err(format!(
            "the {what} that it is tied to is gone: the nearest one is {:.1} mm from where it was; tie it again",
            found.point.distance(near)
        ));
    }
    Ok(seat.chart.grid(seat.own_turn(found.at)))
}

/// Extents of another mark's box on the grid of a seat.
fn box_on(seat: &Seat, Laid { seat: its, placed, straight }: &Laid) -> (DVec2, DVec2) {
    if its.faces == seat.faces && *straight {
        return (placed.low, placed.high);
    }
    let near = seat.chart.grid(seat.strip(its.chart.point(placed.middle, 0.0)));
    let mut last = near;
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for &p in &placed.outline {
        let there = seat.chart.grid(seat.strip(its.chart.point(p, 0.0)));
        last = shifted_to(there, last, seat.chart.period());
        (low, high) = (low.min(last), high.max(last));
    }
    (low, high)
}
