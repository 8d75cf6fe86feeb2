import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MeshStandardMaterial,
  type Plane,
  SRGBColorSpace,
} from "three";
import type { Piece } from "./mesh";
import { drop } from "./objects";
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
  /** Under a torch: edges are not drawn, only what its light shows. */
  lit: boolean;
}

/** A piece of the solid with its edges. */
export function built(piece: Piece, look: Look): Group {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(piece.positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(piece.normals, 3));
  geometry.setIndex(new BufferAttribute(piece.triangles, 1));
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
  mesh.receiveShadow = true;
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
  const group = new Group().add(mesh, edges);
  paint(group, look);
  return group;
}

/** What throws shadows under a torch: the mark alone. Parts and marks beside it throw others, but a lamp is held where none falls on
 *  the mark. */
function caster(mesh: Mesh, mark: number): Mesh {
  const { owners, triangles } = mesh.userData.piece as Piece;
  const of = (corner: number) => owners[2 * corner] === mark;
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", mesh.geometry.getAttribute("position"));
  const whole = (k: number) => {
    const first = k - (k % 3);
    return of(triangles[first]) && of(triangles[first + 1]) && of(triangles[first + 2]);
  };
  geometry.setIndex(
    new BufferAttribute(
      triangles.filter((_, k) => whole(k)),
      1,
    ),
  );
  const unseen = new MeshBasicMaterial({ colorWrite: false, depthWrite: false, side: DoubleSide });
  const thrown = new Mesh(geometry, unseen);
  thrown.castShadow = true;
  return thrown;
}

/** Paints lettering and part; one mark as the picked one. */
export function paint(group: Group, { colours: tones, picked, lit }: Look) {
  const [mesh, edges] = group.children as [Mesh, LineSegments];
  const owners = mesh.userData.owners as Int32Array;
  edges.visible = !lit;
  const thrown = group.children[2] as Mesh | undefined;
  if (thrown) {
    group.remove(thrown);
    // its places are the piece's own
    thrown.geometry.deleteAttribute("position");
    drop(thrown);
  }
  if (lit) group.add(caster(mesh, picked));
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
  mesh.geometry.setAttribute("color", new BufferAttribute(colours, 3));
}
