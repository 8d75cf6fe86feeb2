//! One mark in its scene, sorted for the checks: which facets are which character's, their outlines in space and laid flat.

use crate::scene::{Border, Scene};
use flat::signed_area;
use glam::{DVec2, DVec3};
use rayon::prelude::*;
use relief::{BuiltMark, Role, Seat, Tag, body::PAD};
use solid::segment::Segment;
use solid::{Mesh, contour};
use trade::Relief;

/// Facets thinner than this say nothing by their normal, mm.
pub const THINNEST: f64 = 1e-5;

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
}

pub struct CharacterSite {
    pub character: u32,
    pub text: String,
    /// Its own relief, and what it stands on.
    pub relief: Relief,
    /// Top or floor facets, and walls.
    pub top: Vec<u32>,
    pub walls: Vec<u32>,
    /// Facets of the far side that should not be seen at all.
    pub skirt: Vec<u32>,
    /// Its middle on the strip. The outlines are laid flat about it: lengths are true there, and to
    /// the second order in letter size over radius at their ends.
    pub middle: DVec2,
    /// Outline of the top or floor, laid flat, material to the left.
    pub top_outline: Vec<Vec<DVec2>>,
    /// Outline of the whole footprint (root or rim), laid flat, and in space.
    pub root_outline: Vec<Vec<DVec2>>,
    pub root: Vec<Segment>,
    /// Greatest and least distance of the top from the seat, mm, and its area-weighted mean.
    pub heights: Option<Heights>,
    pub borders: Vec<Border>,
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

    /// Separate pieces and counters of an outline.
    #[must_use]
    pub fn count(outline: &[Vec<DVec2>]) -> (usize, usize) {
        let islands = outline.iter().filter(|c| signed_area(c) > 0.0).count();
        (islands, outline.len() - islands)
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
        Self { scene, mark, built, characters, pad, pull: built.pull }
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

    /// A point of space laid flat about a character's middle, and how far outward it lies, mm.
    #[must_use]
    pub fn laid_flat(&self, c: &CharacterSite, p: DVec3) -> (DVec2, f64) {
        let chart = &self.built.seat_of(c.character).chart;
        let (at, height) = chart.strip(p);
        (chart.unroll(c.middle, at), height)
    }

    /// A place laid flat about a character's middle, on the top or floor.
    #[must_use]
    pub fn on_top(&self, c: &CharacterSite, at: DVec2) -> DVec3 {
        let h = relief::body::built_as(&c.relief).height;
        let chart = &self.built.seat_of(c.character).chart;
        chart.point(chart.roll(c.middle, at), if c.is_sunken() { -h } else { h })
    }

    /// A place laid flat about a character's middle, on the seat.
    #[must_use]
    pub fn on_seat(&self, c: &CharacterSite, at: DVec2) -> DVec3 {
        let chart = &self.built.seat_of(c.character).chart;
        chart.point(chart.roll(c.middle, at), 0.0)
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
}

pub(crate) fn character(scene: &Scene<'_>, mark: u32, character: u32, built: &BuiltMark) -> CharacterSite {
    let mesh = scene.mesh();
    let letter = built.placed.characters.get(character as usize);
    let pad = || built.mark.relief.pad.map_or("pad", |p| p.form.word()).to_owned();
    let middle = letter.map_or(built.placed.middle, |c| c.middle);
    let mut site = CharacterSite {
        character,
        middle,
        text: letter.map_or_else(pad, |c| c.text.clone()),
        relief: built.relief(character),
        top: Vec::new(),
        walls: Vec::new(),
        skirt: Vec::new(),
        top_outline: Vec::new(),
        root_outline: Vec::new(),
        root: Vec::new(),
        heights: None,
        borders: scene.borders.get(&(mark, character)).cloned().unwrap_or_default(),
    };
    let Some(facets) = scene.facets.get(&(mark, character)) else { return site };
    for &t in facets {
        match scene.solid.tags[t as usize] {
            Tag::Relief { role: Role::Top | Role::Floor, .. } => site.top.push(t),
            Tag::Relief { role: Role::Wall, .. } => site.walls.push(t),
            // they lean more than the wall that they belong to
            Tag::Relief { role: Role::Edge | Role::Root, .. } => {}
            _ => site.skirt.push(t),
        }
    }
    let seat = built.seat_of(character);
    let chart = &seat.chart;
    let strip = |v: u32| chart.unroll(middle, chart.strip(mesh.vertices[v as usize]).0);
    let flat = |rings: &[Vec<u32>]| -> Vec<Vec<DVec2>> {
        rings.iter().map(|r| r.iter().map(|&v| strip(v)).collect()).collect()
    };
    site.top_outline = flat(&contour::loops(mesh, site.top.iter().copied()));
    let root = contour::loops(mesh, facets.iter().copied());
    site.root_outline = flat(&root);
    site.root = segments(mesh, &root);
    site.heights = heights(mesh, &site.top, seat);
    site
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

fn heights(mesh: &Mesh, top: &[u32], seat: &Seat) -> Option<Heights> {
    let mut found: Option<Heights> = None;
    let (mut sum, mut area) = (0.0, 0.0);
    for &t in top {
        let [a, b, c] = mesh.corners(t as usize);
        let own = mesh.area(t as usize);
        // corners, middles of edges, middle of the facet
        for p in [a, b, c, (a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0, (a + b + c) / 3.0] {
            let h = seat.height(p).abs();
            let so_far = found.get_or_insert(Heights { least: (h, p), mean: 0.0, greatest: (h, p) });
            if h < so_far.least.0 {
                so_far.least = (h, p);
            }
            if h > so_far.greatest.0 {
                so_far.greatest = (h, p);
            }
        }
        sum += own * seat.height((a + b + c) / 3.0).abs();
        area += own;
    }
    found.map(|f| Heights { mean: sum / f64::max(area, f64::MIN_POSITIVE), ..f })
}
