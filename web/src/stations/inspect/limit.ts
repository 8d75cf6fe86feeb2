import type { Finding } from "../../api/client";
import { figureWithUnit } from "../../words";

/** A finding's limit with its side. */
export function limitWords(finding: Finding): string {
  if (!finding.limit) return "";
  return `${finding.limit.side === "at_least" ? "≥" : "≤"} ${figureWithUnit(finding.limit.value, finding.unit)}`;
}
