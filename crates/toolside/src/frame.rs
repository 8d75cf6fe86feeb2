//! The coordinates that the toolmaker measures in: those of one piece of the tool, at the steel's size.

use crate::SteelError;
use glam::{DAffine3, DMat3, DVec3};
use solid::Mesh;
use trade::{Datum, Job, Steel};

/// Coordinates of a piece of the tool. z points out of the steel to where the part was, x along the part's own x or, where
/// the steel leaves along that, its y; seen so the lettering is mirrored. All is larger by the shrinkage, about the zero.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Frame {
    /// Where they have their zero, mm in the part.
    pub zero: DVec3,
    /// Their axes as unit vectors of the part.
    pub axes: DMat3,
    /// The steel's size by the part's.
    pub scale: f64,
}

impl Frame {
    /// That of a piece of the job's tool; `part` is the part as it is.
    ///
    /// # Errors
    /// No shrinkage or no pull is set, or the tool has no such piece.
    pub fn of(job: &Job, part: &Mesh, steel: &Steel) -> Result<Self, SteelError> {
        let Some(scale) = job.process.steel_scale() else {
            return Err(SteelError::new("no shrinkage is set: set the material at the part"));
        };
        let leaves = job.tool.steels().into_iter().find(|(own, _)| own == steel);
        let leaves = leaves.and_then(|(_, pull)| DVec3::from(pull).try_normalize());
        let leaves = leaves.ok_or_else(|| SteelError::new("no pull is set: set it at the part"))?;
        let z = -leaves;
        let across = if z.x.abs() < 0.9 { DVec3::X } else { DVec3::Y };
        let x = across.reject_from_normalized(z).normalize();
        let axes = DMat3::from_cols(x, z.cross(x), z);
        let plain = Self { zero: DVec3::ZERO, axes, scale: 1.0 };
        // slides leave another way: for them the plane says nothing
        let pull = job.tool.pull.map(DVec3::from).and_then(DVec3::try_normalize);
        let level = match (job.tool.parting_plane(), pull, steel) {
            (Some(height), Some(pull), Steel::Fixed | Steel::Moving) => height * pull.dot(z),
            _ => 0.0,
        };
        let (mut low, mut high) = (DVec3::INFINITY, DVec3::NEG_INFINITY);
        for p in &part.vertices {
            let p = plain.to_steel(*p);
            (low, high) = (low.min(p), high.max(p));
        }
        let at = |x: f64, y: f64| plain.to_part(DVec3::new(x, y, level));
        let zero = match job.datum {
            Datum::Zero => DVec3::ZERO,
            Datum::Point { at } => at.into(),
            Datum::Centre => at((low.x + high.x) / 2.0, (low.y + high.y) / 2.0),
            Datum::Corner { right, upper } => {
                at(if right { high.x } else { low.x }, if upper { high.y } else { low.y })
            }
        };
        Ok(Self { zero, axes, scale })
    }

    /// Coordinates at a place of the part with z along a unit vector and x as near as can be to another, at its size.
    pub(crate) fn at(zero: DVec3, z: DVec3, near: DVec3) -> Self {
        let x = near.reject_from_normalized(z).try_normalize().unwrap_or_else(|| z.any_orthonormal_vector());
        Self { zero, axes: DMat3::from_cols(x, z.cross(x), z), scale: 1.0 }
    }

    /// A place of the part in the steel.
    #[must_use]
    pub fn to_steel(&self, p: DVec3) -> DVec3 {
        self.axes.transpose() * (p - self.zero) * self.scale
    }

    /// A place in the steel on the part.
    #[must_use]
    pub fn to_part(&self, p: DVec3) -> DVec3 {
        self.zero + self.axes * p / self.scale
    }

    /// What takes places of the part to the steel.
    #[must_use]
    pub fn place(&self) -> DAffine3 {
        let turned = DMat3::from_diagonal(DVec3::splat(self.scale)) * self.axes.transpose();
        DAffine3 { matrix3: turned, translation: -(turned * self.zero) }
    }

    /// A body of the part in the steel.
    #[must_use]
    pub fn mesh(&self, of: &Mesh) -> Mesh {
        Mesh { vertices: of.vertices.iter().map(|p| self.to_steel(*p)).collect(), triangles: of.triangles.clone() }
    }

    pub(crate) fn mesh_of_part(&self, of: &Mesh) -> Mesh {
        Mesh { vertices: of.vertices.iter().map(|p| self.to_part(*p)).collect(), triangles: of.triangles.clone() }
    }
}
