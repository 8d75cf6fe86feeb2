<!-- What a change does to the findings, before and after; the one that it is for comes first. -->
<script lang="ts">
  import type { Finding, Schemas } from "../../api/client";
  import type { Session } from "../../session.svelte";
  import { checkNames, figure, figureWithUnit, many, stateWord } from "../../words";

  let { session, moves, own }: { session: Session; moves: Schemas["FindingMove"][]; own?: Finding } = $props();

  const text = (mark: string) => session.marks.find((m) => m.id === mark)?.text.replaceAll("\n", " / ") ?? mark;
  const first = $derived(
    moves.toSorted(
      (a, b) =>
        Number(b.mark === own?.mark && b.check === own.check) - Number(a.mark === own?.mark && a.check === own.check),
    ),
  );
  const shown = $derived(first.slice(0, 4));

  function says({ mark, check, unit, before, after }: Schemas["FindingMove"]): string {
    const whose = mark === own?.mark ? "" : `“${text(mark)}” `;
    const word =
      before.state === after.state ? "" : ` ${stateWord[after.state]}${after.state === "passes" ? "" : " now"}`;
    if (before.measured == null || after.measured == null) return `${whose}${checkNames[check].whole}${word}`;
    return `${whose}${checkNames[check].whole} ${figure(before.measured, unit)} → ${figureWithUnit(after.measured, unit)}${word}`;
  }
</script>

<small>
  {shown.map(says).join("; ")}{#if first.length > shown.length}; {many(
      first.length - shown.length,
      "more figure",
    )}{/if}.
</small>

<style>
  small {
    display: block;
    margin: 2px 0 0;
    font-size: 12px;
    line-height: 1.35;
    color: var(--ink-soft);
  }
</style>
