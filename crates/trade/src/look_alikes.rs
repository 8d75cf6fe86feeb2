//! Characters that are taken for one another, as they are or upside down.
//!
//! The pairs are common practice in part marking: 0/O, 1/I/l, 2/Z, 5/S, 8/B; upside down 6/9 and
//! whatever else reads as a different number when the part is turned round.

const GROUPS: [&str; 5] = ["0O", "1Il", "2Z", "5S", "8B"];

/// Pairs of different characters of `text` that are taken for one another.
#[must_use]
pub fn pairs(text: &str) -> Vec<(char, char)> {
    let mut found = Vec::new();
    for group in GROUPS {
        let there: Vec<char> = group.chars().filter(|c| text.contains(*c)).collect();
        for (at, &one) in there.iter().enumerate() {
            found.extend(there[at + 1..].iter().map(|&other| (one, other)));
        }
    }
    found
}

/// `text` with every character as the first of those that it is taken for.
#[must_use]
pub fn folded(text: &str) -> String {
    let first = |c: char| GROUPS.iter().find(|g| g.contains(c)).and_then(|g| g.chars().next()).unwrap_or(c);
    text.chars().map(first).collect()
}

/// What a single character reads as upside down, where that is another one.
#[must_use]
pub fn turned(c: char) -> Option<char> {
    match c {
        '6' => Some('9'),
        '9' => Some('6'),
        'M' => Some('W'),
        'W' => Some('M'),
        'n' => Some('u'),
        'u' => Some('n'),
        'b' => Some('q'),
        'q' => Some('b'),
        'd' => Some('p'),
        'p' => Some('d'),
        _ => None,
    }
}

/// What `text` reads as upside down, where that is a different text made of whole characters only
/// and nothing in it says which way is up.
#[must_use]
pub fn upside_down(text: &str) -> Option<String> {
    let turned: Option<String> = text
        .chars()
        .rev()
        .map(|c| match c {
            '0' | 'O' | 'H' | 'I' | 'N' | 'S' | 'X' | 'Z' | '8' | '1' | '-' | ' ' => Some(c),
            '6' | '9' | 'M' | 'W' => turned(c),
            _ => None,
        })
        .collect();
    turned.filter(|t| t != text && text.chars().any(|c| c.is_alphanumeric()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_trades_own_examples_are_found() {
        assert_eq!(pairs("B80"), vec![('8', 'B')]);
        assert_eq!(pairs("O0 1Il"), vec![('0', 'O'), ('1', 'I'), ('1', 'l'), ('I', 'l')]);
        assert!(pairs("VB-20-07 D").is_empty());
        for (text, turned) in [("6", "9"), ("66", "99"), ("16", "91"), ("86", "98")] {
            assert_eq!(upside_down(text).as_deref(), Some(turned));
        }
        for text in ["88", "VB-20", "", "69", "-"] {
            assert_eq!(upside_down(text), None, "{text}");
        }
    }
}
