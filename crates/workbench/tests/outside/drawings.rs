//! Drawings against a drawing library.

use super::python::python;
use glam::DVec2;
use serde_json::Value;

const DRAWING: &str = r#"
import io, json, math, sys
import ezdxf
from ezdxf import path
from ezdxf.enums import InsertUnits

doc = ezdxf.new("R2010", units=InsertUnits.Inches)
space = doc.modelspace()

# one shape in each cell of a grid; what is drawn in a block counts when it is put in
def cell(k):
    return (20 * (k % 4), 20 * (k // 4))

def moved(points, k):
    x, y = cell(k)
    return [(x + p[0], y + p[1], *p[2:]) for p in points]

space.add_circle(cell(0), 4)
space.add_ellipse(cell(1), major_axis=(5, 2), ratio=0.4)
ring = [(0, -5), (4, -5), (6, 0), (3, 5), (-4, 4), (-6, -1), (-3, -4), (0, -5)]
space.add_open_spline([(*p, 0) for p in moved(ring, 2)], degree=3)
space.add_rational_spline([(*p, 0) for p in moved(ring, 3)], weights=[1, 2, 1, 0.5, 1, 3, 1, 1], degree=3)
space.add_lwpolyline(moved([(0, 0, 0.4), (8, 0, -0.3), (8, 6, 0), (2, 7, 1)], 4), format="xyb", close=True)
space.add_lwpolyline(moved([(0, 0, 0.4), (8, 0, -0.3), (8, 6, 0), (2, 7, 1)], 1), format="xyb", close=True,
                     dxfattribs={"extrusion": (0, 0, -1)}).translate(0, 20, 0)

hatch = space.add_hatch()
x, y = cell(6)
edges = hatch.paths.add_edge_path()
edges.add_line((x - 5, y), (x - 2, y))
edges.add_arc((x, y), 2, 180, 0, ccw=False)
edges.add_line((x + 2, y), (x + 5, y))
edges.add_ellipse((x, y), (5, 0), 0.8, 0, 180, ccw=True)
hole = hatch.paths.add_polyline_path([(x - 0.5, y + 3, 1), (x + 0.5, y + 3, 1)], is_closed=True)
wild = space.add_hatch()
x, y = cell(7)
edges = wild.paths.add_edge_path()
edges.add_spline(control_points=[(x, y), (x + 3, y - 3), (x + 6, y + 1), (x + 6, y + 5)], degree=3,
                 knot_values=[0, 0, 0, 0, 1, 1, 1, 1])
edges.add_line((x + 6, y + 5), (x - 2, y + 5))
edges.add_ellipse((x - 2, y + 2.5), (0, 2.5), 0.5, 0, 180, ccw=True)
edges.add_line((x - 2, y), (x, y))

part = doc.blocks.new("part")
part.add_circle((1, 1), 1)
part.add_lwpolyline([(3, 0, 0), (6, 0, 0.5), (6, 2, 0)], format="xyb", close=True)
whole = doc.blocks.new("whole", base_point=(1, 1))
whole.add_blockref("part", (0, 0), dxfattribs={"xscale": -1, "yscale": 1})
whole.add_blockref("part", (1, 0), dxfattribs={"rotation": 30})
space.add_blockref("whole", cell(9), dxfattribs={"rotation": 200, "xscale": 0.8, "yscale": 0.8})
mirrored = space.add_blockref("whole", (-100, 40), dxfattribs={"extrusion": (0, 0, -1)})

from ezdxf.disassemble import recursive_decompose
total, low, high = 0.0, math.inf, -math.inf
def shoelace(points):
    return abs(sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(points, points[1:] + points[:1]))) / 2
for entity in recursive_decompose(space):
    if entity.dxftype() == "HATCH":
        loops = [list(p.flattening(1e-5, 64)) for p in path.from_hatch(entity)]
    else:
        loops = [list(path.make_path(entity).flattening(1e-5, 64))]
    areas = sorted((shoelace([(v.x, v.y) for v in l]) for l in loops), reverse=True)
    total += areas[0] - sum(areas[1:])
    low = min([low] + [v.y for l in loops for v in l])
    high = max([high] + [v.y for l in loops for v in l])
out = io.StringIO()
doc.write(out)
print(json.dumps({"text": out.getvalue(), "area": total, "height": high - low}))
"#;

/// Areas and the height of a drawing with every kind of entity that bounds something, as ezdxf reads them.
#[test]
fn drawings_enclose_what_another_reader_finds() {
    let told = python(DRAWING, &Value::Null);
    let text = told["text"].as_str().unwrap();
    let drawing = artwork::read("all.dxf", text.as_bytes(), &artwork::Wish::default()).unwrap();
    let inch = 25.4;
    let [area, height] = ["area", "height"].map(|key| told[key].as_f64().unwrap());
    let found = drawing.height.unwrap();
    assert!((found - height * inch).abs() < 1e-4 * found, "{found} mm, not {}", height * inch);
    // an outline that lies no farther off than it is flattened to, 3e-5 of the height, encloses as much more or less
    // as that is times its length
    let length = |c: &Vec<DVec2>| (0..c.len()).map(|k| c[k].distance(c[(k + 1) % c.len()])).sum::<f64>();
    let around: f64 = drawing.region.contours().map(length).sum::<f64>();
    let (found, area) = (drawing.region.area(), area * (inch * 100.0 / found).powi(2));
    assert!((found - area).abs() < 0.003 * around, "{found}, not {area}; {around} round it");
    assert!((found / area - 1.0).abs() < 3e-4, "{found}, not {area}");
    assert!(drawing.faults.is_empty(), "{:?}", drawing.faults);
}
