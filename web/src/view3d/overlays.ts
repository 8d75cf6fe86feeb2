import {
  BufferGeometry,
  CircleGeometry,
  type Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  type MeshBasicMaterialParameters,
  type Object3D,
  SphereGeometry,
  Vector3,
} from "three";
import type { Witness } from "../api/client";
import { lineGeometry, type Point } from "./objects";
import { token } from "./tokens";

/** Where the brush has gone: circles on the surface. */
export function brushed(spots: { at: Point; out: Point; radius: number }[]): Object3D[] {
  return spots.map(({ at, out, radius }) => {
    const disc = new Mesh(
      new CircleGeometry(radius, 40),
      new MeshBasicMaterial({
        color: token("--keep-out"),
        transparent: true,
        opacity: 0.3,
        depthTest: false,
        side: 2,
      }),
    );
    disc.position.set(...at);
    disc.quaternion.setFromUnitVectors(new Vector3(0, 0, 1), new Vector3(...out).normalize());
    return disc;
  });
}

/** Open edges and crossing triangles, and slivers, which are no fault. */
export function faulty(edges: Point[][], triangles: Point[][], slivers: Point[][]): Object3D[] {
  const colour = token("--fail");
  const lines = new LineSegments(lineGeometry(edges), new LineBasicMaterial({ color: colour, depthTest: false }));
  const faces = new BufferGeometry().setFromPoints(triangles.flat().map((p) => new Vector3(...p)));
  return [
    lines,
    new Mesh(faces, new MeshBasicMaterial({ color: colour, side: 2, depthTest: false })),
    new LineSegments(lineGeometry(slivers), new LineBasicMaterial({ color: token("--marginal") })),
  ];
}

/** The places where something was measured. */
export function witnessed(witnesses: Witness[]): Object3D[] {
  const colour = token("--fail");
  const objects: Object3D[] = [];
  const dot = (p: number[]) => {
    const sphere = new Mesh(new SphereGeometry(1, 16, 12), new MeshBasicMaterial({ color: colour, depthTest: false }));
    sphere.position.set(p[0], p[1], p[2]);
    sphere.userData.pixels = 4.5;
    sphere.renderOrder = 3;
    objects.push(sphere);
  };
  for (const w of witnesses) {
    if (w.kind === "point") dot(w.at);
    else if (w.kind === "pair") {
      dot(w.from);
      dot(w.to);
      const line = new LineSegments(
        lineGeometry([[w.from as Point, w.to as Point]]),
        new LineBasicMaterial({ color: colour, depthTest: false }),
      );
      line.renderOrder = 3;
      objects.push(line);
    } else {
      const corners = new BufferGeometry().setFromPoints(w.corners.map((p) => new Vector3(p[0], p[1], p[2])));
      objects.push(new Mesh(corners, new MeshBasicMaterial({ color: colour, side: 2, depthTest: false })));
      dot([0, 1, 2].map((k) => (w.corners[0][k] + w.corners[1][k] + w.corners[2][k]) / 3));
    }
  }
  return objects;
}

/** Triangles of the surface painted over. */
export function painted(triangles: Point[][]): Object3D {
  const patch = new BufferGeometry().setFromPoints(triangles.flat().map((p) => new Vector3(...p)));
  const offset = { polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -2 };
  return new Mesh(patch, new MeshBasicMaterial({ ...areaLook(), ...offset }));
}

/** How areas look. */
export const areaLook = () => ({ color: token("--keep-out"), transparent: true, opacity: 0.42, depthWrite: false });

/** Facets of some of the part's faces, drawn over it. */
export function onFaces(
  pieces: Iterable<Group>,
  wanted: (face: number) => boolean,
  look: MeshBasicMaterialParameters,
): Object3D[] {
  return [...pieces].flatMap((group) => {
    const mesh = group.children[0] as Mesh;
    const owners = mesh.userData.owners as Int32Array;
    const index = mesh.geometry.index;
    if (!index) return [];
    const chosen: number[] = [];
    for (let t = 0; t < index.count; t += 3) {
      const corner = index.getX(t);
      if (owners[2 * corner] === -1 && wanted(owners[2 * corner + 1])) {
        chosen.push(corner, index.getX(t + 1), index.getX(t + 2));
      }
    }
    if (!chosen.length) return [];
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", mesh.geometry.getAttribute("position"));
    geometry.setIndex(chosen);
    const drawn = new Mesh(geometry, new MeshBasicMaterial(look));
    // its corners are the part's own and stay
    drawn.userData.shared = true;
    return [drawn];
  });
}
