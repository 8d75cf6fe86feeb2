//! A flat region filled with triangles: constrained Delaunay triangulation of its contours.

use glam::DVec2;
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

/// Triangles (counter-clockwise) between `contours` by the even-odd rule, with the points `inside`
/// as further corners. Vertices are numbered through all contours in order, the further ones after
/// them.
///
/// `None` when contours cross or touch.
#[must_use]
pub fn fill(contours: &[Vec<DVec2>], inside: &[DVec2]) -> Option<Vec<[u32; 3]>> {
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
    for p in inside {
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
    Some(inner_triangles(&filled))
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
