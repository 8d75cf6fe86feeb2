//! Material codes as ISO 11469 marks them on a part, composed of the symbols of ISO 1043: `>PA66-GF30<`.
//!
//! The symbols and what may follow what are from memory of ISO 1043-1 (polymers), -2 (fillers) and -4 (flame
//! retardants). A code is read from left to right: polymers joined by `+`, fillers with their share after `-`, a
//! flame retardant at the end.

/// Polymers of ISO 1043-1. Polyamides stand for themselves: PA with the numbers of their monomers.
const POLYMERS: &[&str] = &[
    "ABS", "ACS", "AES", "AMMA", "ASA", "CA", "CAB", "CAP", "CN", "COC", "CP", "EMA", "EP", "ETFE", "EVAC", "EVOH",
    "FEP", "LCP", "MABS", "MBS", "MF", "PA", "PAEK", "PAI", "PAN", "PAR", "PB", "PBN", "PBT", "PC", "PCT", "PCTFE",
    "PE", "PEEK", "PEI", "PEK", "PEN", "PESU", "PET", "PF", "PFA", "PI", "PIB", "PK", "PLA", "PMMA", "PMMI", "PMP",
    "POM", "PP", "PPA", "PPE", "PPS", "PPSU", "PS", "PSU", "PTFE", "PTT", "PUR", "PVAC", "PVAL", "PVB", "PVC", "PVDC",
    "PVDF", "PVF", "SAN", "SB", "SMAH", "SMS", "TPA", "TPC", "TPE", "TPO", "TPS", "TPU", "TPV", "TPZ", "UF", "UP",
    "VE",
];
/// Properties of ISO 1043-1 that follow a polymer: PE-HD, PVC-P, PS-HI.
const PROPERTIES: &[&str] =
    &["B", "C", "E", "F", "H", "HD", "HI", "I", "L", "LD", "LLD", "MD", "P", "R", "U", "UHMW", "VLD", "X"];
/// What fillers are made of, ISO 1043-2.
const FILLERS: &[(char, &str)] = &[
    ('A', "aramid"),
    ('B', "boron"),
    ('C', "carbon"),
    ('D', "alumina trihydrate"),
    ('E', "clay"),
    ('G', "glass"),
    ('K', "calcium carbonate"),
    ('L', "cellulose"),
    ('M', "mineral"),
    ('N', "natural organic"),
    ('P', "mica"),
    ('Q', "silica"),
    ('S', "synthetic organic"),
    ('T', "talc"),
    ('W', "wood"),
    ('X', "not specified"),
    ('Z', "others"),
];
/// What form fillers have, ISO 1043-2.
const FORMS: &[(char, &str)] = &[
    ('B', "beads"),
    ('C', "chips"),
    ('D', "powder"),
    ('F', "fibre"),
    ('G', "ground"),
    ('H', "whiskers"),
    ('K', "knitted"),
    ('L', "layer"),
    ('M', "mat"),
    ('N', "non-woven"),
    ('P', "paper"),
    ('R', "roving"),
    ('S', "flakes"),
    ('T', "cord"),
    ('V', "veneer"),
    ('W', "woven"),
    ('X', "not specified"),
    ('Y', "yarn"),
    ('Z', "others"),
];

/// A code as it is marked: `>PA66-GF30<` of `PA66-GF30`. The brackets may be there already.
///
/// # Errors
/// What in it is no symbol, or stands where it can't.
pub fn marked(code: &str) -> Result<String, String> {
    let bare = code.trim().trim_start_matches('>').trim_end_matches('<').trim();
    check(bare)?;
    Ok(format!(">{bare}<"))
}

/// What a code means, piece by piece: "polymer PA66, 30 % glass fibre".
///
/// # Errors
/// As [`marked`].
pub fn reading(code: &str) -> Result<String, String> {
    Ok(read(code)?.join(", "))
}

fn check(code: &str) -> Result<(), String> {
    read(code).map(|_| ())
}

fn read(code: &str) -> Result<Vec<String>, String> {
    if code.is_empty() {
        return Err("a material code names a polymer, for instance PA66-GF30".into());
    }
    let mut said = Vec::new();
    let (body, flame) = match code.find("FR(") {
        Some(at) => (code[..at].trim_end_matches([' ', '-']), Some(&code[at..])),
        None => (code, None),
    };
    if flame.is_some_and(|f| code.len() == f.len() || !code[..code.len() - f.len()].ends_with([' ', '-'])) {
        return Err(
            "a flame retardant follows the polymer and its fillers after a space, as in PA66-GF25 FR(52)".into()
        );
    }
    let (polymers, fillers) = fillers_of(body);
    for polymer in polymers.split('+') {
        said.push(format!("polymer {}", self::polymer(polymer)?));
    }
    if let Some(fillers) = fillers {
        let inner = match (fillers.strip_prefix('('), fillers.strip_suffix(')')) {
            (Some(_), Some(_)) => &fillers[1..fillers.len() - 1],
            (None, None) => fillers,
            _ => return Err(format!("“{fillers}” has a bracket without its partner")),
        };
        let several = inner.contains('+');
        if several != fillers.starts_with('(') {
            return Err(if several {
                format!("several fillers stand in brackets: ({fillers})")
            } else {
                format!("one filler stands without brackets: {inner}")
            });
        }
        let mut sum = 0;
        for one in inner.split('+') {
            let (what, share) = filler(one)?;
            sum += share;
            said.push(what);
        }
        if sum >= 100 {
            return Err(format!("its fillers are {sum} % together; that leaves no polymer"));
        }
    }
    if let Some(flame) = flame {
        let codes = flame.strip_prefix("FR(").and_then(|f| f.strip_suffix(')'));
        let codes = codes.ok_or_else(|| format!("“{flame}” is to end with its code in brackets, as in FR(52)"))?;
        for code in codes.split('+') {
            if code.len() != 2 || !code.bytes().all(|b| b.is_ascii_digit()) || code < "10" {
                return Err(format!("“{code}” is not a flame retardant's code; these have two digits, as in FR(52)"));
            }
        }
        said.push(format!("flame retardant {codes}"));
    }
    Ok(said)
}

/// The polymers of a code and what comes after the hyphen that begins its fillers: they end in their share, or
/// stand in brackets.
fn fillers_of(code: &str) -> (&str, Option<&str>) {
    for (at, _) in code.match_indices('-') {
        let rest = &code[at + 1..];
        let filler = rest.starts_with('(') || (rest.ends_with(|c: char| c.is_ascii_digit()) && !rest.contains('-'));
        if filler && !rest.starts_with(|c: char| c.is_ascii_digit()) {
            return (&code[..at], Some(rest));
        }
    }
    (code, None)
}

fn polymer(text: &str) -> Result<&str, String> {
    let (symbol, property) = match text.split_once('-') {
        Some((symbol, property)) => (symbol, Some(property)),
        None => (text, None),
    };
    let known = POLYMERS.contains(&symbol)
        || symbol.strip_prefix("PA").is_some_and(|monomers| {
            monomers
                .split('/')
                .all(|m| (1..=4).contains(&m.len()) && m.bytes().all(|b| b.is_ascii_digit() || b.is_ascii_uppercase()))
                && monomers.starts_with(|c: char| c.is_ascii_digit() || c == 'M')
        });
    if !known {
        let upper = symbol.to_uppercase();
        return Err(if POLYMERS.contains(&upper.as_str()) && upper != symbol {
            format!("symbols are written in capitals: {upper}")
        } else if symbol.contains(' ') {
            format!("there is no blank in a polymer's symbol: {}", symbol.replace(' ', ""))
        } else if symbol.is_empty() {
            "a polymer's symbol is missing".into()
        } else {
            format!("“{symbol}” is not a polymer's symbol in ISO 1043-1")
        });
    }
    if let Some(property) = property
        && !PROPERTIES.contains(&property)
    {
        return Err(format!(
            "“{property}” after {symbol} is neither a property (HD, P, HI, …) nor a filler with its share (GF30)"
        ));
    }
    Ok(text)
}

/// A filler in words and its share, per cent.
fn filler(text: &str) -> Result<(String, u32), String> {
    let how =
        || format!("“{text}” is not a filler; it has a letter for its material, one for its form, and its share: GF30");
    let mut letters = text.chars();
    let (Some(of), Some(form)) = (letters.next(), letters.next()) else { return Err(how()) };
    let digits = letters.as_str();
    if digits.is_empty() || digits.len() > 2 || !digits.bytes().all(|b| b.is_ascii_digit()) {
        return Err(how());
    }
    let share: u32 = digits.parse().map_err(|_| how())?;
    let word = |table: &[(char, &'static str)], letter: char| table.iter().find(|(l, _)| *l == letter).map(|(_, w)| *w);
    let stuff =
        word(FILLERS, of).ok_or_else(|| format!("“{of}” in {text} is not a filler's material in ISO 1043-2"))?;
    let form = word(FORMS, form).ok_or_else(|| format!("“{form}” in {text} is not a filler's form in ISO 1043-2"))?;
    if share == 0 {
        return Err(format!("{text} has a share of 0 %"));
    }
    Ok((format!("{share} % {stuff} {form}"), share))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Codes as ISO 11469 has them in its examples (from memory).
    #[test]
    fn codes_as_the_standard_has_them_are_marked() {
        for (code, reading) in [
            ("ABS", "polymer ABS"),
            ("PC+ABS", "polymer PC, polymer ABS"),
            ("PA66-GF30", "polymer PA66, 30 % glass fibre"),
            ("PP-MD30", "polymer PP, 30 % mineral powder"),
            ("PA66-(GF25+MD15)", "polymer PA66, 25 % glass fibre, 15 % mineral powder"),
            ("PE-HD", "polymer PE-HD"),
            ("PVC-P", "polymer PVC-P"),
            ("PA6/66", "polymer PA6/66"),
            ("PBT+PC-GF10", "polymer PBT, polymer PC, 10 % glass fibre"),
            ("PS-HI-GF10", "polymer PS-HI, 10 % glass fibre"),
            ("PA66-GF25 FR(52)", "polymer PA66, 25 % glass fibre, flame retardant 52"),
            ("PP-TD20-FR(40)", "polymer PP, 20 % talc powder, flame retardant 40"),
        ] {
            assert_eq!(self::reading(code).as_deref(), Ok(reading));
            assert_eq!(marked(code).unwrap(), format!(">{code}<"));
        }
        assert_eq!(marked(" >POM< ").unwrap(), ">POM<");
    }

    #[test]
    fn what_may_not_stand_there_is_named() {
        for (code, says) in [
            ("", "names a polymer"),
            ("abs", "capitals: ABS"),
            ("PA 66", "no blank"),
            ("NYLON", "“NYLON” is not a polymer"),
            ("PA66-GF", "“GF” after PA66"),
            ("PA66-30GF", "“30GF”"),
            ("PA66-GF25+MD15", "in brackets: (GF25+MD15)"),
            ("PA66-(GF25)", "without brackets: GF25"),
            ("PA66-(GF25+MD15", "bracket"),
            ("PA66-(GF60+MD45)", "105 %"),
            ("PA66-GF00", "0 %"),
            ("PA66-JF30", "“J” in JF30"),
            ("PA66-GJ30", "“J” in GJ30"),
            ("PA66-GF300", "“GF300” is not a filler"),
            ("ABS+", "symbol is missing"),
            ("PP FR(4)", "“4” is not a flame"),
            ("PP FR(40", "end with its code"),
            ("FR(40)", "follows the polymer"),
        ] {
            let error = reading(code).unwrap_err();
            assert!(error.contains(says), "{code}: {error}");
        }
    }
}
