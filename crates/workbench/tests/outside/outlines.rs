//! Outlines against a font library.

use super::python::python;
use serde_json::json;
use trade::Lettering;

const OUTLINES: &str = r#"
import json, sys
from fontTools.ttLib import TTFont
from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.areaPen import AreaPen
given = json.load(sys.stdin)
told = {}
for face, path in given["faces"]:
    font = TTFont(path)
    glyphs, names = font.getGlyphSet(), font.getBestCmap()
    def bounds(c):
        pen = BoundsPen(glyphs); glyphs[names[ord(c)]].draw(pen); return pen.bounds
    scale = given["cap_height"] / bounds("H")[3]
    letters = {}
    for c in given["letters"]:
        pen = AreaPen(glyphs); glyphs[names[ord(c)]].draw(pen)
        low_x, low_y, high_x, high_y = bounds(c)
        letters[c] = [abs(pen.value) * scale ** 2, (high_x - low_x) * scale, low_y * scale, high_y * scale]
    told[face] = letters
print(json.dumps(told))
"#;

#[test]
fn outlines_and_cap_heights_agree_with_another_font_library() {
    let faces: Vec<(&str, String)> = lettering::faces()
        .iter()
        .filter(|f| f.id != "centre-line")
        .map(|f| (f.id, format!("{}/../lettering/faces/{}.ttf", env!("CARGO_MANIFEST_DIR"), f.id)))
        .collect();
    assert_eq!(faces.len(), 8);
    let letters = "ABCDEGHJKMNOPQRSUWZ0123456789-";
    let cap_height = 10.0;
    let told = python(OUTLINES, &json!({"faces": faces, "letters": letters, "cap_height": cap_height}));
    let mut compared = 0;
    for (face, _) in &faces {
        for c in letters.chars() {
            let lettering = Lettering { face: (*face).into(), cap_height, ..Lettering::default() };
            let set = lettering::set(&c.to_string(), &lettering, &[]).unwrap();
            let region = &set.characters[0].region;
            let (low, high) = region.bounds().unwrap();
            let theirs: Vec<f64> =
                told[face][c.to_string()].as_array().unwrap().iter().map(|v| v.as_f64().unwrap()).collect();
            let (area, width) = (theirs[0], theirs[1]);
            assert!((high.x - low.x - width).abs() < 0.005, "{face} {c}: width {} {width}", high.x - low.x);
            assert!(
                (low.y - theirs[2]).abs() < 0.005 && (high.y - theirs[3]).abs() < 0.005,
                "{face} {c}: {low} {high} {theirs:?}"
            );
            // flattened to 0.002 along every edge: at most that times the length of the outline
            let round: f64 = region.contours().map(|k| k.windows(2).map(|p| p[0].distance(p[1])).sum::<f64>()).sum();
            // contours of a glyph may overlap, and the other library counts what they share twice
            assert!(region.area() <= area + 0.002 * round, "{face} {c}: {} {area}", region.area());
            if (region.area() - area).abs() <= 0.002 * round {
                compared += 1;
            }
        }
    }
    assert!(compared as f64 > 0.9 * 8.0 * letters.len() as f64, "{compared} of {} areas agree", 8 * letters.len());
}
