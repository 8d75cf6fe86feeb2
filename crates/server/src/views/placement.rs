//! A mark as it lies on its strip, and the plates of the rack.

use flat::Region;
use glam::{DVec2, DVec3};

use relief::{
    PlacedMark, Seat,
    place::{Globe, over_creases},
};
use serde::Serialize;
use solid::Surface;
use trade::{Job, length::Round};
use utoipa::ToSchema;

#[derive(Serialize, ToSchema)]
pub struct PlacementView {
    pub place: trade::Place,
    pub characters: Vec<CharacterView>,
    /// Outline of the plate that it stands on, as SVG path data.
    pub field: Option<String>,
    /// Fields that are kept free for later.
    pub kept_free: Vec<String>,
    /// Grid coordinates of what is tied, and of the box whose sides are.
    pub held: [f64; 2],
    pub low: [f64; 2],
    pub high: [f64; 2],
    /// The box round it, counter-clockwise from its lower left corner.
    pub outline: Vec<[f64; 2]>,
    pub middle: [f64; 2],
    /// What its place is that of: the middle, or that of the circle it stands on.
    pub anchor: [f64; 2],
    /// What laying it on the seat does to lengths, percent, and to right angles, degrees: the greatest
    /// error, and where on the strip the length's is greatest.
    pub scale_error: f64,
    pub shear: f64,
    /// What was set in the end, mm: differs from the mark's settings where a length is fitted. The width is
    /// a share; the stroke is the cutter's width or an upright stem's.
    pub cap_height: f64,
    pub width: f64,
    pub spacing: f64,
    pub stroke: f64,
    /// Of the longest line's ink.
    pub length: f64,
    pub worst_at: [f64; 2],
    /// Clear distances to the seat's edges: left, right, below, above.
    pub margins: [f64; 4],
    /// The point of the part under the mark's middle, and the outward normal there.
    pub at: [f64; 3],
    pub out: [f64; 3],
    /// Where the letters' tops point there on an unturned strip; on a sphere, whose strip says nothing of that, as they are.
    pub up: [f64; 3],
    /// On a cylinder or sphere what its letters stand on, and what they reach to.
    pub round: Option<RoundView>,
    /// On a sphere where its place is, degrees.
    pub globe: Option<GlobeView>,
    /// Outlines on the part, for showing the mark there before it is built.
    pub on_part: Vec<Vec<[f64; 3]>>,
}

/// A round surface under letters, radii in mm.
#[derive(Serialize, ToSchema)]
pub struct RoundView {
    pub radius: f64,
    pub inside: bool,
    pub sinks: bool,
    pub reaches: f64,
}

/// A place of a sphere: latitude 90° in the middle of its strip, longitude counter-clockwise round it.
#[derive(Serialize, ToSchema)]
pub struct GlobeView {
    pub latitude: f64,
    pub longitude: f64,
}

#[derive(Serialize, ToSchema)]
pub struct CharacterView {
    /// Which one of the text it is, from 0, blanks not counted.
    pub at: u32,
    pub text: String,
    /// SVG path data in strip coordinates, y up; even-odd.
    pub path: String,
    pub colour: Option<trade::Colour>,
    /// Its relief crosses a crease of the seat.
    pub over_crease: bool,
}

#[derive(Serialize, ToSchema)]
pub struct PlateView {
    pub id: String,
    /// SVG path data, mm, y up.
    pub path: String,
    pub size: [f64; 2],
    pub characters: Vec<LetterView>,
    /// Why it can't be lettered.
    pub problem: Option<String>,
}

/// A character of a plate on its own.
#[derive(Serialize, ToSchema)]
pub struct LetterView {
    pub text: String,
    pub path: String,
    /// From where to where its ink runs.
    pub left: f64,
    pub right: f64,
    /// Lowest capitals' line of its line of text.
    pub baseline: f64,
}

/// Where the tops of an unturned text's letters point at a place of the strip, not to length; on a sphere those of the text
/// itself.
fn up_on_part(seat: &Seat, placed: &PlacedMark) -> DVec3 {
    let (chart, at) = (&seat.chart, placed.middle);
    let along = if matches!(seat.surface, Surface::Sphere { .. }) { placed.along } else { chart.level(at) };
    chart.point(chart.roll(at, along.perp() * 1e-3), 0.0) - chart.point(at, 0.0)
}

/// The round surface that the letters of a mark stand on.
fn round(mark: &trade::Mark, seat: &Seat) -> Option<RoundView> {
    let (Surface::Cylinder { radius, inside, .. } | Surface::Sphere { radius, inside, .. }) = seat.surface else {
        return None;
    };
    let relief = &mark.relief;
    let stands = relief.pad.map_or(radius, |pad| {
        Round { radius, inside, sinks: pad.form == trade::PadForm::Recessed }.reaches(pad.height)
    });
    let sinks = relief.sense.sinks();
    let reaches = Round { radius: stands, inside, sinks }.reaches(relief.height);
    Some(RoundView { radius: stands, inside, sinks, reaches })
}

/// A placed mark, before it is built; `near` as it is laid about itself, which is how it is built.
#[must_use]
pub fn laid_out(
    mark: &trade::Mark,
    placed: &PlacedMark,
    seat: &Seat,
    near: (&Seat, &PlacedMark),
    lifted: f64,
) -> PlacementView {
    let (about, laid) = near;
    // a tenth of a micrometre is enough for drawing, and keeps the answer short
    let shown = |p: DVec2| about.chart.point(p, lifted).to_array().map(|c| (c * 1e4).round() / 1e4);
    let on_part = laid
        .characters
        .iter()
        .flat_map(|c| c.region.contours())
        .map(|ring| ring.iter().chain(ring.first()).map(|&p| shown(p)).collect())
        .collect();
    // on the strip of the whole face
    let worst_at = if std::ptr::eq(about, seat) { laid.stretch.at } else { about.chart.grid(laid.stretch.at) };
    let lettering = &mark.lettering;
    let over = over_creases(mark, placed, seat);
    let stem = lettering::stem(lettering, placed.cap_height).map(|stem| stem * placed.width);
    PlacementView {
        place: mark.place.clone(),
        field: placed.pad.as_ref().map(path),
        kept_free: placed.fields.iter().map(path).collect(),
        held: placed.held.to_array(),
        low: placed.low.to_array(),
        high: placed.high.to_array(),
        cap_height: placed.cap_height,
        length: placed.length,
        width: placed.width,
        spacing: placed.spacing,
        stroke: lettering.stroke.or(stem).unwrap_or(placed.cap_height / 10.0),
        characters: placed
            .characters
            .iter()
            .enumerate()
            .map(|(k, c)| CharacterView {
                at: c.at,
                text: c.text.clone(),
                path: path(&c.region),
                colour: mark.colour_of(c.at, &c.text).cloned(),
                over_crease: over.contains(&k),
            })
            .collect(),
        outline: placed.outline.iter().map(|p| p.to_array()).collect(),
        middle: placed.middle.to_array(),
        anchor: placed.anchor.to_array(),
        scale_error: laid.stretch.scale * 100.0,
        shear: laid.stretch.shear_deg,
        worst_at: worst_at.to_array(),
        margins: placed.margins(seat),
        at: seat.chart.point(placed.middle, 0.0).to_array(),
        out: seat.chart.normal(placed.middle).to_array(),
        up: up_on_part(seat, placed).normalize_or_zero().to_array(),
        round: round(mark, seat),
        globe: Globe::of(seat, placed.anchor).map(|Globe { latitude, longitude }| GlobeView { latitude, longitude }),
        on_part,
    }
}

/// A region as SVG path data, to a micrometre.
#[must_use]
pub fn path(region: &Region) -> String {
    region.path_data(3)
}

/// The plates of the rack.
#[must_use]
pub fn plates(job: &Job) -> Vec<PlateView> {
    job.marks
        .iter()
        .map(|mark| match lettering::drawn(mark) {
            Ok(set) => {
                let letter = |c: &lettering::Character| {
                    let (low, high) = c.region.bounds().unwrap_or_default();
                    let below = (set.characters.last().map_or(0, |l| l.line) - c.line) as f64;
                    let baseline = below * (mark.lettering.cap_height + mark.lettering.line_gap);
                    LetterView { text: c.text.clone(), path: path(&c.region), left: low.x, right: high.x, baseline }
                };
                let characters: Vec<LetterView> = set.characters.iter().map(letter).collect();
                PlateView {
                    id: mark.id.clone(),
                    path: characters.iter().map(|c| c.path.as_str()).collect(),
                    size: set.size.to_array(),
                    characters,
                    problem: None,
                }
            }
            Err(e) => PlateView {
                id: mark.id.clone(),
                path: String::new(),
                size: [0.0; 2],
                characters: Vec::new(),
                problem: Some(crate::problem::sentence(&e.to_string())),
            },
        })
        .collect()
}
