//! When a surface that was grown is believed: enough of the part's corners lie on it, in enough different directions and
//! closely enough, and what lies beyond it does not contradict it.

use super::ground::Ground;
use super::grow::FastSet;
use super::grown::Grown;
use crate::{
    kinds::{self, Sample},
    surface::Surface,
};
use glam::{DVec2, DVec3};

/// Points beyond those that a surface has parameters.
const OVER: usize = 4;
/// Fewer facets than this are believed only as the long strips of a cylinder.
const SEVERAL: usize = 9;
/// Surfaces of at most so many flats are given back where so much of their rim runs on smoothly into what none takes.
const FEW_FLATS: usize = 24;
const ROUND_ABOUT: f64 = 0.9;
/// Different directions round an axis, and round a tube, in which points must lie.
const ROUND: usize = 5;
/// What must lie on the surface to within its finer tolerance, as a share of its area.
const CLOSE: f64 = 0.75;
/// The next facet's lean from a surface that is only a band of something else, as a multiple of the next bend; where it
/// leans less another surface runs on from this one, and where it leans more there is a crease. A surface is not
/// believed where more than the last share of its smooth rim is so.
const LEANS: std::ops::Range<f64> = 0.75..3.0;
const LEANS_DEG: f64 = 0.3;
const ALIKE: f64 = 3.0;
const AGAINST: f64 = 0.5;
/// A torus' ring is at least so large, as a share of its tube.
const LEAST_RING: f64 = 0.02;
/// Directions this near to one another are one, radians.
const ONE_WAY: f64 = 0.01;

impl Ground<'_> {
    /// Area of the members all of whose true corners lie on the surface to within the finer tolerance, mm².
    pub(super) fn close(&self, grown: &Grown) -> f64 {
        let on = |p: DVec3| grown.surface.height(p).is_some_and(|h| h.abs() <= self.finer);
        let close = |m: &&u32| self.corners(&[**m]).iter().all(|s| on(s.0));
        grown.members.iter().filter(close).map(|&m| self.flats()[m as usize].area).sum()
    }

    /// Do the facets beyond contradict the surface? Where it ends and another one runs on from it, the next facet leans
    /// from it by half of its own bend; where it is only a band of something else, by all of that.
    pub(super) fn is_contradicted(&self, taken: &[bool], grown: &Grown) -> bool {
        let flats = self.flats();
        let inside = FastSet::from_iter(grown.members.iter().copied());
        let (mut against, mut all) = (0.0, 0.0);
        for &m in &grown.members {
            let own = &flats[m as usize];
            for (&other, &length) in own.soft.iter().zip(&own.shared) {
                if inside.contains(&other) || taken[other as usize] {
                    continue;
                }
                all += length;
                let next = &flats[other as usize];
                // the line between them, from the edges of either
                let line = self.line(own, other);
                let Some((middle, along)) = line else { continue };
                let Some(normal) = grown.surface.normal(middle) else { continue };
                let turn = |a: DVec3, b: DVec3| along.dot(a.cross(b)).atan2(a.dot(b));
                let leans = turn(normal, next.normal);
                // the bends of the next facet that go the same way, at the lines that lie across it
                let bend = next.soft.iter().filter(|&&f| f != m && !inside.contains(&f)).filter_map(|&beyond| {
                    let (_, way) = self.line(next, beyond)?;
                    (way.dot(along).abs() > 0.7)
                        .then(|| turn(next.normal, flats[beyond as usize].normal) * leans.signum())
                });
                let bend = bend.fold(0.0, f64::max);
                // widths square to the line
                let wide = [own, next].map(|f| (f.middle - middle).reject_from_normalized(along).length());
                let alike = wide[0] < ALIKE * wide[1] && wide[1] < ALIKE * wide[0];
                if alike && leans.abs() > LEANS_DEG.to_radians() && LEANS.contains(&(leans.abs() / bend)) {
                    against += length;
                }
            }
        }
        against > AGAINST * all
    }

    /// Gives back what small surfaces took that lie in the midst of facets which no surface takes: there a stretch of
    /// some other smooth surface happens to look like one.
    pub(super) fn give_back(&self, taken: &mut [bool], found: &mut Vec<Grown>) {
        let flats = self.flats();
        found.retain(|grown| {
            if grown.members.len() > FEW_FLATS {
                return true;
            }
            let inside = FastSet::from_iter(grown.members.iter().copied());
            let (mut rim, mut smooth) = (0.0, 0.0);
            for flat in grown.members.iter().map(|&m| &flats[m as usize]) {
                rim += flat.rim;
                for (other, length) in flat.soft.iter().zip(&flat.shared) {
                    if inside.contains(other) {
                        rim -= length;
                    } else if !taken[*other as usize] {
                        smooth += length;
                    }
                }
            }
            let stays = smooth < ROUND_ABOUT * rim;
            if !stays {
                grown.members.iter().for_each(|&m| taken[m as usize] = false);
            }
            stays
        });
    }

    /// Is it? `area`, mm², is what lies on it to within the tolerance.
    pub(super) fn is_believed(&self, taken: &[bool], grown: &Grown, area: f64) -> bool {
        self.is_borne_out(grown) && self.close(grown) >= CLOSE * area && !self.is_contradicted(taken, grown)
    }

    /// Do enough corners lie on the surface, in enough directions?
    fn is_borne_out(&self, grown: &Grown) -> bool {
        let points = self.corners(&grown.members);
        let around = |axis: DVec3, origin: DVec3| {
            let (x, y) = axis.any_orthonormal_pair();
            ways(points.iter().map(|s| DVec2::new((s.0 - origin).dot(x), (s.0 - origin).dot(y)).to_angle()))
        };
        let (parameters, ways) = match grown.surface {
            Surface::Cylinder { origin, axis, .. } => (5, around(axis, origin)),
            Surface::Cone { apex, axis, .. } => (6, around(axis, apex)),
            Surface::Sphere { .. } => {
                (4, kinds::axes(&points).map(|axis| heights(&points, axis)).into_iter().fold(ROUND, usize::min))
            }
            // with so small a ring it is a sphere
            Surface::Torus { major, minor, .. } if major < LEAST_RING * minor => return false,
            Surface::Torus { centre, axis, major, .. } => {
                let tube = points.iter().map(|s| {
                    let d = s.0 - centre;
                    let along = d.dot(axis);
                    (d - axis * along).length() - major
                });
                let along = points.iter().map(|s| (s.0 - centre).dot(axis));
                (7, around(axis, centre).min(ways(tube.zip(along).map(|(x, y)| y.atan2(x)))))
            }
            Surface::Plane { .. } | Surface::Revolution { .. } | Surface::Extrusion { .. } | Surface::Freeform => {
                return false;
            }
        };
        let few = grown.members.len() < SEVERAL;
        let strips = || match grown.surface {
            Surface::Cylinder { axis, .. } => self.are_strips(&grown.members, axis),
            _ => false,
        };
        ways >= ROUND && points.len() >= parameters + OVER && (!few || strips())
    }

    /// Do flats meet one another along an axis only, as the facets of a drawn cylinder do?
    fn are_strips(&self, members: &[u32], axis: DVec3) -> bool {
        let flats = self.flats();
        members.iter().map(|&m| &flats[m as usize]).all(|own| {
            let others = own.soft.iter().filter(|f| members.binary_search(f).is_ok());
            others.filter_map(|&f| self.line(own, f)).all(|(_, way)| way.cross(axis).length() < ONE_WAY)
        })
    }
}

/// How many different places along an axis there are.
fn heights(points: &[Sample], axis: DVec3) -> usize {
    let mut heights: Vec<f64> = points.iter().map(|s| s.0.dot(axis)).collect();
    heights.sort_by(f64::total_cmp);
    let apart = ONE_WAY * (heights.last().unwrap_or(&0.0) - heights.first().unwrap_or(&0.0));
    heights.dedup_by(|a, b| *a - *b < apart);
    heights.len()
}

/// How many different angles there are.
fn ways(angles: impl Iterator<Item = f64>) -> usize {
    let mut angles: Vec<f64> = angles.collect();
    angles.sort_by(f64::total_cmp);
    angles.dedup_by(|a, b| (*a - *b).abs() < ONE_WAY);
    angles.len()
}
