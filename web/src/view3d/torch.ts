import { DirectionalLight, type HemisphereLight, MathUtils, type Scene, Vector3 } from "three";
import type { Point } from "./objects";

/** A lamp that is carried round a mark, far away: its light falls parallel. */
export interface Lamp {
  /** Middle of the mark, outward and upright there. */
  at: Point;
  out: Point;
  up: Point;
  /** What throws shadows lies so near, mm. */
  reach: number;
  /** Side that it stands on, counter-clockwise from the reading direction, and how high over the ground; degrees. */
  side: number;
  height: number;
}

/** Light of the lamp on level ground, and from all round: as the reading test has them. */
const ON_GROUND = 2;
const FROM_ALL_ROUND = 0.6 * ON_GROUND;
/** However low the lamp stands, nothing shines brighter. */
const BRIGHTEST = 12;
const TEXELS = 4096;

export class Torch {
  readonly #light = new DirectionalLight(0xffffff);
  readonly #before: number;

  constructor(
    readonly scene: Scene,
    readonly sky: HemisphereLight,
  ) {
    this.#before = sky.intensity;
    this.#light.castShadow = true;
    this.#light.shadow.mapSize.set(TEXELS, TEXELS);
  }

  get on(): boolean {
    return this.#light.parent !== null;
  }

  light(lamp: Lamp | undefined) {
    if (!lamp) {
      this.scene.remove(this.#light, this.#light.target);
      this.sky.intensity = this.#before;
      return;
    }
    const out = new Vector3(...lamp.out).normalize();
    const along = new Vector3(...lamp.up).cross(out).normalize();
    const up = out.clone().cross(along);
    const [side, height] = [lamp.side, lamp.height].map(MathUtils.degToRad);
    const towards = along.multiplyScalar(Math.cos(side) * Math.cos(height));
    towards.addScaledVector(up, Math.sin(side) * Math.cos(height)).addScaledVector(out, Math.sin(height));
    const far = 4 * lamp.reach;
    this.#light.target.position.set(...lamp.at);
    this.#light.position.set(...lamp.at).addScaledVector(towards, far);
    this.#light.intensity = Math.min(ON_GROUND / Math.max(Math.sin(height), 0.01), BRIGHTEST);
    this.sky.intensity = FROM_ALL_ROUND;
    const { camera } = this.#light.shadow;
    const r = lamp.reach;
    Object.assign(camera, { left: -r, right: r, top: r, bottom: -r, near: far - 2 * r, far: far + 2 * r });
    camera.updateProjectionMatrix();
    this.#light.shadow.normalBias = (2 * r) / TEXELS;
    this.scene.add(this.#light, this.#light.target);
  }
}
