//! Edits of marks: where they sit, what they share, repeats of them.

use super::{find, surface};
use crate::{
    handlers::faces,
    problem::{Problem, sentence},
};
use glam::{DVec2, DVec3};
use serde_json::{Value, json};
use trade::{
    Baseline, Job, Justify, Mark, OwnFace, Piece, Place, SeatRef, Sense,
    recipe::{self, PieceOf},
};
use workbench::{Bench, bench::unit_pull};

/// A mark on a face; its middle at a point, or in the middle of the seat.
pub(super) fn add(job: &mut Job, bench: &Bench, face: u32, text: &str, point: Option<[f64; 3]>) -> Result<(), Problem> {
    let like = job.marks.last();
    let mut mark = Mark {
        id: job.fresh_id("mark-1"),
        text: text.to_owned(),
        seat: SeatRef::on(face), // a new mark looks like the last one: marks of a part mostly do
        lettering: like.map(|m| m.lettering.clone()).unwrap_or_default(),
        relief: like.map(|m| m.relief).filter(|r| r.sense != Sense::Stamp).unwrap_or_default(),
        ..Mark::default()
    };
    if let Some(point) = point {
        mark.place = place_at(job, bench, &mark, &mark.seat, point)?;
    } else {
        bench.seat(&SeatRef::on(face), unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
    }
    job.marks.push(mark);
    Ok(())
}

/// The mark once more, clear of itself.
pub(super) fn copy(job: &mut Job, bench: &Bench, id: &str) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mut copy = job.marks[at].clone();
    copy.id = job.fresh_id(id);
    // clear of the original: below it by one and a half capitals
    let step = 1.5 * copy.lettering.cap_height;
    if let Baseline::Arc { radius, .. } = &mut copy.place.baseline {
        *radius += step;
    } else if let Ok(seat) = bench.seat(&copy.seat, unit_pull(&job.tool))
        && let Ok(placed) = placed(job, bench, &job.marks[at], &seat)
    {
        let by = if matches!(copy.place.baseline, Baseline::Edge { .. }) { step } else { -step };
        copy.place = relief::place::shifted(&copy.place, &placed, &seat, DVec2::Y * by);
    }
    job.marks.insert(at + 1, copy);
    Ok(())
}

/// Changes the named settings of a mark, and of all that share its manner.
pub(super) fn set(job: &mut Job, id: &str, settings: &Value) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mut value = serde_json::to_value(&job.marks[at]).expect("a mark has string keys and finite numbers");
    merge(&mut value, settings);
    let mut mark: Mark =
        serde_json::from_value(value).map_err(|e| Problem::Wrong(sentence(&format!("mark “{id}”: {e}"))))?;
    mark.lettering.own = job.held_face(&mark.lettering.face);
    text_waits(&mut mark, job.marks[at].figure.is_some());
    let joins = settings.get("manner").is_some();
    let others = || (0..job.marks.len()).filter(|&k| k != at);
    let alike: Vec<usize> = match &mark.manner {
        Some(manner) => others().filter(|&k| job.marks[k].manner.as_ref() == Some(manner)).collect(),
        None => Vec::new(),
    };
    match alike.first() {
        // who takes a manner takes what it stands for
        Some(&first) if joins => {
            mark.lettering = job.marks[first].lettering.clone();
            mark.relief = job.marks[first].relief;
        }
        // who changes it changes it for all
        _ => {
            for k in alike {
                job.marks[k].lettering = mark.lettering.clone();
                job.marks[k].relief = mark.relief;
            }
        }
    }
    keep_letters(&mut mark);
    job.marks[at] = mark;
    Ok(())
}

/// A face of the shop's own for the job, in the place of one of the same name, and a mark lettered in it.
pub(super) fn put_face(job: &mut Job, face: &OwnFace, mark: Option<&str>) -> Result<(), Problem> {
    faces::checked(face)?;
    match job.own_faces.iter_mut().find(|f| f.name == face.name) {
        Some(there) => there.clone_from(face),
        None => job.own_faces.push(face.clone()),
    }
    job.hold_faces();
    mark.map_or(Ok(()), |id| set(job, id, &json!({"lettering": {"face": face.name}})))
}

/// The mark's middle at a point of a face.
pub(super) fn put(job: &mut Job, bench: &Bench, id: &str, face: u32, point: [f64; 3]) -> Result<(), Problem> {
    let at = find(job, id)?;
    // on a face of its own seat the mark stays on all of them
    let own = &job.marks[at].seat;
    let seat = if own.faces().contains(&face) { own.clone() } else { SeatRef::on(face) };
    let place = place_at(job, bench, &job.marks[at], &seat, point)?;
    job.marks[at].seat = seat;
    job.marks[at].place = place;
    Ok(())
}

/// The mark `times` over, each a step on, or spread once round.
pub(super) fn repeat(
    job: &mut Job,
    bench: &Bench,
    id: &str,
    times: u32,
    step: DVec2,
    round: bool,
) -> Result<(), Problem> {
    let at = find(job, id)?;
    if !(2..=MOST_REPEATS).contains(&times) {
        return Err(Problem::Wrong(format!("A mark is repeated 2 to {MOST_REPEATS} times in all.")));
    }
    let mark = job.marks[at].clone();
    let wrong = |e: String| Problem::Wrong(sentence(&e));
    let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(wrong)?;
    let placed = placed(job, bench, &mark, &seat)?;
    let on_arc = matches!(mark.place.baseline, Baseline::Arc { .. });
    let step = match (round, seat.closed()) {
        (true, _) if on_arc => DVec2::ZERO,
        (false, _) => step,
        (true, [true, _]) => DVec2::X * (seat.chart.period().x / f64::from(times)),
        (true, [_, true]) => DVec2::Y * (seat.chart.period().y / f64::from(times)),
        (true, _) => {
            return Err(Problem::Wrong(
                "This seat doesn't go once round. Give the distance from one to the next instead.".into(),
            ));
        }
    };
    if step.length() < 0.01 && !(round && on_arc) {
        return Err(Problem::Wrong("Give a distance along or up: the repeats would lie on one another.".into()));
    }
    for k in 1..times {
        let mut copy = mark.clone();
        copy.id = job.fresh_id(id);
        copy.place = relief::place::shifted(&mark.place, &placed, &seat, step * f64::from(k));
        if let (true, Baseline::Arc { share, .. }) = (round, &mut copy.place.baseline) {
            let there = (*share + 100.0 * f64::from(k) / f64::from(times)) % 100.0;
            *share = (there * 1e4).round() / 1e4;
        }
        job.marks.insert(at + k as usize, copy);
    }
    Ok(())
}

/// The mark once more, its middle at a point of a face.
pub(super) fn repeat_on(job: &mut Job, bench: &Bench, id: &str, face: u32, point: [f64; 3]) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mut copy = job.marks[at].clone();
    copy.id = job.fresh_id(id);
    copy.seat = SeatRef::on(face);
    copy.place = place_at(job, bench, &copy, &copy.seat, point)?;
    job.marks.insert(at + 1, copy);
    Ok(())
}

/// One more face for the mark's seat, or one less.
pub(super) fn seat_over(job: &mut Job, bench: &Bench, id: &str, face: u32) -> Result<(), Problem> {
    let at = find(job, id)?;
    surface(bench, face)?;
    let mark = &job.marks[at];
    let mut faces = mark.seat.faces();
    match faces.iter().position(|f| *f == face) {
        Some(_) if faces.len() == 1 => {
            return Err(Problem::Wrong("The mark sits on this face alone.".into()));
        }
        Some(at) => {
            faces.remove(at);
        }
        None => faces.push(face),
    }
    let with = faces.split_off(1);
    let seat = SeatRef { face: faces[0], with };
    let wrong = |e: String| Problem::Wrong(sentence(&e));
    let now = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(wrong)?;
    let placed = placed(job, bench, mark, &now)?;
    let middle = now.chart.point(placed.middle, 0.0).to_array();
    let place = place_at(job, bench, mark, &seat, middle)?;
    job.marks[at].seat = seat;
    job.marks[at].place = place;
    Ok(())
}

/// The mark on the outside of the part opposite to it.
pub(super) fn other_side(job: &mut Job, bench: &Bench, id: &str) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mark = &job.marks[at];
    let (face, point) = opposite(job, bench, mark)?;
    let seat = SeatRef::on(face);
    let place = place_at(job, bench, mark, &seat, point)?;
    job.marks[at].seat = seat;
    job.marks[at].place = place;
    Ok(())
}

/// The mark once more, straight through on the other side.
pub(super) fn both_sides(job: &mut Job, bench: &Bench, id: &str) -> Result<(), Problem> {
    let at = find(job, id)?;
    let mut second = job.marks[at].clone();
    second.id = job.fresh_id(id);
    let own = second.id.clone();
    job.marks.insert(at + 1, second);
    other_side(job, bench, &own)
}

/// The mark once more at the place mirrored in the middle plane of the part that is square to x (0), y or z. Its
/// text reads as before.
pub(super) fn mirror(job: &mut Job, bench: &Bench, id: &str, across: usize) -> Result<(), Problem> {
    /// The part may be that little unlike itself on the other side, mm.
    const NEAR: f64 = 0.5;
    let at = find(job, id)?;
    let mark = &job.marks[at];
    let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
    let placed = placed(job, bench, mark, &seat)?;
    let (low, high) = bench.part().mesh.bounds();
    let mirrored = |p: DVec3| {
        let mut p = p;
        p[across] = low[across] + high[across] - p[across];
        p
    };
    let wanted = mirrored(seat.chart.point(placed.middle, 0.0));
    let hit = bench.queries().nearest(wanted, NEAR + seat.facet_error).ok_or_else(|| {
        let axis = ["x", "y", "z"][across];
        Problem::Wrong(format!("The part has no face where the mark would lie, mirrored along {axis}."))
    })?;
    let mut copy = mark.clone();
    copy.id = job.fresh_id(id);
    copy.seat = SeatRef::on(bench.part().face_of[hit.triangle as usize]);
    copy.place.turn = 0.0 - copy.place.turn;
    let other = |stands: Justify| match stands {
        Justify::Start => Justify::End,
        Justify::Middle => Justify::Middle,
        Justify::End => Justify::Start,
    };
    match &mut copy.place.baseline {
        Baseline::Straight | Baseline::Ring { .. } => {}
        Baseline::Arc { share, stands, .. } => {
            (*share, *stands) = (100.0 - *share, other(*stands));
        }
        Baseline::Edge { near, share, stands, .. } => {
            *near = mirrored(DVec3::from(*near)).to_array();
            (*share, *stands) = (100.0 - *share, other(*stands));
        }
    }
    copy.place = place_at(job, bench, &copy, &copy.seat, hit.point.to_array())?;
    job.marks.insert(at + 1, copy);
    Ok(())
}

/// The middle of the mark at a point of a face, to 0.01 mm.
fn place_at(job: &Job, bench: &Bench, mark: &Mark, on: &SeatRef, point: [f64; 3]) -> Result<Place, Problem> {
    let seat = bench.seat(on, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(sentence(&e)))?;
    Ok(relief::place::put_down(mark, &seat, DVec3::from(point)))
}

/// A mark of the job as it lies on its seat.
fn placed(job: &Job, bench: &Bench, mark: &Mark, seat: &relief::Seat) -> Result<relief::PlacedMark, Problem> {
    let wrong = |e: &str| Problem::Wrong(sentence(e));
    let settled = bench.settled(&job.marks, mark, unit_pull(&job.tool)).map_err(|e| wrong(&e))?;
    relief::place::place(&settled, seat).map_err(|e| wrong(&e.to_string()))
}

/// The outermost face opposite to a mark, and the point of it straight behind the mark's middle.
fn opposite(job: &Job, bench: &Bench, mark: &Mark) -> Result<(u32, [f64; 3]), Problem> {
    let wrong = |e: &str| Problem::Wrong(sentence(e));
    let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).map_err(|e| wrong(&e))?;
    let placed = placed(job, bench, mark, &seat)?;
    let (from, out) = (seat.chart.point(placed.middle, 0.0), seat.chart.normal(placed.middle));
    let far = 4.0 * bench.part().mesh.diagonal();
    // back to the mark from far behind it
    let hit = bench.queries().first_hit(from - out * far, out, 0.0, far, |_| true);
    hit.filter(|hit| hit.point.distance(from) > 0.01 + 2.0 * seat.facet_error)
        .map(|hit| (bench.part().face_of[hit.triangle as usize], hit.point.to_array()))
        .ok_or_else(|| {
            wrong("there is no other side behind the mark: a sheet is marked on the side that was taken for outside")
        })
}

/// While a mark draws a figure its text waits as the pieces of its recipe, and comes back from there.
fn text_waits(mark: &mut Mark, before: bool) {
    let fixed = |piece: &Piece| match &piece.of {
        PieceOf::Text { text } => Some(text.clone()),
        PieceOf::LineEnd => Some("\n".into()),
        _ => None,
    };
    match (before, mark.figure.is_some()) {
        (false, true) if mark.recipe.is_empty() => mark.recipe = recipe::of_text(&mark.text),
        (true, false) => {
            if let Some(text) = mark.recipe.iter().map(fixed).collect::<Option<String>>() {
                mark.text = text;
                mark.recipe.clear();
            }
        }
        _ => {}
    }
}

/// Leaves out changes of letters that change nothing, or whose letter is gone from the text.
fn keep_letters(mark: &mut Mark) {
    if mark.letters.is_empty() {
        return;
    }
    mark.letters.retain(|l| !l.is_none());
    // in another row of the roster other letters stand there
    if mark.is_made() {
        return;
    }
    // what is left out is there too
    let Ok(set) = lettering::set(&mark.text, &mark.lettering, &[]) else { return };
    mark.letters.retain(|l| set.characters.get(l.at as usize).is_some_and(|c| c.text == l.text));
}

/// Most marks that one press makes.
const MOST_REPEATS: u32 = 64;

/// A mark's id without its number.
/// JSON merge patch (RFC 7396), but an object with another `tie`, `line` or `date` replaces its predecessor as a whole.
fn merge(target: &mut Value, patch: &Value) {
    let other = |tag: &str| patch.get(tag).is_some_and(|kind| target.get(tag) != Some(kind));
    match patch {
        Value::Object(changes) if !["tie", "line", "date"].into_iter().any(other) => {
            if !target.is_object() {
                *target = Value::Object(serde_json::Map::new());
            }
            let object = target.as_object_mut().expect("it was made one above");
            for (key, change) in changes {
                if change.is_null() {
                    object.remove(key);
                } else {
                    merge(object.entry(key.clone()).or_insert(Value::Null), change);
                }
            }
        }
        other => *target = other.clone(),
    }
}
