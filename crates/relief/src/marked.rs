//! The marked solid: the part with its relief bodies joined and cut, each facet knowing where it
//! comes from.

use crate::{
    ReliefError,
    body::{CharacterBody, PAD, Role},
    built::BuiltMark,
    seat::{Seat, unroll},
};
use glam::{DVec2, DVec3};
use solid::{Mesh, Part, boolean::Body, contour, topology::Groups};
use std::collections::{HashMap, HashSet};
use trade::Sense;

/// Where a facet comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Tag {
    /// A face of the part.
    Part { face: u32 },
    /// A character of a mark, by their places in the job and the text.
    Relief { mark: u32, character: u32, role: Role },
    /// The side of the block that a local piece was cut out with.
    Cut,
    /// The underside of lettering that is joined to nothing, where it lies on a face.
    Under { face: u32 },
}

#[derive(Clone, Debug, Default)]
pub struct MarkedSolid {
    pub mesh: Mesh,
    pub tags: Vec<Tag>,
}

impl MarkedSolid {
    /// How much memory it takes, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        self.mesh.bytes() + size_of_val(&self.tags[..])
    }

    /// The same solid with its facets in an order that depends on nothing but itself: by tag, then
    /// by place; vertices in the order in which facets name them.
    #[must_use]
    pub fn in_order(&self) -> Self {
        let key = |t: usize| {
            let corners = self.mesh.corners(t).map(|p| p.to_array());
            let least = (0..3).min_by(|&a, &b| total(&corners[a], &corners[b])).unwrap_or_default();
            // the corner that stands first is the least, the turn stays
            let turned = [least, (least + 1) % 3, (least + 2) % 3];
            (rank(self.tags[t]), turned, turned.map(|k| corners[k]))
        };
        let mut order: Vec<(usize, _)> = (0..self.tags.len()).map(|t| (t, key(t))).collect();
        order.sort_by(|(_, a), (_, b)| {
            a.0.cmp(&b.0).then_with(|| {
                (0..3).map(|k| total(&a.2[k], &b.2[k])).find(|o| o.is_ne()).unwrap_or(std::cmp::Ordering::Equal)
            })
        });
        let mut numbers = vec![u32::MAX; self.mesh.vertices.len()];
        let mut out = Self::default();
        for (t, (_, turned, _)) in order {
            let triangle = self.mesh.triangles[t];
            out.tags.push(self.tags[t]);
            out.mesh.triangles.push(turned.map(|k| {
                let number = &mut numbers[triangle[k] as usize];
                if *number == u32::MAX {
                    *number = out.mesh.vertices.len() as u32;
                    out.mesh.vertices.push(self.mesh.vertices[triangle[k] as usize]);
                }
                *number
            }));
        }
        out
    }
}

fn total(a: &[f64; 3], b: &[f64; 3]) -> std::cmp::Ordering {
    a.iter().zip(b).map(|(x, y)| x.total_cmp(y)).find(|o| o.is_ne()).unwrap_or(std::cmp::Ordering::Equal)
}

fn rank(tag: Tag) -> (u8, u32, u32, u8) {
    match tag {
        Tag::Part { face } => (0, face, 0, 0),
        Tag::Relief { mark, character, role } => (1, mark, character, role as u8),
        Tag::Cut => (2, 0, 0, 0),
        Tag::Under { face } => (3, face, 0, 0),
    }
}

/// The part as an operand, its facets labelled with their faces.
pub struct Stock {
    pub body: Body,
}

impl Stock {
    /// # Errors
    /// The part is not a closed solid.
    pub fn of(part: &Part) -> Result<Self, ReliefError> {
        Ok(Self { body: Body::labelled(&part.mesh, "the part", &part.face_of)? })
    }

    /// The piece of the part inside a block, and the rest of it.
    #[must_use]
    pub fn split(&self, low: DVec3, high: DVec3) -> (Self, Self) {
        let (inside, rest) = self.body.cut_by(&Body::block(low, high));
        (Self { body: inside }, Self { body: rest })
    }

    /// The same with no more facets than its shape asks for.
    #[must_use]
    pub fn thinned(&self) -> Self {
        Self { body: self.body.thinned() }
    }

    /// The stock itself, unmarked.
    #[must_use]
    pub fn bare(&self) -> MarkedSolid {
        traced(&self.body, Some(self.body.id()), &HashMap::new())
    }

    /// The stock with `marks` (each with its place in the job) joined and cut.
    ///
    /// # Errors
    /// The boolean failed.
    pub fn marked(&self, marks: &[(u32, &BuiltMark)]) -> Result<MarkedSolid, ReliefError> {
        Ok(self.with(marks)?.told(marks))
    }

    /// The same, to be joined to more marks. Those lie apart from these: order doesn't matter then.
    ///
    /// # Errors
    /// The boolean failed.
    pub fn with(&self, marks: &[(u32, &BuiltMark)]) -> Result<Self, ReliefError> {
        let (mut added, mut cut) = (Vec::new(), Vec::new());
        // pads first: letters stand on them
        let (mut raised_pads, mut recessed_pads) = (Vec::new(), Vec::new());
        for &(_, mark) in marks {
            let (mut raised, mut sunken) = (Vec::new(), Vec::new());
            for (body, operand) in mark.bodies.iter().zip(&mark.operands) {
                match mark.relief(body.character).sense {
                    Sense::Raised => raised.push(operand.clone()),
                    Sense::Sunken | Sense::Inlay => sunken.push(operand.clone()),
                    // changes nothing of the solid
                    Sense::Surface | Sense::Stamp => {}
                }
            }
            for (own, all) in [(raised, &mut added), (sunken, &mut cut)] {
                match Body::beside(&own).filter(|_| mark.apart) {
                    Some(one) => all.push(one),
                    None => all.extend(own),
                }
            }
            if let Some(operand) = &mark.pad_operand {
                let sunk = mark.relief(PAD).sense.sinks();
                (if sunk { &mut recessed_pads } else { &mut raised_pads }).push(operand.clone());
            }
        }
        let mut body = self.body.clone();
        if !raised_pads.is_empty() || !recessed_pads.is_empty() {
            body = body.with(&raised_pads, &recessed_pads)?;
        }
        if !added.is_empty() || !cut.is_empty() {
            body = body.with(&added, &cut)?;
        }
        Ok(Self { body })
    }

    /// The stock as a marked solid; `marks` are all that were joined to it.
    #[must_use]
    pub fn told(&self, marks: &[(u32, &BuiltMark)]) -> MarkedSolid {
        let mut known = HashMap::new();
        for &(at, mark) in marks {
            let pad = mark.pad.iter().zip(&mark.pad_operand);
            known.extend(mark.bodies.iter().zip(&mark.operands).chain(pad).map(|(b, o)| (o.id(), (at, b))));
        }
        without_specks(traced(&self.body, Some(self.body.id()), &known))
    }
}

/// What hangs together with nothing else and is smaller than this across is a crumb that rounding left where bodies meet,
/// mm.
const SPECK: f64 = 0.01;

/// The solid without crumbs of lettering; what small pieces the part has of its own stay.
fn without_specks(solid: MarkedSolid) -> MarkedSolid {
    let mesh = &solid.mesh;
    let mut groups = Groups::new(mesh.vertices.len());
    for t in &mesh.triangles {
        groups.join(t[0], t[1]);
        groups.join(t[1], t[2]);
    }
    let mut boxes: HashMap<u32, (DVec3, DVec3)> = HashMap::new();
    let roots: Vec<u32> = mesh.triangles.iter().map(|t| groups.root(t[0])).collect();
    for (root, t) in roots.iter().zip(0..) {
        let [a, b, c] = mesh.corners(t);
        let (low, high) = boxes.entry(*root).or_insert((a, a));
        (*low, *high) = (low.min(a).min(b).min(c), high.max(a).max(b).max(c));
    }
    let lettered: HashSet<u32> = (roots.iter().zip(&solid.tags))
        .filter_map(|(root, tag)| matches!(tag, Tag::Relief { .. }).then_some(*root))
        .collect();
    let speck = |root: u32| lettered.contains(&root) && (boxes[&root].1 - boxes[&root].0).length() < SPECK;
    if boxes.len() == 1 || !boxes.keys().any(|&root| speck(root)) {
        return solid;
    }
    let kept: Vec<u32> = (0..mesh.triangles.len() as u32).filter(|&t| !speck(roots[t as usize])).collect();
    let tags = kept.iter().map(|&t| solid.tags[t as usize]).collect();
    MarkedSolid { mesh: mesh.piece(&kept).0, tags }
}

/// The bodies in a result by their numbers: their marks' places in the job, and what they are.
type Known<'a> = HashMap<u32, (u32, &'a CharacterBody)>;

fn traced(body: &Body, part: Option<u32>, known: &Known<'_>) -> MarkedSolid {
    let traced = body.traced();
    let tags = traced
        .origins
        .iter()
        .map(|origin| {
            if part == Some(origin.body) {
                return Tag::Part { face: origin.label };
            }
            known.get(&origin.body).map_or(Tag::Cut, |(mark, body)| Tag::Relief {
                mark: *mark,
                character: body.character,
                role: body.roles[origin.label as usize],
            })
        })
        .collect();
    MarkedSolid { mesh: traced.mesh, tags }
}

/// A surface body by itself, as it is shown.
#[must_use]
pub fn bare_surface_body(part: &Part) -> MarkedSolid {
    MarkedSolid { mesh: part.mesh.clone(), tags: part.face_of.iter().map(|&face| Tag::Part { face }).collect() }
}

impl MarkedSolid {
    /// Takes other facets in; nothing is joined.
    fn append(&mut self, mesh: &Mesh, tags: impl IntoIterator<Item = Tag>) {
        self.mesh.append(mesh);
        self.tags.extend(tags);
    }
}

/// A solid, or a surface body by itself, with the closed bodies of marks that are not joined to it beside it: for
/// looking at.
#[must_use]
pub fn beside(ground: &MarkedSolid, marks: &[(u32, &BuiltMark)]) -> MarkedSolid {
    let mut out = ground.clone();
    for &(mark, built) in marks {
        for body in &built.bodies {
            let tag = |role: &Role| Tag::Relief { mark, character: body.character, role: *role };
            out.append(&body.mesh, body.roles.iter().map(tag));
        }
    }
    out
}

/// The lettering of marks that are joined to nothing, as it would look on a solid below it: raised bodies
/// and films closed, sunken ones seen from outside, as if they were taken out of it. Letters of one
/// sense that overlap are joined. What hangs over the edge of its face has a skirt instead of an
/// underside.
///
/// # Errors
/// The boolean failed.
pub fn apart(marks: &[(u32, &BuiltMark)]) -> Result<MarkedSolid, ReliefError> {
    let mut out = MarkedSolid::default();
    let plain = |sense: Sense| match sense {
        Sense::Inlay => Sense::Sunken,
        Sense::Stamp => Sense::Surface,
        sense => sense,
    };
    type Letter<'a> = (u32, &'a BuiltMark, &'a CharacterBody, &'a Body);
    let letters: Vec<Letter<'_>> =
        marks.iter().flat_map(|(at, m)| m.bodies.iter().zip(&m.operands).map(move |(b, o)| (*at, *m, b, o))).collect();
    for sense in [Sense::Raised, Sense::Sunken, Sense::Surface] {
        let of_sense = || letters.iter().filter(|(_, m, b, _)| plain(m.relief(b.character).sense) == sense);
        let operands: Vec<Body> = of_sense().map(|(.., o)| (*o).clone()).collect();
        let Some((first, rest)) = operands.split_first() else { continue };
        let known: Known<'_> = of_sense().map(|(at, _, body, o)| (o.id(), (*at, *body))).collect();
        let mut piece = traced(&first.with(rest, &[])?, None, &known);
        if sense == Sense::Sunken {
            piece.mesh.turn();
        }
        let mut over = HashMap::new();
        for (at, mark, body, _) in of_sense() {
            *over.entry((*at, body.character)).or_insert(false) |= hangs_over(body, &mark.seat);
        }
        let seats: HashMap<u32, u32> = of_sense().map(|(at, m, ..)| (*at, m.seat.face)).collect();
        for tag in &mut piece.tags {
            if let Tag::Relief { mark, character, role: Role::Base } = *tag {
                *tag = if over[&(mark, character)] {
                    Tag::Relief { mark, character, role: Role::Skirt }
                } else {
                    Tag::Under { face: seats[&mark] }
                };
            }
        }
        out.append(&piece.mesh, piece.tags);
    }
    Ok(out)
}

/// `solid` with what fills the pockets of its inlays beside it, for looking at; `None` where nothing does.
#[must_use]
pub fn filled(solid: &MarkedSolid, marks: &[(u32, &BuiltMark)]) -> Option<MarkedSolid> {
    let mut out = None;
    for &(mark, built) in marks {
        for body in &built.fillings {
            let tag = Tag::Relief { mark, character: body.character, role: Role::Top };
            out.get_or_insert_with(|| solid.clone()).append(&body.mesh, body.roles.iter().map(|_| tag));
        }
    }
    out
}

/// The same with films over what its marks keep free, for looking at.
#[must_use]
pub fn looked_at(solid: &MarkedSolid, marks: &[(u32, &BuiltMark)]) -> Option<MarkedSolid> {
    let mut out = filled(solid, marks);
    for &(mark, built) in marks {
        for body in &built.free {
            let tag = |role: &Role| Tag::Relief { mark, character: body.character, role: *role };
            out.get_or_insert_with(|| solid.clone()).append(&body.mesh, body.roles.iter().map(tag));
        }
    }
    out
}

/// Films, such as those of surface-only lettering, as they lie on their seat: open patches without height.
#[must_use]
pub fn patches(films: &[CharacterBody]) -> Mesh {
    let mut out = MarkedSolid::default();
    for body in films {
        let mut patch = body.mesh.clone();
        patch.triangles =
            (0..body.roles.len()).filter(|&t| body.roles[t] == Role::Base).map(|t| body.mesh.triangles[t]).collect();
        // an underside looks down
        patch.turn();
        out.append(&patch, []);
    }
    out.mesh
}

/// Does a body that is joined to nothing reach past the edge of its face?
fn hangs_over(body: &CharacterBody, seat: &Seat) -> bool {
    let base = (0..body.roles.len() as u32).filter(|&t| body.roles[t as usize] == Role::Base);
    let rings: Vec<Vec<DVec2>> = contour::loops(&body.mesh, base)
        .into_iter()
        .map(|ring| {
            let mut ring = unroll(&*seat.chart, ring.into_iter().map(|v| body.mesh.vertices[v as usize]));
            ring.pop();
            ring
        })
        .collect();
    !seat.holds(&rings)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A tetrahedron, `size` mm along each axis.
    fn crumb(at: DVec3, size: f64) -> Mesh {
        let corners = [DVec3::ZERO, DVec3::X, DVec3::Y, DVec3::Z].map(|p| at + p * size);
        Mesh { vertices: corners.to_vec(), triangles: vec![[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]] }
    }

    #[test]
    fn crumbs_are_left_out_and_small_pieces_are_not() {
        let mut solid = MarkedSolid::default();
        let relief = Tag::Relief { mark: 0, character: 0, role: Role::Wall };
        solid.append(&crumb(DVec3::ZERO, 10.0), [Tag::Part { face: 0 }; 4]);
        solid.append(&crumb(DVec3::splat(20.0), 0.002), [relief; 4]);
        solid.append(&crumb(DVec3::splat(30.0), 0.05), [relief; 4]);
        solid.append(&crumb(DVec3::splat(25.0), 0.002), [Tag::Part { face: 1 }; 4]);
        let told = without_specks(solid);
        assert_eq!((told.mesh.triangles.len(), told.mesh.vertices.len(), told.tags.len()), (12, 12, 12));
        assert_eq!(told.mesh.bounds().1, DVec3::splat(30.0).with_x(30.05).max(DVec3::splat(30.05)));
    }
}
