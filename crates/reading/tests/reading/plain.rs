//! What the reading test says of lettering that is plainly readable, plainly not, and easily confused.

use super::{FAILS, READS, block, joined, read, usual};
use reading::{LONG_SHADOW, Reading, View, reading};
use trade::{Finish, LetterChange, Mark, Sense};
use workbench::Bench;

fn with(alter: impl Fn(&mut Mark)) -> Reading {
    let (mut job, bench) = block();
    alter(&mut job.marks[0]);
    read(&job, &bench, 500.0).unwrap()
}

#[test]
fn plain_lettering_reads_and_lettering_of_a_hundredth_does_not() {
    let sound = with(usual);
    assert_eq!(sound.letters.iter().map(|l| l.text.as_str()).collect::<String>(), "HK4AZ7");
    assert!(sound.margin() > READS, "{sound:?}");
    let faint = with(|mark| {
        usual(mark);
        mark.relief.height = 0.01;
    });
    assert!(faint.letters.iter().all(|l| l.margin() < FAILS), "{faint:?}");
    // the same again to the last bit
    assert_eq!(with(usual), sound);
}

#[test]
fn from_too_far_nothing_reads() {
    let (mut job, bench) = block();
    usual(&mut job.marks[0]);
    // capitals of 3.5 mm under 1.5 minutes of arc
    let far = read(&job, &bench, 8_000.0).unwrap();
    assert!(far.margin() < FAILS, "{far:?}");
    assert!(read(&job, &bench, 500.0).unwrap().margin() > far.margin());
    // nearer than anybody looks it is no finer: as from forty capitals
    assert_eq!(read(&job, &bench, 10.0).unwrap(), read(&job, &bench, 140.0).unwrap());
}

/// O and 0, O and Q stand nearest to one another, whichever face.
#[test]
fn look_alikes_stand_nearest_to_one_another() {
    for face in ["centre-line", "overpass", "barlow"] {
        let found = with(|mark| {
            usual(mark);
            mark.text = "HO0Q".into();
            mark.lettering.face = face.into();
        });
        let letter = |text: &str| found.letters.iter().find(|l| l.text == text).expect("it is read");
        assert!(["0", "Q"].contains(&letter("O").rival.as_str()), "{face}: O is taken for {}", letter("O").rival);
        // the centre-line alphabet's 0 is narrow, so that it isn't taken for an O
        let near = if face == "centre-line" { ["8", "6", "9"] } else { ["O", "Q", "D"] };
        assert!(near.contains(&letter("0").rival.as_str()), "{face}: 0 is taken for {}", letter("0").rival);
        // a plainer letter stands out farther
        assert!(letter("H").margin() > letter("O").margin(), "{face}: {found:?}");
    }
}

/// One letter at half the size of the others is held against letters of its own size: it reads as those do at that size.
#[test]
fn a_letter_that_was_made_smaller_is_read_at_its_own_size() {
    let alone = with(|mark| {
        usual(mark);
        mark.text = "K".into();
        mark.lettering.cap_height = 1.75;
    });
    let small = with(|mark| {
        usual(mark);
        mark.letters = vec![LetterChange { size: 0.5, ..LetterChange::plain(1, "K") }];
    });
    let texts: Vec<&str> = small.letters.iter().map(|l| l.text.as_str()).collect();
    assert_eq!(texts, ["H", "K", "4", "A", "Z", "7"]);
    assert!((small.letters[1].margin() - alone.margin()).abs() < 0.05, "{small:?} {alone:?}");
    assert!(small.letters[1].margin() > READS, "{small:?}");
    let sunken = with(|mark| {
        usual(mark);
        mark.letters = vec![LetterChange { sense: Some(Sense::Sunken), ..LetterChange::plain(1, "K") }];
    });
    assert!(sunken.letters[1].margin() > READS, "{sunken:?}");
}

/// At 20° a shadow is as long as the relief is high by 1/tan 20°, 2.75.
#[test]
fn a_relief_too_tall_for_its_size_throws_long_shadows() {
    let tall = with(|mark| {
        usual(mark);
        mark.lettering.cap_height = 2.0;
        mark.relief.height = 0.5;
    });
    assert!((tall.shadow - 0.5 * 2.747_477 / 2.0).abs() < 1e-5 && tall.shadow > LONG_SHADOW, "{}", tall.shadow);
    assert!(with(usual).shadow < LONG_SHADOW);
}

/// A texture a tenth as deep as the relief is high leaves it as it is, one as deep nearly halves what it stands out by. Without
/// one a matt surface and a satin one read about alike.
#[test]
fn the_deeper_a_texture_the_worse_it_reads() {
    let (mut job, bench) = block();
    usual(&mut job.marks[0]);
    let outcome = joined(&job, &bench);
    let (solid, built) = outcome.on_solid(0).unwrap();
    let margin =
        |finish, texture| reading(solid, built, View { finish, texture, ..View::from(500.0) }).unwrap().margin();
    let (satin, matt) = (margin(Finish::Satin, 0.0), margin(Finish::Matt, 0.0));
    assert!(satin > READS && (satin - matt).abs() < 0.3 * satin, "{satin} {matt}");
    let [fine, coarse, deep] = [0.03, 0.15, 0.3].map(|depth| margin(Finish::Satin, depth));
    assert!(fine > 0.9 * satin && coarse < 0.85 * fine && deep < 0.75 * coarse, "{satin}: {fine} {coarse} {deep}");
    // a texture leaves nothing that shines
    assert_eq!(deep, margin(Finish::Matt, 0.3));
}

#[test]
fn what_has_no_relief_or_no_characters_is_told_so() {
    let (mut job, bench) = block();
    for sense in [Sense::Surface, Sense::Inlay] {
        job.marks[0].relief.sense = sense;
        assert!(read(&job, &bench, 500.0).unwrap_err().contains("no relief"), "{sense:?}");
    }
}

/// On a cylinder, sunken and raised: the demo's valve body.
#[test]
fn lettering_on_a_cylinder_is_looked_at_from_where_each_letter_faces() {
    let demo = demo::jobs().remove(0);
    let job = demo.job.filled(demo.job.first_row(), time::macros::date!(2026 - 11 - 30));
    let bench = Bench::new(demo.read());
    let outcome = joined(&job, &bench);
    for at in [0_usize, 2, 3] {
        let (solid, built) = outcome.on_solid(at).expect("the mark is built");
        let found = reading(solid, built, View::from(500.0)).unwrap();
        let reads = found.letters.iter().filter(|l| l.margin() > FAILS).count();
        assert!(4 * reads >= 3 * found.letters.len(), "{}: {found:?}", built.mark.text);
        let picture = reading::seen(solid, built, View::from(500.0), 3);
        assert_eq!(picture.brightness.len(), picture.width * picture.height);
        let dark = picture.brightness.iter().filter(|b| **b < 0.7).count();
        assert!(dark > 100, "shadows of the letters: {dark}");
        let ground = picture.brightness.iter().filter(|b| (**b - 1.0).abs() < 0.1).count();
        assert!(2 * ground > picture.brightness.len(), "most of it is ground");
    }
}
