# Seats by their formulas.
import json, sys, io, base64
import numpy, trimesh, igl

given = json.load(sys.stdin)
mesh = trimesh.load(io.BytesIO(base64.b64decode(given["stl"])), file_type="stl")
kind, nominal = given["kind"], given["nominal"]


def above(points):
    """How far outward points lie from the seat; on a freeform seat, how far from it on either side."""
    if kind == "plane":
        return points[:, 2] - given["level"]
    if kind == "cylinder":  # about x
        return numpy.hypot(points[:, 1], points[:, 2]) - given["radius"]
    if kind == "bore":  # about z
        return given["radius"] - numpy.hypot(points[:, 0], points[:, 1])
    if kind == "sphere":
        return numpy.linalg.norm(points, axis=1) - given["radius"]
    if kind == "torus":
        out = numpy.hypot(points[:, 0], points[:, 1]) - given["major"]
        return numpy.hypot(out, points[:, 2]) - given["minor"]
    if kind == "cone":  # radius falls from `foot` at z = 0 to `top` at z = `tall`
        slope = numpy.array([given["tall"], given["foot"] - given["top"]])
        slope = slope / numpy.linalg.norm(slope)
        radial = numpy.hypot(points[:, 0], points[:, 1])
        return (radial - given["foot"]) * slope[0] + points[:, 2] * slope[1]
    if kind == "barrel":  # about z, an arc whose middle lies beyond the axis
        out = numpy.hypot(points[:, 0], points[:, 1]) - given["waist"] + given["bend"]
        return numpy.hypot(out, points[:, 2] - given["tall"] / 2) - given["bend"]
    if kind == "ellipse":  # along y; the nearest place by Newton's steps on the angle
        wide, tall = given["wide"], given["tall"]
        x, z = points[:, 0], points[:, 2]
        angle = numpy.arctan2(z * wide, x * tall)
        for _ in range(40):
            sine, cosine = numpy.sin(angle), numpy.cos(angle)
            first = (wide * cosine - x) * -wide * sine + (tall * sine - z) * tall * cosine
            second = wide ** 2 * sine ** 2 + tall ** 2 * cosine ** 2 \
                - (wide * cosine - x) * wide * cosine - (tall * sine - z) * tall * sine
            angle = angle - first / second
        sine, cosine = numpy.sin(angle), numpy.cos(angle)
        outward = numpy.stack([tall * cosine, wide * sine]) / numpy.hypot(tall * cosine, wide * sine)
        return (x - wide * cosine) * outward[0] + (z - tall * sine) * outward[1]
    if kind == "crease":  # two flats falling from the ridge along y at this height
        lean = numpy.radians(given["lean"])
        return numpy.maximum(*(s * points[:, 0] * numpy.sin(lean) + (points[:, 2] - given["ridge"]) * numpy.cos(lean)
                               for s in (1, -1)))
    v, f = numpy.array(given["vertices"]), numpy.array(given["triangles"], dtype=numpy.int64)
    return numpy.sqrt(igl.point_mesh_squared_distance(numpy.ascontiguousarray(points), v, f)[0])


def level_facets():
    """What runs level with the seat and is not the part's own surface, however high it stands, near the mark."""
    step = 1e-4
    middles, normals = mesh.triangles_center, mesh.face_normals
    level = abs(above(middles + normals * step) - above(middles)) > 0.999 * step
    flat = level & (numpy.abs(above(middles)) > 0.25 * abs(nominal))
    low, high = numpy.array(given["near"])
    return flat & numpy.all((middles > low) & (middles < high), axis=1)
