/** What a mark may draw in place of a text, and how each begins. */
import { api, problem, type Mark, type Schemas } from "../api/client";
import type { Session } from "../session.svelte";

export type Figure = Schemas["Figure"];
export type FigureKind = "dial" | "tally" | "pocket" | "artwork";

export const figureKinds: { value: FigureKind; says: string }[] = [
  { value: "dial", says: "a date dial" },
  { value: "tally", says: "a tally grid" },
  { value: "pocket", says: "the pocket of an insert" },
  { value: "artwork", says: "artwork from an SVG or DXF file" },
];

/** Capitals larger than that make a dial of the size of a coin. */
const SMALL = 2;

const round = (mm: number) => Math.round(mm * 10) / 10;

/** Settings that make a mark draw a figure, of sizes that suit its lettering. */
export function drawn(mark: Mark, kind: Exclude<FigureKind, "artwork">): object {
  const from = { date: "handoff" } as const;
  if (kind === "pocket")
    return { figure: { pocket: { diameter: 6, gap: 0.05 } }, relief: { sense: "sunken", height: 4, plate: null } };
  // a style's lettering is that of other marks too
  const shared = mark.style ? mark.lettering : undefined;
  const high = shared?.cap_height ?? Math.min(SMALL, mark.lettering.cap_height);
  const apart = shared?.spacing ?? 0;
  const lettering = shared ? {} : { cap_height: high, spacing: apart };
  if (kind === "dial") {
    const dial: Schemas["Dial"] = {
      from,
      diameter: Math.ceil(10 * high + 4 * apart),
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
    pitch: round(2 * high + apart),
    dot: round(0.6 * high),
    labels: true,
  };
  return { figure: { tally }, lettering };
}

/** Height of artwork whose file doesn't say how large it is, mm. */
export const ARTWORK_HIGH = 8;

export type ArtworkView = Schemas["ArtworkView"];

/** How a drawing is to be read. */
export type ArtworkWish = { layers?: string; unit?: number; height?: number; within?: number; stroke?: number };

/** A file of artwork that somebody should look at before a mark draws it. */
export type ArtworkAsked = { mark: string; file: File; wish: ArtworkWish; view: ArtworkView };

/** Reads a drawing; says in the session's trouble why it can't be read. */
export async function readArtwork(session: Session, file: File, wish: ArtworkWish): Promise<ArtworkView | undefined> {
  const least = session.view?.limits.find((l) => l.subject === "stroke")?.limit.value;
  const { data, error } = await api.POST("/api/artwork", {
    params: { query: { file: file.name, least, ...wish } },
    body: file as unknown as number[],
    bodySerializer: (body: unknown) => body as Blob,
    headers: { "Content-Type": "application/octet-stream" },
  });
  if (!data) session.trouble = problem(error);
  return data;
}

/** Reads a drawing and makes a mark draw it, as high as what it drew before or as its file says; asks where there is
 *  something to choose. */
export async function drawArtwork(session: Session, mark: Mark, file: File): Promise<void> {
  const now = mark.figure && "artwork" in mark.figure ? mark.figure.artwork.height : undefined;
  const wish = { height: now };
  const view = await readArtwork(session, file, wish);
  if (!view) return;
  session.trouble = "";
  if (view.asks) session.asked = { mark: mark.id, file, wish, view };
  else await putArtwork(session, mark.id, view);
}

/** Makes a mark draw what was read. */
export async function putArtwork(session: Session, mark: string, view: ArtworkView): Promise<boolean> {
  const { file, outline, told, left_out } = view;
  const height = Math.round((view.height ?? ARTWORK_HIGH) * 100) / 100;
  const none = { dial: null, tally: null, pocket: null };
  return session.set(mark, { figure: { ...none, artwork: { file, outline, told, left_out, height } } });
}
