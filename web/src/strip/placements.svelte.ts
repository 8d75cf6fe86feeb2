import { api, problem, type PlacementView, type Mark } from "../api/client";
import type { Session } from "../session.svelte";

export type Placed = { placed: PlacementView } | { problem: string };

/** Marks placed out on their strips as they would be, by the server; the newest wish goes first. */
export class Placements {
  /** By the mark's id: how it lies now, live changes included. */
  placed = $state.raw<Record<string, Placed>>({});
  readonly #params: () => Session["params"];
  readonly #asked = new Map<string, { mark: Mark; wish: string }>();
  readonly #busy = new Set<string>();

  /** `params` names the job and the row on show. */
  constructor(params: () => Session["params"]) {
    this.#params = params;
  }

  /** Places `mark`; while an answer is on its way only the newest wish is kept. `seat` tells seats of other tools apart. */
  wish(mark: Mark, seat: string) {
    const wish = JSON.stringify(mark) + seat;
    if (this.#asked.get(mark.id)?.wish === wish) return;
    this.#asked.set(mark.id, { mark, wish });
    if (!this.#busy.has(mark.id)) void this.#ask(mark, wish);
  }

  async #ask(mark: Mark, wish: string) {
    this.#busy.add(mark.id);
    try {
      const { data, error } = await api.POST("/api/jobs/{id}/placement", {
        params: this.#params(),
        body: { mark },
      });
      if (this.#asked.get(mark.id)?.wish === wish)
        this.#keep(mark.id, data ? { placed: data } : { problem: problem(error) });
    } catch (e) {
      this.#keep(mark.id, { problem: problem(e) });
    } finally {
      this.#busy.delete(mark.id);
      const newest = this.#asked.get(mark.id);
      if (newest && newest.wish !== wish) void this.#ask(newest.mark, newest.wish);
    }
  }

  /** Thousands of points: replaced as a whole, never watched one by one. */
  #keep(id: string, placed: Placed) {
    this.placed = { ...this.placed, [id]: placed };
  }

  of(id: string | undefined): PlacementView | undefined {
    const placed = id === undefined ? undefined : this.placed[id];
    return placed && "placed" in placed ? placed.placed : undefined;
  }

  problem(id: string): string | undefined {
    const placed = this.placed[id];
    return placed && "problem" in placed ? placed.problem : undefined;
  }
}
