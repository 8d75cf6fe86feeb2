//! Parting lines on the part: by a plane, by the silhouette under a pull, along edges; and whether
//! they close.

use crate::edges::Edges;
use glam::DVec3;
use solid::{Mesh, Part, cut, silhouette};
use std::collections::{HashMap, HashSet};
use trade::{Parting, Tool};

pub use solid::segment::Segment;

/// Ends nearer than this belong together, mm: a silhouette runs on true surfaces, each found for itself, between edges
/// that run on facets.
const JOINT: f64 = 0.1;

/// One of the tool's parting lines on the part.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Line {
    pub segments: Vec<Segment>,
    /// Separate loops that close on themselves.
    pub loops: usize,
    /// Ends that nothing joins, by themselves or together with the tool's other lines.
    pub open_ends: usize,
    /// mm.
    pub length: f64,
}

/// The tool's parting lines, in its order. A line that needs a pull that is not set is empty.
#[must_use]
pub fn lines(part: &Part, tool: &Tool) -> Vec<Line> {
    let pull = |direction: Option<[f64; 3]>| direction.map(DVec3::from).and_then(DVec3::try_normalize);
    let main = pull(tool.pull);
    let mut edges = None;
    let mut lines: Vec<Line> = tool
        .parting
        .iter()
        .map(|parting| {
            let segments = match parting {
                Parting::Plane { height } => main.map(|p| plane(&part.mesh, p, *height)).unwrap_or_default(),
                Parting::Silhouette { slide: None } => {
                    main.map(|p| silhouette::silhouette(part, p)).unwrap_or_default()
                }
                Parting::Silhouette { slide: Some(name) } => {
                    let slide = tool.slides.iter().find(|s| s.name == *name).map(|s| s.pull);
                    pull(slide).map(|p| silhouette::silhouette(part, p)).unwrap_or_default()
                }
                Parting::Edges { through } => {
                    let edges = edges.get_or_insert_with(|| Edges::of(part));
                    let mut runs = Vec::new();
                    for p in through {
                        // an edge that was picked twice counts once
                        if let Some(run) = edges.nearest(DVec3::from(*p))
                            && !runs.contains(&run)
                        {
                            runs.push(run);
                        }
                    }
                    runs.iter().flat_map(|run| run.windows(2).map(|w| [w[0], w[1]])).collect()
                }
            };
            let length = segments.iter().map(|[a, b]: &Segment| a.distance(*b)).sum();
            let (loops, _) = joined(&segments);
            Line { segments, loops, open_ends: 0, length }
        })
        .collect();
    let all: Vec<Segment> = lines.iter().flat_map(|l| l.segments.iter().copied()).collect();
    let (_, open) = joined(&all);
    for line in &mut lines {
        line.open_ends =
            open.iter().filter(|end| line.segments.iter().flatten().any(|p| p.distance(**end) < 1e-9)).count();
    }
    lines
}

/// How many closed loops segments make, and the places where one ends that none goes on.
fn joined(segments: &[Segment]) -> (usize, Vec<DVec3>) {
    let mut joints = Joints::of(SAME);
    let ends: Vec<[usize; 2]> = segments.iter().map(|s| s.map(|p| joints.at(p))).collect();
    let count = joints.places.len();
    let mut meeting = vec![0; count];
    // where its only segment comes from
    let mut from = vec![usize::MAX; count];
    let mut groups = solid::topology::Groups::new(count);
    for &[a, b] in ends.iter().filter(|[a, b]| a != b) {
        meeting[a] += 1;
        meeting[b] += 1;
        (from[a], from[b]) = (b, a);
        groups.join(a as u32, b as u32);
    }
    // an end that meets nothing exactly goes on where another line comes near it
    let mut near = Joints::of(JOINT);
    let there: Vec<usize> = (0..count).filter(|&at| meeting[at] > 0).collect();
    for &at in &there {
        near.keep(joints.places[at], at);
    }
    let mut open = Vec::new();
    for &at in there.iter().filter(|&&at| meeting[at] == 1) {
        let p = joints.places[at];
        let other = near.round(p).find(|&o| o != at && o != from[at] && joints.places[o].distance(p) < JOINT);
        match other {
            Some(other) => groups.join(at as u32, other as u32),
            None => open.push(at),
        }
    }
    // a group is closed where none of its ends is open
    let mut closed: HashMap<u32, bool> = HashMap::new();
    for &at in &there {
        *closed.entry(groups.root(at as u32)).or_insert(true) &= !open.contains(&at);
    }
    (closed.values().filter(|c| **c).count(), open.into_iter().map(|at| joints.places[at]).collect())
}

/// Points that differ by rounding alone are one, mm.
const SAME: f64 = 1e-6;
/// The rounding of single precision, as a share of a coordinate, and of a direction that is not along an axis.
const SINGLE: f64 = 2e-7;

/// Places in cells of space.
struct Joints {
    cell: f64,
    places: Vec<DVec3>,
    cells: HashMap<[i64; 3], Vec<usize>>,
}

impl Joints {
    fn of(cell: f64) -> Self {
        Self { cell, places: Vec::new(), cells: HashMap::new() }
    }

    fn cell_of(&self, p: DVec3) -> [i64; 3] {
        (p / self.cell).floor().to_array().map(|c| c as i64)
    }

    /// What is kept in the cells round a place.
    fn round(&self, p: DVec3) -> impl Iterator<Item = usize> + '_ {
        let [x, y, z] = self.cell_of(p);
        let by = || -1..=1;
        by().flat_map(move |i| by().flat_map(move |j| by().map(move |k| [x + i, y + j, z + k])))
            .filter_map(|cell| self.cells.get(&cell))
            .flatten()
            .copied()
    }

    fn keep(&mut self, p: DVec3, at: usize) {
        let cell = self.cell_of(p);
        self.cells.entry(cell).or_default().push(at);
    }

    /// The number of a place; of those nearer than a cell the nearest.
    fn at(&mut self, p: DVec3) -> usize {
        let away = |at: usize| self.places[at].distance(p);
        let found = self.round(p).filter(|&at| away(at) < self.cell).min_by(|&a, &b| away(a).total_cmp(&away(b)));
        found.unwrap_or_else(|| {
            self.places.push(p);
            self.keep(p, self.places.len() - 1);
            self.places.len() - 1
        })
    }
}

/// Where a plane passes through the part. Faces that lie in it give their own outline, from whichever side they are
/// looked at.
fn plane(mesh: &Mesh, pull: DVec3, height: f64) -> Vec<Segment> {
    // coordinates of single precision are off by more the larger they are
    let largest = mesh.vertices.iter().fold(0.0, |most: f64, p| most.max(p.abs().max_element()));
    let same = SAME.max(SINGLE * largest);
    let flush = |v: u32| (mesh.vertices[v as usize].dot(pull) - height).abs() < 2.0 * same;
    if !mesh.triangles.iter().any(|t| t.iter().all(|&v| flush(v))) {
        return cut::section(mesh, pull, height);
    }
    // just below and just above; what runs through both counts once
    let mut joints = Joints::of(16.0 * same);
    let mut seen = HashSet::new();
    let both = [-4.0, 4.0].into_iter().flat_map(|by| cut::section(mesh, pull, height + by * same));
    both.map(|segment| segment.map(|p| p + pull * (height - p.dot(pull))))
        .filter(|segment| {
            let [a, b] = segment.map(|p| joints.at(p));
            a != b && seen.insert([a.min(b), a.max(b)])
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec2;
    use std::f64::consts::PI;
    use trade::Slide;

    fn valve() -> Part {
        Part::from_mesh(&demo::parts::valve_body()).unwrap()
    }

    fn tool(parting: Vec<Parting>) -> Tool {
        Tool { pull: Some([0.0, 0.0, 1.0]), parting, ..Tool::default() }
    }

    #[test]
    fn a_plane_through_a_hollow_part_gives_closed_loops() {
        let lines = lines(&valve(), &tool(vec![Parting::Plane { height: 0.0 }]));
        // cylinder, flange and both of its holes in one plane: two strips of the pipe's wall, one with
        // the side flange and its two holes
        assert_eq!((lines[0].loops, lines[0].open_ends), (4, 0), "{:?}", lines[0].length);
    }

    /// 127.3 in single precision is off by 3e-6: the plane still lies on the face.
    #[test]
    fn a_plane_on_a_face_runs_round_it_whatever_the_file_rounded() {
        for top in [12.7_f32, 127.3, 1016.7] {
            let block = demo::shapes::block(DVec3::ZERO, DVec3::new(60.0, 40.0, f64::from(top)));
            let part = Part::from_mesh(&block).unwrap();
            let height = (f64::from(top) * 1e3).round() / 1e3;
            let lines = lines(&part, &tool(vec![Parting::Plane { height }]));
            assert!((lines[0].length - 200.0).abs() < 1e-3, "{top}: {}", lines[0].length);
            assert_eq!((lines[0].loops, lines[0].open_ends), (1, 0), "{top}");
            // a plane that misses the part runs nowhere
            let past = super::lines(&part, &tool(vec![Parting::Plane { height: height + 0.01 }]));
            assert!(past[0].segments.is_empty());
        }
    }

    #[test]
    fn a_slides_silhouette_is_seen_along_its_own_pull() {
        let part = Part::from_mesh(&demo::shapes::cylinder(DVec3::ZERO, DVec3::Z * 30.0, 10.0)).unwrap();
        let slides = vec![Slide { name: "side core".into(), pull: [1.0, 0.0, 0.0] }];
        let tool = Tool { slides, ..tool(vec![Parting::Silhouette { slide: Some("side core".into()) }]) };
        let lines = lines(&part, &tool);
        let along: Vec<&Segment> = lines[0].segments.iter().filter(|[a, b]| (a.z - b.z).abs() > 1.0).collect();
        assert!(!along.is_empty());
        for [a, b] in along {
            assert!(a.x.abs() < 1e-6 && b.x.abs() < 1e-6 && (a.y.abs() - 10.0).abs() < 1e-6);
        }
    }

    /// Looked at from the side, two rulings and half the edge of the base.
    #[test]
    fn the_silhouette_of_a_cone_runs_over_its_tip() {
        let (radius, height) = (10.0_f64, 14.0);
        let ogive = demo::shapes::arc(DVec2::new(-30.0, 0.0), 40.0, 0.0, 41.409_622_109_270_856);
        let cone = vec![DVec2::ZERO, DVec2::new(radius, 0.0), DVec2::new(0.0, height)];
        // a dish: its tip lies in the hollow
        let dish = vec![DVec2::new(0.0, 3.0), DVec2::new(12.0, 6.0), DVec2::new(12.0, 0.0), DVec2::new(0.0, -4.0)];
        let turned = [cone, std::iter::once(DVec2::ZERO).chain(ogive).collect(), dish.into_iter().rev().collect()];
        for (at, profile) in turned.iter().enumerate() {
            let part = Part::from_mesh(&demo::shapes::turned(profile)).unwrap();
            for pull in [DVec3::X, DVec3::NEG_Y, DVec3::new(0.6, 0.8, 0.0), DVec3::new(3.0, 1.0, 0.7).normalize()] {
                let tool = Tool { pull: Some(pull.to_array()), ..tool(vec![Parting::Silhouette { slide: None }]) };
                let line = &lines(&part, &tool)[0];
                assert_eq!(line.open_ends, 0, "{at} {pull} {}", line.length);
                if at == 0 && pull.z == 0.0 {
                    let wanted = 2.0 * radius.hypot(height) + PI * radius;
                    assert!((line.length - wanted).abs() < 0.02, "{pull}: {} for {wanted}", line.length);
                }
            }
        }
    }

    #[test]
    fn picked_edges_close_when_the_last_is_picked() {
        let block = Part::from_mesh(&demo::shapes::block(DVec3::ZERO, DVec3::new(60.0, 30.0, 12.0))).unwrap();
        let sides = [[30.0, 0.0, 12.0], [60.0, 15.0, 12.0], [30.0, 30.0, 12.0], [0.0, 15.0, 12.0]];
        let three = lines(&block, &tool(vec![Parting::Edges { through: sides[..3].to_vec() }]));
        assert_eq!((three[0].loops, three[0].open_ends, three[0].length), (0, 2, 150.0));
        let four = lines(&block, &tool(vec![Parting::Edges { through: sides.to_vec() }]));
        assert_eq!((four[0].loops, four[0].open_ends, four[0].length), (1, 0, 180.0));
        // two lines of different kinds that go on where the other ends leave nothing open
        let mixed =
            tool(vec![Parting::Edges { through: sides[..3].to_vec() }, Parting::Edges { through: vec![sides[3]] }]);
        let mixed = lines(&block, &mixed);
        assert!(mixed.iter().all(|l| l.open_ends == 0));
    }
}
