/** The maps of the part (draft, steels, walls, what a revision changed): which is shown, and what it reads at a place. */
import type { JobView, Schemas } from "../../api/client";
import { paint, readMap, type SurfaceMap } from "../../view3d/map";
import type { Picked } from "../../view3d/table";
import { signed, steelWord } from "../../words";

export type Show = "draft" | "steel" | "ray" | "sphere" | "change";

export class Maps {
  show = $state<Show>();
  /** What stands under the pointer, and where that is. */
  passed = $state.raw<{ x: number; y: number; says: string }>();
  #map = $state.raw<SurfaceMap>();
  readonly #of: () => { id: string; view?: JobView; told?: Schemas["ToolView"]; toolKey: string };

  constructor(of: () => { id: string; view?: JobView; told?: Schemas["ToolView"]; toolKey: string }) {
    this.#of = of;
    $effect(() => {
      const key = this.#key;
      this.#map = undefined;
      if (!key) return;
      void fetch(`/api/jobs/${this.#of().id}/maps/${key.split(" ")[0]}`)
        .then(async (answer) => (answer.ok ? readMap(await answer.arrayBuffer()) : undefined))
        .then((map) => {
          if (key === this.#key) this.#map = map;
        });
    });
  }

  choose(wanted: Show) {
    this.show = this.show === wanted ? undefined : wanted;
  }

  /** Which map is loaded: walls don't change with the tool. */
  readonly #key = $derived.by(() => {
    const { id, view, toolKey } = this.#of();
    if (!this.show) return "";
    if (this.show === "ray" || this.show === "sphere") return `wall ${id} ${view?.part.mesh}`;
    if (this.show === "change") return `change ${id} ${view?.part.mesh} ${view?.job.part.replaces?.sha256}`;
    return `draft ${toolKey}`;
  });

  readonly limit = $derived.by(() => {
    const subject = this.show === "draft" ? "draft" : "wall_least";
    return this.#of().view?.limits.find((l) => l.subject === subject)?.limit.value ?? 0;
  });

  /** The palest colour: four limits of draft, or the wall that all but the thickest twentieth stay below. */
  readonly top = $derived.by(() => {
    const map = this.#map;
    if (this.show === "draft") return Math.max(4 * this.limit, 5);
    if (!map) return 2 * this.limit;
    if (this.show === "change") return map.values.reduce((most, v) => Math.max(most, Math.abs(v)), 0.01);
    const channel = this.show === "sphere" ? 1 : 0;
    const values = Float32Array.from({ length: map.of.length }, (_, p) => map.values[2 * p + channel])
      .filter((v) => !Number.isNaN(v))
      .sort();
    return Math.max(values[Math.floor(0.95 * values.length)] ?? 0, 1.5 * this.limit);
  });

  readonly painted = $derived.by(() => {
    const map = this.#map;
    if (!map || !this.show || !map.of.length) return undefined;
    return { map, paint: paint(map, this.show, this.top, this.limit) };
  });

  readonly #firstPiece = $derived.by(() => {
    if (!this.#map) return undefined;
    const first = new Int32Array((this.#of().view?.part.triangles ?? 0) + 1).fill(-1);
    for (let p = this.#map.of.length - 1; p >= 0; p--) first[this.#map.of[p]] = p;
    return first;
  });

  /** Reads the map that is shown under the pointer. */
  hover(under: Picked | undefined, x: number, y: number) {
    const map = this.#map;
    if (!under || !map || !this.#firstPiece || !this.show || under.mark >= 0) {
      this.passed = undefined;
      return;
    }
    let p = this.#firstPiece[under.triangle] ?? -1;
    if (p < 0) return;
    if (map.divided[p]) p = nearestPiece(map, p, under);
    this.passed = { x, y, says: this.#read((channel) => map.values[map.channels * p + channel]) };
  }

  #read(value: (channel: number) => number): string {
    if (this.show === "change") {
      const off = value(0);
      return `${Math.abs(off).toFixed(3)} mm ${Math.abs(off) < 0.0005 ? "from" : off > 0 ? "outside" : "inside"} the earlier surface`;
    }
    if (this.show === "ray" || this.show === "sphere") {
      const [ray, sphere] = [value(0), value(1)];
      return Number.isNaN(ray) ? "open: no wall" : `wall ${ray.toFixed(2)} mm by ray, ${sphere.toFixed(2)} by sphere`;
    }
    const steel = this.#of().told?.steels[value(3)]?.steel;
    const draft = signed((value(0) + value(1) + value(2)) / 3, 2);
    return `draft ${draft}°, ${steel ? steelWord(steel) : "no steel releases it"}${value(4) && steel ? ", undercut" : ""}`;
  }
}

function nearestPiece(map: SurfaceMap, first: number, under: Picked): number {
  // corners of divided pieces stand in the order of the pieces
  let at = 0;
  for (let p = 0; p < first; p++) if (map.divided[p]) at++;
  let best = first;
  let least = Infinity;
  for (let p = first; p < map.of.length && map.of[p] === map.of[first]; p++, at++) {
    const c = map.corners.subarray(9 * at, 9 * at + 9);
    const off = [0, 1, 2].reduce((s, k) => s + ((c[k] + c[3 + k] + c[6 + k]) / 3 - under.point[k]) ** 2, 0);
    if (off < least) {
      least = off;
      best = p;
    }
  }
  return best;
}
