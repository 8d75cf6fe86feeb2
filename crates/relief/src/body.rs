//! A character's relief bodies: closed meshes, one for each island, whose facets know their role.
//!
//! Raised bodies stand on the part and reach a little into it; sunken ones are cutters that reach
//! a little out of it, by more than the part's facets lie off its true surface, so that nothing
//! coincides and nothing meets in a mere edge. On a sheet without thickness they are joined to nothing
//! and end on its surface; so do the films that stand for surface-only lettering.

use crate::{
    ReliefError, cap,
    chart::Chart,
    seat::Seat,
    wall::{self, Start, WallError, Way},
};
use glam::{DVec2, DVec3};
use lettering::{
    Island, Region,
    clean::grown,
    region::{contains, signed_area},
};
use solid::{Mesh, crossing::crossing_pairs};
use std::f64::consts::{FRAC_PI_2, FRAC_PI_4};
use trade::{EdgeShape, Held, Plate, PlateForm, Relief, Sense, Walls};

/// Facets of the land or floor stay within this of the true offset surface, mm.
pub(crate) const SAG: f64 = 0.0008;
/// Walls square to a round seat turn by no more than this between two points of their outline.
const TWIST_RAD: f64 = 0.0015;
/// Bodies reach past the surface by twice the facet error and this, mm.
const REACH: f64 = 0.01;

/// Where walls run into one another or cross, they are tried again otherwise: edges of the outline
/// shorter than the first are taken out, places nearer than the second are one; mm, all far below what a
/// cutter leaves. Such edges stand in the inner corners of flattened outlines.
const TRIES: [(f64, f64); 6] =
    [(0.0, 0.002), (0.0, 0.0005), (0.0, 0.006), (0.004, 0.002), (0.012, 0.002), (0.03, 0.002)];

/// Surface-only lettering is measured and shown as a film of this height, mm.
pub const FILM: f64 = 0.01;

/// The relief that a mark is built with: surface-only lettering as a film with upright walls.
#[must_use]
pub fn built_as(relief: &Relief) -> Relief {
    match relief.sense {
        Sense::Raised | Sense::Sunken | Sense::Inlay => *relief,
        Sense::Surface | Sense::Stamp => Relief { height: FILM, draft: 0.0, ..Relief::default() },
    }
}

/// What a facet of a body is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, serde::Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    Land,
    Floor,
    Wall,
    /// The round or bevel of the outer edge: between wall and land, or wall and skin of a sunken letter.
    Edge,
    /// The radius of the inner corner: between wall and skin, or wall and floor of a sunken letter.
    Root,
    /// The far side past the surface. Seen on a marked solid, the mark hangs over an edge.
    Skirt,
    /// The underside of what is joined to nothing: it lies on the seat.
    Base,
}

#[derive(Clone, Debug)]
pub struct CharacterBody {
    /// Which character of the mark.
    pub character: u32,
    pub mesh: Mesh,
    pub roles: Vec<Role>,
}

/// The bodies of one character: `region` is its outline on the strip at the held level.
///
/// # Errors
/// Walls that can't be built there, or that meet; the sentence names the character.
pub fn bodies(
    seat: &Seat,
    relief: &Relief,
    pull: Option<DVec3>,
    character: u32,
    text: &str,
    region: &Region,
) -> Result<Vec<CharacterBody>, ReliefError> {
    build(seat, relief, seat.sheet || !relief.sense.has_relief(), 0.0, pull, character, text, region)
}

/// The number of a mark's plate among its characters.
pub const PLATE: u32 = u32::MAX;

/// The number of what a mark keeps free among its characters.
pub const FREE: u32 = u32::MAX - 1;

/// The body of a mark's plate: what is added for a plinth, cut away for a tray. `region` is its land or floor.
///
/// # Errors
/// Walls that can't be built there, or that meet.
pub fn plate(
    seat: &Seat,
    plate: &Plate,
    walls: Walls,
    pull: Option<DVec3>,
    region: &Region,
) -> Result<CharacterBody, ReliefError> {
    let sense = match plate.form {
        PlateForm::Plinth => Sense::Raised,
        PlateForm::Tray => Sense::Sunken,
    };
    let relief = Relief { sense, height: plate.height, draft: plate.draft, walls, ..Relief::default() };
    let word = plate.form.word();
    let built = build(seat, &relief, seat.sheet, plate.clears, pull, PLATE, word, region).map_err(|e| match e {
        ReliefError::AlongPull { .. } | ReliefError::WallsMeet { .. } => ReliefError::Plate { plate: word },
        other => other,
    })?;
    built.into_iter().next().ok_or(ReliefError::Plate { plate: word })
}

/// What fills the pocket of one character of an inlay, flush with the seat: bodies whose walls and floor
/// lie the gap off those of the pocket.
///
/// # Errors
/// As for [`bodies`]; a gap that leaves nothing of a stroke.
pub fn fillings(
    seat: &Seat,
    relief: &Relief,
    pull: Option<DVec3>,
    character: u32,
    text: &str,
    region: &Region,
) -> Result<Vec<CharacterBody>, ReliefError> {
    let (gap, alpha) = (relief.gap, relief.draft.to_radians());
    // the gap is square to the wall; the filling's floor lies where the pocket is wider by gap · tan α
    let by = match relief.held {
        Held::Land => gap * alpha.tan() - gap / alpha.cos(),
        Held::Root => -gap / alpha.cos(),
    };
    let inner = if gap > 0.0 { grown(region, by) } else { region.clone() };
    let same = |a: &Region, b: &Region| a.islands.len() == b.islands.len() && a.counters() == b.counters();
    if !same(&inner, region) {
        return Err(ReliefError::NoFilling { character: text.to_owned(), gap });
    }
    let height = relief.height - gap;
    let relief =
        Relief { sense: Sense::Sunken, height, edge: 0.0, root: (relief.root - gap).clamp(0.0, height), ..*relief };
    build(seat, &relief, true, 0.0, pull, character, text, &inner)
}

/// `past`: how far outside the seat a body that is cut away reaches, mm, where that is more than it must.
#[allow(clippy::too_many_arguments)]
fn build(
    seat: &Seat,
    relief: &Relief,
    apart: bool,
    past: f64,
    pull: Option<DVec3>,
    character: u32,
    text: &str,
    region: &Region,
) -> Result<Vec<CharacterBody>, ReliefError> {
    region
        .islands
        .iter()
        .map(|island| {
            let mut failed = WallError::Meet;
            let mut crosses = false;
            for (shortest, met) in TRIES {
                let island = without_short_edges(island, shortest);
                match Builder::new(seat, relief, (apart, past), pull, &island)?.build(character, met) {
                    Ok(body) if crossing_pairs(&body.mesh).is_empty() => return Ok(body),
                    Ok(_) => crosses = true,
                    Err(e) => failed = e,
                }
                if failed != WallError::Meet {
                    break;
                }
            }
            if crosses {
                return Err(ReliefError::Crosses { character: text.to_owned() });
            }
            Err(match failed {
                WallError::TooSteep | WallError::NeverEnds => {
                    ReliefError::AlongPull { character: text.to_owned(), draft: relief.draft }
                }
                WallError::RoundsLean => ReliefError::RoundsLean { character: text.to_owned() },
                WallError::Rounds => ReliefError::Rounds {
                    character: text.to_owned(),
                    edge: relief.edge,
                    root: relief.root,
                    height: relief.height,
                },
                WallError::Meet => {
                    ReliefError::WallsMeet { character: text.to_owned(), draft: relief.draft, height: relief.height }
                }
            })
        })
        .collect()
}

/// `island` with its edges shorter than `shortest` taken out: their neighbours run on until they
/// meet, or, where they would meet far away, the edge shrinks to its middle.
fn without_short_edges(island: &Island, shortest: f64) -> Island {
    let clean = |contour: &Vec<DVec2>| {
        let mut points = contour.clone();
        let mut k = 0;
        while shortest > 0.0 && k < points.len() && points.len() > 4 {
            let n = points.len();
            let [before, a, b, after] = [k + n - 1, k, k + 1, k + 2].map(|i| points[i % n]);
            if a.distance(b) >= shortest {
                k += 1;
                continue;
            }
            let (u, v) = (a - before, after - b);
            let middle = (a + b) / 2.0;
            let det = u.perp_dot(v);
            let meet = before + u * ((b - before).perp_dot(v) / det);
            let near = det.abs() > 1e-9 && meet.distance(middle) <= shortest;
            points[k] = if near { meet } else { middle };
            points.remove((k + 1) % n);
            // what was joined may be short again
            k = k.saturating_sub(2);
        }
        points
    };
    Island { outer: clean(&island.outer), counters: island.counters.iter().map(clean).collect() }
}

struct Builder<'a> {
    seat: &'a Seat,
    relief: Relief,
    /// It is joined to nothing and ends on the seat.
    apart: bool,
    /// It reaches at least so far past the seat, mm.
    past: f64,
    /// +1 raised, −1 sunken: the narrow level lies at sign · height.
    sign: f64,
    /// Wall axis in the sense of the pull; `None`: the seat's normal.
    along_pull: Option<DVec3>,
    middle: DVec2,
    /// Corners of the strip that it lies between.
    low: DVec2,
    high: DVec2,
    contours: Vec<Vec<DVec2>>,
}

impl<'a> Builder<'a> {
    fn new(
        seat: &'a Seat,
        relief: &Relief,
        (apart, past): (bool, f64),
        pull: Option<DVec3>,
        island: &Island,
    ) -> Result<Self, ReliefError> {
        let relief = built_as(relief);
        let sign = if relief.sense.sinks() { -1.0 } else { 1.0 };
        let middle = island.outer.iter().sum::<DVec2>() / island.outer.len() as f64;
        let along_pull = match relief.walls {
            Walls::Seat => None,
            Walls::Pull => {
                let pull = pull.ok_or(ReliefError::NoPull)?;
                // the half that this place belongs to
                Some(pull * pull.dot(seat.chart.normal(middle)).signum() * sign)
            }
        };
        let reach = DVec2::splat(relief.height);
        let low = island.outer.iter().copied().fold(middle, DVec2::min) - reach;
        let high = island.outer.iter().copied().fold(middle, DVec2::max) + reach;
        let mut builder = Self { seat, relief, apart, past, sign, along_pull, middle, low, high, contours: Vec::new() };
        builder.contours = std::iter::once(&island.outer)
            .chain(&island.counters)
            .map(|contour| {
                let mut fine = builder.refine(contour);
                if sign < 0.0 {
                    fine.reverse(); // seen from inside the part, where the cutter's narrow end looks
                }
                fine
            })
            .collect();
        Ok(builder)
    }

    fn chart(&self) -> &dyn Chart {
        &*self.seat.chart
    }

    /// `contour` with its edges split to follow the seat.
    fn refine(&self, contour: &[DVec2]) -> Vec<DVec2> {
        let chart = self.chart();
        let step = chart.step_over(self.low, self.high, self.sign * self.relief.height, SAG);
        let creases = chart.creases(self.low, self.high);
        let lean = self.lean(&creases);
        let drift = 2.0 * cap::BESIDE_CREASE + self.relief.height * lean + self.relief.edge + self.relief.root;
        let mut fine = Vec::with_capacity(contour.len());
        for k in 0..contour.len() {
            let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
            let (d, near) = (b - a, (a + b) / 2.0);
            let twist = if self.along_pull.is_some() { f64::INFINITY } else { chart.twist_step(near, TWIST_RAD) };
            // a line at the angle ψ to the level turns sin 2ψ times as much as one at 45°
            let level = chart.level(near);
            let own = DVec2::new(level.x, -level.y).rotate(d);
            let oblique = 2.0 * (own.x * own.y).abs() / d.length().max(f64::MIN_POSITIVE);
            let pieces = (d.x.abs() / step.x).max(d.y.abs() / step.y).max(oblique / twist).ceil().max(1.0) as usize;
            let mut shares: Vec<f64> = (0..pieces).map(|i| i as f64 / pieces as f64).collect();
            let aside = cap::BESIDE_CREASE / d.length().max(f64::MIN_POSITIVE);
            // close together where it crosses a crease, as far as walls move it until they end
            for [from, to] in &creases {
                let across = (*to - *from).perp().normalize_or_zero();
                let [start, end] = [a, b].map(|p| (p - *from).dot(across));
                let [mut one, mut other] = [-drift, drift].map(|far| (far - start) / (end - start));
                if !(one.is_finite() && other.is_finite()) {
                    [one, other] = if start.abs() < drift { [0.0, 1.0] } else { continue };
                }
                let (from, to) = (one.min(other).max(0.0), one.max(other).min(1.0));
                if from >= to {
                    continue;
                }
                let many = ((to - from) / aside).ceil().max(0.0) as usize;
                shares.extend((0..=many).map(|k| from + (to - from) * k as f64 / many.max(1) as f64));
            }
            shares.retain(|s| *s >= 0.0 && *s < 1.0);
            shares.sort_by(f64::total_cmp);
            let near = 0.1 * aside;
            shares.dedup_by(|later, earlier| *later - *earlier < near);
            fine.extend(shares.into_iter().map(|s| a.lerp(b, s)));
        }
        fine
    }

    /// The farthest that walls move along the strip for each mm of height, beside the creases.
    fn lean(&self, creases: &[[DVec2; 2]]) -> f64 {
        /// Beside a crease, mm.
        const ASIDE: f64 = 2.0;
        let draft = self.relief.draft.to_radians();
        let Some(pull) = self.along_pull else { return draft.tan() };
        let mut most: f64 = 0.0;
        for [from, to] in creases {
            let across = (*to - *from).perp().normalize_or_zero() * ASIDE;
            for at in [*from, *to, (*from + *to) / 2.0] {
                for beside in [at - across, at + across] {
                    most = most.max((self.chart().normal(beside) * self.sign).angle_between(pull));
                }
            }
        }
        // no wall is built that leans by much more than 60°
        (most + draft).min(2_f64.atan()).tan()
    }

    /// Strip place of a point of space, on this character's side of the seam.
    fn strip(&self, p: DVec3) -> DVec2 {
        self.chart().turned_to(self.chart().strip(p).0, self.middle)
    }

    /// Where the line from `from` along the unit `direction` reaches `height` above the seat, by
    /// Newton's iteration.
    fn reach(&self, from: DVec3, direction: DVec3, height: f64) -> Option<DVec3> {
        let mut far = 0.0;
        let longest = 50.0 * (self.relief.height + REACH + self.seat.facet_error);
        for _ in 0..30 {
            let p = from + direction * far;
            let (at, above) = self.chart().strip(p);
            let rate = direction.dot(self.chart().normal(at));
            let miss = height - above;
            if miss.abs() < 1e-10 {
                return (far > 0.0 && far < longest).then_some(p);
            }
            // falling on the surface at less than 1° the foot is anyone's guess
            if rate.abs() < 0.017 {
                return None;
            }
            far += miss / rate;
            if !(-longest..=longest).contains(&far) {
                return None;
            }
        }
        None
    }

    fn build(&self, character: u32, met: f64) -> Result<CharacterBody, WallError> {
        let alpha = self.relief.draft.to_radians();
        let Relief { height, held, edge, edge_shape, root, .. } = self.relief;
        let land = if self.sign > 0.0 { Role::Land } else { Role::Floor };
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
            Held::Land => height,
            Held::Root => 0.0,
        };
        let sharp = work.ring(held_at);
        let (top, foot) = (height - narrow.tall, wide.tall);
        // from the sharp outline to where the wall itself begins, and from there both ways
        let (up, down) = match held {
            Held::Land if narrow.tall > 0.0 => {
                let begin = work.ghost(&sharp, alpha, Way::Growing, held_at, top)?;
                (begin.clone(), begin)
            }
            Held::Root if wide.tall > 0.0 => {
                let begin = work.ghost(&sharp, alpha, Way::Shrinking, held_at, foot)?;
                (begin.clone(), begin)
            }
            _ => (sharp.clone(), sharp),
        };
        let begin = match held {
            Held::Land => top,
            Held::Root => foot,
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
        self.cap(&rings, self.sign * height, land, &mut work.mesh, &mut work.roles)?;
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

    fn cap(
        &self,
        rings: &[Vec<u32>],
        level: f64,
        role: Role,
        mesh: &mut Mesh,
        roles: &mut Vec<Role>,
    ) -> Result<(), WallError> {
        let flat: Vec<Vec<DVec2>> =
            rings.iter().map(|ring| ring.iter().map(|&v| self.strip(mesh.vertices[v as usize])).collect()).collect();
        let Some((outer, counters)) = flat.split_first() else { return Err(WallError::Meet) };
        // seen against the axis, the outer ring still runs round the material and holds the counters
        if signed_area(outer) * self.sign <= 0.0
            || counters.iter().any(|c| signed_area(c) * self.sign >= 0.0 || !contains(outer, c[0]))
        {
            return Err(WallError::Meet);
        }
        let step = self.chart().step_over(self.low, self.high, level, SAG);
        let creases = self.chart().creases(self.low, self.high);
        let (triangles, inside) = cap::fill(&flat, step, &creases).ok_or(WallError::Meet)?;
        let mut numbers: Vec<u32> = rings.iter().flatten().copied().collect();
        for p in inside {
            numbers.push(mesh.vertices.len() as u32);
            mesh.vertices.push(self.chart().point(p, level));
        }
        // the narrow end looks along the axis, the wide end against it
        let up = (self.sign > 0.0) == matches!(role, Role::Land | Role::Floor);
        for t in triangles {
            let [a, b, c] = t.map(|v| numbers[v as usize]);
            mesh.triangles.push(if up { [a, b, c] } else { [a, c, b] });
            roles.push(role);
        }
        Ok(())
    }
}

/// How one end of a wall is rounded: angles to the axis and heights of straight pieces, from the wall to the
/// end.
struct Rounding {
    steps: Vec<(f64, f64)>,
    tall: f64,
    role: Role,
}

/// Pieces of a round edge lie within this of it, mm.
const ROUND_TO: f64 = 0.002;

/// A fillet of the radius r between a wall of the draft α and the level: it begins r (1 − sin α) from the
/// level; a chord between the angles φ₁ and φ₂ to the axis leans by their mean.
fn rounding((size, shape, role): (f64, EdgeShape, Role), alpha: f64) -> Rounding {
    if size <= 0.0 {
        return Rounding { steps: Vec::new(), tall: 0.0, role };
    }
    match shape {
        EdgeShape::Bevel => Rounding { steps: vec![(FRAC_PI_4.max(alpha), size)], tall: size, role },
        EdgeShape::Round => {
            let all = FRAC_PI_2 - alpha;
            // sagitta of a chord over the angle δ: r (1 − cos δ/2)
            let widest = 2.0 * (1.0 - ROUND_TO / size).clamp(-1.0, 1.0).acos();
            let pieces = (all / widest).ceil().clamp(2.0, 12.0);
            let at = |k: f64| alpha + all * k / pieces;
            let steps: Vec<(f64, f64)> = (0..pieces as u32)
                .map(|k| (at(f64::from(k)), at(f64::from(k) + 1.0)))
                .map(|(from, to)| ((from + to) / 2.0, size * (to.sin() - from.sin())))
                .collect();
            Rounding { steps, tall: size * (1.0 - alpha.sin()), role }
        }
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
    fn ring(&mut self, level: f64) -> Vec<Vec<u32>> {
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
        let axis = |p: DVec3| b.along_pull.unwrap_or_else(|| b.chart().normal(b.chart().strip(p).0) * b.sign);
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
        // a stroke that closes up leaves no land; a counter that does is seen by the checks
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
