import type { PlacementView, SeatView } from "../api/client";

/** Within so many pixels a mark snaps. */
export const SNAP = 7;

/** How far a mark goes in one direction, and the line that it snaps to: the seat's middle, its crown, other marks'
 *  sides and middles. `low` and `high` are its own sides, `within` is in mm. */
export function snapped(
  want: number,
  k: 0 | 1,
  [low, high]: [number, number],
  seat: SeatView,
  others: PlacementView[],
  within: number,
): [number, number?] {
  const lines = seat.bends ? [] : [(seat.start[k] + seat.end[k]) / 2];
  if (seat.crown && k === 1) lines.push(0);
  const points: [number, number][] = lines.map((l) => [l, (low + high) / 2]);
  for (const { outline } of others) {
    const [a, b] = [Math.min(...outline.map((c) => c[k])), Math.max(...outline.map((c) => c[k]))];
    points.push([a, low], [b, high], [(a + b) / 2, (low + high) / 2]);
  }
  let best: [number, number?] = [want];
  let least = within;
  for (const [line, own] of points) {
    const miss = Math.abs(own + want - line);
    if (miss < least) {
      least = miss;
      best = [line - own, line];
    }
  }
  return best;
}
