import { BufferAttribute, BufferGeometry, type Mesh, type Object3D } from "three";

export type Point = [number, number, number];

/** Gives back what a drawn object holds. */
export function drop(object: Object3D) {
  const { geometry, material } = object as Partial<Mesh>;
  if (!object.userData.shared) geometry?.dispose();
  for (const m of material ? [material].flat() : []) m.dispose();
}

/** Separate straight pieces. */
export function lineGeometry(segments: Point[][]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(segments.flat(2)), 3));
  return geometry;
}
