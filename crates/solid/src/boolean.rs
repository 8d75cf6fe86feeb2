//! Joining and cutting solids, with the origin of every facet kept.
//!
//! The library's own failures are silent, so operands are checked before (closed, positive volume)
//! and results after. Vertices are f64 throughout.

use crate::mesh::Mesh;
use glam::DVec3;
use manifold_rust::{
    manifold::Manifold,
    types::{Error, MeshGL64, OpType},
};

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum BooleanError {
    #[error("{what} is not a closed solid ({why})")]
    Operand { what: String, why: String },
    #[error("joining the lettering to the part gave no closed solid")]
    Result,
}

/// Facets of one label that lie in one plane to within this are one flat to [`Body::thinned`], mm.
const FLAT_MM: f64 = 1e-5;

/// Which mesh, and which of its facets, a facet of a result comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Origin {
    /// The number [`Body::id`] of the operand.
    pub body: u32,
    /// The facet's label: what it was given, or its place in the operand's mesh.
    pub label: u32,
}

/// A solid that can be joined and cut.
#[derive(Clone)]
pub struct Body {
    solid: Manifold,
    id: u32,
}

/// A result: its mesh and where each facet comes from.
#[derive(Clone, Debug, Default)]
pub struct Traced {
    pub mesh: Mesh,
    pub origins: Vec<Origin>,
}

/// The union of all; nothing for none. Those whose boxes lie apart are put together as they are, the rest is
/// joined pair by pair.
fn together(bodies: Vec<Manifold>) -> Option<Manifold> {
    let mut batches: Vec<Vec<Manifold>> = Vec::new();
    for body in bodies {
        let own = body.bounding_box();
        let apart = |batch: &Vec<Manifold>| !batch.iter().any(|b| b.bounding_box().does_overlap_box(&own));
        match batches.iter_mut().find(|batch| apart(batch)) {
            Some(batch) => batch.push(body),
            None => batches.push(vec![body]),
        }
    }
    let mut joined: Vec<Manifold> = batches.iter().map(|batch| Manifold::compose(batch)).collect();
    while joined.len() > 1 {
        joined = joined
            .chunks(2)
            .map(|pair| match pair {
                [a, b] => a.boolean(b, OpType::Add),
                [one, ..] => one.clone(),
                [] => Manifold::default(),
            })
            .collect();
    }
    joined.pop()
}

impl Body {
    /// `mesh` as an operand; `what` names it in errors.
    ///
    /// # Errors
    /// The mesh is not closed, or is inside out.
    pub fn new(mesh: &Mesh, what: &str) -> Result<Self, BooleanError> {
        Self::numbered(mesh, what, Manifold::reserve_ids(1))
    }

    /// As [`Body::new`], with a label for each facet. Facets of one label may be redrawn together
    /// where they lie in one plane.
    ///
    /// # Errors
    /// The mesh is not closed, or is inside out.
    pub fn labelled(mesh: &Mesh, what: &str, labels: &[u32]) -> Result<Self, BooleanError> {
        Self::made(mesh, what, Manifold::reserve_ids(1), labels.iter().map(|&l| u64::from(l)).collect())
    }

    /// Numbers for `count` operands to be made at once: results are ordered by their operands'
    /// numbers, which must not depend on the order in which threads get to work.
    #[must_use]
    pub fn numbers(count: usize) -> std::ops::Range<u32> {
        let first = Manifold::reserve_ids(count as u32);
        first..first + count as u32
    }

    /// As [`Body::new`], under a number of [`Body::numbers`].
    ///
    /// # Errors
    /// The mesh is not closed, or is inside out.
    pub fn numbered(mesh: &Mesh, what: &str, id: u32) -> Result<Self, BooleanError> {
        Self::made(mesh, what, id, (0..mesh.triangles.len() as u64).collect())
    }

    fn made(mesh: &Mesh, what: &str, id: u32, labels: Vec<u64>) -> Result<Self, BooleanError> {
        let wrong = |why: String| BooleanError::Operand { what: what.to_owned(), why };
        // the library takes an inside-out mesh without a word
        if mesh.volume() <= 0.0 {
            return Err(wrong("it encloses nothing or is inside out".into()));
        }
        let solid = Manifold::from_mesh_gl64(&MeshGL64 {
            num_prop: 3,
            vert_properties: mesh.vertices.iter().flat_map(|v| v.to_array()).collect(),
            tri_verts: mesh.triangles.iter().flatten().map(|&v| u64::from(v)).collect(),
            run_original_id: vec![id],
            face_id: labels,
            ..Default::default()
        });
        if solid.status() != Error::NoError {
            return Err(wrong(format!("{:?}", solid.status())));
        }
        if solid.is_empty() {
            return Err(wrong("it encloses nothing or is inside out".into()));
        }
        Ok(Self { solid, id })
    }

    #[must_use]
    pub fn id(&self) -> u32 {
        self.id
    }

    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.solid.is_empty()
    }

    /// An axis-aligned box from `low` to `high`.
    #[must_use]
    pub fn block(low: DVec3, high: DVec3) -> Self {
        let size = high - low;
        let v = |d: DVec3| manifold_rust::linalg::Vec3 { x: d.x, y: d.y, z: d.z };
        let solid = Manifold::cube(v(size), false).translate(v(low));
        Self { solid, id: 0 }
    }

    /// The piece of `self` inside `cutter`, and the rest.
    #[must_use]
    pub fn cut_by(&self, cutter: &Self) -> (Self, Self) {
        let (inside, rest) = self.solid.split(&cutter.solid);
        (Self { solid: inside, id: self.id }, Self { solid: rest, id: self.id })
    }

    /// The same solid with the fewest facets on its flats: later work costs what its shape asks for,
    /// not how finely it was divided. Nothing moves by more than 1e-5 mm.
    #[must_use]
    pub fn thinned(&self) -> Self {
        Self { solid: self.solid.simplify(FLAT_MM), id: self.id }
    }

    /// Bodies that are known to lie apart, as one. Each keeps its own number in results.
    #[must_use]
    pub fn beside(bodies: &[Self]) -> Option<Self> {
        let first = bodies.first()?;
        let solids: Vec<Manifold> = bodies.iter().map(|b| b.solid.clone()).collect();
        Some(Self { solid: Manifold::compose(&solids), id: first.id })
    }

    /// `self` with `added` joined to it and `cut` taken out of it.
    ///
    /// # Errors
    /// The library failed, or the result encloses nothing.
    pub fn with(&self, added: &[Self], cut: &[Self]) -> Result<Self, BooleanError> {
        let mut solid = self.solid.clone();
        for (bodies, op) in [(added, OpType::Add), (cut, OpType::Subtract)] {
            // the small ones among themselves first: the large one is gone through once only
            if let Some(bodies) = together(bodies.iter().map(|b| b.solid.clone()).collect()) {
                solid = solid.boolean(&bodies, op);
            }
        }
        if solid.status() != Error::NoError || solid.is_empty() || solid.volume() <= 0.0 {
            return Err(BooleanError::Result);
        }
        Ok(Self { solid, id: self.id })
    }

    #[must_use]
    pub fn volume(&self) -> f64 {
        self.solid.volume()
    }

    /// About how much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        /// Three half-edges with their properties, a node of the tree and its box, half a vertex.
        const TRIANGLE: usize = 250;
        self.solid.num_tri() * TRIANGLE
    }

    /// Number of separate pieces.
    #[must_use]
    pub fn pieces(&self) -> usize {
        self.solid.decompose().len()
    }

    /// Each of its pieces.
    #[must_use]
    pub fn separate(&self) -> Vec<Self> {
        self.solid.decompose().into_iter().map(|solid| Self { solid, id: self.id }).collect()
    }

    /// The mesh with the origin of every facet.
    #[must_use]
    pub fn traced(&self) -> Traced {
        let out = self.solid.get_mesh_gl64(-1);
        let stride = out.num_prop as usize;
        // vertices the library keeps apart for their properties are one point
        let mut to: Vec<u32> = (0..(out.vert_properties.len() / stride.max(1)) as u32).collect();
        for (from, into) in out.merge_from_vert.iter().zip(&out.merge_to_vert) {
            to[*from as usize] = *into as u32;
        }
        let vertices = out.vert_properties.chunks_exact(stride).map(|v| DVec3::new(v[0], v[1], v[2])).collect();
        let triangles: Vec<[u32; 3]> =
            out.tri_verts.chunks_exact(3).map(|t| [t[0], t[1], t[2]].map(|v| to[v as usize])).collect();
        let mut origins = vec![Origin { body: 0, label: 0 }; triangles.len()];
        for (run, &body) in out.run_original_id.iter().enumerate() {
            let (start, end) = (out.run_index[run] as usize / 3, out.run_index[run + 1] as usize / 3);
            for (origin, &face) in origins[start..end].iter_mut().zip(&out.face_id[start..end]) {
                *origin = Origin { body, label: face as u32 };
            }
        }
        Traced { mesh: compact(Mesh { vertices, triangles }), origins }
    }
}

/// Without vertices that no triangle uses.
fn compact(mesh: Mesh) -> Mesh {
    let mut to = vec![u32::MAX; mesh.vertices.len()];
    let mut vertices = Vec::with_capacity(mesh.vertices.len());
    let triangles = mesh
        .triangles
        .iter()
        .map(|t| {
            t.map(|v| {
                if to[v as usize] == u32::MAX {
                    to[v as usize] = vertices.len() as u32;
                    vertices.push(mesh.vertices[v as usize]);
                }
                to[v as usize]
            })
        })
        .collect();
    Mesh { vertices, triangles }
}
