import { searchParams } from "sv-router";

/** From above left, as low as the lamp of the reading test. */
const FIRST = { side: 135, height: 20 };

/** The torch as a person carries it: whether it is on and where it stands, kept in the address so that a link shows the same. */
export class Lamp {
  #at = $state<{ side: number; height: number }>();

  constructor() {
    const [side, height] = String(searchParams.get("torch") ?? "")
      .split(" ")
      .map(Number);
    if (Number.isFinite(side) && height >= 0 && height <= 90) this.#at = { side, height };
  }

  get at() {
    return this.#at;
  }

  get on(): boolean {
    return this.#at !== undefined;
  }

  turn() {
    this.#at = this.on ? undefined : FIRST;
    this.rest();
  }

  carry(side: number, height: number) {
    this.#at = { side, height };
  }

  /** Writes down where it stands, once the hand rests. */
  rest() {
    if (this.#at) searchParams.set("torch", `${this.#at.side} ${this.#at.height}`, { replace: true });
    else searchParams.delete("torch", undefined, { replace: true });
  }
}
