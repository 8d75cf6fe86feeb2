<!-- The table of findings: checks down, marks across, in every cell the measured figure and its state. -->
<script lang="ts">
  import type { Finding, OutcomeView } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import Plate from "../../rack/Plate.svelte";
  import { go } from "../../router";
  import type { Session } from "../../session.svelte";
  import { checkNames, figure, isWaived, stands, stateWord } from "../../words";
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
    return finding.state === "passes" ? "–" : stateWord[finding.state];
  }

  /** Checks that no mark has anything to ask of are left out. */
  const asked = $derived(
    checks.filter(
      (check) =>
        check === chosen?.check ||
        rows.some((m) => m.findings.some((f) => f.check === check && f.state !== "does_not_apply")),
    ),
  );
  const left = $derived(rows.some((m) => m.on) ? checks.filter((check) => !asked.includes(check)) : []);

  const lines = $derived(
    asked.map((check) => {
      const findings = rows.map((m) => m.findings.find((f) => f.check === check));
      const limited = findings.find((f) => f?.limit);
      return { check, findings, limit: limited ? limitWords(limited) : "" };
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
        {#each rows as row (row.id)}
          <th scope="col">
            <button
              class="plainly plate"
              class:here={row.id === chosen?.mark}
              title="to its card"
              onclick={() => go(session.id, "marks", { mark: row.id })}
            >
              <Plate plate={session.plates.find((p) => p.id === row.id)} text={row.text} faint={!row.on} />
            </button>
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each lines as line, r (line.check)}
        <tr>
          <th scope="row" class:hit={chosen?.check === line.check}
            >{checkNames[line.check].head} <small>{line.limit}</small></th
          >
          {#each line.findings as finding, c (rows[c].id)}
            {#if finding}
              <td>
                <button
                  class="plainly cell {finding.state}"
                  class:waived={isWaived(finding)}
                  class:here={finding === chosen}
                  title={stands(finding)}
                  data-cell="{r} {c}"
                  data-finding="{finding.mark} {finding.check}"
                  aria-label="{rows[c].text}, {checkNames[finding.check].whole}: {cell(
                    finding,
                  )} {finding.unit}, {stands(finding)}"
                  onclick={() => onpress(finding)}
                  onkeydown={(e) => keys(e, r, c)}
                >
                  {#if finding.state === "does_not_apply"}
                    <StateShape state={finding.state} size={10} />
                  {:else}
                    {#if finding.state !== "passes" || finding.measured == null}
                      <StateShape state={finding.state} size={10} />
                    {/if}
                    {#if finding.state !== "passes" || finding.measured != null}<span>{cell(finding)}</span>{/if}
                  {/if}
                </button>
              </td>
            {:else if r === 0}
              <td class="off" rowspan={lines.length}>switched off: neither built nor checked</td>
            {/if}
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  {#if left.length}
    <p class="soft">Nothing to check here: {left.map((check) => checkNames[check].whole).join(", ")}.</p>
  {/if}
</div>

<style>
  .scroll {
    flex: 1 1 auto;
    overflow: auto;
    padding-right: 8px;
  }
  p {
    margin: 8px 0;
    font-size: 12.5px;
  }
  .old {
    opacity: 0.55;
  }
  table {
    border-collapse: separate;
    border-spacing: 0;
  }
  thead th {
    position: sticky;
    top: 0;
    z-index: 2;
    padding: 2px 3px 6px;
    background: var(--enamel);
  }
  thead th:first-child,
  tbody th {
    position: sticky;
    left: 0;
  }
  thead th:first-child {
    z-index: 3;
  }
  tbody th {
    z-index: 1;
    min-width: 208px;
    padding: 0 10px 0 0;
    border-top: 1px solid var(--line);
    background: var(--enamel);
    font-size: 13px;
    font-weight: 400;
    text-align: left;
    white-space: nowrap;
  }
  tbody .hit {
    font-weight: 700;
  }
  th small {
    float: right;
    padding-left: 10px;
    font-size: 11.5px;
    line-height: 1.7;
    color: var(--ink-soft);
  }
  .plate {
    display: block;
    width: 92px;
    height: 40px;
    padding: 0;
    border: 1px solid var(--rim);
    border-radius: 7px;
    background: var(--plate);
  }
  .plate.here {
    box-shadow: 0 0 0 2px var(--rim);
  }
  td {
    padding: 0 2px;
    border-top: 1px solid var(--line);
  }
  .off {
    width: 92px;
    padding: 8px 6px;
    font-size: 12.5px;
    text-align: center;
    vertical-align: top;
    color: var(--ink-soft);
  }
  .cell {
    display: flex;
    gap: 5px;
    align-items: center;
    justify-content: flex-end;
    width: 96px;
    height: 23px;
    padding: 0 22px 0 4px;
    border: 1.5px solid transparent;
    border-radius: 5px;
    font-variant-numeric: tabular-nums;
    line-height: 1;
    color: var(--ink-soft);
    white-space: nowrap;
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
  .cell.fails.waived {
    border-style: dashed;
    background: none;
    font-weight: 400;
  }
  .cell.marginal {
    color: var(--marginal);
    border-color: var(--marginal);
    background: var(--marginal-ground);
  }
  .cell.not_checked {
    padding-right: 6px;
    font-size: 12px;
  }
  .cell.fails.here,
  .cell.marginal.here {
    box-shadow: 0 0 0 2px currentColor;
  }
</style>
