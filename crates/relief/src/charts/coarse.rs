//! The strip of a face of very many facets, from a coarse grid over it: only what lies about a mark is laid facet by facet.

use crate::flatten::as_rigid_as_possible;
use glam::{DVec2, DVec3};
use solid::{
    Mesh,
    topology::{Groups, for_each_edge},
};

/// Fields of the grid over the box round the face, seen square-on.
const FIELDS: f64 = 20_000.0;
/// Beyond the rim the grid goes on evenly over so many fields.
const BEYOND: usize = 6;

/// Facets laid on the strip by a grid of points over them as they are seen along `frame[2]`, `frame[0]` to the right and
/// `frame[1]` up: the grid is laid as rigidly as possible, and each vertex goes with its field. `None` where the face is
/// in pieces, seen so.
pub(super) fn laid(mesh: &Mesh, frame: [DVec3; 3]) -> Option<Vec<DVec2>> {
    let [along, up, looks] = frame;
    let seen: Vec<DVec2> = mesh.vertices.iter().map(|p| DVec2::new(p.dot(along), p.dot(up))).collect();
    let (low, high) =
        seen.iter().fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), p| (low.min(*p), high.max(*p)));
    let size = high - low;
    let field = (size.x * size.y / FIELDS).sqrt();
    if !(field > 0.0 && field.is_finite()) {
        return None;
    }
    let columns = (size.x / field).ceil() as usize + 2;
    let rows = (size.y / field).ceil() as usize + 2;
    let mut grid = Grid { low: low - 0.5 * field, field, columns, height: vec![f64::NAN; columns * rows] };
    for (t, triangle) in mesh.triangles.iter().enumerate() {
        let heights = mesh.corners(t).map(|p| p.dot(looks));
        grid.cover(triangle.map(|v| seen[v as usize]), heights);
    }
    // fields that are covered somewhere, each with all its corners
    let mut wanted = vec![false; grid.height.len()];
    let nodes = (0..grid.height.len()).filter(|&n| !grid.height[n].is_nan()).map(|n| (n % columns, n / columns));
    let covered: Vec<(usize, usize)> = nodes.collect();
    for (i, j) in covered {
        for (i, j) in [(i, j), (i.wrapping_sub(1), j), (i, j.wrapping_sub(1)), (i.wrapping_sub(1), j.wrapping_sub(1))] {
            if i + 1 < columns && j + 1 < rows {
                grid.corners(i, j).into_iter().for_each(|n| wanted[n] = true);
            }
        }
    }
    for p in &seen {
        let (i, j, _) = grid.under(*p);
        grid.corners(i, j).into_iter().for_each(|n| wanted[n] = true);
    }
    grid.go_on(&wanted, rows)?;
    let mut number = vec![u32::MAX; wanted.len()];
    let mut coarse = Mesh::default();
    let mut begin = Vec::new();
    for n in (0..wanted.len()).filter(|&n| wanted[n]) {
        number[n] = begin.len() as u32;
        let p = grid.low + DVec2::new((n % columns) as f64, (n / columns) as f64) * field;
        coarse.vertices.push(along * p.x + up * p.y + looks * grid.height[n]);
        begin.push(p);
    }
    for (i, j) in (0..rows - 1).flat_map(|j| (0..columns - 1).map(move |i| (i, j))) {
        let [a, b, c, d] = grid.corners(i, j).map(|n| number[n]);
        if ![a, b, c, d].contains(&u32::MAX) {
            coarse.triangles.extend([[a, b, c], [a, c, d]]);
        }
    }
    if !is_one(&coarse) {
        return None;
    }
    let flat = as_rigid_as_possible(&coarse, begin);
    let on_strip = |p: &DVec2| {
        let (i, j, share) = grid.under(*p);
        let [a, b, c, d] = grid.corners(i, j).map(|n| flat[number[n] as usize]);
        // by the half of the field that it lies in
        if share.x > share.y {
            a + (b - a) * share.x + (c - b) * share.y
        } else {
            a + (c - d) * share.x + (d - a) * share.y
        }
    };
    Some(seen.iter().map(on_strip).collect())
}

/// Points over a face, heights along the way it is seen; none where nothing lies under a point.
struct Grid {
    low: DVec2,
    field: f64,
    columns: usize,
    height: Vec<f64>,
}

impl Grid {
    /// The field under a place, and the place's share of its width and height.
    fn under(&self, p: DVec2) -> (usize, usize, DVec2) {
        let at = (p - self.low) / self.field;
        let cell = at.floor().max(DVec2::ZERO);
        (cell.x as usize, cell.y as usize, at - cell)
    }

    /// A field's corners, counter-clockwise from its lower left one.
    fn corners(&self, i: usize, j: usize) -> [usize; 4] {
        let a = j * self.columns + i;
        [a, a + 1, a + self.columns + 1, a + self.columns]
    }

    /// The heights of the points over a facet.
    fn cover(&mut self, corners: [DVec2; 3], heights: [f64; 3]) {
        let [a, b, c] = corners.map(|p| (p - self.low) / self.field);
        let whole = (b - a).perp_dot(c - a);
        if whole.abs() < 1e-12 {
            return;
        }
        let (low, high) = (a.min(b).min(c).ceil(), a.max(b).max(c).floor());
        let rows = self.height.len() / self.columns;
        for j in low.y.max(0.0) as usize..=(high.y.max(-1.0) + 0.5) as usize {
            for i in low.x.max(0.0) as usize..=(high.x.max(-1.0) + 0.5) as usize {
                let p = DVec2::new(i as f64, j as f64) - a;
                let (s, t) = (p.perp_dot(c - a) / whole, (b - a).perp_dot(p) / whole);
                if s >= -1e-9 && t >= -1e-9 && s + t <= 1.0 + 1e-9 && i < self.columns && j < rows {
                    self.height[j * self.columns + i] =
                        heights[0] + (heights[1] - heights[0]) * s + (heights[2] - heights[0]) * t;
                }
            }
        }
    }

    /// Gives points beyond the rim the height that the face would have there, going on as it does beside them.
    fn go_on(&mut self, wanted: &[bool], rows: usize) -> Option<()> {
        for _ in 0..BEYOND {
            let open: Vec<usize> = (0..wanted.len()).filter(|&n| wanted[n] && self.height[n].is_nan()).collect();
            if open.is_empty() {
                return Some(());
            }
            let told: Vec<(usize, f64)> = open.into_iter().filter_map(|n| Some((n, self.beside(n, rows)?))).collect();
            told.into_iter().for_each(|(n, height)| self.height[n] = height);
        }
        (0..wanted.len()).all(|n| !wanted[n] || !self.height[n].is_nan()).then_some(())
    }

    fn beside(&self, n: usize, rows: usize) -> Option<f64> {
        let (i, j) = ((n % self.columns) as isize, (n / self.columns) as isize);
        let at = |i: isize, j: isize| {
            let on = (0..self.columns as isize).contains(&i) && (0..rows as isize).contains(&j);
            on.then(|| self.height[j as usize * self.columns + i as usize]).filter(|h| !h.is_nan())
        };
        let ways = [(1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (-1, -1), (1, -1), (-1, 1)];
        let told = ways.iter().filter_map(|&(x, y)| {
            let near = at(i + x, j + y)?;
            Some(at(i + 2 * x, j + 2 * y).map_or(near, |far| 2.0 * near - far))
        });
        let (sum, count) = told.fold((0.0, 0.0), |(sum, count), height| (sum + height, count + 1.0));
        (count > 0.0).then(|| sum / count)
    }
}

/// Do all facets hang together?
fn is_one(mesh: &Mesh) -> bool {
    let mut groups = Groups::new(mesh.triangles.len());
    for_each_edge(mesh, |edge| edge.iter().for_each(|half| groups.join(edge[0].triangle, half.triangle)));
    let first = groups.root(0);
    !mesh.triangles.is_empty() && (0..mesh.triangles.len() as u32).all(|t| groups.root(t) == first)
}
