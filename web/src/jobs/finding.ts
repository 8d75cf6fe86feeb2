import type { JobRow, State } from "../api/client";

/** Which jobs of the list are shown, and in which order. */
export interface Finding {
  /** In name, part file or folder. */
  text: string;
  /** "" is all; "no folder" those in none. */
  folder: string;
  standing: State | "" | "not handed off";
  by: string;
  order: "changed" | "name" | "part";
}

export const everything = (): Finding => ({ text: "", folder: "", standing: "", by: "", order: "changed" });

export const NO_FOLDER = "no folder";

/** How a job stands, by its worst finding. */
export function standing(row: JobRow): State {
  if (!row.verdict) return "not_checked";
  if (row.verdict.fails) return "fails";
  if (row.verdict.not_checked) return "not_checked";
  return row.verdict.marginal ? "marginal" : "passes";
}

const alike = (text: string) => text.trim().toLowerCase();

export function found(rows: JobRow[], { text, folder, standing: wanted, by, order }: Finding): JobRow[] {
  const shown = rows.filter(
    (row) =>
      alike(`${row.name}\n${row.part_file}\n${row.folder}`).includes(alike(text)) &&
      (!folder || (folder === NO_FOLDER ? !row.folder : row.folder === folder)) &&
      (!wanted ||
        (wanted === "not handed off" ? !row.handed_off || row.handed_off.changed : standing(row) === wanted)) &&
      (!by || row.by === by),
  );
  // the list comes with the last changed first
  if (order === "changed") return shown;
  const key = (row: JobRow) => (order === "name" ? row.name : row.part_file);
  return shown.toSorted((a, b) => key(a).localeCompare(key(b), undefined, { numeric: true }));
}

/** What stands in a column of the list, each once, in order. */
export const each = (rows: JobRow[], of: (row: JobRow) => string): string[] =>
  [...new Set(rows.map(of).filter(Boolean))].sort((a, b) => a.localeCompare(b));
