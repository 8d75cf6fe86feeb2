//! The edge of a section in pieces: each of one origin and smooth, with the line or the circle that it is. A piece ends
//! where its origin changes and where it turns by more than a corner.

use crate::{fit, mesh::Mesh};
use glam::{DVec2, DVec3};
use std::collections::{BTreeMap, HashMap, HashSet};

/// A turn of more than this is a corner, degrees: between facets of twelve a turn it is 30.
const CORNER_DEG: f64 = 32.0;
/// Points that lie nearer to one another than this are one, mm.
const SAME: f64 = 1e-9;
/// Ends of pieces of different meshes that lie nearer to one another than this meet, mm.
const MEETS: f64 = 1e-5;
/// What lies no farther from its chord than this is straight, mm: outlines are flattened no finer.
const STRAIGHT: f64 = 0.002;
/// A circle of a greater radius is no circle that anybody asks for, mm.
const LARGEST_RADIUS: f64 = 1e5;

/// A smooth piece of the edge of a section, material to the left seen against the plane's normal.
#[derive(Clone, Debug, PartialEq)]
pub struct CutEdge<T> {
    pub of: T,
    /// mm; of a closed one the first is not said again.
    pub points: Vec<DVec3>,
    pub closed: bool,
    /// Outward unit normal of the facet cut through between each point and the next.
    pub normals: Vec<DVec3>,
}

/// What a piece of an edge is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Shape {
    /// Along the unit `direction`.
    Straight { direction: DVec3 },
    /// The circle nearest to its points.
    Arc(Circle),
    /// It has no circle near it.
    Curve,
}

/// A circle in a plane.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Circle {
    pub centre: DVec3,
    /// mm.
    pub radius: f64,
    /// How far the farthest of the points lies from it, mm.
    pub miss: f64,
    /// How much of a turn the points span, degrees.
    pub spans: f64,
}

/// The edge of the section of `mesh` with the plane `normal · p = height` (`normal` a unit vector). What facets `of` gives
/// nothing for is left out.
#[must_use]
pub fn edges<T: Copy + PartialEq>(
    mesh: &Mesh,
    of: impl Fn(usize) -> Option<T>,
    normal: DVec3,
    height: f64,
) -> Vec<CutEdge<T>> {
    let mut edges = Vec::new();
    for chain in chains(mesh, normal, height) {
        parted(&chain, mesh, &of, &mut edges);
    }
    edges
}

/// Points where facets are cut, and the facet between each and the next.
struct Chain {
    points: Vec<DVec3>,
    facets: Vec<usize>,
    closed: bool,
}

fn chains(mesh: &Mesh, normal: DVec3, height: f64) -> Vec<Chain> {
    let off: Vec<f64> = mesh.vertices.iter().map(|v| v.dot(normal) - height).collect();
    let mut next: BTreeMap<(u32, u32), ((u32, u32), usize)> = BTreeMap::new();
    for (facet, t) in mesh.triangles.iter().enumerate() {
        let (mut from, mut to) = (None, None);
        for k in 0..3 {
            let (a, b) = (t[k], t[(k + 1) % 3]);
            match (off[a as usize] >= 0.0, off[b as usize] >= 0.0) {
                (false, true) => from = Some((a.min(b), a.max(b))),
                (true, false) => to = Some((a.min(b), a.max(b))),
                _ => {}
            }
        }
        if let (Some(from), Some(to)) = (from, to) {
            next.insert(from, (to, facet));
        }
    }
    let point = |(a, b): (u32, u32)| {
        let (da, db) = (off[a as usize], off[b as usize]);
        mesh.vertices[a as usize].lerp(mesh.vertices[b as usize], da / (da - db))
    };
    // where the mesh is open a chain begins at what nothing leads to
    let led_to: HashSet<(u32, u32)> = next.values().map(|(to, _)| *to).collect();
    let mut starts: Vec<(u32, u32)> = next.keys().filter(|key| !led_to.contains(key)).copied().collect();
    starts.reverse();
    let mut chains = Vec::new();
    while let Some(start) = starts.pop().or_else(|| next.keys().next().copied()) {
        let (mut points, mut facets, mut at) = (vec![point(start)], Vec::new(), start);
        while let Some((to, facet)) = next.remove(&at) {
            facets.push(facet);
            points.push(point(to));
            at = to;
        }
        let closed = at == start && !facets.is_empty();
        if closed {
            points.pop();
        }
        chains.push(Chain { points, facets, closed });
    }
    chains
}

/// A chain in pieces.
fn parted<T: Copy + PartialEq>(
    chain: &Chain,
    mesh: &Mesh,
    of: &impl Fn(usize) -> Option<T>,
    edges: &mut Vec<CutEdge<T>>,
) {
    let count = chain.points.len();
    let segment = |k: usize| (chain.points[k], chain.points[(k + 1) % count]);
    // what has no length is no segment
    let long: Vec<usize> = (0..chain.facets.len()).filter(|&k| segment(k).0.distance(segment(k).1) > SAME).collect();
    let origin = |k: usize| of(chain.facets[k]);
    let way = |k: usize| (segment(k).1 - segment(k).0).normalize();
    let smooth = |a: usize, b: usize| origin(a) == origin(b) && way(a).dot(way(b)) >= CORNER_DEG.to_radians().cos();
    let Some(&last) = long.last() else { return };
    // a ring is begun at one of its ends, if it has one
    let begins = (0..long.len())
        .find(|&k| !smooth(if k == 0 { last } else { long[k - 1] }, long[k]))
        .filter(|_| chain.closed)
        .unwrap_or(0);
    let whole = chain.closed && (0..long.len()).all(|k| smooth(if k == 0 { last } else { long[k - 1] }, long[k]));
    let turned: Vec<usize> = long[begins..].iter().chain(&long[..begins]).copied().collect();
    let mut pieces: Vec<Vec<usize>> = Vec::new();
    for k in turned {
        match pieces.last_mut() {
            Some(piece) if piece.last().is_some_and(|&before| smooth(before, k)) => piece.push(k),
            _ => pieces.push(vec![k]),
        }
    }
    for piece in pieces {
        let Some(of) = origin(piece[0]) else { continue };
        let mut points: Vec<DVec3> = piece.iter().map(|&k| segment(k).0).collect();
        if !whole {
            points.push(segment(*piece.last().expect("no piece is empty")).1);
        }
        let normals = piece.iter().map(|&k| mesh.normal(chain.facets[k])).collect();
        edges.push(CutEdge { of, points, closed: whole, normals });
    }
}

/// Pieces of one origin that go on smoothly in another mesh, put together.
#[must_use]
pub fn joined<T: Copy + PartialEq>(edges: Vec<CutEdge<T>>) -> Vec<CutEdge<T>> {
    let place = |p: DVec3| (p / (4.0 * MEETS)).round().to_array().map(|c| c as i64);
    let mut starts: HashMap<[i64; 3], Vec<usize>> = HashMap::new();
    for (k, edge) in edges.iter().enumerate().filter(|(_, e)| !e.closed) {
        starts.entry(place(edge.points[0])).or_default().push(k);
    }
    let follows = |a: &CutEdge<T>, b: &CutEdge<T>| {
        let ([.., before, end], [start, after, ..]) = (&a.points[..], &b.points[..]) else { return false };
        let ways = (*end - *before).normalize_or_zero().dot((*after - *start).normalize_or_zero());
        a.of == b.of && end.distance(*start) < MEETS && ways >= CORNER_DEG.to_radians().cos()
    };
    // the next of each piece, if any
    let next: Vec<Option<usize>> = edges
        .iter()
        .enumerate()
        .map(|(k, edge)| {
            let end = *edge.points.last()?;
            let near = (-1..=1).flat_map(|x| (-1..=1).flat_map(move |y| (-1..=1).map(move |z| [x, y, z])));
            let mut known = near.filter_map(|by| {
                let at = place(end);
                starts.get(&[at[0] + by[0], at[1] + by[1], at[2] + by[2]])
            });
            (!edge.closed)
                .then(|| known.find_map(|all| all.iter().copied().find(|&b| b != k && follows(edge, &edges[b]))))?
        })
        .collect();
    let led_to: HashSet<usize> = next.iter().flatten().copied().collect();
    let mut left: Vec<Option<CutEdge<T>>> = edges.into_iter().map(Some).collect();
    let mut out = Vec::new();
    let begins = (0..left.len()).filter(|k| !led_to.contains(k));
    for first in begins.chain((0..left.len()).filter(|k| led_to.contains(k))) {
        let Some(mut edge) = left[first].take() else { continue };
        let mut at = first;
        while let Some(more) = next[at].and_then(|k| left[k].take().inspect(|_| at = k)) {
            edge.points.extend(&more.points[1..]);
            edge.normals.extend(more.normals);
        }
        // round it, back where it began
        if next[at] == Some(first) && edge.points.len() > 3 {
            edge.points.pop();
            edge.closed = true;
        }
        out.push(edge);
    }
    out
}

impl<T> CutEdge<T> {
    /// mm.
    #[must_use]
    pub fn length(&self) -> f64 {
        let around = self.closed.then(|| self.points[0].distance(self.points[self.points.len() - 1]));
        self.points.windows(2).map(|p| p[0].distance(p[1])).sum::<f64>() + around.unwrap_or(0.0)
    }

    /// The line or the circle that it is, in the plane with this unit normal.
    #[must_use]
    pub fn shape(&self, normal: DVec3) -> Shape {
        let (first, last) = (self.points[0], self.points[self.points.len() - 1]);
        let direction = (last - first).normalize_or_zero();
        let off = |p: &DVec3| (*p - first).reject_from_normalized(direction).length();
        if !self.closed && direction != DVec3::ZERO && self.points.iter().all(|p| off(p) <= STRAIGHT) {
            return Shape::Straight { direction };
        }
        circle(&self.points, normal).map_or(Shape::Curve, Shape::Arc)
    }
}

/// The circle in the plane with this unit normal, through the first of them, that is nearest to points in it: Kåsa's linear
/// fit (1976), then Gauss and Newton's iteration on the distances themselves. `None` for fewer than three points, or
/// points on a line.
#[must_use]
pub fn circle(points: &[DVec3], normal: DVec3) -> Option<Circle> {
    let origin = *points.first()?;
    let (x, y) = normal.any_orthonormal_pair();
    let flat: Vec<DVec2> = points.iter().map(|&p| DVec2::new((p - origin).dot(x), (p - origin).dot(y))).collect();
    let (mut centre, mut radius) = fit::circle(&flat)?;
    let farthest = |c: DVec2, r: f64| flat.iter().map(|p| (p.distance(c) - r).abs()).fold(0.0, f64::max);
    let squares = |c: DVec2, r: f64| flat.iter().map(|p| (p.distance(c) - r).powi(2)).sum::<f64>();
    for _ in 0..20 {
        let (mut sums, mut right) = ([[0.0; 3]; 3], [0.0; 3]);
        for p in &flat {
            let out = (*p - centre).normalize_or_zero();
            let row = [out.x, out.y, 1.0];
            let miss = p.distance(centre) - radius;
            for i in 0..3 {
                right[i] += row[i] * miss;
                for j in 0..3 {
                    sums[i][j] += row[i] * row[j];
                }
            }
        }
        let Some(step) = fit::solve(sums, right) else { break };
        let (next, wide) = (centre + DVec2::new(step[0], step[1]), radius + step[2]);
        if !squares(next, wide).is_finite() || squares(next, wide) >= squares(centre, radius) {
            break;
        }
        (centre, radius) = (next, wide);
    }
    let miss = farthest(centre, radius);
    (radius > 0.0 && radius < LARGEST_RADIUS).then(|| Circle {
        centre: origin + x * centre.x + y * centre.y,
        radius,
        miss,
        spans: spans(&flat, centre),
    })
}

/// How the middles of two circles lie.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Middles {
    /// No farther apart than the circles' misses leave open.
    Concentric {
        apart: f64,
        within: f64,
    },
    Apart {
        apart: f64,
        within: f64,
    },
    /// Arcs so short that their misses leave open where their middles are by more than anybody would call concentric.
    TooShort {
        apart: f64,
        within: f64,
    },
}

impl Circle {
    /// How far its middle may be off, mm. Points of an arc of half-angle h that miss by e move its sagitta r (1 − cos h) by up
    /// to 2 e, and with it the middle along the arc's own middle by 2 e cos h / (1 − cos h); a half circle and more holds it
    /// by the miss itself.
    #[must_use]
    pub fn middle_within(&self) -> f64 {
        /// No figure is better than this, mm.
        const LEAST: f64 = 1e-6;
        let cos = (self.spans / 2.0).clamp(0.0, 180.0).to_radians().cos();
        self.miss.max(LEAST) * (2.0 * cos / (1.0 - cos).max(1e-12)).max(1.0)
    }

    /// How its middle lies to that of another, mm.
    #[must_use]
    pub fn middles(&self, other: &Self) -> Middles {
        /// More than this is no middle that can be trusted, mm.
        const OPEN: f64 = 0.05;
        let apart = self.centre.distance(other.centre);
        let within = self.middle_within() + other.middle_within();
        match apart {
            _ if apart > within => Middles::Apart { apart, within },
            _ if within > OPEN => Middles::TooShort { apart, within },
            _ => Middles::Concentric { apart, within },
        }
    }
}

/// How much of a turn points lie on, seen from a place: all but the widest gap, degrees.
fn spans(points: &[DVec2], from: DVec2) -> f64 {
    let mut angles: Vec<f64> = points.iter().map(|p| (*p - from).to_angle()).collect();
    angles.sort_by(f64::total_cmp);
    let around = angles.first().zip(angles.last()).map_or(0.0, |(a, b)| a + std::f64::consts::TAU - b);
    let widest = angles.windows(2).map(|w| w[1] - w[0]).fold(around, f64::max);
    (std::f64::consts::TAU - widest).to_degrees()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::boolean::Body;

    /// A cylinder of radius 5 about z, of `turns` facets, from z 0 to 8; facets 0 round it, 1 below and 2 above.
    fn cylinder(turns: usize) -> (Mesh, Vec<u32>) {
        let at = |k: usize, z: f64| {
            let a = std::f64::consts::TAU * k as f64 / turns as f64;
            DVec3::new(5.0 * a.cos(), 5.0 * a.sin(), z)
        };
        let mut mesh = Mesh::default();
        mesh.vertices.extend((0..turns).map(|k| at(k, 0.0)).chain((0..turns).map(|k| at(k, 8.0))));
        mesh.vertices.extend([DVec3::ZERO, DVec3::new(0.0, 0.0, 8.0)]);
        let (n, mut of) = (turns as u32, Vec::new());
        for k in 0..n {
            let (a, b) = (k, (k + 1) % n);
            mesh.triangles.extend([[a, b, n + b], [a, n + b, n + a], [2 * n, b, a], [2 * n + 1, n + a, n + b]]);
            of.extend([0, 0, 1, 2]);
        }
        (mesh, of)
    }

    #[test]
    fn a_cut_square_to_a_cylinder_is_its_circle_and_one_along_it_two_lines() {
        let (mesh, of) = cylinder(48);
        let round = edges(&mesh, |t| Some(of[t]), DVec3::Z, 3.0);
        assert_eq!(round.len(), 1);
        assert!(round[0].closed && round[0].of == 0);
        let Shape::Arc(circle) = round[0].shape(DVec3::Z) else { panic!("{round:?}") };
        // chords between the rulings lie on it with their ends, and where the plane meets their diagonals inside by no more
        // than a chord's sag, 5 (1 − cos(π / 48)) = 0.0107
        assert!((circle.radius - 5.0).abs() < 0.0107 && circle.miss < 0.0107, "{circle:?}");
        assert!(circle.centre.distance(DVec3::new(0.0, 0.0, 3.0)) < 1e-9 && circle.spans > 350.0);
        let along = edges(&mesh, |t| Some(of[t]), DVec3::X, 3.0);
        let mut found: Vec<(u32, f64)> = along.iter().map(|e| (e.of, e.length())).collect();
        found.sort_by_key(|(of, _)| *of);
        assert_eq!(found.iter().map(|(of, _)| *of).collect::<Vec<_>>(), [0, 0, 1, 2]);
        // a chord 3 mm off the middle is 8 mm long
        assert!(found[..2].iter().all(|(_, l)| (l - 8.0).abs() < 1e-9), "{found:?}");
        assert!(found[2..].iter().all(|(_, l)| (l - 8.0).abs() < 0.02), "{found:?}");
        let wall = along.iter().find(|e| e.of == 0).unwrap();
        assert!(matches!(wall.shape(DVec3::X), Shape::Straight { direction } if direction.z.abs() > 1.0 - 1e-9));
        // its facets look out
        assert!(wall.normals.iter().all(|n| n.z.abs() < 1e-9 && n.y * wall.points[0].y > 0.0));
    }

    #[test]
    fn pieces_that_were_cut_apart_are_put_together_again() {
        let (mesh, of) = cylinder(60);
        let body = Body::labelled(&mesh, "cylinder", &of).unwrap();
        let (inside, rest) = body.cut_by(&Body::block(DVec3::new(0.0, -6.0, -1.0), DVec3::new(6.0, 6.0, 9.0)));
        let pieces = [inside, rest].map(|piece| piece.traced());
        let all: Vec<CutEdge<u32>> = pieces
            .iter()
            .flat_map(|p| {
                let of = |t: usize| (p.origins[t].body == body.id()).then_some(p.origins[t].label);
                edges(&p.mesh, of, DVec3::Z, 3.3)
            })
            .collect();
        assert_eq!(all.len(), 2);
        let whole = joined(all);
        assert_eq!(whole.len(), 1);
        assert!(
            whole[0].closed && (whole[0].length() - 120.0 * 5.0 * (std::f64::consts::PI / 60.0).sin()).abs() < 1e-6
        );
    }

    #[test]
    fn a_circle_through_three_points_is_the_circumcircle_and_points_on_a_line_have_none() {
        // the right triangle 6, 8, 10: its circumcircle has the hypotenuse for diameter
        let at = DVec3::new(1.0, 2.0, 3.0);
        let found = circle(&[at, at + 6.0 * DVec3::X, at + 8.0 * DVec3::Y], DVec3::Z).unwrap();
        assert!((found.radius - 5.0).abs() < 1e-9 && found.miss < 1e-9);
        assert!(found.centre.distance(at + DVec3::new(3.0, 4.0, 0.0)) < 1e-9);
        assert_eq!(circle(&[at, at + DVec3::X, at + 3.0 * DVec3::X], DVec3::Z), None);
    }

    #[test]
    fn circles_about_one_middle_are_concentric_and_short_arcs_are_told_to_be_too_short() {
        let arc = |radius: f64, middle: DVec3, degrees: u32, noise: f64| {
            let at = |k: u32| {
                let a = (f64::from(k) - f64::from(degrees) / 2.0).to_radians();
                // every other point a little off
                let r = radius + if k.is_multiple_of(2) { noise } else { -noise };
                middle + r * (DVec3::X * a.cos() + DVec3::Y * a.sin())
            };
            circle(&(0..=degrees).map(at).collect::<Vec<_>>(), DVec3::Z).unwrap()
        };
        let skin = arc(15.0, DVec3::ZERO, 120, 0.001);
        assert!((skin.radius - 15.0).abs() < 0.002 && (skin.spans - 120.0).abs() < 0.1, "{skin:?}");
        assert!(matches!(skin.middles(&arc(14.7, DVec3::ZERO, 90, 0.001)), Middles::Concentric { .. }));
        // floor cut flat instead of along the skin: its middle elsewhere
        let off = arc(14.7, DVec3::new(0.2, 0.0, 0.0), 90, 0.001);
        assert!(matches!(skin.middles(&off), Middles::Apart { apart, .. } if (apart - 0.2).abs() < 0.01));
        assert!(matches!(skin.middles(&arc(14.7, DVec3::ZERO, 6, 0.001)), Middles::TooShort { .. }));
    }

    #[test]
    fn an_open_mesh_gives_open_edges() {
        let (mut mesh, of) = cylinder(48);
        mesh.triangles.truncate(48);
        let open = edges(&mesh, |t| Some(of[t]), DVec3::Z, 3.0);
        assert_eq!(open.len(), 1);
        assert!(!open[0].closed && open[0].points.len() > 12);
    }
}
