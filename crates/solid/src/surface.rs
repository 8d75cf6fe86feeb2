//! The analytic surface of a face.

use crate::profile::Profile;
use glam::{DVec2, DVec3};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum Surface {
    Plane {
        /// A point of the plane.
        origin: DVec3,
        /// Outward unit normal.
        normal: DVec3,
    },
    Cylinder {
        /// A point of the axis, in the middle of the face's length.
        origin: DVec3,
        /// Unit direction of the axis.
        axis: DVec3,
        radius: f64,
        /// A bore: the outward normal points to the axis.
        inside: bool,
    },
    Cone {
        apex: DVec3,
        /// Unit direction of the axis, from the apex into the cone.
        axis: DVec3,
        /// Between axis and wall, radians.
        angle: f64,
        /// A countersink: the outward normal points to the axis.
        inside: bool,
    },
    Sphere {
        centre: DVec3,
        radius: f64,
        /// A hollow: the outward normal points to the centre.
        inside: bool,
    },
    Torus {
        centre: DVec3,
        /// Unit direction of the axis.
        axis: DVec3,
        /// From the axis to the middle of the tube.
        major: f64,
        /// Of the tube.
        minor: f64,
        /// The outward normal points into the tube, as on an inner fillet.
        inside: bool,
    },
    /// Turned round an axis, and none of the kinds above: a barrel, an ogive, a vase.
    Revolution {
        /// Of the axis, where the profile's second coordinate is 0.
        origin: DVec3,
        /// Unit direction of the axis.
        axis: DVec3,
        /// Distance from the axis and place along it, mm.
        profile: Arc<Profile>,
        /// The outward side is the profile's left one.
        inside: bool,
    },
    /// Drawn along straight lines, and none of the kinds above: a cam, a grip.
    Extrusion {
        /// Where the profile's coordinates are 0.
        origin: DVec3,
        /// Unit direction in which it is drawn.
        axis: DVec3,
        /// Unit direction of the profile's first coordinate; the second is square to it and to the axis.
        across: DVec3,
        profile: Arc<Profile>,
        /// The outward side is the profile's left one.
        inside: bool,
    },
    /// No kind of ours fits; the facets are all that is known.
    Freeform,
}

/// Distance from the axis and place along it.
fn half_plane(axis: DVec3, d: DVec3) -> DVec2 {
    let (from_axis, _, along) = about(axis, d);
    DVec2::new(from_axis, along)
}

/// Coordinates in a section.
fn in_section(axis: DVec3, across: DVec3, d: DVec3) -> DVec2 {
    DVec2::new(d.dot(across), d.dot(axis.cross(across)))
}

/// So near to its axis a cone has no normal, mm: where its tip is known a little less well, that could be any.
const TIP: f64 = 0.01;
/// Where a profile meets its axis nearer to square than this, cosine, it has no tip.
const POINTED: f64 = 0.94;

/// Distance from the axis, unit direction away from it, and place along it.
fn about(axis: DVec3, d: DVec3) -> (f64, DVec3, f64) {
    let off = d.reject_from_normalized(axis);
    (off.length(), off.normalize_or_zero(), d.dot(axis))
}

impl Surface {
    /// Is the outward normal turned towards the axis, centre or tube?
    #[must_use]
    pub fn inside(&self) -> bool {
        match *self {
            Surface::Cylinder { inside, .. }
            | Surface::Cone { inside, .. }
            | Surface::Sphere { inside, .. }
            | Surface::Torus { inside, .. }
            | Surface::Revolution { inside, .. }
            | Surface::Extrusion { inside, .. } => inside,
            Surface::Plane { .. } | Surface::Freeform => false,
        }
    }

    /// The kind in the toolroom's word.
    #[must_use]
    pub fn word(&self) -> &'static str {
        match (self, self.inside()) {
            (Surface::Plane { .. }, _) => "plane",
            (Surface::Cylinder { .. }, false) => "cylinder",
            (Surface::Cylinder { .. }, true) => "bore",
            (Surface::Cone { .. }, false) => "cone",
            (Surface::Cone { .. }, true) => "countersink",
            (Surface::Sphere { .. }, false) => "sphere",
            (Surface::Sphere { .. }, true) => "hollow sphere",
            (Surface::Torus { .. }, false) => "torus",
            (Surface::Torus { .. }, true) => "hollow torus",
            (Surface::Revolution { .. }, false) => "turned face",
            (Surface::Revolution { .. }, true) => "turned hollow",
            (Surface::Extrusion { .. }, _) => "extruded face",
            (Surface::Freeform, _) => "freeform",
        }
    }

    /// The same surface with its outward side where `outward`, the normal at `p`, points.
    #[must_use]
    pub fn facing(self, p: DVec3, outward: DVec3) -> Self {
        if self.normal(p).is_some_and(|n| n.dot(outward) < 0.0) { self.turned() } else { self }
    }

    /// The same surface with its outward side on the other side.
    #[must_use]
    pub fn turned(mut self) -> Self {
        match &mut self {
            Surface::Plane { normal, .. } => *normal = -*normal,
            Surface::Cylinder { inside, .. }
            | Surface::Cone { inside, .. }
            | Surface::Sphere { inside, .. }
            | Surface::Torus { inside, .. }
            | Surface::Revolution { inside, .. }
            | Surface::Extrusion { inside, .. } => *inside = !*inside,
            Surface::Freeform => {}
        }
        self
    }

    /// Signed distance of `p` outward from the surface, mm. `None` for freeform.
    #[must_use]
    pub fn height(&self, p: DVec3) -> Option<f64> {
        let off = match *self {
            Surface::Plane { origin, normal } => (p - origin).dot(normal),
            Surface::Cylinder { origin, axis, radius, .. } => {
                (p - origin).reject_from_normalized(axis).length() - radius
            }
            Surface::Cone { apex, axis, angle, .. } => {
                let (from_axis, _, along) = about(axis, p - apex);
                from_axis * angle.cos() - along * angle.sin()
            }
            Surface::Sphere { centre, radius, .. } => p.distance(centre) - radius,
            Surface::Torus { centre, axis, major, minor, .. } => {
                let (from_axis, _, along) = about(axis, p - centre);
                (from_axis - major).hypot(along) - minor
            }
            Surface::Revolution { origin, axis, ref profile, .. } => profile.nearest(half_plane(axis, p - origin)).1,
            Surface::Extrusion { origin, axis, across, ref profile, .. } => {
                profile.nearest(in_section(axis, across, p - origin)).1
            }
            Surface::Freeform => return None,
        };
        Some(if self.inside() { -off } else { off })
    }

    /// Outward unit normal at (the foot of) `p`. `None` for freeform, and where there is none: on an
    /// axis, at a centre.
    #[must_use]
    pub fn normal(&self, p: DVec3) -> Option<DVec3> {
        let out = match *self {
            Surface::Plane { normal, .. } => normal,
            Surface::Cylinder { origin, axis, .. } => (p - origin).reject_from_normalized(axis).try_normalize()?,
            Surface::Cone { apex, axis, angle, .. } => {
                let (from_axis, away, _) = about(axis, p - apex);
                // at its tip a cone looks all ways
                (from_axis > TIP).then(|| away * angle.cos() - axis * angle.sin())?
            }
            Surface::Sphere { centre, .. } => (p - centre).try_normalize()?,
            Surface::Torus { centre, axis, major, .. } => {
                let (from_axis, away, along) = about(axis, p - centre);
                (away.try_normalize()? * (from_axis - major) + axis * along).try_normalize()?
            }
            Surface::Revolution { origin, axis, ref profile, .. } => {
                let (from_axis, away, along) = about(axis, p - origin);
                let out = profile.at(profile.nearest(DVec2::new(from_axis, along)).0).outward();
                // on the axis there is only what looks along it, and at a tip nothing
                if from_axis <= TIP && out.y.abs() < POINTED {
                    return None;
                }
                away * out.x + axis * if from_axis > 0.0 { out.y } else { out.y.signum() }
            }
            Surface::Extrusion { origin, axis, across, ref profile, .. } => {
                let out = profile.at(profile.nearest(in_section(axis, across, p - origin)).0).outward();
                across * out.x + axis.cross(across) * out.y
            }
            Surface::Freeform => return None,
        };
        Some(if self.inside() { -out } else { out })
    }

    /// Points of its profile in space, of a turned or drawn face.
    #[must_use]
    pub fn profile_points(&self) -> Vec<DVec3> {
        let (origin, x, y, profile) = match self {
            Surface::Revolution { origin, axis, profile, .. } => {
                (*origin, axis.any_orthonormal_vector(), *axis, profile)
            }
            Surface::Extrusion { origin, axis, across, profile, .. } => {
                (*origin, *across, axis.cross(*across), profile)
            }
            _ => return Vec::new(),
        };
        profile.points().iter().map(|p| origin + x * p.x + y * p.y).collect()
    }

    /// Greatest absolute height over `points`, mm; 0 for freeform, infinite where one has no height that is a number.
    #[must_use]
    pub fn residual(&self, points: impl IntoIterator<Item = DVec3>) -> f64 {
        let heights = points.into_iter().filter_map(|p| self.height(p));
        // the greater of a number and none is the number
        heights.fold(0.0, |most, h| if h.is_nan() { f64::INFINITY } else { most.max(h.abs()) })
    }
}

/// An axis points the way most of its length along x, y or z does, so that it never depends on the
/// order of the facets.
pub(crate) fn leading(axis: DVec3) -> DVec3 {
    let lead = axis.abs();
    let main = if lead.x >= lead.y && lead.x >= lead.z {
        axis.x
    } else if lead.y >= lead.z {
        axis.y
    } else {
        axis.z
    };
    axis * main.signum()
}

impl Surface {
    /// A plane's or a cylinder's origin in the middle of its corners.
    pub(crate) fn centred<I: Iterator<Item = DVec3>>(self, corners: impl Fn() -> I) -> Self {
        match self {
            Self::Cylinder { origin, axis, radius, inside } => {
                let along = corners().map(|p| (p - origin).dot(axis));
                let (low, high) = along.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), t| (l.min(t), h.max(t)));
                if low > high {
                    return self;
                }
                Self::Cylinder { origin: origin + axis * ((low + high) / 2.0), axis: leading(axis), radius, inside }
            }
            Self::Plane { origin, normal } => {
                let (sum, count) = corners().fold((DVec3::ZERO, 0.0), |(sum, n), p| (sum + p, n + 1.0));
                if count == 0.0 {
                    return self;
                }
                let middle = sum / count;
                Self::Plane { origin: middle - normal * (middle - origin).dot(normal), normal }
            }
            other => other,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_place_that_is_no_number_is_never_near() {
        let plane = Surface::Plane { origin: DVec3::ZERO, normal: DVec3::Z };
        assert_eq!(plane.residual([DVec3::Z, DVec3::NEG_Z * 2.0]), 2.0);
        assert_eq!(plane.residual([DVec3::NAN, DVec3::Z]), f64::INFINITY);
        assert_eq!(plane.residual([DVec3::Z, DVec3::NAN]), f64::INFINITY);
    }

    #[test]
    fn heights_and_normals_of_round_surfaces_are_those_of_their_offsets() {
        let axis = DVec3::new(1.0, 2.0, 2.0) / 3.0;
        let centre = DVec3::new(4.0, -1.0, 7.0);
        let (x, y) = axis.any_orthonormal_pair();
        let away = (x * 0.6 + y * 0.8).normalize();
        for (surface, on) in [
            (
                Surface::Cone { apex: centre, axis, angle: 0.4, inside: false },
                centre + axis * 5.0 + away * 5.0 * 0.4_f64.tan(),
            ),
            (Surface::Sphere { centre, radius: 3.0, inside: false }, centre + away * 3.0),
            (
                Surface::Torus { centre, axis, major: 9.0, minor: 2.0, inside: false },
                centre + away * (9.0 + 2.0 * 0.3_f64.cos()) + axis * 2.0 * 0.3_f64.sin(),
            ),
        ] {
            let normal = surface.normal(on).unwrap();
            assert!((normal.length() - 1.0).abs() < 1e-12 && normal.dot(away) > 0.0);
            for h in [-0.5, 0.0, 1.25] {
                assert!((surface.height(on + normal * h).unwrap() - h).abs() < 1e-12, "{surface:?}");
            }
            let turned = surface.facing(on, -normal);
            assert!(turned.inside() && (turned.height(on + normal).unwrap() + 1.0).abs() < 1e-12);
        }
    }
}
