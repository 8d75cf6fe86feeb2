//! The finished solid cut by a plane: what is cut through, body by body, and its edge in pieces with what each of them is.

mod measured;
pub mod said;

pub use measured::{Apart, Measured, measured};

use crate::{bench::Bench, outcome::Outcome, steps::Steps};
use glam::{DVec2, DVec3};
use relief::{BuiltMark, MarkedSolid, Role, Tag};
use solid::{
    Mesh, cut,
    cut_edge::{CutEdge, Shape, edges, joined},
    queries::nearest_on,
};

/// The plane `normal · p = height`, `normal` a unit vector, height in mm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Plane {
    pub normal: DVec3,
    pub height: f64,
}

/// What is cut.
#[derive(Clone, Debug, PartialEq)]
pub struct Section {
    pub plane: Plane,
    pub bodies: Vec<CutBody>,
    pub edges: Vec<Edge>,
    /// Of what is cut through, mm².
    pub area: f64,
}

/// Material that is cut through.
#[derive(Clone, Debug, PartialEq)]
pub struct CutBody {
    /// It fills an inlay, and is a body of its own.
    pub filling: bool,
    /// Facing along the plane's normal; none where the part is open, or its rings touch.
    pub triangles: Vec<[DVec3; 3]>,
}

/// A smooth piece of the edge of one origin.
#[derive(Clone, Debug, PartialEq)]
pub struct Edge {
    pub of: Tag,
    pub points: Vec<DVec3>,
    pub closed: bool,
    /// mm.
    pub length: f64,
    pub shape: Shape,
    /// How the walls that it was cut from leave the steel, degrees: the least of them; `None` without a pull.
    pub draft: Option<f64>,
}

impl Edge {
    fn new(edge: CutEdge<Tag>, plane: Plane, pull: Option<DVec3>) -> Self {
        let draft = |pull: DVec3| {
            let sine = edge.normals.iter().map(|n| n.dot(pull)).fold(f64::INFINITY, f64::min);
            sine.clamp(-1.0, 1.0).asin().to_degrees()
        };
        Self {
            of: edge.of,
            length: edge.length(),
            shape: edge.shape(plane.normal),
            draft: pull.map(draft).filter(|d| d.is_finite()),
            points: edge.points,
            closed: edge.closed,
        }
    }

    /// The draft, where one is asked: tops and floors leave the steel as they lie.
    #[must_use]
    pub fn draft_asked(&self) -> Option<f64> {
        self.draft.filter(|_| !matches!(self.of, Tag::Relief { role: Role::Top | Role::Floor, .. }))
    }

    /// The angle in the plane between a straight edge and the pull as it is seen there, degrees; `None` where it bends, or
    /// the pull is seen end on.
    #[must_use]
    pub fn seen_angle(&self, plane: Plane, pull: DVec3) -> Option<f64> {
        let Shape::Straight { direction } = self.shape else { return None };
        let seen = pull.reject_from_normalized(plane.normal).try_normalize()?;
        Some(direction.dot(seen).abs().clamp(0.0, 1.0).acos().to_degrees())
    }
}

/// Where a mark is cut, and from where the cut is looked at: unit vectors.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Through {
    pub plane: Plane,
    /// mm, on the plane.
    pub at: DVec3,
    pub eye: DVec3,
    pub up: DVec3,
}

/// How a plane lies to a mark.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Lie {
    /// Counter-clockwise from along the text, seen from outside, degrees.
    pub turn_deg: f64,
    /// From square to the seat (0) to level with it (90), degrees.
    pub tilt_deg: f64,
    /// From the place that it is laid through: across the cut, up the text for one along it; outward for a level one, mm.
    pub shift: f64,
}

/// What is to be cut: a mark, where it was measured there, and how the plane lies.
#[derive(Clone, Debug, PartialEq)]
pub struct Laid {
    /// A place on the part or beside it, or two, mm.
    pub through: Vec<DVec3>,
    /// Counter-clockwise from along the text, degrees; left out, square to what was measured.
    pub turn_deg: Option<f64>,
    pub tilt_deg: f64,
    /// mm; as [`Lie::shift`].
    pub shift: f64,
}

/// The plane of a wish on a mark of an outcome, by its place in the job, and as how it is turned; `None` where the mark is not
/// built, or nothing says where.
#[must_use]
pub fn wished(outcome: &Outcome, mark: usize, wish: &Laid) -> Option<(Through, f64)> {
    let built = outcome.marks.get(mark)?.built.as_deref()?;
    let turn_deg = wish.turn_deg.unwrap_or_else(|| square_to(outcome, mark, &wish.through));
    let middle = wish.through.iter().copied().reduce(|a, b| a + b)? / wish.through.len() as f64;
    Some((through(built, middle, Lie { turn_deg, tilt_deg: wish.tilt_deg, shift: wish.shift }), turn_deg))
}

/// The plane that lies so to a mark's text at a place on the part, mm.
#[must_use]
pub fn through(built: &BuiltMark, place: DVec3, lie: Lie) -> Through {
    let chart = &*built.seat.chart;
    let (strip, out, _) = chart.lies(place);
    // on the seat itself: a place may lie on the top of a letter
    let place = chart.point(strip, 0.0);
    let (along, up) = frame(built, strip, out);
    let (sin, cos) = lie.turn_deg.to_radians().sin_cos();
    let (right, side) = (along * cos + up * sin, up * cos - along * sin);
    let (sin, cos) = lie.tilt_deg.to_radians().sin_cos();
    let rise = out * cos - side * sin;
    let normal = right.cross(rise).normalize();
    let at = place - normal * lie.shift;
    // one that lies rather level than square is looked at from outside
    let (eye, up) = if sin > cos.abs() { (-normal, -rise) } else { (normal, rise) };
    Through { plane: Plane { normal, height: at.dot(normal) }, at, eye, up }
}

/// The turn about the normal, degrees, at which a cut through a place on a mark shows most of what was measured there: along
/// what lies between the two `places`, where they lie apart along the seat; else square to the wall that is nearest to the
/// one. Along the text where there is neither. `mark` is its place in the job; places are mm.
#[must_use]
pub fn square_to(outcome: &Outcome, mark: usize, places: &[DVec3]) -> f64 {
    /// Nearer along the seat than this places are one, mm.
    const ONE: f64 = 1e-3;
    let Some((solid, built)) = outcome.on_solid(mark) else { return 0.0 };
    let Some(&first) = places.first() else { return 0.0 };
    let chart = &*built.seat.chart;
    let (strip, out, _) = chart.lies(first);
    let (right, up) = frame(built, strip, out);
    let between = |to: &DVec3| (*to - first).reject_from_normalized(out);
    let way = places.get(1).map(between).filter(|way| way.length() > ONE).or_else(|| wall_at(solid, mark, first));
    let way = way.map_or(right, |way| way.reject_from_normalized(out));
    if way.length() > ONE { way.dot(up).atan2(way.dot(right)).to_degrees() } else { 0.0 }
}

/// The outward normal of the wall of a mark that is nearest to a place.
fn wall_at(solid: &MarkedSolid, mark: usize, place: DVec3) -> Option<DVec3> {
    let own = |t: &usize| matches!(solid.tags[*t], Tag::Relief { mark: m, role: Role::Wall, .. } if m as usize == mark);
    let off = |t: usize| nearest_on(solid.mesh.corners(t), place).distance_squared(place);
    let nearest = (0..solid.tags.len()).filter(own).map(|t| (off(t), t)).min_by(|a, b| a.0.total_cmp(&b.0))?;
    Some(solid.mesh.normal(nearest.1))
}

/// In the reading direction at a place of the strip, and up: unit vectors square to `out`.
fn frame(built: &BuiltMark, strip: DVec2, out: DVec3) -> (DVec3, DVec3) {
    let chart = &*built.seat.chart;
    let step = chart.point(chart.roll(strip, reads(built, strip) * 1e-3), 0.0) - chart.point(strip, 0.0);
    let along = step.reject_from_normalized(out).try_normalize().unwrap_or_else(|| out.any_orthonormal_vector());
    (along, out.cross(along))
}

/// The reading direction of the character that is nearest to a place of the strip.
fn reads(built: &BuiltMark, strip: DVec2) -> DVec2 {
    let placed = &built.placed;
    let nearest = placed.characters.iter().min_by(|a, b| {
        let off = |c: &relief::place::PlacedCharacter| c.middle.distance_squared(strip);
        off(a).total_cmp(&off(b))
    });
    nearest.map_or(placed.along, |c| c.along)
}

/// An outcome's solid, cut; drafts are told against `pull`, a unit vector.
#[must_use]
pub fn of_outcome(bench: &Bench, outcome: &Outcome, plane: Plane, pull: Option<DVec3>) -> Section {
    let surface_body = bench.part().surface_body.is_some();
    let mut cut = Cutting { plane, bodies: Vec::new(), edges: Vec::new(), area: 0.0 };
    // where all of the part was joined to, nothing of it is left beside
    if !outcome.groups.iter().any(|group| !group.apart && group.block.is_none()) {
        match bench.rest(outcome) {
            Some(rest) => cut.solid(&rest),
            None => cut.part(bench),
        }
    }
    // what lies on a solid without height is nothing that is cut
    for group in outcome.groups.iter().filter(|group| surface_body || !group.apart) {
        cut.solid(&group.solid);
        for (mark, built) in
            group.marks.iter().filter_map(|&at| Some((at, outcome.marks.get(at as usize)?.built.as_ref()?)))
        {
            for body in &built.fillings {
                let tag = |t: usize| Some(Tag::Relief { mark, character: body.character, role: body.roles[t] });
                cut.body(&body.mesh, tag, true);
            }
        }
    }
    cut.section(pull)
}

/// The bare part, cut.
#[must_use]
pub fn of_part(bench: &Bench, plane: Plane, pull: Option<DVec3>) -> Section {
    let mut cut = Cutting { plane, bodies: Vec::new(), edges: Vec::new(), area: 0.0 };
    cut.part(bench);
    cut.section(pull)
}

struct Cutting {
    plane: Plane,
    bodies: Vec<CutBody>,
    edges: Vec<CutEdge<Tag>>,
    area: f64,
}

impl Cutting {
    fn part(&mut self, bench: &Bench) {
        let part = bench.part();
        self.body(&part.mesh, |t| Some(Tag::Part { face: part.face_of[t] }), false);
    }

    /// Without the sides of the block that a piece was cut out with.
    fn solid(&mut self, solid: &MarkedSolid) {
        self.body(&solid.mesh, |t| Some(solid.tags[t]).filter(|tag| !matches!(tag, Tag::Cut)), false);
    }

    fn body(&mut self, mesh: &Mesh, of: impl Fn(usize) -> Option<Tag>, filling: bool) {
        let Plane { normal, height } = self.plane;
        self.edges.extend(edges(mesh, of, normal, height));
        let rings = cut::rings(mesh, normal, height);
        if !rings.is_empty() {
            self.bodies.push(CutBody { filling, triangles: cut::filled(&rings, normal).unwrap_or_default() });
            self.area += cut::section_area(mesh, normal, height);
        }
    }

    fn section(self, pull: Option<DVec3>) -> Section {
        let Self { plane, bodies, edges, area } = self;
        let edges = joined(edges).into_iter().map(|edge| Edge::new(edge, plane, pull)).collect();
        Section { plane, bodies, edges, area }
    }
}
