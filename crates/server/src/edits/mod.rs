//! What a person can change about a job, one step each. An edit is applied to the present state,
//! not sent as a whole job, so that two people who change different things keep both.

mod marks;
mod plate;
mod roster;
mod tool;

use crate::problem::Problem;
use glam::{DVec2, DVec3};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use solid::Surface;
use trade::{
    Area, FaceMend, FaceName, Given, Job, KeepOut, KeepOutKind, OwnLimit, Parting, Process, SheetSide, Spot, Steel,
    limits::Subject,
};
use utoipa::ToSchema;
use workbench::{Bench, bench::unit_pull, revision::face_mended};

pub(crate) use self::tool::steel_name;
use self::tool::{add_slide, direction, fresh, keep_out, parting_line, pick_edge, rename_slide, slide};
pub use self::{plate::PlateEdit, roster::RosterEdit};

#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "do", deny_unknown_fields)]
pub enum Edit {
    Rename {
        name: String,
    },
    /// Which bodies of the file make up the part, by their places.
    TakeBodies {
        bodies: Vec<u32>,
    },
    /// Mends the part's mesh further.
    MendPart {
        mend: trade::PartMend,
    },
    /// Leaves a mend out again.
    LeaveMend {
        mend: trade::PartMend,
    },
    /// A face's own name; an empty one takes it away.
    NameFace {
        face: u32,
        name: String,
    },
    /// An open part is meant as a sheet without thickness, marked on one side; without a side it is not.
    TakeAsSheet {
        side: Option<SheetSide>,
    },
    /// Two neighbouring faces become one, under the first one's number.
    JoinFaces {
        face: u32,
        with: u32,
    },
    /// The facets of a face that a brush touched become a face of their own.
    DivideFace {
        face: u32,
        spots: Vec<Spot>,
    },
    /// Back to the faces that were found.
    LeaveFaceMends,
    /// Pull in part coordinates, any length.
    SetPull {
        direction: [f64; 3],
    },
    /// Pull along a plane's normal or a cylinder's axis.
    PullFromFace {
        face: u32,
    },
    /// The first half leaves the other way.
    TurnPull,
    AddParting {
        parting: Parting,
    },
    /// A parting plane through a point of the part, mm.
    PartingAt {
        point: [f64; 3],
    },
    SetParting {
        at: usize,
        parting: Parting,
    },
    RemoveParting {
        at: usize,
    },
    /// The edge of the part nearest to a point joins the line along edges at `at`, or begins one; an
    /// edge that belongs to the line leaves it.
    PickEdge {
        at: Option<usize>,
        point: [f64; 3],
    },
    /// A slide that leaves along a direction, part coordinates, any length.
    AddSlide {
        direction: [f64; 3],
    },
    /// A slide that leaves along a plane's normal or a cylinder's axis.
    AddSlideFromFace {
        face: u32,
    },
    SetSlidePull {
        name: String,
        direction: [f64; 3],
    },
    RenameSlide {
        name: String,
        to: String,
    },
    RemoveSlide {
        name: String,
    },
    /// An area is formed by a steel, whatever the pulls say.
    Give {
        area: Area,
        to: Steel,
    },
    /// Takes back what was given at a place of the list.
    TakeBack {
        at: usize,
    },
    AddKeepOut {
        kind: KeepOutKind,
        area: Area,
    },
    /// The keep-out called `name` becomes `keep_out`.
    SetKeepOut {
        name: String,
        keep_out: KeepOut,
    },
    RemoveKeepOut {
        name: String,
    },
    SetProcess {
        process: Process,
    },
    /// A limit of the job's own.
    SetLimit {
        limit: OwnLimit,
    },
    /// Back to the sheet's.
    LeaveLimit {
        subject: Subject,
    },
    SetLimits {
        limits: String,
    },
    SetReadingDistance {
        mm: f64,
    },
    /// A mark on a face; its middle at `point` (mm, part coordinates) or in the middle of the seat.
    AddMark {
        face: u32,
        text: String,
        point: Option<[f64; 3]>,
    },
    CopyMark {
        id: String,
    },
    /// The marks of a pattern on a face, tied as they were kept.
    LayPattern {
        pattern: trade::Pattern,
        face: u32,
    },
    /// Only the named settings change (RFC 7396 merge; a tie or a baseline of another kind is replaced as a whole).
    SetMark {
        id: String,
        #[schema(value_type = Object)]
        settings: Value,
    },
    /// The mark's middle at a point of a face, mm in part coordinates.
    PlaceMark {
        id: String,
        face: u32,
        point: [f64; 3],
    },
    /// The mark `times` over, itself included: each `along` and `up` mm on from the last on the strip, or
    /// spread evenly once round its arc, or round a seat that closes on itself.
    RepeatMark {
        id: String,
        times: u32,
        along: f64,
        up: f64,
        round: bool,
    },
    /// The mark once more, its middle at a point of a face.
    RepeatOn {
        id: String,
        face: u32,
        point: [f64; 3],
    },
    /// One more face for the mark's seat, or one of them out of it again. The mark stays where it is.
    SeatOver {
        id: String,
        face: u32,
    },
    /// The mark straight through to the outside of the part opposite to it.
    OtherSide {
        id: String,
    },
    /// The mark once more, straight through on the other side.
    BothSides {
        id: String,
    },
    /// The mark once more where the part's middle plane square to an axis mirrors it. Its text reads as before.
    MirrorMark {
        id: String,
        along: Axis,
    },
    /// Lettering bodies are handed off letter by letter, or those of a mark joined to one.
    SetLettersApart {
        apart: bool,
    },
    /// A lettering face of the shop's own for the job, in the place of one of the same name, and a mark that is
    /// lettered in it.
    PutFace {
        face: trade::OwnFace,
        mark: Option<String>,
    },
    Roster {
        edit: RosterEdit,
    },
    ToolPlate {
        edit: PlateEdit,
    },
    RemoveMark {
        id: String,
    },
    MoveMark {
        id: String,
        to: usize,
    },
}

/// An axis of the part.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Axis {
    X,
    Y,
    Z,
}

impl Axis {
    fn word(self) -> &'static str {
        ["x", "y", "z"][self as usize]
    }
}

impl Edit {
    /// The edit in a few words, for the history.
    #[must_use]
    pub fn label(&self) -> String {
        match self {
            Self::Rename { name } => format!("job named “{name}”"),
            Self::TakeBodies { .. } => "bodies chosen".into(),
            Self::MendPart { .. } => "part mended".into(),
            Self::LeaveMend { .. } => "mend of the part left out".into(),
            Self::TakeAsSheet { side: Some(_) } => "part taken as a sheet".into(),
            Self::TakeAsSheet { side: None } => "part not taken as a sheet".into(),
            Self::JoinFaces { .. } => "faces joined".into(),
            Self::DivideFace { .. } => "face divided".into(),
            Self::LeaveFaceMends => "faces as they were found".into(),
            Self::NameFace { name, .. } => format!("face named “{name}”"),
            Self::SetPull { .. } | Self::PullFromFace { .. } => "pull set".into(),
            Self::TurnPull => "pull turned round".into(),
            Self::AddParting { .. } | Self::PartingAt { .. } => "parting line added".into(),
            Self::SetParting { .. } => "parting line moved".into(),
            Self::RemoveParting { .. } => "parting line taken away".into(),
            Self::PickEdge { .. } => "edge of the parting line picked".into(),
            Self::AddSlide { .. } | Self::AddSlideFromFace { .. } => "slide added".into(),
            Self::SetSlidePull { name, .. } => format!("pull of {name}"),
            Self::RenameSlide { name, to } => format!("{name} named {to}"),
            Self::RemoveSlide { name } | Self::RemoveKeepOut { name } => format!("{name} taken away"),
            Self::Give { to, .. } => format!("area given to {}", steel_name(to)),
            Self::TakeBack { .. } => "given area taken back".into(),
            Self::AddKeepOut { kind, .. } => format!("{} kept out of", kind.word()),
            Self::SetKeepOut { name, .. } => format!("keep-out {name} changed"),
            Self::SetProcess { .. } => "material or texture".into(),
            Self::SetLimit { .. } => "limit of its own".into(),
            Self::LeaveLimit { .. } => "limit as on the sheet".into(),
            Self::SetLimits { limits } => format!("limits sheet {limits}"),
            Self::SetReadingDistance { mm } => format!("reading distance {mm} mm"),
            Self::AddMark { text, .. } => format!("mark “{}” added", text.replace('\n', " / ")),
            Self::CopyMark { id } => format!("{id} copied"),
            Self::LayPattern { pattern, .. } => format!("pattern “{}” laid", pattern.name),
            Self::SetMark { id, settings } => {
                let mut names = Vec::new();
                leaves(settings, &mut names);
                names.sort_unstable();
                format!("{id}: {}", names.join(", "))
            }
            Self::PlaceMark { id, .. } => format!("{id}: place"),
            Self::RepeatMark { id, times, .. } => format!("{id} repeated, {times} in all"),
            Self::RepeatOn { id, face, .. } => format!("{id} repeated on face {face}"),
            Self::SeatOver { id, face } => format!("{id}: seat over face {face}"),
            Self::OtherSide { id } => format!("{id}: on the other side"),
            Self::BothSides { id } => format!("{id}: on both sides"),
            Self::MirrorMark { id, along } => format!("{id} mirrored along {}", along.word()),
            Self::SetLettersApart { apart: true } => "letters handed off one by one".into(),
            Self::SetLettersApart { apart: false } => "letters of a mark handed off as one".into(),
            Self::PutFace { face, mark: None } => format!("lettering face “{}”", face.name),
            Self::PutFace { face, mark: Some(id) } => format!("{id}: lettering face “{}”", face.name),
            Self::Roster { edit } => edit.label(),
            Self::ToolPlate { edit } => edit.label(),
            Self::RemoveMark { id } => format!("{id} taken away"),
            Self::MoveMark { id, .. } => format!("{id} moved in the rack"),
        }
    }

    /// `job` with the edit made and checked.
    ///
    /// # Errors
    /// What would be wrong with the job then.
    pub fn apply(&self, job: &Job, bench: &Bench) -> Result<Job, Problem> {
        let mut job = job.clone();
        match self {
            Self::Rename { name } => {
                let name = name.trim();
                if name.is_empty() || name.chars().count() > 200 {
                    return Err(Problem::Wrong("A job's name has 1 to 200 characters.".into()));
                }
                job.name = name.into();
            }
            Self::MendPart { mend } => {
                unmarked(&job)?;
                job.part.mends.push(*mend);
            }
            Self::LeaveMend { mend } => {
                unmarked(&job)?;
                job.part.mends.retain(|m| m != mend);
            }
            Self::TakeAsSheet { side } => {
                if !job.marks.is_empty() {
                    return Err(Problem::Wrong(
                        "Marks stand on the side of the part that is its outside now. Take them away first.".into(),
                    ));
                }
                if side.is_some() && !bench.part().soundness.is_sheet() {
                    return Err(Problem::Wrong(
                        "The part can't be a sheet: either it is closed, or more is wrong with it than open edges."
                            .into(),
                    ));
                }
                job.part.sheet = *side;
            }
            Self::JoinFaces { face, with } => {
                job = face_mended(&job, bench, &FaceMend::Join { face: *face, with: *with })?;
            }
            Self::DivideFace { face, spots } => {
                job = face_mended(&job, bench, &FaceMend::Divide { face: *face, spots: spots.clone() })?;
            }
            Self::LeaveFaceMends => {
                unnamed(&job)?;
                job.part.face_mends.clear();
            }
            Self::TakeBodies { bodies } => job.part.bodies = Some(take(&job, bench, bodies)?),
            Self::NameFace { face, name } => {
                surface(bench, *face)?;
                job.face_names.retain(|n| n.face != *face);
                if !name.trim().is_empty() {
                    job.face_names.push(FaceName { face: *face, name: name.trim().into() });
                }
            }
            Self::SetPull { direction } => job.tool.pull = Some(*direction),
            Self::PullFromFace { face } => {
                job.tool.pull = Some(direction(bench, *face)?);
            }
            Self::TurnPull => {
                let pull = job
                    .tool
                    .pull
                    .ok_or_else(|| Problem::Wrong("There is no pull to turn round yet; set it first.".into()))?;
                // parting planes stay where they are: their heights are counted along the pull
                for parting in &mut job.tool.parting {
                    if let Parting::Plane { height } = parting {
                        *height = -*height;
                    }
                }
                // so does what was given to the halves
                for given in &mut job.tool.given {
                    given.to = match &given.to {
                        Steel::First => Steel::Second,
                        Steel::Second => Steel::First,
                        slide @ Steel::Slide { .. } => slide.clone(),
                    };
                }
                job.tool.pull = Some(pull.map(|c| 0.0 - c));
            }
            Self::AddParting { parting } => job.tool.parting.push(parting.clone()),
            Self::PartingAt { point } => {
                let pull = unit_pull(&job.tool)
                    .ok_or_else(|| Problem::Wrong("Set the pull first: a parting plane lies square to it.".into()))?;
                let height = (DVec3::from(*point).dot(pull) * 1e3).round() / 1e3;
                job.tool.parting.push(Parting::Plane { height });
            }
            Self::SetParting { at, parting } => parting_line(&mut job, *at)?.clone_from(parting),
            Self::RemoveParting { at } => {
                parting_line(&mut job, *at)?;
                job.tool.parting.remove(*at);
            }
            Self::PickEdge { at, point } => pick_edge(&mut job, bench, *at, *point)?,
            Self::AddSlide { direction } => add_slide(&mut job, *direction),
            Self::AddSlideFromFace { face } => add_slide(&mut job, direction(bench, *face)?),
            Self::SetSlidePull { name, direction } => {
                let at = slide(&job, name)?;
                job.tool.slides[at].pull = *direction;
            }
            Self::RenameSlide { name, to } => {
                let at = slide(&job, name)?;
                job.tool.slides[at].name = to.trim().into();
                rename_slide(&mut job, name, to.trim());
            }
            Self::RemoveSlide { name } => {
                let at = slide(&job, name)?;
                job.tool.slides.remove(at);
                // with it goes what stands on it
                job.tool.given.retain(|g| g.to != Steel::Slide { name: name.clone() });
                job.tool.parting.retain(|p| *p != Parting::Silhouette { slide: Some(name.clone()) });
            }
            Self::Give { area, to } => {
                known_faces(area, bench)?;
                match (job.tool.given.last_mut(), area) {
                    // strokes of one brush are one area
                    (Some(Given { area: Area::Painted { spots }, to: last }), Area::Painted { spots: more })
                        if last == to =>
                    {
                        spots.extend(more);
                    }
                    _ => job.tool.given.push(Given { area: area.clone(), to: to.clone() }),
                }
            }
            Self::TakeBack { at } => {
                if *at >= job.tool.given.len() {
                    return Err(Problem::Missing("That area is gone; somebody else may have taken it back.".into()));
                }
                job.tool.given.remove(*at);
            }
            Self::AddKeepOut { kind, area } => {
                known_faces(area, bench)?;
                let name = fresh(kind.word(), |n| job.tool.keep_outs.iter().any(|k| k.name == n));
                job.tool.keep_outs.push(KeepOut { name, kind: *kind, area: area.clone(), margin: None });
            }
            Self::SetKeepOut { name, keep_out: to } => {
                known_faces(&to.area, bench)?;
                let at = keep_out(&job, name)?;
                job.tool.keep_outs[at] = KeepOut { name: to.name.trim().into(), ..to.clone() };
            }
            Self::RemoveKeepOut { name } => {
                let at = keep_out(&job, name)?;
                job.tool.keep_outs.remove(at);
            }
            Self::SetProcess { process } => job.process.clone_from(process),
            Self::SetLimit { limit } => {
                job.own_limits.retain(|o| o.subject != limit.subject);
                job.own_limits.push(limit.clone());
            }
            Self::LeaveLimit { subject } => job.own_limits.retain(|o| o.subject != *subject),
            Self::SetLimits { limits } => job.limits.clone_from(limits),
            Self::SetReadingDistance { mm } => job.reading_distance = *mm,
            Self::AddMark { face, text, point } => marks::add(&mut job, bench, *face, text, *point)?,
            Self::CopyMark { id } => marks::copy(&mut job, bench, id)?,
            Self::LayPattern { pattern, face } => {
                let seat = trade::SeatRef { face: *face, with: Vec::new() };
                bench.seat(&seat, unit_pull(&job.tool)).map_err(|e| Problem::Wrong(crate::problem::sentence(&e)))?;
                pattern.lay(&mut job, &seat);
            }
            Self::SetMark { id, settings } => marks::set(&mut job, id, settings)?,
            Self::PlaceMark { id, face, point } => marks::put(&mut job, bench, id, *face, *point)?,
            Self::RepeatMark { id, times, along, up, round } => {
                marks::repeat(&mut job, bench, id, *times, DVec2::new(*along, *up), *round)?
            }
            Self::RepeatOn { id, face, point } => marks::repeat_on(&mut job, bench, id, *face, *point)?,
            Self::SeatOver { id, face } => marks::seat_over(&mut job, bench, id, *face)?,
            Self::OtherSide { id } => marks::other_side(&mut job, bench, id)?,
            Self::BothSides { id } => marks::both_sides(&mut job, bench, id)?,
            Self::MirrorMark { id, along } => marks::mirror(&mut job, bench, id, *along as usize)?,
            Self::SetLettersApart { apart } => job.letters_apart = *apart,
            Self::PutFace { face, mark } => marks::put_face(&mut job, face, mark.as_deref())?,
            Self::Roster { edit } => edit.apply(&mut job)?,
            Self::ToolPlate { edit } => edit.apply(&mut job)?,
            Self::RemoveMark { id } => {
                let at = find(&job, id)?;
                job.marks.remove(at);
            }
            Self::MoveMark { id, to } => {
                let at = find(&job, id)?;
                let mark = job.marks.remove(at);
                job.marks.insert((*to).min(job.marks.len()), mark);
            }
        }
        job.hold_faces();
        job.check()?;
        // the text of a mark that is made is what it says in the first row: other edits measure by it
        let texts = job.texts_made(job.roster.rows.first(), crate::app::today());
        for (mark, made) in job.marks.iter_mut().zip(texts) {
            if let Some(Ok(text)) = made {
                mark.text = text;
            }
        }
        Ok(job)
    }
}

/// Faces that were joined or divided by hand are faces of the part as it is.
fn unmarked(job: &Job) -> Result<(), Problem> {
    unnamed(job)?;
    if !job.part.face_mends.is_empty() {
        return Err(Problem::Wrong(
            "Faces joined or divided by hand are faces of the part as it is. Go back to the faces as found first."
                .into(),
        ));
    }
    Ok(())
}

/// Marks, areas and names hold faces by their numbers, which another part does not keep.
fn unnamed(job: &Job) -> Result<(), Problem> {
    if !job.marks.is_empty() {
        return Err(Problem::Wrong(
            "Marks sit on faces of the part as it is, and would lose them. Take the marks away first.".into(),
        ));
    }
    let of_faces = |area: &Area| matches!(area, Area::Faces { .. });
    let tool = &job.tool;
    if tool.keep_outs.iter().any(|k| of_faces(&k.area)) || tool.given.iter().any(|g| of_faces(&g.area)) {
        return Err(Problem::Wrong(
            "Keep-outs or areas given to a steel are faces of the part as it is, and would lose them. Take them away first."
                .into(),
        ));
    }
    if !job.face_names.is_empty() {
        return Err(Problem::Wrong(
            "Named faces of the part as it is would lose their names. Take the names away first.".into(),
        ));
    }
    Ok(())
}

/// The chosen bodies in order, if the file has them and no mark sits on those taken now.
fn take(job: &Job, bench: &Bench, bodies: &[u32]) -> Result<Vec<u32>, Problem> {
    let count = bench.part().bodies.len();
    if count < 2 {
        return Err(Problem::Wrong("The part file holds one body only; there is nothing to choose.".into()));
    }
    unmarked(job)?;
    let mut bodies = bodies.to_vec();
    bodies.sort_unstable();
    bodies.dedup();
    if bodies.is_empty() || bodies.iter().any(|&b| b as usize >= count) {
        return Err(Problem::Wrong(format!("Choose at least one of the {count} bodies, by their places from 0.")));
    }
    Ok(bodies)
}

fn known_faces(area: &Area, bench: &Bench) -> Result<(), Problem> {
    if let Area::Faces { faces } = area {
        for face in faces {
            surface(bench, *face)?;
        }
    }
    Ok(())
}

fn surface(bench: &Bench, face: u32) -> Result<&Surface, Problem> {
    let faces = &bench.part().faces;
    faces.get(face as usize).map(|f| &f.surface).ok_or_else(|| {
        Problem::Wrong(format!("The part has no face {face}; its faces run from 0 to {}.", faces.len() - 1))
    })
}

fn find(job: &Job, id: &str) -> Result<usize, Problem> {
    job.marks.iter().position(|m| m.id == id).ok_or_else(|| {
        Problem::Missing(format!("There is no mark “{id}” any more; somebody else may have taken it away."))
    })
}

/// A found direction freed of the rounding of single-precision files.
fn tidy(direction: DVec3) -> DVec3 {
    let near = direction.round();
    if near.length_squared() == 1.0 && direction.distance(near) < 1e-5 { near } else { direction }
}

fn leaves(value: &Value, names: &mut Vec<String>) {
    if let Value::Object(fields) = value {
        for (key, field) in fields {
            if field.is_object() && field.get("tie").is_none() && field.get("line").is_none() {
                leaves(field, names);
            } else {
                names.push(key.replace('_', " "));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;
    use trade::{Baseline, SeatRef, Tie};

    fn bench() -> (Job, Bench) {
        let demo = demo::jobs().remove(1);
        let part = demo.read();
        (demo.job, Bench::new(part))
    }

    #[test]
    fn only_the_named_settings_of_a_mark_change() {
        let (job, bench) = bench();
        let id = job.marks[0].id.clone();
        let edit = Edit::SetMark {
            id: id.clone(),
            settings: json!({"relief": {"draft": 12.5}, "place": {"along": {"tie": "from_end", "distance": 4.0}}}),
        };
        let changed = edit.apply(&job, &bench).unwrap();
        assert_eq!(changed.marks[0].relief, trade::Relief { draft: 12.5, ..job.marks[0].relief });
        assert_eq!(changed.marks[0].place.along, Tie::FromEnd { distance: 4.0 });
        assert_eq!(changed.marks[0].text, job.marks[0].text);
        assert_eq!(edit.label(), format!("{id}: along, draft"));
    }

    #[test]
    fn a_slide_keeps_its_areas_and_lines_under_a_new_name_and_takes_them_along_when_it_goes() {
        let (job, bench) = bench();
        let apply = |job: &Job, edit: Edit| edit.apply(job, &bench).unwrap();
        let slide = |name: &str| Steel::Slide { name: name.into() };
        let job = apply(&job, Edit::AddSlide { direction: [1.0, 0.0, 0.0] });
        let job = apply(&job, Edit::Give { area: Area::Faces { faces: vec![0] }, to: slide("slide 1") });
        let line = Parting::Silhouette { slide: Some("slide 1".into()) };
        let job = apply(&job, Edit::AddParting { parting: line });
        let lines = job.tool.parting.len();
        let job = apply(&job, Edit::RenameSlide { name: "slide 1".into(), to: "side core".into() });
        assert_eq!(job.tool.given[0].to, slide("side core"));
        assert_eq!(job.tool.parting[lines - 1], Parting::Silhouette { slide: Some("side core".into()) });
        let job = apply(&job, Edit::RemoveSlide { name: "side core".into() });
        assert!(job.tool.given.is_empty() && job.tool.parting.len() == lines - 1);
    }

    #[test]
    fn halves_change_places_when_the_pull_turns_and_strokes_of_a_brush_are_one_area() {
        let (job, bench) = bench();
        let apply = |job: &Job, edit: Edit| edit.apply(job, &bench).unwrap();
        let stroke = |x: f64| Area::Painted { spots: vec![trade::Spot { at: [x, 0.0, 0.0], radius: 1.0 }] };
        let job = apply(&job, Edit::Give { area: stroke(1.0), to: Steel::First });
        let job = apply(&job, Edit::Give { area: stroke(2.0), to: Steel::First });
        assert_eq!(job.tool.given.len(), 1);
        assert_eq!(job.tool.given[0].area.spots().len(), 2);
        assert_eq!(apply(&job, Edit::TurnPull).tool.given[0].to, Steel::Second);
    }

    #[test]
    fn what_names_faces_holds_the_parts_mends_and_bodies_fast() {
        let (mut job, bench) = bench();
        job.marks.clear();
        let mend = Edit::MendPart { mend: trade::PartMend::Turn };
        assert!(mend.apply(&job, &bench).is_ok());
        let area = Area::Faces { faces: vec![0] };
        let kept = Edit::AddKeepOut { kind: KeepOutKind::Polished, area }.apply(&job, &bench).unwrap();
        assert!(mend.apply(&kept, &bench).unwrap_err().to_string().contains("Keep-outs"));
        let named = Edit::NameFace { face: 0, name: "lid".into() }.apply(&job, &bench).unwrap();
        assert!(mend.apply(&named, &bench).unwrap_err().to_string().contains("names"));
        let gone = Edit::NameFace { face: 99, name: "lid".into() }.apply(&job, &bench);
        assert!(gone.unwrap_err().to_string().contains("no face 99"));
    }

    #[test]
    fn a_face_of_ones_own_letters_all_marks_that_name_it() {
        let (job, bench) = bench();
        let (mark, text) = (job.marks[0].id.clone(), job.marks[0].text.replace('\n', ""));
        let letter = |character: char, wide: f64| trade::OwnLetter {
            character,
            outline: format!("M0 0L{wide} 0L{wide} 100L0 100Z"),
            left: 10.0,
            right: 10.0,
            rise: 0.0,
        };
        let mut characters: Vec<char> = text.chars().filter(|c| *c != ' ').collect();
        characters.sort_unstable();
        characters.dedup();
        let face = |wide: f64| trade::OwnFace {
            name: "Bars".into(),
            file: "bars.svg".into(),
            letters: characters.iter().map(|c| letter(*c, wide)).collect(),
            blank: 40.0,
        };
        let put =
            |job: &Job, face: trade::OwnFace, mark: Option<String>| Edit::PutFace { face, mark }.apply(job, &bench);
        let narrow = put(&job, face(20.0), Some(mark.clone())).unwrap();
        assert_eq!((narrow.own_faces.len(), narrow.marks[0].lettering.face.as_str()), (1, "Bars"));
        let length = |job: &Job| lettering::drawn(&job.marks[0]).unwrap().size.x;
        // what takes its place letters the same mark
        let wide = put(&narrow, face(40.0), None).unwrap();
        assert_eq!(wide.own_faces.len(), 1);
        assert!(length(&wide) > 1.3 * length(&narrow), "{} {}", length(&wide), length(&narrow));
        let solid = |job: &Job| {
            let outcome = bench.outcome(job, workbench::Scope::NearMarks);
            let built = outcome.marks[0].built.clone().unwrap();
            built.placed.high.x - built.placed.low.x
        };
        assert!(solid(&wide) > solid(&narrow) + 0.5, "built anew, not as it was kept");
        // a copy and a change of another setting keep it
        let copied = Edit::CopyMark { id: mark.clone() }.apply(&wide, &bench).unwrap();
        assert_eq!(length(&copied), length(&wide));
        let settings = json!({"lettering": {"spacing": 1.0}});
        let spaced = Edit::SetMark { id: mark.clone(), settings }.apply(&wide, &bench).unwrap();
        assert!(spaced.marks[0].lettering.own.is_some() && length(&spaced) > length(&wide));
        // what it can't be is said
        let refused = |change: &dyn Fn(&mut trade::OwnFace)| {
            let mut face = face(20.0);
            change(&mut face);
            put(&job, face, Some(mark.clone())).unwrap_err().to_string()
        };
        assert!(refused(&|f| f.name = "Overpass".into()).contains("is a face that ships"));
        assert!(refused(&|f| f.letters[0].outline = "M0 0".into()).contains("can't be read"));
        assert!(refused(&|f| f.letters[0].left = 1e9).contains("must lie between"));
        assert!(put(&job, face(20.0), Some("gone".into())).unwrap_err().to_string().contains("no mark “gone”"));
    }

    #[test]
    fn a_setting_out_of_range_changes_nothing_and_says_the_range() {
        let (job, bench) = bench();
        for (settings, says) in [
            (json!({"lettering": {"cap_height": 0}}), "between 0.2 and 500 mm"),
            (json!({"lettering": {"cap_height": 1e6}}), "between 0.2 and 500 mm"),
            (json!({"relief": {"draft": "steep"}}), "steep"),
            (json!({"text": "A".repeat(10_000)}), "10000 characters"),
            (json!({"nonsense": 1}), "nonsense"),
        ] {
            let edit = Edit::SetMark { id: job.marks[0].id.clone(), settings };
            let said = edit.apply(&job, &bench).unwrap_err().to_string();
            assert!(said.contains(says), "{said}");
        }
    }

    #[test]
    fn settings_of_one_baseline_or_tie_are_changed_one_by_one_and_another_kind_begins_anew() {
        let (job, bench) = bench();
        let id = job.marks[0].id.clone();
        let set = |job: &Job, place: serde_json::Value| {
            Edit::SetMark { id: id.clone(), settings: json!({ "place": place }) }.apply(job, &bench)
        };
        let arc =
            json!({"line": "arc", "radius": 12.0, "tops": "out", "share": 50.0, "stands": "middle", "bent": false});
        let job = set(&job, json!({ "baseline": arc })).unwrap();
        let job = set(&job, json!({"baseline": {"line": "arc", "radius": 9.0}})).unwrap();
        let job = set(&job, json!({"baseline": {"line": "arc", "tops": "in"}})).unwrap();
        let Baseline::Arc { radius, tops, share, .. } = job.marks[0].place.baseline else { panic!("an arc") };
        assert_eq!((radius, tops, share), (9.0, trade::Tops::In, 50.0));
        // what another kind needs is not there
        assert!(set(&job, json!({"along": {"tie": "from_end"}})).is_err());
        let job = set(&job, json!({"baseline": {"line": "straight"}})).unwrap();
        assert_eq!(job.marks[0].place.baseline, Baseline::Straight);
    }

    #[test]
    fn turning_the_pull_leaves_the_parting_plane_where_it_was() {
        let (mut job, bench) = bench();
        job.tool.parting = vec![Parting::Plane { height: 4.0 }];
        let turned = Edit::TurnPull.apply(&job, &bench).unwrap();
        assert_eq!(turned.tool.pull, Some([0.0, 0.0, -1.0]));
        assert_eq!(turned.tool.parting, vec![Parting::Plane { height: -4.0 }]);
    }

    #[test]
    fn a_mark_goes_where_the_part_was_pressed_and_its_copy_lies_clear_of_it() {
        let (job, bench) = bench();
        let face = job.marks[0].seat.face;
        let job =
            Edit::AddMark { face, text: "A".into(), point: Some([30.0, 20.0, 12.0]) }.apply(&job, &bench).unwrap();
        let added = job.marks.last().unwrap();
        let seat = bench.seat(&SeatRef::on(face), unit_pull(&job.tool)).unwrap();
        let placed = relief::place::place(added, &seat).unwrap();
        assert!(seat.chart.point(placed.middle, 0.0).distance(DVec3::new(30.0, 20.0, 12.0)) < 0.01);
        let job = Edit::CopyMark { id: added.id.clone() }.apply(&job, &bench).unwrap();
        let copy = job.marks.last().unwrap();
        assert_ne!(copy.id, job.marks[1].id);
        let lower = relief::place::place(copy, &seat).unwrap();
        assert!(lower.outline[2].y < placed.outline[0].y);
    }

    #[test]
    fn marks_of_one_manner_change_together_and_who_joins_takes_it_over() {
        let (job, bench) = bench();
        let apply = |job: &Job, edit: Edit| edit.apply(job, &bench).unwrap();
        let set = |id: &str, settings| Edit::SetMark { id: id.into(), settings };
        let first = job.marks[0].id.clone();
        let job = apply(&job, Edit::CopyMark { id: first.clone() });
        let other = job.marks[1].id.clone();
        let job = apply(&job, set(&first, json!({"manner": "small"})));
        let job = apply(&job, set(&first, json!({"relief": {"height": 0.2}})));
        assert_eq!(job.marks[1].relief.height, 0.5);
        let job = apply(&job, set(&other, json!({"manner": "small"})));
        assert_eq!(job.marks[1].relief, job.marks[0].relief);
        let job = apply(&job, set(&other, json!({"lettering": {"cap_height": 4.5}, "text": "SB-9"})));
        assert_eq!((job.marks[0].lettering.cap_height, job.marks[0].text.as_str()), (4.5, "SB-3-118"));
        // left again, it changes by itself
        let job = apply(&job, set(&other, json!({"manner": null})));
        let job = apply(&job, set(&other, json!({"relief": {"height": 0.35}})));
        assert_eq!((job.marks[0].relief.height, job.marks[1].relief.height), (0.2, 0.35));
    }

    #[test]
    fn a_mark_goes_to_the_other_side_over_a_neighbour_and_is_repeated() {
        let (mut job, bench) = bench();
        job.marks[0].lettering.cap_height = 3.0;
        let apply = |job: &Job, edit: Edit| edit.apply(job, &bench);
        let id = job.marks[0].id.clone();
        let seat = |job: &Job, at: usize| bench.seat(&job.marks[at].seat, unit_pull(&job.tool)).unwrap();
        let middle = |job: &Job, at: usize| {
            let seat = seat(job, at);
            let placed = relief::place::place(&job.marks[at], &seat).unwrap();
            (seat.chart.point(placed.middle, 0.0), seat.chart.normal(placed.middle))
        };
        // under the block, looking down, and read from there
        let under = apply(&job, Edit::OtherSide { id: id.clone() }).unwrap();
        let ((was, up), (is, down)) = (middle(&job, 0), middle(&under, 0));
        assert!((is - was + up * 12.0).length() < 0.01 && down.dot(up) < -0.999, "{was} {is}");
        // over the edge to a side, and back
        let side = bench
            .part()
            .faces
            .iter()
            .position(|f| matches!(f.surface, Surface::Plane { normal, .. } if normal.x > 0.999));
        let side = side.unwrap() as u32;
        let wide = apply(&job, Edit::SeatOver { id: id.clone(), face: side }).unwrap();
        assert_eq!(wide.marks[0].seat.with, vec![side]);
        assert!(middle(&wide, 0).0.distance(was) < 0.02, "{}", middle(&wide, 0).0);
        let size = seat(&wide, 0).end - seat(&wide, 0).start;
        assert!((size.x - 72.0).abs() < 0.01, "{size}");
        let back = apply(&wide, Edit::SeatOver { id: id.clone(), face: side }).unwrap();
        assert!(back.marks[0].seat.with.is_empty());
        let alone = apply(&back, Edit::SeatOver { id: id.clone(), face: back.marks[0].seat.face });
        assert!(alone.is_err());
        // three in a row, each 8 mm below the last
        let repeat = |times, up, round| Edit::RepeatMark { id: id.clone(), times, along: 0.0, up, round };
        let three = apply(&job, repeat(3, -8.0, false)).unwrap();
        assert_eq!(three.marks.len(), 3);
        for k in 1..3 {
            let by = middle(&three, k).0 - was;
            assert!((by - DVec3::NEG_Y * 8.0 * k as f64).length() < 0.011, "{by}");
        }
        for bad in [repeat(1, -8.0, false), repeat(3, 0.0, false), repeat(3, 0.0, true), repeat(65, 1.0, false)] {
            assert!(matches!(apply(&job, bad), Err(Problem::Wrong(_))));
        }
        let on = Edit::RepeatOn { id: id.clone(), face: side, point: [60.0, 15.0, 6.0] };
        let six = apply(&job, on).unwrap();
        assert_eq!(six.marks[1].seat.face, side);
        assert!(middle(&six, 1).0.distance(DVec3::new(60.0, 15.0, 6.0)) < 0.011);
    }
}
