//! A surface moved outward: of a plane, cylinder, cone, sphere or torus it is one of the same kind.

use solid::Surface;

/// The surface `level` mm outward from another; `None` where that has no kind, or nothing is left of it.
pub fn offset(surface: &Surface, level: f64) -> Option<Surface> {
    let outward = if surface.inside() { -level } else { level };
    let moved = match surface.clone() {
        Surface::Plane { origin, normal } => Surface::Plane { origin: origin + normal * level, normal },
        Surface::Cylinder { origin, axis, radius, inside } => {
            Surface::Cylinder { origin, axis, radius: radius + outward, inside }
        }
        // a wall at the angle α to its axis moves by d square to itself where the apex moves by d / sin α
        Surface::Cone { apex, axis, angle, inside } => {
            Surface::Cone { apex: apex - axis * (outward / angle.sin()), axis, angle, inside }
        }
        Surface::Sphere { centre, radius, inside } => Surface::Sphere { centre, radius: radius + outward, inside },
        Surface::Torus { centre, axis, major, minor, inside } => {
            Surface::Torus { centre, axis, major, minor: minor + outward, inside }
        }
        Surface::Revolution { .. } | Surface::Extrusion { .. } | Surface::Freeform => return None,
    };
    let left = match moved {
        Surface::Cylinder { radius, .. } | Surface::Sphere { radius, .. } => radius > 0.0,
        Surface::Torus { minor, .. } => minor > 0.0,
        _ => true,
    };
    left.then_some(moved)
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::DVec3;

    #[test]
    fn a_moved_surface_lies_as_far_off_as_it_was_moved() {
        let axis = DVec3::new(0.6, 0.0, 0.8);
        let all = |inside: bool| {
            [
                Surface::Plane { origin: DVec3::ONE, normal: axis },
                Surface::Cylinder { origin: DVec3::ONE, axis, radius: 8.0, inside },
                Surface::Cone { apex: DVec3::ONE, axis, angle: 0.4, inside },
                Surface::Sphere { centre: DVec3::ONE, radius: 8.0, inside },
                Surface::Torus { centre: DVec3::ONE, axis, major: 20.0, minor: 8.0, inside },
            ]
        };
        for surface in all(false).into_iter().chain(all(true)) {
            // a place on it, found from one near it
            let near = DVec3::new(9.0, -3.0, 17.0);
            let on = near - surface.normal(near).unwrap() * surface.height(near).unwrap();
            assert!(surface.height(on).unwrap().abs() < 1e-9, "{surface:?}");
            for level in [0.5, -0.5] {
                let moved = offset(&surface, level).unwrap();
                let out = on + surface.normal(on).unwrap() * level;
                assert!(moved.height(out).unwrap().abs() < 1e-9, "{surface:?} {level}");
            }
        }
        assert_eq!(offset(&Surface::Sphere { centre: DVec3::ONE, radius: 0.3, inside: false }, -0.5), None);
        assert_eq!(offset(&Surface::Freeform, 0.5), None);
    }
}
