//! A date dial: numbers in rings between lines, a pointer at one of each ring, the year beside the arrow that is the
//! innermost ring's.

use super::{Label, Pen, disc, placed, ring, widest};
use crate::{error::LetteringError, lettered::Lettered};
use flat::{Island, Region, offset};
use glam::DVec2;
use std::f64::consts::{FRAC_PI_2, PI, TAU};
use time::Date;
use trade::{
    Lettering, Tops,
    figure::{Dial, DialRing},
};

/// Of a pointer, of an arrow's head and of a dot, in heights of the numbers.
const POINTER: f64 = 0.7;
const HEAD: f64 = 0.5;
const DOT: f64 = 0.25;

/// The direction of a number of a ring: the last one stands on top, they follow one another clockwise.
fn direction(ring: DialRing, number: u8) -> f64 {
    FRAC_PI_2 - TAU * f64::from(number) / f64::from(ring.of.divisions())
}

/// The dial of a date, in its box.
///
/// # Errors
/// The lettering face lacks digits; the rings or the year have no room in the diameter.
pub(super) fn drawn(dial: &Dial, date: Date, lettering: &Lettering) -> Result<Lettered, LetteringError> {
    let mut pen = Pen::new(lettering);
    let (stroke, high, gap) = (pen.stroke(), lettering.cap_height, dial.gap);
    let middle = DVec2::splat(dial.diameter / 2.0);
    // everything further in is drawn within this radius
    let mut radius = dial.diameter / 2.0;
    let last = dial.rings.len().saturating_sub(1);
    if radius <= stroke {
        return Err(no_room("the dial has no room for its lines"));
    }
    pen.put("○", ring(middle, radius, stroke), 0.0);
    radius -= stroke;
    for (k, of) in dial.rings.iter().enumerate() {
        radius = numbers(&mut pen, dial, *of, middle, radius - gap)? - gap;
        if k != last {
            let turn = direction(*of, of.of.of(date)) - FRAC_PI_2;
            let there = placed(middle, turn);
            let (tip, base) = (radius, radius - POINTER * high);
            let corners = [(0.0, tip), (-0.5 * POINTER * high, base), (0.5 * POINTER * high, base)];
            let outer = corners.map(|(x, y)| there.transform_point2(DVec2::new(x, y))).to_vec();
            pen.put("▲", Region { islands: vec![Island { outer, counters: Vec::new() }] }, turn);
            radius = base - gap;
        }
        if radius <= stroke {
            return Err(no_room("the dial has no room for its rings"));
        }
        pen.put("○", ring(middle, radius, stroke), 0.0);
        radius -= stroke;
    }
    let turn = dial.rings.last().map_or(0.0, |of| direction(*of, of.of.of(date)) - FRAC_PI_2);
    pen.core = true;
    core(&mut pen, dial, date, middle, radius - gap, turn)?;
    Ok(Lettered { round: true, ..pen.of_size(DVec2::splat(dial.diameter)) })
}

fn no_room(what: &str) -> LetteringError {
    LetteringError::Figure(format!("{what}; set a larger diameter or smaller capitals"))
}

/// The numbers of one ring within a radius; what is left of it.
fn numbers(pen: &mut Pen<'_>, dial: &Dial, of: DialRing, middle: DVec2, radius: f64) -> Result<f64, LetteringError> {
    let (high, stroke) = (pen.lettering.cap_height, pen.stroke());
    let count = of.of.divisions();
    let numbered = (1..=count).filter(|n| n.is_multiple_of(of.every));
    let labels: Vec<Label> = numbered.map(|n| pen.label(n.to_string())).collect::<Result<_, _>>()?;
    let wide = widest(&labels);
    // the corners of the numbers keep within
    let tops = (radius * radius - wide * wide / 4.0).max(0.0).sqrt();
    let feet = tops - high;
    if radius <= 0.0 || feet <= 0.0 {
        return Err(no_room("the dial has no room for its numbers"));
    }
    let dot = (DOT * high).max(1.5 * stroke);
    let chord = |steps: u8, at: f64| 2.0 * at * (PI * f64::from(steps) / f64::from(count)).sin();
    let crowded = match of.every {
        1 => chord(1, feet) < wide + stroke,
        _ => chord(1, (tops + feet) / 2.0) < (wide + dot) / 2.0 + stroke,
    };
    if crowded {
        let every = if of.every == 1 { format!("the {count} numbers") } else { "numbers and dots".into() };
        return Err(LetteringError::Figure(format!(
            "{every} of the ring of {} run into each other; set a larger diameter, smaller or narrower capitals, or fewer numbers",
            of.of.word()
        )));
    }
    for n in 1..=count {
        let angle = direction(of, n);
        let there = middle + DVec2::from_angle(angle) * (tops + feet) / 2.0;
        let turn = match dial.tops {
            Tops::Out => angle - FRAC_PI_2,
            Tops::In => angle + FRAC_PI_2,
        };
        match n.is_multiple_of(of.every) {
            true => pen.put_label(&labels[usize::from(n / of.every) - 1], there, turn),
            false => pen.put("●", disc(there, dot / 2.0), turn),
        }
    }
    Ok(feet)
}

/// Arrow and year within a radius, turned together.
fn core(
    pen: &mut Pen<'_>,
    dial: &Dial,
    date: Date,
    middle: DVec2,
    radius: f64,
    turn: f64,
) -> Result<(), LetteringError> {
    let (high, stroke, gap) = (pen.lettering.cap_height, pen.stroke(), dial.gap);
    let year = format!("{:04}", dial.year_of(date));
    let shown = &year[year.len().saturating_sub(usize::from(dial.year))..];
    let (left, right) = shown.split_at(shown.len() / 2);
    let digits = [left, right].into_iter().filter(|t| !t.is_empty());
    let labels: Vec<Label> = digits.map(|t| pen.label(t.into())).collect::<Result<_, _>>()?;
    let wide = widest(&labels);
    let head = HEAD * high;
    let tip = radius - stroke / 2.0;
    let beside = stroke / 2.0 + gap;
    // the year stands clear of the arrow's head, and its corners keep within
    let fits = if shown.is_empty() {
        tip > head
    } else {
        tip - head - stroke / 2.0 - gap > high / 2.0 && (beside + wide).hypot(high / 2.0) < radius
    };
    if !fits {
        return Err(no_room("the arrow and the year have no room in the middle of the dial"));
    }
    let lines = [
        vec![DVec2::new(0.0, -tip), DVec2::new(0.0, tip)],
        vec![DVec2::new(-0.6 * head, tip - head), DVec2::new(0.0, tip), DVec2::new(0.6 * head, tip - head)],
    ];
    let there = placed(middle, turn);
    pen.put("↑", offset::swept(&lines, stroke).mapped(|p| there.transform_point2(p)), turn);
    for (label, way) in labels.iter().zip([-1.0, 1.0]) {
        pen.put_label(label, there.transform_point2(DVec2::new(way * (beside + wide / 2.0), 0.0)), turn);
    }
    Ok(())
}
