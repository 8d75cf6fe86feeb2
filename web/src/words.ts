import type { Finding, JobView, Mark, OutcomeView, Schemas, State } from "./api/client";

type Verdict = Schemas["VerdictView"];

/** What our own words mean, said where each first stands. */
export const tips = {
  job: "A job is one part with its tool and its marks: opened, changed, checked and handed off together.",
  part: "Part: the part file, its faces, the tool that forms it and the limits it is checked against.",
  roster: "Roster: the table of parts, variants and cavities that the marks read. Each row gives one finished part.",
  marks: "Marks: each piece of lettering or artwork, on the part and on its strip.",
  inspect: "Inspect: what every check measured on the finished solid.",
  handoff: "Hand off: the files for the toolmaker.",
  rack: "The rack: one plate a mark. Click a plate to pick its mark.",
  card: "The card: the picked mark in sentences. Every underlined value can be changed.",
  seat: "The seat is the patch of the part that the mark sits on.",
  strip: "The strip is the seat laid flat at true size.",
  recipe: "A recipe puts the text together from pieces: fixed text, columns of the roster, dates, the revision.",
  mend: "A mend repairs the faults of the part file. The figures say what it changes, and it can be removed again.",
  toolPlate: "The tool plate: where each cavity lies in the tool, how it is turned and what it is called.",
};

export const stateWord: Record<State, string> = {
  does_not_apply: "does not apply",
  passes: "passes",
  marginal: "marginal",
  not_checked: "not checked",
  fails: "fails",
};

/** How a finding stands: a waived one fails, and is told to be waived. */
export function stands(finding: Finding): string {
  return isWaived(finding) ? "fails, waived" : stateWord[finding.state];
}

/** Somebody answers for it as it is. */
export const isWaived = (finding: Finding) => !!finding.waived && !finding.waived.lapsed;

/** What matters more is greater: nobody knows whether what was not checked passes. */
export const stateWeight: Record<State, number> = {
  does_not_apply: 0,
  passes: 1,
  marginal: 2,
  not_checked: 3,
  fails: 4,
};

/** The checks in the order of the table, with the heads of its columns. */
export const checkNames: Record<Schemas["Check"], { head: string; whole: string }> = {
  draft: { head: "draft", whole: "least draft of the walls" },
  release: { head: "release", whole: "release from the tool" },
  uniform_depth: { head: "uniform depth", whole: "spread of the depth" },
  relief_height: { head: "relief height", whole: "relief height, enough to be seen" },
  cap_height: { head: "cap height", whole: "cap height and reading angle" },
  stroke: { head: "stroke", whole: "least stroke" },
  counter: { head: "counter", whole: "least counter" },
  gap: { head: "gap", whole: "gap between characters" },
  word_gap: { head: "word gap", whole: "gap between words" },
  line_gap: { head: "line gap", whole: "gap between lines" },
  stroke_to_height: { head: "stroke to relief", whole: "stroke to relief height" },
  stroke_to_cap: { head: "stroke to cap", whole: "stroke to cap height" },
  island: { head: "small pieces", whole: "smallest piece of a letter" },
  steel: { head: "steel", whole: "least steel at letters and counters" },
  inner_corner: { head: "inner corners", whole: "least radius where walls meet ground or floor" },
  parting: { head: "parting", whole: "clearance to the parting line" },
  clearance: { head: "clearance", whole: "clearance to edges and other marks" },
  keep_outs: { head: "keep-outs", whole: "clearance to keep-outs" },
  complete: { head: "complete", whole: "every letter complete" },
  wall: { head: "wall", whole: "wall under the mark" },
  look_alikes: { head: "look-alikes", whole: "characters easily mistaken" },
};

export function many(count: number, one: string, more = `${one}s`): string {
  return `${count} ${count === 1 ? one : more}`;
}

/** How a person calls a mark: by its name, else by what it says. */
export function called(mark: Mark | undefined): string {
  return mark?.name || mark?.text.replaceAll("\n", " / ").trim() || mark?.id || "a mark that is gone";
}

export function verdictWords(verdict: Verdict | null | undefined, marks: number): string {
  if (!verdict) return "checking …";
  if (marks === 0) return "nothing to check yet";
  const said = [];
  const waived = verdict.waived ? ` (${verdict.waived} waived)` : "";
  if (verdict.fails) said.push(`${verdict.fails} ${verdict.fails === 1 ? "fails" : "fail"}${waived}`);
  if (verdict.not_checked) said.push(`${verdict.not_checked} not checked`);
  if (verdict.marginal) said.push(`${verdict.marginal} marginal`);
  return said.length ? said.join(", ") : "all pass";
}

export function partWords(view: JobView): string {
  if (view.part.soundness.surface_body) return `surface body, ${view.part.unit}`;
  if (!view.part.soundness.solid) return "not a closed solid";
  const pull = view.job.tool.pull ? "" : ", no pull yet";
  return `closed, ${view.part.unit}${pull}`;
}

export function handoffWords(handed: Schemas["HandoverView"] | null | undefined): string {
  if (!handed) return "not yet handed off";
  return `handed off ${day(handed.at)}${handed.changed ? ", changed since" : ""}`;
}

/** "3 Nov" for this year, with the year for others. */
export function day(at: string): string {
  const date = new Date(at);
  const same = date.getFullYear() === new Date().getFullYear();
  return date.toLocaleDateString("en-GB", { day: "numeric", month: "short", ...(same ? {} : { year: "numeric" }) });
}

export function moment(at: string): string {
  return `${day(at)}, ${new Date(at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;
}

/** A number with a real minus, and none before a zero. */
export function signed(value: number, places: number): string {
  const said = value.toFixed(places);
  return /^-0\.?0*$/.test(said) ? said.slice(1) : said.replace("-", "−");
}

/** Decimals of a figure as it is read: two for mm, one for degrees and percent. */
const placesOf = (unit: string) => (["°", "′", "%"].includes(unit) ? 1 : 2);

export function figure(value: number, unit: string): string {
  return signed(value, placesOf(unit));
}

/** Decimals that somebody gave a value, three at most. */
export const decimals = (value: number) => String(Number(value.toFixed(3))).split(".")[1]?.length ?? 0;

/** A limit as somebody set it: 2.25° is not 2.3°. */
export function limitWithUnit(value: number, unit: string): string {
  return withUnit(signed(value, Math.max(placesOf(unit), decimals(value))), unit);
}

export function figureWithUnit(value: number, unit: string): string {
  return withUnit(figure(value, unit), unit);
}

/** Degrees and minutes stand close to their figure, other units apart. */
export function withUnit(figure: string | number, unit: string): string {
  return `${figure}${unit === "°" || unit === "′" || unit === "" ? "" : " "}${unit}`;
}

export function worst(outcome: OutcomeView | undefined, id: string): Finding | undefined {
  const mark = outcome?.marks.find((m) => m.id === id);
  return mark?.worst == null ? undefined : mark.findings[mark.worst];
}

export function steelWord(steel: Schemas["Steel"]): string {
  if (steel.steel === "slide") return steel.name;
  return steel.steel === "fixed" ? "fixed half" : "moving half";
}

/** One name for a steel in a list of choices. */
export function steelKey(steel: Schemas["Steel"]): string {
  return steel.steel === "slide" ? `slide ${steel.name}` : steel.steel;
}

/** Values of a mark that mends can be kept from, as they are read after “the”. */
export const fixedWords: Record<Schemas["Fixed"], string> = {
  draft: "draft",
  relief_height: "relief height",
  sense: "sense",
  walls: "walls",
  measured_at: "level of its size",
  root: "root radius",
  face: "lettering face",
  cap_height: "cap height",
  stroke: "stroke",
  width: "width",
  spacing: "spacing",
  line_gap: "line gap",
  place: "place",
  turn: "turn",
  placement: "placement",
  pad: "pad",
  seat: "seat",
};

/** Letters are counted from 0; what a pad is counted as lies beyond them. */
export const PAD = 4_000_000_000;

export const torchSays = "lettering in the colour of its ground under a lamp that you carry round it";

/** A file's size, for reading. */
export function bytes(size: number): string {
  return size < 1e6 ? `${(size / 1e3).toFixed(0)} kB` : `${(size / 1e6).toFixed(1)} MB`;
}
