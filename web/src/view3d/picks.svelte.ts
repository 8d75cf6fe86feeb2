/** What is measured in a section: up to three places, the pieces of the edge that they lie on, the distance between two, the
 *  circle through three, and whether the circles of two pieces have one middle. */
import { api, problem, type Schemas, type Witness } from "../api/client";
import type { OnCut } from "./cut";
import type { Point } from "./objects";

type Section = Schemas["SectionView"];

const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

export class Picks {
  /** What was pressed, and the cut that it was pressed on. */
  #pressed = $state.raw<{ on?: Section; places: OnCut[] }>({ places: [] });
  #circle = $state.raw<Schemas["CircleFound"]>();
  #middles = $state.raw<Schemas["MiddlesView"]>();
  #wrong = $state("");
  readonly #of: () => { section?: Section; up?: Point };

  constructor(of: () => { section?: Section; up?: Point }) {
    this.#of = of;
  }

  /** Places that are pressed; those on a cut that is no more are none. */
  get places(): OnCut[] {
    const { on, places } = this.#pressed;
    return on === this.#of().section ? places : [];
  }

  /** A place was pressed; beside the cut everything is forgotten, and a fourth begins anew. */
  press(at: OnCut | undefined) {
    const { section } = this.#of();
    const places = at ? [...(this.places.length === 3 ? [] : this.places), at] : [];
    this.#pressed = { on: section, places };
    this.#circle = this.#middles = undefined;
    this.#wrong = "";
    if (!section) return;
    if (places.length === 3) {
      const body = { points: places.map((p) => p.at), normal: section.normal };
      void api.POST("/api/circle", { body }).then(({ data, error }) => {
        if (places !== this.#pressed.places) return;
        this.#circle = data;
        this.#wrong = data ? "" : problem(error);
      });
    }
    const circles = this.edges.map((k) => section.edges[k].circle);
    const [first, second] = circles;
    if (circles.length === 2 && first && second)
      void api.POST("/api/concentric", { body: { first, second } }).then(({ data }) => {
        if (places === this.#pressed.places) this.#middles = data;
      });
  }

  /** Pieces of the edge that are picked, each once, in the order of the presses. */
  get edges(): number[] {
    return [...new Set(this.places.flatMap((p) => p.edge ?? []))];
  }

  get distance(): number | undefined {
    const [from, to] = this.places;
    return to && Math.hypot(...from.at.map((c, k) => c - to.at[k]));
  }

  get witnesses(): Witness[] {
    const [from, to, third] = this.places;
    if (third) return this.places.map(({ at }) => ({ kind: "point", at }));
    return to ? [{ kind: "pair", from: from.at, to: to.at }] : this.places.map(({ at }) => ({ kind: "point", at }));
  }

  /** All of it in sentences. */
  get says(): string[] {
    const { section, up } = this.#of();
    if (!section) return [];
    const said = this.edges.map((k) => section.edges[k].says);
    const [from, to] = this.places;
    if (to && this.places.length === 2) {
      const way = to.at.map((c, k) => c - from.at[k]);
      const rise = up && dot(way, up);
      const rest =
        rise === undefined
          ? ""
          : `: ${Math.abs(rise).toFixed(3)} up, ${Math.sqrt(Math.max(0, dot(way, way) - rise * rise)).toFixed(3)} across`;
      said.push(`${Math.sqrt(dot(way, way)).toFixed(3)} mm apart${rest}`);
    }
    if (!this.places.length) return [];
    if (this.places.length === 1 && !said.length) said.push("a place inside; click another for their distance");
    if (this.#middles) said.push(this.#middles.says);
    if (this.#circle) said.push(`through the three places: ${this.#circle.says}`);
    if (this.#wrong) said.push(this.#wrong);
    return said;
  }
}
