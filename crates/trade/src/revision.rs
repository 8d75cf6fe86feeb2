//! Revision letters in sequence after ASME Y14.35 (from memory): A to Y without I, O, Q, S, X and Z, then AA,
//! AB, …; a dash is the first issue, before any revision.

/// The letters in use, in their order.
const LETTERS: &[u8] = b"ABCDEFGHJKLMNPRTUVWY";
/// More letters than this are no revision that anyone counts to.
const LONGEST: usize = 4;
/// How the first issue is written.
pub const FIRST_ISSUE: &str = "-";

/// The place of a revision in the sequence: 0 for the first issue, 1 for A.
///
/// # Errors
/// Which letter is not in the sequence.
pub fn rank(revision: &str) -> Result<u32, String> {
    if revision == FIRST_ISSUE {
        return Ok(0);
    }
    if revision.is_empty() || revision.chars().count() > LONGEST {
        return Err(format!("“{revision}” is not a revision; write A to Y, then AA, AB, …, or - for the first issue"));
    }
    let mut rank = 0;
    for letter in revision.chars() {
        let at = LETTERS.iter().position(|&l| char::from(l) == letter).ok_or_else(|| {
            format!("“{letter}” is not in the sequence of revisions: A to Y without I, O, Q, S, X, Z, then AA, AB, …")
        })?;
        rank = rank * LETTERS.len() as u32 + at as u32 + 1;
    }
    Ok(rank)
}

/// The revision at a place in the sequence.
#[must_use]
pub fn at(rank: u32) -> String {
    if rank == 0 {
        return FIRST_ISSUE.into();
    }
    let (mut rest, base) = (rank, LETTERS.len() as u32);
    let mut letters = Vec::new();
    while rest > 0 {
        rest -= 1;
        letters.push(char::from(LETTERS[(rest % base) as usize]));
        rest /= base;
    }
    letters.iter().rev().collect()
}

/// The revision after this one.
///
/// # Errors
/// As [`rank`], or it is the last that is counted to.
pub fn next(revision: &str) -> Result<String, String> {
    let next = at(rank(revision)? + 1);
    if next.len() > LONGEST {
        return Err(format!("“{revision}” is the last revision that is counted to"));
    }
    Ok(next)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// ASME Y14.35 (from memory): 20 single letters, then AA, AB, … AY, BA, ….
    #[test]
    fn revisions_run_as_the_standard_has_them() {
        let all: Vec<String> = (0..=440).map(at).collect();
        assert_eq!(all[..24].join(" "), "- A B C D E F G H J K L M N P R T U V W Y AA AB AC");
        assert_eq!(
            (all[40].as_str(), all[41].as_str(), all[420].as_str(), all[421].as_str()),
            ("AY", "BA", "YY", "AAA")
        );
        for (at, revision) in all.iter().enumerate() {
            assert_eq!(rank(revision), Ok(at as u32));
        }
        assert_eq!(next("Y").unwrap(), "AA");
        assert_eq!(next("-").unwrap(), "A");
        assert_eq!(next("H").unwrap(), "J");
    }

    #[test]
    fn letters_that_are_not_in_the_sequence_are_named() {
        for (revision, says) in [("I", "“I”"), ("AO", "“O”"), ("a", "“a”"), ("1", "“1”"), ("", "is not a revision")]
        {
            let error = rank(revision).unwrap_err();
            assert!(error.contains(says), "{error}");
        }
        assert!(next("YYYY").unwrap_err().contains("the last"));
        assert!(rank("AAAAA").is_err());
    }
}
