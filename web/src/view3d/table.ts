import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  CircleGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  Group,
  HemisphereLight,
  LineBasicMaterial,
  LineDashedMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  type MeshBasicMaterialParameters,
  MeshStandardMaterial,
  Object3D,
  OrthographicCamera,
  Plane,
  PlaneGeometry,
  Raycaster,
  RepeatWrapping,
  SRGBColorSpace,
  Scene,
  SphereGeometry,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { MeshBVH, acceleratedRaycast } from "three-mesh-bvh";
import type { Witness } from "../api/client";
import type { Paint, SkinMap } from "./map";
import type { Piece } from "./mesh";
import { skin } from "./skin";

export type Point = [number, number, number];

/** Where to look: a point, the direction to the eye, what is upright there, and how many mm are seen. */
export interface Target {
  at: Point;
  out: Point;
  up: Point;
  extent: number;
  lean?: number;
}

/** The part cut open by a plane: `normal · p = height`, what is cut through and its edge. */
export interface Cut {
  normal: Point;
  height: number;
  filled: Point[][];
  rings: Point[][];
}

/** What lies under the pointer. `mark` is −1 on the part itself; `place` is the face or the character. */
export interface Picked {
  point: Point;
  mark: number;
  place: number;
  /** Normal of the facet, and its number in its piece. */
  out: Point;
  triangle: number;
}

/** What is drawn beside the solid itself. */
type Drawn = "parting" | "ghost" | "faults" | "witness" | "face" | "cut" | "map" | "areas" | "brush";

/** Drawing is slow beyond this: two frames. */
const SLOW_MS = 34;
/** A press this near to the edge of a cut is on it. */
const SNAP_PIXELS = 10;
/** A pause between changes. */
const REST_MS = 120;

const tokens = new Map<string, string>();
/** A colour of the page's, asked for once: with every letter typed it would be worked out anew with all styles. */
function token(name: string): string {
  const value = tokens.get(name) ?? getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  tokens.set(name, value);
  return value;
}

/** The part on its table: drawn only when something changed. */
export class Table {
  readonly #renderer: WebGLRenderer;
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera(-1, 1, 1, -1, -1e4, 1e5);
  readonly #controls: OrbitControls;
  readonly #pieces = new Map<string, Group>();
  readonly #solid = new Group();
  readonly #drawn: Record<Drawn, Group> = {
    parting: new Group(),
    ghost: new Group(),
    faults: new Group(),
    witness: new Group(),
    face: new Group(),
    cut: new Group(),
    map: new Group(),
    areas: new Group(),
    brush: new Group(),
  };
  #cut: Cut | undefined;
  /** Keeps the half that is seen. */
  readonly #half = new Plane();
  readonly #shadow: Mesh;
  readonly #key = new DirectionalLight(0xffffff, 2.1);
  readonly #colours: Record<"part" | "lettering" | "wall" | "picked", Color>;
  readonly #resized: ResizeObserver;
  #frame = 0;
  #rest: ReturnType<typeof setTimeout> | undefined;
  /** From the last drawing's start to the next frame, ms. */
  #took = 0;
  #radius = 10;
  #middle = new Vector3();
  #pickedMark = -1;
  /** An open part is seen from both sides; a sheet is seen through where marks are shown. */
  sheet: "no" | "bare" | "marked" = "no";
  /** Called after each drawing with a way from part coordinates to pixels. */
  ondrawn: (pixels: (p: Point) => [number, number]) => void = () => {};

  constructor(readonly canvas: HTMLCanvasElement) {
    this.#colours = {
      part: new Color(token("--part")),
      lettering: new Color(token("--lettering")),
      wall: new Color(token("--lettering-wall")),
      picked: new Color(token("--picked")),
    };
    this.#renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.#renderer.localClippingEnabled = true;
    this.#renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    this.#camera.up.set(0, 0, 1);
    this.#controls = new OrbitControls(this.#camera, canvas);
    this.#controls.addEventListener("change", () => this.draw());
    this.#controls.enableDamping = false;
    this.#controls.zoomToCursor = true;
    // a soft key light from the upper left of the eye, over a warm sky and a pale table
    this.#key.position.set(-0.8, 0.9, 1);
    this.#camera.add(this.#key, this.#key.target);
    this.#key.target.position.set(0, 0, -1);
    this.#shadow = new Mesh(
      new PlaneGeometry(1, 1),
      new MeshBasicMaterial({ map: softDisc(), transparent: true, depthWrite: false, opacity: 0.45 }),
    );
    this.#scene.add(this.#camera, new HemisphereLight(0xfff6e4, 0xb7b09c, 1.5), this.#solid, this.#shadow);
    this.#scene.add(...Object.values(this.#drawn));
    this.#resized = new ResizeObserver(() => this.#fit());
    this.#resized.observe(canvas);
    this.#fit();
  }

  close() {
    cancelAnimationFrame(this.#frame);
    clearTimeout(this.#rest);
    this.#resized.disconnect();
    this.#controls.dispose();
    this.#scene.traverse(drop);
    this.#renderer.dispose();
  }

  /** Asks for a drawing in the next frame. */
  draw() {
    this.canvas.dataset.idle = "false";
    if (this.#frame) return;
    clearTimeout(this.#rest);
    this.#frame = requestAnimationFrame(() => {
      this.#frame = 0;
      const start = performance.now();
      // from below the table is glass
      this.#shadow.visible = this.#camera.position.z > this.#controls.target.z;
      if (this.#cut) this.#faceCut(this.#cut);
      // dots keep their size on the screen
      const mm = (2 * this.#camera.top) / this.#camera.zoom / this.canvas.clientHeight;
      for (const dot of this.#drawn.witness.children)
        if (dot.userData.pixels) dot.scale.setScalar(dot.userData.pixels * mm);
      this.#renderer.render(this.#scene, this.#camera);
      this.ondrawn((p) => this.pixels(p));
      this.canvas.dataset.idle = "true";
      requestAnimationFrame(() => (this.#took = performance.now() - start));
    });
  }

  /** Asks for a drawing; where drawing is slow, for one when the changes pause, so that the strip need not wait. */
  #drawAtRest() {
    if (this.#took < SLOW_MS) {
      this.draw();
      return;
    }
    this.canvas.dataset.idle = "false";
    clearTimeout(this.#rest);
    this.#rest = setTimeout(() => this.draw(), REST_MS);
  }

  pixels([x, y, z]: Point): [number, number] {
    const p = new Vector3(x, y, z).project(this.#camera);
    return [((p.x + 1) / 2) * this.canvas.clientWidth, ((1 - p.y) / 2) * this.canvas.clientHeight];
  }

  #fit() {
    const { clientWidth: wide, clientHeight: tall } = this.canvas;
    if (!wide || !tall) return;
    this.#renderer.setSize(wide, tall, false);
    const half = this.#radius;
    const aspect = wide / tall;
    const [x, y] = aspect > 1 ? [half * aspect, half] : [half, half / aspect];
    Object.assign(this.#camera, { left: -x, right: x, top: y, bottom: -y });
    this.#camera.updateProjectionMatrix();
    this.draw();
  }

  /** Sets how large the part is and turns it so that it is seen whole. */
  frame(size: Point, middle: Point, towards: Point = [-0.45, -0.75, 0.62]) {
    this.#radius = Math.hypot(...size) / 2 || 1;
    this.#middle.set(...middle);
    this.#shadow.position.set(middle[0], middle[1], middle[2] - size[2] / 2 - 0.02 * this.#radius);
    this.#shadow.scale.set(size[0] * 1.5, size[1] * 1.5, 1);
    for (const line of this.#drawn.parting.children) this.#dash(line);
    this.#camera.near = -20 * this.#radius;
    this.#camera.far = 60 * this.#radius;
    this.whole(towards);
  }

  whole(towards: Point = [-0.45, -0.75, 0.62]) {
    const out = new Vector3(...towards).normalize();
    this.#camera.up.set(0, 0, 1);
    this.#controls.target.copy(this.#middle);
    this.#camera.position.copy(this.#middle).addScaledVector(out, 4 * this.#radius);
    this.#camera.zoom = 1.08;
    this.#controls.update();
    this.#fit();
  }

  /** Turns to look at a place, `out` towards the eye and `up` upright; `extent` mm are seen in the shorter direction.
   *  `lean` tips the place back, as a plate is tipped on a table. */
  lookAt(at: Point, out: Point, up: Point, extent: number, lean = 0) {
    const eye = new Vector3(...out).normalize();
    // straight down the pole the controls lose their footing, so they always stand a little beside it: where the
    // letters' tops then point up, from above as from below
    const level = Math.abs(eye.z) > 0.9;
    const aside = Math.max(lean, 0.002) * (eye.z > 0 ? -1 : 1);
    eye.addScaledVector(new Vector3(...up), level ? aside : 0.6 * lean).normalize();
    this.#controls.target.set(...at);
    this.#camera.position.set(...at).addScaledVector(eye, 4 * this.#radius);
    this.#camera.zoom = (2 * this.#radius) / extent;
    this.#controls.update();
    this.#fit();
  }

  /** Shows these pieces and no others; known ones are kept. */
  show(pieces: Map<string, Piece>) {
    for (const [name, group] of this.#pieces) {
      if (!pieces.has(name)) {
        this.#solid.remove(group);
        group.traverse(drop);
        this.#pieces.delete(name);
      }
    }
    for (const [name, piece] of pieces) {
      if (this.#pieces.has(name)) continue;
      const group = this.#build(piece);
      this.#pieces.set(name, group);
      this.#solid.add(group);
    }
    this.draw();
  }

  has(name: string): boolean {
    return this.#pieces.has(name);
  }

  /** Paints one mark as the picked one. */
  pick(mark: number) {
    if (mark === this.#pickedMark) return;
    this.#pickedMark = mark;
    for (const group of this.#pieces.values()) {
      const mesh = group.children[0] as Mesh;
      this.#paint(mesh.geometry, mesh.userData.owners as Int32Array);
    }
    this.draw();
  }

  #build(piece: Piece): Group {
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(piece.positions, 3));
    geometry.setAttribute("normal", new BufferAttribute(piece.normals, 3));
    geometry.setIndex(new BufferAttribute(piece.triangles, 1));
    this.#paint(geometry, piece.owners);
    // edges are drawn over faces that lie in the same place
    const material = new MeshStandardMaterial({
      vertexColors: true,
      roughness: 0.62,
      metalness: 0.12,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    if (this.sheet !== "no") {
      material.side = DoubleSide;
      // lettering below the sheet shows through it
      const glass = this.sheet === "marked" && piece.owners.every((owner, k) => k % 2 === 1 || owner < 0);
      Object.assign(material, { transparent: glass, opacity: glass ? 0.55 : 1, depthWrite: !glass });
    }
    const mesh = new Mesh(geometry, material);
    mesh.userData.owners = piece.owners;
    mesh.userData.piece = piece;
    const lines = new BufferGeometry();
    lines.setAttribute("position", new BufferAttribute(piece.segments, 3));
    const clippingPlanes = this.#cut ? [this.#half] : null;
    material.clippingPlanes = clippingPlanes;
    const edges = new LineSegments(
      lines,
      new LineBasicMaterial({ color: token("--edge"), transparent: true, opacity: 0.55, clippingPlanes }),
    );
    return new Group().add(mesh, edges);
  }

  #paint(geometry: BufferGeometry, owners: Int32Array) {
    const colours = new Float32Array((owners.length / 2) * 3);
    const letter = new Color();
    for (let k = 0; k < owners.length / 2; k++) {
      const mark = owners[2 * k];
      const own = owners[2 * k + 1];
      const tone =
        mark < 0
          ? this.#colours.part
          : own >= 0
            ? letter.setHex(own, SRGBColorSpace)
            : own === -2
              ? letter
                  .copy(this.#colours.part)
                  .lerp(mark === this.#pickedMark ? this.#colours.picked : this.#colours.lettering, 0.3)
              : mark === this.#pickedMark
                ? this.#colours.picked
                : this.#colours.lettering;
      tone.toArray(colours, 3 * k);
    }
    geometry.setAttribute("color", new BufferAttribute(colours, 3));
  }

  /** What lies under a place of the canvas, in its pixels. */
  under(x: number, y: number): Picked | undefined {
    const pointer = new Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2);
    const ray = new Raycaster();
    ray.setFromCamera(pointer, this.#camera);
    let nearest: Picked | undefined;
    let least = Infinity;
    for (const group of this.#pieces.values()) {
      const mesh = group.children[0] as Mesh;
      // searched by a tree, which is made when it is first needed and leaves the triangles in their order
      if (!mesh.geometry.boundsTree) {
        mesh.geometry.boundsTree = new MeshBVH(mesh.geometry, { indirect: true });
        mesh.raycast = acceleratedRaycast;
      }
      const hit = ray.intersectObject(mesh, false)[0];
      const owners = mesh.userData.owners as Int32Array;
      if (!hit?.face) continue;
      // through a sheet lettering is picked before what lies over it
      const distance = hit.distance - (this.sheet === "marked" && owners[2 * hit.face.a] >= 0 ? 1e6 : 0);
      if (distance >= least) continue;
      least = distance;
      nearest = {
        point: hit.point.toArray() as Point,
        mark: owners[2 * hit.face.a],
        place: owners[2 * hit.face.a + 1],
        out: hit.face.normal.toArray() as Point,
        triangle: hit.faceIndex ?? -1,
      };
    }
    return nearest;
  }

  set turning(on: boolean) {
    this.#controls.enabled = on;
  }

  parting(segments: Point[][]) {
    const line = new LineSegments(lineGeometry(segments), new LineDashedMaterial({ color: token("--seam") }));
    line.computeLineDistances();
    line.material.clippingPlanes = this.#cut ? [this.#half] : null;
    this.#dash(line);
    this.#put("parting", [line]);
  }

  /** Dashes as long as the part asks for. */
  #dash(line: Object3D) {
    if (line instanceof LineSegments && line.material instanceof LineDashedMaterial) {
      line.material.dashSize = 0.03 * this.#radius;
      line.material.gapSize = 0.015 * this.#radius;
    }
  }

  /** Paints the bare part with a map, or takes it off. */
  map(map: SkinMap | undefined, paint: Paint | undefined) {
    const group = [...this.#pieces.values()][0];
    const bare = group?.children[0] as Mesh | undefined;
    const painted = map && paint && bare ? skin(bare.userData.piece as Piece, map, paint, token) : undefined;
    if (bare) bare.visible = !painted;
    if (painted) (painted.material as MeshStandardMaterial).clippingPlanes = this.#cut ? [this.#half] : null;
    this.#put("map", painted ? [painted] : []);
  }

  /** Patches of the part: whole faces by number, and triangles. */
  areas(faces: number[], triangles: Point[][]) {
    const colour = token("--keep-out");
    const look = { color: colour, transparent: true, opacity: 0.42, depthWrite: false };
    const patch = new BufferGeometry().setFromPoints(triangles.flat().map((p) => new Vector3(...p)));
    const offset = { polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -2 };
    const painted = new Mesh(patch, new MeshBasicMaterial({ ...look, ...offset }));
    const chosen = new Set(faces);
    this.#put("areas", [painted, ...this.#onFaces((face) => chosen.has(face), look)]);
  }

  /** Where the brush has gone: circles on the skin. */
  brush(spots: { at: Point; out: Point; radius: number }[]) {
    this.#put(
      "brush",
      spots.map(({ at, out, radius }) => {
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
      }),
    );
  }

  /** Outlines of a mark that is not built yet; `now` where the hand in this view moves them. */
  ghost(rings: Point[][], now: boolean) {
    const segments = rings.flatMap((ring) => ring.slice(1).map((p, k) => [ring[k], p]));
    this.#put(
      "ghost",
      [new LineSegments(lineGeometry(segments), new LineBasicMaterial({ color: token("--picked"), depthTest: false }))],
      now,
    );
  }

  /** Cuts the part open, or closes it again. */
  cut(cut: Cut | undefined) {
    this.#cut = cut;
    for (const drawn of [...this.#pieces.values(), this.#drawn.parting, this.#drawn.map, this.#drawn.areas].flatMap(
      (g) => g.children as Mesh[],
    )) {
      const material = drawn.material as MeshStandardMaterial;
      material.clippingPlanes = cut ? [this.#half] : null;
      material.needsUpdate = true;
    }
    if (!cut) {
      this.#put("cut", []);
      return;
    }
    this.#faceCut(cut);
    const corners = cut.filled.flat();
    const geometry = new BufferGeometry().setFromPoints(corners.map((p) => new Vector3(...p)));
    // hatching at 45° to two directions of the plane, as wide as the part asks for
    const normal = new Vector3(...cut.normal).normalize();
    const x = new Vector3(Math.abs(normal.x) > 0.9 ? 0 : 1, Math.abs(normal.x) > 0.9 ? 1 : 0, 0).projectOnPlane(normal);
    const y = normal.clone().cross(x.normalize());
    const pitch = 0.09 * this.#radius;
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
    this.#put("cut", [fill, edge]);
  }

  /** The half before the plane is taken off, whichever side the eye is on. */
  #faceCut({ normal, height }: Cut) {
    const n = new Vector3(...normal).normalize();
    const before = this.#camera.position.clone().sub(this.#controls.target).dot(n) > 0;
    this.#half.set(before ? n.clone().negate() : n, before ? height : -height);
  }

  /** The place of the cut under a place of the canvas; near an edge, on it. */
  onCut(x: number, y: number): Point | undefined {
    if (!this.#cut) return undefined;
    const pointer = new Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2);
    const ray = new Raycaster();
    ray.setFromCamera(pointer, this.#camera);
    const normal = new Vector3(...this.#cut.normal).normalize();
    const at = ray.ray.intersectPlane(new Plane(normal, -this.#cut.height), new Vector3());
    if (!at) return undefined;
    let least = (SNAP_PIXELS * 2 * this.#camera.top) / this.#camera.zoom / this.canvas.clientHeight;
    let near = at;
    for (const ring of this.#cut.rings)
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

  /** Open edges and crossing triangles, and slivers, which are no fault. */
  faults(edges: Point[][], triangles: Point[][], slivers: Point[][]) {
    const colour = token("--fail");
    const lines = new LineSegments(lineGeometry(edges), new LineBasicMaterial({ color: colour, depthTest: false }));
    const faces = new BufferGeometry().setFromPoints(triangles.flat().map((p) => new Vector3(...p)));
    this.#put("faults", [
      lines,
      new Mesh(faces, new MeshBasicMaterial({ color: colour, side: 2, depthTest: false })),
      new LineSegments(lineGeometry(slivers), new LineBasicMaterial({ color: token("--close") })),
    ]);
  }

  witness(witnesses: Witness[]) {
    const colour = token("--fail");
    const objects: Object3D[] = [];
    const dot = (p: number[]) => {
      const ball = new Mesh(new SphereGeometry(1, 16, 12), new MeshBasicMaterial({ color: colour, depthTest: false }));
      ball.position.set(p[0], p[1], p[2]);
      ball.userData.pixels = 4.5;
      ball.renderOrder = 3;
      objects.push(ball);
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
    this.#put("witness", objects);
  }

  /** Marks a face of the part. */
  face(face: number | undefined) {
    const look = { color: token("--picked"), transparent: true, opacity: 0.28, depthWrite: false };
    this.#put("face", face === undefined ? [] : this.#onFaces((f) => f === face, look));
  }

  /** Facets of some of the part's faces, drawn over it. */
  #onFaces(wanted: (face: number) => boolean, look: MeshBasicMaterialParameters): Object3D[] {
    return [...this.#pieces.values()].flatMap((group) => {
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

  #put(what: Drawn, objects: Object3D[], now = true) {
    const group = this.#drawn[what];
    group.traverse(drop);
    group.clear();
    for (const object of objects) group.add(object);
    if (now) this.draw();
    else this.#drawAtRest();
  }
}

function drop(object: Object3D) {
  const { geometry, material } = object as Partial<Mesh>;
  if (!object.userData.shared) geometry?.dispose();
  for (const m of material ? [material].flat() : []) m.dispose();
}

function lineGeometry(segments: Point[][]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(segments.flat(2)), 3));
  return geometry;
}

/** One tile of hatching. */
function hatching(): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 64;
  const context = canvas.getContext("2d");
  if (context) {
    context.fillStyle = token("--sand");
    context.fillRect(0, 0, 64, 64);
    context.strokeStyle = token("--rim-soft");
    context.lineWidth = 4;
    for (const from of [-64, -32, 0, 32, 64]) {
      context.beginPath();
      context.moveTo(from, 64);
      context.lineTo(from + 64, 0);
      context.stroke();
    }
  }
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  texture.wrapS = texture.wrapT = RepeatWrapping;
  return texture;
}

/** A disc that fades to its edge: the shadow on the table. */
function softDisc(): CanvasTexture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 128;
  const context = canvas.getContext("2d");
  if (context) {
    const tone = token("--rim-soft");
    const fade = context.createRadialGradient(64, 64, 10, 64, 64, 64);
    fade.addColorStop(0, tone);
    fade.addColorStop(1, `${tone}00`);
    context.fillStyle = fade;
    context.fillRect(0, 0, 128, 128);
  }
  return new CanvasTexture(canvas);
}
