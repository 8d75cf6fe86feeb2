//! Held against Tesseract (Debian's `tesseract-ocr`), which was not used to choose any constant. It reads single pictures of
//! relief badly, so it is given what the eight lights say together: the slopes that they show, put together to a height.

use super::{READS, block, joined, usual};
use demo::Dice;
use reading::{LIGHTS, Picture, View, reading, seen};
use std::{
    io::Write,
    process::{Command, Stdio},
};

/// Without what it reads wrongly even when printed flat: O and 0, and what is told from its look-alike by its size alone.
const LETTERS: &[u8] = b"ABCDEFGHJKLMNPRTUVWXYZ2346789";
const FACES: [&str; 4] = ["centre-line", "barlow", "osifont", "b612-mono"];
/// Texts, of six letters each.
const TEXTS: usize = 96;
/// Samples of the height of a capital in what it is given.
const TALL: f64 = 40.0;

/// Of mean 0 and deviation 1, by the method of Box and Muller.
fn normal(dice: &mut Dice) -> f64 {
    (-2.0 * dice.share().max(1e-300).ln()).sqrt() * (std::f64::consts::TAU * dice.share()).cos()
}

/// By so much less is what lies in shadow under all lights taken for lettering, which lies in none.
const IN_SHADOW: f64 = 2.0;

/// A height whose slopes are those that the lights show, from 0 to 1: brighter is what leans to the lamp. What lies in the shadow of
/// something is not what stands out.
fn shape(lights: &[Picture], dice: &mut Dice) -> (usize, usize, Vec<f64>) {
    let (wide, tall) = (lights[0].width, lights[0].height);
    let mut slopes = vec![[0.0; 2]; wide * tall];
    let mut dark = vec![0.0; wide * tall];
    for (picture, azimuth) in lights.iter().zip(LIGHTS) {
        let (sin, cos) = azimuth.to_radians().sin_cos();
        for ((slope, dark), brightness) in slopes.iter_mut().zip(&mut dark).zip(&picture.brightness) {
            // the eye's own noise
            let contrast = f64::from(*brightness) - 1.0 + 0.05 * normal(dice);
            // rows run downward
            *slope = [slope[0] - cos * contrast, slope[1] + sin * contrast];
            *dark += (-contrast).max(0.0) / 8.0;
        }
    }
    // Poisson's equation by successive over-relaxation, level at the rim
    let mut height = vec![0.0; wide * tall];
    for _ in 0..600 {
        for y in 1..tall - 1 {
            for x in 1..wide - 1 {
                let at = y * wide + x;
                let around = height[at - 1] + height[at + 1] + height[at - wide] + height[at + wide];
                let source =
                    (slopes[at + 1][0] - slopes[at - 1][0] + slopes[at + wide][1] - slopes[at - wide][1]) / 2.0;
                height[at] += 1.8 * ((around - source) / 4.0 - height[at]);
            }
        }
    }
    let mut sorted = height.clone();
    sorted.sort_by(f64::total_cmp);
    let (low, high) = (sorted[sorted.len() / 20], sorted[sorted.len() - 1 - sorted.len() / 50]);
    let shares = height
        .iter()
        .zip(dark)
        .map(|(h, dark)| ((h - low) / (high - low).max(1e-9) - IN_SHADOW * dark).clamp(0.0, 1.0));
    (wide, tall, shares.collect())
}

/// What the reader makes of a shape, dark on light.
fn told(wide: usize, tall: usize, height: &[f64], larger: f64) -> String {
    let (columns, rows) = ((wide as f64 * larger) as usize, (tall as f64 * larger) as usize);
    let mut pgm = format!("P5\n{columns} {rows}\n255\n").into_bytes();
    for y in 0..rows {
        for x in 0..columns {
            let (u, v) = (x as f64 / larger, y as f64 / larger);
            let (a, b) = ((u as usize).min(wide - 2), (v as usize).min(tall - 2));
            let (s, t) = (u - a as f64, v - b as f64);
            let corner = |dx: usize, dy: usize| height[(b + dy) * wide + a + dx];
            let upper = corner(0, 0) * (1.0 - s) + corner(1, 0) * s;
            let lower = corner(0, 1) * (1.0 - s) + corner(1, 1) * s;
            let share = upper * (1.0 - t) + lower * t;
            pgm.push((235.0 - 215.0 * share) as u8);
        }
    }
    let allowed = format!("tessedit_char_whitelist={}", std::str::from_utf8(LETTERS).expect("letters"));
    // it crashes on some pictures: a process for each
    let reader = Command::new("tesseract")
        .args(["stdin", "stdout", "--psm", "7", "-c", &allowed])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn();
    let mut reader = reader.expect("tesseract starts: ./tinbadge test --long installs it");
    reader.stdin.take().expect("piped").write_all(&pgm).ok();
    let output = reader.wait_with_output().expect("it ends");
    String::from_utf8_lossy(&output.stdout).chars().filter(|c| c.is_ascii_alphanumeric()).collect()
}

/// Which letters of `text` stand in `read`, in order: the longest common subsequence.
fn read_rightly(text: &[u8], read: &[u8]) -> Vec<bool> {
    let mut common = vec![vec![0; read.len() + 1]; text.len() + 1];
    for i in (0..text.len()).rev() {
        for j in (0..read.len()).rev() {
            common[i][j] =
                if text[i] == read[j] { common[i + 1][j + 1] + 1 } else { common[i + 1][j].max(common[i][j + 1]) };
        }
    }
    let (mut i, mut j, mut right) = (0, 0, vec![false; text.len()]);
    while i < text.len() && j < read.len() {
        if text[i] == read[j] {
            right[i] = true;
            (i, j) = (i + 1, j + 1);
        } else if common[i + 1][j] >= common[i][j + 1] {
            i += 1;
        } else {
            j += 1;
        }
    }
    right
}

/// The chance that a letter that was read has more than one that was not: the area under the curve.
fn area(judged: &[(f64, bool)]) -> f64 {
    let of = |wanted: bool| judged.iter().filter(move |(_, read)| *read == wanted).map(|(margin, _)| *margin);
    let pairs = of(true).flat_map(|a| {
        of(false).map(move |b| {
            if a > b {
                1.0
            } else if a < b {
                0.0
            } else {
                0.5
            }
        })
    });
    pairs.clone().sum::<f64>() / pairs.count() as f64
}

#[test]
fn letters_are_found_again_in_what_was_read() {
    assert_eq!(read_rightly(b"ABCD", b"ABXD"), [true, true, false, true]);
    assert_eq!(read_rightly(b"ABCD", b"BCD"), [false, true, true, true]);
    assert_eq!(read_rightly(b"ABC", b""), [false; 3]);
    assert!((area(&[(0.9, true), (0.1, false)]) - 1.0).abs() < 1e-12);
    assert!((area(&[(0.1, true), (0.9, false), (0.2, true), (0.0, false)]) - 0.5).abs() < 1e-12);
}

#[test]
#[ignore = "long: some minutes, and asks for tesseract-ocr"]
fn what_reads_is_read_by_a_character_reader_from_outside() {
    let (job, bench) = block();
    let mut dice = Dice(2026);
    let mut judged: Vec<(f64, bool)> = Vec::new();
    for k in 0..TEXTS {
        let text: String = (0..6).map(|_| char::from(dice.one(LETTERS))).collect();
        let mut job = job.clone();
        let mark = &mut job.marks[0];
        usual(mark);
        mark.text = text.clone();
        mark.lettering.face = FACES[k % FACES.len()].into();
        mark.lettering.cap_height = dice.between(0.5, 2.5);
        mark.relief.height = dice.between(0.05, 0.35);
        let cap = mark.lettering.cap_height;
        let outcome = joined(&job, &bench);
        let Some((solid, built)) = outcome.on_solid(0) else { continue };
        let found = reading(solid, built, View::from(500.0)).unwrap();
        assert_eq!(found.letters.len(), 6, "{text}");
        let lights: Vec<Picture> = (0..8).map(|light| seen(solid, built, View::from(500.0), light)).collect();
        let (wide, tall, height) = shape(&lights, &mut dice);
        let read = told(wide, tall, &height, TALL * lights[0].pixel / cap);
        let right = read_rightly(text.as_bytes(), read.as_bytes());
        judged.extend(found.letters.iter().zip(right).map(|(letter, right)| (letter.margin(), right)));
        println!("{cap:.2} {:.2} {} {text} {read} {:.3}", job.marks[0].relief.height, FACES[k % 4], found.margin());
    }
    assert!(judged.len() >= 500, "{}", judged.len());
    let share = |of: &dyn Fn(&(f64, bool)) -> bool, with: &dyn Fn(&(f64, bool)) -> bool| {
        let all = judged.iter().filter(|j| of(j)).count();
        judged.iter().filter(|j| of(j) && with(j)).count() as f64 / all.max(1) as f64
    };
    let (read, missed) = (share(&|j| j.1, &|j| j.0 >= READS), share(&|j| !j.1, &|j| j.0 < READS));
    let (balanced, of_passing) = ((read + missed) / 2.0, share(&|j| j.0 >= READS, &|j| j.1));
    let area = area(&judged);
    let all = share(&|_| true, &|j| j.1);
    println!(
        "{} letters, {all:.3} read; area {area:.3}, balanced {balanced:.3}, of passing {of_passing:.3}",
        judged.len()
    );
    assert!(area >= 0.75 && balanced >= 0.65 && of_passing >= 0.9, "{area} {balanced} {of_passing}");
}
