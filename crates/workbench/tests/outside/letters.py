# Figures of each letter, measured on the written file alone: it is told what the seat is, and where letters stand.
from scipy.optimize import least_squares, minimize
from scipy.sparse import coo_matrix
from scipy.spatial import cKDTree
from shapely import LineString, Point, Polygon, maximum_inscribed_circle, unary_union
from shapely.affinity import rotate
from shapely.geometry import MultiPolygon
from shapely.ops import polygonize


def laid_flat(points, edges, begin):
    """Points in the plane with distances along edges as in space, nearest to it by least squares."""
    lengths = numpy.linalg.norm(points[edges[:, 0]] - points[edges[:, 1]], axis=1)
    weight = 1 / numpy.sqrt(lengths)
    rows = numpy.repeat(numpy.arange(len(edges)), 4)
    columns = numpy.stack([2 * edges[:, 0], 2 * edges[:, 0] + 1, 2 * edges[:, 1], 2 * edges[:, 1] + 1], axis=1).ravel()

    def apart(x):
        x = x.reshape(-1, 2)
        return x[edges[:, 0]] - x[edges[:, 1]]

    def off(x):
        return (numpy.linalg.norm(apart(x), axis=1) - lengths) * weight

    def slope(x):
        way = apart(x)
        way = way / numpy.linalg.norm(way, axis=1)[:, None] * weight[:, None]
        return coo_matrix((numpy.hstack([way, -way]).ravel(), (rows, columns)), shape=(len(edges), begin.size)).tocsr()

    found = least_squares(off, begin.ravel(), jac=slope, method="trf", tr_solver="lsmr", xtol=1e-12, ftol=1e-12)
    flat = found.x.reshape(-1, 2)
    own = numpy.linalg.norm(flat[edges[:, 0]] - flat[edges[:, 1]], axis=1)
    long = lengths > 0.05
    return flat, float(numpy.abs(own / lengths - 1)[long].max()) if long.any() else 0.0


def outline(faces):
    """Edges that only one of these facets has."""
    edges = numpy.sort(mesh.faces[faces][:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    found, count = numpy.unique(edges, axis=0, return_counts=True)
    return found[count == 1]


def closed(lines, inside):
    """The polygon that these lines bound and that holds the places `inside`."""
    rings = list(polygonize([LineString(l) for l in lines]))
    held = [r for r in rings if any(r.covers(p) for p in inside)]
    return unary_union(held)


def parts(shape):
    return len(shape.geoms) if isinstance(shape, MultiPolygon) else (0 if shape.is_empty else 1)


def holes(shape):
    return sum(len(s.interiors) for s in getattr(shape, "geoms", [shape]))


near_low, near_high = numpy.array(given["near"])
middles = mesh.triangles_center
level = level_facets()
heights = above(middles)
step = 1e-4
slanted = (abs(above(middles + mesh.face_normals * step) - heights) <= 0.999 * step) & (abs(heights) > 0.02 * nominal)
walls = slanted & numpy.all((middles > near_low) & (middles < near_high), axis=1)
relief = numpy.flatnonzero(level | walls)
place = -numpy.ones(len(mesh.faces), dtype=int)
place[relief] = numpy.arange(len(relief))
pairs = place[mesh.face_adjacency]
pairs = pairs[(pairs >= 0).all(axis=1)]
groups = [g for g in trimesh.graph.connected_components(pairs, nodes=numpy.arange(len(relief))) if level[relief[g]].any()]

# which group is which letter
letters = given["letters"]
tops = [relief[g][level[relief[g]]] for g in groups]
centres = numpy.array([numpy.average(middles[t], axis=0, weights=mesh.area_faces[t]) for t in tops])
roots = [outline(relief[g]) for g in groups]


def along_lines(edges):
    return along_lines_of(mesh.vertices[edges])


def along_lines_of(ends, every=0.004):
    many = numpy.ceil(numpy.linalg.norm(ends[:, 1] - ends[:, 0], axis=1) / every).astype(int) + 1
    shares = numpy.concatenate([numpy.linspace(0, 1, n) for n in many])
    of = numpy.repeat(numpy.arange(len(ends)), many)
    return ends[of, 0] * (1 - shares)[:, None] + ends[of, 1] * shares[:, None]


def unrolled(points):
    """Places of the seat in the plane, lengths kept where it unrolls."""
    x, y, z = points.T
    turn = lambda a, b: (lambda t: numpy.mod(t - t[0] + numpy.pi, 2 * numpy.pi) + t[0] - numpy.pi)(numpy.arctan2(a, b))
    if kind == "plane":
        return numpy.stack([x, y], axis=1)
    if kind == "cylinder":
        return numpy.stack([x, given["radius"] * turn(y, z)], axis=1)
    if kind == "bore":
        return numpy.stack([given["radius"] * turn(y, x), z], axis=1)
    if kind == "crease":
        return numpy.stack([x / numpy.cos(numpy.radians(given["lean"])), y], axis=1)
    if kind == "cone":
        run = given["foot"] - given["top"]
        tip = given["tall"] * given["foot"] / run
        away = numpy.hypot(numpy.hypot(x, y), tip - z)
        angle = turn(y, x) * given["foot"] / numpy.hypot(given["foot"], tip)
        return numpy.stack([away * numpy.cos(angle), away * numpy.sin(angle)], axis=1)
    # what bends both ways is nearly flat about one counter
    centre = points.mean(axis=0)
    return (points - centre) @ numpy.linalg.svd(points - centre, full_matrices=False)[2][:2].T


def largest_ball(points, within):
    """Radius of the largest ball about a place of the seat, inside a ring, that holds none of the ring."""
    ring = cKDTree(along_lines_of(points.reshape(-1, 2, 3)))
    centre = points.mean(axis=0)
    across = numpy.linalg.svd(points - centre, full_matrices=False)[2][:2]

    def on_seat(uv):
        p = (centre + uv @ across)[None, :]
        for _ in range(6):
            h = above(p)[0]
            slope = numpy.array([(above(p + 1e-6 * e)[0] - h) / 1e-6 for e in numpy.eye(3)])
            p = p - h * slope / (slope @ slope)
        return p[0]

    start = maximum_inscribed_circle(within).coords[0]
    away = lambda uv: -ring.query(on_seat(uv))[0] if within.covers(Point(uv)) else 0.0
    found = [minimize(away, numpy.array(start) + by, method="Nelder-Mead",
                      options={"xatol": 1e-5, "fatol": 1e-7}) for by in ((0, 0), (0.03, 0.02))]
    return -min(f.fun for f in found)


clouds = [along_lines(r) for r in roots]
told = []
for letter in letters:
    own = int(numpy.linalg.norm(centres - numpy.array(letter["middle"]), axis=1).argmin())
    faces, top = relief[groups[own]], tops[own]
    x, y = numpy.array(letter["along"]), numpy.array(letter["up"])
    y = y - x * (x @ y)
    y = y / numpy.linalg.norm(y)
    begin_of = lambda p: (p - numpy.array(letter["middle"])) @ numpy.stack([x, y]).T

    # top or floor
    corners = numpy.unique(mesh.faces[top])
    edges = numpy.unique(numpy.sort(mesh.faces[top][:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    number = {v: k for k, v in enumerate(corners)}
    local = numpy.vectorize(number.get)(edges)
    flat, stretch = laid_flat(mesh.vertices[corners], local, begin_of(mesh.vertices[corners]))
    spot = lambda v: flat[number[v]]
    shape = unary_union([Polygon([spot(v) for v in mesh.faces[t]]).buffer(1e-7) for t in top])
    ups = lambda turn: (lambda b: b[3] - b[1])(rotate(shape, turn, origin=(0, 0)).bounds)
    cap = min(ups(turn) for turn in numpy.linspace(-3, 3, 241))
    width = letter["stroke"]
    narrower, wider = (width - letter["within"]) / 2, (width + letter["within"]) / 2
    # where it was found narrowest: the place of the laid-flat shape nearest to it in space
    ours = numpy.mean(letter["stroke_at"], axis=0)
    best = None
    for t in top:
        a, b, c = mesh.vertices[mesh.faces[t]]
        bary = trimesh.triangles.points_to_barycentric([[a, b, c]], [ours])[0]
        bary = numpy.clip(bary, 0, 1)
        bary = bary / bary.sum()
        gone = numpy.linalg.norm(bary @ numpy.array([a, b, c]) - ours)
        if best is None or gone < best[0]:
            best = (gone, bary @ numpy.array([spot(v) for v in mesh.faces[t]]))
    opened = shape.buffer(-wider, quad_segs=64).buffer(wider, quad_segs=64)

    # root or rim, flat about each counter by itself: a sphere's or a torus's counter bends little
    counters, spaces = [], None
    lines = mesh.vertices[roots[own]]
    graph = trimesh.graph.connected_components(roots[own])
    if len(graph) > 1:
        for ring in graph:
            ring = set(int(v) for v in ring)
            ends = lines[[int(e[0]) in ring for e in roots[own]]]
            centre = ends.reshape(-1, 3).mean(axis=0)
            far = numpy.linalg.norm(ends.reshape(-1, 3) - centre, axis=1).max()
            places = unrolled(ends.reshape(-1, 3)).reshape(-1, 2, 2)
            rings = list(polygonize([LineString(l) for l in places]))
            if rings:
                widest = max(rings, key=lambda r: r.area)
                radius = maximum_inscribed_circle(widest, tolerance=1e-5).length
                if kind in ("sphere", "torus"):
                    radius = largest_ball(ends.reshape(-1, 3), widest)
                counters.append((far, radius))
        counters.remove(max(counters))

    # walls
    wall = faces[~level[faces]]
    v = mesh.vertices[mesh.faces[wall]]
    longest = numpy.linalg.norm(v - numpy.roll(v, 1, axis=1), axis=2).max(axis=1)
    high = 2 * mesh.area_faces[wall] / longest
    drafts = numpy.degrees(numpy.arcsin(mesh.face_normals[wall] @ numpy.array(letter["pull"])))
    told_walls = high > (0.03 if kind == "crease" else 0.02)

    random = numpy.random.default_rng(7)
    weight = mesh.area_faces[top]
    picked = mesh.triangles[random.choice(top, 4000, p=weight / weight.sum())]
    deep = numpy.abs(above(numpy.einsum("ij,ijk->ik", random.dirichlet([1, 1, 1], 4000), picked)))
    others = numpy.concatenate([c for k, c in enumerate(clouds) if k != own])
    told.append({
        "off": float(numpy.linalg.norm(centres[own] - numpy.array(letter["middle"]))),
        "stretch": stretch, "cap": cap, "area": shape.area,
        "parts": parts(shape), "left": parts(shape.buffer(-narrower, quad_segs=32)),
        "away": opened.symmetric_difference(shape).intersection(shape).distance(Point(best[1])),
        "counters": [r * 2 for _, r in counters],
        "draft": float(drafts[told_walls].min()), "wall": float(mesh.area_faces[wall].sum()),
        "mean": float(deep.mean()), "least": float(deep.min()), "greatest": float(deep.max()),
        "gap": float(cKDTree(clouds[own]).query(others)[0].min()),
    })
print(json.dumps({"groups": len(groups), "letters": told}))
