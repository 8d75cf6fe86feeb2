import { api, problem } from "./client";

/** Plain mm, which need no answer from anywhere: what is pressed next already goes by them. What a comma before three digits means
    is asked. */
const PLAIN = /^\s*(?!-?[1-9]\d*,\d{3}(?!\d))(-?\d+)(?:[.,](\d+))?\s*(?:mm)?\s*$/;

/** A round surface that a height is measured from: then it may be typed by what it reaches to (`to Ø53`). */
export interface Round {
  radius: number;
  inside: boolean;
  sinks: boolean;
}

/** A typed length in mm, or the sentence that says what would be right; other units are read by the server (`0.2in`). */
export async function length(typed: string, round?: Round): Promise<{ mm: number } | { problem: string }> {
  const plain = PLAIN.exec(typed);
  if (plain) return { mm: Number(`${plain[1]}.${plain[2] ?? 0}`) };
  try {
    const { data, error } = await api.GET("/api/length", {
      params: {
        query: round ? { typed, radius: round.radius, inside: round.inside, sinks: round.sinks } : { typed },
      },
    });
    return data ?? { problem: problem(error) };
  } catch (e) {
    return { problem: problem(e) };
  }
}
