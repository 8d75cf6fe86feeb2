//! A flat region filled with triangles: the land or floor of a character, and its hidden far side.
//!
//! Constrained Delaunay triangulation of the contours on the strip, with points added inside at
//! the chart's step so that the mapped facets stay on the offset surface.

use glam::DVec2;
use lettering::region::contains;
use spade::{ConstrainedDelaunayTriangulation, HasPosition, Point2, Triangulation};

struct Vertex {
    position: Point2<f64>,
    number: u32,
}

impl HasPosition for Vertex {
    type Scalar = f64;
    fn position(&self) -> Point2<f64> {
        self.position
    }
}

/// Triangles (counter-clockwise on the strip) between `contours` (outer counter-clockwise, holes
/// clockwise), and the points added inside. Vertices are numbered through all contours in order,
/// the added ones after them.
///
/// `None` when contours cross or touch.
#[must_use]
pub fn fill(contours: &[Vec<DVec2>], step: DVec2) -> Option<(Vec<[u32; 3]>, Vec<DVec2>)> {
    let mut vertices = Vec::new();
    let mut edges = Vec::new();
    for contour in contours {
        let first = vertices.len();
        for (k, p) in contour.iter().enumerate() {
            let number = vertices.len() as u32;
            vertices.push(Vertex { position: Point2::new(p.x, p.y), number });
            edges.push([first + k, first + (k + 1) % contour.len()]);
        }
    }
    let inside = inner_points(contours, step);
    for p in &inside {
        let number = vertices.len() as u32;
        vertices.push(Vertex { position: Point2::new(p.x, p.y), number });
    }
    let (all, wanted) = (vertices.len(), edges.len());
    let mut conflicts = 0;
    let filled =
        ConstrainedDelaunayTriangulation::<Vertex>::try_bulk_load_cdt(vertices, edges, |_| conflicts += 1).ok()?;
    if conflicts > 0 || filled.num_vertices() != all || filled.num_constraints() != wanted {
        return None;
    }
    Some((inner_triangles(&filled), inside))
}

/// Triangles inside the constraints: passing over a constraint goes in or out. Told by the edges
/// alone, since slivers along a rim have no middle to ask.
fn inner_triangles(filled: &ConstrainedDelaunayTriangulation<Vertex>) -> Vec<[u32; 3]> {
    let mut inside: Vec<Option<bool>> = vec![None; filled.num_all_faces()];
    inside[filled.outer_face().index()] = Some(false);
    let mut queue: Vec<_> = filled.convex_hull().map(|edge| (edge.fix(), false)).collect();
    let mut triangles = Vec::new();
    // each entry is a directed edge whose own face is known; its other side is asked
    while let Some((edge, known)) = queue.pop() {
        let edge = filled.directed_edge(edge);
        let known = known != edge.is_constraint_edge();
        let Some(face) = edge.rev().face().as_inner() else { continue };
        if inside[face.index()].replace(known).is_none() {
            if known {
                triangles.push(face.vertices().map(|v| v.data().number));
            }
            queue.extend(face.adjacent_edges().map(|e| (e.fix(), known)));
        }
    }
    triangles.sort_unstable();
    triangles
}

/// A grid of points inside the contours, clear of them by a third of a step.
fn inner_points(contours: &[Vec<DVec2>], step: DVec2) -> Vec<DVec2> {
    if step.x.is_infinite() && step.y.is_infinite() {
        return Vec::new();
    }
    // Along the straight direction longer triangles do no harm.
    let short = step.min_element();
    let step = DVec2::new(step.x.min(4.0 * short), step.y.min(4.0 * short));
    let (mut low, mut high) = (DVec2::INFINITY, DVec2::NEG_INFINITY);
    for p in contours.iter().flatten() {
        (low, high) = (low.min(*p), high.max(*p));
    }
    let mut points = Vec::new();
    let (columns, rows) = (((high.x - low.x) / step.x) as usize, ((high.y - low.y) / step.y) as usize);
    for i in 0..=columns {
        for j in 0..=rows {
            let p = low + DVec2::new((i as f64 + 0.5) * step.x, (j as f64 + 0.5) * step.y);
            let inside = contours.iter().filter(|c| contains(c, p)).count() % 2 == 1;
            if inside && contours.iter().all(|c| clear(c, p, short / 3.0)) {
                points.push(p);
            }
        }
    }
    points
}

fn clear(contour: &[DVec2], p: DVec2, least: f64) -> bool {
    (0..contour.len()).all(|k| {
        let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
        let d = b - a;
        let t = ((p - a).dot(d) / d.length_squared().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0);
        p.distance(a + d * t) > least
    })
}
