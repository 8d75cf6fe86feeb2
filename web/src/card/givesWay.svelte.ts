import { untrack } from "svelte";

/** What was refused gives way to what is set by other means: `clear` is called when another value is set. To be called where a
    field is made. */
export function givesWay(value: () => unknown, clear: () => void): void {
  let before = untrack(value);
  $effect(() => {
    const now = value();
    if (now === before) return;
    before = now;
    untrack(clear);
  });
}
