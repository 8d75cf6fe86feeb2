import type { Schemas } from "../../api/client";

type Roster = Schemas["Roster"];

/** What taking another roster would do to the one that is there. */
export interface Reading {
  /** Columns that both have, that are new, and that go. */
  stays: string[];
  comes: string[];
  goes: string[];
  /** Rows that say the same in the columns that both have. */
  same: number;
  /** Rows that say otherwise, in the file's order: which of the file from 1 on, and its cells that differ. */
  changed: { row: number; cells: { column: string; was: string; is: string }[] }[];
  added: number;
  gone: number;
}

export function reading(there: Roster, file: Roster): Reading {
  const has = new Set(file.columns.map((c) => c.name));
  const had = new Set(there.columns.map((c) => c.name));
  const stays = file.columns.map((c) => c.name).filter((name) => had.has(name));
  const places = stays.map((name) => [there, file].map((r) => r.columns.findIndex((c) => c.name === name)));
  const said = (row: Roster["rows"][number], of: 0 | 1) => places.map((place) => row.cells[place[of]] ?? "");

  // rows that say the same are the same ones, wherever they stand
  const open = new Map<string, number[]>();
  there.rows.forEach((row, at) => {
    const key = JSON.stringify(said(row, 0));
    open.set(key, [...(open.get(key) ?? []), at]);
  });
  const kept = new Set<number>();
  const others: number[] = [];
  file.rows.forEach((row, at) => {
    const was = open.get(JSON.stringify(said(row, 1)))?.shift();
    if (was === undefined) others.push(at);
    else kept.add(was);
  });
  // of the others one takes the place of another, in their order
  const left = there.rows.map((_, at) => at).filter((at) => !kept.has(at));
  const changed = others.slice(0, left.length).map((at, k) => {
    const [was, is] = [said(there.rows[left[k]], 0), said(file.rows[at], 1)];
    const cells = stays.map((column, c) => ({ column, was: was[c], is: is[c] })).filter((c) => c.was !== c.is);
    return { row: at + 1, cells };
  });
  return {
    stays,
    comes: file.columns.map((c) => c.name).filter((name) => !had.has(name)),
    goes: there.columns.map((c) => c.name).filter((name) => !has.has(name)),
    same: kept.size,
    changed,
    added: Math.max(0, others.length - left.length),
    gone: Math.max(0, left.length - others.length),
  };
}
