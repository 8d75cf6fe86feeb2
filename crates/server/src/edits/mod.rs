//! What a person can change about a job, one step each. An edit is applied to the present state,
//! not sent as a whole job, so that two people who change different things keep both.
//!
//! Each kind of edit is a file with its type, its rule and its test, and a line in the list below.

mod assigned;
mod bodies;
mod cutters;
mod datum;
mod faces;
mod handoff;
mod holding;
mod keep_outs;
mod limits;
mod marks;
mod mends;
mod parting;
mod plate;
mod process;
mod pull;
mod rename;
mod roster;
mod slides;
mod surface_body;
mod waivers;

pub(crate) use assigned::steel_name;
pub use roster::RosterEdit;

use crate::problem::Problem;
use serde::{Deserialize, Serialize};
use trade::Job;
use utoipa::ToSchema;
use workbench::Bench;

/// One kind of edit.
trait Change {
    /// The edit of a job in a few words, for the history.
    fn label(&self, _: &Job) -> String;

    /// Makes the edit; the job is checked afterwards.
    fn apply(&self, job: &mut Job, bench: &Bench) -> Result<(), Problem>;
}

macro_rules! edits {
    ($($kind:ident($change:ident) in $($file:ident)::+;)*) => {
        #[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
        #[serde(rename_all = "snake_case", tag = "do")]
        pub enum Edit {
            $($kind($($file::)+$change),)*
        }

        impl Edit {
            fn change(&self) -> &dyn Change {
                match self {
                    $(Self::$kind(edit) => edit,)*
                }
            }
        }
    };
}

edits! {
    Rename(Rename) in rename;
    TakeBodies(TakeBodies) in bodies;
    MendPart(MendPart) in mends;
    RemoveMend(RemoveMend) in mends;
    TakeAsSurfaceBody(TakeAsSurfaceBody) in surface_body;
    JoinFaces(JoinFaces) in faces;
    DivideFace(DivideFace) in faces;
    ClearFaceMends(ClearFaceMends) in faces;
    NameFace(NameFace) in faces;
    SetPull(SetPull) in pull;
    PullFromFace(PullFromFace) in pull;
    SwapHalves(SwapHalves) in pull;
    AddParting(AddParting) in parting;
    PartingAt(PartingAt) in parting;
    SetParting(SetParting) in parting;
    RemoveParting(RemoveParting) in parting;
    PickEdge(PickEdge) in parting;
    AddSlide(AddSlide) in slides;
    AddSlideFromFace(AddSlideFromFace) in slides;
    SetSlidePull(SetSlidePull) in slides;
    RenameSlide(RenameSlide) in slides;
    RemoveSlide(RemoveSlide) in slides;
    Assign(Assign) in assigned;
    Unassign(Unassign) in assigned;
    AddKeepOut(AddKeepOut) in keep_outs;
    SetKeepOut(SetKeepOut) in keep_outs;
    RemoveKeepOut(RemoveKeepOut) in keep_outs;
    SetProcess(SetProcess) in process;
    SetLimit(SetLimit) in limits;
    ResetLimit(ResetLimit) in limits;
    SetLimits(SetLimits) in limits;
    SetReadingDistance(SetReadingDistance) in limits;
    AddMark(AddMark) in marks::add;
    CopyMark(CopyMark) in marks::copy;
    PlacePattern(PlacePattern) in marks::pattern;
    SetMark(SetMark) in marks::settings;
    PlaceMark(PlaceMark) in marks::place;
    MoveOnSphere(MoveOnSphere) in marks::globe;
    KeepOffCreases(KeepOffCreases) in marks::off_creases;
    RepeatMark(RepeatMark) in marks::repeat;
    CopyToFace(CopyToFace) in marks::copy_to_face;
    CopyToFaces(CopyToFaces) in marks::copy_to_faces;
    AlignMarks(AlignMarks) in marks::align;
    SpreadMarks(SpreadMarks) in marks::align;
    ExtendOver(ExtendOver) in marks::extend;
    MoveToOpposite(MoveToOpposite) in marks::opposite;
    CopyToOpposite(CopyToOpposite) in marks::opposite;
    MirrorMark(MirrorMark) in marks::mirror;
    SetLettersApart(SetLettersApart) in handoff;
    SetDatum(SetDatum) in datum;
    DatumAtFace(DatumAtFace) in datum;
    AddCutter(AddCutter) in cutters;
    SetCutter(SetCutter) in cutters;
    RemoveCutter(RemoveCutter) in cutters;
    PutFace(PutFace) in marks::lettering_face;
    Roster(RosterChange) in roster;
    ToolPlate(ToolPlateChange) in plate;
    RemoveMark(RemoveMark) in marks::order;
    MoveMark(MoveMark) in marks::order;
    Waive(Waive) in waivers;
    WithdrawWaiver(WithdrawWaiver) in waivers;
}

impl Edit {
    /// The edit of a job in a few words, for the history.
    #[must_use]
    pub fn label(&self, job: &Job) -> String {
        self.change().label(job)
    }

    /// `job` with the edit made and checked.
    ///
    /// # Errors
    /// What would be wrong with the job then.
    pub fn apply(&self, job: &Job, bench: &Bench) -> Result<Job, Problem> {
        let mut job = job.clone();
        self.change().apply(&mut job, bench)?;
        job.hold_faces();
        let Job { marks, waivers, .. } = &mut job;
        waivers.retain(|w| marks.iter().any(|m| m.id == w.mark));
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

/// `stem` with the first number that is free.
fn fresh(stem: &str, taken: impl Fn(&str) -> bool) -> String {
    (1..).map(|n| format!("{stem} {n}")).find(|name| !taken(name)).expect("names are finitely many")
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec3;
    use relief::PlacedMark;
    use solid::Surface;
    use trade::Mark;
    use workbench::{Steps, unit_pull};

    /// A plain block of 60 × 30 × 12 from the origin, with one mark on its top.
    pub(super) fn bench() -> (Job, Bench) {
        let demo = demo::jobs().remove(1);
        let part = demo.read();
        (demo.job, Bench::new(part))
    }

    /// The plane of a part that looks a way.
    pub(super) fn facing(bench: &Bench, way: DVec3) -> u32 {
        let looks = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.distance(way) < 1e-6);
        bench.part().faces.iter().position(|f| looks(&f.surface)).expect("a face looks that way") as u32
    }

    /// Where the middle of a mark lies on the part, mm.
    pub(super) fn middle(job: &Job, bench: &Bench, mark: &Mark) -> DVec3 {
        let seat = bench.seat(&mark.seat, unit_pull(&job.tool)).unwrap();
        let settled = workbench::ties::settled(bench, &job.marks, mark, unit_pull(&job.tool)).unwrap();
        let placed: PlacedMark = relief::place::place(&settled, &seat).unwrap();
        seat.chart.point(placed.middle, 0.0)
    }

    /// What is said against an edit, which leaves the job as it is.
    pub(super) fn refused(edit: &dyn Change, job: &Job, bench: &Bench) -> String {
        let mut changed = job.clone();
        edit.apply(&mut changed, bench).expect_err("it is refused").to_string()
    }

    #[test]
    fn an_edit_that_leaves_the_job_wrong_is_refused_whole() {
        let (job, bench) = bench();
        let edit: Edit = serde_json::from_value(serde_json::json!({"do": "set_reading_distance", "mm": 1.0})).unwrap();
        assert!(edit.apply(&job, &bench).unwrap_err().to_string().contains("between 10"));
        let unknown = serde_json::from_value::<Edit>(serde_json::json!({"do": "rename", "name": "A", "size": 1}));
        assert!(unknown.unwrap_err().to_string().contains("size"));
    }
}
