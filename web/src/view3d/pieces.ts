import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshStandardMaterial,
  type Plane,
  SRGBColorSpace,
} from "three";
import type { Piece } from "./mesh";
import { token } from "./tokens";

/** How pieces of the marked solid are drawn. */
export interface Look {
  colours: Record<"part" | "lettering" | "picked", Color>;
  /** The mark that is picked; −1 for none. */
  picked: number;
  /** An open part is seen from both sides; a surface body is seen through where marks are shown. */
  open: "no" | "bare" | "marked";
  /** What is taken off by a cut. */
  clip: Plane[] | null;
}

/** A piece of the solid with its edges. */
export function built(piece: Piece, look: Look): Group {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(piece.positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(piece.normals, 3));
  geometry.setIndex(new BufferAttribute(piece.triangles, 1));
  paint(geometry, piece.owners, look);
  // edges are drawn over faces that lie in the same place
  const material = new MeshStandardMaterial({
    vertexColors: true,
    roughness: 0.62,
    metalness: 0.12,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  });
  if (look.open !== "no") {
    material.side = DoubleSide;
    // lettering below the surface shows through it
    const glass = look.open === "marked" && piece.owners.every((owner, k) => k % 2 === 1 || owner < 0);
    Object.assign(material, { transparent: glass, opacity: glass ? 0.55 : 1, depthWrite: !glass });
  }
  const mesh = new Mesh(geometry, material);
  mesh.userData.owners = piece.owners;
  mesh.userData.piece = piece;
  const lines = new BufferGeometry();
  lines.setAttribute("position", new BufferAttribute(piece.segments, 3));
  const clippingPlanes = look.clip;
  material.clippingPlanes = clippingPlanes;
  const edges = new LineSegments(
    lines,
    new LineBasicMaterial({ color: token("--edge"), transparent: true, opacity: 0.55, clippingPlanes }),
  );
  return new Group().add(mesh, edges);
}

/** Paints lettering and part; one mark as the picked one. */
export function paint(geometry: BufferGeometry, owners: Int32Array, { colours: tones, picked }: Look) {
  const colours = new Float32Array((owners.length / 2) * 3);
  const letter = new Color();
  for (let k = 0; k < owners.length / 2; k++) {
    const mark = owners[2 * k];
    const own = owners[2 * k + 1];
    const tone =
      mark < 0
        ? tones.part
        : own >= 0
          ? letter.setHex(own, SRGBColorSpace)
          : own === -2
            ? letter.copy(tones.part).lerp(mark === picked ? tones.picked : tones.lettering, 0.3)
            : mark === picked
              ? tones.picked
              : tones.lettering;
    tone.toArray(colours, 3 * k);
  }
  geometry.setAttribute("color", new BufferAttribute(colours, 3));
}
