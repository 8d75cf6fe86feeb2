//! What is said of cutters with a mark: the widest that passes, and what those that there are leave.

use lettering::faces::CENTRE_LINE;
use relief::BuiltMark;
use toolside::{Cutting, Left, SLENDER, cutting};
use trade::{Cutter, Walls};

/// With which cutter, and whether what stands is thin.
pub(crate) fn passes(built: &BuiltMark, scale: f64) -> Option<String> {
    let Cutting { widest, deep, standing } = cutting(built, scale)?;
    let relief = &built.mark.relief;
    Some(match standing {
        Some(wide) if deep > SLENDER * wide => format!(
            "thin: what stands is {deep:.2} mm tall on {wide:.2} mm; between it a cutter of Ø {widest:.2} mm passes everywhere"
        ),
        Some(_) => format!("between what stands a cutter of Ø {widest:.2} mm passes everywhere"),
        // strokes of the centre-line alphabet are one cutter wide; other faces have wider ones as well
        None if built.mark.lettering.face == CENTRE_LINE && relief.draft > 0.0 && relief.walls == Walls::Seat => {
            format!(
                "in one pass by a cutter that tapers by {}° a side, {widest:.2} mm at its tip, {deep:.2} mm deep",
                relief.draft
            )
        }
        None => format!("a cutter of Ø {widest:.2} mm passes everywhere, {deep:.2} mm deep"),
    })
}

/// What a cutter leaves, and why.
pub(crate) fn leaves(found: &Left, cutter: &Cutter) -> String {
    /// Letters that are named.
    const NAMED: usize = 6;
    let mut says = Vec::new();
    if found.short {
        let reach = cutter.reach.unwrap_or_default();
        says.push(format!("reaches {reach:.2} mm, and {:.2} mm must be cut", found.deep));
    }
    if let Some(leans) = found.leans {
        says.push(format!("leans out {leans:.1}° further than the walls, which keeps it off their foot"));
    }
    if found.area > 0.0 {
        let mut named: Vec<&str> = Vec::new();
        for (_, text, _) in &found.letters {
            if !named.contains(&text.as_str()) {
                named.push(text);
            }
        }
        let more = if named.len() > NAMED { " and others" } else { "" };
        named.truncate(NAMED);
        let at = if named.is_empty() { String::new() } else { format!(" at {}{more}, most first", named.join(", ")) };
        let of = found.whole.map(|whole| format!(" of {whole:.3}")).unwrap_or_default();
        says.push(format!("leaves {:.3}{of} mm²{at}", found.area));
        if found.too_wide() {
            says.push("it is too wide for most of it".into());
        } else if cutter.diameter > 0.0 {
            says.push(format!("inner corners keep a radius of {:.2} mm", cutter.diameter / 2.0));
        }
    } else {
        says.push("leaves nothing wider than 0.01 mm".into());
    }
    if cutter.corner > 0.0 {
        says.push(format!("rounds the bottom by R {} all along", cutter.corner));
    }
    if let Some(deep) = found.depth_of_stroke {
        says.push(format!("along the centre line it gives the stroke's width at the surface {deep:.2} mm deep"));
    }
    says.join("; ")
}
