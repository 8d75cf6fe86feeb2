<!-- The table of findings: marks down, checks across, in every cell the measured figure and its state. -->
<script lang="ts">
  import type { Finding, OutcomeView } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import Plate from "../../rack/Plate.svelte";
  import { go } from "../../router";
  import type { Session } from "../../session.svelte";
  import { checkNames, figure, stateWeight, stateWord } from "../../words";
  import { limitWords } from "./limit";

  let {
    session,
    checks,
    rows,
    chosen,
    onpress,
  }: {
    session: Session;
    checks: Finding["check"][];
    rows: OutcomeView["marks"];
    chosen?: Finding;
    onpress: (finding: Finding) => void;
  } = $props();

  function cell(finding: Finding): string {
    if (finding.measured != null) return figure(finding.measured, finding.unit);
    if (finding.state === "fails" || finding.state === "marginal") return "";
    return finding.state === "not_checked" ? "?" : "–";
  }

  const heads = $derived(
    checks.map((check) => {
      const finding = rows.flatMap((m) => m.findings).find((f) => f.check === check && f.limit);
      return { check, limit: finding ? limitWords(finding) : "" };
    }),
  );

  function keys(event: KeyboardEvent, row: number, column: number) {
    const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    if (!by) return;
    event.preventDefault();
    const next = document.querySelector<HTMLElement>(`[data-cell="${row + by[0]} ${column + by[1]}"]`);
    next?.focus();
    next?.click();
  }
</script>

<div class="scroll" class:old={session.stale}>
  <table>
    <thead>
      <tr>
        <th></th>
        {#each heads as head (head.check)}
          <th scope="col" class:hit={chosen?.check === head.check}
            >{checkNames[head.check].head}<small>{head.limit}</small></th
          >
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as row, r (row.id)}
        <tr>
          <th scope="row">
            <button
              class="plainly plate"
              class:here={row.id === chosen?.mark}
              title="to its card"
              onclick={() => go(session.id, "marks", { mark: row.id })}
            >
              <Plate plate={session.plates.find((p) => p.id === row.id)} text={row.text} faint={!row.on} />
            </button>
          </th>
          {#if !row.on}
            <td class="off" colspan={checks.length}>switched off: neither built nor checked</td>
          {:else}
            {#each row.findings as finding, c (finding.check)}
              <td>
                <button
                  class="plainly cell {finding.state}"
                  class:here={finding === chosen}
                  title={finding.state === "does_not_apply" ? "does not apply" : undefined}
                  data-cell="{r} {c}"
                  data-finding="{finding.mark} {finding.check}"
                  aria-label="{row.text}, {checkNames[finding.check].whole}: {cell(finding)} {finding.unit}, {stateWord[
                    finding.state
                  ]}"
                  onclick={() => onpress(finding)}
                  onkeydown={(e) => keys(e, r, c)}
                >
                  {#if stateWeight[finding.state] > stateWeight.passes}
                    <i><StateShape state={finding.state} size={8} /></i>
                  {/if}
                  {#if finding.state === "does_not_apply"}
                    <StateShape state={finding.state} size={10} />
                  {:else}
                    <span>{cell(finding)}</span>
                    {#if finding.state !== "passes" || finding.measured == null}
                      <small>{stateWord[finding.state]}</small>
                    {/if}
                  {/if}
                </button>
              </td>
            {/each}
          {/if}
        </tr>
      {/each}
    </tbody>
  </table>
</div>

<style>
  .scroll {
    flex: 1 1 auto;
    overflow: auto;
    padding-right: 8px;
  }
  .old {
    opacity: 0.55;
  }
  table {
    width: 100%;
    border-collapse: collapse;
    table-layout: fixed;
  }
  thead th {
    position: sticky;
    top: 0;
    z-index: 1;
    padding: 4px 2px 6px;
    background: var(--enamel);
    font-size: 10.5px;
    font-weight: 400;
    line-height: 1.2;
    text-align: right;
    vertical-align: bottom;
  }
  thead th:first-child {
    width: 118px;
  }
  thead .hit {
    font-weight: 700;
  }
  th small {
    display: block;
    font-size: 10.5px;
  }
  tbody tr {
    border-top: 1px solid var(--line);
  }
  tbody th {
    padding: 6px 6px 6px 0;
    text-align: left;
  }
  .plate {
    display: block;
    width: 110px;
    height: 42px;
    padding: 0;
    border: 1px solid var(--rim);
    border-radius: 7px;
    background: var(--plate);
  }
  .plate.here {
    box-shadow: 0 0 0 2px var(--rim);
  }
  td {
    padding: 0;
    text-align: right;
  }
  .off {
    padding-left: 10px;
    text-align: left;
    color: var(--ink-soft);
  }
  .cell {
    position: relative;
    width: 100%;
    height: 42px;
    padding: 2px 3px 2px 0;
    border: 1.5px solid transparent;
    border-radius: 6px;
    text-align: right;
    line-height: 1.15;
    color: var(--ink-soft);
  }
  .cell i {
    position: absolute;
    top: 1px;
    left: 2px;
  }
  .cell small {
    display: block;
    font-size: 10.5px;
    line-height: 1;
    color: inherit;
  }
  .cell:hover {
    background: var(--plate);
  }
  .cell.here {
    border-color: var(--rim);
  }
  .cell.fails {
    color: var(--fail);
    font-weight: 700;
    border-color: var(--fail);
    background: repeating-linear-gradient(-45deg, var(--fail-ground) 0 5px, var(--enamel) 5px 8px);
  }
  .cell.marginal {
    color: var(--marginal);
    border-color: var(--marginal);
    background: var(--marginal-ground);
  }
  .cell.fails.here,
  .cell.marginal.here {
    box-shadow: 0 0 0 2px currentColor;
  }
</style>
