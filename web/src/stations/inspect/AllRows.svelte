<!-- Inspect, all rows: the least and the greatest of each figure, then row by row the worst of each mark. -->
<script lang="ts">
  import { searchParams } from "sv-router";
  import type { Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import RowsRun from "../../rack/RowsRun.svelte";
  import type { Session } from "../../session.svelte";
  import { called, checkNames, figureWithUnit, limitWithUnit, stateWeight, stateWord } from "../../words";
  import ContactSheet from "./ContactSheet.svelte";

  let { session, worstFirst }: { session: Session; worstFirst: boolean } = $props();

  $effect(() => session.watchRows());

  /** Rows on show at first, and so many more with each press. */
  const PAGE = 200;
  let shown = $state(PAGE);

  const view = $derived(session.rows);
  const roster = $derived(session.view?.job.roster);
  const place = $derived(new Map(roster?.rows.map((r, at) => [r.id, at] as const)));
  const marks = $derived(session.marks.filter((m) => m.on));
  const worst = (row: Schemas["RowView"]) =>
    Math.max(...row.marks.map((m) => (m.state ? stateWeight[m.state] : -1)), -1);
  const rows = $derived(worstFirst ? (view?.rows.toSorted((a, b) => worst(b) - worst(a)) ?? []) : (view?.rows ?? []));
  const line = (text: string) => text.replaceAll("\n", " / ");
  const number = (id: number) => (place.get(id) ?? -1) + 1;
  const cells = (id: number) => roster?.rows[place.get(id) ?? -1]?.cells.filter(Boolean).slice(0, 4).join(" · ") ?? "";

  /** Marks that can be seen by their shadows; one of them may be looked at in every row. */
  const reliefs = $derived(marks.filter((m) => m.relief.sense === "raised" || m.relief.sense === "sunken"));
  const pictured = $derived(reliefs.find((m) => m.id === searchParams.get("pictures")));

  /** Shows a row by itself, at a mark's finding. */
  function look(row: number, mark: string, check?: string | null, letter?: number | null) {
    session.show(row);
    searchParams.delete("rows");
    searchParams.delete("pictures");
    searchParams.set("mark", mark);
    if (check) searchParams.set("check", check);
    else searchParams.delete("check");
    if (letter == null) searchParams.delete("letter");
    else searchParams.set("letter", letter);
  }

  /** How a mark is called as that row has it. */
  function inRow(at: Schemas["AtView"]): string {
    const mark = session.marks.find((m) => m.id === at.mark);
    const text = view?.rows.find((r) => r.row === at.row)?.marks.find((m) => m.mark === at.mark)?.text;
    return mark?.name || (text ? line(text) : called(mark));
  }

  function limit(at: Schemas["AtView"], unit: string): string {
    return at.limit == null ? "" : `${at.side === "at_least" ? "≥" : "≤"} ${limitWithUnit(at.limit, unit)}`;
  }
</script>

<div class="all">
  <RowsRun {session} work="measure" />
  {#if view && view.ranges.length}
    <table class="ranges">
      <thead>
        <tr>
          <th scope="col">over {view.measured === view.rows.length ? "all" : view.measured} rows</th>
          <th scope="col">limit</th>
          <th scope="col">least</th>
          <th scope="col">greatest</th>
          <th scope="col">fail</th>
          <th scope="col">marginal</th>
        </tr>
      </thead>
      <tbody>
        {#each view.ranges as range (range.check)}
          <tr>
            <th scope="row">{checkNames[range.check].whole}</th>
            <td class="soft">{limit(range.least, range.unit)}</td>
            {#each [range.least, range.greatest] as at, k (k)}
              <td>
                <button class="plainly at {at.state}" onclick={() => look(at.row, at.mark, range.check, at.character)}>
                  <b>{figureWithUnit(at.measured, range.unit)}</b>
                  <small
                    >{#if at.state !== "passes"}<StateShape state={at.state} size={9} />{/if} row {number(at.row)}, {inRow(
                      at,
                    )}{at.text ? ` “${at.text}”` : ""}</small
                  >
                </button>
              </td>
            {/each}
            <td class:fails={range.fails > 0}>{range.fails || "–"}</td>
            <td class:marginal={range.marginal > 0}>{range.marginal || "–"}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  {#if view && reliefs.length}
    <p class="pictures">
      pictures of
      {#each reliefs as mark (mark.id)}
        <button
          class="word"
          class:here={pictured?.id === mark.id}
          aria-pressed={pictured?.id === mark.id}
          onclick={() =>
            pictured?.id === mark.id ? searchParams.delete("pictures") : searchParams.set("pictures", mark.id)}
          >{called(mark)}</button
        >
      {/each}
    </p>
  {/if}
  {#if view && pictured}
    <ContactSheet {session} mark={pictured} rows={rows.slice(0, shown)} {number} onlook={look} />
  {:else if view}
    <table class="rows">
      <thead>
        <tr>
          <th scope="col">row</th>
          {#each marks as mark, at (mark.id)}<th scope="col">{mark.name ?? `mark ${at + 1}`}</th>{/each}
        </tr>
      </thead>
      <tbody>
        {#each rows.slice(0, shown) as row (row.row)}
          <tr class:here={row.row === session.view?.shown}>
            <th scope="row"><b>{number(row.row)}</b> <small>{cells(row.row)}</small></th>
            {#each row.marks as mark (mark.mark)}
              <td>
                <button
                  class="plainly said {mark.state ?? ''}"
                  title={mark.sentence ?? ""}
                  data-row="{number(row.row)} {mark.mark}"
                  onclick={() => look(row.row, mark.mark, mark.check)}
                >
                  <span>{line(mark.text) || "no text"}</span>
                  <small
                    >{#if mark.state}{#if mark.state !== "passes"}<StateShape state={mark.state} size={9} />{/if}
                      {mark.waived ? "fails, waived" : stateWord[mark.state]}{mark.check
                        ? `, ${checkNames[mark.check].head}`
                        : ""}{:else}not measured{/if}</small
                  >
                </button>
              </td>
            {/each}
          </tr>
          {#if row.problem}<tr><td class="fails" colspan={marks.length + 1}>{row.problem}</td></tr>{/if}
        {/each}
      </tbody>
    </table>
  {/if}
  {#if view && rows.length > shown}
    <p>
      {rows.length - shown} more rows.
      <button class="word" onclick={() => (shown += PAGE)}>Show {Math.min(PAGE, rows.length - shown)} of them</button>
    </p>
  {/if}
</div>

<style>
  .all {
    flex: 1 1 auto;
    overflow: auto;
    padding: 0 14px 14px 4px;
  }
  table {
    width: 100%;
    margin-bottom: 14px;
    border-collapse: collapse;
  }
  thead th {
    padding: 4px 6px;
    font-size: 12px;
    font-weight: 400;
    text-align: left;
    color: var(--ink-soft);
  }
  .pictures {
    display: flex;
    gap: 10px;
    margin: 0 0 8px;
    padding: 0 6px;
    font-size: 13px;
  }
  .rows thead th {
    position: sticky;
    top: 0;
    background: var(--enamel);
  }
  tbody tr {
    border-top: 1px solid var(--line);
  }
  tbody th {
    padding: 2px 6px;
    font-weight: 400;
    text-align: left;
  }
  .rows tbody th {
    max-width: 190px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  td {
    padding: 1px 6px;
  }
  small {
    font-size: 11px;
    color: var(--ink-soft);
  }
  .at,
  .said {
    padding: 2px 4px;
    border-radius: 5px;
    text-align: left;
    font-variant-numeric: tabular-nums;
  }
  .at:hover,
  .said:hover {
    background: var(--plate);
  }
  .said {
    width: 100%;
    line-height: 1.2;
  }
  .said span {
    display: block;
    max-width: 190px;
    overflow: hidden;
    font: 700 14px/1.25 var(--figure);
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .here {
    background: var(--plate);
  }
  .fails,
  .fails small {
    color: var(--fail);
  }
  .marginal,
  .marginal small {
    color: var(--marginal);
  }
</style>
