//! What is looked at: a marked solid (whole, or a piece cut out of it) and its surroundings.

use crate::distance::Lines;
use glam::DVec3;
use relief::{BuiltMark, MarkedSolid, Role, Tag};
use solid::segment::Segment;
use solid::{Mesh, queries::Queries, topology::neighbours};
use std::{
    collections::HashMap,
    sync::{Arc, OnceLock},
};
use tool::{Region, parting::Line};
use trade::{
    KeepOutKind,
    limits::{Limit, LimitSet},
};

/// What a character's facets border on.
#[derive(Clone, Copy, Debug)]
pub struct Border {
    /// What the character's own facet is.
    pub own: Role,
    pub other: Tag,
    pub edge: Segment,
    /// The other facet's outward unit normal.
    pub normal: DVec3,
}

/// Marks farther away than this are none of a mark's business, mm, where no limit reaches farther.
pub const NEAR: f64 = 10.0;

/// Surface that a ray meets under a smaller sine than this runs along it.
const ALONG: f64 = 1e-6;

/// A keep-out of the job with its margin.
pub struct KeepOutSite {
    pub name: String,
    pub kind: KeepOutKind,
    pub limit: Limit,
    pub region: Arc<Region>,
}

/// A mark as the others see it.
pub struct OtherMark {
    /// Its place in the job.
    pub mark: u32,
    /// What it says: what was built of it knows no later name.
    pub name: String,
    pub built: Arc<BuiltMark>,
    root: OnceLock<Lines>,
}

impl OtherMark {
    #[must_use]
    pub fn new(mark: u32, built: Arc<BuiltMark>) -> Self {
        Self { mark, name: built.mark.by_text(), built, root: OnceLock::new() }
    }

    /// Where its bodies meet its seat.
    #[must_use]
    pub fn root(&self) -> &Lines {
        self.root.get_or_init(|| Lines::new(self.built.footprint()))
    }

    /// Outward unit normal of its seat under a place.
    #[must_use]
    pub fn out(&self, p: DVec3) -> DVec3 {
        self.built.ground.normal(p)
    }
}

/// What surrounds the marks: everything about the tool and the reader that the checks ask about.
pub struct Surroundings<'a> {
    /// The whole part as it was before any mark.
    pub bare: &'a Queries,
    /// The face of each of its facets.
    pub face_of: &'a [u32],
    /// Each of the tool's parting lines.
    pub parting: &'a [Line],
    pub forms: &'a Forms<'a>,
    pub keep_outs: &'a [KeepOutSite],
    pub others: &'a [OtherMark],
    pub limits: &'a LimitSet,
    /// mm.
    pub reading_distance: f64,
}

/// What forms the places of the part's surface.
pub struct Forms<'a> {
    /// The tool's parts by name, with the unit vectors along which they leave.
    pub steels: Vec<(String, DVec3)>,
    /// Which of them forms a place with this outward normal; `None` where nobody knows or nothing can.
    pub by: &'a (dyn Fn(DVec3, DVec3) -> Option<usize> + Sync),
}

/// The part outside a block that was cut out of it.
#[derive(Clone, Copy)]
pub struct Beyond<'a> {
    /// Rays against the whole bare part.
    pub part: &'a Queries,
    /// Corners of the block.
    pub low: DVec3,
    pub high: DVec3,
    /// Marks that lie on other pieces of it.
    pub marks: &'a [&'a BuiltMark],
}

/// What is looked at: a marked solid (whole, or a piece cut out of it) and its surroundings.
pub struct Scene<'a> {
    pub solid: &'a MarkedSolid,
    /// Rays against the solid.
    near: Queries,
    /// What lies outside the block that the solid was cut out with.
    beyond: Option<Beyond<'a>>,
    /// Facets of each (mark, character).
    pub(crate) facets: HashMap<(u32, u32), Vec<u32>>,
    /// For each (mark, character): what else its facets border on, with a shared edge.
    pub(crate) borders: HashMap<(u32, u32), Vec<Border>>,
    others: &'a [OtherMark],
    pub bare: &'a Queries,
    pub face_of: &'a [u32],
    pub parting: &'a [Line],
    pub forms: &'a Forms<'a>,
    pub keep_outs: &'a [KeepOutSite],
    pub limits: &'a LimitSet,
    pub reading_distance: f64,
}

impl<'a> Scene<'a> {
    #[must_use]
    pub fn new(solid: &'a MarkedSolid, beyond: Option<Beyond<'a>>, around: &Surroundings<'a>) -> Self {
        let mut facets: HashMap<(u32, u32), Vec<u32>> = HashMap::new();
        for (t, tag) in solid.tags.iter().enumerate() {
            if let Tag::Relief { mark, character, .. } = tag {
                facets.entry((*mark, *character)).or_default().push(t as u32);
            }
        }
        let mut borders: HashMap<(u32, u32), Vec<Border>> = HashMap::new();
        for pair in neighbours(&solid.mesh) {
            let tags = pair.triangles.map(|t| solid.tags[t as usize]);
            for (own, other) in [(0, 1), (1, 0)] {
                let Tag::Relief { mark, character, role } = tags[own] else { continue };
                let same =
                    matches!(tags[other], Tag::Relief { mark: m, character: c, .. } if m == mark && c == character);
                if !same {
                    let edge = pair.edge.map(|v| solid.mesh.vertices[v as usize]);
                    let normal = solid.mesh.normal(pair.triangles[other] as usize);
                    // what lies on a surface body borders on it as if that were a solid's surface
                    let tag = match tags[other] {
                        Tag::Under { face } => Tag::Part { face },
                        tag => tag,
                    };
                    let border = Border { own: role, other: tag, edge, normal };
                    borders.entry((mark, character)).or_default().push(border);
                }
            }
        }
        let near = Queries::new(solid.mesh.clone());
        let Surroundings { bare, face_of, parting, forms, keep_outs, others, limits, reading_distance } = *around;
        Self {
            solid,
            near,
            beyond,
            facets,
            borders,
            others,
            bare,
            face_of,
            parting,
            forms,
            keep_outs,
            limits,
            reading_distance,
        }
    }

    #[must_use]
    pub fn mesh(&self) -> &Mesh {
        &self.solid.mesh
    }

    /// All marks but the one at this place of the job.
    pub fn others(&self, mark: u32) -> impl Iterator<Item = &OtherMark> {
        self.others.iter().filter(move |o| o.mark != mark)
    }

    /// Does a place lie in the block that the solid was cut out with? All places do where it is the whole.
    #[must_use]
    pub fn holds(&self, p: DVec3) -> bool {
        self.beyond.is_none_or(|b| p.cmpge(b.low).all() && p.cmple(b.high).all())
    }

    /// Does a place that looks along `there` lie behind the wall that `p`, which looks along `out`, is on? Round an edge it
    /// doesn't.
    #[must_use]
    pub fn is_behind(&self, out: DVec3, p: DVec3, at: DVec3, there: DVec3) -> bool {
        /// Sides of a wall look away from one another by more than this.
        const APART: f64 = -0.7;
        out.dot(there) < APART && (at - p).dot(out) < 1e-6
    }

    /// How far along the unit `direction` the next surface lies, more than `near` mm away.
    #[must_use]
    pub fn next_surface(&self, from: DVec3, direction: DVec3, near: f64) -> Option<(f64, DVec3)> {
        self.next(from, direction, near, |_, _| true)
    }

    /// How far along the unit `direction` the material ends that `from` lies in or on, mm: at a surface that faces that
    /// way and is not of the mark `but`.
    #[must_use]
    pub fn material_ends(&self, from: DVec3, direction: DVec3, but: u32) -> Option<(f64, DVec3)> {
        let own = |tag: Tag| matches!(tag, Tag::Relief { mark, .. } if mark == but);
        self.next(from, direction, 0.0, |tag, normal| !own(tag) && normal.dot(direction) > ALONG)
    }

    fn next(
        &self,
        from: DVec3,
        direction: DVec3,
        near: f64,
        wanted: impl Fn(Tag, DVec3) -> bool,
    ) -> Option<(f64, DVec3)> {
        let surface = |t: u32| {
            let tag = self.solid.tags[t as usize];
            !matches!(tag, Tag::Cut | Tag::Under { .. }) && wanted(tag, self.solid.mesh.normal(t as usize))
        };
        let own = self.near.first_hit(from, direction, near, f64::MAX, surface);
        let own = own.map(|h| (h.distance, h.point));
        let far = self.beyond.and_then(|Beyond { part, low, high, marks }| {
            // the part itself counts only outside the block, and so do the marks there: inside it the piece tells
            let leaves = exit(from, direction, low, high);
            if own.is_some_and(|(met, _)| met <= leaves) {
                return None;
            }
            let known = |t: u32| wanted(Tag::Part { face: u32::MAX }, part.mesh().normal(t as usize));
            let hit = part.first_hit(from, direction, near.max(leaves), f64::MAX, known)?;
            let inside = part.mesh().normal(hit.triangle as usize).dot(direction) > 0.0;
            let met = marks.iter().fold(hit.distance, |met, mark| mark.meets(from, direction, met, inside));
            Some((met, from + direction * met))
        });
        [own, far].into_iter().flatten().min_by(|a, b| a.0.total_cmp(&b.0))
    }
}

/// How far from `from` (inside the box) the ray leaves the box.
fn exit(from: DVec3, direction: DVec3, low: DVec3, high: DVec3) -> f64 {
    (0..3)
        .filter(|&k| direction[k].abs() > 1e-12)
        .map(|k| (if direction[k] > 0.0 { high[k] } else { low[k] } - from[k]) / direction[k])
        .fold(f64::MAX, f64::min)
        .max(0.0)
}
