//! What a change of the job asks of steel that is cut already: where steel comes off, and where it must be put on again.
//!
//! Of a mark only letters that differ are looked at. With E what is cut into the steel for raised letters and S what stands
//! there for sunken ones, before and after: off = (E₂ − E₁) ∪ (S₁ − S₂), on = (E₁ − E₂) ∪ (S₂ − S₁), E outside the bare part,
//! S inside it.

use crate::{
    SteelError,
    engraved::{Form, joined},
    within::{about, bounds},
};
use glam::DVec3;
use relief::{BuiltMark, CharacterBody};
use solid::{Mesh, Part, boolean::Body};
use std::collections::BTreeSet;
use trade::{InSteel, Job, Mark};
use workbench::Outcome;

/// Corners of letters that lie no farther apart are the same, mm.
const SAME: f64 = 1e-6;
/// Less of steel is what arithmetic leaves between equal walls, mm³.
const NOTHING: f64 = 1e-4;
/// Round letters that an insert replaces, mm. Common practice.
const ROUND: f64 = 1.0;
/// More letters than these are not told one by one.
const MANY: usize = 6;
/// Sizes of inserts are told in steps of so much, mm.
const STEP: f64 = 0.5;

/// What can be different about a mark.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, serde::Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Differs {
    Added,
    Removed,
    Text,
    Moved,
    Size,
    Relief,
    Lettering,
}

impl Differs {
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Added => "new",
            Self::Removed => "removed",
            Self::Text => "another text",
            Self::Moved => "moved",
            Self::Size => "another size",
            Self::Relief => "another relief",
            Self::Lettering => "other lettering",
        }
    }
}

/// Steel that comes off or is put on.
#[derive(Clone, Debug, Default)]
pub struct Bulk {
    /// mm³ in the steel.
    pub volume: f64,
    /// Seen square to the seat in the middle of the mark, mm² in the steel.
    pub area: f64,
    /// Part coordinates at the part's size.
    pub mesh: Mesh,
}

/// A mark in two states.
#[derive(Clone, Debug)]
pub struct MarkChange {
    pub mark: String,
    pub texts: [Option<String>; 2],
    /// Nothing where it is the same.
    pub differs: Vec<Differs>,
    /// Letters that are not as they were, before and after; each as it reads.
    pub letters: [Vec<String>; 2],
    pub off: Bulk,
    pub on: Bulk,
    /// Size of an insert that takes in all letters that differ, mm in the steel; where steel must be put on.
    pub insert: Option<[f64; 2]>,
    pub says: String,
}

/// A state of a job: what was built of it, on which part.
#[derive(Clone, Copy)]
pub struct Built<'a> {
    pub job: &'a Job,
    pub outcome: &'a Outcome,
    pub part: &'a Part,
}

/// Every mark of either state, in the later one's order, then what is gone. Lengths of the steel are `scale` times the part's.
///
/// # Errors
/// A mark that is on could not be built, or bodies can't be joined.
pub fn changes(before: Built<'_>, after: Built<'_>, scale: f64) -> Result<Vec<MarkChange>, SteelError> {
    let ids: Vec<&str> = after.job.marks.iter().map(|m| m.id.as_str()).collect();
    let gone = before.job.marks.iter().map(|m| m.id.as_str()).filter(|id| !ids.contains(id));
    let all: Vec<&str> = ids.iter().copied().chain(gone).collect();
    let mut stock = None;
    all.into_iter().map(|id| change(id, before, after, scale, &mut stock)).collect()
}

/// A mark that is on and what was built of it.
fn found<'a>(id: &str, of: Built<'a>) -> Result<Option<(&'a Mark, &'a BuiltMark)>, SteelError> {
    let Some(at) = of.job.marks.iter().position(|m| m.id == id) else { return Ok(None) };
    let Some(outcome) = of.outcome.marks.get(at).filter(|o| o.on) else { return Ok(None) };
    match (&outcome.built, &outcome.problem) {
        (Some(built), _) => Ok(built.has_relief().then_some((&of.job.marks[at], &**built))),
        (None, why) => Err(SteelError::new(format!(
            "“{}” is not built: {}",
            of.job.marks[at].text.replace('\n', " / "),
            why.as_deref().unwrap_or("it is not known why")
        ))),
    }
}

fn change(
    id: &str,
    before: Built<'_>,
    after: Built<'_>,
    scale: f64,
    stock: &mut Option<Body>,
) -> Result<MarkChange, SteelError> {
    let (was, is) = (found(id, before)?, found(id, after)?);
    let (gone, come) = (unlike(was, is), unlike(is, was));
    let mut change = MarkChange {
        mark: id.to_owned(),
        texts: [was, is].map(|m| m.map(|(_, b)| b.mark.text.clone())),
        differs: differs(was, is, gone.is_empty() && come.is_empty()),
        letters: [read(was, &gone), read(is, &come)],
        off: Bulk::default(),
        on: Bulk::default(),
        insert: None,
        says: String::new(),
    };
    if !(gone.is_empty() && come.is_empty()) {
        let whole = match stock {
            Some(stock) => &*stock,
            none => none.insert(Body::new(&after.part.mesh, "the part").map_err(joined)?),
        };
        let near = near(whole, gone.iter().chain(&come));
        let of = |own: &[Own], form: Form| -> Result<Vec<Body>, SteelError> {
            let bodies = own.iter().filter(|o| o.form == form);
            bodies.map(|o| Body::new(&o.body.mesh, "a letter").map_err(joined)).collect()
        };
        let [e1, e2] = [of(&gone, Form::Engraving)?, of(&come, Form::Engraving)?];
        let [s1, s2] = [of(&gone, Form::StandingForm)?, of(&come, Form::StandingForm)?];
        let outside = |a: &[Body], b: &[Body]| less(a, &[b, std::slice::from_ref(&near)].concat());
        let inside = |a: &[Body], b: &[Body]| less(a, b).and_then(|body| filled(body.cut_by(&near).0));
        let Some((_, of_mark)) = is.or(was) else { return Ok(change) };
        let out = of_mark.ground.chart.normal(of_mark.placed.middle);
        change.off = bulk([outside(&e2, &e1), inside(&s1, &s2)], out, scale);
        change.on = bulk([outside(&e1, &e2), inside(&s2, &s1)], out, scale);
        if change.on.volume > 0.0 {
            change.insert = Some(insert(of_mark, gone.iter().chain(&come), scale));
        }
    }
    change.says = says(&change, is.map(|(mark, _)| mark));
    Ok(change)
}

/// A body with where it stands in the steel.
struct Own<'a> {
    body: &'a CharacterBody,
    form: Form,
}

impl Own<'_> {
    fn same(&self, other: &Self) -> bool {
        let [a, b] = [&self.body.mesh, &other.body.mesh];
        let near = || a.vertices.iter().zip(&b.vertices).all(|(p, q)| p.abs_diff_eq(*q, SAME));
        self.form == other.form && a.vertices.len() == b.vertices.len() && a.triangles == b.triangles && near()
    }
}

fn own<'a>(of: Option<(&Mark, &'a BuiltMark)>) -> Vec<Own<'a>> {
    let Some((_, built)) = of else { return Vec::new() };
    let bodies = built.bodies.iter().chain(&built.pad).filter(|b| built.relief(b.character).sense.has_relief());
    let form = |body| if Form::Engraving.has(built, body) { Form::Engraving } else { Form::StandingForm };
    bodies.map(|body| Own { body, form: form(body) }).collect()
}

/// Those of a mark that the other state of it does not have.
fn unlike<'a>(of: Option<(&Mark, &'a BuiltMark)>, than: Option<(&Mark, &BuiltMark)>) -> Vec<Own<'a>> {
    let than = own(than);
    own(of).into_iter().filter(|a| !than.iter().any(|b| a.same(b))).collect()
}

/// Letters as they read, each once though it is of several pieces; a pad by its name.
fn read(of: Option<(&Mark, &BuiltMark)>, own: &[Own<'_>]) -> Vec<String> {
    let Some((_, built)) = of else { return Vec::new() };
    let letters: BTreeSet<u32> = own.iter().map(|o| o.body.character).collect();
    let name = |at: u32| match built.placed.characters.get(at as usize) {
        Some(letter) => letter.text.clone(),
        None => built.mark.relief.pad.map_or("pad", |pad| pad.form.word()).to_owned(),
    };
    letters.into_iter().map(name).collect()
}

fn differs(was: Option<(&Mark, &BuiltMark)>, is: Option<(&Mark, &BuiltMark)>, same: bool) -> Vec<Differs> {
    let ((before, a), (after, b)) = match (was, is) {
        (Some(was), Some(is)) => (was, is),
        (None, Some(_)) => return vec![Differs::Added],
        (Some(_), None) => return vec![Differs::Removed],
        (None, None) => return Vec::new(),
    };
    if same {
        return Vec::new();
    }
    let (one, other) = (&before.lettering, &after.lettering);
    // letters that were there and are there still
    let mut kept = a.placed.characters.iter().zip(&b.placed.characters).filter(|(was, is)| was.text == is.text);
    let at = |b: &BuiltMark, middle| b.ground.chart.point(middle, 0.0);
    let moved = kept.any(|(was, is)| at(a, was.middle).distance(at(b, is.middle)) > 1e-3);
    let all = [
        (Differs::Text, a.mark.text != b.mark.text),
        (Differs::Moved, before.place != after.place || before.seat != after.seat || moved),
        (Differs::Size, (a.placed.cap_height - b.placed.cap_height).abs() > 1e-9),
        (Differs::Relief, before.relief != after.relief),
        (Differs::Lettering, one.face != other.face || one.stroke != other.stroke || before.letters != after.letters),
    ];
    all.into_iter().filter(|(_, so)| *so).map(|(what, _)| what).collect()
}

/// The part in the box about bodies.
fn near<'a>(part: &Body, own: impl Iterator<Item = &'a Own<'a>>) -> Body {
    let corners = own.map(|o| o.body.mesh.bounds());
    let start = (DVec3::INFINITY, DVec3::NEG_INFINITY);
    let (low, high) = corners.fold(start, |(low, high), (a, b)| (low.min(a), high.max(b)));
    part.cut_by(&Body::block(low - ROUND, high + ROUND)).0
}

fn filled(body: Body) -> Option<Body> {
    (!body.is_empty() && body.volume() > NOTHING).then_some(body)
}

/// All of `a` without all of `b`; nothing where nothing is left.
fn less(a: &[Body], b: &[Body]) -> Option<Body> {
    let (first, rest) = a.split_first()?;
    let mut all = first.with(rest, &[]).ok()?;
    for body in b {
        all = all.cut_by(body).1;
        if all.is_empty() {
            return None;
        }
    }
    filled(all)
}

fn bulk(pieces: [Option<Body>; 2], out: DVec3, scale: f64) -> Bulk {
    let mut bulk = Bulk::default();
    for piece in pieces.into_iter().flatten() {
        let mesh = piece.traced().mesh;
        let seen = (0..mesh.triangles.len()).map(|t| mesh.cross(t).dot(out).max(0.0) / 2.0);
        bulk.area += seen.sum::<f64>() * scale * scale;
        bulk.volume += piece.volume() * scale.powi(3);
        bulk.mesh.append(&mesh);
    }
    bulk
}

/// Along the reading direction and across it.
fn insert<'a>(about_mark: &BuiltMark, own: impl Iterator<Item = &'a Own<'a>>, scale: f64) -> [f64; 2] {
    let frame = about(about_mark, about_mark.ground.chart.normal(about_mark.placed.middle));
    let (low, high) = bounds(own.map(|o| &o.body.mesh), &frame);
    let size = ((high - low).truncate() + 2.0 * ROUND) * scale;
    size.to_array().map(|side| (side / STEP).ceil() * STEP)
}

fn says(change: &MarkChange, mark: Option<&Mark>) -> String {
    let [gone, come] = &change.letters;
    if gone.is_empty() && come.is_empty() {
        return "Nothing changes in the steel.".into();
    }
    let figure = |bulk: &Bulk| format!("{:.1} mm² ({:.2} mm³)", bulk.area, bulk.volume);
    let quoted = |letters: &[String]| letters.iter().map(|l| format!("“{l}”")).collect::<Vec<_>>().join(" ");
    let which = match (gone.is_empty(), come.is_empty()) {
        (true, _) => format!("{} new", quoted(come)),
        (_, true) => format!("{} gone", quoted(gone)),
        _ if gone == come && come.len() > MANY => format!("all {} letters", come.len()),
        _ if gone == come => quoted(come),
        _ => format!("{} → {}", quoted(gone), quoted(come)),
    };
    let (off, on) = (change.off.volume > NOTHING, change.on.volume > NOTHING);
    match (off, on) {
        (false, false) => format!("{which}: less than can be cut."),
        (true, false) => format!("{which}: steel comes off, {}. Nothing is to be welded.", figure(&change.off)),
        (_, true) => {
            let loose = mark.is_some_and(|m| matches!(m.in_steel, InSteel::Insert { .. }));
            let weld = if off {
                format!("weld {} and recut {}", figure(&change.on), figure(&change.off))
            } else {
                format!("weld {}", figure(&change.on))
            };
            let [wide, tall] = change.insert.unwrap_or_default();
            match loose {
                true => format!("{which}: it is on an insert: make that anew."),
                false => {
                    format!("{which}: steel must be put on. Let in an insert of {wide:.1} × {tall:.1} mm, or {weld}.")
                }
            }
        }
    }
}
