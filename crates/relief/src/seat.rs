//! A seat: one face of the part with its chart and its outline on the strip.

use crate::{
    ReliefError,
    chart::{Chart, Upright, shifted_to},
    charts::{chart, freeform::FreeformChart, offset::OffsetChart},
};
use flat::encloses;
use glam::{DVec2, DVec3};

use solid::{Part, Surface, contour};
use std::{collections::HashSet, sync::Arc};

/// How a point of space lies over a seat.
#[derive(Clone, Copy, Debug)]
pub struct Over {
    /// Its place on the strip.
    pub at: DVec2,
    /// Outward unit normal of the seat under it.
    pub out: DVec3,
    /// mm outward.
    pub height: f64,
}

#[derive(Clone)]
pub struct Seat {
    /// The first of its faces.
    pub face: u32,
    pub faces: Vec<u32>,
    /// Freeform where it goes over several faces.
    pub surface: Surface,
    pub chart: Arc<dyn Chart>,
    /// How far it lies outward from the part's surface: 0, or the height of the pad that it is the top of, mm.
    pub level: f64,
    /// Edges of the face on the strip's grid (outer edge, holes), each loop as points without jumps; a
    /// loop that runs once round ends one period from where it began.
    pub outline: Vec<Vec<DVec2>>,
    /// The same edges in space.
    pub edges: Vec<[DVec3; 2]>,
    /// Least and greatest grid coordinates of the face.
    pub start: DVec2,
    pub end: DVec2,
    /// How far the facets lie inside the true surface, mm.
    pub facet_error: f64,
    /// The part is a surface body.
    pub surface_body: bool,
    /// Unit vector along which the halves of the tool open.
    pub pull: Option<DVec3>,
}

impl Seat {
    /// About how much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        /// A freeform chart keeps for each facet its corners, its place on the strip and two trees.
        const FACET: usize = 600;
        let outline: usize = self.outline.iter().map(|ring| size_of_val(&ring[..])).sum();
        outline + size_of_val(&self.edges[..]) + self.chart.patch().map_or(0, <[u32]>::len) * FACET
    }

    /// The seat on one face of `part`.
    ///
    /// # Errors
    /// No such face, or one that can't be laid flat.
    pub fn on(part: &Part, face: u32, pull: Option<DVec3>) -> Result<Self, ReliefError> {
        Self::over(part, &[face], pull)
    }

    /// The seat over neighbouring faces of `part`; its edges are those of all of them together.
    ///
    /// # Errors
    /// No such face, faces that can't be laid flat together, or that don't border on one another.
    pub fn over(part: &Part, faces: &[u32], pull: Option<DVec3>) -> Result<Self, ReliefError> {
        let last = part.faces.len() as u32 - 1;
        if let Some(&face) = faces.iter().find(|&&f| f > last) {
            return Err(ReliefError::NoFace { face, last });
        }
        let Some(&face) = faces.first() else { return Err(ReliefError::NoFace { face: 0, last }) };
        let surface = if faces.len() == 1 { part.faces[face as usize].surface.clone() } else { Surface::Freeform };
        let triangles: Vec<u32> = faces.iter().flat_map(|&f| part.triangles_of(f)).collect();
        let facets: Vec<[DVec3; 3]> = triangles.iter().map(|&t| part.mesh.corners(t as usize)).collect();
        let upright = Upright { pull };
        let chart = match surface {
            Surface::Freeform => {
                FreeformChart::new(&part.mesh, &triangles, upright).map(|c| Arc::new(c) as Arc<dyn Chart>)
            }
            _ => chart(&surface, &facets, upright).map(Arc::from),
        };
        let chart = chart.ok_or(ReliefError::NoChart(face))?;
        if let (Some(patch), true) = (chart.patch(), faces.len() > 1) {
            let laid: HashSet<u32> = patch.iter().map(|&t| part.face_of[t as usize]).collect();
            if let Some(&face) = faces.iter().find(|f| !laid.contains(f)) {
                return Err(ReliefError::Apart(face));
            }
        }
        let edges = contour::loops(&part.mesh, triangles.iter().copied())
            .into_iter()
            .flat_map(|r| (0..r.len()).map(move |k| [r[k], r[(k + 1) % r.len()]]))
            .map(|edge| edge.map(|v| part.mesh.vertices[v as usize]))
            .collect();
        let triangles = chart.patch().map_or(triangles, <[u32]>::to_vec);
        let facet_error = triangles
            .iter()
            .flat_map(|&t| {
                let [a, b, c] = part.mesh.corners(t as usize);
                [(a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0]
            })
            .filter_map(|p| surface.height(p))
            .fold(chart.bridges(), |most: f64, h| most.max(h.abs()));
        let mut outline: Vec<Vec<DVec2>> = contour::loops(&part.mesh, triangles.iter().copied())
            .into_iter()
            .map(|ring| unroll(&*chart, ring.iter().map(|&v| part.mesh.vertices[v as usize])))
            .collect();
        for p in outline.iter_mut().flatten() {
            *p = chart.grid(*p);
        }
        unbroken(&*chart, &mut outline);
        if outline.is_empty() {
            outline.extend(all_round(&surface));
        }
        on_one_turn(&*chart, &mut outline);
        if matches!(surface, Surface::Cone { .. } | Surface::Revolution { .. }) {
            let corners = triangles.iter().flat_map(|&t| part.mesh.corners(t as usize));
            outline.extend(at_the_tip(&*chart, &outline, corners));
        }
        let (mut start, mut end) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
        for p in outline.iter().flatten() {
            (start, end) = (start.min(*p), end.max(*p));
        }
        // a face that goes once round has no edges that way: its strip is one turn about the crown
        let period = chart.period();
        for (k, once) in [(0, period.x), (1, period.y)] {
            if once.is_finite() && end[k] - start[k] >= once * (1.0 - 1e-9) {
                (start[k], end[k]) = (-once / 2.0, once / 2.0);
            }
        }
        if !start.is_finite() {
            (start, end) = (-period / 2.0, period / 2.0);
        }
        let surface_body = part.surface_body.is_some();
        let faces = faces.to_vec();
        let level = 0.0;
        Ok(Self { face, faces, surface, chart, level, outline, edges, start, end, facet_error, surface_body, pull })
    }

    /// The seat `by` mm further out: what stands on a pad stands on it.
    #[must_use]
    pub fn raised(&self, by: f64) -> Self {
        let chart = Arc::new(OffsetChart { under: self.chart.clone(), by });
        Self { chart, level: self.level + by, ..self.clone() }
    }

    /// Does the seat go over this face of the part?
    #[must_use]
    pub fn has(&self, face: u32) -> bool {
        self.faces.contains(&face)
    }

    /// Does the face cover this place of the strip? Counts the edges passed on the way out over the grid,
    /// along the direction in which the face does not close on itself.
    #[must_use]
    pub fn covers(&self, at: DVec2) -> bool {
        let closed = self.closed();
        // closed both ways and without a hole
        if self.outline.is_empty() {
            return true;
        }
        let (go, across) = if closed[0] { (1, 0) } else { (0, 1) };
        let once = self.chart.period()[across];
        let at = self.chart.grid(self.own_turn(at));
        let mut inside = false;
        for ring in &self.outline {
            for pair in ring.windows(2) {
                let (mut a, mut b) = (pair[0], pair[1]);
                if closed[across] {
                    // the copy of the edge that lies nearest
                    let shift = ((at[across] - (a[across] + b[across]) / 2.0) / once).round() * once;
                    a[across] += shift;
                    b[across] += shift;
                }
                if (a[across] > at[across]) != (b[across] > at[across]) {
                    let cross = a[go] + (b[go] - a[go]) * (at[across] - a[across]) / (b[across] - a[across]);
                    inside ^= cross > at[go];
                }
            }
        }
        inside
    }

    /// The nearest edges to either side of a box of the grid, along (`k` = 0) or up (1): least and greatest
    /// coordinates that it has room between. An edge that runs into the box counts on the side of `near` that
    /// it lies on; where there is none, the seat's outermost.
    #[must_use]
    pub fn free(&self, k: usize, low: DVec2, high: DVec2, near: f64) -> (f64, f64) {
        let across = 1 - k;
        let period = self.chart.period();
        let (mut start, mut end) = (self.start[k], self.end[k]);
        // off the seat it is beside the edge there
        let hair = 1e-6 * (end - start);
        let near = near.max(start + hair).min(end - hair);
        for pair in self.outline.iter().flat_map(|ring| ring.windows(2)) {
            let (mut a, mut b) = (pair[0], pair[1]);
            let shift = shifted_to((a + b) / 2.0, (low + high) / 2.0, period) - (a + b) / 2.0;
            (a, b) = (a + shift, b + shift);
            // the piece of the edge that lies beside the box
            let (mut from, mut to) = (0.0_f64, 1.0_f64);
            let way = b[across] - a[across];
            if way.abs() < 1e-12 {
                if a[across] <= low[across] || a[across] >= high[across] {
                    continue;
                }
            } else {
                let [s, t] = [low[across], high[across]].map(|v| (v - a[across]) / way);
                (from, to) = (from.max(s.min(t)), to.min(s.max(t)));
                if from >= to {
                    continue;
                }
            }
            for share in [from, to] {
                let at = a[k] + (b[k] - a[k]) * share;
                if at <= near {
                    start = start.max(at);
                } else {
                    end = end.min(at);
                }
            }
        }
        (start, end)
    }

    /// How far outward from the seat as it was before any mark a point of space lies, mm.
    #[must_use]
    pub fn height(&self, p: DVec3) -> f64 {
        // the chart knows of the level, the surface doesn't
        self.surface.height(p).map_or_else(|| self.chart.above(p).1, |above| above - self.level)
    }

    /// Outward unit normal of the seat under a point of space.
    #[must_use]
    pub fn normal(&self, p: DVec3) -> DVec3 {
        self.surface.normal(p).unwrap_or_else(|| self.chart.above(p).0)
    }

    /// [`Seat::normal`] and [`Seat::height`] of a point at once.
    #[must_use]
    pub fn above(&self, p: DVec3) -> (DVec3, f64) {
        if let Some((normal, above)) = self.surface.normal(p).zip(self.surface.height(p)) {
            return (normal, above - self.level);
        }
        self.chart.above(p)
    }

    /// All three of a point at once: its place on the strip, and [`Seat::above`].
    #[must_use]
    pub fn lies(&self, p: DVec3) -> Over {
        if let Some((out, above)) = self.surface.normal(p).zip(self.surface.height(p)) {
            return Over { at: self.chart.strip(p).0, out, height: above - self.level };
        }
        let (at, out, height) = self.chart.lies(p);
        Over { at, out, height }
    }

    /// The place of the strip under a point of space, on the turn of it that the face lies on.
    #[must_use]
    pub fn strip(&self, p: DVec3) -> DVec2 {
        self.own_turn(self.chart.strip(p).0)
    }

    /// A place of the strip on the turn that the face lies on.
    #[must_use]
    pub fn own_turn(&self, at: DVec2) -> DVec2 {
        self.chart.turned_to(at, self.chart.off_grid((self.start + self.end) / 2.0))
    }

    /// Does the face itself close along, up? Then it has no edges there.
    #[must_use]
    pub fn closed(&self) -> [bool; 2] {
        let (period, size) = (self.chart.period(), self.end - self.start);
        [0, 1].map(|k| period[k].is_finite() && size[k] >= period[k] * (1.0 - 1e-9))
    }

    /// Does the face hold all of a region of the strip, whose contours are closed rings? Looked at every
    /// tenth of a millimetre along them; an edge of the face inside the region is seen too.
    #[must_use]
    pub fn holds(&self, region: &[Vec<DVec2>]) -> bool {
        const STEP: f64 = 0.1;
        let Some(&first) = region.first().and_then(|ring| ring.first()) else { return true };
        let on = |ring: &Vec<DVec2>| {
            (0..ring.len()).all(|k| {
                let (a, b) = (ring[k], ring[(k + 1) % ring.len()]);
                let pieces = (a.distance(b) / STEP).ceil().max(1.0);
                // in the middle of each piece: corners may lie on the edge of the face itself
                (0..pieces as usize).all(|i| self.covers(a.lerp(b, (i as f64 + 0.5) / pieces)))
            })
        };
        let inside = |p: DVec2| {
            let p = self.chart.turned_to(p, first);
            encloses(region, p)
        };
        region.iter().all(on) && !self.outline.iter().flatten().any(|&p| inside(self.chart.off_grid(p)))
    }
}

/// Brings the rings of holes to the turn of the strip that the largest ring lies on. Rings that run once
/// round lie on every turn and stay.
fn on_one_turn(chart: &dyn Chart, rings: &mut [Vec<DVec2>]) {
    let once_round = |ring: &Vec<DVec2>| match (ring.first(), ring.last()) {
        (Some(first), Some(last)) => first.distance(*last) > 1e-6,
        _ => true,
    };
    if rings.iter().any(once_round) {
        return;
    }
    let bounds = |ring: &Vec<DVec2>| {
        let first = ring.first().copied().unwrap_or_default();
        ring.iter().fold((first, first), |(low, high), &p| (low.min(p), high.max(p)))
    };
    let size = |ring: &Vec<DVec2>| {
        let (low, high) = bounds(ring);
        (high - low).length()
    };
    let Some(largest) = rings.iter().max_by(|a, b| size(a).total_cmp(&size(b))) else { return };
    let (low, high) = bounds(largest);
    let near = (low + high) / 2.0;
    for ring in rings {
        let (low, high) = bounds(ring);
        let middle = (low + high) / 2.0;
        let by = shifted_to(middle, near, chart.period()) - middle;
        for p in ring {
            *p += by;
        }
    }
}

/// Takes the jumps out of rings of the grid.
fn unbroken(chart: &dyn Chart, rings: &mut [Vec<DVec2>]) {
    for ring in rings {
        for k in 1..ring.len() {
            ring[k] = shifted_to(ring[k], ring[k - 1], chart.period());
        }
    }
}

/// What bounds the strip of a surface without edges: on a whole sphere the place opposite the crown.
fn all_round(surface: &Surface) -> Option<Vec<DVec2>> {
    let Surface::Sphere { radius, .. } = surface else { return None };
    let far = std::f64::consts::PI * radius * (1.0 - 1e-6);
    Some((0..=360).map(|k| DVec2::from_angle(f64::from(k).to_radians()) * far).collect())
}

/// What bounds the strip of a face with one edge that runs once round: where its corners lie farthest from that, the
/// other end of the grid. It is a tip on the axis, which is no edge of the part.
fn at_the_tip(chart: &dyn Chart, outline: &[Vec<DVec2>], corners: impl Iterator<Item = DVec3>) -> Option<Vec<DVec2>> {
    let period = chart.period();
    let k = (0..2).find(|&k| period[k].is_finite())?;
    let go = 1 - k;
    let ends = |ring: &Vec<DVec2>| Some((*ring.first()?, *ring.last()?));
    let mut round = outline.iter().filter(|ring| ends(ring).is_some_and(|(a, b)| (a - b)[k].abs() > period[k] / 2.0));
    let (edge, None) = (ends(round.next()?)?.0[go], round.next()) else { return None };
    let far = corners.map(|p| chart.grid(chart.strip(p).0)[go]).max_by(|a, b| {
        let [a, b] = [a, b].map(|c| (c - edge).abs());
        a.total_cmp(&b)
    })?;
    let mut corner = DVec2::ZERO;
    corner[go] = far;
    Some(
        [-0.5, 0.5]
            .map(|share| {
                corner[k] = share * period[k];
                corner
            })
            .to_vec(),
    )
}

/// A ring of points of space on the strip, continuous over the seam, with its first point again at the
/// end.
pub(crate) fn unroll(chart: &dyn Chart, ring: impl Iterator<Item = DVec3>) -> Vec<DVec2> {
    let mut out: Vec<DVec2> = Vec::new();
    for p in ring {
        let at = chart.strip(p).0;
        out.push(out.last().map_or(at, |&last| chart.turned_to(at, last)));
    }
    if let (Some(&first), Some(&last)) = (out.first(), out.last()) {
        out.push(chart.turned_to(first, last));
    }
    out
}
