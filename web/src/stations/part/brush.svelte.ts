/** What the hand does to the part other than picking faces: painting, dividing, joining, edges and circles. */
import type { Session } from "../../session.svelte";
import type { Picked, Point } from "../../view3d/table";
import { steelWord } from "../../words";
import { keepOutWord, type Hand, type Touch } from "./hand";

const rounded = (p: Point) => p.map((c) => Math.round(c * 1e4) / 1e4);

export class Brush {
  /** What a press or a stroke does, when not to pick a face. */
  hand = $state<Hand>();
  /** What the stroke that is being made has touched. */
  stroke = $state.raw<Touch[]>([]);

  constructor(readonly session: () => Session) {
    $effect(() => {
      if (!this.hand) this.stroke = [];
    });
  }

  get #tool() {
    return this.session().view?.job.tool;
  }

  #touch(under: Picked, radius: number) {
    const last = this.stroke[this.stroke.length - 1];
    if (last && Math.hypot(...last.at.map((c, k) => c - under.point[k])) < 0.5 * radius) return;
    this.stroke = [...this.stroke, { at: under.point, out: under.out, radius }];
  }

  readonly #spots = $derived.by(() => this.stroke.map((t) => ({ at: rounded(t.at), radius: t.radius })));

  /** Begins a stroke, where the hand paints. */
  grab(under: Picked) {
    const hand = this.hand;
    if ((hand?.does !== "paint" && hand?.does !== "divide") || under.mark >= 0) return undefined;
    // only facets of the face that is divided are painted
    const only = hand.does === "divide" ? hand.face : undefined;
    const onto = (to: Picked) => {
      if (only === undefined || to.place === only) this.#touch(to, hand.radius);
    };
    onto(under);
    return { moved: onto, dropped: () => void this.#painted() };
  }

  /** A stroke of the brush is done: it becomes part of what is painted. */
  async #painted() {
    const hand = this.hand;
    if (hand?.does !== "paint" || !this.stroke.length) return;
    const { into, radius, rub } = hand;
    const spots = this.#spots;
    const session = this.session();
    if ("steel" in into) {
      await session.change({ do: "assign", area: { kind: "painted", spots }, to: into.steel });
    } else if ("kind" in into) {
      const before = this.#tool?.keep_outs.length ?? 0;
      await session.change({ do: "add_keep_out", kind: into.kind, area: { kind: "painted", spots } });
      const made = this.#tool?.keep_outs[before];
      // further strokes go into the same area
      if (made) this.hand = { ...hand, into: { keepOut: made.name } };
    } else {
      const keepOut = this.#tool?.keep_outs.find((k) => k.name === into.keepOut);
      if (keepOut?.area.kind === "painted") {
        const old = keepOut.area.spots;
        const under = (s: { at: number[] }) =>
          spots.some((t) => Math.hypot(...t.at.map((c, k) => c - s.at[k])) < radius);
        const kept = rub ? old.filter((s) => !under(s)) : [...old, ...spots];
        if (kept.length)
          await session.change({
            do: "set_keep_out",
            name: keepOut.name,
            keep_out: { ...keepOut, area: { kind: "painted", spots: kept } },
          });
        else {
          await session.change({ do: "remove_keep_out", name: keepOut.name });
          this.hand = undefined;
        }
      }
    }
    this.stroke = [];
  }

  /** The part was pressed with the hand. */
  async press(under: Picked) {
    const hand = this.hand;
    if (!hand) return;
    const session = this.session();
    const point = rounded(under.point) as Point;
    if (hand.does === "join") {
      if (under.place !== hand.face) await session.change({ do: "join_faces", face: hand.face, with: under.place });
    } else if (hand.does === "edge") {
      const before = this.#tool?.parting.length ?? 0;
      const fresh = hand.at === null;
      if ((await session.change({ do: "pick_edge", at: hand.at, point })) && fresh)
        this.hand = { does: "edge", at: before };
      // the last edge was removed, and the line with it
      else if (!fresh && this.#tool?.parting[hand.at ?? 0]?.kind !== "edges") this.hand = undefined;
    } else if (hand.does === "circle") {
      const area = { kind: "circle" as const, middle: point, radius: hand.radius };
      if (await session.change({ do: "add_keep_out", kind: hand.kind, area })) this.hand = undefined;
    } else {
      this.grab(under)?.dropped();
    }
  }

  /** What was painted of a face becomes a face of its own: its number. */
  async divide(): Promise<number | undefined> {
    if (this.hand?.does !== "divide" || !this.stroke.length) return undefined;
    const session = this.session();
    const spots = this.#spots;
    this.stroke = [];
    const made = session.view?.part.faces.length ?? 0;
    if (!(await session.change({ do: "divide_face", face: this.hand.face, spots }))) return undefined;
    this.hand = undefined;
    return made;
  }

  /** What the hand does, in words. */
  readonly words = $derived.by(() => {
    const hand = this.hand;
    if (hand?.does === "edge") return "click edges of the part: each click adds an edge, or removes it";
    if (hand?.does === "circle") return `click where the ${keepOutWord[hand.kind]} is; its circle has the radius`;
    if (hand?.does === "join") return "click the neighbours that belong to this face";
    if (hand?.does === "divide")
      return this.stroke.length
        ? "what is painted becomes a face of its own; brush of radius"
        : "paint the facets of this face that are a face of their own, with a brush of radius";
    if (hand?.does === "paint") {
      const into = hand.into;
      const what =
        "steel" in into
          ? `what ${steelWord(into.steel)} forms`
          : "kind" in into
            ? keepOutWord[into.kind]
            : into.keepOut;
      return `${hand.rub ? "rub out" : "paint"} ${what} with a brush of radius`;
    }
    return "";
  });
}
