import { getContext } from "svelte";
import type { Session } from "../session.svelte";

export const sessionKey = Symbol("session");

/** The open job of the frame this stands in. */
export function currentSession(): () => Session {
  return getContext(sessionKey);
}
