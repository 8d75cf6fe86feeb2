//! Widths of strokes and counters against a library of planar geometry.

use super::python::python;
use flat::{disc, neck, signed_area};
use serde_json::{Value, json};
use trade::Lettering;

/// Grown inward by half a width, a shape falls apart where it is narrower than that; grown out again it lacks those places.
const NECKS: &str = r#"
import json, sys
from shapely import Point, Polygon, maximum_inscribed_circle, unary_union
from shapely.geometry import MultiPolygon
def parts(shape):
    return len(shape.geoms) if isinstance(shape, MultiPolygon) else (0 if shape.is_empty else 1)
told = []
for shape in json.load(sys.stdin):
    whole = unary_union([Polygon(i["outer"], i["counters"]) for i in shape["islands"]])
    width, middle = shape["width"], Point(shape["middle"])
    narrower, wider = (width - 0.01) / 2, (width + 0.01) / 2
    told.append({
        "valid": whole.is_valid, "parts": parts(whole),
        "left": parts(whole.buffer(-narrower, quad_segs=32)),
        # at a junction the neck is the rim of what is lost
        "away": whole.difference(whole.buffer(-wider, quad_segs=64).buffer(wider, quad_segs=64)).distance(middle),
        "inside": whole.covers(middle),
        "radii": [maximum_inscribed_circle(Polygon(c), tolerance=1e-5).length for i in shape["islands"] for c in i["counters"]],
    })
print(json.dumps(told))
"#;

#[test]
fn strokes_and_counters_agree_with_a_library_of_planar_geometry() {
    let mut shapes: Vec<Value> = Vec::new();
    let mut named = Vec::new();
    for face in lettering::faces() {
        for c in "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789".chars() {
            let lettering = Lettering { face: face.id.into(), cap_height: 3.0, ..Lettering::default() };
            let set = lettering::set(&c.to_string(), &lettering, &[]).unwrap();
            let region = &set.characters[0].region;
            let rings: Vec<_> = region.contours().cloned().collect();
            let stroke = neck::narrowest(&rings).unwrap_or_else(|| panic!("{} {c} has no stroke", face.id));
            let counters = rings.iter().filter(|ring| signed_area(ring) < 0.0);
            named.push((
                format!("{} {c}: {:.4}", face.id, stroke.diameter),
                stroke.diameter,
                counters.map(|ring| disc::largest(ring).unwrap().diameter / 2.0).collect::<Vec<f64>>(),
            ));
            let points = |ring: &[glam::DVec2]| ring.iter().map(|p| p.to_array()).collect::<Vec<_>>();
            let island = |i: &flat::Island| {
                let counters: Vec<_> = i.counters.iter().map(|c| points(c)).collect();
                json!({"outer": points(&i.outer), "counters": counters})
            };
            let islands: Vec<Value> = region.islands.iter().map(island).collect();
            shapes.push(json!({"islands": islands, "width": stroke.diameter, "middle": stroke.middle.to_array()}));
        }
    }
    let told = python(NECKS, &Value::Array(shapes));
    let told = told.as_array().unwrap();
    assert_eq!(told.len(), named.len());
    for (theirs, (what, width, radii)) in told.iter().zip(&named) {
        assert_eq!((&theirs["valid"], &theirs["inside"]), (&json!(true), &json!(true)), "{what}");
        // nothing is narrower, and there it is no wider
        assert!(theirs["left"].as_u64() <= theirs["parts"].as_u64(), "{what} falls apart: {theirs}");
        assert!(theirs["away"].as_f64().unwrap() <= 0.75 * width, "{what} is wider there: {theirs}");
        let counters: Vec<f64> = theirs["radii"].as_array().unwrap().iter().map(|r| r.as_f64().unwrap()).collect();
        assert_eq!(counters.len(), radii.len(), "{what}");
        for (their, own) in counters.iter().zip(radii) {
            // theirs is found by halving cells and ends a little short of the largest
            assert!(own - their > -1e-5 && own - their < 1.5e-3, "{what}: counter {own} for {their}");
        }
    }
}
