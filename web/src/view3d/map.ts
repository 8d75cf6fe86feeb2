/** A map over the bare part's surface as the server sends it (see `handlers/tool.rs`). */
export interface SurfaceMap {
  /** The part's triangle each piece is of. */
  of: Uint32Array;
  divided: boolean[];
  /** Corners of the divided pieces, one after the other. */
  corners: Float32Array;
  channels: number;
  values: Float32Array;
}

const DIVIDED = 0x80000000;

export function readMap(buffer: ArrayBuffer): SurfaceMap {
  const [pieces, channels, divided] = new Uint32Array(buffer, 0, 3);
  const of = new Uint32Array(buffer, 12, pieces).slice();
  const flags = Array.from(of, (t) => (t & DIVIDED) !== 0);
  for (let k = 0; k < pieces; k++) of[k] &= ~DIVIDED;
  const from = 12 + 4 * pieces;
  return {
    of,
    divided: flags,
    corners: new Float32Array(buffer, from, 9 * divided),
    channels,
    values: new Float32Array(buffer, from + 36 * divided, channels * pieces),
  };
}

/** How a map is painted. */
export interface Paint {
  /** The least of the three values of a piece at its corners, or one for all. */
  corners: (piece: number) => [number, number, number];
  /** Caught: hatched in the colour of what fails, whatever its value. */
  caught: (piece: number) => boolean;
  /** The value that is painted palest. */
  top: number;
  /** Below this it is hatched, and its line is drawn; none for a map of kinds. */
  limit?: number;
  /** The limit is a most: above it, by its amount, it is hatched. */
  most?: boolean;
  /** Values are numbers of kinds with a colour each. */
  kinds?: string[];
}

export const STEEL_TOKENS = ["--steel-1", "--steel-2", "--steel-3", "--steel-4", "--steel-5", "--steel-6"];

/** What each map paints: draft against limit, walls by ray or by sphere, or which steel forms what. */
export function paint(
  map: SurfaceMap,
  show: "draft" | "steel" | "ray" | "sphere" | "change",
  top: number,
  limit: number,
): Paint {
  const value = (piece: number, channel: number) => map.values[map.channels * piece + channel];
  const one = (channel: number) => (piece: number) => {
    const v = value(piece, channel);
    return [v, v, v] as [number, number, number];
  };
  const none = () => false;
  switch (show) {
    case "draft":
      return {
        corners: (p) => [value(p, 0), value(p, 1), value(p, 2)],
        caught: (p) => value(p, 4) > 0,
        top,
        limit,
      };
    case "steel":
      return { corners: one(3), caught: (p) => value(p, 4) > 0, top: 1, kinds: STEEL_TOKENS };
    case "change":
      // half way along the scale is no change: removed darkens, added pales
      return { corners: (p) => one(0)(p).map((v) => v + top) as [number, number, number], caught: none, top: 2 * top };
    case "ray":
      return { corners: one(0), caught: none, top, limit };
    case "sphere":
      return { corners: one(1), caught: none, top, limit };
  }
}
