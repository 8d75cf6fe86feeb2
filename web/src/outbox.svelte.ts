import { refused } from "./api/refused";
import { problem, type Edit, type JobView, type Schemas } from "./api/client";

type Answer = { data?: JobView; error?: unknown; response?: Response };

/** Something that is to be sent, and who waits for it. */
interface Letter {
  /** Under which the server makes it once, however often it is sent. */
  key: string;
  edit?: Edit;
  /** The newest row of the history that was seen when it was made. */
  seen?: number;
  ask: (key: string, edit?: Edit, seen?: number) => Promise<Answer>;
  done: ((kept: boolean) => void)[];
}

/** The longest that is waited before the next try, ms. */
const LONGEST = 3000;

/**
 * Changes of a job in the order in which they were made: each leaves when the one before it is answered, and is sent again
 * until it is.
 */
export class Outbox {
  /** Changes that are not answered yet. */
  count = $state(0);
  /** Nobody answers at present. */
  cut = $state(false);
  /** A change that somebody else overtook: it can be made anew on what stands there now. */
  overtaken = $state.raw<{ ask: Letter["ask"]; edit?: Edit }>();
  /** The state before a change that can't be undone by itself, since others built on it. */
  between = $state<number>();
  readonly #letters: Letter[] = [];
  #sending = false;
  readonly #take: (view: JobView) => void;
  readonly #refused: (why: string) => void;

  constructor(take: (view: JobView) => void, refused: (why: string) => void) {
    this.#take = take;
    this.#refused = refused;
  }

  /** Puts something at the end; whether it was kept. */
  put(ask: Letter["ask"], edit?: Edit, seen?: number): Promise<boolean> {
    this.overtaken = this.between = undefined;
    return new Promise((done) => {
      const last = this.#letters.length > 1 ? this.#letters[this.#letters.length - 1] : undefined;
      if (last?.edit && edit && replaces(edit, last.edit)) {
        last.edit = edit;
        last.done.push(done);
      } else {
        this.#letters.push({ key: crypto.randomUUID(), edit, seen, ask, done: [done] });
        this.count = this.#letters.length;
      }
      void this.#send();
    });
  }

  async #send() {
    if (this.#sending) return;
    this.#sending = true;
    let wait = 250;
    while (this.#letters.length) {
      const { key, edit, seen, ask, done } = this.#letters[0];
      const answer = await ask(key, edit, seen).catch((): Answer => ({}));
      if (!answer.data && !isAnswer(answer)) {
        this.cut = true;
        await new Promise((ready) => setTimeout(ready, wait));
        wait = Math.min(2 * wait, LONGEST);
        continue;
      }
      this.cut = false;
      wait = 250;
      this.#letters.shift();
      this.count = this.#letters.length;
      if (answer.data) this.#take(answer.data);
      if (answer.response?.status === 409 && edit) this.overtaken = { ask, edit };
      this.between = before(answer.error);
      refused.why = answer.data ? "" : problem(answer.error);
      // what can be made anew is offered at the foot
      refused.quiet = () => this.overtaken || this.#refused("");
      this.#refused(refused.why);
      for (const told of done) told(!!answer.data);
    }
    this.#sending = false;
  }
}

function before(error: unknown): number | undefined {
  return (error as Partial<Schemas["Refusal"]> | undefined)?.before ?? undefined;
}

/** An answer that says yes or no; a server or database that can't be reached says neither. */
function isAnswer({ response }: Answer): boolean {
  return !!response && ![502, 503, 504].includes(response.status);
}

/** Of settings of the same fields of the same mark only the last counts. */
function replaces(edit: Edit, before: Edit): boolean {
  if (edit.do !== "set_mark" || before.do !== "set_mark" || edit.id !== before.id) return false;
  return fields(edit.settings) === fields(before.settings);
}

/** The names of what is set, those of a group with its own. */
function fields(of: object): string {
  const names = Object.entries(of).map(([name, value]) =>
    value && typeof value === "object" && !Array.isArray(value) ? `${name}{${fields(value)}}` : name,
  );
  return names.sort().join();
}
