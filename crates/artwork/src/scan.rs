//! A look through a drawing before it is read: what would be run, fetched, or ask too much.

use crate::error::ArtworkError;
use quick_xml::{Reader, events::Event};

/// Deepest that elements may lie in one another: readers call themselves that deep.
const DEEPEST: usize = 200;
/// Longest entity; those that drawing programs write are addresses.
const LONGEST_ENTITY: usize = 300;

/// What a drawing holds beside shapes.
#[derive(Default)]
pub struct Scanned {
    /// Its lengths are in units of length, not in pixels.
    pub to_size: bool,
    pub scripts: usize,
    pub pictures: usize,
    /// References to something outside of it.
    pub outside: usize,
}

/// # Errors
/// It is no well-formed SVG, goes too deep, holds text, or defines more than plain entities.
pub fn scan(text: &str) -> Result<Scanned, ArtworkError> {
    let mut reader = Reader::from_str(text);
    let mut found = Scanned::default();
    let mut deep = 0_usize;
    let mut deepest = 0_usize;
    // inside of an element whose text would be drawn
    let mut written: Option<(usize, String)> = None;
    let mut root = false;
    loop {
        let event = reader.read_event().map_err(|e| unreadable(&e, text, reader.error_position()))?;
        match &event {
            Event::Start(element) | Event::Empty(element) => {
                let name = element.local_name().as_ref().to_owned();
                if !root {
                    root = true;
                    if name != "svg" {
                        return Err(ArtworkError::Unreadable(format!("it begins with “{name}”, not with “svg”")));
                    }
                }
                let mut refers = false;
                for attribute in element.attributes().with_checks(false).flatten() {
                    let key = attribute.key.local_name();
                    let value = attribute.value.trim().to_owned();
                    match key.as_ref() {
                        "href" => refers = !value.starts_with('#') && !value.starts_with("data:"),
                        "height" if deep == 0 => {
                            let units = ["mm", "cm", "in", "pt", "pc", "q"];
                            found.to_size = units.iter().any(|u| value.to_lowercase().ends_with(u));
                        }
                        _ => {}
                    }
                }
                match name.as_str() {
                    "script" => found.scripts += 1,
                    "image" => found.pictures += 1,
                    "text" if matches!(event, Event::Start(_)) && written.is_none() => {
                        written = Some((deep, String::new()));
                    }
                    _ => {}
                }
                // a link leads somewhere and draws nothing
                found.outside += usize::from(refers && name != "a");
                if matches!(event, Event::Start(_)) {
                    deep += 1;
                    deepest = deepest.max(deep);
                }
            }
            Event::End(_) => {
                deep = deep.saturating_sub(1);
                if let Some((_, said)) = written.take_if(|(at, _)| *at == deep)
                    && !said.trim().is_empty()
                {
                    return Err(ArtworkError::Text(said.trim().chars().take(40).collect()));
                }
            }
            Event::Text(piece) => {
                if let Some((_, said)) = &mut written {
                    said.push_str(piece);
                }
            }
            Event::DocType(given) => entities(given)?,
            Event::Eof => break,
            _ => {}
        }
        if deepest > DEEPEST {
            return Err(ArtworkError::TooDeep(deepest));
        }
    }
    if !root {
        return Err(ArtworkError::Unreadable("it contains no element".into()));
    }
    Ok(found)
}

fn unreadable(error: &quick_xml::Error, text: &str, at: u64) -> ArtworkError {
    let before = text.get(..usize::try_from(at).unwrap_or(text.len())).unwrap_or(text);
    ArtworkError::Unreadable(format!("line {}: {error}", before.matches('\n').count() + 1))
}

/// Entities are short texts without others in them: nothing grows when they are put in.
fn entities(doctype: &str) -> Result<(), ArtworkError> {
    for given in doctype.split("<!ENTITY").skip(1) {
        let name = given.split_whitespace().next().unwrap_or_default().to_owned();
        let value = given.split('>').next().unwrap_or_default();
        let fetched = ["SYSTEM", "PUBLIC"].iter().any(|word| value.split_whitespace().any(|w| w == *word));
        if name == "%" || fetched || value.len() > LONGEST_ENTITY || value.contains('&') || value.contains('<') {
            return Err(ArtworkError::Entity(name));
        }
    }
    Ok(())
}
