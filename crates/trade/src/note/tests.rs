use super::*;

const NOTES: &str = include_str!("notes.txt");

fn told(note: &str) -> String {
    let found = read(note, None);
    let mut said: Vec<String> = found.wishes().map(Wish::says).collect();
    let piece = |(from, to): (usize, usize)| note.chars().skip(from).take(to - from).collect::<String>();
    said.extend(found.left.iter().map(|span| format!("?{}", piece(*span))));
    said.join("; ")
}

#[test]
fn a_mark_is_held_to_the_figures_of_its_note_as_they_stand_there() {
    let mut mark = Mark { text: "VB-20".into(), ..Mark::default() };
    let mut against = |note: &str, cap_height: f64, height: f64| {
        mark.note = Some(note.into());
        (mark.lettering.cap_height, mark.relief.height) = (cap_height, height);
        differs(&mark)
    };
    let says = ["the note says cap height 3 mm, the mark has 2.8 mm"];
    assert_eq!(against("3.0 HIGH", 2.8, 0.3), says);
    assert_eq!(against("3 HIGH", 2.8, 0.3), says, "no tolerance is none of half a millimetre");
    assert!(against("3.0 HIGH", 3.04, 0.3).is_empty() && against("1/8 HIGH", 3.175, 0.3).is_empty());
    assert_eq!(against("0.2 TO 0.4 DEEP", 3.0, 0.5), ["the note says relief 0.2 to 0.4 mm, the mark has 0.5 mm"]);
    assert_eq!(against("0.25 MAX DEEP", 3.0, 0.3), ["the note says relief at most 0.25 mm, the mark has 0.3 mm"]);
    assert_eq!(against("0.4 DEEP MIN", 3.0, 0.3), ["the note says relief at least 0.4 mm, the mark has 0.3 mm"]);
    assert!(against("0.4 DEEP MIN", 3.0, 4.0).is_empty() && against("NO NOTE", 3.0, 0.3).is_empty());
    mark.note = None;
    assert!(differs(&mark).is_empty());
}

/// Notes as they stand on drawings, made up for this, each with what it becomes; what stands after a question mark is left. An
/// inch is 25.4 mm, worked out by hand.
#[test]
fn every_phrase_of_a_note_is_taken_or_told_as_left() {
    let mut wrong = Vec::new();
    let mut count = 0;
    for line in NOTES.lines().filter(|l| !l.trim().is_empty() && !l.starts_with('#')) {
        let (note, wanted) = line.split_once(" => ").unwrap_or_else(|| panic!("no arrow: {line}"));
        count += 1;
        let found = told(&note.replace("\\n", "\n"));
        if found != wanted {
            wrong.push(format!("{note}\n  wanted {wanted}\n  found  {found}"));
        }
    }
    assert!(wrong.is_empty(), "{} of {count}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(count >= 150, "{count}");
}
