import { api, type PlacementView, type Mark, type SeatView, problem } from "../api/client";
import type { Session } from "../session.svelte";

/** How far along and up, mm. */
export type By = [number, number];

/** Distances are kept to a hundredth of a millimetre. */
export const round = (v: number) => Math.round(v * 100) / 100;

/** What of a place a drag changes. */
export const heldBy = ({ along, up, baseline }: Mark["place"]) =>
  baseline.line === "edge" ? { baseline } : { along, up };

/** The mark with its ties carried along: a distance stays a distance. `snaps` are the lines that it snapped to. */
export function moved(mark: Mark, placed: PlacementView, seat: SeatView, by: By, snaps: [number?, number?]): Mark {
  const place = mark.place;
  const tie = (k: 0 | 1) => {
    const old = k === 0 ? place.along : place.up;
    if (by[k] === 0) return old;
    if (old.tie === "from_start") return { ...old, distance: round(old.distance + by[k]) };
    if (old.tie === "from_end") return { ...old, distance: round(old.distance - by[k]) };
    if (old.tie === "point" || old.tie === "mark") return { ...old, distance: round(old.distance + by[k]) };
    const at = placed.held[k] + by[k];
    const middle = !place.anchor[k === 0 ? "along" : "up"];
    const snap = snaps[k];
    if (middle && snap === (seat.start[k] + seat.end[k]) / 2 && Math.abs(at - snap) < 0.02)
      return { tie: "middle" as const };
    return { tie: "at" as const, position: round(at) };
  };
  return { ...mark, place: { ...place, along: tie(0), up: tie(1) } };
}

/** Carries marks that change their shape on the way: the server placements them, the newest wish of each goes first. */
export class Carrier {
  /** Marks that are carried now, by their ids, and where to next. */
  readonly #under = new Map<string, { wish?: By; done: Promise<Mark | undefined> }>();

  constructor(
    readonly session: Session,
    /** Called with the mark on its way. */
    readonly onway: (mark: Mark) => void,
  ) {}

  carry(mark: Mark, from: PlacementView, by: By): Promise<Mark | undefined> {
    const wish: By = [from.middle[0] + by[0], from.middle[1] + by[1]];
    const under = this.#under.get(mark.id);
    if (under) {
      under.wish = wish;
      return under.done;
    }
    const way: { wish?: By } = { wish };
    const done = (async () => {
      let last: Mark | undefined;
      try {
        while (way.wish) {
          const to = way.wish;
          way.wish = undefined;
          const { data } = await api.POST("/api/jobs/{id}/placement", {
            params: this.session.params,
            body: { mark, to },
          });
          if (data) this.onway((last = { ...mark, place: data.place }));
        }
      } catch (e) {
        this.session.trouble = problem(e);
      }
      this.#under.delete(mark.id);
      return last;
    })();
    this.#under.set(mark.id, Object.assign(way, { done }));
    return done;
  }
}
