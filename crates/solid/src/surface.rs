//! The analytic surface of a face.

use glam::DVec3;
use serde::{Deserialize, Serialize};

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
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
    /// No kind of ours fits; the facets are all that is known.
    Freeform,
}

impl Surface {
    /// Signed distance of `p` outward from the surface, mm. `None` for freeform.
    #[must_use]
    pub fn height(&self, p: DVec3) -> Option<f64> {
        match *self {
            Surface::Plane { origin, normal } => Some((p - origin).dot(normal)),
            Surface::Cylinder { origin, axis, radius, inside } => {
                let off = (p - origin).reject_from_normalized(axis).length() - radius;
                Some(if inside { -off } else { off })
            }
            Surface::Freeform => None,
        }
    }

    /// Outward unit normal at (the foot of) `p`. `None` for freeform and on a cylinder's axis.
    #[must_use]
    pub fn normal(&self, p: DVec3) -> Option<DVec3> {
        match *self {
            Surface::Plane { normal, .. } => Some(normal),
            Surface::Cylinder { origin, axis, inside, .. } => {
                let out = (p - origin).reject_from_normalized(axis).try_normalize()?;
                Some(if inside { -out } else { out })
            }
            Surface::Freeform => None,
        }
    }
}
