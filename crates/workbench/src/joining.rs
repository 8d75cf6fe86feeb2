//! Built marks joined to the part: those that lie together to one piece of it.

use crate::{
    blocks::{Block, arrange},
    key::{key, settings_of},
    outcome::{Group, MarkOutcome, Members, Outcome, Scope},
    steps::Steps,
    workpiece::Ground,
};
use rayon::prelude::*;
use relief::{
    BuiltMark,
    marked::{self, looked_at},
};
use std::sync::Arc;
use trade::Sense;

/// The marks that were built, joined group by group; where that fails each mark of the group says why.
/// Of the groups only those that are wanted.
pub(crate) fn joined(
    steps: &impl Steps,
    ground: &Ground,
    mut marks: Vec<MarkOutcome>,
    scope: Scope,
    wanted: impl Fn(&Members) -> bool,
) -> Outcome {
    let mut arranged = arranged(steps, ground, &marks, scope);
    arranged.retain(|(_, _, members)| wanted(members));
    let joined: Vec<Result<Arc<Group>, String>> =
        arranged.par_iter().map(|(ground, block, members)| steps.group(ground, *block, members)).collect();
    let mut groups = Vec::new();
    for ((_, _, members), group) in arranged.iter().zip(joined) {
        match group {
            Ok(group) => groups.push(group),
            Err(problem) => members.iter().for_each(|(at, _)| marks[*at as usize].fail(&problem)),
        }
    }
    Outcome { marks, groups }
}

/// What is joined to what, in which block.
fn arranged(
    steps: &impl Steps,
    ground: &Ground,
    marks: &[MarkOutcome],
    scope: Scope,
) -> Vec<(Ground, Option<Block>, Members)> {
    let solid = matches!(ground, Ground::Solid(_));
    let present = crate::outcome::built(marks);
    let (joined, apart): (Members, Members) = present.into_iter().partition(|(_, b)| solid && b.has_relief());
    let mut arranged: Vec<(Ground, Option<Block>, Members)> = match scope {
        _ if joined.is_empty() => Vec::new(),
        Scope::NearMarks => {
            let boxes: Vec<Block> = joined.iter().map(|(_, b)| Block::around(b.bounds())).collect();
            let members = |of: Vec<usize>| of.into_iter().map(|m| joined[m].clone()).collect();
            let placed = arrange(&boxes, &steps.blocks()).into_iter();
            placed.map(|(block, of)| (ground.clone(), Some(block), members(of))).collect()
        }
        Scope::Whole => vec![(ground.clone(), None, joined)],
    };
    if !apart.is_empty() {
        arranged.push((Ground::None, None, apart));
    }
    arranged
}

/// The name of a group: what it is made from.
pub(crate) fn name(ground: &Ground, block: Option<Block>, members: &Members) -> String {
    let settings: Vec<_> = members.iter().map(|(at, b)| (*at, settings_of(&b.mark), b.pull)).collect();
    key(&(block.map(|b| (b.low, b.high)), matches!(ground, Ground::None), settings))
}

/// Marks that lie together joined to their piece of the ground.
///
/// # Errors
/// The boolean failed.
pub(crate) fn group(
    steps: &impl Steps,
    ground: &Ground,
    block: Option<Block>,
    members: &Members,
) -> Result<Group, String> {
    let marks: Vec<(u32, &BuiltMark)> = members.iter().map(|(at, b)| (*at, &**b)).collect();
    let solid = match (ground, block) {
        (Ground::None, _) => marked::apart(&marks),
        (Ground::Solid(stock), Some(block)) => steps.marked_piece(stock, block, members),
        (Ground::Solid(stock), None) => stock.marked(&marks),
    };
    let solid = solid.map_err(|e| e.to_string())?;
    Ok(Group {
        key: name(ground, block, members),
        block,
        apart: matches!(ground, Ground::None),
        looked_at: looked_at(&solid, &marks),
        colours: marks
            .iter()
            .flat_map(|(at, m)| m.colours().map(move |(character, colour)| ((*at, character), colour.rgb())))
            .collect(),
        stamps: marks.iter().filter(|(_, m)| m.mark.relief.sense == Sense::Stamp).map(|(at, _)| *at).collect(),
        marks: marks.iter().map(|(at, _)| *at).collect(),
        solid,
    })
}
