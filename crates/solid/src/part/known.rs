//! A part from faces whose surfaces its file knows.

use super::{Face, KnownFace, Part, PartError, SIZES_MM};
use crate::{
    faces, kinds,
    mesh::Mesh,
    soundness::{self},
    surface::Surface,
    topology::{Groups, neighbours},
    weld::{self},
};
use glam::{DVec3, Vec3};
use trade::Unit;

impl Part {
    /// A part from faces whose surfaces are known. `chord` is how far facets may lie off them, mm.
    ///
    /// Faces whose file calls them freeform are recognised where their points and normals lie on a
    /// simpler surface; a surface that its own facets contradict is not believed. Neighbours on one
    /// surface (the halves of a cylinder) become one face.
    ///
    /// # Errors
    /// [`PartError::Nothing`], or [`PartError::Size`].
    pub fn from_known(known: &[KnownFace], chord: f64) -> Result<Self, PartError> {
        let mut soup = Mesh::default();
        let (mut face_of, mut normals) = (Vec::new(), Vec::new());
        for (face, k) in known.iter().enumerate() {
            let first = soup.vertices.len() as u32;
            soup.vertices.extend(&k.mesh.vertices);
            for t in &k.mesh.triangles {
                soup.triangles.push(t.map(|v| v + first));
                normals.push(t.map(|v| k.normals.get(v as usize).copied().unwrap_or_default()));
                face_of.push(face as u32);
            }
        }
        let across = soup.diagonal();
        if !SIZES_MM.contains(&across) {
            return Err(PartError::Size { across });
        }
        let tolerance = faces::tolerance(&soup);
        let (mut mesh, kept, welded) = weld::weld_traced(&soup, tolerance / 10.0);
        if mesh.triangles.is_empty() {
            return Err(PartError::Nothing);
        }
        let mut face_of: Vec<u32> = kept.iter().map(|&t| face_of[t as usize]).collect();
        let mut normals: Vec<[Vec3; 3]> = kept.iter().map(|&t| normals[t as usize]).collect();
        let mut soundness = soundness::examine(&mesh);
        if soundness.is_closed() && mesh.volume() < 0.0 {
            mesh.turn();
            for n in &mut normals {
                *n = [-n[0], -n[2], -n[1]];
            }
            soundness.turned = true;
        }
        let surfaces: Vec<Surface> = known.iter().map(|k| believed(k, chord, tolerance, soundness.turned)).collect();
        let faces = gather(known, &surfaces, &mesh, &mut face_of);
        Ok(Self {
            mesh,
            normals: Some(normals),
            faces,
            face_of,
            soundness,
            welded,
            // a file with faces of its own is mended where it was drawn
            mends: Vec::new(),
            mended: Vec::new(),
            surface_body: None,
            face_mends: Vec::new(),
            bodies: Vec::new(),
            unit: Unit::Mm,
            sha256: String::new(),
        })
    }
}

/// The surface of a known face, with its outward side.
fn believed(known: &KnownFace, chord: f64, tolerance: f64, turned: bool) -> Surface {
    let sign = if turned { -1.0 } else { 1.0 };
    let samples: Vec<kinds::Sample> = known
        .mesh
        .vertices
        .iter()
        .zip(&known.normals)
        .filter(|(_, n)| n.length_squared() > 0.5)
        .map(|(&p, n)| (p, n.as_dvec3() * sign))
        .collect();
    // facets may bridge a bulge that no vertex shows
    let agrees = |s: &Surface| {
        s.residual(known.mesh.vertices.iter().copied()) <= tolerance
            && s.residual((0..known.mesh.triangles.len()).map(|t| known.mesh.centroid(t))) <= 2.0 * chord + tolerance
    };
    let Some(&(p, n)) = samples.iter().find(|(p, _)| known.surface.normal(*p).is_some()).or(samples.first()) else {
        return Surface::Freeform;
    };
    let own = known.surface.clone().facing(p, n);
    if !matches!(own, Surface::Freeform) && agrees(&own) {
        return own;
    }
    kinds::recognise(&samples, tolerance)
        .or_else(|| faces::turned_or_extruded(&known.mesh, &samples, tolerance))
        .filter(agrees)
        .unwrap_or(Surface::Freeform)
}

/// Two descriptions of one surface, to 1e-6 mm and 1e-8 rad?
fn one_surface(a: &Surface, b: &Surface) -> bool {
    const MM: f64 = 1e-6;
    let along = |x: DVec3, y: DVec3| x.cross(y).length() < 1e-8;
    let off_axis = |from: DVec3, to: DVec3, axis: DVec3| (to - from).reject_from_normalized(axis).length() < MM;
    a.inside() == b.inside()
        && match (a, b) {
            (
                &Surface::Cylinder { origin, axis, radius, .. },
                &Surface::Cylinder { origin: o, axis: x, radius: r, .. },
            ) => (radius - r).abs() < MM && along(axis, x) && off_axis(origin, o, axis),
            (&Surface::Cone { apex, axis, angle, .. }, &Surface::Cone { apex: p, axis: x, angle: w, .. }) => {
                apex.distance(p) < MM && along(axis, x) && (angle - w).abs() < 1e-8
            }
            (&Surface::Sphere { centre, radius, .. }, &Surface::Sphere { centre: c, radius: r, .. }) => {
                centre.distance(c) < MM && (radius - r).abs() < MM
            }
            (
                &Surface::Torus { centre, axis, major, minor, .. },
                &Surface::Torus { centre: c, axis: x, major: m, minor: n, .. },
            ) => centre.distance(c) < MM && along(axis, x) && (major - m).abs() < MM && (minor - n).abs() < MM,
            (&Surface::Plane { origin, normal }, &Surface::Plane { origin: o, normal: n }) => {
                normal.dot(n) > 0.0 && along(normal, n) && (o - origin).dot(normal).abs() < MM
            }
            (Surface::Revolution { .. }, Surface::Revolution { .. })
            | (Surface::Extrusion { .. }, Surface::Extrusion { .. }) => {
                // each was fitted by itself
                const FITTED_MM: f64 = 1e-3;
                a.residual(b.profile_points()) < FITTED_MM && b.residual(a.profile_points()) < FITTED_MM
            }
            _ => false,
        }
}

/// Faces of the part, neighbours on one surface joined; `face_of` is renumbered to them.
fn gather(known: &[KnownFace], surfaces: &[Surface], mesh: &Mesh, face_of: &mut [u32]) -> Vec<Face> {
    let mut groups = Groups::new(known.len());
    for pair in neighbours(mesh) {
        let [a, b] = pair.triangles.map(|t| face_of[t as usize]);
        if a != b && groups.root(a) != groups.root(b) && one_surface(&surfaces[a as usize], &surfaces[b as usize]) {
            groups.join(a, b);
        }
    }
    let mut place = vec![u32::MAX; known.len()];
    let mut faces: Vec<Face> = Vec::new();
    for at in 0..known.len() as u32 {
        let root = groups.root(at) as usize;
        if place[root] == u32::MAX {
            place[root] = faces.len() as u32;
            faces.push(Face {
                surface: surfaces[root].clone(),
                numbers: Vec::new(),
                colour: known[root].colour,
                residual: 0.0,
                coarse: None,
                facets: 0,
                area: 0.0,
            });
        }
        place[at as usize] = place[root];
        faces[place[root] as usize].numbers.push(known[at as usize].number);
    }
    for (t, face) in face_of.iter_mut().enumerate() {
        *face = place[*face as usize];
        let own = &mut faces[*face as usize];
        own.facets += 1;
        own.area += mesh.area(t);
        own.residual = own.residual.max(own.surface.residual(mesh.corners(t)));
    }
    centre(&mut faces, mesh, face_of);
    faces
}

/// Puts the origins of planes and cylinders in the middle of their faces, as seats want them.
fn centre(faces: &mut [Face], mesh: &Mesh, face_of: &[u32]) {
    let mut own: Vec<Vec<usize>> = vec![Vec::new(); faces.len()];
    for (t, &face) in face_of.iter().enumerate() {
        own[face as usize].push(t);
    }
    for (face, triangles) in faces.iter_mut().zip(own) {
        face.surface = face.surface.clone().centred(|| triangles.iter().flat_map(|&t| mesh.corners(t)));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec2;

    /// Halves of a barrel, Ø 50 at its waist and bellied by an arc of R 100, as a file gives them that calls it freeform.
    fn halves() -> Vec<KnownFace> {
        let half = |number: u32| {
            let mut mesh = Mesh::default();
            let mut normals = Vec::new();
            for row in 0..=12_u32 {
                for turn in 0..=18_u32 {
                    let lean = -0.18 + 0.03 * f64::from(row);
                    let round = DVec2::from_angle((f64::from(turn) / 18.0 + f64::from(number)) * std::f64::consts::PI);
                    let out = DVec2::from_angle(lean);
                    mesh.vertices.push((round * (100.0 * out.x - 75.0)).extend(100.0 * out.y));
                    normals.push((round * out.x).extend(out.y).as_vec3());
                }
            }
            for row in 0..12 {
                for turn in 0..18 {
                    let [a, b] = [row * 19 + turn, row * 19 + turn + 1];
                    mesh.triangles.extend([[a, b, b + 19], [a, b + 19, a + 19]]);
                }
            }
            KnownFace { surface: Surface::Freeform, number, colour: None, mesh, normals }
        };
        vec![half(0), half(1)]
    }

    #[test]
    fn the_halves_of_a_barrel_are_one_turned_face() {
        let part = Part::from_known(&halves(), 0.1).unwrap();
        assert_eq!(part.faces.len(), 1);
        let surface = &part.faces[0].surface;
        assert!(matches!(surface, Surface::Revolution { inside: false, .. }), "{surface:?}");
        assert!(part.faces[0].residual < 1e-4);
        // between the corners that it was fitted to
        for lean in [-0.165, -0.04, 0.005, 0.17_f64] {
            let p = (DVec2::from_angle(0.3) * (100.0 * lean.cos() - 75.0)).extend(100.0 * lean.sin());
            assert!(surface.height(p).unwrap().abs() < 1e-4, "{lean}: {:?}", surface.height(p));
        }
    }
}
