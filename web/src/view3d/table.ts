import {
  Color,
  DirectionalLight,
  Group,
  HemisphereLight,
  LineBasicMaterial,
  LineDashedMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MeshStandardMaterial,
  Object3D,
  OrthographicCamera,
  Plane,
  PlaneGeometry,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import type { Witness } from "../api/client";
import type { Paint, SurfaceMap } from "./map";
import { type Cut, cutThrough, type OnCut, onCut } from "./cut";
import type { Piece } from "./mesh";
import { drop, lineGeometry, type Point } from "./objects";
import { areaLook, brushed, faulty, onFaces, painted, witnessed } from "./overlays";
import { type Picked, under } from "./picking";
import { Pace } from "./pace";
import { built, type Look, paint } from "./pieces";
import { mapped } from "./mapped";
import { markedMap, type MarkedMap, readOff } from "./markedMap";
import { softDisc } from "./textures";
import { token } from "./tokens";
import { type Lamp, Torch } from "./torch";
import { Turns } from "./turns";

export type { Point } from "./objects";
export type { Picked } from "./picking";

/** Where to look: a point, the direction to the eye, what is upright there, and how many mm are seen. */
export interface Target {
  at: Point;
  out: Point;
  up: Point;
  extent: number;
  lean?: number;
}

/** What is drawn beside the solid itself. */
type Drawn = "parting" | "ghost" | "faults" | "witness" | "face" | "cut" | "map" | "areas" | "brush";

/** A press this near to the edge of a cut is on it. */
const SNAP_PIXELS = 10;
/** A pause between changes. */
const REST_MS = 120;

/** The part on its table: drawn only when something changed. */
export class Table {
  readonly #renderer: WebGLRenderer;
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera(-1, 1, 1, -1, -1e4, 1e5);
  readonly #controls: OrbitControls;
  /** How the part is turned. */
  readonly turns: Turns;
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
  readonly #torch = new Torch(this.#scene, new HemisphereLight(0xfff6e4, 0xb7b09c, 1.5));
  readonly #colours: Look["colours"];
  readonly #resized: ResizeObserver;
  #frame = 0;
  #rest: ReturnType<typeof setTimeout> | undefined;
  readonly #pace = new Pace();
  #radius = 10;
  #middle = new Vector3();
  #pickedMark = -1;
  /** An open part is seen from both sides; a surface body is seen through where marks are shown. */
  open: Look["open"] = "no";
  /** Called after each drawing with a way from part coordinates to pixels. */
  ondrawn: (pixels: (p: Point) => [number, number]) => void = () => {};

  constructor(readonly canvas: HTMLCanvasElement) {
    this.#colours = {
      part: new Color(token("--part")),
      lettering: new Color(token("--lettering")),
      picked: new Color(token("--picked")),
    };
    this.#renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.#renderer.localClippingEnabled = true;
    this.#renderer.shadowMap.enabled = true;
    this.#renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    this.#controls = new OrbitControls(this.#camera, canvas);
    this.turns = new Turns(this.#camera, this.#controls, () => this.#fit());
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
    this.#scene.add(this.#camera, this.#torch.sky, this.#solid, this.#shadow);
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

  /** Tells where things lie on the screen, as after a drawing. */
  tell() {
    this.ondrawn((p) => this.pixels(p));
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
      const mm = this.#pixel;
      for (const dot of this.#drawn.witness.children)
        if (dot.userData.pixels) dot.scale.setScalar(dot.userData.pixels * mm);
      this.#renderer.render(this.#scene, this.#camera);
      this.tell();
      this.canvas.dataset.idle = "true";
      this.#pace.time(this.#renderer.getContext() as WebGL2RenderingContext, start);
    });
  }

  /** Asks for a drawing; where drawing is slow, for one when the changes pause: of what comes piece by piece, one. */
  #drawAtRest() {
    if (!this.#pace.slow) {
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
  frame(size: Point, middle: Point) {
    this.#radius = Math.hypot(...size) / 2 || 1;
    this.#middle.set(...middle);
    this.#shadow.position.set(middle[0], middle[1], middle[2] - size[2] / 2 - 0.02 * this.#radius);
    this.#shadow.scale.set(size[0] * 1.5, size[1] * 1.5, 1);
    for (const line of this.#drawn.parting.children) this.#dash(line);
    this.#camera.near = -20 * this.#radius;
    this.#camera.far = 60 * this.#radius;
    this.turns.begin(this.#middle, this.#radius);
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
      const group = built(piece, this.#look);
      this.#pieces.set(name, group);
      this.#solid.add(group);
    }
    this.#drawAtRest();
  }

  get #look(): Look {
    const clip = this.#cut ? [this.#half] : null;
    const [lit, { part }] = [this.#torch.on, this.#colours];
    // under the torch lettering has the colour of its ground
    const colours = lit ? { part, lettering: part, picked: part } : this.#colours;
    return { colours, picked: this.#pickedMark, open: this.open, clip, lit };
  }

  has(name: string): boolean {
    return this.#pieces.has(name);
  }

  /** Paints one mark as the picked one. */
  pick(mark: number) {
    if (mark === this.#pickedMark) return;
    this.#pickedMark = mark;
    this.#paint();
    this.#drawAtRest();
  }

  #paint() {
    for (const group of this.#pieces.values()) paint(group, this.#look);
  }

  /** Lights the part with a lamp beside a mark, or as always. */
  light(lamp: Lamp | undefined) {
    const was = this.#torch.on;
    this.#torch.light(lamp);
    this.#key.visible = !lamp;
    if (was !== this.#torch.on) this.#paint();
    this.draw();
  }

  /** A ray from the eye through a place of the canvas, in its pixels. */
  #ray(x: number, y: number): Raycaster {
    const ray = new Raycaster();
    const { clientWidth: wide, clientHeight: tall } = this.canvas;
    ray.setFromCamera(new Vector2((x / wide) * 2 - 1, 1 - (y / tall) * 2), this.#camera);
    return ray;
  }

  /** Mm that a pixel is wide. */
  get #pixel(): number {
    return (2 * this.#camera.top) / this.#camera.zoom / this.canvas.clientHeight;
  }

  /** What lies under a place of the canvas, in its pixels. */
  under(x: number, y: number): Picked | undefined {
    return under(this.#ray(x, y), this.#pieces.values(), this.open === "marked");
  }

  /** The place of the cut under a place of the canvas; near an edge, on it. */
  onCut(x: number, y: number): OnCut | undefined {
    return this.#cut && onCut(this.#cut, this.#ray(x, y).ray, SNAP_PIXELS * this.#pixel);
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
  map(map: SurfaceMap | undefined, paint: Paint | undefined) {
    const group = [...this.#pieces.values()][0];
    const bare = group?.children[0] as Mesh | undefined;
    const painted = map && paint && bare ? mapped(bare.userData.piece as Piece, map, paint, token) : undefined;
    if (bare) bare.visible = !painted;
    if (painted) (painted.material as MeshStandardMaterial).clippingPlanes = this.#cut ? [this.#half] : null;
    this.#put("map", painted ? [painted] : []);
  }

  /** Paints places of the marked solid with their figures, or takes them off. */
  markedMap(map: MarkedMap | undefined) {
    const drawn = map && markedMap(map, token);
    if (drawn) drawn.material.clippingPlanes = this.#cut ? [this.#half] : null;
    this.#put("map", drawn ? [drawn] : []);
  }

  /** What the map on the marked solid says under a place of the canvas. */
  readOff(x: number, y: number) {
    return readOff(this.#ray(x, y), this.#drawn.map.children[0]);
  }

  /** Patches of the part: whole faces by number, and triangles. */
  areas(faces: number[], triangles: Point[][]) {
    const chosen = new Set(faces);
    const whole = onFaces(this.#pieces.values(), (face) => chosen.has(face), areaLook());
    this.#put("areas", [...(triangles.length ? [painted(triangles)] : []), ...whole]);
  }

  brush(spots: Parameters<typeof brushed>[0]) {
    this.#put("brush", brushed(spots), true);
  }

  faults(edges: Point[][], triangles: Point[][], slivers: Point[][]) {
    this.#put("faults", faulty(edges, triangles, slivers));
  }

  witness(witnesses: Witness[]) {
    this.#put("witness", witnessed(witnesses));
  }

  /** Outlines of a mark that is not built yet; `now` where the hand in this view moves them. */
  ghost(rings: Point[][], now: boolean) {
    const segments = rings.flatMap((ring) => ring.slice(1).map((p, k) => [ring[k], p]));
    const look = () => new LineBasicMaterial({ color: token("--picked"), depthTest: false });
    this.#put("ghost", segments.length ? [new LineSegments(lineGeometry(segments), look())] : [], now);
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
    this.#put("cut", cutThrough(cut, this.#radius), true);
  }

  /** The half before the plane is taken off, whichever side the eye is on. */
  #faceCut({ section: { normal, height } }: Cut) {
    const n = new Vector3(...(normal as Point));
    const before = this.#camera.position.clone().sub(this.#controls.target).dot(n) > 0;
    this.#half.set(before ? n.clone().negate() : n, before ? height : -height);
  }

  /** Marks a face of the part. */
  face(face: number | undefined) {
    const look = { color: token("--picked"), transparent: true, opacity: 0.28, depthWrite: false };
    this.#put("face", face === undefined ? [] : onFaces(this.#pieces.values(), (f) => f === face, look));
  }

  /** `now`: a hand moves it in this view. */
  #put(what: Drawn, objects: Object3D[], now = false) {
    const group = this.#drawn[what];
    // nothing is drawn anew where nothing was and nothing comes
    if (!objects.length && !group.children.length) return;
    group.traverse(drop);
    group.clear();
    for (const object of objects) group.add(object);
    if (now) this.draw();
    else this.#drawAtRest();
  }
}
