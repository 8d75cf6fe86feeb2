/** Lettering faces of the shop's own. */
import { api, problem, type Schemas } from "../api/client";
import { person } from "../frame/person.svelte";
import type { Session } from "../session.svelte";

export type OwnFace = Schemas["OwnFace"];
export type OwnLetter = Schemas["OwnLetter"];

/** A face that is looked at before a mark is lettered in it. */
export type LettersAsked = {
  mark: string;
  face: OwnFace;
  /** What was read of its drawing; nothing for a face that is there already. */
  told: string[];
  faults: Schemas["LetterFaults"][];
};

/** Reads letter shapes from a drawing and asks how they are to stand. */
export async function readLetters(session: Session, mark: string, file: File): Promise<void> {
  const { data, error } = await api.POST("/api/letters", {
    params: { query: { file: file.name } },
    body: file as unknown as number[],
    bodySerializer: (body: unknown) => body as Blob,
    headers: { "Content-Type": "application/octet-stream" },
  });
  session.trouble = data ? "" : problem(error);
  if (data) session.letters = { mark, ...data };
}

/** Keeps a face for the shop, over the version of its name that was `seen`, and letters a mark in it; says what is wrong where that can't be. */
export async function keepFace(session: Session, mark: string, face: OwnFace, seen: number): Promise<string> {
  const { error } = await api.POST("/api/own-face", { body: { author: person.name, face, seen } });
  if (error) return problem(error);
  return (await session.change({ do: "put_face", face, mark })) ? "" : session.trouble;
}

/** Letters a mark in a face that the shop keeps. */
export async function takeShopFace(session: Session, mark: string, name: string): Promise<void> {
  const { data, error } = await api.GET("/api/own-face", { params: { query: { name } } });
  if (data) await session.change({ do: "put_face", face: data, mark });
  else session.trouble = problem(error);
}

/** Names that own faces of the job and of the shop have, with the version that the shop keeps. */
export async function ownNames(session: Session): Promise<Map<string, number>> {
  const { data } = await api.GET("/api/faces", { params: { query: { job: session.id } } });
  return new Map((data ?? []).filter((f) => f.of !== "shipped").map((f) => [f.id, f.version ?? 0]));
}

/** A letter in a line of them, % of the cap height. */
export type Set = { letter: OwnLetter; x: number };

/** Width of a letter's ink. */
export function inkWidth(letter: OwnLetter): number {
  const numbers = letter.outline.match(/-?[\d.]+/g) ?? [];
  return numbers.reduce((most, n, at) => (at % 2 ? most : Math.max(most, Number(n))), 0);
}

/** Letters one after the other, broken into lines no longer than asked for. */
export function lines(letters: (OwnLetter | undefined)[], blank: number, longest: number): Set[][] {
  const lines: Set[][] = [[]];
  let x = 0;
  for (const letter of letters) {
    const advance = letter ? letter.left + inkWidth(letter) + letter.right : blank;
    if (x > 0 && x + advance > longest) {
      lines.push([]);
      x = 0;
    }
    if (letter) lines[lines.length - 1]?.push({ letter, x: x + letter.left });
    x += advance;
  }
  return lines.filter((line) => line.length);
}
