/** What a mark may draw in place of a text, and how each begins. */
import type { Mark, Schemas } from "../api/client";

export type Figure = Schemas["Figure"];
export type FigureKind = "dial" | "tally" | "pocket";

export const figureKinds: { value: FigureKind; says: string }[] = [
  { value: "dial", says: "a date dial" },
  { value: "tally", says: "a tally grid" },
  { value: "pocket", says: "the pocket of an insert" },
];

/** Capitals larger than that make a dial of the size of a coin. */
const SMALL = 2;

const round = (mm: number) => Math.round(mm * 10) / 10;

/** Settings that make a mark draw a figure, of sizes that suit its lettering. */
export function drawn(mark: Mark, kind: FigureKind): object {
  const from = { date: "handoff" } as const;
  if (kind === "pocket")
    return { figure: { pocket: { diameter: 6, gap: 0.05 } }, relief: { sense: "sunken", height: 4, plate: null } };
  // a manner's capitals are those of other marks too
  const high = mark.manner ? mark.lettering.cap_height : Math.min(SMALL, mark.lettering.cap_height);
  const lettering = { cap_height: high };
  if (kind === "dial") {
    const dial: Schemas["Dial"] = {
      from,
      diameter: Math.ceil(10 * high),
      rings: [{ of: "months", every: 1 }],
      tops: "out",
      gap: round(Math.max(0.1, 0.2 * high)),
      year: 2,
      core_apart: false,
    };
    return { figure: { dial }, lettering };
  }
  const tally: Schemas["Tally"] = {
    from,
    first_year: new Date().getFullYear(),
    years: 5,
    pitch: round(1.8 * high),
    dot: round(0.6 * high),
    labels: true,
  };
  return { figure: { tally }, lettering };
}
