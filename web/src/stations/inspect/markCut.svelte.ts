/** The finished solid cut through a mark: how the plane lies, kept in the address so that a link shows the same cut. */
import { searchParams } from "sv-router";
import { api, problem, type Schemas } from "../../api/client";
import type { paths } from "../../api/schema";
import type { Session } from "../../session.svelte";
import type { Cut } from "../../view3d/cut";
import { Picks } from "../../view3d/picks.svelte";
import type { Point, Target } from "../../view3d/table";

/** Degrees, degrees, mm; without a turn it lies square to what was measured. */
export interface Lie {
  turn?: number;
  tilt: number;
  shift: number;
}

/** What is cut, and how many mm are looked at: of its relief, and of the whole letter. */
interface Looked {
  session: Session;
  mark?: string;
  /** Where it was measured: a place, or two. */
  through?: Point[];
  relief: number;
  letter: number;
}

type Asked = paths["/api/jobs/{id}/marked-section"]["get"]["parameters"];

export class MarkCut {
  #lie = $state.raw<Lie>();
  view = $state.raw<Schemas["MarkedSectionView"]>();
  trouble = $state("");
  /** Square to the cut; it stays while the cut is moved. */
  target = $state.raw<Target>();
  readonly picks: Picks;
  #asking = false;
  #next: { params: Asked; lies: string } | undefined;
  /** Of what the target was set. */
  #lies = "";
  readonly #of: () => Looked;

  constructor(of: () => Looked) {
    this.#of = of;
    const [turn, tilt, shift] = String(searchParams.get("cut") ?? "")
      .split(" ")
      .map(Number);
    if ([tilt, shift].every(Number.isFinite))
      this.#lie = { turn: Number.isFinite(turn) ? turn : undefined, tilt, shift };
    this.picks = new Picks(() => ({ section: this.view?.section, up: this.view?.up as Point | undefined }));
    $effect(() => {
      const { session, mark, through } = of();
      const lie = this.#lie;
      const solid = session.solid;
      if (!lie || !mark || !through || !solid || session.stale) {
        if (!lie) this.view = this.target = undefined;
        return;
      }
      const [[x, y, z], other] = through;
      const [x2, y2, z2] = other ?? [];
      const { path, query } = session.params;
      const params = { path, query: { ...query, mark, x, y, z, x2, y2, z2, ...lie } };
      this.#next = { params, lies: JSON.stringify([mark, through, lie.turn, lie.tilt]) };
      void this.#ask();
    });
  }

  /** One cut after the other: while a hand moves it, those that are overtaken before their turn are left out. */
  async #ask() {
    if (this.#asking) return;
    this.#asking = true;
    for (let now = this.#next; now; now = this.#next) {
      this.#next = undefined;
      try {
        const { data, error } = await api.GET("/api/jobs/{id}/marked-section", { params: now.params });
        if (this.#lie) this.#show(data, data ? "" : problem(error), now.lies);
      } catch (e) {
        this.trouble = problem(e);
      }
    }
    this.#asking = false;
  }

  #show(view: Schemas["MarkedSectionView"] | undefined, trouble: string, lies: string) {
    this.view = view;
    this.trouble = trouble;
    if (!view || (this.target && lies === this.#lies)) return;
    this.#lies = lies;
    const [at, out, up] = [view.at, view.eye, view.up].map((p) => p as Point);
    this.target = { at, out, up, extent: this.#extent };
  }

  /** A cut that lies rather level than square shows the letter, else its relief. */
  get #extent(): number {
    const { relief, letter } = this.#of();
    return (this.#lie?.tilt ?? 0) > 45 ? letter : relief;
  }

  get lie(): Lie | undefined {
    return this.#lie;
  }

  set(lie: Lie | undefined) {
    this.#lie = lie && {
      turn: lie.turn === undefined ? undefined : ((lie.turn % 360) + 360) % 360,
      tilt: Math.min(90, Math.max(0, lie.tilt)),
      shift: Math.min(200, Math.max(-200, lie.shift)),
    };
    const kept = this.#lie;
    if (kept) searchParams.set("cut", `${kept.turn ?? "square"} ${kept.tilt} ${kept.shift}`, { replace: true });
    else searchParams.delete("cut", undefined, { replace: true });
  }

  /** As it is kept for a record. */
  get wish(): Schemas["KeptCut"] | undefined {
    const { mark, through } = this.#of();
    const lie = this.#lie;
    if (!lie || !mark || !through || !this.view) return undefined;
    const { turn } = this.view;
    return { mark, through, turn, tilt: lie.tilt, shift: lie.shift, places: this.picks.places.map((p) => p.at) };
  }

  readonly cut = $derived.by<Cut | undefined>(
    () => this.view && { section: this.view.section, picked: this.picks.edges, pitch: this.#extent / 16 },
  );
}
