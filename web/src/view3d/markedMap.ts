import {
  type BufferAttribute,
  type Mesh,
  type MeshStandardMaterial,
  type BufferGeometry,
  type Object3D,
  Mesh as Drawn,
  type Raycaster,
  Triangle,
  Vector3,
} from "three";
import { acceleratedRaycast, MeshBVH } from "three-mesh-bvh";
import type { Schemas } from "../api/client";
import { material, surface } from "./mapped";

/** Figures over the marked solid as the server sends them, and how they are painted. */
export interface MarkedMap {
  map: Schemas["MarkedMapView"];
  /** The value that is painted palest. */
  top: number;
}

/** What stands under the pointer. */
export interface ReadOff {
  value: number;
  /** The letter's place in the mark; −1 beside it, −2 on its pad. */
  letter: number;
  limit: number;
  fails: boolean;
}

/** The places of a map, painted, a hair before the solid itself. */
export function markedMap(
  { map, top }: MarkedMap,
  token: (name: string) => string,
): Mesh<BufferGeometry, MeshStandardMaterial> {
  const positions = new Float32Array(map.corners);
  const pieces = map.limits.length;
  const [normals, asked, caught] = [9, 3, 3].map((n) => new Float32Array(n * pieces));
  const failing = new Set(map.failing);
  const facet = new Triangle();
  const normal = new Vector3();
  for (let p = 0; p < pieces; p++) {
    facet.a.fromArray(positions, 9 * p);
    facet.b.fromArray(positions, 9 * p + 3);
    facet.c.fromArray(positions, 9 * p + 6);
    facet.getNormal(normal);
    for (let k = 0; k < 3; k++) {
      normal.toArray(normals, 9 * p + 3 * k);
      asked[3 * p + k] = map.limits[p];
    }
    // what leans back is told apart from what is merely short
    const back = map.check === "draft" && map.values[3 * p] < -map.error;
    if (back || failing.has(p)) caught.fill(1, 3 * p, 3 * p + 3);
  }
  const values = new Float32Array(map.values);
  const look = material({ top, most: map.limit.side === "at_most", error: map.error }, token);
  look.polygonOffsetFactor = -1;
  look.polygonOffsetUnits = -2;
  const drawn = new Drawn(surface({ positions, normals, values, asked, caught }), look);
  drawn.geometry.boundsTree = new MeshBVH(drawn.geometry, { indirect: true });
  drawn.raycast = acceleratedRaycast;
  drawn.userData.map = map;
  return drawn;
}

export function readOff(ray: Raycaster, drawn: Object3D | undefined): ReadOff | undefined {
  const map = drawn?.userData.map as Schemas["MarkedMapView"] | undefined;
  if (!drawn || !map) return undefined;
  const hit = ray.intersectObject(drawn, false)[0];
  if (hit?.faceIndex == null) return undefined;
  const p = hit.faceIndex;
  const position = (drawn as Mesh).geometry.getAttribute("position") as BufferAttribute;
  const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromBufferAttribute(position, 3 * p + k));
  const share = new Triangle(a, b, c).getBarycoord(hit.point, new Vector3());
  const value = share
    ? share.x * map.values[3 * p] + share.y * map.values[3 * p + 1] + share.z * map.values[3 * p + 2]
    : map.values[3 * p];
  return { value, letter: map.letters[p], limit: map.limits[p], fails: map.failing.includes(p) };
}
