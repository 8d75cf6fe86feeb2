//! Polygons of a file cut into triangles.

use crate::{fill::fill, mesh::Mesh};
use glam::{DVec2, DVec3};

/// Longest polygon that is cut into triangles.
const MOST_CORNERS: usize = 10_000;

impl Mesh {
    /// Adds the polygon over `corners`: about its first corner where it turns one way all round, else by the Delaunay
    /// triangles inside its outline, seen square-on. What is no polygon, such as a line, adds nothing.
    ///
    /// # Errors
    /// It has too many corners, or one that there is no number for.
    pub(super) fn add_polygon<T: Copy + TryInto<u32> + std::fmt::Display>(
        &mut self,
        corners: &[T],
    ) -> Result<(), String> {
        if corners.len() > MOST_CORNERS {
            return Err(format!("it has {} corners; at most {MOST_CORNERS} can be read", corners.len()));
        }
        let number = |at: &T| (*at).try_into().map_err(|_| format!("there is no vertex {at}"));
        let corners: Vec<u32> = corners.iter().map(number).collect::<Result<_, _>>()?;
        match self.notched(&corners) {
            Some(triangles) => self.triangles.extend(triangles),
            None => {
                let pairs = corners.get(1..).unwrap_or_default().windows(2);
                self.triangles.extend(pairs.map(|pair| [corners[0], pair[0], pair[1]]));
            }
        }
        Ok(())
    }

    /// Triangles of a polygon with a corner that turns back; `None` for others, and where its outline crosses itself.
    fn notched(&self, corners: &[u32]) -> Option<Vec<[u32; 3]>> {
        if corners.len() < 4 {
            return None;
        }
        let points: Vec<DVec3> =
            corners.iter().map(|&v| self.vertices.get(v as usize).copied()).collect::<Option<_>>()?;
        let next = |k: usize| points[(k + 1) % points.len()];
        let crosses = (0..points.len()).map(|k| (points[k] - points[0]).cross(next(k) - points[0]));
        let normal = crosses.sum::<DVec3>().try_normalize()?;
        let turns_back = |k: usize| {
            let (into, out) = (next(k) - points[k], next((k + 1) % points.len()) - next(k));
            into.cross(out).dot(normal) < -1e-9 * into.length() * out.length()
        };
        if !(0..points.len()).any(turns_back) {
            return None;
        }
        let (x, y) = normal.any_orthonormal_pair();
        // x, y and the normal are right-handed
        let flat = points.iter().map(|p| DVec2::new(p.dot(x), p.dot(y))).collect();
        let triangles = fill(&[flat], &[])?;
        Some(triangles.into_iter().map(|t| t.map(|k| corners[k as usize])).collect())
    }
}
