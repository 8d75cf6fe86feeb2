//! Very many facets laid flat by a coarse grid over them.

use crate::flatten::as_rigid_as_possible;
use glam::{DVec2, DVec3};
use solid::{
    Mesh,
    topology::{Groups, for_each_edge},
};

/// More facets than that are laid so.
pub(super) const VERY_MANY: usize = 60_000;
/// Fields of the grid over the box round the face, seen square-on.
const FIELDS: f64 = 20_000.0;
/// Beyond the rim the grid goes on evenly over so many fields.
const BEYOND: usize = 6;

/// The vertices laid flat by a grid of points on the facets, even where their vertices are `seen`: the grid is laid as rigidly
/// as possible, and each vertex goes with its field. `None` where they are in pieces, seen so.
pub(super) fn laid(mesh: &Mesh, seen: &[DVec2]) -> Option<Vec<DVec2>> {
    let (low, high) =
        seen.iter().fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), p| (low.min(*p), high.max(*p)));
    let size = high - low;
    let field = (size.x * size.y / FIELDS).sqrt();
    if !(field > 0.0 && field.is_finite()) {
        return None;
    }
    let columns = (size.x / field).ceil() as usize + 2;
    let rows = (size.y / field).ceil() as usize + 2;
    let mut grid = Grid { low: low - 0.5 * field, field, columns, points: vec![DVec3::NAN; columns * rows] };
    for (t, triangle) in mesh.triangles.iter().enumerate() {
        grid.cover(triangle.map(|v| seen[v as usize]), mesh.corners(t));
    }
    // fields that are covered somewhere, each with all its corners
    let mut wanted = vec![false; grid.points.len()];
    let nodes = (0..grid.points.len()).filter(|&n| !grid.points[n].is_nan()).map(|n| (n % columns, n / columns));
    let covered: Vec<(usize, usize)> = nodes.collect();
    for (i, j) in covered {
        for (i, j) in [(i, j), (i.wrapping_sub(1), j), (i, j.wrapping_sub(1)), (i.wrapping_sub(1), j.wrapping_sub(1))] {
            if i + 1 < columns && j + 1 < rows {
                grid.corners(i, j).into_iter().for_each(|n| wanted[n] = true);
            }
        }
    }
    for p in seen {
        let (i, j, _) = grid.under(*p);
        grid.corners(i, j).into_iter().for_each(|n| wanted[n] = true);
    }
    grid.go_on(&wanted, rows)?;
    let mut number = vec![u32::MAX; wanted.len()];
    let mut coarse = Mesh::default();
    let mut begin = Vec::new();
    for n in (0..wanted.len()).filter(|&n| wanted[n]) {
        number[n] = begin.len() as u32;
        coarse.vertices.push(grid.points[n]);
        begin.push(grid.low + DVec2::new((n % columns) as f64, (n / columns) as f64) * field);
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

/// Points of a face, even as it is seen; none where nothing is seen.
struct Grid {
    low: DVec2,
    field: f64,
    columns: usize,
    points: Vec<DVec3>,
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

    /// The points on a facet.
    fn cover(&mut self, seen: [DVec2; 3], corners: [DVec3; 3]) {
        let [a, b, c] = seen.map(|p| (p - self.low) / self.field);
        let whole = (b - a).perp_dot(c - a);
        if whole.abs() < 1e-12 {
            return;
        }
        let (low, high) = (a.min(b).min(c).ceil(), a.max(b).max(c).floor());
        let rows = self.points.len() / self.columns;
        for j in low.y.max(0.0) as usize..=(high.y.max(-1.0) + 0.5) as usize {
            for i in low.x.max(0.0) as usize..=(high.x.max(-1.0) + 0.5) as usize {
                let p = DVec2::new(i as f64, j as f64) - a;
                let (s, t) = (p.perp_dot(c - a) / whole, (b - a).perp_dot(p) / whole);
                if s >= -1e-9 && t >= -1e-9 && s + t <= 1.0 + 1e-9 && i < self.columns && j < rows {
                    let [a, b, c] = corners;
                    self.points[j * self.columns + i] = a + (b - a) * s + (c - a) * t;
                }
            }
        }
    }

    /// Gives the grid points beyond the rim where the face would have them, going on as it does beside them.
    fn go_on(&mut self, wanted: &[bool], rows: usize) -> Option<()> {
        for _ in 0..BEYOND {
            let open: Vec<usize> = (0..wanted.len()).filter(|&n| wanted[n] && self.points[n].is_nan()).collect();
            if open.is_empty() {
                return Some(());
            }
            let told: Vec<(usize, DVec3)> = open.into_iter().filter_map(|n| Some((n, self.beside(n, rows)?))).collect();
            told.into_iter().for_each(|(n, point)| self.points[n] = point);
        }
        (0..wanted.len()).all(|n| !wanted[n] || !self.points[n].is_nan()).then_some(())
    }

    fn beside(&self, n: usize, rows: usize) -> Option<DVec3> {
        let (i, j) = ((n % self.columns) as isize, (n / self.columns) as isize);
        let at = |i: isize, j: isize| {
            let on = (0..self.columns as isize).contains(&i) && (0..rows as isize).contains(&j);
            on.then(|| self.points[j as usize * self.columns + i as usize]).filter(|p| !p.is_nan())
        };
        let ways = [(1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (-1, -1), (1, -1), (-1, 1)];
        // straight on, or over a field
        let straight = |(x, y): (isize, isize)| Some(2.0 * at(i + x, j + y)? - at(i + 2 * x, j + 2 * y)?);
        let over = |(x, y): (isize, isize)| Some(at(i + x, j)? + at(i, j + y)? - at(i + x, j + y)?);
        let told = ways.iter().filter_map(|way| straight(*way)).chain(ways[4..].iter().filter_map(|way| over(*way)));
        let (sum, count) = told.fold((DVec3::ZERO, 0.0), |(sum, count), point| (sum + point, count + 1.0));
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

#[cfg(test)]
mod tests {
    use super::*;

    /// Part of a cylinder, which unrolls without stretch, seen along z.
    #[test]
    fn a_grid_over_a_cylinder_unrolls_it() {
        const ACROSS: u32 = 260;
        let radius = 14.0_f64;
        let at = |i: u32, j: u32| {
            let (x, y) =
                (-10.0 + 20.0 * f64::from(i) / f64::from(ACROSS), -8.0 + 16.0 * f64::from(j) / f64::from(ACROSS));
            DVec3::new(x, y, (radius * radius - x * x).sqrt())
        };
        let number = |i: u32, j: u32| j * (ACROSS + 1) + i;
        let vertices: Vec<DVec3> = (0..=ACROSS).flat_map(|j| (0..=ACROSS).map(move |i| at(i, j))).collect();
        // a corner is missing: the rim runs across the grid there
        let fields = (0..ACROSS).flat_map(|j| (0..ACROSS).map(move |i| (i, j))).filter(|(i, j)| i + j > ACROSS / 3);
        let corners = |(i, j)| [number(i, j), number(i + 1, j), number(i + 1, j + 1), number(i, j + 1)];
        let triangles: Vec<[u32; 3]> = fields.map(corners).flat_map(|[a, b, c, d]| [[a, b, c], [a, c, d]]).collect();
        let all: Vec<u32> = (0..triangles.len() as u32).collect();
        let (mesh, _) = Mesh { vertices, triangles }.piece(&all);
        assert!(mesh.triangles.len() > VERY_MANY);
        let seen: Vec<DVec2> = mesh.vertices.iter().map(|p| p.truncate()).collect();
        let flat = laid(&mesh, &seen).unwrap();
        for (k, l) in [(0, 1000), (50, 30_000), (7, 60_000), (20_000, 63_000), (12_345, 54_321)] {
            let way = |v: usize| DVec2::new(radius * (mesh.vertices[v].x / radius).asin(), mesh.vertices[v].y);
            let (wanted, found) = (way(k).distance(way(l)), flat[k].distance(flat[l]));
            assert!((found - wanted).abs() < 1e-3 * wanted + 1e-3, "{k} {l}: {found} for {wanted}");
        }
    }
}
