//! Cylinders, cones, spheres and tori grown from a seed over smooth edges, and when they are believed.
//!
//! A surface is believed where more of the part's corners lie on it than it takes to fit one, in enough different
//! directions; and where most of what was grown lies on it as closely as the file's own digits let it. A stretch of some
//! other smooth surface fills the tolerance from one side to the other instead: with an eighth of the tolerance there
//! is much less of it.

use super::Found;
use super::flats::{Flat, Flats};
use super::grow::{FastMap, FastSet, patch, sorted, spread};
use super::profiled::{Corner, profiled};
use crate::{
    fit,
    kinds::{self, Sample},
    mesh::Mesh,
    surface::{Surface, leading},
};
use glam::{DVec2, DVec3};

/// Flats round a seed that a surface is first fitted to: fewer where it borders on others.
const PATCHES: [usize; 3] = [48, 20, 10];
/// Facets round an axis from which a cylinder is first fitted.
const CHAIN: usize = 6;
const LEAST_CHAIN: usize = 4;
/// What a surface adopts is at most so many of its facets, or this share of it.
pub(super) const FEW: f64 = 4.0;
const SMALL: f64 = 0.02;
/// A facet of a cylinder is at most so many times as large as the one it is grown from.
const MUCH_LARGER: f64 = 5.0;
/// Points beyond those that a surface has parameters.
const OVER: usize = 4;
/// Fewer facets than this are believed only as the long strips of a cylinder.
const SEVERAL: usize = 9;
/// Different directions round an axis, and round a tube, in which points must lie.
const ROUND: usize = 5;
/// Points inside the face from which those at its rim, which booleans may have put on chords, aren't asked.
const ENOUGH: usize = 24;
/// What must lie on the surface to within its finer tolerance, as a share of its area.
const CLOSE: f64 = 0.75;
/// The finer tolerance, as a share of the tolerance.
pub(super) const FINER: f64 = 0.125;
/// Facets lie off the surface in their middles by at most this much more than those it was fitted to.
const MORE: f64 = 1.5;
/// They lean from it in their middles by at most so much more than those at their corners, degrees.
const LEAN_DEG: f64 = 1.0;
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
/// Rounds in which a surface is fitted and grown again.
const ROUNDS: usize = 6;
/// A later kind must cover so many times the area of an earlier, simpler one.
const BETTER: f64 = 1.05;

/// The mesh and what its corners tell.
pub(super) struct Ground<'a> {
    pub(super) mesh: &'a Mesh,
    pub(super) all: &'a Flats,
    /// Vertices where three flats meet, or two at an open edge: the others lie on chords.
    crowded: Vec<bool>,
    /// At each vertex the mean of the normals round it, by their angles there; not of unit length.
    normals: Vec<DVec3>,
    pub(super) tolerance: f64,
    finer: f64,
}

/// A surface and the flats on it.
pub(super) struct Grown {
    pub(super) members: Vec<u32>,
    pub(super) surface: Surface,
    pub(super) area: f64,
}

/// Flats of surfaces that were grown and not believed, and how many such surfaces there were.
pub(super) struct Refused {
    pub(super) flats: Vec<bool>,
    pub(super) count: usize,
}

/// How far flats lie off a surface in their middles, mm, and the cosine of what they lean from it at their corners.
#[derive(Clone, Copy)]
struct Slack {
    sag: f64,
    lean: f64,
    /// Corners at the rim may have been put on chords.
    cut: bool,
}

impl<'a> Ground<'a> {
    pub(super) fn new(mesh: &'a Mesh, all: &'a Flats, tolerance: f64) -> Self {
        // what lies beyond an open edge counts as a flat
        let outside = |open: &bool| if *open { [u32::MAX - 1, u32::MAX] } else { [u32::MAX; 2] };
        let mut seen: Vec<[u32; 2]> = all.open.iter().map(outside).collect();
        let mut crowded = vec![false; mesh.vertices.len()];
        for (triangle, &flat) in mesh.triangles.iter().zip(&all.flat_of) {
            for &v in triangle {
                let own = &mut seen[v as usize];
                if own.contains(&flat) {
                    continue;
                }
                match own.iter_mut().find(|s| **s == u32::MAX) {
                    Some(slot) => *slot = flat,
                    None => crowded[v as usize] = true,
                }
            }
        }
        let mut normals = vec![DVec3::ZERO; mesh.vertices.len()];
        for (t, triangle) in mesh.triangles.iter().enumerate() {
            let (corners, normal) = (mesh.corners(t), mesh.normal(t));
            for k in 0..3 {
                let [ahead, back] = [1, 2].map(|by| corners[(k + by) % 3] - corners[k]);
                let angle = ahead.cross(back).length().atan2(ahead.dot(back));
                normals[triangle[k] as usize] += normal * angle;
            }
        }
        let finer = (FINER * tolerance).max(written_to(mesh));
        Self { mesh, all, crowded, normals, tolerance, finer: finer.min(tolerance) }
    }

    fn flats(&self) -> &[Flat] {
        &self.all.flats
    }

    /// Corners that lie on the true surface: those inside the face, and those at its rim that smooth edges of its
    /// facets run to. Each with its vertex' number and the mean normal of the members' facets round it.
    fn numbered(&self, members: &[u32]) -> [Vec<Corner>; 2] {
        let mut at: Vec<(u32, DVec3, bool)> = Vec::new();
        for &t in members.iter().flat_map(|&m| &self.flats()[m as usize].triangles) {
            let (corners, cross) = (self.mesh.triangles[t as usize], self.mesh.cross(t as usize));
            for k in (0..3).filter(|&k| self.crowded[corners[k] as usize]) {
                at.push((corners[k], cross, self.is_exact(t, k)));
            }
        }
        at.sort_by_key(|(v, ..)| *v);
        let mut out = [Vec::new(), Vec::new()];
        for own in at.chunk_by(|a, b| a.0 == b.0) {
            let v = own[0].0 as usize;
            // inside a face what lies round the members counts as well
            let round = if self.all.creased[v] { own.iter().map(|o| o.1).sum() } else { self.normals[v] };
            let Some(normal) = round.try_normalize() else { continue };
            if own.iter().any(|o| o.2) {
                out[usize::from(self.all.creased[v])].push((own[0].0, (self.mesh.vertices[v], normal)));
            }
        }
        out
    }

    /// Of such corners those inside, and where they are few those at the rim too.
    pub(super) fn corners(&self, members: &[u32]) -> Vec<Sample> {
        let [mut inner, mut rim] = self.numbered(members);
        if inner.len() < ENOUGH {
            inner.append(&mut rim);
        }
        inner.into_iter().map(|c| c.1).collect()
    }

    /// The surface of revolution or of extrusion that all of some flats lie on.
    pub(super) fn profiled(&self, members: &[u32]) -> Option<Surface> {
        let corners = self.numbered(members).concat();
        let of = members.iter().flat_map(|&m| &self.flats()[m as usize].triangles);
        let edges: Vec<[u32; 2]> = of
            .flat_map(|&t| {
                let [a, b, c] = self.mesh.triangles[t as usize];
                [[a, b], [b, c], [c, a]]
            })
            .collect();
        let surface = profiled(&corners, &edges, &self.mesh.vertices, self.tolerance, self.finer)?;
        let slack = Slack { cut: true, ..self.slack(members, &surface) };
        let on = |&m: &u32| self.is_on(&self.flats()[m as usize], &surface, self.tolerance, slack);
        members.iter().all(on).then_some(surface)
    }

    /// Does corner `k` of a triangle lie on the true surface: inside the face, or at its rim where a smooth edge ends?
    fn is_exact(&self, t: u32, k: usize) -> bool {
        let (v, smooth) = (self.mesh.triangles[t as usize][k] as usize, self.all.smooth[t as usize]);
        self.crowded[v] && (!self.all.creased[v] || smooth[k] || smooth[(k + 2) % 3])
    }

    /// Does a flat lie on the surface as its facets do?
    fn is_on(&self, flat: &Flat, surface: &Surface, tolerance: f64, slack: Slack) -> bool {
        let leans = surface.normal(flat.middle).is_some_and(|n| n.dot(flat.normal) < slack.lean);
        let off = |p: DVec3| surface.height(p).map_or(f64::INFINITY, f64::abs);
        if leans || off(flat.middle) > slack.sag + tolerance {
            return false;
        }
        flat.triangles.iter().all(|&t| {
            let corners = self.mesh.triangles[t as usize];
            (0..3).all(|k| {
                let v = corners[k] as usize;
                let exact = self.is_exact(t, k) && !(slack.cut && self.all.creased[v]);
                off(self.mesh.vertices[v]) <= tolerance + if exact { 0.0 } else { slack.sag }
            })
        })
    }

    fn slack(&self, members: &[u32], surface: &Surface) -> Slack {
        let off = |p: DVec3| surface.height(p).map_or(f64::INFINITY, f64::abs);
        let mut most = Slack { sag: 0.0, lean: 1.0, cut: false };
        for flat in members.iter().map(|&m| &self.flats()[m as usize]) {
            let exact =
                |t: u32| (0..3).filter(move |&k| self.is_exact(t, k)).map(move |k| self.mesh.corners(t as usize)[k]);
            let corners = || flat.triangles.iter().flat_map(|&t| exact(t));
            // what only borders on the surface says nothing of its facets
            if corners().all(|p| off(p) <= self.tolerance) {
                most.sag = most.sag.max(off(flat.middle));
                let leans = corners().filter_map(|p| Some(surface.normal(p)?.dot(flat.normal)));
                most.lean = leans.fold(most.lean, f64::min);
            }
        }
        let lean = (most.lean.clamp(0.0, 1.0).acos() + LEAN_DEG.to_radians()).cos();
        Slack { sag: MORE * most.sag, lean, cut: false }
    }

    fn area(&self, members: &[u32]) -> f64 {
        members.iter().map(|&m| self.flats()[m as usize].area).sum()
    }

    /// A cylinder from a chain of facets round one axis through the seed.
    /// Flats of such that were not believed are marked in `refused`, which counts them.
    pub(super) fn cylinder(&self, taken: &[bool], seed: u32, refused: &mut Refused) -> Option<Grown> {
        let flats = self.flats();
        let own = &flats[seed as usize];
        own.soft.iter().filter(|&&f| !taken[f as usize]).find_map(|&second| {
            let axis = own.normal.cross(flats[second as usize].normal).try_normalize()?;
            let chain = chain(flats, taken, seed, second, axis);
            if chain.len() < LEAST_CHAIN {
                return None;
            }
            let points = self.corners(&chain);
            let first = fit::cylinder_along(axis, &points.iter().map(|s| s.0).collect::<Vec<_>>())?;
            let (origin, axis, radius) = (first.origin, first.axis, first.radius);
            let surface = kinds::again(&Surface::Cylinder { origin, axis, radius, inside: false }, &points);
            let surface = surface.facing_most(&points);
            let fits = points.len() > 5 && kinds::fits_facets(&surface, &points, self.tolerance);
            if fits { self.grown(taken, seed, &chain, surface, refused) } else { None }
        })
    }

    /// The largest of the curved surfaces through the seed's surroundings, the simplest of those about as large.
    /// Flats of such that were not believed are marked in `refused`.
    pub(super) fn curved(&self, taken: &[bool], seed: u32, refused: &mut Refused) -> Option<Grown> {
        let whole = patch(self.flats(), taken, seed, PATCHES[0]);
        let mut best: Option<Grown> = None;
        for kind in 0..kinds::CURVED.len() {
            let grown = PATCHES.into_iter().filter(|&n| n == PATCHES[0] || n < whole.len()).find_map(|n| {
                let patch = &whole[..n.min(whole.len())];
                let points = self.corners(patch);
                let surface = kinds::curved_facets(kind, &points, self.tolerance)?;
                self.grown(taken, seed, patch, surface, refused)
            });
            if let Some(grown) = grown
                && best.as_ref().is_none_or(|b| grown.area > BETTER * b.area)
            {
                best = Some(grown);
            }
        }
        best
    }

    /// The surface fitted to a patch, grown over all that lies on it and fitted again, if it is believed then.
    fn grown(
        &self,
        taken: &[bool],
        seed: u32,
        first: &[u32],
        surface: Surface,
        refused: &mut Refused,
    ) -> Option<Grown> {
        let flats = self.flats();
        let mut grown = Grown { members: first.to_vec(), surface, area: 0.0 };
        for _ in 0..ROUNDS {
            let slack = self.slack(&grown.members, &grown.surface);
            let on = |flat: &Flat| self.is_on(flat, &grown.surface, self.tolerance, slack);
            if !on(&flats[seed as usize]) {
                return None;
            }
            let members = spread(flats, taken, seed, on);
            let points = self.corners(&members);
            let better = self.refitted(&grown.surface, &points).facing_most(&points);
            if better.residual(points.iter().map(|s| s.0)) <= self.tolerance {
                grown.surface = better;
            }
            let same = members.len() == grown.members.len();
            grown.members = members;
            if same {
                break;
            }
        }
        let area = self.area(&grown.members);
        // what runs on into it tangentially lies on it by the tolerance for a while
        let slack = self.slack(&grown.members, &grown.surface);
        let on = |flat: &Flat| self.is_on(flat, &grown.surface, self.finer, slack);
        grown.members = spread(flats, taken, seed, on);
        grown.area = self.area(&grown.members);
        let believed = self.is_believed(&grown) && self.close(&grown) >= CLOSE * area;
        if !believed || self.is_contradicted(taken, &grown) {
            for &m in &grown.members {
                refused.flats[m as usize] = true;
            }
            refused.count += 1;
            return None;
        }
        Some(grown)
    }

    /// The surface fitted to points again, and once more without those that lie farther off than most: a few corners
    /// that only seem to be exact.
    fn refitted(&self, surface: &Surface, points: &[Sample]) -> Surface {
        let better = kinds::again(surface, points);
        let off = |p: DVec3| better.height(p).map_or(f64::INFINITY, f64::abs);
        let mut all: Vec<f64> = points.iter().map(|s| off(s.0)).collect();
        all.sort_by(f64::total_cmp);
        let most = all.get(all.len() / 2).map_or(self.finer, |middle| (3.0 * middle).max(self.finer));
        let near: Vec<Sample> = points.iter().copied().filter(|s| off(s.0) <= most).collect();
        if near.len() == points.len() { better } else { kinds::again(&better, &near) }
    }

    /// Area of the members all of whose true corners lie on the surface to within the finer tolerance, mm².
    fn close(&self, grown: &Grown) -> f64 {
        let on = |p: DVec3| grown.surface.height(p).is_some_and(|h| h.abs() <= self.finer);
        let close = |m: &&u32| self.corners(&[**m]).iter().all(|s| on(s.0));
        grown.members.iter().filter(close).map(|&m| self.flats()[m as usize].area).sum()
    }

    /// Do the facets beyond contradict the surface? Where it ends and another one runs on from it, the next facet leans
    /// from it by half of its own bend; where it is only a band of something else, by all of that.
    fn is_contradicted(&self, taken: &[bool], grown: &Grown) -> bool {
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

    /// The middle and the direction of the line between a flat and another.
    fn line(&self, flat: &Flat, other: u32) -> Option<(DVec3, DVec3)> {
        let mut sum = (DVec3::ZERO, DVec3::ZERO, 0.0);
        for &t in &flat.triangles {
            for k in (0..3).filter(|&k| self.all.smooth[t as usize][k]) {
                let corners = self.mesh.triangles[t as usize];
                let across = self.all.beside[t as usize][k].triangle;
                if across != u32::MAX && self.all.flat_of[across as usize] == other {
                    let [a, b] = [corners[k], corners[(k + 1) % 3]].map(|v| self.mesh.vertices[v as usize]);
                    let length = a.distance(b);
                    sum = (sum.0 + (a + b) / 2.0 * length, sum.1 + (b - a), sum.2 + length);
                }
            }
        }
        Some((sum.0 / sum.2, sum.1.try_normalize()?))
    }

    /// Do enough corners lie on the surface, in enough directions?
    fn is_believed(&self, grown: &Grown) -> bool {
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

    /// Adds to each surface what lies beside it and was cut there, so that corners lie on chords: leftover flats that
    /// hang together, few for the surface's own, and smaller surfaces fitted to such.
    pub(super) fn adopt(&self, taken: &mut [bool], found: &mut Vec<Grown>) {
        let flats = self.flats();
        let mut beside: Vec<Vec<u32>> = flats.iter().map(|f| f.soft.clone()).collect();
        for &[a, b] in &self.all.blunt {
            beside[a as usize].push(b);
            beside[b as usize].push(a);
        }
        // the surface of each flat that is taken by one
        let mut of: FastMap<usize> = FastMap::default();
        for (at, grown) in found.iter().enumerate() {
            of.extend(grown.members.iter().map(|&m| (m, at)));
        }
        let slack: Vec<Slack> =
            found.iter().map(|g| Slack { cut: true, ..self.slack(&g.members, &g.surface) }).collect();
        let little = |grown: &Grown, area: f64| {
            let each = grown.area / grown.members.len() as f64;
            area < (FEW * each).max(grown.area * SMALL)
        };
        let near = |of: &FastMap<usize>, piece: &[u32]| {
            let all = piece.iter().flat_map(|&m| &beside[m as usize]).filter_map(|f| of.get(f).copied());
            let mut near: Vec<usize> = all.collect();
            near.sort_unstable();
            near.dedup();
            near
        };
        let lies = |found: &[Grown], m: u32, at: usize| {
            self.is_on(&flats[m as usize], &found[at].surface, self.tolerance, slack[at])
        };
        for mut piece in Self::left(taken, &beside) {
            let area = self.area(&piece);
            // what was adopted lets its own neighbours be
            loop {
                let before = piece.len();
                piece.retain(|&m| {
                    let at = near(&of, &[m]).into_iter().find(|&at| little(&found[at], area) && lies(found, m, at));
                    if let Some(at) = at {
                        taken[m as usize] = true;
                        of.insert(m, at);
                        found[at].members.push(m);
                    }
                    at.is_none()
                });
                if piece.len() == before || piece.is_empty() {
                    break;
                }
            }
        }
        let like = |a: &Surface, b: &Surface| std::mem::discriminant(a) == std::mem::discriminant(b);
        let mut order: Vec<usize> = (0..found.len()).collect();
        order.sort_by(|&a, &b| found[a].area.total_cmp(&found[b].area));
        for own in order {
            let takes = |at: &usize| {
                *at != own
                    && (little(&found[*at], found[own].area) || like(&found[*at].surface, &found[own].surface))
                    && found[own].members.iter().all(|&m| lies(found, m, *at))
            };
            let Some(at) = near(&of, &found[own].members).into_iter().find(takes) else { continue };
            let members = std::mem::take(&mut found[own].members);
            of.extend(members.iter().map(|&m| (m, at)));
            found[at].members.extend(members);
            found[at].area += std::mem::take(&mut found[own].area);
        }
        found.retain(|grown| !grown.members.is_empty());
    }

    /// Flats that nothing has taken, those together that border on one another in no sharp crease.
    fn left(taken: &[bool], beside: &[Vec<u32>]) -> Vec<Vec<u32>> {
        let mut seen = taken.to_vec();
        let mut pieces = Vec::new();
        for first in 0..taken.len() as u32 {
            if seen[first as usize] {
                continue;
            }
            seen[first as usize] = true;
            let mut piece = vec![first];
            let mut at = 0;
            while at < piece.len() {
                for &next in &beside[piece[at] as usize] {
                    if !std::mem::replace(&mut seen[next as usize], true) {
                        piece.push(next);
                    }
                }
                at += 1;
            }
            pieces.push(piece);
        }
        pieces
    }

    /// Do flats meet one another along an axis only, as the facets of a drawn cylinder do?
    fn are_strips(&self, members: &[u32], axis: DVec3) -> bool {
        let flats = self.flats();
        members.iter().map(|&m| &flats[m as usize]).all(|own| {
            let others = own.soft.iter().filter(|f| members.binary_search(f).is_ok());
            others.filter_map(|&f| self.line(own, f)).all(|(_, way)| way.cross(axis).length() < ONE_WAY)
        })
    }

    pub(super) fn face(&self, grown: &Grown) -> Found {
        let own = grown.members.iter().flat_map(|&m| self.flats()[m as usize].triangles.iter().copied());
        let triangles = sorted(&own.collect::<Vec<_>>());
        let surface = match grown.surface.clone() {
            Surface::Torus { centre, axis, major, minor, inside } => {
                Surface::Torus { centre, axis: leading(axis), major, minor, inside }
            }
            other => other.centred(|| triangles.iter().flat_map(|&t| self.mesh.corners(t as usize))),
        };
        let residual = surface.residual(self.corners(&grown.members).iter().map(|s| s.0));
        Found { surface, residual, triangles }
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

/// The seed and neighbours in other directions square to `axis`, up to [`CHAIN`] of them.
fn chain(flats: &[Flat], taken: &[bool], seed: u32, second: u32, axis: DVec3) -> Vec<u32> {
    let mut chain = vec![seed, second];
    let mut seen = FastSet::from_iter([seed, second]);
    let mut at = 0;
    while at < chain.len() && chain.len() < CHAIN {
        for &next in &flats[chain[at] as usize].soft {
            let normal = flats[next as usize].normal;
            // what is much larger only borders on them
            let alike = flats[next as usize].area < MUCH_LARGER * flats[seed as usize].area;
            let fits = !taken[next as usize] && alike && normal.dot(axis).abs() < 2e-3;
            if fits && chain.len() < CHAIN && seen.insert(next) {
                chain.push(next);
            }
        }
        at += 1;
    }
    chain
}

/// How far single precision, or the decimals that a file is written to, put corners off, mm.
pub(super) fn written_to(mesh: &Mesh) -> f64 {
    /// Corners that are looked at.
    const FEW: usize = 600;
    let (low, high) = mesh.bounds();
    let single = low.abs().max(high.abs()).max_element() * f64::from(f32::EPSILON);
    let every = mesh.vertices.len().div_ceil(FEW).max(1);
    let on_grid = |step: f64| {
        let whole = |x: f64| (x / step - (x / step).round()).abs() * step <= single.max(1e-9);
        mesh.vertices.iter().step_by(every).all(|p| p.to_array().into_iter().all(whole))
    };
    let grid = [1e-2, 1e-3, 1e-4].into_iter().find(|step| on_grid(*step)).unwrap_or(0.0);
    4.0 * single + grid
}
