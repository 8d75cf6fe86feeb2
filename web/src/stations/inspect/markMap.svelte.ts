/** The figures of the pressed check over the marked solid; whether they are shown is kept in the address. */
import { searchParams } from "sv-router";
import { api, problem, type Finding, type Schemas } from "../../api/client";
import type { Session } from "../../session.svelte";
import type { MarkedMap, ReadOff } from "../../view3d/markedMap";
import { withUnit } from "../../words";

type Check = Finding["check"];

/** What a value of each map is, as it is read after the value. */
const says: Partial<Record<Check, (most: boolean) => string>> = {
  draft: () => "draft against the pull",
  uniform_depth: () => "from the height that was set",
  wall: (most) => (most ? "added to the wall" : "left of the wall"),
  clearance: () => "from the edge or the next mark",
  parting: () => "from the parting line",
};

export class MarkMap {
  #on = $state(searchParams.get("map") === "on");
  view = $state.raw<Schemas["MarkedMapView"]>();
  /** Of what state, row, mark and check it is. */
  #loaded = "";
  trouble = $state("");
  /** What stands under the pointer, and where that is. */
  passed = $state.raw<{ x: number; y: number; says: string }>();
  readonly #of: () => { session: Session; mark?: string; check?: Check };

  constructor(of: () => { session: Session; mark?: string; check?: Check }) {
    this.#of = of;
    $effect(() => {
      const { session, mark, check } = of();
      const { state } = session.solid ?? {};
      this.passed = undefined;
      if (!this.#on || !mark || !check || !says[check] || state === undefined || session.stale) return;
      // what was loaded is shown at once
      const key = JSON.stringify([session.id, state, session.row, mark, check]);
      if (key === this.#loaded) return;
      this.view = undefined;
      this.#loaded = this.trouble = "";
      const left = new AbortController();
      const { path, query } = session.params;
      void api
        .GET("/api/jobs/{id}/marked-map", { params: { path, query: { ...query, mark, check } }, signal: left.signal })
        .then(({ data, error }) => {
          if (left.signal.aborted) return;
          this.view = data;
          this.trouble = data ? "" : problem(error);
          this.#loaded = data ? key : "";
        })
        .catch((e: unknown) => {
          if (!left.signal.aborted) this.trouble = problem(e);
        });
      return () => left.abort();
    });
  }

  get on(): boolean {
    return this.#on;
  }

  turn() {
    this.#on = !this.#on;
    if (this.#on) searchParams.set("map", "on", { replace: true });
    else searchParams.delete("map", undefined, { replace: true });
  }

  /** The pressed check has figures place by place. */
  get has(): boolean {
    const { check } = this.#of();
    return !!check && !!says[check];
  }

  get what(): string {
    return this.view ? (says[this.view.check]?.(this.most) ?? "") : "";
  }

  get most(): boolean {
    return this.view?.limit.side === "at_most";
  }

  /** The palest colour: a few limits, or what all but the greatest twentieth stay below. */
  readonly top = $derived.by(() => {
    const { view } = this;
    if (!view) return 1;
    const limit = Math.abs(view.limit.value);
    if (view.check === "draft") return Math.max(4 * limit, 5);
    if (this.most) return 2 * limit || 1;
    const sorted = Float32Array.from(view.values).sort();
    const most = sorted[Math.floor(0.95 * (sorted.length - 1))] ?? 0;
    return Math.max(Math.min(most, 6 * limit || most), 1.5 * limit);
  });

  readonly map = $derived.by<MarkedMap | undefined>(() =>
    this.#on && this.view && this.view.mark === this.#of().mark && this.view.check === this.#of().check
      ? { map: this.view, top: this.top }
      : undefined,
  );

  figure(value: number): string {
    const { view } = this;
    if (!view) return "";
    const places = view.unit === "%" ? 2 : view.unit === "mm" ? 3 : 2;
    const said = value.toFixed(places).replace("-", "−");
    const sign = view.check === "uniform_depth" && value > 0 ? "+" : "";
    return withUnit(sign + said, view.unit);
  }

  pass(read: ReadOff | undefined, x: number, y: number) {
    if (!read || !this.map) {
      this.passed = undefined;
      return;
    }
    const { value, letter, fails } = read;
    const { session, mark } = this.#of();
    const text = session.plates.find((p) => p.id === mark)?.characters[letter]?.text;
    const at = text ? `“${text}” ` : letter === -2 ? "pad " : "";
    const why = fails && this.view?.check === "wall" ? ", and less than the share that must be left" : "";
    this.passed = { x, y, says: `${at}${this.figure(value)} ${this.what}${why}` };
  }
}
