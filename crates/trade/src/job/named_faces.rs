//! Faces that a job names by their numbers: marks, areas and names do.

use super::Job;
use crate::{Area, SeatRef};
use std::collections::BTreeSet;

impl Job {
    /// Every face that is named by its number, in order; those in `part.face_mends` say themselves where they lie.
    #[must_use]
    pub fn named_faces(&self) -> BTreeSet<u32> {
        let areas = self.tool.keep_outs.iter().map(|k| &k.area).chain(self.tool.assigned.iter().map(|g| &g.area));
        let of_areas = areas.flat_map(|area| match area {
            Area::Faces { faces } => faces.as_slice(),
            _ => &[],
        });
        let of_marks = self.marks.iter().flat_map(|m| m.seat.faces());
        of_marks.chain(of_areas.copied()).chain(self.face_names.iter().map(|n| n.face)).collect()
    }

    /// Names each face by the number `to` gives it. Where two faces are one now, a seat or an area has it once, and the
    /// first of two names stays.
    pub fn renumber_faces(&mut self, to: impl Fn(u32) -> u32) {
        for mark in &mut self.marks {
            let face = to(mark.seat.face);
            let mut with: Vec<u32> = Vec::new();
            for other in mark.seat.with.iter().map(|&f| to(f)) {
                if other != face && !with.contains(&other) {
                    with.push(other);
                }
            }
            mark.seat = SeatRef { face, with };
        }
        let tool = &mut self.tool;
        let areas = tool.keep_outs.iter_mut().map(|k| &mut k.area).chain(tool.assigned.iter_mut().map(|g| &mut g.area));
        for area in areas {
            if let Area::Faces { faces } = area {
                *faces = faces.iter().map(|&f| to(f)).collect::<BTreeSet<u32>>().into_iter().collect();
            }
        }
        let mut named = BTreeSet::new();
        self.face_names.retain_mut(|n| {
            n.face = to(n.face);
            named.insert(n.face)
        });
        let mut placed = BTreeSet::new();
        self.faces_at.retain_mut(|f| {
            f.face = to(f.face);
            placed.insert(f.face)
        });
    }
}
