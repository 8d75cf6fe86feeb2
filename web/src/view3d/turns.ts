import { type OrthographicCamera, Vector3 } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import type { Point } from "./objects";

/** Zoom at which all of the part is seen. */
const WHOLE = 1.08;
/** From where the part is seen first. */
const BEGIN: Point = [-0.45, -0.75, 0.62];

/** How the part is turned: to a place, to a side, and back to how it was. */
export class Turns {
  #middle = new Vector3();
  #radius = 10;
  #before: { position: Vector3; target: Vector3; zoom: number } | undefined;

  constructor(
    readonly camera: OrthographicCamera,
    readonly controls: OrbitControls,
    readonly turned: () => void,
  ) {
    camera.up.set(0, 0, 1);
    controls.addEventListener("start", () => this.#remember());
  }

  /** Another part: it is seen whole, and was never turned. */
  begin(middle: Vector3, radius: number) {
    this.#middle.copy(middle);
    this.#radius = radius;
    this.whole();
    this.#before = undefined;
  }

  whole() {
    const out = new Vector3(...BEGIN).normalize();
    this.#look(this.#middle, out.multiplyScalar(4 * this.#radius), WHOLE);
  }

  /** All of the part, turned as it is. */
  fit() {
    this.#look(this.#middle, this.camera.position.clone().sub(this.controls.target), WHOLE);
  }

  /** All of the part, from a side. */
  side(out: Point, up: Point) {
    this.lookAt(this.#middle.toArray(), out, up, (2 * this.#radius) / WHOLE);
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
    this.#look(new Vector3(...at), eye.multiplyScalar(4 * this.#radius), (2 * this.#radius) / extent);
  }

  /** As it was before it was last turned, and back again. */
  back() {
    const before = this.#before;
    if (before) this.#look(before.target, before.position.clone().sub(before.target), before.zoom);
  }

  #remember() {
    const { position, zoom } = this.camera;
    this.#before = { position: position.clone(), target: this.controls.target.clone(), zoom };
  }

  /** At a place, from so far off it. */
  #look(at: Vector3, from: Vector3, zoom: number) {
    this.#remember();
    this.controls.target.copy(at);
    this.camera.position.copy(at).add(from);
    this.camera.zoom = zoom;
    this.controls.update();
    this.turned();
  }
}
