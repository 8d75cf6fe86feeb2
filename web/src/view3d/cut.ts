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
import type { Schemas } from "../api/client";
import { lineGeometry, type Point } from "./objects";
import { hatching } from "./textures";
import { token } from "./tokens";

/** The part cut open by a plane: `normal · p = height`, what is cut through body by body, and its edge in pieces. */
export interface Cut {
  section: Schemas["SectionView"];
  /** How far the lines of the hatching are apart, mm; as the part asks for, if not given. */
  pitch?: number;
  /** Pieces of the edge that are picked. */
  picked?: number[];
}

/** A place on a cut, and the piece of the edge that it lies on, if on one. */
export interface OnCut {
  at: Point;
  edge?: number;
}

/** A piece of the edge as separate straight pieces. */
function straight({ points, closed }: Schemas["CutEdgeView"]): Point[][] {
  const ends = closed ? [...points, points[0]] : points;
  return ends.slice(1).map((p, k) => [ends[k] as Point, p as Point]);
}

/** What is cut through, hatched body by body, and its edge. */
export function cutThrough({ section, pitch, picked = [] }: Cut, radius: number): Object3D[] {
  // hatching at 45° to two directions of the plane; what fills an inlay the other way
  const normal = new Vector3(...(section.normal as Point));
  const x = new Vector3(Math.abs(normal.x) > 0.9 ? 0 : 1, Math.abs(normal.x) > 0.9 ? 1 : 0, 0).projectOnPlane(normal);
  const y = normal.clone().cross(x.normalize());
  const wide = pitch ?? 0.09 * radius;
  const fills = section.bodies.map(({ triangles, filling }) => {
    const corners = triangles.flat().map((p) => new Vector3(...(p as Point)));
    const geometry = new BufferGeometry().setFromPoints(corners);
    const across = (filling ? -1 : 1) * wide;
    const uv = corners.flatMap((v) => [v.dot(x) / across, v.dot(y) / wide]);
    geometry.setAttribute("uv", new BufferAttribute(new Float32Array(uv), 2));
    return new Mesh(geometry, new MeshBasicMaterial({ map: hatching(), side: 2 }));
  });
  const lines = (edges: Schemas["CutEdgeView"][], colour: string, over: boolean) => {
    const drawn = new LineSegments(
      lineGeometry(edges.flatMap(straight)),
      new LineBasicMaterial({ color: token(colour), depthTest: !over }),
    );
    drawn.renderOrder = over ? 2 : 0;
    return drawn;
  };
  const chosen = section.edges.filter((_, k) => picked.includes(k));
  return [...fills, lines(section.edges, "--ink", false), ...(chosen.length ? [lines(chosen, "--fail", true)] : [])];
}

/** The place of the cut that a ray meets; no farther than `snap` mm from an edge, on it. */
export function onCut({ section }: Cut, ray: Ray, snap: number): OnCut | undefined {
  const at = ray.intersectPlane(new Plane(new Vector3(...(section.normal as Point)), -section.height), new Vector3());
  if (!at) return undefined;
  let least = snap;
  let near: { at: Vector3; edge?: number } = { at };
  section.edges.forEach((piece, edge) => {
    for (const [a, b] of straight(piece)) {
      const from = new Vector3(...a);
      const along = new Vector3(...b).sub(from);
      const t = Math.min(1, Math.max(0, at.clone().sub(from).dot(along) / Math.max(along.lengthSq(), 1e-12)));
      const foot = from.addScaledVector(along, t);
      const miss = foot.distanceTo(at);
      if (miss < least) {
        least = miss;
        near = { at: foot, edge };
      }
    }
  });
  return { at: near.at.toArray() as Point, edge: near.edge };
}
