//! What the child writes, read back: see `kernel/read.cpp`.

use crate::{StepBody, StepError, StepFace, StepFile};
use glam::{DVec3, Vec3};
use solid::Surface;

const BEGIN: &[u8] = b"TBSTEP01";
const DONE: &[u8] = b"TBSTEPOK";
const REASON: &[u8] = b"TBREASON";

struct Stream<'a>(&'a [u8]);

impl<'a> Stream<'a> {
    fn take(&mut self, count: usize) -> Option<&'a [u8]> {
        let (head, rest) = self.0.split_at_checked(count)?;
        self.0 = rest;
        Some(head)
    }

    fn array<const N: usize>(&mut self) -> Option<[u8; N]> {
        self.take(N)?.try_into().ok()
    }

    fn byte(&mut self) -> Option<u8> {
        self.array::<1>().map(|[b]| b)
    }

    fn word(&mut self) -> Option<u32> {
        self.array().map(u32::from_le_bytes)
    }

    fn real(&mut self) -> Option<f64> {
        self.array().map(f64::from_le_bytes)
    }

    fn single(&mut self) -> Option<f32> {
        self.array().map(f32::from_le_bytes)
    }

    fn text(&mut self) -> Option<String> {
        let count = self.word()? as usize;
        Some(String::from_utf8_lossy(self.take(count)?).into_owned())
    }

    fn point(&mut self) -> Option<DVec3> {
        Some(DVec3::new(self.real()?, self.real()?, self.real()?))
    }

    /// `count` things of `size` bytes each are still to come?
    fn holds(&self, count: u32, size: usize) -> Option<usize> {
        let count = count as usize;
        (self.0.len() / size >= count).then_some(count)
    }

    fn colour(&mut self) -> Option<Option<[f32; 3]>> {
        let known = self.byte()? != 0;
        let rgb = [self.single()?, self.single()?, self.single()?];
        Some(known.then_some(rgb))
    }

    fn surface(&mut self) -> Option<Surface> {
        let kind = self.byte()?;
        let (origin, axis) = (self.point()?, self.point()?);
        let (first, second) = (self.real()?, self.real()?);
        let inside = false;
        Some(match kind {
            1 => Surface::Plane { origin, normal: axis },
            2 => Surface::Cylinder { origin, axis, radius: first, inside },
            3 => {
                // the axis points the way the cone widens
                let (axis, angle) = if second < 0.0 { (-axis, -second) } else { (axis, second) };
                Surface::Cone { apex: origin - axis * (first / angle.tan()), axis, angle, inside }
            }
            4 => Surface::Sphere { centre: origin, radius: first, inside },
            5 => Surface::Torus { centre: origin, axis, major: first, minor: second, inside },
            _ => Surface::Freeform,
        })
    }

    fn face(&mut self) -> Option<StepFace> {
        let number = self.word()?;
        let colour = self.colour()?;
        let surface = self.surface()?;
        let (vertices, triangles) = (self.word()?, self.word()?);
        let vertices = self.holds(vertices, 36)?;
        let points = (0..vertices).map(|_| self.point()).collect::<Option<_>>()?;
        let normals = (0..vertices)
            .map(|_| Some(Vec3::new(self.single()?, self.single()?, self.single()?)))
            .collect::<Option<_>>()?;
        let triangles = self.holds(triangles, 12)?;
        let triangles = (0..triangles)
            .map(|_| {
                Some([self.word()?, self.word()?, self.word()?]).filter(|t| t.iter().all(|&v| (v as usize) < vertices))
            })
            .collect::<Option<_>>()?;
        Some(StepFace { number, colour, surface, vertices: points, normals, triangles })
    }

    fn body(&mut self) -> Option<StepBody> {
        let name = self.text()?;
        let solid = self.byte()? != 0;
        let colour = self.colour()?;
        let (volume, area) = (self.real()?, self.real()?);
        let faces = self.word()?;
        let faces = self.holds(faces, 90)?;
        let faces = (0..faces).map(|_| self.face()).collect::<Option<_>>()?;
        Some(StepBody { name, solid, colour, volume, area, faces })
    }

    fn file(&mut self) -> Option<StepFile> {
        let unit = self.text()?;
        let bodies = self.word()?;
        let bodies = self.holds(bodies, 30)?;
        let bodies = (0..bodies).map(|_| self.body()).collect::<Option<_>>()?;
        Some(StepFile { unit, bodies })
    }
}

/// # Errors
/// The child's own reason, or that its output breaks off.
pub(crate) fn read(bytes: &[u8]) -> Result<StepFile, StepError> {
    if let Some(rest) = bytes.strip_suffix(REASON) {
        let why = rest.split_last_chunk::<4>().and_then(|(rest, size)| {
            let size = u32::from_le_bytes(*size) as usize;
            Some(String::from_utf8_lossy(rest.get(rest.len().checked_sub(size)?..)?).into_owned())
        });
        return Err(StepError::Refused(why.unwrap_or_else(|| "the reader gave no reason".into())));
    }
    let body = bytes.strip_prefix(BEGIN).and_then(|b| b.strip_suffix(DONE)).ok_or(StepError::Broken)?;
    let mut stream = Stream(body);
    let file = stream.file().ok_or(StepError::Broken)?;
    if stream.0.is_empty() { Ok(file) } else { Err(StepError::Broken) }
}
