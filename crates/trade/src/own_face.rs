//! Lettering faces of the shop's own: letter shapes from a drawing, kept with the job that is lettered in them.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::{
    collections::HashSet,
    hash::{DefaultHasher, Hash, Hasher},
    ops::RangeInclusive,
    sync::Arc,
};

/// Height of the capitals of an own face, in its own units: lengths are hundredths of the cap height.
pub const CAPITALS: f64 = 100.0;
/// Most letters of one face.
pub const MOST_LETTERS: usize = 300;
/// Most faces of one job.
pub const MOST_OWN_FACES: usize = 20;
/// Space to the left and right of a letter that a new face begins with: between two of them a fifth of the cap
/// height, as ISO 3098 type B has it.
pub const BEARING: f64 = 10.0;
/// Width of a blank that a new face begins with: with the bearings beside it six tenths of the cap height, as ISO 3098
/// type B has it.
pub const BLANK: f64 = 40.0;
/// Longest outlines of all letters together, bytes.
const LONGEST_OUTLINES: usize = 4 << 20;

/// A lettering face of letter shapes that were drawn in a file, one region set a character.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnFace {
    /// What marks call it.
    pub name: String,
    /// Name of the file that it was read from.
    pub file: String,
    pub letters: Vec<OwnLetter>,
    /// How far a blank moves on, % of the cap height.
    pub blank: f64,
}

/// One character of an own face. Lengths are % of the cap height.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnLetter {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub character: char,
    /// Closed contours as SVG path data of M, L and Z, y up from the baseline that it was drawn on, its ink from x = 0
    /// on, outer ones counter-clockwise, capitals 100 high.
    pub outline: String,
    /// Left bearing: space before its ink.
    pub left: f64,
    /// Right bearing: space after its ink.
    pub right: f64,
    /// How far it is raised from where it was drawn.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub rise: f64,
}

fn within(what: &str, value: f64, range: RangeInclusive<f64>) -> Result<(), String> {
    if range.contains(&value) {
        return Ok(());
    }
    Err(format!(
        "the {what} is {value} %; it must lie between {} and {} % of the cap height",
        range.start(),
        range.end()
    ))
}

impl OwnFace {
    /// Every setting inside its range, no character twice?
    ///
    /// # Errors
    /// The first that is not, by the face's name and the character.
    pub fn check(&self) -> Result<(), String> {
        let count = self.name.chars().count();
        if self.name.trim() != self.name || !(1..=60).contains(&count) {
            return Err(format!("“{}” is not a name for a lettering face; it has 1 to 60 characters", self.name));
        }
        self.check_letters().map_err(|what| format!("lettering face “{}”: {what}", self.name))
    }

    fn check_letters(&self) -> Result<(), String> {
        if !(1..=MOST_LETTERS).contains(&self.letters.len()) {
            return Err(format!("it has {} letters; a face has 1 to {MOST_LETTERS}", self.letters.len()));
        }
        if self.letters.iter().map(|l| l.outline.len()).sum::<usize>() > LONGEST_OUTLINES {
            return Err(format!("its outlines take more than {} MB; simplify the drawing", LONGEST_OUTLINES >> 20));
        }
        within("width of a blank", self.blank, 5.0..=300.0)?;
        let mut seen = HashSet::new();
        for letter in &self.letters {
            let OwnLetter { character, left, right, rise, .. } = letter;
            if character.is_whitespace() || character.is_control() {
                return Err(format!("U+{:04X} is not a character that can be drawn", u32::from(*character)));
            }
            if !seen.insert(character) {
                return Err(format!("it has “{character}” twice; keep one of them"));
            }
            let of = |what: &str| format!("{what} of “{character}”");
            within(&of("left bearing"), *left, -100.0..=300.0)?;
            within(&of("right bearing"), *right, -100.0..=300.0)?;
            within(&of("rise"), *rise, -200.0..=200.0)?;
        }
        Ok(())
    }

    #[must_use]
    pub fn letter(&self, character: char) -> Option<&OwnLetter> {
        self.letters.iter().find(|l| l.character == character)
    }
}

/// An own face where a mark's lettering holds it: shared, with a key of all that it consists of.
#[derive(Clone, Debug)]
pub struct HeldFace {
    pub face: Arc<OwnFace>,
    key: u64,
}

impl HeldFace {
    #[must_use]
    pub fn new(face: &OwnFace) -> Self {
        let mut hasher = DefaultHasher::new();
        (&face.name, face.blank.to_bits()).hash(&mut hasher);
        for OwnLetter { character, outline, left, right, rise } in &face.letters {
            (character, outline, [left, right, rise].map(|v| v.to_bits())).hash(&mut hasher);
        }
        Self { face: Arc::new(face.clone()), key: hasher.finish() }
    }

    /// Differs where the faces do.
    #[must_use]
    pub fn key(&self) -> u64 {
        self.key
    }
}

impl PartialEq for HeldFace {
    fn eq(&self, other: &Self) -> bool {
        self.key == other.key
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Job, Mark};

    fn face(name: &str) -> OwnFace {
        let letter = |character| OwnLetter {
            character,
            outline: "M0 0L60 0L60 100L0 100Z".into(),
            left: BEARING,
            right: BEARING,
            rise: 0.0,
        };
        let letters = vec![letter('H'), letter('7')];
        OwnFace { name: name.into(), file: "block.dxf".into(), letters, blank: BLANK }
    }

    #[test]
    fn what_a_face_cant_be_is_said_with_its_letter() {
        face("Block").check().unwrap();
        let wrong = |change: &dyn Fn(&mut OwnFace)| {
            let mut face = face("Block");
            change(&mut face);
            face.check().unwrap_err()
        };
        assert!(wrong(&|f| f.name = " ".into()).contains("not a name for a lettering face"));
        assert!(wrong(&|f| f.letters.clear()).contains("“Block”: it has 0 letters"));
        assert!(wrong(&|f| f.letters[1].character = 'H').contains("“H” twice"));
        assert!(wrong(&|f| f.letters[1].character = ' ').contains("U+0020 is not a character that can be drawn"));
        assert!(wrong(&|f| f.letters[1].left = f64::NAN).contains("left bearing of “7” is NaN %"));
        assert!(wrong(&|f| f.blank = 0.0).contains("width of a blank is 0 %"));
        assert!(wrong(&|f| f.letters[0].outline = " ".repeat(5 << 20)).contains("more than 4 MB"));
    }

    #[test]
    fn a_job_file_carries_the_face_to_its_marks() {
        let mut mark = Mark { id: "a".into(), text: "H7".into(), ..Mark::default() };
        mark.lettering.face = "Block".into();
        let mut job = Job { own_faces: vec![face("Block")], marks: vec![mark], ..Job::default() };
        let read = Job::from_json(serde_json::to_string(&job).unwrap().as_bytes()).unwrap();
        let held = read.marks[0].lettering.own.as_ref().unwrap();
        assert_eq!(*held.face, face("Block"));
        assert_ne!(job.marks[0].lettering, read.marks[0].lettering, "it has no face in its hand yet");
        // another bearing is another lettering
        job.own_faces[0].letters[1].right = 12.0;
        job.hold_faces();
        assert_ne!(job.marks[0].lettering, read.marks[0].lettering);
        job.marks[0].lettering.face = "overpass".into();
        job.hold_faces();
        assert!(job.marks[0].lettering.own.is_none());
        job.own_faces.push(face("Block"));
        assert!(job.check().unwrap_err().to_string().contains("“Block” twice"));
    }
}
