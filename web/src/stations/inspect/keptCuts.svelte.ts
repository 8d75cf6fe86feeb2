/** Cuts that are kept for the next record of what is looked at: of one state of a job in one row. */
import type { Schemas } from "../../api/client";
import type { Session } from "../../session.svelte";

class KeptCuts {
  #all = $state.raw<{ of: string; cut: Schemas["KeptCut"] }[]>([]);

  #of(session: Session): string {
    return [session.id, session.view?.state, session.view?.shown].join(" ");
  }

  of(session: Session): Schemas["KeptCut"][] {
    const of = this.#of(session);
    return this.#all.filter((kept) => kept.of === of).map((kept) => kept.cut);
  }

  keep(session: Session, cut: Schemas["KeptCut"]) {
    this.#all = [...this.#all, { of: this.#of(session), cut }];
  }

  forget(session: Session) {
    const of = this.#of(session);
    this.#all = this.#all.filter((kept) => kept.of !== of);
  }
}

export const keptCuts = new KeptCuts();
