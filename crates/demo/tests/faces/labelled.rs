//! Parts whose facets know which face they were made for, and what stands in for the files that parts come in.

use demo::Dice;
use glam::{DMat3, DQuat, DVec2, DVec3};
use solid::{Mesh, Surface, boolean::Body};
use std::{collections::HashMap, sync::Arc};

/// What a face was made as.
#[derive(Clone, Debug)]
pub enum Truth {
    On(Surface),
    /// Turned round this axis with a profile that is no line and no circle.
    Revolution {
        origin: DVec3,
        axis: DVec3,
        curve: Arc<Vec<DVec2>>,
    },
    /// Drawn along this direction with such a profile, whose first coordinate lies across.
    Extrusion {
        origin: DVec3,
        axis: DVec3,
        across: DVec3,
        curve: Arc<Vec<DVec2>>,
    },
    Freeform,
}

impl Truth {
    pub fn word(&self) -> &'static str {
        match self {
            Self::On(Surface::Plane { .. }) => "plane",
            Self::On(Surface::Cylinder { .. }) => "cylinder",
            Self::On(Surface::Cone { .. }) => "cone",
            Self::On(Surface::Sphere { .. }) => "sphere",
            Self::On(Surface::Torus { .. }) => "torus",
            Self::Revolution { .. } => "revolution",
            Self::Extrusion { .. } => "extrusion",
            Self::On(_) | Self::Freeform => "freeform",
        }
    }

    /// Turned, then moved.
    pub fn put(self, turn: DMat3, shift: DVec3) -> Self {
        let at = |p: DVec3| turn * p + shift;
        match self {
            Self::On(surface) => Self::On(match surface {
                Surface::Plane { origin, normal } => Surface::Plane { origin: at(origin), normal: turn * normal },
                Surface::Cylinder { origin, axis, radius, inside } => {
                    Surface::Cylinder { origin: at(origin), axis: turn * axis, radius, inside }
                }
                Surface::Cone { apex, axis, angle, inside } => {
                    Surface::Cone { apex: at(apex), axis: turn * axis, angle, inside }
                }
                Surface::Sphere { centre, radius, inside } => Surface::Sphere { centre: at(centre), radius, inside },
                Surface::Torus { centre, axis, major, minor, inside } => {
                    Surface::Torus { centre: at(centre), axis: turn * axis, major, minor, inside }
                }
                other => other,
            }),
            Self::Revolution { origin, axis, curve } => {
                Self::Revolution { origin: at(origin), axis: turn * axis, curve }
            }
            Self::Extrusion { origin, axis, across, curve } => {
                Self::Extrusion { origin: at(origin), axis: turn * axis, across: turn * across, curve }
            }
            Self::Freeform => Self::Freeform,
        }
    }
}

/// A closed mesh, the face of each facet, and what each face was made as.
#[derive(Clone, Default)]
pub struct Labelled {
    pub mesh: Mesh,
    pub of: Vec<u32>,
    pub faces: Vec<Truth>,
}

impl Labelled {
    pub fn face(&mut self, truth: Truth) -> u32 {
        self.faces.push(truth);
        self.faces.len() as u32 - 1
    }

    pub fn facet(&mut self, corners: [u32; 3], face: u32) {
        let [a, b, c] = corners;
        if a != b && b != c && c != a {
            self.mesh.triangles.push(corners);
            self.of.push(face);
        }
    }

    /// Turned and moved anyhow, and written in single precision.
    #[must_use]
    pub fn anyhow(mut self, dice: &mut Dice) -> Self {
        let turn = DMat3::from_quat(DQuat::from_axis_angle(dice.direction(), dice.between(0.0, 6.0)));
        let shift = dice.direction() * dice.between(0.0, 80.0);
        for p in &mut self.mesh.vertices {
            *p = (turn * *p + shift).as_vec3().as_dvec3();
        }
        for face in &mut self.faces {
            *face = face.clone().put(turn, shift);
        }
        self
    }

    /// Facets divided at points of their own edges, as meshers do that refine what is flat: anywhere on
    /// the edge, so that some become slivers. `share` of all edges.
    #[must_use]
    pub fn divided(mut self, dice: &mut Dice, share: f64) -> Self {
        let mut edges: HashMap<[u32; 2], u32> = HashMap::new();
        let mut split = Vec::new();
        for t in &self.mesh.triangles {
            for k in 0..3 {
                let (a, b) = (t[k].min(t[(k + 1) % 3]), t[k].max(t[(k + 1) % 3]));
                let vertices = &mut self.mesh.vertices;
                edges.entry([a, b]).or_insert_with(|| {
                    if dice.share() >= share {
                        return u32::MAX;
                    }
                    let [p, q] = [a, b].map(|v| vertices[v as usize]);
                    vertices.push(p.lerp(q, dice.between(0.02, 0.98)));
                    vertices.len() as u32 - 1
                });
            }
        }
        for (t, &face) in self.mesh.triangles.iter().zip(&self.of) {
            // the corners and what lies between them, in turn; cut into a fan from a point between
            let mut ring = Vec::new();
            for k in 0..3 {
                let (a, b) = (t[k], t[(k + 1) % 3]);
                ring.push(a);
                let put = edges[&[a.min(b), a.max(b)]];
                if put != u32::MAX {
                    ring.push(put);
                }
            }
            let first = (0..ring.len()).find(|&k| !t.contains(&ring[k])).unwrap_or(0);
            for k in 1..ring.len() - 1 {
                let at = |k: usize| ring[(first + k) % ring.len()];
                split.push(([at(0), at(k), at(k + 1)], face));
            }
        }
        self.mesh.triangles = split.iter().map(|s| s.0).collect();
        self.of = split.iter().map(|s| s.1).collect();
        self
    }

    /// With `tool` taken out of it, or joined to it.
    #[must_use]
    pub fn with(&self, other: &Self, joined: bool) -> Self {
        let own = Body::labelled(&self.mesh, "the part", &self.of).expect("made closed");
        let added = Body::labelled(&other.mesh, "the other", &other.of).expect("made closed");
        let (up, down) = if joined { (vec![added.clone()], vec![]) } else { (vec![], vec![added.clone()]) };
        let traced = own.with(&up, &down).expect("a solid").traced();
        let first = self.faces.len() as u32;
        let turned = |truth: &Truth| match (truth, joined) {
            (Truth::On(surface), false) => Truth::On(surface.clone().turned()),
            (truth, _) => truth.clone(),
        };
        Self {
            of: traced.origins.iter().map(|o| if o.body == own.id() { o.label } else { first + o.label }).collect(),
            mesh: traced.mesh,
            faces: self.faces.iter().cloned().chain(other.faces.iter().map(turned)).collect(),
        }
    }
}

/// A piece of a half-section or of a section, from where the one before it ends.
#[derive(Clone, Copy)]
pub enum Piece {
    Line(DVec2),
    /// About a middle, by so many radians, counter-clockwise if above 0.
    Arc(DVec2, f64),
    /// With bends that are no circle's: of the third degree by two control points.
    Curve([DVec2; 2], DVec2),
}

impl Piece {
    pub fn end(self, from: DVec2) -> DVec2 {
        match self {
            Self::Line(to) | Self::Curve(_, to) => to,
            Self::Arc(middle, by) => middle + DVec2::from_angle(by).rotate(from - middle),
        }
    }

    /// Its place at a share of the way.
    pub fn at(self, from: DVec2, t: f64) -> DVec2 {
        match self {
            Self::Line(to) => from.lerp(to, t),
            Self::Arc(middle, by) => middle + DVec2::from_angle(by * t).rotate(from - middle),
            Self::Curve([a, b], to) => {
                let s = 1.0 - t;
                from * s.powi(3) + a * 3.0 * s * s * t + b * 3.0 * s * t * t + to * t.powi(3)
            }
        }
    }

    /// Points along it, close together.
    fn curve(self, from: DVec2) -> Arc<Vec<DVec2>> {
        Arc::new((0..=400).map(|k| self.at(from, f64::from(k) / 400.0)).collect())
    }

    /// Into how many chords, none of which turns by more than `turn` radians.
    fn chords(self, from: DVec2, turn: f64) -> u32 {
        let bend = match self {
            Self::Line(_) => 0.0,
            Self::Arc(_, by) => by.abs(),
            Self::Curve(..) => {
                // ten times what turns fastest anywhere
                let d = |t: f64| self.at(from, t + 1e-3) - self.at(from, t);
                let most = (0..20).map(|k| f64::from(k) / 20.5).map(|t| d(t).angle_to(d(t + 0.05)).abs());
                most.fold(0.0, f64::max) * 20.0
            }
        };
        // how far chords lie off is asked as well, so never into a few
        let least = match self {
            Self::Line(_) => 1,
            Self::Arc(..) => 4,
            Self::Curve(..) => 8,
        };
        ((bend / turn - 1e-9).ceil() as u32).max(least)
    }
}

/// A body turned round z: the half-section (distance from the axis, height) begins and ends on the axis and runs
/// counter-clockwise. `sides` facets a turn, and arcs and curves as finely.
pub fn lathe(start: DVec2, pieces: &[Piece], sides: u32, lines: u32) -> Labelled {
    let mut out = Labelled::default();
    let turn = std::f64::consts::TAU / f64::from(sides);
    let ring = |out: &mut Labelled, p: DVec2| -> Vec<u32> {
        let around = if p.x < 1e-9 { 1 } else { sides };
        let first = out.mesh.vertices.len() as u32;
        out.mesh.vertices.extend((0..around).map(|k| {
            let (sin, cos) = (turn * f64::from(k)).sin_cos();
            DVec3::new(p.x * cos, p.x * sin, p.y)
        }));
        (0..=sides).map(|k| first + k % around).collect()
    };
    let mut from = start;
    let mut low = ring(&mut out, from);
    for &piece in pieces {
        let to = piece.end(from);
        let face = out.face(turned(piece, from));
        let count = if matches!(piece, Piece::Line(_)) { lines } else { piece.chords(from, turn) };
        for k in 1..=count {
            let high = ring(&mut out, if k == count { to } else { piece.at(from, f64::from(k) / f64::from(count)) });
            for s in 0..sides as usize {
                let next = s + 1;
                // every other diagonal the other way
                if (s + k as usize).is_multiple_of(3) {
                    out.facet([low[s], low[next], high[s]], face);
                    out.facet([low[next], high[next], high[s]], face);
                } else {
                    out.facet([low[s], low[next], high[next]], face);
                    out.facet([low[s], high[next], high[s]], face);
                }
            }
            low = high;
        }
        from = to;
    }
    out
}

/// What a piece of a half-section becomes.
fn turned(piece: Piece, from: DVec2) -> Truth {
    let to = piece.end(from);
    match piece {
        Piece::Line(_) => {
            let d = to - from;
            if d.y.abs() < 1e-9 {
                let normal = if d.x > 0.0 { DVec3::NEG_Z } else { DVec3::Z };
                Truth::On(Surface::Plane { origin: DVec3::Z * from.y, normal })
            } else if d.x.abs() < 1e-9 {
                let origin = DVec3::Z * ((from.y + to.y) / 2.0);
                Truth::On(Surface::Cylinder { origin, axis: DVec3::Z, radius: from.x, inside: d.y < 0.0 })
            } else {
                let apex = from.y - from.x * d.y / d.x;
                let axis = if (from.y + to.y) / 2.0 > apex { DVec3::Z } else { DVec3::NEG_Z };
                let angle = (d.x / d.y).abs().atan();
                Truth::On(Surface::Cone { apex: DVec3::Z * apex, axis, angle, inside: d.y < 0.0 })
            }
        }
        Piece::Arc(middle, by) => {
            let (centre, radius) = (DVec3::Z * middle.y, from.distance(middle));
            let inside = by < 0.0;
            if middle.x < -1e-9 {
                // the arc's middle lies beyond the axis: a barrel
                Truth::Revolution { origin: DVec3::ZERO, axis: DVec3::Z, curve: piece.curve(from) }
            } else if middle.x.abs() < 1e-9 {
                Truth::On(Surface::Sphere { centre, radius, inside })
            } else {
                Truth::On(Surface::Torus { centre, axis: DVec3::Z, major: middle.x, minor: radius, inside })
            }
        }
        Piece::Curve(..) => Truth::Revolution { origin: DVec3::ZERO, axis: DVec3::Z, curve: piece.curve(from) },
    }
}

/// A section, closed and run counter-clockwise, drawn along z by `length` in so many lengths; arcs and curves as
/// finely as `sides` a turn. The middle of its box sees all of it.
pub fn drawn(start: DVec2, pieces: &[Piece], length: f64, lengths: u32, sides: u32) -> Labelled {
    let mut out = Labelled::default();
    let turn = std::f64::consts::TAU / f64::from(sides);
    let (mut points, mut own) = (Vec::new(), Vec::new());
    let mut from = start;
    for &piece in pieces {
        let to = piece.end(from);
        let d = to - from;
        let face = out.face(match piece {
            Piece::Line(_) => {
                let normal = DVec3::new(d.y, -d.x, 0.0).normalize();
                Truth::On(Surface::Plane { origin: from.extend(0.0), normal })
            }
            Piece::Arc(middle, by) => Truth::On(Surface::Cylinder {
                origin: middle.extend(length / 2.0),
                axis: DVec3::Z,
                radius: from.distance(middle),
                inside: by < 0.0,
            }),
            Piece::Curve(..) => {
                let curve = piece.curve(from);
                Truth::Extrusion { origin: DVec3::ZERO, axis: DVec3::Z, across: DVec3::X, curve }
            }
        });
        let count = piece.chords(from, turn);
        for k in 0..count {
            points.push(piece.at(from, f64::from(k) / f64::from(count)));
            own.push(face);
        }
        from = to;
    }
    let n = points.len() as u32;
    for row in 0..=lengths {
        let z = length * f64::from(row) / f64::from(lengths);
        out.mesh.vertices.extend(points.iter().map(|p| p.extend(z)));
    }
    for row in 0..lengths {
        for k in 0..n {
            let (a, b) = (row * n + k, row * n + (k + 1) % n);
            out.facet([a, b, b + n], own[k as usize]);
            out.facet([a, b + n, a + n], own[k as usize]);
        }
    }
    let (low, high) = points.iter().fold((points[0], points[0]), |(l, h), p| (l.min(*p), h.max(*p)));
    let middle = (low + high) / 2.0;
    for (z, normal, row) in [(0.0, DVec3::NEG_Z, 0), (length, DVec3::Z, lengths)] {
        let face = out.face(Truth::On(Surface::Plane { origin: DVec3::Z * z, normal }));
        out.mesh.vertices.push(middle.extend(z));
        let hub = out.mesh.vertices.len() as u32 - 1;
        for k in 0..n {
            let (a, b) = (row * n + k, row * n + (k + 1) % n);
            out.facet(if z > 0.0 { [a, b, hub] } else { [b, a, hub] }, face);
        }
    }
    out
}

/// A plate from 0, 0 to `size` with such a top, on `fields` of columns and rows, their corners moved by up to
/// `uneven` of a field; the underside is flat.
pub fn sheet(
    size: DVec2,
    fields: [u32; 2],
    uneven: f64,
    dice: &mut Dice,
    top: impl Fn(f64, f64) -> f64,
    truth: Truth,
) -> Labelled {
    let mut out = Labelled::default();
    let [columns, rows] = fields;
    let at = |i: u32, j: u32| j * (columns + 1) + i;
    let under = (columns + 1) * (rows + 1);
    let mut low = Vec::new();
    for j in 0..=rows {
        for i in 0..=columns {
            let rim = i == 0 || j == 0 || i == columns || j == rows;
            let [dx, dy] = [0; 2].map(|_| if rim { 0.0 } else { dice.between(-uneven, uneven) });
            let x = size.x * (f64::from(i) + dx) / f64::from(columns);
            let y = size.y * (f64::from(j) + dy) / f64::from(rows);
            out.mesh.vertices.push(DVec3::new(x, y, top(x, y)));
            low.push(DVec3::new(x, y, -12.0));
        }
    }
    out.mesh.vertices.extend(low);
    let face = out.face(truth);
    let floor = out.face(Truth::On(Surface::Plane { origin: DVec3::Z * -12.0, normal: DVec3::NEG_Z }));
    for j in 0..rows {
        for i in 0..columns {
            let [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
            let halves =
                if uneven > 0.0 && dice.share() < 0.5 { [[a, b, d], [b, c, d]] } else { [[a, b, c], [a, c, d]] };
            for [p, q, r] in halves {
                out.facet([p, q, r], face);
                out.facet([p + under, r + under, q + under], floor);
            }
        }
    }
    let sides: [(Vec<u32>, DVec3, DVec3); 4] = [
        ((0..=columns).map(|i| at(i, 0)).collect(), DVec3::ZERO, DVec3::NEG_Y),
        ((0..=rows).map(|j| at(columns, j)).collect(), size.extend(0.0), DVec3::X),
        ((0..=columns).rev().map(|i| at(i, rows)).collect(), size.extend(0.0), DVec3::Y),
        ((0..=rows).rev().map(|j| at(0, j)).collect(), DVec3::ZERO, DVec3::NEG_X),
    ];
    for (rim, origin, normal) in sides {
        let side = out.face(Truth::On(Surface::Plane { origin, normal }));
        for pair in rim.windows(2) {
            let [a, b] = [pair[0], pair[1]];
            out.facet([a + under, b + under, b], side);
            out.facet([a + under, b, a], side);
        }
    }
    out
}
