//! Lettering faces of the shop's own.

use super::{super::Change, called, settings::set};
use crate::problem::{Problem, sentence};
use serde::{Deserialize, Serialize};
use serde_json::json;
use trade::{Job, OwnFace};
use utoipa::ToSchema;
use workbench::Bench;

/// A lettering face of the shop's own for the job, in the place of one of the same name, and a mark that is
/// lettered in it.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PutFace {
    pub face: OwnFace,
    pub mark: Option<String>,
}

impl Change for PutFace {
    fn label(&self, job: &Job) -> String {
        match &self.mark {
            None => format!("lettering face “{}”", self.face.name),
            Some(id) => format!("{}: lettering face “{}”", called(job, id), self.face.name),
        }
    }

    fn apply(&self, job: &mut Job, _: &Bench) -> Result<(), Problem> {
        let Self { face, mark } = self;
        lettering::own::check(face).map_err(|e| Problem::Wrong(sentence(&e)))?;
        match job.own_faces.iter_mut().find(|f| f.name == face.name) {
            Some(there) => there.clone_from(face),
            None => job.own_faces.push(face.clone()),
        }
        job.hold_faces();
        mark.as_ref().map_or(Ok(()), |id| set(job, id, &json!({"lettering": {"face": face.name}})))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::edits::Edit;
    use crate::edits::marks::{copy::CopyMark, settings::SetMark};
    use crate::edits::tests::bench;

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
        let put = |job: &Job, face: trade::OwnFace, mark: Option<String>| {
            Edit::PutFace(PutFace { face, mark }).apply(job, &bench)
        };
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
        let copied = Edit::CopyMark(CopyMark { id: mark.clone() }).apply(&wide, &bench).unwrap();
        assert_eq!(length(&copied), length(&wide));
        let settings = json!({"lettering": {"spacing": 1.0}});
        let spaced = Edit::SetMark(SetMark { id: mark.clone(), settings }).apply(&wide, &bench).unwrap();
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
}
