//! Freeform strips against a geometry library.

use super::python::python;
use glam::DVec3;
use relief::Seat;
use serde_json::json;
use solid::{Part, Surface};

const STRIPS: &str = r#"
import json, sys
import numpy, igl
given = json.load(sys.stdin)
v = numpy.array(given["vertices"])
f = numpy.array(given["triangles"], dtype=numpy.int64)
ours = numpy.array(given["flat"])

def stretches(flat):
    """Singular values of the map from the strip to each facet."""
    e1, e2 = v[f[:, 1]] - v[f[:, 0]], v[f[:, 2]] - v[f[:, 0]]
    x = e1 / numpy.linalg.norm(e1, axis=1)[:, None]
    n = numpy.cross(e1, e2)
    y = numpy.cross(n / numpy.linalg.norm(n, axis=1)[:, None], x)
    space = numpy.stack([numpy.stack([(e1 * x).sum(1), (e1 * y).sum(1)], 1),
                         numpy.stack([(e2 * x).sum(1), (e2 * y).sum(1)], 1)], 2)
    strip = numpy.stack([flat[f[:, 1]] - flat[f[:, 0]], flat[f[:, 2]] - flat[f[:, 0]]], 2)
    return numpy.linalg.svd(strip @ numpy.linalg.inv(space), compute_uv=False)

area = igl.doublearea(v, f) / 2
def told(flat):
    s = stretches(flat)
    return {"energy": float((area * ((s - 1) ** 2).sum(1)).sum() / area.sum()),
            "worst": float(numpy.abs(s - 1).max())}

# begun from its own conformal map, not from ours
edge = igl.boundary_loop(f)
ends = numpy.array([edge[0], edge[len(edge) // 2]], dtype=numpy.int64)
far = numpy.linalg.norm(v[ends[0]] - v[ends[1]])
start = igl.lscm(v, f, ends, numpy.array([[0.0, 0.0], [far, 0.0]]))[0]
data = igl.ARAPData()
data.max_iter = 400
igl.arap_precomputation(v, f, 2, numpy.zeros(0, dtype=numpy.int32), data)
theirs = igl.arap_solve(numpy.zeros((0, 2)), data, start)
# turned and shifted on to one another (Kabsch)
a, b = ours - ours.mean(0), theirs[:, :2] - theirs[:, :2].mean(0)
u, _, w = numpy.linalg.svd(a.T @ b)
turn = u @ numpy.diag([1, numpy.sign(numpy.linalg.det(u @ w))]) @ w
apart = numpy.linalg.norm(a @ turn - b, axis=1).max()
print(json.dumps({"ours": told(ours), "theirs": told(theirs[:, :2]), "apart": float(apart)}))
"#;

/// The strip of the lever's grip against another library's parametrisation by the same energy, begun elsewhere.
#[test]
fn a_freeform_strip_is_laid_as_another_library_lays_it() {
    let part = Part::from_mesh(&demo::parts::shut_off_lever()).unwrap();
    let faces = (0..part.faces.len()).filter(|&f| matches!(part.faces[f].surface, Surface::Freeform));
    let grip = faces.max_by(|&a, &b| part.faces[a].area.total_cmp(&part.faces[b].area)).unwrap() as u32;
    let seat = Seat::on(&part, grip, Some(DVec3::Z)).unwrap();
    let mut numbers = std::collections::HashMap::new();
    let (mut vertices, mut flat) = (Vec::new(), Vec::new());
    let mut triangles: Vec<[usize; 3]> = Vec::new();
    for &t in seat.chart.patch().unwrap() {
        triangles.push(part.mesh.triangles[t as usize].map(|v| {
            *numbers.entry(v).or_insert_with(|| {
                let p = part.mesh.vertices[v as usize];
                vertices.push(p.to_array());
                flat.push(seat.chart.strip(p).0.to_array());
                vertices.len() - 1
            })
        }));
    }
    let told = python(STRIPS, &json!({"vertices": vertices, "triangles": triangles, "flat": flat}));
    println!("{told}");
    let of = |whose: &str, what: &str| told[whose][what].as_f64().unwrap();
    // no more stretch on the whole, nor at the worst place, than what the other library reaches
    assert!(of("ours", "energy") < 1.02 * of("theirs", "energy"), "{told}");
    assert!(of("ours", "worst") < 1.05 * of("theirs", "worst") + 0.002, "{told}");
    assert!(told["apart"].as_f64().unwrap() < 0.25, "{told}");
}
