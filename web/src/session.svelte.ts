import {
  api,
  problem,
  type Edit,
  type JobView,
  type Mark,
  type OutcomeView,
  type PlateView,
  type SolidView,
} from "./api/client";
import { listen } from "./frame/events";
import { person } from "./frame/person.svelte";

/** One open job: what the server says of it, kept fresh. */
export class Session {
  readonly id: string;
  view = $state.raw<JobView>();
  solid = $state.raw<SolidView>();
  outcome = $state.raw<OutcomeView>();
  plates = $state.raw<PlateView[]>([]);
  /** Why the last wish was not done. */
  trouble = $state("");
  /** The job can't be shown at all. */
  lost = $state("");
  /** A mark that was just added: its text is asked for. */
  fresh = "";
  #stop = () => {};
  readonly #path: { params: { path: { id: string } } };
  /** One question of each kind at a time; who asks meanwhile is answered after it. */
  readonly #asking = new Map<string, "once" | "again">();

  constructor(id: string) {
    this.id = id;
    this.#path = { params: { path: { id } } };
  }

  /** The findings on show are of an older state. */
  get stale(): boolean {
    return !!this.view && this.outcome?.state !== this.view.state;
  }

  get marks(): Mark[] {
    return this.view?.job.marks ?? [];
  }

  open() {
    void this.refresh();
    this.#stop = listen(
      (told) => {
        if (told.job !== this.id) return;
        if (told.what !== "changed" || told.state !== this.view?.state) void this.refresh();
      },
      () => void this.refresh(),
    );
  }

  close() {
    this.#stop();
  }

  async refresh() {
    try {
      const { data, error } = await api.GET("/api/jobs/{id}", { params: { path: { id: this.id } } });
      if (data) this.take(data);
      else this.lost = problem(error);
    } catch (e) {
      this.trouble = problem(e);
    }
  }

  private take(view: JobView) {
    // an answer that was overtaken by a newer one
    if (this.view && view.latest < this.view.latest) return;
    this.view = view;
    void this.letter();
    void this.ask(
      "solid",
      () => api.GET("/api/jobs/{id}/solid", this.#path),
      (solid) => (this.solid = solid),
    );
    void this.ask(
      "outcome",
      () => api.GET("/api/jobs/{id}/outcome", this.#path),
      (outcome) => (this.outcome = outcome),
    );
  }

  private async letter() {
    const { data } = await api.GET("/api/jobs/{id}/plates", { params: { path: { id: this.id } } });
    if (data) this.plates = data;
  }

  /** Asks for the solid or the outcome until it is of the present state. */
  private async ask<T>(
    what: "solid" | "outcome",
    question: () => Promise<{ data?: T; error?: unknown }>,
    keep: (answer: T) => void,
  ) {
    if (this.#asking.has(what)) {
      this.#asking.set(what, "again");
      return;
    }
    try {
      do {
        this.#asking.set(what, "once");
        if (this[what] && this[what].state === this.view?.state) break;
        const { data, error } = await question();
        if (data) keep(data);
        else this.trouble = problem(error);
      } while (this.#asking.get(what) === "again");
    } catch (e) {
      this.trouble = problem(e);
    } finally {
      this.#asking.delete(what);
    }
  }

  /** Makes a change; says whether it was kept. */
  change(edit: Edit): Promise<boolean> {
    return this.send(() =>
      api.POST("/api/jobs/{id}/changes", { params: { path: { id: this.id } }, body: { author: person.name, edit } }),
    );
  }

  set(id: string, settings: object): Promise<boolean> {
    return this.change({ do: "set_mark", id, settings: settings as Record<string, never> });
  }

  back(): Promise<boolean> {
    return this.send(() => api.POST("/api/jobs/{id}/back", this.step()));
  }

  again(): Promise<boolean> {
    return this.send(() => api.POST("/api/jobs/{id}/again", this.step()));
  }

  private step() {
    return { params: { path: { id: this.id } }, body: { author: person.name } };
  }

  private async send(ask: () => Promise<{ data?: JobView; error?: unknown }>): Promise<boolean> {
    try {
      const { data, error } = await ask();
      if (data) {
        this.trouble = "";
        this.take(data);
        return true;
      }
      this.trouble = problem(error);
    } catch (e) {
      this.trouble = problem(e);
    }
    return false;
  }
}
