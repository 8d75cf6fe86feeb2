//! Is an edge between two flats a crease of the part, or does a smooth surface bend there?
//!
//! A surface that was divided into facets bends at all of them, by about as much at one as at the next: going on
//! square to the edge over either facet, one comes to three more such bends within a few facets' widths, or to one that
//! is just alike. Over a crease one comes to none, or to fewer. What is so slight that no facet lies off a smooth surface by more than a few tolerances is
//! never a crease.

use super::flats::{Adjacent, Flat};
use crate::mesh::Mesh;
use glam::DVec3;

/// Edges sharper than this are creases whatever lies beyond them: 11 facets a turn.
pub(super) const SHARP_DEG: f64 = 32.0;
/// Facets that lie off the smooth surface by at most so many tolerances don't matter.
const SLIGHT: f64 = 3.0;
/// So many widths of the facet beside the edge are looked over on each side.
const FAR: f64 = 4.0;
/// At least so many bends are found there, each at least this share of the edge's own, and together so many times it.
const BENDS: usize = 3;
const A_BEND: f64 = 0.1;
const GOES_ON: f64 = 1.2;
/// An edge that bends by more than so many times the next bends stands out from them.
const STANDS_OUT: f64 = 2.0;
/// Facets are divided alike where one is at most so many times as wide as the next.
const ALIKE: f64 = 5.0;
/// Bends and widths within this share of one another are equal.
const EQUAL: f64 = 0.03;
/// Lines this parallel lie across one another from a facet; one with more lines than this isn't gone through.
const ACROSS: f64 = 0.8;
const MOST_LINES: usize = 24;
/// A flat is come to where more than this share of the first one's width is gone over it.
const TOUCHED: f64 = 1e-3;
/// Facets that are passed at most.
const MOST_PASSED: usize = 400;
/// A facet that ribs or holes cut is as wide as all that is left of it, in no more triangles than these.
const MOST_CUT: usize = 64;

/// The whole line that two flats share.
#[derive(Clone, Copy)]
pub(super) struct Line {
    pub(super) other: u32,
    /// Sums over its edges, in one sense along it: of the edges, and of their middles by their lengths.
    pub(super) along: DVec3,
    pub(super) middle: DVec3,
    pub(super) length: f64,
}

/// The flat of each triangle, the outward unit normal of each flat, and the lines round it.
pub(super) struct Bends<'a> {
    pub(super) mesh: &'a Mesh,
    pub(super) beside: &'a [[Adjacent; 3]],
    pub(super) flat_of: &'a [u32],
    pub(super) flats: &'a [Flat],
    pub(super) normals: &'a [DVec3],
    pub(super) lines: &'a [Vec<Line>],
    pub(super) tolerance: f64,
}

/// What is come to beyond one side of an edge.
#[derive(Default)]
struct Beyond {
    /// Widths of the flat beside the edge and of the next one, mm.
    widths: [f64; 2],
    /// The bend between those two, in the sense of the edge's own, radians.
    bend: Option<f64>,
    /// What the surface turned at all bends, in either sense, and at the greatest, radians; and how many there were. In
    /// saddles the facets' edges bend this way and that.
    turn: f64,
    most: f64,
    bends: usize,
}

/// What is looked for beyond an edge.
#[derive(Clone, Copy)]
struct About {
    /// The direction about which turns count.
    axis: DVec3,
    /// Of the flat beside the edge, mm.
    width: f64,
    /// The least bend that counts, radians.
    least: f64,
}

impl Beyond {
    /// From a flat with one normal to one with another.
    fn turned(&mut self, from: DVec3, to: DVec3, about: About) {
        let bend = about.axis.dot(from.cross(to)).atan2(from.dot(to));
        self.bends += usize::from(bend.abs() >= about.least);
        self.most = self.most.max(bend.abs());
        self.turn += bend.abs();
        self.bend.get_or_insert(bend);
    }
}

impl Bends<'_> {
    /// Does the surface run on smoothly from one triangle over its edge `k` (from corner `k` to the next)?
    pub(super) fn smooth(&self, triangle: u32, k: usize, other: u32, back: usize) -> bool {
        let [one, two] = [triangle, other].map(|t| self.normals[self.flat_of[t as usize] as usize]);
        let angle = one.angle_between(two);
        if angle > SHARP_DEG.to_radians() {
            return false;
        }
        let corners = self.mesh.corners(triangle as usize);
        let (from, to) = (corners[k], corners[(k + 1) % 3]);
        let Some(along) = (to - from).try_normalize() else { return true };
        let middle = (from + to) / 2.0;
        let sense = along.dot(one.cross(two)).signum();
        // into either flat; an edge runs the other way in its other triangle
        let sides = [(triangle, k, one, along), (other, back, two, -along)];
        let widths = sides.map(|(t, k, n, d)| {
            let here = self.go(t, k, middle, n.cross(d), None).widths[0];
            here.max(self.reach(self.flat_of[t as usize], middle, n.cross(d)))
        });
        let mean = (widths[0] + widths[1]) / 2.0;
        if angle * mean / 8.0 <= SLIGHT * self.tolerance {
            return true;
        }
        let narrower = widths[0].min(widths[1]);
        let even = (widths[0] - widths[1]).abs() <= EQUAL * widths[0].max(widths[1]);
        let (mut goes_on, mut count, mut most) = (0.0, 0, 0.0_f64);
        for ((t, k, n, d), width) in sides.into_iter().zip(widths) {
            if width > ALIKE * narrower {
                continue;
            }
            let about = About { axis: -d * sense, width, least: A_BEND * angle };
            let straight = self.go(t, k, middle, n.cross(d), Some(about));
            let through = self.through(self.flat_of[t as usize], middle, n.cross(d), about);
            let mut best = (0.0, 0);
            for beyond in [straight, through] {
                let Some(bend) = beyond.bend else { continue };
                let (next, equal) = (beyond.widths[1], |a: f64, b: f64| (a - b).abs() <= EQUAL * b);
                if even && (equal(bend, angle) && equal(next, width) || equal(bend, angle / 2.0)) {
                    return true;
                }
                if next * ALIKE >= width && beyond.turn > best.0 {
                    best = (beyond.turn, beyond.bends);
                    most = most.max(beyond.most);
                }
            }
            goes_on += best.0;
            count += best.1;
        }
        count >= BENDS && goes_on >= GOES_ON * angle && angle <= STANDS_OUT * most
    }

    /// How far a flat of few triangles reaches ahead of a place, mm; 0 for others.
    fn reach(&self, flat: u32, at: DVec3, ahead: DVec3) -> f64 {
        let own = &self.flats[flat as usize].triangles;
        let few = own.iter().filter(|_| own.len() <= MOST_CUT);
        few.flat_map(|&t| self.mesh.corners(t as usize)).map(|p| (p - at).dot(ahead)).fold(0.0, f64::max)
    }

    /// From line to line across flats that lie side by side, as the facets of narrow bands do.
    fn through(&self, first: u32, at: DVec3, ahead: DVec3, about: About) -> Beyond {
        let mut out = Beyond::default();
        let (mut flat, mut at, mut ahead, mut far) = (first, at, ahead, 0.0);
        for left in 0..MOST_PASSED {
            let normal = self.normals[flat as usize];
            let lines = &self.lines[flat as usize];
            if lines.len() > MOST_LINES {
                break;
            }
            let aside = normal.cross(ahead);
            let across = lines.iter().filter_map(|line| {
                let way = (line.middle / line.length - at).dot(ahead);
                let parallel = line.along.dot(aside).abs() > ACROSS * line.along.length();
                let sharp = normal.angle_between(self.normals[line.other as usize]) > SHARP_DEG.to_radians();
                (parallel && !sharp && way > 1e-9).then_some((way, line))
            });
            let Some((way, line)) = across.max_by(|a, b| a.1.length.total_cmp(&b.1.length)) else { break };
            if let Some(width) = out.widths.get_mut(left) {
                *width += way;
            }
            far += way;
            if far > about.width * (1.0 + FAR) {
                break;
            }
            at = line.middle / line.length;
            flat = line.other;
            let onto = self.normals[flat as usize];
            out.turned(normal, onto, about);
            let Some(next) = line.along.cross(onto).try_normalize() else { break };
            ahead = if next.dot(ahead) < 0.0 { -next } else { next };
        }
        out
    }

    /// Straight on from `at` on edge `k` of a triangle: with `about` over all that is near, else only to where the first
    /// flat ends.
    fn go(&self, triangle: u32, k: usize, at: DVec3, ahead: DVec3, about: Option<About>) -> Beyond {
        let mut out = Beyond::default();
        let (mut t, mut entered, mut at, mut ahead) = (triangle, k, at, ahead);
        let mut flat = self.flat_of[t as usize];
        let (mut passed, mut far) = (0, 0.0);
        // a flat that is only touched at a corner is none that is come to
        let mut entered_flat = flat;
        for _ in 0..MOST_PASSED {
            let corners = self.mesh.corners(t as usize);
            // a sliver's own normal means nothing
            let own = self.normals[self.flat_of[t as usize] as usize];
            let Some(along) = ahead.reject_from_normalized(own).try_normalize() else { break };
            // the edge through which the triangle is left
            let leaves = (0..3).filter(|&e| e != entered).filter_map(|e| {
                let (a, b) = (corners[e], corners[(e + 1) % 3]);
                let outward = (b - a).cross(own).try_normalize()?;
                let toward = along.dot(outward);
                (toward > 1e-9).then(|| (((a - at).dot(outward) / toward).max(0.0), e))
            });
            let Some((way, e)) = leaves.min_by(|a, b| a.0.total_cmp(&b.0)) else { break };
            at += along * way;
            far += way;
            if let Some(about) = about.filter(|about| entered_flat != flat && way > TOUCHED * about.width) {
                out.turned(self.normals[flat as usize], self.normals[entered_flat as usize], about);
                flat = entered_flat;
                passed += 1;
            }
            if let Some(width) = out.widths.get_mut(passed).filter(|_| entered_flat == flat) {
                // a facet is as wide as it reaches, wherever it is crossed
                let reach = corners.map(|p| (p - at).dot(along));
                let own = reach.iter().fold(0.0, |most: f64, r| most.max(*r))
                    - reach.iter().fold(0.0, |least: f64, r| least.min(*r));
                *width = (*width + way).max(own);
            }
            let Adjacent { triangle: next, edge } = self.beside[t as usize][e];
            if next == u32::MAX {
                break;
            }
            let onto = self.flat_of[next as usize];
            if onto != entered_flat {
                let from = self.normals[entered_flat as usize];
                let sharp = from.angle_between(self.normals[onto as usize]) > SHARP_DEG.to_radians();
                if sharp || about.is_none_or(|about| far > about.width * (1.0 + FAR)) {
                    break;
                }
                entered_flat = onto;
            }
            ahead = along;
            (t, entered) = (next, edge as usize);
        }
        out
    }
}
