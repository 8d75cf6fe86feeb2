//! Jobs at random.

use super::grounds::Ground;
use flat::Region;
use lettering::own;
use serde::{Deserialize, Serialize};
use std::sync::LazyLock;
use trade::{
    Anchor, Baseline, BoxSide, EdgeShape, Extents, Field, Figure, Fit, FitBy, Justify, LetterChange, Lettering, Mark,
    MeasuredAt, OwnFace, Pad, PadForm, Place, Placement, Relief, Rounds, Sense, Tie, Tops, Walls,
    figure::{Artwork, Dial, DialOf, DialRing, Pocket, Tally},
    recipe::DateFrom,
};
use workbench::Steps;

/// A job by the name of its part and its mark; the pull is the part's.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(super) struct Case {
    pub(super) part: String,
    pub(super) mark: Mark,
}

/// SplitMix64 (Steele, Lea and Flood 2014).
struct Dice(u64);

impl Dice {
    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }
    fn share(&mut self) -> f64 {
        (self.next() >> 11) as f64 / (1_u64 << 53) as f64
    }
    fn between(&mut self, low: f64, high: f64) -> f64 {
        // as people type: two places
        ((low + (high - low) * self.share()) * 100.0).round() / 100.0
    }
    pub(super) fn one<'a, T>(&mut self, of: &'a [T]) -> &'a T {
        &of[(self.next() % of.len() as u64) as usize]
    }
    fn often(&mut self, share: f64) -> bool {
        self.share() < share
    }
}

const TEXTS: [&str; 10] = ["VB-20-07", "R8", "A", "8B@", "C 04", "K4&M", "%Q", "NO. 16", "FD-40\nREV C", ">PA66-GF30<"];

pub(super) fn case(grounds: &[Ground], seed: u64) -> Case {
    let mut dice = Dice(seed);
    let d = &mut dice;
    let ground = d.one(grounds);
    let tie = |d: &mut Dice| match d.next() % 4 {
        0 | 1 => Tie::Middle,
        2 => Tie::FromStart { distance: d.between(0.5, 8.0) },
        _ => Tie::FromEnd { distance: d.between(0.5, 8.0) },
    };
    let stands = *d.one(&[Justify::Start, Justify::Middle, Justify::End]);
    let baseline = match d.next() % 4 {
        0 => Baseline::Arc {
            radius: d.between(4.0, 14.0),
            tops: *d.one(&[Tops::Out, Tops::In]),
            share: d.between(0.0, 100.0),
            stands,
            bent: d.often(0.5),
        },
        1 => Baseline::Ring { bent: d.often(0.5) },
        _ => Baseline::Straight,
    };
    let cap_height = d.between(1.6, 5.0);
    let height = d.between(0.15, 0.6);
    let fit = d
        .often(0.15)
        .then(|| Fit { length: d.between(5.0, 20.0), by: *d.one(&[FitBy::Spacing, FitBy::Width, FitBy::Height]) });
    let faces: Vec<&str> = lettering::faces().iter().map(|f| f.id).collect();
    let rounds = d.often(0.3);
    let mark = Mark {
        id: "m".into(),
        text: (*d.one(&TEXTS)).into(),
        seat: d.one(&ground.seats).clone(),
        place: Place {
            along: tie(d),
            up: tie(d),
            anchor: Anchor::default(),
            turn: if d.often(0.5) { 0.0 } else { d.between(-180.0, 180.0) },
            baseline,
            placement: *d.one(&[
                Placement::Wrapped,
                Placement::Wrapped,
                Placement::Projected,
                Placement::ProjectedAlongPull,
            ]),
        },
        lettering: Lettering {
            own: None,
            face: (*d.one(&faces)).into(),
            cap_height,
            stroke: d.often(0.3).then(|| d.between(0.08, 0.16) * cap_height),
            width: if d.often(0.3) { d.between(0.7, 1.5) } else { 1.0 },
            slant: if d.often(0.2) { d.between(-10.0, 20.0) } else { 0.0 },
            fit,
            spacing: d.between(0.0, 0.5),
            line_gap: cap_height / 2.0,
            justify: stands,
        },
        relief: Relief {
            sense: *d.one(&[Sense::Raised, Sense::Sunken, Sense::Inlay, Sense::Surface]),
            height,
            draft: d.between(0.0, 8.0),
            measured_at: *d.one(&[MeasuredAt::Top, MeasuredAt::Root]),
            walls: *d.one(&[Walls::Seat, Walls::Pull]),
            edge: if rounds { d.between(0.0, 0.1) } else { 0.0 },
            edge_shape: *d.one(&[EdgeShape::Round, EdgeShape::Bevel]),
            root: if rounds { d.between(0.0, 0.1) } else { 0.0 },
            gap: if d.often(0.5) { 0.0 } else { d.between(0.0, 0.05) },
            ..Relief::default()
        },
        ..Mark::default()
    };
    let mut case = Case { part: ground.name.into(), mark };
    // no edges to tie to where the seat closes on itself; that this is said in words is tested elsewhere
    let closed = ground.bench.seat(&case.mark.seat, Some(ground.pull)).unwrap().closed();
    for (tie, closed) in [&mut case.mark.place.along, &mut case.mark.place.up].into_iter().zip(closed) {
        if let (true, Tie::FromStart { distance } | Tie::FromEnd { distance }) = (closed, &*tie) {
            *tie = Tie::At { position: *distance };
        }
    }
    case.mark.relief.rounds = if seed.is_multiple_of(2) { Rounds::AsSet } else { Rounds::AsFit };
    more(&mut case.mark, &mut Dice(!seed));
    drawn(&mut case.mark, &mut Dice(seed.reverse_bits()));
    case.mark.relief.runs_out = seed.is_multiple_of(5) && case.mark.relief.pad.is_none();
    lettered_in_own(&mut case.mark, &mut Dice(seed.rotate_left(32)));
    case
}

/// The letters of the demo's maker as a face of the job's own.
pub(super) static OWN: LazyLock<OwnFace> = LazyLock::new(|| {
    let [_, (file, bytes)] = demo::DRAWINGS;
    let found = artwork::letters(file, bytes).unwrap();
    let letters: Vec<(char, Region)> = found.letters.into_iter().map(|l| (l.character, l.region)).collect();
    own::face("own", file, &letters, &own::measured(&letters).unwrap())
});

/// One in eight is lettered in it, with dice of its own too.
fn lettered_in_own(mark: &mut Mark, d: &mut Dice) {
    if d.often(0.125) {
        mark.lettering.face.clone_from(&OWN.name);
        // the first lacks two of its characters, which is said
        mark.text = (*d.one(&["8B@", "VB-20-07", "R8/A", "A", "K4", "NO. 16"])).into();
        mark.letters.clear();
    }
}

/// One in eight draws a figure in place of its text, with dice of its own again.
fn drawn(mark: &mut Mark, d: &mut Dice) {
    if !d.often(0.125) {
        return;
    }
    let from = DateFrom::Set { day: (*d.one(&["2026-11-26", "2027-01-01", "2024-02-29"])).into() };
    let high = mark.lettering.cap_height.min(d.between(0.8, 3.0));
    let figure = match d.next() % 8 {
        0..=2 => {
            let kinds: [&[DialOf]; 3] = [&[DialOf::Months], &[DialOf::Weeks], &[DialOf::Days, DialOf::Months]];
            let of = *d.one(&kinds);
            let ring = |of: &DialOf| DialRing { of: *of, every: 1 + (of.divisions() / 13) * (d.next() % 3 + 1) as u8 };
            let rings: Vec<DialRing> = of.iter().map(ring).collect();
            let crowded = if of[0] == DialOf::Weeks { 2.0 } else { rings.len() as f64 };
            let diameter = high * d.between(9.0, 14.0) * crowded;
            let (tops, year) = (*d.one(&[Tops::Out, Tops::In]), *d.one(&[0, 2, 4]));
            Figure::Dial(Dial { from, diameter, rings, tops, gap: d.between(0.1, 0.5) * high, year, core_apart: false })
        }
        3 => {
            let (years, pitch) = (1 + (d.next() % 3) as u8, high * d.between(1.5, 2.5));
            let (dot, labels) = (pitch * d.between(0.2, 0.5), d.often(0.5));
            Figure::Tally(Tally { from, first_year: 2026, years, pitch, dot, labels })
        }
        4 => {
            mark.relief.sense = Sense::Sunken;
            mark.relief.pad = None;
            Figure::Pocket(Pocket { diameter: d.between(1.0, 8.0), gap: d.between(0.0, 0.2) })
        }
        _ => {
            // a frame with a triangle in it, and a bow beside it whose halves don't meet
            let outline = "M0 0L100 0L100 100L0 100ZM20 20L20 80L80 80L80 20ZM30 30L70 30L50 65Z\
                           M120 0L170 45L170 0ZM120 100L170 55L170 100Z";
            let (height, told) = (high * d.between(1.0, 4.0), Vec::new());
            Figure::Artwork(Artwork {
                file: "sign.svg".into(),
                outline: outline.into(),
                height,
                told,
                left_out: vec![],
            })
        }
    };
    mark.lettering.cap_height = high;
    mark.lettering.stroke = None;
    mark.letters.clear();
    mark.figure = Some(figure);
}

/// Anchors, ties to what is nearest, baselines beside edges, plates, stamp areas, cuts through, letters of their
/// own: dice of their own, so that the rest of a seed's job stays what it was.
fn more(mark: &mut Mark, d: &mut Dice) {
    let side = |d: &mut Dice| *d.one(&[None, None, Some(BoxSide::Start), Some(BoxSide::Middle), Some(BoxSide::End)]);
    mark.place.anchor = Anchor { along: side(d), up: side(d), of: *d.one(&[Extents::Capitals, Extents::Ink]) };
    for tie in [&mut mark.place.along, &mut mark.place.up] {
        if *tie == Tie::Middle && d.often(0.2) {
            *tie = Tie::Between { near: d.between(-4.0, 4.0) };
        }
    }
    if d.often(0.12) {
        mark.place = Place {
            baseline: Baseline::Edge {
                near: [0; 3].map(|_| d.between(-30.0, 30.0)),
                gap: d.between(0.3, 4.0),
                share: d.between(0.0, 100.0),
                stands: mark.lettering.justify,
                turned: d.often(0.5),
                bent: d.often(0.5),
            },
            ..Place::default()
        };
    }
    mark.relief.field = Field { margin: d.between(0.3, 2.5), corner: d.between(0.0, 2.0) };
    let relieved = mark.relief.sense.has_relief();
    match d.next() % 16 {
        0..=2 if relieved => {
            let form = *d.one(&[PadForm::Raised, PadForm::Recessed]);
            let clears = if form == PadForm::Recessed && d.often(0.3) { d.between(0.1, 2.0) } else { 0.0 };
            mark.relief.pad = Some(Pad { form, height: d.between(0.1, 0.6), draft: d.between(0.0, 8.0), clears });
        }
        3 => mark.relief.sense = Sense::Stamp,
        4 if mark.relief.sense == Sense::Sunken => mark.relief.through = true,
        5 | 6 if relieved => {
            if let Some(text) = mark.text.chars().next().map(String::from) {
                let sense = Some(*d.one(&[Sense::Raised, Sense::Sunken, Sense::Inlay]));
                let (size, turn) = (d.between(0.6, 1.6), d.between(-40.0, 40.0));
                let (along, up, left_out, colour) = (0.0, d.between(-0.5, 0.5), false, None);
                mark.letters.push(LetterChange { at: 0, text, size, along, up, turn, left_out, sense, colour });
            }
        }
        _ => {}
    }
}
