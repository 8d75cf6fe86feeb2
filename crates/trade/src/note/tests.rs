use super::*;

const NOTES: &str = include_str!("notes.txt");

fn told(note: &str) -> String {
    let found = read(note, None);
    let mut said: Vec<String> = found.wishes().map(Wish::says).collect();
    let piece = |(from, to): (usize, usize)| note.chars().skip(from).take(to - from).collect::<String>();
    said.extend(found.left.iter().map(|span| format!("?{}", piece(*span))));
    said.join("; ")
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
