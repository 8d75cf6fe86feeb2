import {
  api,
  problem,
  type Edit,
  type JobView,
  type Mark,
  type OutcomeView,
  type PlateView,
  type Schemas,
  type SolidView,
} from "./api/client";
import type { ArtworkAsked } from "./card/figures";
import type { LettersAsked } from "./card/ownFaces";
import { listen } from "./frame/events";
import { person } from "./frame/person.svelte";
import { Outbox } from "./outbox.svelte";
import { isWaived } from "./words";

/** Settings of a mark that make sense for several at once: what each says is its own. */
const COMMON = new Set(["on", "place", "lettering", "relief", "style", "in_steel", "fixed", "group", "note", "colour"]);

/** One open job: what the server says of it, kept fresh. */
/** How long what was removed is told. */
const TOLD_MS = 20_000;

export class Session {
  readonly id: string;
  /** The row of the roster that is required; the first where none is. */
  row = $state<number>();
  view = $state.raw<JobView>();
  solid = $state.raw<SolidView>();
  outcome = $state.raw<OutcomeView>();
  plates = $state.raw<PlateView[]>([]);
  /** All rows of the roster, while somebody looks at them. */
  rows = $state.raw<Schemas["RowsView"]>();
  /** Why the last wish was not done. */
  trouble = $state("");
  /** Artwork that is asked about before a mark draws it. */
  asked = $state.raw<ArtworkAsked>();
  /** A face of the shop's own that is looked at before a mark is lettered in it. */
  letters = $state.raw<LettersAsked>();
  /** The job can't be shown at all. */
  lost = $state("");
  /** Marks that say something else since the last step to the next revision, and what each said before. */
  changed = $state.raw(new Map<string, string>());
  /** Marks that are picked together, the one that the card shows among them; none where one alone is picked. */
  several = $state.raw<string[]>([]);
  /** The mark that was picked last, at whichever station. */
  pick = $state<string>();
  /** What was just removed, in a sentence; until something else is done. */
  removed = $state("");
  /** A mark that was just added: its text is required. */
  fresh = "";
  /** Changes on their way. */
  readonly outbox = new Outbox(
    (view) => this.take(view),
    (why) => (this.trouble = why),
  );
  #turn: Promise<unknown> = Promise.resolve();
  readonly #sent = new Set<Promise<boolean>>();
  #stop = () => {};
  /** One question of each kind at a time; who asks meanwhile is answered after it. */
  #watching = 0;
  #rows: "idle" | "once" | "again" = "idle";
  /** The rows of states that were on show lately. */
  readonly #rosters = new Map<number, Schemas["Row"][]>();
  readonly #asking = new Map<string, "once" | "again">();

  constructor(id: string) {
    this.id = id;
  }

  /** The findings on show are of an older state, or of another row. */
  get stale(): boolean {
    return !this.fits(this.outcome);
  }

  /** Is it of the present state and of the row on show? */
  fits(answer: { state: number; row?: number | null } | undefined): boolean {
    return !this.view || (answer?.state === this.view.state && answer.row === this.view.shown);
  }

  /** How many findings of the row on show fail or are marginal; what is kept of a job is of its first row. */
  get verdict() {
    const { view, outcome } = this;
    if (outcome && !this.stale) {
      const states = outcome.marks.flatMap((m) => m.findings.map((f) => f.state));
      const count = (state: string) => states.filter((s) => s === state).length;
      // with every mark off nothing was checked
      const unknown = outcome.marks.some((m) => m.on) ? count("not_checked") : 1;
      const waived = outcome.marks.flatMap((m) => m.findings).filter(isWaived).length;
      return { fails: count("fails"), waived, marginal: count("marginal"), not_checked: unknown };
    }
    return view && (view.shown ?? undefined) === view.job.roster.rows[0]?.id ? view.verdict : null;
  }

  /** What names the job and the row on show in a request. */
  get params() {
    return { path: { id: this.id }, query: { row: this.row } };
  }

  /** The same with the state whose roster is here: thousands of rows that stay are not sent again. */
  private get having() {
    const { path, query } = this.params;
    return { path, query: { ...query, roster_of: this.view?.state } };
  }

  /** Puts the rows back that the server has left out; says whether they are here. */
  private filled(view: JobView): boolean {
    if (view.rows_of != null) {
      const rows = this.#rosters.get(view.rows_of);
      if (!rows) return false;
      view.job.roster.rows = rows;
    }
    this.#rosters.set(view.state, view.job.roster.rows);
    for (const state of [...this.#rosters.keys()].slice(0, -8)) this.#rosters.delete(state);
    return true;
  }

  /** Shows the variant of another row of the roster. */
  show(row: number) {
    if (row === this.row) return;
    this.row = row;
    void this.refresh();
  }

  get marks(): Mark[] {
    return this.view?.job.marks ?? [];
  }

  open() {
    void this.refresh();
    this.#stop = listen(
      (told) => {
        if (told.job !== this.id) return;
        if (told.what === "rows") return void this.askRows();
        if (told.what !== "changed" || told.state !== this.view?.state) void this.refresh();
      },
      () => void this.refresh(),
    );
  }

  close() {
    this.#stop();
  }

  async refresh(whole = false) {
    try {
      const { path, query } = whole ? this.params : this.having;
      const { data, error } = await api.GET("/api/jobs/{id}", {
        params: { path, query: { ...query, person: person.name } },
      });
      if (data) this.take(data);
      else this.lost = problem(error);
    } catch (e) {
      this.trouble = problem(e);
    }
  }

  private take(view: JobView) {
    if (!this.filled(view)) return void this.refresh(true);
    // an answer that was overtaken by a newer one
    if (this.view && view.latest < this.view.latest) return;
    // or that is of another row than is wanted by now
    if (this.row !== undefined && view.shown !== this.row && view.job.roster.rows.some((r) => r.id === this.row))
      return;
    if (view.shown !== this.row && this.row !== undefined) this.row = undefined;
    this.view = view;
    void this.letter();
    void this.askRows();
    void this.ask(
      "solid",
      () => api.GET("/api/jobs/{id}/solid", { params: this.params }),
      (solid) => (this.solid = solid),
    );
    void this.ask(
      "outcome",
      () => api.GET("/api/jobs/{id}/outcome", { params: this.params }),
      (outcome) => (this.outcome = outcome),
    );
  }

  /** Keeps all rows fresh for as long as somebody looks; returns how to end that. */
  watchRows(): () => void {
    this.#watching++;
    void this.askRows();
    return () => this.#watching--;
  }

  private async askRows() {
    if (!this.#watching) return;
    if (this.#rows !== "idle") {
      this.#rows = "again";
      return;
    }
    try {
      do {
        this.#rows = "once";
        const { data, error } = await api.GET("/api/jobs/{id}/rows", { params: { path: { id: this.id } } });
        if (data) this.rows = data;
        else this.trouble = problem(error);
        // rows come in faster than anyone reads
        await new Promise((ready) => setTimeout(ready, 200));
      } while ((this.#rows as string) === "again" && this.#watching);
    } catch (e) {
      this.trouble = problem(e);
    } finally {
      this.#rows = "idle";
    }
  }

  /** Begins to measure or build all rows that are not done yet. */
  async beginRows(work: Schemas["Work"]) {
    await this.rowsWish(() =>
      api.POST("/api/jobs/{id}/rows/run", { params: { path: { id: this.id } }, body: { work } }),
    );
  }

  async stopRows() {
    await this.rowsWish(() => api.DELETE("/api/jobs/{id}/rows/run", { params: { path: { id: this.id } } }));
  }

  private async rowsWish(ask: () => Promise<{ error?: unknown }>) {
    try {
      const { error } = await ask();
      this.trouble = error ? problem(error) : "";
    } catch (e) {
      this.trouble = problem(e);
    }
    void this.askRows();
  }

  private async letter() {
    const of = this.view;
    try {
      const { data } = await api.GET("/api/jobs/{id}/plates", { params: this.params });
      // answers may overtake one another
      if (data && of === this.view) this.plates = data;
    } catch (e) {
      this.trouble = problem(e);
    }
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
        if (this[what] && this.fits(this[what])) break;
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

  /** Makes a change; says whether it was kept. Changes one after another under the same `typing` are one step. */
  async change(edit: Edit, typing?: string): Promise<boolean> {
    const params = this.having;
    const kept = await this.send(
      (key, edit, seen) =>
        api.POST("/api/jobs/{id}/changes", {
          params,
          body: { author: person.name, key, seen, typing, edit: edit as Edit },
        }),
      edit,
      this.view?.latest,
    );
    if (kept) this.tellRemoved([edit]);
    return kept;
  }

  /** Says what is gone, so that it can be undone beside it. */
  private tellRemoved(edits: Edit[]) {
    const gone = edits.every((edit) => edit.do.startsWith("remove_"));
    const says = gone ? (this.view?.undo ?? "") : "";
    this.removed = says;
    if (says) setTimeout(() => this.removed === says && (this.removed = ""), TOLD_MS);
  }

  /** Makes several changes in one step: all, or none. */
  async changeAll(edits: Edit[], typing?: string): Promise<boolean> {
    const params = this.having;
    const seen = this.view?.latest;
    const [edit, ...and] = edits;
    const kept = await this.send((key) =>
      api.POST("/api/jobs/{id}/changes", { params, body: { author: person.name, key, seen, typing, edit, and } }),
    );
    if (kept) this.tellRemoved(edits);
    return kept;
  }

  /** Makes anew what somebody else overtook, on what stands there now. */
  async anew() {
    const again = this.outbox.overtaken;
    this.trouble = "";
    await this.refresh();
    if (again) await this.send(again.ask, again.edit, this.view?.latest);
  }

  /** The next revision; tells which marks say something else for it. */
  async nextRevision(): Promise<boolean> {
    const before = new Map(this.marks.map((m) => [m.id, m.text]));
    if (!(await this.change({ do: "roster", edit: { change: "next_revision" } }))) return false;
    const other = this.marks.filter((m) => before.get(m.id) !== m.text);
    this.changed = new Map(other.map((m) => [m.id, before.get(m.id) ?? ""]));
    return true;
  }

  /** Changes settings of a mark; those that marks have in common change for all that are picked with it. */
  set(id: string, settings: object, typing?: string): Promise<boolean> {
    const of = (id: string): Edit => ({ do: "set_mark", id, settings: settings as Record<string, never> });
    const common = Object.keys(settings).every((key) => COMMON.has(key));
    if (common && this.several.includes(id)) return this.changeAll(this.several.map(of), typing);
    return this.change(of(id), typing);
  }

  /** Does something once every change before it is answered: what it builds on is then as it stands. */
  inTurn(work: () => Promise<boolean>): Promise<boolean> {
    const before = [this.#turn, ...this.#sent];
    const turn = Promise.allSettled(before).then(work);
    this.#turn = turn;
    return turn;
  }

  undo(): Promise<boolean> {
    this.removed = "";
    return this.send((key) => api.POST("/api/jobs/{id}/undo", this.step(key)));
  }

  redo(): Promise<boolean> {
    this.removed = "";
    return this.send((key) => api.POST("/api/jobs/{id}/redo", this.step(key)));
  }

  /** The job as it was in a state. */
  back(state: number): Promise<boolean> {
    return this.send((key) =>
      api.POST("/api/jobs/{id}/back", { params: this.having, body: { author: person.name, key, state } }),
    );
  }

  private step(key: string) {
    return { params: this.having, body: { author: person.name, key } };
  }

  private send(...letter: Parameters<Outbox["put"]>): Promise<boolean> {
    const sent = this.outbox.put(...letter);
    this.#sent.add(sent);
    void sent.then(() => this.#sent.delete(sent));
    return sent;
  }
}
