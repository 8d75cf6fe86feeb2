import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type JobView = Schemas["JobView"];
export type JobRow = Schemas["JobRow"];
export type Mark = Schemas["Mark"];
export type Edit = Schemas["Edit"];
export type SeatView = Schemas["SeatView"];
export type PlacementView = Schemas["PlacementView"];
export type PlateView = Schemas["PlateView"];
export type OutcomeView = Schemas["OutcomeView"];
export type SolidView = Schemas["SolidView"];
export type MarkView = Schemas["MarkView"];
export type Finding = Schemas["Finding"];
export type State = Schemas["State"];
export type Witness = Schemas["Witness"];
export type Told = Schemas["Told"];
export type Refusal = Schemas["Refusal"];

export const api = createClient<paths>({ baseUrl: "" });

/** The server's own sentence, or one about the line to it. */
export function problem(error: unknown): string {
  if (error && typeof error === "object" && "detail" in error) return String(error.detail);
  if (typeof error === "string" && error) return error;
  return "The server does not answer; try again when it runs.";
}
