//! One mark in its scene, sorted for the checks: which facets are which character's, their outlines in space and laid flat.

use crate::distance::{self, Lines};
use crate::footprint::Footprint;
use crate::formed::{Formed, formed};
use crate::laid::Laid;
use crate::scene::{Border, Scene};
use flat::{
    disc::{self, Disc},
    neck, signed_area,
};
use glam::{DMat2, DVec2, DVec3};
use rayon::prelude::*;
use relief::{BuiltMark, Role, Seat, Tag, body, body::PAD, seat::Over};
use solid::segment::Segment;
use solid::{
    Mesh, contour,
    topology::{Neighbours, neighbours},
};
use std::collections::{HashMap, HashSet};
use trade::Relief;

/// One mark in its scene, measured.
pub struct Site<'a> {
    pub scene: &'a Scene<'a>,
    /// Its place in the job.
    pub mark: u32,
    pub built: &'a BuiltMark,
    pub characters: Vec<CharacterSite>,
    /// The raised pad or recessed pad that they stand on.
    pub pad: Option<CharacterSite>,
    /// The pull of the steel that forms the mark.
    pub pull: Option<DVec3>,
    /// From each character to the nearest other.
    gaps: Vec<Option<Gap>>,
    /// Faces over whose edge with its own it may run.
    run_over: HashSet<u32>,
}

/// Least distance between two characters at the root, mm, and between which points.
pub type Gap = (f64, DVec3, DVec3);

/// How wide something is, mm, between which places, and by how much of itself it may be off.
#[derive(Clone, Copy, Debug)]
pub struct Opening {
    pub width: f64,
    pub ends: [DVec3; 2],
    pub stretch: f64,
}

impl Opening {
    /// A neck of what is laid flat: as wide as its two sides are apart in space.
    fn neck(laid: &Laid, disc: &Disc) -> Self {
        let ends = disc.touches.map(|p| laid.in_space(p));
        Self { width: ends[0].distance(ends[1]), ends, stretch: laid.stretch }
    }

    /// A disc that touches more than two sides.
    fn disc(laid: &Laid, disc: &Disc) -> Self {
        Self { width: disc.diameter, ends: disc.touches.map(|p| laid.in_space(p)), stretch: laid.stretch }
    }
}

pub struct CharacterSite {
    pub character: u32,
    pub text: String,
    /// Its own relief, and what it stands on.
    pub relief: Relief,
    /// Top or floor facets, walls, and the rounds and bevels of edges and inner corners.
    pub top: Vec<u32>,
    pub walls: Vec<u32>,
    pub rounds: Vec<u32>,
    /// Facets of the far side that should not be seen at all.
    pub skirt: Vec<u32>,
    /// Outline of the top or floor, and of the whole footprint (root or rim).
    pub top_outline: Laid,
    pub root_outline: Laid,
    pub root: Lines,
    /// The surface under it.
    pub footprint: Footprint,
    /// Corners of the box about its root.
    root_box: (DVec3, DVec3),
    /// The narrowest place of its top or floor; of its rim where it goes through on purpose.
    pub stroke: Option<Opening>,
    /// The smallest of its counters and inner spaces at the root.
    pub counter: Option<Opening>,
    /// Greatest and least distance of the top from the seat, mm, and its area-weighted mean.
    pub heights: Option<Heights>,
    pub borders: Vec<Border>,
    /// The parts of the tool that form it, the one that forms most of it first.
    pub steels: Vec<Formed>,
    /// Of the mark, where nobody knows which part of the tool forms the character.
    mark_pull: Option<DVec3>,
}

#[derive(Clone, Copy, Debug)]
pub struct Heights {
    pub least: (f64, DVec3),
    pub mean: f64,
    pub greatest: (f64, DVec3),
}

impl CharacterSite {
    #[must_use]
    pub fn is_sunken(&self) -> bool {
        self.relief.sense.sinks()
    }

    /// What is read of it: the outline of its top or floor; what goes through on purpose is read by its rim.
    #[must_use]
    pub fn read(&self) -> &Laid {
        if self.relief.through && self.top_outline.is_empty() { &self.root_outline } else { &self.top_outline }
    }

    /// Its counters, and its narrowest space between arms or pieces, at the root: a disc in the root's outline, and how wide it is.
    #[must_use]
    pub fn spaces(&self) -> Vec<(Disc, Opening)> {
        let laid = &self.root_outline;
        let counters = laid.rings.iter().filter(|ring| signed_area(ring) < 0.0).filter_map(|ring| disc::largest(ring));
        let space = neck::narrowest_space(&laid.rings).map(|disc| (disc, Opening::neck(laid, &disc)));
        counters.map(|disc| (disc, Opening::disc(laid, &disc))).chain(space).collect()
    }

    /// The narrowest place of what is read of it. What has no two sides opposite one another, such as an arrow's tip, is as
    /// wide as what fits into it.
    #[must_use]
    pub fn narrowest(&self) -> Option<(Disc, Opening)> {
        let read = self.read();
        let outer = || read.rings.iter().filter(|ring| signed_area(ring) > 0.0).filter_map(|ring| disc::largest(ring));
        let largest = || outer().max_by(|a, b| a.diameter.total_cmp(&b.diameter));
        let stroke = neck::narrowest(&read.rings).map(|disc| (disc, Opening::neck(read, &disc)));
        stroke.or_else(|| largest().map(|disc| (disc, Opening::disc(read, &disc))))
    }

    /// Unit vector along which the part of the tool leaves that forms most of it.
    #[must_use]
    pub fn pull(&self) -> Option<DVec3> {
        self.steels.first().map_or(self.mark_pull, |formed| Some(formed.pull))
    }

    /// All facets that have a direction of their own to release in.
    pub fn facets(&self) -> impl Iterator<Item = u32> + '_ {
        self.top.iter().chain(&self.walls).chain(&self.rounds).copied()
    }
}

impl<'a> Site<'a> {
    /// `mark` is the mark's place in the job, as in the solid's tags.
    #[must_use]
    pub fn new(scene: &'a Scene<'a>, mark: u32, built: &'a BuiltMark) -> Self {
        let characters = (0..built.placed.characters.len() as u32)
            .into_par_iter()
            .map(|c| character(scene, mark, c, built))
            .collect();
        let pad = built.pad.is_some().then(|| character(scene, mark, PAD, built));
        let run_over = run_over(scene, built);
        let mut site = Self { scene, mark, built, characters, pad, pull: built.pull, gaps: Vec::new(), run_over };
        site.gaps = site.characters.par_iter().map(|c| site.nearest_other(c, |_| true)).collect();
        site
    }

    /// May the mark run over its edge with this face? Where it opens into any other it has broken through.
    #[must_use]
    pub fn may_run_over(&self, face: u32) -> bool {
        self.run_over.contains(&face)
    }

    #[must_use]
    pub fn id(&self) -> &str {
        &self.built.mark.id
    }

    /// What most of its letters are.
    #[must_use]
    pub fn is_sunken(&self) -> bool {
        self.built.mark.relief.sense.sinks()
    }

    /// The letters, and the pad that they stand on.
    pub fn bodies(&self) -> impl Iterator<Item = &CharacterSite> {
        self.characters.iter().chain(&self.pad)
    }

    /// How high a character was drawn, mm on the strip.
    #[must_use]
    pub fn drawn_height(&self, c: &CharacterSite) -> Option<f64> {
        let placed = self.built.placed.characters.get(c.character as usize)?;
        let (chart, up) = (&self.built.seat_of(c.character).chart, placed.along.perp());
        let ups = || placed.region.contours().flatten().map(|p| chart.unroll(placed.middle, *p).dot(up));
        Some(ups().reduce(f64::max)? - ups().reduce(f64::min)?)
    }

    /// The edges round a pad's top or floor.
    #[must_use]
    pub fn rim(&self, pad: &CharacterSite) -> Vec<Segment> {
        let mesh = self.scene.mesh();
        // letters that stand on it leave holes in it
        let rings = contour::loops(mesh, pad.top.iter().copied());
        let outer = rings.into_iter().max_by(|a, b| reach(mesh, a).total_cmp(&reach(mesh, b)));
        segments(mesh, outer.as_slice())
    }

    /// One figure a letter, computed side by side.
    pub fn each<T: Send>(&self, figure: impl Fn(&CharacterSite) -> T + Sync) -> Vec<(u32, String, T)> {
        self.characters.par_iter().map(|c| (c.character, c.text.clone(), figure(c))).collect()
    }

    /// The same with the pad as one more.
    pub fn each_body<T: Send>(&self, figure: impl Fn(&CharacterSite) -> T + Sync) -> Vec<(u32, String, T)> {
        let mut out = self.each(&figure);
        out.extend(self.pad.iter().map(|c| (c.character, c.text.clone(), figure(c))));
        out
    }

    /// One figure for each letter that is sunken, or that isn't.
    pub fn each_of<T: Send>(&self, sunken: bool, figure: impl Fn(&CharacterSite) -> T + Sync) -> Vec<(u32, String, T)> {
        of_those_asked(self.each(|c| (c.is_sunken() == sunken).then(|| figure(c))))
    }

    /// The same with the pad as one more.
    pub fn each_body_of<T: Send>(
        &self,
        sunken: bool,
        figure: impl Fn(&CharacterSite) -> T + Sync,
    ) -> Vec<(u32, String, T)> {
        of_those_asked(self.each_body(|c| (c.is_sunken() == sunken).then(|| figure(c))))
    }

    /// The gap from a character to the nearest other.
    #[must_use]
    pub fn gap(&self, c: &CharacterSite) -> Option<Gap> {
        *self.gaps.get(c.character as usize)?
    }

    /// The gap from a character to the nearest of those that are wanted.
    pub fn nearest_other(&self, c: &CharacterSite, wanted: impl Fn(&CharacterSite) -> bool) -> Option<Gap> {
        let (low, high) = c.root_box;
        let apart = |o: &CharacterSite| (o.root_box.0 - high).max(low - o.root_box.1).max(DVec3::ZERO).length();
        let others = self.characters.iter().filter(|o| o.character != c.character && !o.root.is_empty() && wanted(o));
        let mut others: Vec<(f64, &CharacterSite)> = others.map(|o| (apart(o), o)).collect();
        others.sort_by(|a, b| a.0.total_cmp(&b.0));
        let mut best: Option<Gap> = None;
        for (apart, other) in others {
            // boxes farther apart than this hold nothing that is nearer
            if best.is_some_and(|(d, ..)| apart > d) {
                break;
            }
            let near = distance::least(&c.root, &other.root);
            best = [best, near].into_iter().flatten().min_by(|a, b| a.0.total_cmp(&b.0));
        }
        best
    }
}

pub(crate) fn character(scene: &Scene<'_>, mark: u32, character: u32, built: &BuiltMark) -> CharacterSite {
    let mesh = scene.mesh();
    let letter = built.placed.characters.get(character as usize);
    let pad = || built.mark.relief.pad.map_or("pad", |p| p.form.word()).to_owned();
    let middle = letter.map_or(built.placed.middle, |c| c.middle);
    let mut site = CharacterSite {
        character,
        text: letter.map_or_else(pad, |c| c.text.clone()),
        relief: built.relief(character),
        top: Vec::new(),
        walls: Vec::new(),
        rounds: Vec::new(),
        skirt: Vec::new(),
        top_outline: Laid::default(),
        root_outline: Laid::default(),
        root: Lines::default(),
        root_box: (DVec3::INFINITY, DVec3::NEG_INFINITY),
        footprint: Footprint::default(),
        stroke: None,
        counter: None,
        heights: None,
        borders: scene.borders.get(&(mark, character)).cloned().unwrap_or_default(),
        steels: Vec::new(),
        mark_pull: built.pull,
    };
    let Some(facets) = scene.facets.get(&(mark, character)) else { return site };
    for &t in facets {
        match scene.solid.tags[t as usize] {
            Tag::Relief { role: Role::Top | Role::Floor, .. } => site.top.push(t),
            Tag::Relief { role: Role::Wall, .. } => site.walls.push(t),
            Tag::Relief { role: Role::Edge | Role::Root, .. } => site.rounds.push(t),
            _ => site.skirt.push(t),
        }
    }
    let seat = built.seat_of(character);
    let chart = &seat.chart;
    let lying = Lying::new(mesh, &site, seat);
    let strip = |v: u32| chart.unroll(middle, lying.at(v).at);
    let high = body::built_as(&site.relief).height;
    let level = if site.is_sunken() { -high } else { high };
    let tops = contour::loops(mesh, site.top.iter().copied());
    site.top_outline = Laid::of_facets(mesh, &site.top, &tops, strip, (metric(seat, middle, level), is_creased(seat)));
    let root = contour::loops(mesh, facets.iter().copied());
    let foot = (&lying.foot, &lying.numbers[..]);
    site.root_outline = Laid::of_rings(mesh, &root, foot, strip, metric(seat, middle, 0.0));
    site.root = Lines::new(segments(mesh, &root));
    let ends = || site.root.iter().flatten().copied();
    site.root_box = (ends().fold(DVec3::INFINITY, DVec3::min), ends().fold(DVec3::NEG_INFINITY, DVec3::max));
    site.footprint = Footprint::new((0..lying.foot.triangles.len()).map(|t| lying.foot.corners(t)).collect());
    site.steels = formed(scene, &site.root, &site.footprint, seat);
    if character != PAD {
        let least = |all: Vec<(Disc, Opening)>| all.into_iter().min_by(|a, b| a.1.width.total_cmp(&b.1.width));
        site.counter = least(site.spaces()).map(|(_, opening)| opening);
        site.stroke = site.narrowest().map(|(_, opening)| opening);
    }
    site.heights = heights(mesh, &site.top, seat, |v| lying.at(v).height);
    site
}

/// The faces that the seat borders on near the mark, where the mark may run over its edges.
fn run_over(scene: &Scene<'_>, built: &BuiltMark) -> HashSet<u32> {
    if !built.mark.relief.runs_out {
        return HashSet::new();
    }
    let (low, high) = built.bounds();
    let near = scene.bare.in_box(low, high);
    let (piece, _) = scene.bare.mesh().piece(&near);
    let faces = |pair: &Neighbours| pair.triangles.map(|t| scene.face_of[near[t as usize] as usize]);
    let beside = neighbours(&piece).into_iter().filter_map(|pair| match faces(&pair).map(|f| (f, built.seat.has(f))) {
        [(_, true), (other, false)] | [(other, false), (_, true)] => Some(other),
        _ => None,
    });
    beside.collect()
}

/// Where the vertices of a character lie about its seat, each asked for once.
struct Lying {
    of: HashMap<u32, Over>,
    /// Its facets brought down, or up, to the surface that it stands on, and what their vertices are called in the mesh.
    foot: Mesh,
    numbers: Vec<u32>,
}

impl Lying {
    fn new(mesh: &Mesh, site: &CharacterSite, seat: &Seat) -> Self {
        let mut facets: Vec<u32> = site.facets().collect();
        let seen = facets.len();
        facets.extend(&site.skirt);
        let (mut foot, numbers) = mesh.piece(&facets);
        foot.triangles.truncate(seen);
        let over: Vec<Over> = foot.vertices.iter().map(|&p| seat.lies(p)).collect();
        foot.vertices = foot.vertices.iter().zip(&over).map(|(p, o)| *p - o.out * o.height).collect();
        Self { of: numbers.iter().copied().zip(over).collect(), foot, numbers }
    }

    fn at(&self, v: u32) -> Over {
        self.of[&v]
    }
}

/// Does it turn by about 20° or more over creases? Its facets are bridged there by so much, mm.
pub(crate) fn is_creased(seat: &Seat) -> bool {
    seat.chart.bridges() > 2.6e-3
}

/// Squares of what the strip's lengths are round about one of its places, `level` mm outward from the seat.
fn metric(seat: &Seat, middle: DVec2, level: f64) -> DMat2 {
    const STEP: f64 = 0.02;
    let chart = &seat.chart;
    let way = |by: DVec2| {
        let [from, to] = [-by, by].map(|by| chart.point(chart.roll(middle, by * STEP), level));
        (to - from) / (2.0 * STEP)
    };
    let (x, y) = (way(DVec2::X), way(DVec2::Y));
    DMat2::from_cols(DVec2::new(x.dot(x), x.dot(y)), DVec2::new(x.dot(y), y.dot(y)))
}

/// Diagonal of the box round a ring of vertices, mm.
fn reach(mesh: &Mesh, ring: &[u32]) -> f64 {
    let points = || ring.iter().map(|&v| mesh.vertices[v as usize]);
    let low = points().fold(DVec3::INFINITY, DVec3::min);
    (points().fold(DVec3::NEG_INFINITY, DVec3::max) - low).length()
}

/// The edges of rings of vertices.
fn segments(mesh: &Mesh, rings: &[Vec<u32>]) -> Vec<Segment> {
    rings
        .iter()
        .flat_map(|r| (0..r.len()).map(|k| [r[k], r[(k + 1) % r.len()]].map(|v| mesh.vertices[v as usize])))
        .collect()
}

fn heights(mesh: &Mesh, top: &[u32], seat: &Seat, corner: impl Fn(u32) -> f64) -> Option<Heights> {
    let mut found: Option<Heights> = None;
    let (mut sum, mut area) = (0.0, 0.0);
    // facets share corners and edges: each place is asked of once
    let mut known: HashMap<[u32; 2], f64> = HashMap::new();
    for &t in top {
        let [i, j, k] = mesh.triangles[t as usize];
        let own = mesh.area(t as usize);
        let mut at = |i: u32, j: u32| {
            let p = (mesh.vertices[i as usize] + mesh.vertices[j as usize]) / 2.0;
            let height = || if i == j { corner(i) } else { seat.height(p) };
            (p, *known.entry([i.min(j), i.max(j)]).or_insert_with(|| height().abs()))
        };
        let middle = mesh.centroid(t as usize);
        let mean = seat.height(middle).abs();
        // corners, middles of edges, middle of the facet
        for (p, h) in [at(i, i), at(j, j), at(k, k), at(i, j), at(j, k), at(k, i), (middle, mean)] {
            let so_far = found.get_or_insert(Heights { least: (h, p), mean: 0.0, greatest: (h, p) });
            if h < so_far.least.0 {
                so_far.least = (h, p);
            }
            if h > so_far.greatest.0 {
                so_far.greatest = (h, p);
            }
        }
        sum += own * mean;
        area += own;
    }
    found.map(|f| Heights { mean: sum / f64::max(area, f64::MIN_POSITIVE), ..f })
}

/// Of figures that were asked for some letters only, those.
fn of_those_asked<T>(each: Vec<(u32, String, Option<T>)>) -> Vec<(u32, String, T)> {
    each.into_iter().filter_map(|(k, text, found)| Some((k, text, found?))).collect()
}
