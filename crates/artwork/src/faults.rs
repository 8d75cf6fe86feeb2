//! What is wrong with a drawing: found, counted, told, and where it is.

use crate::{bounds::MOST_CROSSINGS, error::ArtworkError};
use flat::{Region, offset, overlay};
use glam::DVec2;

use rstar::{
    RTree,
    primitives::{GeomWithData, Line},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap, HashSet};

/// Most places that are kept of one kind.
pub const MOST_PLACES: usize = 200;
/// A piece or a hole that encloses less is dust, units² of a drawing a hundred high.
const DUST: f64 = 0.04;
/// Pairs of edges that are looked at for crossings; the rays of a sun have many that lie near one another and don't cross.
const MOST_PAIRS: usize = 20_000_000;
/// Points nearer to one another than this are one place, in the drawing's units.
pub const SAME: f64 = 1e-3;
/// A region that touches itself at a point is cut free there by a disc of this radius, in the drawing's units.
const CUT_FREE: f64 = 0.1;
/// A piece is a hairline if it is narrower than the least width over so many of them.
const HAIR: f64 = 4.0;

/// What is wrong with a drawing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FaultKind {
    /// An end of a line to which no other comes; what it belongs to is left out.
    OpenEnd,
    /// An outline that is filled although it is open: closed straight.
    Closed,
    /// Ends that nearly meet, joined.
    Gap,
    /// An outline that crosses itself or another; nothing says what is inside of it.
    Crossing,
    /// An outline that crosses itself, which the drawing has a rule for.
    SelfCrossing,
    /// Drawn more than once; left out but once.
    Double,
    /// A region that touches itself at a point; cut free.
    Touching,
    /// Too little to be seen; left out.
    Dust,
    /// A long piece that is narrower than the process makes.
    Hairline,
    /// A piece that is narrower all over than the process makes.
    Narrow,
    /// A text, left out.
    Text,
}

/// Faults of one kind.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Fault {
    pub kind: FaultKind,
    pub count: usize,
    /// What there is of them and what was done about it.
    pub says: String,
    /// Nothing is left to be done by whoever drew it.
    pub mended: bool,
    /// Where, in the region's coordinates; [`MOST_PLACES`] of them.
    pub places: Vec<DVec2>,
}

#[derive(Default)]
pub struct Faults {
    of: BTreeMap<FaultKind, (usize, Vec<DVec2>)>,
}

impl Faults {
    pub fn add(&mut self, kind: FaultKind, at: DVec2) {
        let (count, places) = self.of.entry(kind).or_default();
        *count += 1;
        if places.len() < MOST_PLACES {
            places.push(at);
        }
    }

    pub fn take(&mut self, other: Self) {
        for (kind, (more, places)) in other.of {
            let (count, kept) = self.of.entry(kind).or_default();
            *count += more;
            kept.extend(places);
            kept.truncate(MOST_PLACES);
        }
    }

    /// All of them, their places moved by `there`; `least` is the least width in mm, where one is required.
    pub fn told(self, least: Option<f64>, there: impl Fn(DVec2) -> DVec2) -> Vec<Fault> {
        let fault = |(kind, (count, places)): (FaultKind, (usize, Vec<DVec2>))| Fault {
            kind,
            count,
            says: kind.says(count, least),
            mended: kind.mended(),
            places: places.into_iter().map(&there).collect(),
        };
        self.of.into_iter().map(fault).collect()
    }
}

/// `1 shape`, `2 shapes`.
pub fn count(n: usize, one: &str, many: &str) -> String {
    match n {
        1 => format!("1 {one}"),
        n => format!("{n} {many}"),
    }
}

impl FaultKind {
    fn mended(self) -> bool {
        !matches!(self, Self::OpenEnd | Self::Crossing | Self::Hairline | Self::Narrow | Self::Text)
    }

    /// Something that was drawn is lacking because of it. Dust, and what is drawn twice, isn't missed.
    pub fn leaves_out(self) -> bool {
        matches!(self, Self::OpenEnd | Self::Text)
    }

    fn says(self, n: usize, least: Option<f64>) -> String {
        let least = least.unwrap_or_default();
        match self {
            Self::OpenEnd => {
                format!("{}: what they belong to is left out.", count(n, "open end", "open ends"))
            }
            Self::Closed => {
                format!("{} closed straight, to be filled.", count(n, "open outline", "open outlines"))
            }
            Self::Gap => format!("{} between ends joined.", count(n, "small gap", "small gaps")),
            Self::Crossing => {
                let where_ = count(n, "place", "places");
                format!("Outlines cross in {where_}: what they enclose there is filled and left free in turn.")
            }
            Self::SelfCrossing => {
                format!("Outlines cross themselves in {}: filled by the drawing's rule.", count(n, "place", "places"))
            }
            Self::Double => {
                format!("{} left out.", count(n, "shape drawn twice", "shapes drawn more than once"))
            }
            Self::Touching => {
                format!("Regions touch at a point in {}: cut free there.", count(n, "place", "places"))
            }
            Self::Dust => format!("{} of dust left out.", count(n, "speck", "specks")),
            Self::Hairline => {
                format!("{} narrower than {least:.2} mm over a long way.", count(n, "hairline", "hairlines"))
            }
            Self::Narrow => {
                format!("{} nowhere as wide as {least:.2} mm.", count(n, "piece", "pieces"))
            }
            Self::Text => {
                format!("{} left out: convert text to outlines in the program that drew it.", count(n, "text", "texts"))
            }
        }
    }
}

/// Looks for places where edges of closed contours cross, and counts them as a kind. What only touches does not cross.
///
/// # Errors
/// There are too many of them.
pub fn crossings(contours: &[Vec<DVec2>], kind: FaultKind, faults: &mut Faults) -> Result<(), ArtworkError> {
    type Edge = GeomWithData<Line<[f64; 2]>, usize>;
    let edges = contours.iter().flat_map(|c| (0..c.len()).map(move |k| (c[k], c[(k + 1) % c.len()])));
    let edges: Vec<Edge> =
        edges.enumerate().map(|(at, (a, b))| Edge::new(Line::new(a.to_array(), b.to_array()), at)).collect();
    let tree = RTree::bulk_load(edges);
    let ends = |e: &Edge| (DVec2::from_array(e.geom().from), DVec2::from_array(e.geom().to));
    let mut seen = HashSet::new();
    for (one, other) in tree.intersection_candidates_with_other_tree(&tree).take(MOST_PAIRS) {
        if seen.len() > MOST_CROSSINGS {
            return Err(ArtworkError::Tangled);
        }
        if one.data >= other.data {
            continue;
        }
        if let Some(at) = crossing(ends(one), ends(other))
            && seen.insert(key(at))
        {
            faults.add(kind, at);
        }
    }
    Ok(())
}

/// Where two edges cross, each strictly inside of the other.
fn crossing((a, b): (DVec2, DVec2), (c, d): (DVec2, DVec2)) -> Option<DVec2> {
    let side = |p: DVec2, q: DVec2, r: DVec2| {
        let off = (q - p).perp_dot(r - p) / (q - p).length().max(f64::MIN_POSITIVE);
        if off.abs() < SAME { 0.0 } else { off.signum() }
    };
    let across = |p, q, r, s| side(p, q, r) * side(p, q, s) < 0.0;
    (across(a, b, c, d) && across(c, d, a, b)).then(|| {
        let t = (c - a).perp_dot(d - c) / (b - a).perp_dot(d - c);
        a + (b - a) * t
    })
}

/// The same for all points at one place, but for those at the border of two.
pub fn key(p: DVec2) -> [i64; 2] {
    (p / SAME).round().to_array().map(|v| v as i64)
}

/// The region without dust, and cut free where it touches itself at a point.
pub fn mended(mut region: Region, faults: &mut Faults) -> Region {
    let mut dust = |contour: &Vec<DVec2>| {
        let is = flat::signed_area(contour).abs() < DUST;
        if is {
            faults.add(FaultKind::Dust, contour[0]);
        }
        !is
    };
    region.islands.retain(|i| dust(&i.outer));
    region.islands.iter_mut().for_each(|i| i.counters.retain(&mut dust));
    let mut met: HashMap<[i64; 2], usize> = HashMap::new();
    region.contours().flatten().for_each(|&p| *met.entry(key(p)).or_default() += 1);
    let touching: Vec<DVec2> =
        region.contours().flatten().copied().filter(|&p| met.insert(key(p), 0) > Some(1)).collect();
    if touching.is_empty() {
        return region;
    }
    let disc =
        |at: DVec2| (0..12).map(move |k| at + DVec2::from_angle(f64::from(k) * std::f64::consts::PI / 6.0) * CUT_FREE);
    let discs: Vec<Vec<DVec2>> = touching.iter().map(|&at| disc(at).collect()).collect();
    touching.iter().for_each(|&at| faults.add(FaultKind::Touching, at));
    overlay::without(&region, &overlay::joined(&discs))
}

/// Looks for pieces that are narrower than `least`, in the drawing's units.
pub fn narrow(region: &Region, least: f64, faults: &mut Faults) {
    for island in &region.islands {
        let island = Region { islands: vec![island.clone()] };
        let inside = offset::grown(&island, -least / 2.0);
        if inside.islands.is_empty() {
            faults.add(FaultKind::Narrow, middle(&island));
            continue;
        }
        // a little more than it was shrunk, so that what comes back covers its edge
        let opened = offset::grown(&inside, least / 2.0 + 0.02 * least);
        for piece in overlay::without(&island, &opened).islands {
            let piece = Region { islands: vec![piece] };
            if piece.bounds().is_some_and(|(low, high)| low.distance(high) > HAIR * least) {
                faults.add(FaultKind::Hairline, middle(&piece));
            }
        }
    }
}

/// A point of the outline's, the one nearest to the middle of its box: it lies where something is drawn.
fn middle(region: &Region) -> DVec2 {
    let (low, high) = region.bounds().unwrap_or_default();
    let middle = (low + high) / 2.0;
    let points = region.contours().flatten().copied();
    points.min_by(|a, b| a.distance(middle).total_cmp(&b.distance(middle))).unwrap_or(middle)
}
