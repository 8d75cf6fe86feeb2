/** The part cut open square to an axis, and distances measured in the cut. */
import { api, type JobView, type Witness } from "../../api/client";
import type { Cut, Point } from "../../view3d/table";

export type Axis = 0 | 1 | 2;

export class Cutting {
  /** Square to which axis, and how far along it, mm. */
  at = $state.raw<{ axis: Axis; height: number }>();
  cut = $state.raw<Cut & { area: number }>();
  /** Places pressed on the cut. */
  #measured = $state.raw<Point[]>([]);
  #asked = 0;
  readonly #of: () => { id: string; part?: JobView["part"] };

  constructor(of: () => { id: string; part?: JobView["part"] }) {
    this.#of = of;
    $effect(() => {
      const { id, part } = of();
      const [wanted, name] = [this.at, part?.mesh];
      if (!wanted || !name) {
        this.cut = undefined;
        this.#measured = [];
        return;
      }
      const normal = [0, 1, 2].map((k) => (k === wanted.axis ? 1 : 0)) as Point;
      const turn = ++this.#asked;
      const query = { x: normal[0], y: normal[1], z: normal[2], height: wanted.height };
      void api.GET("/api/jobs/{id}/section", { params: { path: { id }, query } }).then(({ data }) => {
        if (turn !== this.#asked || !this.at || !data) return;
        this.#measured = [];
        this.cut = { normal, height: wanted.height, ...(data as Pick<Cut, "filled" | "rings"> & { area: number }) };
      });
    });
  }

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

  /** A place was pressed on the cut; beside it everything is forgotten. */
  measure(at: Point | undefined) {
    this.#measured = at ? [...this.#measured.slice(this.#measured.length === 2 ? 2 : 0), at] : [];
  }

  readonly distance = $derived.by(() => {
    const [from, to] = this.#measured;
    return to ? Math.hypot(...from.map((c, k) => c - to[k])) : undefined;
  });

  readonly witnesses = $derived.by<Witness[]>(() => {
    const [from, to] = this.#measured;
    return to ? [{ kind: "pair", from, to }] : this.#measured.map((at) => ({ kind: "point", at }));
  });
}
