import type { PlacementView, Mark, SeatView } from "../api/client";
import type { By } from "./carrier";

/** The extents of a mark on the strip, mm. */
export interface Box {
  left: number;
  right: number;
  below: number;
  above: number;
}

/** A distance that is shown: from where to where, and how much. */
export interface Reach {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  mm: number;
}

type PartPoint = SeatView["points"][number]["point"];

/** The extents of a mark that has come so far. */
export function boxOf(placed: PlacementView, by: By): Box {
  const xs = placed.outline.map((c) => c[0] + by[0]);
  const ys = placed.outline.map((c) => c[1] + by[1]);
  return { left: Math.min(...xs), right: Math.max(...xs), below: Math.min(...ys), above: Math.max(...ys) };
}

/** Is the mark tied to a point? */
export const tiedTo = (mark: Mark | undefined, p: PartPoint) =>
  [mark?.place.along, mark?.place.up].some(
    (t) =>
      t?.tie === "point" &&
      t.point.kind === p.kind &&
      Math.hypot(...t.point.near.map((c: number, i: number) => c - p.near[i])) < 0.05,
  );

/** The distances that the ties keep, or the nearer edge's where the middle is tied. `aside` is where one stands beside
 *  the mark, mm. */
export function reaches(mark: Mark, placed: PlacementView, seat: SeatView, by: By, aside: number): Reach[] {
  const place = mark.place;
  if (seat.bends || place.baseline.line === "edge") return [];
  const box = boxOf(placed, by);
  const [left, right, below, above] = [
    placed.margins[0] + by[0],
    placed.margins[1] - by[0],
    placed.margins[2] + by[1],
    placed.margins[3] - by[1],
  ];
  const y = (box.below + box.above) / 2;
  const x = (box.left + box.right) / 2;
  const reach: Reach[] = [];
  // round a middle that is tied the edges' distances say nothing
  const loose = place.baseline.line === "arc" ? ["from_start", "from_end"] : undefined;
  if (loose && !loose.includes(place.along.tie) && !loose.includes(place.up.tie)) return [];
  for (const [k, tie] of [place.along, place.up].entries()) {
    if (tie.tie !== "point") continue;
    const held = seat.points.find((p) => tiedTo(mark, p.point) && p.point.kind === tie.point.kind);
    if (!held) continue;
    const to = placed.held[k] + by[k];
    const [a, b] = [held.at[0], held.at[1]];
    if (k === 0) reach.push({ x1: a, y1: y, x2: to, y2: y, mm: to - a });
    else reach.push({ x1: x, y1: b, x2: x, y2: to, mm: to - b });
  }
  if (place.along.tie === "point" || place.along.tie === "mark") {
    // shown from what it is tied to
  } else if (place.along.tie === "from_end") reach.push({ x1: box.right, y1: y, x2: seat.end[0], y2: y, mm: right });
  else if (!seat.closed[0]) reach.push({ x1: seat.start[0], y1: y, x2: box.left, y2: y, mm: left });
  // a seat that closes on itself has no edge there: the distance that counts is from its crown
  if (place.up.tie === "point" || place.up.tie === "mark") {
    // as along
  } else if (seat.closed[1]) {
    const there = box.right + aside;
    reach.push({ x1: there, y1: 0, x2: there, y2: y, mm: y });
  } else if (place.up.tie === "from_end") reach.push({ x1: x, y1: box.above, x2: x, y2: seat.end[1], mm: above });
  else reach.push({ x1: x, y1: seat.start[1], x2: x, y2: box.below, mm: below });
  return reach;
}
