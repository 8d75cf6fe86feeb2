/** The part cut open square to an axis, and what is measured in the cut. */
import { api, type JobView, type Schemas } from "../../api/client";
import type { Cut } from "../../view3d/cut";
import { Picks } from "../../view3d/picks.svelte";
import type { Point } from "../../view3d/table";

export type Axis = 0 | 1 | 2;

export class Cutting {
  /** Square to which axis, and how far along it, mm. */
  at = $state.raw<{ axis: Axis; height: number }>();
  section = $state.raw<Schemas["SectionView"]>();
  readonly picks: Picks;
  #asked = 0;
  readonly #of: () => { id: string; part?: JobView["part"] };

  constructor(of: () => { id: string; part?: JobView["part"] }) {
    this.#of = of;
    this.picks = new Picks(() => ({ section: this.section }));
    $effect(() => {
      const { id, part } = of();
      const [wanted, name] = [this.at, part?.mesh];
      if (!wanted || !name) {
        this.section = undefined;
        return;
      }
      const normal = [0, 1, 2].map((k) => (k === wanted.axis ? 1 : 0)) as Point;
      const turn = ++this.#asked;
      const query = { x: normal[0], y: normal[1], z: normal[2], height: wanted.height };
      void api.GET("/api/jobs/{id}/section", { params: { path: { id }, query } }).then(({ data }) => {
        if (turn === this.#asked && this.at && data) this.section = data;
      });
    });
  }

  readonly cut = $derived.by<Cut | undefined>(
    () => this.section && { section: this.section, picked: this.picks.edges },
  );

  readonly span = $derived.by(() => {
    const { part } = this.#of();
    if (!part || !this.at) return { low: 0, high: 1 };
    const [middle, half] = [part.middle[this.at.axis], part.size[this.at.axis] / 2];
    return { low: middle - half, high: middle + half };
  });

  /** Cuts through the part's middle; once more closes it. */
  open(axis: Axis) {
    const { part } = this.#of();
    if (!part) return;
    this.at = this.at?.axis === axis ? undefined : { axis, height: Math.round(part.middle[axis] * 100) / 100 };
  }

  move(height: number) {
    if (this.at) this.at = { ...this.at, height: Math.min(this.span.high, Math.max(this.span.low, height)) };
  }
}
