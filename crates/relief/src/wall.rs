//! Walls of constant draft: an outline in space moved along the relief, level by level.
//!
//! Every edge of the outline carries a wall. With a the wall's axis (what it is square to before
//! draft), t the edge's unit tangent and α the draft, the wall's outward normal N has N·t = 0 and
//! N·a = sin α:
//!
//!   N = a sin α + ν cos α,  ν = −tan β tan α t_h + √(1 − tan²β tan²α) (t_h × a),
//!
//! where t_h is t levelled square to a and β its climb out of level. A vertex moves along the line
//! in which the walls of its two edges meet, N₁ × N₂. Edges that shrink to nothing on the way are
//! taken out and their neighbours joined (the edge events of a straight skeleton, Aichholzer and
//! others 1995), so that small edges in inner corners end in a point instead of folding over.
//! Contours that run into one another are found afterwards and refused.

use glam::{DVec2, DVec3};

/// Sharper outer corners than this are blunted by an extra wall, as a tapered cutter leaves them.
const SHARPEST_TURN_DEG: f64 = 125.0;
/// With next to no draft nothing spreads, and the extra wall would have no width.
const LEAST_BLUNTED_RAD: f64 = 0.002;
/// No more edges than these, and no longer ones together, mm, are left turned over where walls should have met.
const MOST_TWISTED: usize = 4;
const TWISTED: f64 = 0.08;

/// One vertex of the start outline.
#[derive(Clone, Copy, Debug)]
pub struct Start {
    pub point: DVec3,
    /// Unit axis of the wall there: seat normal or pull, on the narrow side of the relief.
    pub axis: DVec3,
}

/// What the outline became.
#[derive(Clone, Debug, Default)]
pub struct Walls {
    /// All vertices: the start contours' first, in order, then what was made on the way.
    pub points: Vec<DVec3>,
    /// Counter-clockwise seen from outside the body, for a body that grows along −axis.
    pub triangles: Vec<[u32; 3]>,
    /// The contours at the end level, as vertex numbers; contours that closed up are gone.
    pub ends: Vec<Vec<u32>>,
    /// Number of start contours that closed up.
    pub closed_up: usize,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum WallError {
    /// No wall with this draft leads from an edge this steep along the axis.
    TooSteep,
    /// A wall never reaches the end level.
    NeverEnds,
    /// Walls of one contour run into one another.
    Meet,
    /// Edge and root take more height than there is.
    Rounds,
    /// Their outermost pieces lie flatter to the pull than the seat.
    RoundsLean,
    /// What they come to crosses itself.
    Crosses,
}

/// Which way the outline moves.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Way {
    /// From the narrow level (top, floor) against the axis: contours grow.
    Growing,
    /// From the wide level (root, rim) along the axis: contours shrink.
    Shrinking,
}

struct Moving {
    vertex: u32,
    point: DVec3,
    axis: DVec3,
    /// It was made where others met.
    joined: bool,
    /// Where, and how far on the way, the edge that leaves it shrinks to nothing, if nothing else happens.
    event: Option<(f64, DVec3)>,
    /// Where it ends if nothing happens on the way; `None` between walls that face one another.
    end: Option<DVec3>,
    /// The edge that leaves it.
    edge: usize,
    prev: usize,
    next: usize,
}

struct Edge {
    tangent: DVec3,
    from: Vec<u32>,
    to: Vec<u32>,
}

/// Walls with draft `alpha` (radians) from closed start contours (material to the left, seen
/// against the axis). `end_at(point, direction)` is where a line from `point` along the unit
/// `direction` reaches the end level; `way_of(point)` grows along every wall from the start level to
/// the end level, and is the same for all: events are taken in its order.
/// Walls about axes that turn meet in places a little apart where they should meet in one: places less
/// than `met` mm from one where walls met already are that one.
///
/// # Errors
/// See [`WallError`].
pub fn raise(
    contours: &[Vec<Start>],
    alpha: f64,
    way: Way,
    met: f64,
    end_at: &dyn Fn(DVec3, DVec3) -> Option<DVec3>,
    way_of: &dyn Fn(DVec3) -> f64,
) -> Result<Walls, WallError> {
    let mut walls = Walls::default();
    let mut front = Front { alpha, way, met, end_at, way_of, moving: Vec::new(), edges: Vec::new() };
    let mut heads = Vec::new();
    for contour in contours {
        let first = walls.points.len() as u32;
        walls.points.extend(contour.iter().map(|s| s.point));
        heads.push(front.begin(contour, first)?);
    }
    for head in heads {
        match front.run(head, &mut walls.points)? {
            Some(ring) => walls.ends.push(ring),
            None => walls.closed_up += 1,
        }
    }
    for edge in &front.edges {
        fill(edge, &walls.points, &mut walls.triangles);
    }
    if way == Way::Shrinking {
        for t in &mut walls.triangles {
            t.swap(1, 2);
        }
    }
    Ok(walls)
}

/// Outward wall normal over an edge with the tangent `t`; `None` where the edge climbs too steeply.
fn wall_normal(t: DVec3, axis: DVec3, alpha: f64) -> Option<DVec3> {
    let level = t.reject_from_normalized(axis).try_normalize()?;
    let climb = t.dot(axis) / t.dot(level);
    let lean = -climb * alpha.tan();
    (lean.abs() < 0.999).then(|| {
        let out = level * lean + level.cross(axis) * (1.0 - lean * lean).sqrt();
        axis * alpha.sin() + out * alpha.cos()
    })
}

struct Front<'a> {
    alpha: f64,
    way: Way,
    met: f64,
    end_at: &'a dyn Fn(DVec3, DVec3) -> Option<DVec3>,
    way_of: &'a dyn Fn(DVec3) -> f64,
    moving: Vec<Moving>,
    edges: Vec<Edge>,
}

impl Front<'_> {
    /// Sets up one contour; its first moving vertex.
    fn begin(&mut self, contour: &[Start], first: u32) -> Result<usize, WallError> {
        let n = contour.len();
        let head = self.moving.len();
        let tangents: Vec<DVec3> =
            (0..n).map(|k| (contour[(k + 1) % n].point - contour[k].point).normalize()).collect();
        // (vertex, tangent of the edge that leaves it); sharp corners get edges of no length
        let mut plan: Vec<(usize, DVec3)> = Vec::with_capacity(n);
        for k in 0..n {
            let (before, after) = (tangents[(k + n - 1) % n], tangents[k]);
            let axis = contour[k].axis;
            let turn = before.cross(after).dot(axis).atan2(before.dot(after));
            let spreading = if self.way == Way::Growing { turn } else { -turn };
            if self.alpha > LEAST_BLUNTED_RAD && spreading > SHARPEST_TURN_DEG.to_radians() {
                plan.push((k, (before + after).try_normalize().unwrap_or_else(|| axis.cross(before))));
            }
            plan.push((k, after));
        }
        let m = plan.len();
        for (at, &(k, tangent)) in plan.iter().enumerate() {
            self.edges.push(Edge { tangent, from: Vec::new(), to: Vec::new() });
            self.moving.push(Moving {
                vertex: first + k as u32,
                point: contour[k].point,
                axis: contour[k].axis,
                joined: false,
                event: None,
                end: None,
                edge: self.edges.len() - 1,
                prev: head + (at + m - 1) % m,
                next: head + (at + 1) % m,
            });
        }
        for at in head..head + m {
            let prev_edge = self.moving[self.moving[at].prev].edge;
            let vertex = self.moving[at].vertex;
            let own_edge = self.moving[at].edge;
            self.edges[own_edge].from.push(vertex);
            self.edges[prev_edge].to.push(vertex);
            self.moving[at].end = self.end_of(at)?;
        }
        for at in head..head + m {
            self.moving[at].event = self.collapse(at);
        }
        Ok(head)
    }

    /// Where a moving vertex would end: along the line in which its two walls meet.
    fn end_of(&self, at: usize) -> Result<Option<DVec3>, WallError> {
        let vertex = &self.moving[at];
        let before = self.edges[self.moving[vertex.prev].edge].tangent;
        let after = self.edges[vertex.edge].tangent;
        let normal = |t| wall_normal(t, vertex.axis, self.alpha).ok_or(WallError::TooSteep);
        let (one, other) = (normal(before)?, normal(after)?);
        let cross = one.cross(other);
        // walls in line: down the wall by the axis, as the walls of a bend meet however slight it is
        let line = if cross.length() > 1e-7 { cross } else { vertex.axis.reject_from_normalized(one) }.normalize();
        let down = line * -line.dot(vertex.axis).signum();
        if line.dot(vertex.axis).abs() < 1e-6 {
            return Ok(None);
        }
        let direction = if self.way == Way::Growing { down } else { -down };
        (self.end_at)(vertex.point, direction).ok_or(WallError::NeverEnds).map(Some)
    }

    /// Where, and how far on the way, the edge that leaves `at` shrinks to nothing.
    fn collapse(&self, at: usize) -> Option<(f64, DVec3)> {
        let (a, b) = (&self.moving[at], &self.moving[self.moving[at].next]);
        let t = self.edges[a.edge].tangent;
        let (ma, mb) = (a.end? - a.point, b.end? - b.point);
        // both ends move in the edge's wall: meet in its two directions, t and down
        let down = (ma - t * ma.dot(t)).try_normalize()?;
        let flat = |v: DVec3| DVec2::new(v.dot(t), v.dot(down));
        let (u, v, gap) = (flat(ma), flat(mb), flat(b.point - a.point));
        let det = u.perp_dot(v);
        if det.abs() < 1e-14 || (v / v.y - u / u.y).x >= 0.0 {
            return None; // they keep their distance or part
        }
        let (share_a, share_b) = (gap.perp_dot(v) / det, gap.perp_dot(u) / det);
        let ahead = |s: f64, m: &Moving, way: DVec3| {
            let back = if m.joined { self.met / way.length().max(self.met) } else { 1e-9 };
            (-back..1.0 - 1e-9).contains(&s)
        };
        (ahead(share_a, a, ma) && ahead(share_b, b, mb)).then(|| {
            let mut meet = (a.point + ma * share_a + b.point + mb * share_b) / 2.0;
            if let Some(met) = [a, b].into_iter().find(|m| m.joined && m.point.distance(meet) < self.met) {
                meet = met.point;
            }
            ((self.way_of)(meet), meet)
        })
    }

    /// Moves one contour to the end level; `None` when it closes up on the way.
    fn run(&mut self, head: usize, points: &mut Vec<DVec3>) -> Result<Option<Vec<u32>>, WallError> {
        let mut head = head;
        while let Some((at, meet)) = self.next_event(head) {
            head = at;
            self.join(at, meet, points)?;
            if self.moving[self.moving[head].next].next == head {
                return Ok(None);
            }
        }
        let mut order = vec![head];
        while self.moving[order[order.len() - 1]].next != head {
            order.push(self.moving[order[order.len() - 1]].next);
        }
        let mut ends: Vec<DVec3> =
            order.iter().map(|&at| self.moving[at].end.ok_or(WallError::Meet)).collect::<Result<_, _>>()?;
        let turned = self.untwisted(&order, &mut ends);
        // an edge that shrank to almost nothing may come out askew by a hair: its ends are one
        let n = order.len();
        let gone: Vec<bool> = (0..n)
            .map(|k| {
                let next = order[(k + 1) % n];
                let end = ends[k].distance(ends[(k + 1) % n]);
                turned[k] || end < self.met && end < self.moving[order[k]].point.distance(self.moving[next].point)
            })
            .collect();
        let first = (0..n).find(|&k| !gone[(k + n - 1) % n]).ok_or(WallError::Meet)?;
        let mut ring: Vec<u32> = Vec::with_capacity(n);
        for k in (first..first + n).map(|k| k % n) {
            if k == first || !gone[(k + n - 1) % n] {
                ring.push(points.len() as u32);
                points.push(ends[k]);
            }
            let vertex = ring[ring.len() - 1];
            let at = order[k];
            let (own, prev) = (self.moving[at].edge, self.moving[self.moving[at].prev].edge);
            self.edges[own].from.push(vertex);
            self.edges[prev].to.push(vertex);
        }
        Ok(Some(ring))
    }

    /// Walls about axes that turn miss one another by a little where they should have met: short edges of the end ring are
    /// left turned over, and their neighbours cross. Which edges those are; their ends are put where the neighbours cross.
    fn untwisted(&self, order: &[usize], ends: &mut [DVec3]) -> Vec<bool> {
        let n = order.len();
        let mut turned = vec![false; n];
        for few in 1..=MOST_TWISTED.min(n.saturating_sub(3)) {
            for k in 0..n {
                // edges k … k + few − 1 between their neighbours
                let at = |i: usize| (k + n + i - 1) % n;
                let own: Vec<usize> = (1..=few).map(at).collect();
                let length: f64 = own.iter().map(|&i| ends[i].distance(ends[(i + 1) % n])).sum();
                if length > TWISTED || own.iter().any(|&i| turned[i]) {
                    continue;
                }
                let axis = self.moving[order[at(1)]].axis;
                let [a, b, c, d] = [at(0), at(1), at(few + 1), at(few + 2)].map(|i| ends[i]);
                let (u, v, gap) = (b - a, d - c, c - a);
                let det = u.cross(v).dot(axis);
                let (s, t) = (gap.cross(v).dot(axis) / det, gap.cross(u).dot(axis) / det);
                if !((0.0..1.0).contains(&s) && (0.0..1.0).contains(&t)) {
                    continue;
                }
                let meet = (a + u * s + c + v * t) / 2.0;
                let down = if self.way == Way::Growing { -axis } else { axis };
                let meet = (self.end_at)(meet - down * TWISTED, down).unwrap_or(meet);
                for &i in &own {
                    turned[i] = true;
                    ends[i] = meet;
                    ends[(i + 1) % n] = meet;
                }
            }
        }
        turned
    }

    fn next_event(&self, head: usize) -> Option<(usize, DVec3)> {
        let mut best: Option<(f64, usize, DVec3)> = None;
        let mut at = head;
        loop {
            if let Some((far, meet)) = self.moving[at].event
                && best.is_none_or(|(least, _, _)| far < least)
            {
                best = Some((far, at, meet));
            }
            at = self.moving[at].next;
            if at == head {
                return best.map(|(_, at, meet)| (at, meet));
            }
        }
    }

    /// The edge that leaves `at` has shrunk to the point `meet`: its ends become one vertex.
    fn join(&mut self, at: usize, meet: DVec3, points: &mut Vec<DVec3>) -> Result<(), WallError> {
        let next = self.moving[at].next;
        let (prev, after) = (self.moving[at].prev, self.moving[next].next);
        let there = [at, next].map(|k| &self.moving[k]).into_iter().find(|m| m.point == meet).map(|m| m.vertex);
        let vertex = there.unwrap_or(points.len() as u32);
        if there.is_none() {
            points.push(meet);
        }
        let gone = self.moving[at].edge;
        self.edges[gone].from.push(vertex);
        let (left, right) = (self.moving[prev].edge, self.moving[next].edge);
        self.edges[left].to.push(vertex);
        self.edges[right].from.push(vertex);
        let axis = (self.moving[at].axis + self.moving[next].axis).normalize();
        self.moving[at] =
            Moving { vertex, point: meet, axis, joined: true, event: None, end: None, edge: right, prev, next: after };
        self.moving[after].prev = at;
        if after != prev {
            self.moving[at].end = self.end_of(at)?;
            self.moving[prev].event = self.collapse(prev);
            self.moving[at].event = self.collapse(at);
        }
        Ok(())
    }
}

/// One wall's triangles: it is bounded by the lines that its two ends ran along, and all but flat.
fn fill(edge: &Edge, points: &[DVec3], triangles: &mut Vec<[u32; 3]>) {
    let mut ring: Vec<u32> = edge.from.iter().chain(edge.to.iter().rev()).copied().collect();
    ring.dedup();
    while ring.len() > 1 && ring.first() == ring.last() {
        ring.pop();
    }
    let point = |v: u32| points[v as usize];
    // the plane of the ring (Newell), and the wall laid into it
    let normal = (1..ring.len().max(1) - 1)
        .fold(DVec3::ZERO, |sum, k| sum + (point(ring[k]) - point(ring[0])).cross(point(ring[k + 1]) - point(ring[0])));
    let across = edge.tangent.reject_from(normal.normalize_or(DVec3::Z)).normalize_or(edge.tangent);
    let down = normal.normalize_or(DVec3::Z).cross(across);
    let flat = |v: u32| {
        let d = point(v) - point(ring[0]);
        DVec2::new(d.dot(across), d.dot(down))
    };
    let left: Vec<DVec2> = ring.iter().map(|&v| flat(v)).collect();
    let n = left.len();
    if n < 3 {
        return;
    }
    // height of a triangle over its longest edge, negative when it is turned over
    let stout = |i: usize, k: usize, j: usize| {
        let (a, b, c) = (left[i], left[k], left[j]);
        let longest = a.distance(b).max(b.distance(c)).max(c.distance(a));
        (b - a).perp_dot(c - b) / longest.max(f64::MIN_POSITIVE)
    };
    // of all ways to fill it the one whose thinnest triangle is stoutest: the lines that ends ran along
    // are all but straight where they were joined, and what lies on them must not be bridged
    let mut best = vec![vec![(f64::INFINITY, 0_usize); n]; n];
    for span in 2..n {
        for i in 0..n - span {
            let j = i + span;
            best[i][j] = (i + 1..j)
                .map(|k| (stout(i, k, j).min(best[i][k].0).min(best[k][j].0), k))
                .max_by(|x, y| x.0.total_cmp(&y.0))
                .unwrap_or((f64::INFINITY, i));
        }
    }
    let mut open = vec![(0, n - 1)];
    while let Some((i, j)) = open.pop() {
        if j < i + 2 {
            continue;
        }
        let k = best[i][j].1;
        triangles.push([ring[i], ring[k], ring[j]]);
        open.extend([(i, k), (k, j)]);
    }
}
