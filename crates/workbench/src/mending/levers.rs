//! What can be set otherwise about a mark to mend a finding, in steps that a drawing would carry.

use self::Way::{Less, More};
use super::trial::Trial;
use crate::section::said::Names;
use crate::{forming, steps::Steps, ties};
use glam::{DVec2, DVec3};
use inspection::{Check, Finding};
use relief::place::{about, place, shifted};
use serde_json::{Map, Value};
use std::cmp::Ordering;
use trade::{
    Baseline, FitBy, Fixed, Job, Mark, MeasuredAt, Pad, PadForm, Place, Placement, SeatRef, Sense, Walls,
    mark::CAP_HEIGHTS,
};

/// Draft of a pad's own walls at least, degrees.
const PAD_DRAFT: f64 = 3.0;

/// A way to change a mark, further with every step.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Lever {
    /// By half a degree.
    Draft(Way),
    /// By 0.05 mm.
    Height(Way),
    /// By 0.1 mm.
    CapHeight(Way),
    /// By 0.05 mm.
    Stroke(Way),
    /// By 5 % of the face's own.
    Width(Way),
    /// By 0.05 mm.
    Spacing(Way),
    /// By 0.1 mm.
    LineGap(Way),
    /// By 0.05 mm.
    Root(Way),
    /// By 0.1 mm on the strip.
    To(Side),
    /// By 5° counter-clockwise or clockwise.
    Turn(Way),
    /// Quarters of a turn.
    Quarters(u8),
    Walls,
    MeasuredAt,
    Placement(Placement),
    Sense,
    /// One of the lettering faces that ship, by its place in their list.
    Face(usize),
    /// A raised pad under it, as high as its relief.
    Pad,
    /// In the middle of another face of the part.
    Seat(u32),
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Way {
    More,
    Less,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Side {
    Right,
    Left,
    Up,
    Down,
}

impl Side {
    const ALL: [Self; 4] = [Self::Right, Self::Left, Self::Up, Self::Down];

    fn along(self) -> DVec2 {
        match self {
            Self::Right => DVec2::X,
            Self::Left => -DVec2::X,
            Self::Up => DVec2::Y,
            Self::Down => -DVec2::Y,
        }
    }

    fn word(self) -> &'static str {
        match self {
            Self::Right => "to the right",
            Self::Left => "to the left",
            Self::Up => "up",
            Self::Down => "down",
        }
    }
}

/// Levers that can move a finding, the likeliest first, without those that change what is to stay.
pub(super) fn of(finding: &Finding, trial: &Trial<'_>, job: &Job, at: usize) -> Vec<Lever> {
    let mark = &job.marks[at];
    use Lever::{
        CapHeight, Draft, Height, LineGap, MeasuredAt, Pad, Quarters, Root, Sense, Spacing, Stroke, To, Turn, Walls,
        Width,
    };
    let sides = Side::ALL.map(To);
    let faces = || (0..lettering::faces().len()).map(Lever::Face).collect::<Vec<_>>();
    let placements = [Placement::Wrapped, Placement::Projected, Placement::ProjectedAlongPull].map(Lever::Placement);
    let mut levers: Vec<Lever> = match finding.check {
        Check::Draft | Check::Release => {
            let mut all = vec![Draft(More), Walls];
            all.extend(sides);
            all.extend(placements);
            all.extend([Quarters(1), Quarters(2), Quarters(3)]);
            all
        }
        Check::UniformDepth => {
            [placements.to_vec(), sides.to_vec(), vec![CapHeight(Less), Height(Less), Height(More), Pad]].concat()
        }
        Check::ReliefHeight => vec![Height(More), Height(Less), CapHeight(Less)],
        Check::CapHeight => vec![CapHeight(More)],
        Check::Stroke => [vec![Stroke(More), CapHeight(More), Draft(Less), MeasuredAt, Height(Less)], faces()].concat(),
        Check::StrokeToHeight => [vec![Height(Less), Stroke(More), CapHeight(More)], faces()].concat(),
        Check::StrokeToCap => [vec![Stroke(More), CapHeight(Less)], faces()].concat(),
        Check::Counter => {
            [vec![CapHeight(More), Stroke(Less), Draft(Less), Height(Less), Width(More), MeasuredAt], faces()].concat()
        }
        Check::Gap => {
            [vec![Spacing(More), Draft(Less), Height(Less), Stroke(Less), CapHeight(More), MeasuredAt], faces()]
                .concat()
        }
        Check::WordGap => {
            [vec![Spacing(More), Width(Less), CapHeight(More), Draft(Less), Height(Less)], faces()].concat()
        }
        Check::LineGap => vec![LineGap(More), CapHeight(Less), Draft(Less), Height(Less)],
        Check::Island => [vec![CapHeight(More), Stroke(More)], faces()].concat(),
        Check::Steel => {
            [vec![Spacing(More), CapHeight(More), Stroke(Less), Stroke(More), Draft(Less), Height(Less)], faces()]
                .concat()
        }
        Check::InnerCorner => vec![Root(More)],
        Check::Parting | Check::Clearance | Check::KeepOuts | Check::Complete => [
            sides.to_vec(),
            vec![
                CapHeight(Less),
                Width(Less),
                Spacing(Less),
                Turn(More),
                Turn(Less),
                Height(Less),
                Draft(Less),
                Draft(More),
                Walls,
            ],
            vec![Quarters(1), Quarters(2), Quarters(3)],
        ]
        .concat(),
        Check::Wall => [vec![Height(Less), Sense, Pad], sides.to_vec()].concat(),
        // what it says would have to be another text
        Check::LookAlikes => return Vec::new(),
    };
    // where what is round it stands against it, it may stand elsewhere
    if matches!(
        finding.check,
        Check::Draft
            | Check::Release
            | Check::UniformDepth
            | Check::Wall
            | Check::Parting
            | Check::Clearance
            | Check::KeepOuts
            | Check::Complete
    ) {
        levers.extend(other_faces(trial, job, at).into_iter().map(Lever::Seat));
    }
    // the other way round at last: it is another mark
    if finding.check != Check::Wall && mark.relief.sense.has_relief() {
        levers.push(Sense);
    }
    // what a style shares is changed for all marks of it
    let alike: Vec<&Mark> = job.marks.iter().filter(|m| mark.style.is_some() && m.style == mark.style).collect();
    levers.retain(|lever| {
        let value = lever.changes();
        let shared = !matches!(value, Fixed::Place | Fixed::Turn | Fixed::Placement | Fixed::Seat);
        let keeps = |m: &Mark| m.fixed.contains(&value);
        !keeps(mark) && (!shared || !alike.iter().any(|m| keeps(m)))
    });
    levers
}

/// Faces that are tried in place of the one that a mark stands on.
const OTHER_FACES: usize = 4;

/// Other faces of the part on which a mark may find room: those that look along the pull first, of these those that look most the
/// same way, then the largest.
fn other_faces(trial: &Trial<'_>, job: &Job, at: usize) -> Vec<u32> {
    let mark = &job.marks[at];
    let here = trial.seat(&mark.seat, forming::unit_pull(&job.tool)).ok().and_then(|seat| {
        let (length, _) = place(mark, &seat).ok().map(|p| (p.length, p.middle))?;
        Some((seat.chart.normal(seat.chart.off_grid((seat.start + seat.end) / 2.0)), length))
    });
    let Some((out, length)) = here.filter(|_| matches!(mark.place.baseline, Baseline::Straight)) else {
        return Vec::new();
    };
    let part = trial.part();
    // with half a capital clear all round
    let asks = (length + mark.lettering.cap_height) * 2.0 * mark.lettering.cap_height;
    let pull = forming::unit_pull(&job.tool);
    let mut faces: Vec<(u32, [f64; 3])> = (0..part.faces.len() as u32)
        .filter(|face| {
            mark.seat.face != *face && !mark.seat.with.contains(face) && part.faces[*face as usize].area > asks
        })
        .map(|face| {
            let facets = part.triangles_of(face);
            let looks: DVec3 = facets.map(|t| part.mesh.cross(t as usize)).sum();
            let looks = looks.normalize_or_zero();
            // in steps of a third, so that of several alike the largest comes first
            let third = |cos: f64| (cos * 3.0).round();
            let along = pull.map_or(0.0, |pull| third(looks.dot(pull).abs()));
            (face, [along, third(looks.dot(out)), part.faces[face as usize].area])
        })
        .collect();
    faces.sort_by(|(_, a), (_, b)| b.partial_cmp(a).unwrap_or(Ordering::Equal));
    faces.into_iter().take(OTHER_FACES).map(|(face, _)| face).collect()
}

impl Lever {
    /// Which value of the mark it changes.
    pub(super) fn changes(self) -> Fixed {
        match self {
            Self::Draft(_) => Fixed::Draft,
            Self::Height(_) => Fixed::ReliefHeight,
            Self::CapHeight(_) => Fixed::CapHeight,
            Self::Stroke(_) => Fixed::Stroke,
            Self::Width(_) => Fixed::Width,
            Self::Spacing(_) => Fixed::Spacing,
            Self::LineGap(_) => Fixed::LineGap,
            Self::Root(_) => Fixed::Root,
            Self::To(_) => Fixed::Place,
            Self::Turn(_) | Self::Quarters(_) => Fixed::Turn,
            Self::Walls => Fixed::Walls,
            Self::MeasuredAt => Fixed::MeasuredAt,
            Self::Placement(_) => Fixed::Placement,
            Self::Sense => Fixed::Sense,
            Self::Face(_) => Fixed::Face,
            Self::Pad => Fixed::Pad,
            Self::Seat(_) => Fixed::Seat,
        }
    }

    /// Steps that it can be moved at most.
    pub(super) fn most_steps(self) -> u32 {
        match self {
            Self::Draft(_) => 60,
            Self::Height(_) | Self::Stroke(_) | Self::Spacing(_) => 40,
            Self::CapHeight(_) => 50,
            Self::LineGap(_) => 30,
            Self::Width(_) | Self::Root(_) => 10,
            Self::To(_) => 150,
            Self::Turn(_) => 9,
            _ => 1,
        }
    }

    /// The mark moved by so many steps; `None` where that can't be set, or changes nothing.
    pub(super) fn moved(self, trial: &Trial<'_>, job: &Job, at: usize, steps: u32) -> Option<Mark> {
        let before = &job.marks[at];
        let mut mark = before.clone();
        let by = |way: Way, step: f64| if way == More { step * f64::from(steps) } else { -step * f64::from(steps) };
        // onto the next whole step, then on from there
        let to = |value: f64, way: Way, step: f64| {
            let whole = value / step;
            let first = if way == More { (whole + 1e-6).floor() } else { (whole - 1e-6).ceil() };
            // sums of steps are written with three digits
            ((first * step + by(way, step)) * 1000.0).round() / 1000.0
        };
        let (relief, letters) = (&mut mark.relief, &mut mark.lettering);
        match self {
            Self::Draft(way) => relief.draft = to(relief.draft, way, 0.5),
            Self::Height(way) => {
                relief.height = to(relief.height, way, 0.05);
                if relief.through {
                    return None;
                }
            }
            Self::CapHeight(way) => {
                // a height that follows from a length is not set
                if letters.fit.is_some_and(|fit| fit.by == FitBy::Height) || before.figure.is_some() {
                    return None;
                }
                letters.cap_height = to(letters.cap_height, way, 0.1);
                // lines stay as far apart, in capitals
                letters.line_gap =
                    (before.lettering.line_gap * letters.cap_height / before.lettering.cap_height * 1000.0).round()
                        / 1000.0;
                if !CAP_HEIGHTS.contains(&letters.cap_height) {
                    return None;
                }
            }
            Self::Stroke(way) => {
                let own = lettering::stem(letters, letters.cap_height).unwrap_or_else(|| letters.cutter_width());
                letters.stroke = Some(to(letters.stroke.unwrap_or(own), way, 0.05)).filter(|stroke| *stroke >= 0.05);
                letters.stroke?;
            }
            Self::Width(way) => {
                if letters.fit.is_some_and(|fit| fit.by == FitBy::Width) {
                    return None;
                }
                letters.width = to(letters.width, way, 0.05);
            }
            Self::Spacing(way) => {
                if letters.fit.is_some_and(|fit| fit.by == FitBy::Spacing) {
                    return None;
                }
                letters.spacing = to(letters.spacing, way, 0.05);
            }
            Self::LineGap(way) => letters.line_gap = to(letters.line_gap, way, 0.1),
            Self::Root(way) => relief.root = to(relief.root, way, 0.05).min(relief.height),
            Self::Turn(way) => mark.place.turn = turned(mark.place.turn + by(way, 5.0)),
            Self::Quarters(quarters) => mark.place.turn = turned(mark.place.turn + 90.0 * f64::from(quarters)),
            Self::To(side) => {
                let pull = forming::unit_pull(&job.tool);
                let settled = ties::settled(trial, &job.marks, before, pull).ok()?;
                let seat = trial.seat(&before.seat, pull).ok()?;
                let placed = place(&settled, &seat).ok()?;
                let (seat, placed) = about(&settled, seat, placed);
                mark.place = shifted(&before.place, &placed, &seat, side.along() * 0.1 * f64::from(steps));
            }
            Self::Walls => relief.walls = if relief.walls == Walls::Seat { Walls::Pull } else { Walls::Seat },
            Self::MeasuredAt => {
                relief.measured_at =
                    if relief.measured_at == MeasuredAt::Top { MeasuredAt::Root } else { MeasuredAt::Top };
            }
            Self::Placement(placement) => {
                if !matches!(before.place.baseline, Baseline::Straight) {
                    return None;
                }
                mark.place.placement = placement;
            }
            Self::Sense => {
                relief.sense = match relief.sense {
                    Sense::Raised => Sense::Sunken,
                    Sense::Sunken => Sense::Raised,
                    _ => return None,
                };
                relief.through = false;
            }
            Self::Face(face) => {
                if before.figure.is_some() {
                    return None;
                }
                letters.face = lettering::faces().get(face)?.id.into();
                letters.own = None;
            }
            Self::Pad => {
                if relief.pad.is_some() || relief.through || !relief.sense.has_relief() {
                    return None;
                }
                let draft = relief.draft.max(PAD_DRAFT);
                relief.pad = Some(Pad { form: PadForm::Raised, height: relief.height, draft, clears: 0.0 });
                // room of half a capital and more between letters and edge
                relief.field.margin = (60.0 * letters.cap_height).round() / 100.0;
                relief.runs_out = false;
            }
            Self::Seat(face) => {
                mark.seat = SeatRef::on(face);
                let Place { turn, placement, .. } = before.place;
                mark.place = Place { turn, placement, ..Place::default() };
            }
        }
        (mark != *before).then_some(mark)
    }

    /// The change in a few words.
    pub(super) fn says(self, before: &Mark, after: &Mark, steps: u32, names: Names<'_>) -> String {
        let (was, is) = (&before.relief, &after.relief);
        let (from, to) = (&before.lettering, &after.lettering);
        match self {
            Self::Draft(_) => format!("draft {:.1}° → {:.1}°", was.draft, is.draft),
            Self::Height(_) => {
                let word = if was.sense.sinks() { "depth" } else { "relief height" };
                format!("{word} {:.2} → {:.2} mm", was.height, is.height)
            }
            Self::CapHeight(_) => format!("cap height {:.2} → {:.2} mm", from.cap_height, to.cap_height),
            Self::Stroke(_) => {
                let own = || lettering::stem(from, from.cap_height).unwrap_or_else(|| from.cutter_width());
                format!("stroke {:.2} → {:.2} mm", from.stroke.unwrap_or_else(own), to.stroke.unwrap_or_default())
            }
            Self::Width(_) => format!("letters {:.0} % → {:.0} % wide", 100.0 * from.width, 100.0 * to.width),
            Self::Spacing(_) => format!("extra spacing {:.2} → {:.2} mm", from.spacing, to.spacing),
            Self::LineGap(_) => format!("gap between lines {:.2} → {:.2} mm", from.line_gap, to.line_gap),
            Self::Root(_) => format!("root radius {:.2} → {:.2} mm", was.root, is.root),
            Self::To(side) => format!("move {:.1} mm {}", 0.1 * f64::from(steps), side.word()),
            Self::Turn(_) | Self::Quarters(_) => {
                format!("turn {:.0}° → {:.0}°", before.place.turn, after.place.turn)
            }
            Self::Walls => format!("walls square to the {}", if is.walls == Walls::Seat { "seat" } else { "pull" }),
            Self::MeasuredAt => {
                let level = match (is.measured_at, is.sense.sinks()) {
                    (MeasuredAt::Top, false) => "top",
                    (MeasuredAt::Root, false) => "root",
                    (MeasuredAt::Top, true) => "floor",
                    (MeasuredAt::Root, true) => "rim",
                };
                format!("size measured at the {level}")
            }
            Self::Placement(placement) => match placement {
                Placement::Wrapped => "wrapped on the seat".into(),
                Placement::Projected => "projected square to the seat".into(),
                Placement::ProjectedAlongPull => "projected along the pull".into(),
            },
            Self::Sense => {
                (if is.sense == Sense::Raised { "raised in place of sunken" } else { "sunken in place of raised" })
                    .into()
            }
            Self::Face(face) => format!("lettering face {}", lettering::faces().get(face).map_or("", |f| f.name)),
            Self::Pad => format!("on a raised pad, {:.2} mm high", is.pad.map_or(0.0, |pad| pad.height)),
            Self::Seat(face) => format!("to the middle of another face, {}", names.face(face)),
        }
    }

    /// How far a change is from what was set. What is seen less costs less; another look of the mark costs most.
    pub(super) fn cost(self, steps: u32) -> f64 {
        let steps = f64::from(steps);
        match self {
            Self::Draft(_) => 0.25 * steps,
            Self::Height(_) => 0.4 * steps,
            Self::CapHeight(_) | Self::Spacing(_) | Self::Stroke(_) => 0.5 * steps,
            Self::Width(_) => 0.8 * steps,
            Self::LineGap(_) | Self::To(_) => 0.15 * steps,
            Self::Root(_) => 0.5 * steps,
            Self::Turn(_) => 2.0 * steps,
            Self::MeasuredAt => 1.0,
            Self::Walls => 1.5,
            Self::Placement(_) => 4.0,
            Self::Quarters(_) => 8.0,
            Self::Face(_) => 9.0,
            Self::Sense => 12.0,
            Self::Pad => 13.0,
            Self::Seat(_) => 14.0,
        }
    }
}

fn turned(degrees: f64) -> f64 {
    let within = degrees.rem_euclid(360.0);
    if within > 180.0 { within - 360.0 } else { within }
}

/// What is set otherwise in `after`, as a merge patch of `before`; another tie, baseline or date stands as a whole.
pub(super) fn settings(before: &Mark, after: &Mark) -> Value {
    let value = |mark: &Mark| serde_json::to_value(mark).expect("a mark has string keys and finite numbers");
    otherwise(&value(before), &value(after)).unwrap_or_else(|| Value::Object(Map::new()))
}

fn otherwise(before: &Value, after: &Value) -> Option<Value> {
    if before == after {
        return None;
    }
    match (before, after) {
        (Value::Object(was), Value::Object(is))
            if !["tie", "line", "date"].iter().any(|tag| was.contains_key(*tag)) =>
        {
            let changes = is.iter().filter_map(|(key, value)| {
                Some((key.clone(), otherwise(was.get(key).unwrap_or(&Value::Null), value)?))
            });
            Some(Value::Object(changes.collect()))
        }
        _ => Some(after.clone()),
    }
}
