//! Which character the name of a layer or group stands for.

/// Glyph names as fonts have them (Adobe Glyph List), of characters that names of layers can't hold or that programs
/// don't like at their beginning.
const NAMES: &[(&str, char)] = &[
    ("zero", '0'),
    ("one", '1'),
    ("two", '2'),
    ("three", '3'),
    ("four", '4'),
    ("five", '5'),
    ("six", '6'),
    ("seven", '7'),
    ("eight", '8'),
    ("nine", '9'),
    ("ampersand", '&'),
    ("asterisk", '*'),
    ("at", '@'),
    ("backslash", '\\'),
    ("bar", '|'),
    ("colon", ':'),
    ("comma", ','),
    ("degree", '°'),
    ("equal", '='),
    ("exclam", '!'),
    ("greater", '>'),
    ("hyphen", '-'),
    ("less", '<'),
    ("numbersign", '#'),
    ("parenleft", '('),
    ("parenright", ')'),
    ("percent", '%'),
    ("period", '.'),
    ("plus", '+'),
    ("question", '?'),
    ("quotedbl", '"'),
    ("quotesingle", '\''),
    ("semicolon", ';'),
    ("slash", '/'),
    ("underscore", '_'),
];

/// The character that a layer or group is named after: itself, `U+0041` or `uni0041`, the name that fonts have for it,
/// or an escape of drawing programs such as `_x37_`.
#[must_use]
pub fn character(name: &str) -> Option<char> {
    let name = name.trim();
    let mut chars = name.chars();
    let drawn = |c: &char| !c.is_whitespace() && !c.is_control();
    if let (Some(only), None) = (chars.next(), chars.next()) {
        return Some(only).filter(drawn);
    }
    if let Some((_, c)) = NAMES.iter().find(|(known, _)| *known == name) {
        return Some(*c);
    }
    let code = ["U+", "u+", "uni"]
        .iter()
        .find_map(|prefix| name.strip_prefix(prefix))
        .or_else(|| name.strip_prefix("_x")?.strip_suffix('_'))?;
    let hexadecimal = (2..=6).contains(&code.len()) && code.bytes().all(|b| b.is_ascii_hexdigit());
    hexadecimal.then(|| u32::from_str_radix(code, 16).ok()).flatten().and_then(char::from_u32).filter(drawn)
}
