//! A body built level by level.

use super::builder::{Builder, REACH};
use super::rounding::rounding;
use super::{CharacterBody, Role};
use crate::wall::{self, Start, WallError, Way};
use glam::DVec3;
use solid::Mesh;
use std::f64::consts::FRAC_PI_2;
use trade::{EdgeShape, MeasuredAt, Relief};

impl<'a> Builder<'a> {
    pub(super) fn build(&self, character: u32, met: f64) -> Result<CharacterBody, WallError> {
        let alpha = self.relief.draft.to_radians();
        let Relief { height, measured_at: held, edge, edge_shape, root, .. } = self.relief;
        let narrow_role = if self.sign > 0.0 { Role::Top } else { Role::Floor };
        // what rounds the narrow end of the body and what flares its wide end
        let edge = (edge, edge_shape, Role::Edge);
        let root = (root, EdgeShape::Round, Role::Root);
        let (narrow, wide) = if self.sign > 0.0 { (edge, root) } else { (root, edge) };
        let (narrow, wide) = (rounding(narrow, alpha), rounding(wide, alpha));
        if narrow.tall + wide.tall > height + 1e-9 {
            return Err(WallError::Rounds);
        }
        let end = if self.apart { 0.0 } else { -f64::max(2.0 * self.seat.facet_error + REACH, self.past) };
        let mut work = Work { builder: self, met, mesh: Mesh::default(), roles: Vec::new() };
        let held_at = match held {
            MeasuredAt::Top => height,
            MeasuredAt::Root => 0.0,
        };
        let sharp = work.ring(held_at);
        let (top, foot) = (height - narrow.tall, wide.tall);
        // from the sharp outline to where the wall itself begins, and from there both ways
        let (up, down) = match held {
            MeasuredAt::Top if narrow.tall > 0.0 => {
                let begin = work.ghost(&sharp, alpha, Way::Growing, held_at, top)?;
                (begin.clone(), begin)
            }
            MeasuredAt::Root if wide.tall > 0.0 => {
                let begin = work.ghost(&sharp, alpha, Way::Shrinking, held_at, foot)?;
                (begin.clone(), begin)
            }
            _ => (sharp.clone(), sharp),
        };
        let begin = match held {
            MeasuredAt::Top => top,
            MeasuredAt::Root => foot,
        };
        // up: the wall where it begins below, then the round of the narrow end
        let mut rings = up;
        let mut level = begin;
        if level < top {
            rings = work.stage(&rings, alpha, Way::Shrinking, level, top, Role::Wall)?;
            level = top;
        }
        for (angle, tall) in &narrow.steps {
            rings = work.stage(&rings, *angle, Way::Shrinking, level, level + tall, narrow.role)?;
            level += tall;
        }
        self.cap(&rings, self.sign * height, narrow_role, &mut work.mesh, &mut work.roles)?;
        // down: the wall, the flare of the wide end, and past the surface
        let (mut rings, mut level) = (down, begin);
        let past = if wide.tall > 0.0 { foot } else { end };
        if level > past {
            rings = work.stage(&rings, alpha, Way::Growing, level, past, Role::Wall)?;
            level = past;
        }
        for (angle, tall) in &wide.steps {
            rings = work.stage(&rings, *angle, Way::Growing, level, level - tall, wide.role)?;
            level -= tall;
        }
        if level > end + 1e-9 {
            rings = work.stage(&rings, alpha, Way::Growing, level, end, wide.role)?;
        }
        let under = if self.apart { Role::Base } else { Role::Skirt };
        self.cap(&rings, self.sign * end, under, &mut work.mesh, &mut work.roles)?;
        Ok(CharacterBody { character, mesh: work.mesh, roles: work.roles })
    }
}

/// A body as it is built: levels are mm along the relief, 0 on the seat, growing to the narrow end.
struct Work<'a> {
    builder: &'a Builder<'a>,
    met: f64,
    mesh: Mesh,
    roles: Vec<Role>,
}

impl Work<'_> {
    /// The outline at a level; vertex numbers.
    pub(super) fn ring(&mut self, level: f64) -> Vec<Vec<u32>> {
        let b = self.builder;
        b.contours
            .iter()
            .map(|contour| {
                let first = self.mesh.vertices.len() as u32;
                self.mesh.vertices.extend(contour.iter().map(|&p| b.chart().point(p, b.sign * level)));
                (first..self.mesh.vertices.len() as u32).collect()
            })
            .collect()
    }

    fn raise(&self, rings: &[Vec<u32>], alpha: f64, way: Way, from: f64, to: f64) -> Result<wall::Walls, WallError> {
        let b = self.builder;
        // over a crease walls lean with it; what rounds them turns from there to the level that it ends in
        let draft = b.relief.draft.to_radians();
        let turned = ((alpha - draft) / (FRAC_PI_2 - draft)).clamp(0.0, 1.0);
        let axis = |p: DVec3| {
            b.along_pull.unwrap_or_else(|| {
                let at = b.chart().strip(p).0;
                let normal = b.chart().normal(at);
                let level = if turned > 0.0 { b.level(at).normalize_or(normal) } else { normal };
                normal.lerp(level, turned).normalize_or(normal) * b.sign
            })
        };
        let starts: Vec<Vec<Start>> = rings
            .iter()
            .map(|ring| ring.iter().map(|&v| self.mesh.vertices[v as usize]))
            .map(|ring| ring.map(|point| Start { point, axis: axis(point) }).collect())
            .collect();
        let end_at = |point, direction| b.reach(point, direction, b.sign * to);
        let way_of = |point: DVec3| match b.along_pull {
            Some(axis) if way == Way::Growing => -axis.dot(point),
            Some(axis) => axis.dot(point),
            None => (b.chart().strip(point).1 - b.sign * from).abs(),
        };
        let walls = wall::raise(&starts, alpha, way, self.met, &end_at, &way_of)?;
        // a stroke that closes up leaves no top; a counter that does is seen by the checks
        if way == Way::Shrinking && walls.closed_up > 0 { Err(WallError::Meet) } else { Ok(walls) }
    }

    /// Walls from `rings` at one level to another; the rings they end in.
    fn stage(
        &mut self,
        rings: &[Vec<u32>],
        alpha: f64,
        way: Way,
        from: f64,
        to: f64,
        role: Role,
    ) -> Result<Vec<Vec<u32>>, WallError> {
        let walls = self.raise(rings, alpha, way, from, to).map_err(|e| match (e, role) {
            (WallError::TooSteep | WallError::NeverEnds, Role::Edge | Role::Root) => WallError::RoundsLean,
            _ => e,
        })?;
        let begun: Vec<u32> = rings.iter().flatten().copied().collect();
        let first = self.mesh.vertices.len() as u32;
        let number = |v: u32| begun.get(v as usize).copied().unwrap_or_else(|| first + v - begun.len() as u32);
        self.mesh.vertices.extend(&walls.points[begun.len()..]);
        self.mesh.triangles.extend(walls.triangles.iter().map(|t| t.map(number)));
        self.roles.resize(self.mesh.triangles.len(), role);
        Ok(walls.ends.iter().map(|ring| ring.iter().map(|&v| number(v)).collect()).collect())
    }

    /// The rings that walls would end in, without the walls.
    fn ghost(
        &mut self,
        rings: &[Vec<u32>],
        alpha: f64,
        way: Way,
        from: f64,
        to: f64,
    ) -> Result<Vec<Vec<u32>>, WallError> {
        let walls = self.raise(rings, alpha, way, from, to)?;
        self.mesh = Mesh::default();
        Ok(walls
            .ends
            .iter()
            .map(|ring| {
                let first = self.mesh.vertices.len() as u32;
                self.mesh.vertices.extend(ring.iter().map(|&v| walls.points[v as usize]));
                (first..self.mesh.vertices.len() as u32).collect()
            })
            .collect())
    }
}
