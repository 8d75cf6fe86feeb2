import { api, problem } from "./client";

/** A typed length in mm, read by the server (`0.2in`, `3/16in`), or the sentence that says what would be right. */
export async function length(typed: string): Promise<{ mm: number } | { problem: string }> {
  try {
    const { data, error } = await api.GET("/api/length", { params: { query: { typed } } });
    return data ?? { problem: problem(error) };
  } catch (e) {
    return { problem: problem(e) };
  }
}
