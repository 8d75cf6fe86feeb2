//! What came out: for each mark its findings or why it could not be built, and the marked pieces.

use inspection::{Check, Finding, State, not_built};
use relief::{BuiltMark, MarkedSolid};
use std::{cmp::Reverse, collections::HashMap, sync::Arc};
use trade::{Mark, Steel, relief::LessRound};

use crate::blocks::Block;

/// What the marks are joined to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Scope {
    /// Only the pieces of the part near the marks: what an edit needs.
    NearMarks,
    /// The whole part: what is handed off.
    Whole,
}

/// Marks that lie together, joined to one piece of the part; or all marks that are joined to nothing: those
/// on a surface body, and surface-only ones.
pub struct Group {
    /// Tells this group from every other on the same part.
    pub key: String,
    /// The block that was cut out; `None` for the whole part and for what is joined to nothing.
    pub block: Option<Block>,
    /// Joined to nothing: `solid` is the lettering alone.
    pub apart: bool,
    /// Places of the marks in the job.
    pub marks: Vec<u32>,
    pub solid: MarkedSolid,
    /// The same with what fills its inlays beside it and films over what marks keep free, where there is either.
    pub looked_at: Option<MarkedSolid>,
    /// Red, green and blue of letters with a colour of their own, by their marks' places and their own.
    pub colours: HashMap<(u32, u32), [u8; 3]>,
    /// Places in the job of stamp areas.
    pub stamps: Vec<u32>,
}

#[derive(Clone)]
pub struct MarkOutcome {
    pub id: String,
    /// Switched off marks are neither built nor checked.
    pub on: bool,
    /// The steel that forms it; `None` while no pull is set.
    pub steel: Option<Steel>,
    pub built: Option<Arc<BuiltMark>>,
    /// Why it could not be built.
    pub problem: Option<String>,
    pub findings: Vec<Finding>,
}

impl Group {
    /// About how much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        self.key.len() + self.solid.bytes() + self.looked_at.as_ref().map_or(0, MarkedSolid::bytes)
    }

    /// The solid as it is looked at.
    #[must_use]
    pub fn shown(&self) -> &MarkedSolid {
        self.looked_at.as_ref().unwrap_or(&self.solid)
    }
}

/// Marks that were built, each with its place in the job.
pub type Members = Vec<(u32, Arc<BuiltMark>)>;

/// Those of `marks` that were built.
pub(crate) fn built(marks: &[MarkOutcome]) -> Members {
    marks.iter().enumerate().filter_map(|(at, m)| Some((at as u32, m.built.clone()?))).collect()
}

impl MarkOutcome {
    pub(crate) fn off(mark: &Mark) -> Self {
        let id = mark.id.clone();
        Self { id, on: false, steel: None, built: None, problem: None, findings: Vec::new() }
    }

    /// A mark that was built, or why it was not.
    pub(crate) fn of(mark: &Mark, built: Result<(Option<Steel>, Arc<BuiltMark>), String>) -> Self {
        let mut outcome = Self { on: true, ..Self::off(mark) };
        match built {
            Ok((steel, built)) => (outcome.steel, outcome.built) = (steel, Some(built)),
            Err(problem) => outcome.fail(&problem),
        }
        outcome
    }

    pub(crate) fn fail(&mut self, problem: &str) {
        self.findings = not_built(&self.id, problem);
        self.problem = Some(problem.to_owned());
    }

    /// Its letters whose edge or root is smaller than what is set, since their strokes are too thin for it.
    #[must_use]
    pub fn less_round(&self) -> Vec<LessRound> {
        let Some(built) = &self.built else { return Vec::new() };
        let letters = &built.placed.characters;
        let told = built.less_round().map(|(character, relief)| LessRound {
            character,
            text: letters[character as usize].text.clone(),
            edge: relief.edge,
            root: relief.root,
        });
        told.collect()
    }

    /// The worst state of all findings; of a mark that is on without any nobody knows.
    #[must_use]
    pub fn state(&self) -> State {
        let none = if self.on { State::NotChecked } else { State::DoesNotApply };
        self.findings.iter().map(|f| f.state).max().unwrap_or(none)
    }

    /// The finding that matters most: the worst; of those one that nobody answers for, letters that are missing or lie off the
    /// part before all else.
    #[must_use]
    pub fn worst(&self) -> Option<&Finding> {
        let bad = self.findings.iter().filter(|f| f.state > State::Passes);
        bad.min_by_key(|f| (Reverse(f.state), f.is_waived(), f.check != Check::Complete))
    }
}

#[derive(Clone)]
pub struct Outcome {
    pub marks: Vec<MarkOutcome>,
    pub groups: Vec<Arc<Group>>,
}

impl Outcome {
    /// About how much memory it takes, bytes, with what it shares with other outcomes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        self.groups.iter().map(|group| group.bytes()).sum()
    }

    /// The marks that were built.
    pub(crate) fn built(&self) -> Members {
        built(&self.marks)
    }

    /// A mark that was built, by its place in the job, and the piece of the marked solid that it stands on.
    #[must_use]
    pub fn on_solid(&self, at: usize) -> Option<(&MarkedSolid, &BuiltMark)> {
        let group = self.groups.iter().find(|group| group.marks.contains(&(at as u32)))?;
        Some((group.shown(), self.marks.get(at)?.built.as_deref()?))
    }

    /// The worst state of all marks that are on; where none is, nothing was checked.
    #[must_use]
    pub fn state(&self) -> State {
        self.marks.iter().filter(|m| m.on).map(MarkOutcome::state).max().unwrap_or(State::NotChecked)
    }

    /// How many findings stand so.
    #[must_use]
    pub fn count(&self, state: State) -> usize {
        self.marks.iter().flat_map(|m| &m.findings).filter(|f| f.state == state).count()
    }

    /// How many of those that fail somebody answers for.
    #[must_use]
    pub fn waived(&self) -> usize {
        self.findings().filter(|f| f.is_waived()).count()
    }

    /// How many findings could not be made; where no mark is on that is one, since nothing was looked at.
    #[must_use]
    pub fn not_checked(&self) -> usize {
        let nothing = usize::from(!self.marks.iter().any(|m| m.on));
        self.count(State::NotChecked).max(nothing)
    }

    /// The marked solid of [`Scope::Whole`]; `None` where no mark is part of it.
    #[must_use]
    pub fn whole(&self) -> Option<&MarkedSolid> {
        self.groups.iter().find(|g| !g.apart).map(|g| &g.solid)
    }

    /// The finding that matters most, and its mark: of one that isn't built before all others.
    #[must_use]
    pub fn worst(&self) -> Option<(&MarkOutcome, &Finding)> {
        let marks = self.marks.iter().filter(|m| m.on).filter_map(|m| Some((m, m.worst()?)));
        marks.min_by_key(|(m, f)| (m.problem.is_none(), Reverse(f.state), f.is_waived(), f.check != Check::Complete))
    }

    pub fn findings(&self) -> impl Iterator<Item = &Finding> {
        self.marks.iter().flat_map(|m| &m.findings)
    }
}
