import {
  BufferAttribute,
  BufferGeometry,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  type Object3D,
  Plane,
  type Ray,
  Vector3,
} from "three";
import { lineGeometry, type Point } from "./objects";
import { hatching } from "./textures";
import { token } from "./tokens";

/** The part cut open by a plane: `normal · p = height`, what is cut through and its edge. */
export interface Cut {
  normal: Point;
  height: number;
  filled: Point[][];
  rings: Point[][];
}

/** What is cut through, hatched, and its edge. */
export function cutThrough(cut: Cut, radius: number): Object3D[] {
  const corners = cut.filled.flat();
  const geometry = new BufferGeometry().setFromPoints(corners.map((p) => new Vector3(...p)));
  // hatching at 45° to two directions of the plane, as wide as the part asks for
  const normal = new Vector3(...cut.normal).normalize();
  const x = new Vector3(Math.abs(normal.x) > 0.9 ? 0 : 1, Math.abs(normal.x) > 0.9 ? 1 : 0, 0).projectOnPlane(normal);
  const y = normal.clone().cross(x.normalize());
  const pitch = 0.09 * radius;
  const uv = corners.flatMap((p) => {
    const v = new Vector3(...p);
    return [v.dot(x) / pitch, v.dot(y) / pitch];
  });
  geometry.setAttribute("uv", new BufferAttribute(new Float32Array(uv), 2));
  const fill = new Mesh(geometry, new MeshBasicMaterial({ map: hatching(), side: 2 }));
  const edge = new LineSegments(
    lineGeometry(cut.rings.flatMap((ring) => ring.map((p, k) => [p, ring[(k + 1) % ring.length]]))),
    new LineBasicMaterial({ color: token("--ink") }),
  );
  return [fill, edge];
}

/** The place of the cut that a ray meets; no farther than `snap` mm from an edge, on it. */
export function onCut(cut: Cut, ray: Ray, snap: number): Point | undefined {
  const normal = new Vector3(...cut.normal).normalize();
  const at = ray.intersectPlane(new Plane(normal, -cut.height), new Vector3());
  if (!at) return undefined;
  let least = snap;
  let near = at;
  for (const ring of cut.rings)
    ring.forEach((p, k) => {
      const from = new Vector3(...p);
      const along = new Vector3(...ring[(k + 1) % ring.length]).sub(from);
      const t = Math.min(1, Math.max(0, at.clone().sub(from).dot(along) / Math.max(along.lengthSq(), 1e-12)));
      const foot = from.addScaledVector(along, t);
      const miss = foot.distanceTo(at);
      if (miss < least) {
        least = miss;
        near = foot;
      }
    });
  return near.toArray() as Point;
}
