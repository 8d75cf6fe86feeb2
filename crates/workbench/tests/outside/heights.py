chosen = numpy.flatnonzero(level_facets())
weight = mesh.area_faces[chosen]
random = numpy.random.default_rng(7)
picked = mesh.triangles[random.choice(chosen, 20000, p=weight / weight.sum())]
shares = random.dirichlet([1, 1, 1], 20000)
heights = numpy.abs(above(numpy.einsum("ij,ijk->ik", shares, picked)))
print(json.dumps({"area": float(weight.sum()), "least": float(heights.min()), "greatest": float(heights.max())}))
