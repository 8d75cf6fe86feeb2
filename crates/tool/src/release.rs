//! Which steel forms which piece of the surface, and does it get away?
//!
//! A steel that leaves along the unit vector p frees a place with outward normal n where its draft
//! δ = asin(n · p) is not negative and nothing of the part lies on the way out along p. The halves
//! come first: what either of them frees belongs to the one with more draft; a slide takes what
//! neither frees, of several the one with most draft; what was given to a steel by hand belongs to
//! it. So a wall is never judged by a slide that has not been said to form it, where a half could.

use crate::{
    divided::{Divided, normal},
    parting::{Segment, lines},
    region::Region,
};
use glam::DVec3;
use rayon::prelude::*;
use solid::segment::foot;
use solid::{Part, queries::Queries};
use std::sync::Arc;
use trade::{Parting, Tool};

/// Sine of the draft that still counts as parallel: 0.006°, above the rounding of single-precision
/// files.
const PARALLEL: f64 = 1e-4;
/// Rays start this far off the surface, mm: over the length of a part they stay clear of a wall that
/// stands parallel to them.
const OFF: f64 = 0.01;

/// What forms a place of the surface.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Verdict {
    /// Place in [`Tool::steels`]; `None`: no steel of the tool can free it.
    pub steel: Option<u8>,
    /// Degrees against its steel's pull; where none frees it, against the one that comes nearest.
    pub draft: f64,
    /// It leaves. A place given by hand may not.
    pub free: bool,
}

/// The steels of a tool round a part.
pub struct Steels {
    part: Arc<Part>,
    surface: Arc<Queries>,
    /// Unit vectors, in the order of [`Tool::steels`].
    pub pulls: Vec<DVec3>,
    /// The first two of them are the halves.
    halves: bool,
    /// The halves' parting line: which half has walls that stand parallel to both.
    line: Vec<Segment>,
    assigned: Vec<(Region, usize)>,
}

impl Steels {
    /// How much memory it takes beside the part's own, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        size_of_val(&self.line[..]) + self.assigned.iter().map(|(region, _)| region.bytes()).sum::<usize>()
    }

    /// `surface` are queries against `part`'s own mesh.
    #[must_use]
    pub fn new(part: Arc<Part>, surface: Arc<Queries>, tool: &Tool) -> Self {
        let steels = tool.steels();
        let pulls = steels.iter().map(|(_, p)| DVec3::from(*p).normalize_or_zero()).collect();
        let line = tool
            .parting
            .iter()
            .zip(lines(&part, tool))
            .filter(|(p, _)| !matches!(p, Parting::Silhouette { slide: Some(_) }))
            .flat_map(|(_, line)| line.segments)
            .collect();
        let assigned = tool
            .assigned
            .iter()
            .filter_map(|g| {
                let at = steels.iter().position(|(s, _)| *s == g.to)?;
                Some((Region::new(&g.area, &part, &surface), at))
            })
            .collect();
        Self { part, surface, pulls, halves: tool.pull.is_some(), line, assigned }
    }

    /// What forms the place `p` of the part's triangle `triangle`.
    #[must_use]
    pub fn forms(&self, triangle: u32, p: DVec3) -> Verdict {
        let n = normal(&self.part, triangle, p);
        let sine = |s: usize| n.dot(self.pulls[s]).clamp(-1.0, 1.0);
        let verdict = |s: usize, free: bool| Verdict { steel: Some(s as u8), draft: sine(s).asin().to_degrees(), free };
        let face = self.part.face_of[triangle as usize];
        if let Some((_, s)) = self.assigned.iter().rev().find(|(r, _)| r.covers(face, p, n)) {
            return verdict(*s, self.frees(*s, p, n));
        }
        let mut order: Vec<usize> = (0..self.pulls.len()).collect();
        order.sort_by(|&a, &b| {
            let half = |s: usize| self.halves && s < 2;
            half(b).cmp(&half(a)).then(self.rank(b, p, n).total_cmp(&self.rank(a, p, n)))
        });
        if let Some(&s) = order.iter().find(|&&s| self.frees(s, p, n)) {
            return verdict(s, true);
        }
        let nearest = (0..self.pulls.len()).map(sine).fold(f64::NEG_INFINITY, f64::max);
        Verdict { steel: None, draft: nearest.asin().to_degrees(), free: false }
    }

    /// The more the sooner. Walls parallel to the halves' pull belong to the half on whose side of
    /// the nearest place of the parting line they lie; without a line to the second.
    fn rank(&self, s: usize, p: DVec3, n: DVec3) -> f64 {
        let sine = n.dot(self.pulls[s]);
        if !self.halves || s > 1 || sine.abs() > PARALLEL {
            return sine;
        }
        if self.is_above(p) == (s == 0) { PARALLEL } else { 0.0 }
    }

    fn is_above(&self, p: DVec3) -> bool {
        let nearest = self.line.iter().map(|piece| foot(p, *piece));
        let nearest = nearest.min_by(|a, b| a.distance_squared(p).total_cmp(&b.distance_squared(p)));
        nearest.is_some_and(|on| p.dot(self.pulls[0]) >= on.dot(self.pulls[0]))
    }

    fn frees(&self, s: usize, p: DVec3, n: DVec3) -> bool {
        n.dot(self.pulls[s]) >= -PARALLEL
            && self.surface.first_hit(p + n * OFF, self.pulls[s], 0.0, f64::MAX, |_| true).is_none()
    }
}

/// One verdict for each piece of `surface`.
#[must_use]
pub fn release(steels: &Steels, surface: &Divided) -> Vec<Verdict> {
    if steels.pulls.is_empty() {
        return Vec::new();
    }
    surface.pieces.par_iter().map(|piece| steels.forms(piece.of, piece.centroid())).collect()
}

/// What no steel frees.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Caught {
    /// Facets of the part of which at least a piece is caught.
    pub facets: usize,
    /// mm².
    pub area: f64,
}

#[must_use]
pub fn caught(surface: &Divided, verdicts: &[Verdict]) -> Caught {
    let mut caught = Caught::default();
    let mut last = None;
    // the pieces of one facet stand together
    for (piece, _) in surface.pieces.iter().zip(verdicts).filter(|(_, v)| !v.free) {
        caught.area += piece.area();
        caught.facets += usize::from(last.replace(piece.of) != Some(piece.of));
    }
    caught
}

#[cfg(test)]
mod tests {
    use super::*;
    use solid::boolean::Body;
    use trade::{Area, Assigned, Slide, Steel};

    /// A block 20 × 20 × 10 with a hole Ø6 through it along x, and a blind groove under its top.
    fn block() -> Part {
        let body = |m: &solid::Mesh| Body::new(m, "a piece").unwrap();
        let whole = body(&demo::shapes::block(DVec3::ZERO, DVec3::new(20.0, 20.0, 10.0)));
        let hole = body(&demo::shapes::cylinder(DVec3::new(-1.0, 10.0, 5.0), DVec3::X * 22.0, 3.0));
        Part::from_mesh(&whole.with(&[], &[hole]).unwrap().traced().mesh).unwrap()
    }

    fn tool(slides: Vec<Slide>) -> Tool {
        Tool { pull: Some([0.0, 0.0, 1.0]), slides, parting: vec![Parting::Plane { height: 4.0 }], ..Tool::default() }
    }

    fn side_core() -> Slide {
        Slide { name: "side core".into(), pull: [1.0, 0.0, 0.0] }
    }

    fn judge(part: &Part, tool: &Tool) -> (Divided, Vec<Verdict>) {
        let (queries, surface) = (Arc::new(Queries::new(part.mesh.clone())), Divided::of(part));
        let verdicts = release(&Steels::new(Arc::new(part.clone()), queries, tool), &surface);
        (surface, verdicts)
    }

    fn bore(part: &Part) -> u32 {
        part.faces.iter().position(|f| f.surface.inside()).unwrap() as u32
    }

    #[test]
    fn a_cross_hole_is_caught_until_a_slide_frees_it() {
        let part = block();
        let area = std::f64::consts::TAU * 3.0 * 20.0;
        let (surface, verdicts) = judge(&part, &tool(Vec::new()));
        let before = caught(&surface, &verdicts);
        // all of the bore and nothing else; facets are shorter than their arcs by less than 0.2 %
        assert!((before.area - area).abs() < 0.002 * area, "{before:?}, bore {area}");
        assert_eq!(before.facets, part.faces[bore(&part) as usize].facets);
        let (surface, verdicts) = judge(&part, &tool(vec![side_core()]));
        assert_eq!(caught(&surface, &verdicts), Caught::default());
        for (piece, verdict) in surface.pieces.iter().zip(&verdicts) {
            let in_bore = part.face_of[piece.of as usize] == bore(&part);
            assert_eq!(verdict.steel == Some(2), in_bore, "the slide takes the bore and only that");
            if in_bore {
                assert!(verdict.draft.abs() < 0.01, "a bore along the pull has no draft: {verdict:?}");
            }
        }
    }

    #[test]
    fn upright_walls_belong_to_the_half_on_their_side_of_the_parting_line() {
        let (surface, verdicts) = judge(&block(), &tool(vec![side_core()]));
        for (piece, verdict) in surface.pieces.iter().zip(&verdicts) {
            let at = piece.centroid();
            if at.x < 1e-9 && (at.y - 10.0).hypot(at.z - 5.0) > 3.1 {
                assert_eq!(verdict.steel, Some(u8::from(at.z < 4.0)));
            }
        }
    }

    #[test]
    fn a_face_given_to_a_slide_is_judged_by_it() {
        let part = block();
        let side = part.faces.iter().position(|f| f.surface.normal(DVec3::ZERO) == Some(DVec3::X)).unwrap() as u32;
        let mut tool = tool(vec![side_core()]);
        tool.assigned
            .push(Assigned { area: Area::Faces { faces: vec![side] }, to: Steel::Slide { name: "side core".into() } });
        let (surface, verdicts) = judge(&part, &tool);
        let mut seen = 0;
        for (piece, verdict) in surface.pieces.iter().zip(&verdicts) {
            if part.face_of[piece.of as usize] == side {
                seen += 1;
                assert_eq!(*verdict, Verdict { steel: Some(2), draft: 90.0, free: true });
            }
        }
        assert!(seen > 10);
        // given to the half that would have to tear through it, it is said to be caught
        tool.assigned[0].area = Area::Faces { faces: vec![bore(&part)] };
        tool.assigned[0].to = Steel::Fixed;
        let (surface, verdicts) = judge(&part, &tool);
        assert!(caught(&surface, &verdicts).area > 300.0);
    }

    #[test]
    fn an_overhang_traps_what_has_draft() {
        // a mushroom: the underside of the hat frees downward, the block below it is in the way above its own width
        let body = |low: [f64; 3], high: [f64; 3]| Body::block(low.into(), high.into());
        let mesh = body([-10.0, -10.0, 0.0], [10.0, 10.0, 2.0])
            .with(&[body([-2.0, -2.0, 1.0], [2.0, 2.0, 8.0]), body([-6.0, -6.0, 6.0], [6.0, 6.0, 9.0])], &[])
            .unwrap()
            .traced()
            .mesh;
        let part = Part::from_mesh(&mesh).unwrap();
        let (surface, verdicts) = judge(&part, &Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() });
        // caught: the hat's underside (144 − 16), the top of the plate under the hat (144 − 16), the stem's walls (4 × 4 × 4)
        let want = 128.0 + 128.0 + 64.0;
        let got = caught(&surface, &verdicts).area;
        // pieces that lie across the hat's shadow line count by their middles
        assert!((got - want).abs() < 0.03 * want, "{got} for {want}");
    }
}
