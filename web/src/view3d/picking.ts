import { type Group, type Mesh, type Raycaster, Vector3 } from "three";
import { MeshBVH, acceleratedRaycast } from "three-mesh-bvh";
import type { Point } from "./objects";

/** What lies under the pointer. `mark` is −1 on the part itself; `place` is the face or the character. */
export interface Picked {
  point: Point;
  mark: number;
  place: number;
  /** Normal of the facet, and its number in its piece. */
  out: Point;
  triangle: number;
  /** What is up in the picture. */
  up: Point;
}

/** What of the pieces a ray meets first. */
export function under(pointer: Raycaster, pieces: Iterable<Group>, marked: boolean): Picked | undefined {
  let nearest: Picked | undefined;
  let least = Infinity;
  const { camera } = pointer;
  const up = new Vector3(0, 1, 0).applyQuaternion(camera.quaternion).toArray() as Point;
  for (const group of pieces) {
    const mesh = group.children[0] as Mesh;
    // searched by a tree, which is made when it is first needed and leaves the triangles in their order
    if (!mesh.geometry.boundsTree) {
      mesh.geometry.boundsTree = new MeshBVH(mesh.geometry, { indirect: true });
      mesh.raycast = acceleratedRaycast;
    }
    const hit = pointer.intersectObject(mesh, false)[0];
    const owners = mesh.userData.owners as Int32Array;
    if (!hit?.face) continue;
    // through a surface body lettering is picked before what lies over it
    const distance = hit.distance - (marked && owners[2 * hit.face.a] >= 0 ? 1e6 : 0);
    if (distance >= least) continue;
    least = distance;
    nearest = {
      point: hit.point.toArray() as Point,
      mark: owners[2 * hit.face.a],
      place: owners[2 * hit.face.a + 1],
      out: hit.face.normal.toArray() as Point,
      triangle: hit.faceIndex ?? -1,
      up,
    };
  }
  return nearest;
}
