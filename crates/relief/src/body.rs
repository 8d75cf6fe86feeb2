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
    region::{contains, signed_area},
};
use solid::{Mesh, crossing::crossing_pairs};
use trade::{Held, Relief, Sense, Walls};

/// Facets of the land or floor stay within this of the true offset surface, mm.
const SAG: f64 = 0.0008;
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
        Sense::Raised | Sense::Sunken => *relief,
        Sense::Surface => {
            Relief { sense: Sense::Raised, height: FILM, draft: 0.0, held: Held::Land, walls: Walls::Seat }
        }
    }
}

/// What a facet of a body is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, serde::Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    Land,
    Floor,
    Wall,
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
    region
        .islands
        .iter()
        .map(|island| {
            let mut failed = WallError::Meet;
            // crosses itself somewhere, by a hair
            let mut askew: Option<(usize, CharacterBody)> = None;
            for (shortest, met) in TRIES {
                match Builder::new(seat, relief, pull, &without_short_edges(island, shortest))?.build(character, met) {
                    Ok(body) => match crossing_pairs(&body.mesh).len() {
                        0 => return Ok(body),
                        n if askew.as_ref().is_none_or(|(least, _)| n < *least) => askew = Some((n, body)),
                        _ => {}
                    },
                    Err(e) => failed = e,
                }
                if failed != WallError::Meet {
                    break;
                }
            }
            if let Some((_, body)) = askew {
                return Ok(body);
            }
            Err(match failed {
                WallError::TooSteep | WallError::NeverEnds => {
                    ReliefError::AlongPull { character: text.to_owned(), draft: relief.draft }
                }
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
    /// +1 raised, −1 sunken: the narrow level lies at sign · height.
    sign: f64,
    /// Wall axis in the sense of the pull; `None`: the seat's normal.
    along_pull: Option<DVec3>,
    middle: DVec2,
    contours: Vec<Vec<DVec2>>,
}

impl<'a> Builder<'a> {
    fn new(seat: &'a Seat, relief: &'a Relief, pull: Option<DVec3>, island: &Island) -> Result<Self, ReliefError> {
        let apart = seat.sheet || !relief.sense.has_relief();
        let relief = built_as(relief);
        let sign = if relief.sense == Sense::Sunken { -1.0 } else { 1.0 };
        let middle = island.outer.iter().sum::<DVec2>() / island.outer.len() as f64;
        let along_pull = match relief.walls {
            Walls::Seat => None,
            Walls::Pull => {
                let pull = pull.ok_or(ReliefError::NoPull)?;
                // the half that this place belongs to
                Some(pull * pull.dot(seat.chart.normal(middle)).signum() * sign)
            }
        };
        let mut builder = Self { seat, relief, apart, sign, along_pull, middle, contours: Vec::new() };
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
        let step = chart.step(self.middle, self.sign * self.relief.height, SAG);
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
            fine.extend((0..pieces).map(|i| a.lerp(b, i as f64 / pieces as f64)));
        }
        fine
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
        let narrow = self.sign * self.relief.height;
        let wide = if self.apart { 0.0 } else { -self.sign * (2.0 * self.seat.facet_error + REACH) };
        let (from, to, way) = match self.relief.held {
            Held::Land => (narrow, wide, Way::Growing),
            Held::Root => (0.0, narrow, Way::Shrinking),
        };
        let starts: Vec<Vec<Start>> = self
            .contours
            .iter()
            .map(|contour| {
                contour
                    .iter()
                    .map(|&p| Start {
                        point: self.chart().point(p, from),
                        axis: self.along_pull.unwrap_or_else(|| self.chart().normal(p) * self.sign),
                    })
                    .collect()
            })
            .collect();
        let end_at = |point, direction| self.reach(point, direction, to);
        let way_of = |point: DVec3| match self.along_pull {
            Some(axis) if way == Way::Growing => -axis.dot(point),
            Some(axis) => axis.dot(point),
            None => (self.chart().strip(point).1 - from).abs(),
        };
        let walls = wall::raise(&starts, alpha, way, met, &end_at, &way_of)?;
        // a stroke that closes up leaves no land; a counter that does is seen by the checks
        if way == Way::Shrinking && walls.closed_up > 0 {
            return Err(WallError::Meet);
        }
        let mut mesh = Mesh { vertices: walls.points, triangles: walls.triangles };
        let mut roles = vec![Role::Wall; mesh.triangles.len()];
        let start_rings = rings(&self.contours);
        let (narrow_rings, wide_rings) = match way {
            Way::Growing => (start_rings, walls.ends),
            Way::Shrinking if self.apart => (walls.ends, start_rings),
            Way::Shrinking => {
                let down = self.skirt(&start_rings, &starts, wide, &mut mesh, &mut roles)?;
                (walls.ends, down)
            }
        };
        let land = if self.sign > 0.0 { Role::Land } else { Role::Floor };
        self.cap(&narrow_rings, narrow, land, &mut mesh, &mut roles)?;
        let under = if self.apart { Role::Base } else { Role::Skirt };
        self.cap(&wide_rings, wide, under, &mut mesh, &mut roles)?;
        Ok(CharacterBody { character, mesh, roles })
    }

    /// Straight walls from the held root past the surface; the rings they end in.
    fn skirt(
        &self,
        rings: &[Vec<u32>],
        starts: &[Vec<Start>],
        wide: f64,
        mesh: &mut Mesh,
        roles: &mut Vec<Role>,
    ) -> Result<Vec<Vec<u32>>, WallError> {
        let mut ends = Vec::new();
        for (ring, starts) in rings.iter().zip(starts) {
            let first = mesh.vertices.len() as u32;
            for start in starts {
                mesh.vertices.push(self.reach(start.point, -start.axis, wide).ok_or(WallError::NeverEnds)?);
            }
            let n = ring.len();
            let end: Vec<u32> = (first..first + n as u32).collect();
            for k in 0..n {
                let (a, b, c, d) = (ring[k], ring[(k + 1) % n], end[k], end[(k + 1) % n]);
                mesh.triangles.extend([[a, c, b], [c, d, b]]);
                roles.extend([Role::Skirt; 2]);
            }
            ends.push(end);
        }
        Ok(ends)
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
        let step = self.chart().step(self.middle, level, SAG);
        let (triangles, inside) = cap::fill(&flat, step).ok_or(WallError::Meet)?;
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

/// Vertex numbers of contours numbered through.
fn rings(contours: &[Vec<DVec2>]) -> Vec<Vec<u32>> {
    let mut first = 0;
    contours
        .iter()
        .map(|c| {
            let ring = (first..first + c.len() as u32).collect();
            first += c.len() as u32;
            ring
        })
        .collect()
}
