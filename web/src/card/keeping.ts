import { getContext, setContext } from "svelte";
import type { Mark, Schemas } from "../api/client";
import type { Session } from "../session.svelte";

/** A value of a mark that mends can be kept from. */
export type Fixed = Schemas["Fixed"];

interface Kept {
  session: Session;
  mark: Mark;
}

const key = Symbol("the mark whose values can be kept");

/** Says whose values the fields below show. */
export function keepsOf(of: () => Kept) {
  setContext(key, of);
}

export const keptOf = () => getContext<(() => Kept) | undefined>(key);
