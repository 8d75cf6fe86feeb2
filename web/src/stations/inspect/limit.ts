import type { Finding } from "../../api/client";
import { limitWithUnit } from "../../words";

/** A finding's limit with its side. */
export function limitWords(finding: Finding): string {
  if (!finding.limit) return "";
  return `${finding.limit.side === "at_least" ? "≥" : "≤"} ${limitWithUnit(finding.limit.value, finding.unit)}`;
}
