//! Wrong splits of the surface into faces, mended by hand. Triangles stay as they are, and so do the
//! numbers of all faces: a face that was joined to another one stays behind empty.

use crate::{
    faces,
    kinds::{self, Sample},
    part::{Face, Part, PartError},
    queries::Queries,
    surface::Surface,
    topology::neighbours,
};
use glam::DVec3;
use parry3d_f64::{query::PointQuery, shape::Triangle};
use std::collections::{BTreeMap, BTreeSet};
use trade::{FaceMend, Spot};

/// Where nothing simpler comes within the usual tolerance, a hand that made one face of several is
/// believed within so many of it.
const BELIEVED: f64 = 10.0;
/// A place this near to the surface lies on it, mm: it was taken from the same file.
const ON_SURFACE: f64 = 0.01;

impl Part {
    /// Joins and divides faces, in order.
    ///
    /// # Errors
    /// A face that isn't there, faces that don't touch, or a brush that touched all or nothing of a
    /// face. Mends before that one are made.
    pub fn mend_faces(&mut self, mends: &[FaceMend]) -> Result<(), PartError> {
        let placed = mends
            .iter()
            .any(|m| matches!(m, FaceMend::Join { at: Some(_), .. } | FaceMend::Divide { at: Some(_), .. }));
        // triangles stay as they are whatever is mended
        let queries = placed.then(|| Queries::new(self.mesh.clone()));
        for mend in mends {
            let there = |part: &Self, face: u32, at: Option<[f64; 3]>| {
                let found = at.zip(queries.as_ref()).and_then(|(at, q)| part.face_at(q, at.into()));
                found.unwrap_or(face)
            };
            match mend {
                FaceMend::Join { face, with, at } => {
                    let [face, with] = [(*face, at.map(|at| at[0])), (*with, at.map(|at| at[1]))]
                        .map(|(face, at)| there(self, face, at));
                    // found as one face now: nothing is left to join
                    if face != with || at.is_none() {
                        self.join_faces(face, with)?;
                    }
                }
                FaceMend::Divide { face, spots, at } => {
                    let face = there(self, *face, *at);
                    match self.divide_face(face, spots) {
                        // found apart now: nothing is left to divide
                        Err(PartError::FaceMend(_)) if at.is_some() && self.faces[face as usize].facets > 0 => {}
                        divided => divided?,
                    }
                }
            }
            self.face_mends.push(mend.clone());
        }
        Ok(())
    }

    /// The face on which a place lies; none where the place is not on the surface. `queries` are against this mesh.
    #[must_use]
    pub fn face_at(&self, queries: &Queries, at: DVec3) -> Option<u32> {
        let hit = queries.nearest(at, ON_SURFACE)?;
        Some(self.face_of[hit.triangle as usize])
    }

    /// A place inside the outline of each of `faces`: the middle of its largest facet, mm. A face without facets has
    /// none.
    #[must_use]
    pub fn places_on(&self, faces: &BTreeSet<u32>) -> BTreeMap<u32, DVec3> {
        let mut largest: BTreeMap<u32, (f64, usize)> = BTreeMap::new();
        if faces.is_empty() {
            return BTreeMap::new();
        }
        for (t, face) in self.face_of.iter().enumerate().filter(|(_, face)| faces.contains(face)) {
            let area = self.mesh.area(t);
            let best = largest.entry(*face).or_insert((area, t));
            if area > best.0 {
                *best = (area, t);
            }
        }
        largest.into_iter().map(|(face, (_, t))| (face, self.mesh.centroid(t))).collect()
    }

    fn join_faces(&mut self, face: u32, with: u32) -> Result<(), PartError> {
        self.has_facets(face)?;
        self.has_facets(with)?;
        let touch = neighbours(&self.mesh).iter().any(|pair| {
            let [a, b] = pair.triangles.map(|t| self.face_of[t as usize]);
            (a, b) == (face, with) || (b, a) == (face, with)
        });
        if !touch || face == with {
            return Err(PartError::FaceMend(format!(
                "faces {face} and {with} have no edge in common; only neighbours can be joined"
            )));
        }
        for owner in self.face_of.iter_mut().filter(|o| **o == with) {
            *owner = face;
        }
        let gone = std::mem::replace(&mut self.faces[with as usize], empty());
        self.faces[face as usize].numbers.extend(gone.numbers);
        self.faces[face as usize].numbers.sort_unstable();
        self.fit_again(face, &[gone.surface]);
        Ok(())
    }

    fn divide_face(&mut self, face: u32, spots: &[Spot]) -> Result<(), PartError> {
        self.has_facets(face)?;
        let brush = Brush::new(spots);
        let touched: Vec<u32> =
            self.triangles_of(face).filter(|&t| brush.touches(self.mesh.corners(t as usize))).collect();
        let before = &self.faces[face as usize];
        if touched.is_empty() || touched.len() == before.facets {
            let much = if touched.is_empty() { "nothing" } else { "every facet" };
            return Err(PartError::FaceMend(format!(
                "the brush touched {much} of face {face}; to divide it, paint over some of its facets"
            )));
        }
        let made = Face { numbers: before.numbers.clone(), colour: before.colour, ..empty() };
        let number = self.faces.len() as u32;
        let surface = before.surface.clone();
        self.faces.push(made);
        for t in touched {
            self.face_of[t as usize] = number;
        }
        self.fit_again(face, &[]);
        self.fit_again(number, &[surface]);
        Ok(())
    }

    fn has_facets(&self, face: u32) -> Result<(), PartError> {
        match self.faces.get(face as usize) {
            Some(found) if found.facets > 0 => Ok(()),
            Some(_) => Err(PartError::FaceMend(format!("face {face} was joined to another one before"))),
            None => Err(PartError::FaceMend(format!(
                "the part has no face {face}; its faces run from 0 to {}",
                self.faces.len() - 1
            ))),
        }
    }

    /// Surface, residual and size of a face that has other facets than before. Surfaces that the file
    /// knows are kept where they still fit: its own or one of `others`.
    fn fit_again(&mut self, face: u32, others: &[Surface]) {
        let triangles: Vec<u32> = self.triangles_of(face).collect();
        let tolerance = faces::tolerance(&self.mesh);
        let corners = || triangles.iter().flat_map(|&t| self.mesh.corners(t as usize));
        let own = self.faces[face as usize].surface.clone();
        let (surface, residual) = if let Some(normals) = &self.normals {
            let known = [own].into_iter().chain(others.iter().cloned());
            let kept = known
                .filter(|s| !matches!(s, Surface::Freeform))
                .find(|s| s.residual(corners()) <= tolerance && faces_like(s, &triangles, self));
            let samples = || -> Vec<Sample> {
                let of = |&t: &u32| {
                    let normals = normals[t as usize].map(|n| n.as_dvec3());
                    self.mesh.corners(t as usize).into_iter().zip(normals)
                };
                triangles.iter().flat_map(of).filter(|(_, n)| n.length_squared() > 0.5).collect()
            };
            let surface = kept.or_else(|| kinds::recognise(&samples(), tolerance)).unwrap_or(Surface::Freeform);
            let residual = surface.residual(corners());
            (surface, residual)
        } else {
            let first = faces::as_one(&self.mesh, &triangles, tolerance);
            let found = match first.surface {
                Surface::Freeform => faces::as_one(&self.mesh, &triangles, BELIEVED * tolerance),
                _ => first,
            };
            (found.surface, found.residual)
        };
        let surface = surface.centred(corners);
        let area = triangles.iter().map(|&t| self.mesh.area(t as usize)).sum();
        let face = &mut self.faces[face as usize];
        (face.surface, face.residual, face.facets, face.area) = (surface, residual, triangles.len(), area);
    }
}

/// Do the facets look the surface's way? A plane's back is as near as its front.
fn faces_like(surface: &Surface, triangles: &[u32], part: &Part) -> bool {
    triangles.iter().all(|&t| {
        let normal = surface.normal(part.mesh.centroid(t as usize));
        normal.is_none_or(|n| n.dot(part.mesh.cross(t as usize)) > 0.0)
    })
}

fn empty() -> Face {
    Face {
        surface: Surface::Freeform,
        numbers: Vec::new(),
        colour: None,
        residual: 0.0,
        coarse: None,
        facets: 0,
        area: 0.0,
    }
}

/// Touches of the brush in order along x, so that a facet is held against the few beside it.
struct Brush {
    spots: Vec<Spot>,
    widest: f64,
}

impl Brush {
    fn new(spots: &[Spot]) -> Self {
        let mut spots = spots.to_vec();
        spots.sort_by(|a, b| a.at[0].total_cmp(&b.at[0]));
        let widest = spots.iter().map(|s| s.radius).fold(0.0, f64::max);
        Self { spots, widest }
    }

    fn touches(&self, [a, b, c]: [DVec3; 3]) -> bool {
        let (low, high) = (a.min(b).min(c) - self.widest, a.max(b).max(c) + self.widest);
        let first = self.spots.partition_point(|s| s.at[0] < low.x);
        let facet = Triangle::new(a, b, c);
        self.spots[first..].iter().take_while(|s| s.at[0] <= high.x).any(|s| {
            let at = DVec3::from(s.at);
            let near = at.cmpge(low).all() && at.cmple(high).all();
            near && facet.project_local_point(at, false).point.distance(at) <= s.radius
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{boolean::Body, mesh::Mesh};
    use std::f64::consts::TAU;

    fn cylinder(radius: f64, height: f64, around: u32) -> Mesh {
        let ring = |z: f64| {
            (0..around).map(move |k| {
                let (s, c) = (TAU * f64::from(k) / f64::from(around)).sin_cos();
                DVec3::new(radius * c, radius * s, z)
            })
        };
        let mut mesh = Mesh { vertices: ring(0.0).chain(ring(height)).collect(), triangles: Vec::new() };
        for k in 0..around {
            let (next, up) = ((k + 1) % around, around);
            mesh.triangles.extend([[k, next, next + up], [k, next + up, k + up]]);
        }
        for k in 1..around - 1 {
            mesh.triangles.extend([[0, k + 1, k], [around, around + k, around + k + 1]]);
        }
        mesh
    }

    fn barrel(part: &Part) -> u32 {
        part.faces.iter().position(|f| matches!(f.surface, Surface::Cylinder { .. })).unwrap() as u32
    }

    fn spot(x: f64, y: f64, z: f64, radius: f64) -> Spot {
        Spot { at: [x, y, z], radius }
    }

    /// All facets of the cylinder on the side of +x, one touch on each.
    fn side() -> Vec<Spot> {
        let touch = |k: i32| {
            let (s, c) = (TAU * (f64::from(k) + 0.5) / 48.0).sin_cos();
            spot(9.97 * c, 9.97 * s, 15.0, 0.2)
        };
        (-12..12).map(touch).collect()
    }

    #[test]
    fn a_cylinder_divided_in_two_is_two_pieces_of_one_cylinder_and_joined_again_the_same() {
        let whole = Part::from_mesh(&cylinder(10.0, 30.0, 48)).unwrap();
        let face = barrel(&whole);
        let mut part = whole.clone();
        let spots = side();
        part.mend_faces(&[FaceMend::Divide { face, spots, at: None }]).unwrap();
        let made = part.faces.len() as u32 - 1;
        assert_eq!((part.faces.len(), part.faces[face as usize].facets), (whole.faces.len() + 1, 48));
        for half in [face, made] {
            let found = &part.faces[half as usize];
            let Surface::Cylinder { origin, radius, inside, .. } = found.surface else { panic!("{found:?}") };
            assert!((radius - 10.0).abs() < 1e-6 && (origin.z - 15.0).abs() < 1e-6 && !inside, "{found:?}");
            assert!((found.area - whole.faces[face as usize].area / 2.0).abs() < 1e-6);
        }
        part.mend_faces(&[FaceMend::Join { face, with: made, at: None }]).unwrap();
        assert_eq!(part.face_of, whole.face_of);
        assert_eq!(part.faces[made as usize].facets, 0);
        assert!((part.faces[face as usize].area - whole.faces[face as usize].area).abs() < 1e-9);
        // others keep their numbers and their faces
        for (at, other) in whole.faces.iter().enumerate().filter(|(at, _)| *at as u32 != face) {
            assert_eq!(part.faces[at].facets, other.facets);
        }
    }

    #[test]
    fn a_rough_cylinder_that_a_hand_points_at_is_a_cylinder() {
        // a scan's noise, larger than what is found by itself but less than a hand is believed in
        let mut rough = cylinder(10.0, 30.0, 48);
        for (at, v) in rough.vertices.iter_mut().enumerate() {
            let push = 0.004 * ((at * 7919) as f64).sin();
            *v += DVec3::new(v.x, v.y, 0.0).normalize() * push;
        }
        let mut part = Part::from_mesh(&rough).unwrap();
        let face = part.faces.iter().position(|f| f.facets == 96).unwrap() as u32;
        assert_eq!(part.faces[face as usize].surface, Surface::Freeform);
        let made = part.faces.len() as u32;
        part.mend_faces(&[
            FaceMend::Divide { face, spots: side(), at: None },
            FaceMend::Join { face, with: made, at: None },
        ])
        .unwrap();
        let found = &part.faces[face as usize];
        let Surface::Cylinder { radius, .. } = found.surface else { panic!("{found:?}") };
        assert!((radius - 10.0).abs() < 0.002, "{radius}");
        assert!((0.001..0.01).contains(&found.residual), "{}", found.residual);
    }

    #[test]
    fn what_cant_be_joined_or_divided_says_why() {
        let block = Body::block(DVec3::ZERO, DVec3::new(60.0, 30.0, 12.0)).traced().mesh;
        let mut part = Part::from_mesh(&block).unwrap();
        let facing = |part: &Part, way: DVec3| {
            part.faces.iter().position(|f| f.surface.normal(DVec3::ZERO) == Some(way)).unwrap() as u32
        };
        let (top, bottom, side) = (facing(&part, DVec3::Z), facing(&part, -DVec3::Z), facing(&part, DVec3::X));
        let mut refused = |mend: FaceMend| part.mend_faces(&[mend]).unwrap_err().to_string();
        assert!(refused(FaceMend::Join { face: top, with: bottom, at: None }).contains("no edge in common"));
        assert!(refused(FaceMend::Join { face: top, with: 17, at: None }).contains("no face 17"));
        let all = vec![spot(30.0, 15.0, 12.0, 100.0)];
        assert!(refused(FaceMend::Divide { face: top, spots: all, at: None }).contains("every facet"));
        assert!(
            refused(FaceMend::Divide { face: top, spots: vec![spot(0.0, 0.0, 0.0, 1.0)], at: None })
                .contains("nothing")
        );
        // two planes over an edge are one face, of no simpler kind
        part.mend_faces(&[FaceMend::Join { face: top, with: side, at: None }]).unwrap();
        assert_eq!(part.faces[top as usize].surface, Surface::Freeform);
        let gone = part.mend_faces(&[FaceMend::Join { face: bottom, with: side, at: None }]).unwrap_err().to_string();
        assert!(gone.contains("joined to another one before"), "{gone}");
    }
}
