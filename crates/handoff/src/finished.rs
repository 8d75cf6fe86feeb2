//! The finished solid itself: closed, one body or as many as before, its volume changed by no more than what was added
//! and cut away.

use crate::read_back::bodies;
use glam::DVec3;
use relief::{BuiltMark, MarkedSolid, Tag};
use serde::Serialize;
use solid::{Mesh, crossing, faces, soundness, weld::weld};
use trade::limits::State;

#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Finished {
    pub state: State,
    /// Separate shells, and how many the bare part has; a hollow that is shut off counts as one.
    pub bodies: usize,
    pub bodies_before: usize,
    /// Every edge has two facets that run opposite ways, and no shell lies the wrong way round.
    pub closed: bool,
    /// Pairs of facets at the marks that pass through one another.
    pub crossings: usize,
    /// mm³, and that of the bare part.
    pub volume: f64,
    pub volume_before: f64,
    /// mm³ of all raised bodies, and of all that are cut away, as they were built, with what reaches into the part or
    /// out of it: the volume can't change by more.
    pub raised: f64,
    pub cut: f64,
    pub sentence: String,
}

/// The finished solid held to the bare part and to the bodies of its marks.
#[must_use]
pub fn finished<'a>(solid: &MarkedSolid, bare: &Mesh, built: impl Iterator<Item = &'a BuiltMark>) -> Finished {
    // corners that lie on one another are one for whoever reads the file
    let joined = |mesh: &Mesh| weld(mesh, faces::tolerance(mesh) / 10.0).0;
    let (mesh, before) = (joined(&solid.mesh), soundness::at_edges(bare));
    let found = soundness::at_edges(&mesh);
    let (mut raised, mut cut) = (0.0, 0.0);
    for mark in built.filter(|b| b.has_relief()) {
        for body in mark.bodies.iter().chain(&mark.pad) {
            *(if mark.relief(body.character).sense.sinks() { &mut cut } else { &mut raised }) += body.mesh.volume();
        }
    }
    let crossings = crossings(solid);
    let (volume, volume_before) = (mesh.volume(), bare.volume());
    let changed = volume - volume_before;
    // sums of many facets, each to the last digit
    let rounding = 1e-9 * volume_before.abs();
    let fault = if let Some(faults) = found.faults("The finished solid") {
        let at = found.bad_edges.first().map_or(String::new(), |[a, b]| {
            let p: DVec3 = (*a + *b) / 2.0;
            format!(" The first lies at {:.3}, {:.3}, {:.3}.", p.x, p.y, p.z)
        });
        Some(format!("{faults}{at}"))
    } else if crossings > 0 {
        Some(format!("On the finished solid {crossings} pairs of facets pass through one another."))
    } else if found.shells != before.shells {
        Some(format!("The finished solid is of {}, the bare part of {}.", bodies(found.shells), before.shells))
    } else if changed > raised + rounding || changed < -cut - rounding {
        Some(format!(
            "The volume changed by {changed:.3} mm³, but the marks add at most {raised:.3} and cut away at most {cut:.3}."
        ))
    } else {
        None
    };
    let sound = format!(
        "The finished solid is closed, {}, {volume:.2} mm³: {:.3} mm³ {} than the bare part.",
        bodies(found.shells),
        changed.abs(),
        if changed < 0.0 { "less" } else { "more" }
    );
    Finished {
        state: if fault.is_some() { State::Fails } else { State::Passes },
        bodies: found.shells,
        bodies_before: before.shells,
        closed: found.is_closed() && found.misfacing == 0,
        crossings,
        volume,
        volume_before,
        raised,
        cut,
        sentence: fault.unwrap_or(sound),
    }
}

/// Pairs of facets that cross, of those that lie in the box about the marks: elsewhere the part is as it was read.
fn crossings(solid: &MarkedSolid) -> usize {
    let (mut low, mut high) = (DVec3::INFINITY, DVec3::NEG_INFINITY);
    for (t, tag) in solid.tags.iter().enumerate() {
        if matches!(tag, Tag::Relief { .. }) {
            for p in solid.mesh.corners(t) {
                (low, high) = (low.min(p), high.max(p));
            }
        }
    }
    let near: Vec<u32> = (0..solid.mesh.triangles.len() as u32)
        .filter(|&t| {
            let [a, b, c] = solid.mesh.corners(t as usize);
            a.min(b).min(c).cmple(high).all() && a.max(b).max(c).cmpge(low).all()
        })
        .collect();
    crossing::crossing_pairs(&solid.mesh.piece(&near).0).len()
}

#[cfg(test)]
mod tests {
    use super::*;
    use demo::shapes::block;
    use relief::Role;

    fn plate() -> Mesh {
        block(DVec3::ZERO, DVec3::new(30.0, 20.0, 3.0))
    }

    fn of(mesh: Mesh, relief: usize) -> MarkedSolid {
        let count = mesh.triangles.len();
        let tag = |t: usize| match t >= count - relief {
            true => Tag::Relief { mark: 0, character: 0, role: Role::Wall },
            false => Tag::Part { face: 0 },
        };
        MarkedSolid { tags: (0..count).map(tag).collect(), mesh }
    }

    #[test]
    fn a_sound_solid_says_what_it_is() {
        let found = finished(&of(plate(), 0), &plate(), std::iter::empty());
        assert_eq!((found.state, found.bodies, found.closed), (State::Passes, 1, true), "{found:?}");
        assert!((found.volume - 1800.0).abs() < 1e-9);
    }

    #[test]
    fn what_is_wrong_with_a_solid_is_told_where_it_is() {
        let told = |solid: MarkedSolid, words: &str| {
            let found = finished(&solid, &plate(), std::iter::empty());
            assert_eq!(found.state, State::Fails, "{words}: {found:?}");
            assert!(found.sentence.contains(words), "{words}: {}", found.sentence);
        };
        let with = |other: &Mesh| {
            let mut mesh = plate();
            mesh.append(other);
            of(mesh, other.triangles.len())
        };
        let mut open = plate();
        open.triangles.pop();
        told(of(open, 0), "3 open edges");
        // a letter that floats, and one that stands in the part without being joined to it
        told(with(&block(DVec3::new(5.0, 5.0, 4.0), DVec3::new(6.0, 6.0, 5.0))), "is of 2 bodies, the bare part of 1");
        told(with(&block(DVec3::new(5.0, 5.0, 2.0), DVec3::new(6.0, 6.0, 5.0))), "lies in another but faces outward");
        told(with(&block(DVec3::new(5.0, 5.0, -1.0), DVec3::new(6.0, 6.0, 5.0))), "pass through one another");
        // one that touches it along an edge alone
        told(
            with(&block(DVec3::new(30.0, 0.0, 3.0), DVec3::new(31.0, 20.0, 4.0))),
            "The first lies at 30.000, 10.000, 3.000",
        );
        // larger by what no mark has added
        told(of(block(DVec3::ZERO, DVec3::new(30.0, 20.0, 3.1)), 0), "The volume changed by 60.000 mm³");
    }
}
