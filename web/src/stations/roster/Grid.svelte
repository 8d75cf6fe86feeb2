<!-- The roster's cells: gone through and changed with the keyboard, copied from and pasted into. Only the rows in
     sight are drawn. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import type { Session } from "../../session.svelte";

  type Spot = { row: number; column: number };

  let {
    session,
    faults,
    onhead,
    head,
  }: {
    session: Session;
    faults: Schemas["CellFault"][];
    /** A column's head was pressed. */
    onhead: (name: string) => void;
    head?: string;
  } = $props();

  const HIGH = 28;
  let scroll = $state(0);
  let tall = $state(400);
  let active = $state<Spot>({ row: 0, column: 0 });
  /** The other corner of what is picked. */
  let corner = $state<Spot>();
  let typed = $state<string>();
  let box = $state<HTMLDivElement>();
  let field = $state<HTMLInputElement>();

  const roster = $derived(session.view?.job.roster ?? { columns: [], rows: [] });
  const first = $derived(Math.max(0, Math.floor(scroll / HIGH) - 4));
  const shown = $derived(roster.rows.slice(first, first + Math.ceil(tall / HIGH) + 8));
  const wrong = $derived(new Map(faults.map((f) => [`${f.row} ${f.column}`, f.says])));
  const says = $derived(wrong.get(`${roster.rows[active.row]?.id} ${active.column}`));
  const far = $derived(corner ?? active);
  const top = $derived(Math.min(active.row, far.row));
  const bottom = $derived(Math.min(Math.max(active.row, far.row), roster.rows.length - 1));
  const left = $derived(Math.min(active.column, far.column));
  const right = $derived(Math.max(active.column, far.column));

  const change = (edit: Schemas["RosterEdit"]) => session.change({ do: "roster", edit });

  function goTo(row: number, column: number, widen = false) {
    const to = {
      row: Math.max(0, Math.min(row, roster.rows.length - 1)),
      column: Math.max(0, Math.min(column, roster.columns.length - 1)),
    };
    if (widen) corner = to;
    else {
      active = to;
      corner = undefined;
    }
    if (!box) return;
    const y = to.row * HIGH;
    if (y < box.scrollTop) box.scrollTop = y;
    else if (y + 2 * HIGH > box.scrollTop + tall) box.scrollTop = y + 2 * HIGH - tall;
  }

  function begin(text: string) {
    typed = text;
    corner = undefined;
    requestAnimationFrame(() => field?.focus());
  }

  async function keep() {
    const text = typed;
    const row = roster.rows[active.row];
    typed = undefined;
    if (text !== undefined && row && text !== row.cells[active.column])
      await change({ change: "set_cell", row: row.id, column: roster.columns[active.column].name, text });
  }

  function clear() {
    const rows = roster.rows.slice(top, bottom + 1).map((r) => r.id);
    const columns = roster.columns.slice(left, right + 1).map((c) => c.name);
    void change({ change: "clear", rows, columns });
  }

  function editing(event: KeyboardEvent) {
    const ways: Record<string, [number, number]> = { Enter: [1, 0], Tab: [0, event.shiftKey ? -1 : 1] };
    const way = ways[event.key];
    if (way) {
      event.preventDefault();
      event.stopPropagation();
      const { row, column } = active;
      void keep();
      goTo(row + way[0], column + way[1]);
      box?.focus();
    } else if (event.key === "Escape") {
      event.stopPropagation();
      typed = undefined;
      box?.focus();
    }
  }

  function keys(event: KeyboardEvent) {
    if (typed !== undefined || event.ctrlKey || event.metaKey || event.altKey) return;
    const page = Math.max(1, Math.floor(tall / HIGH) - 2);
    const ways: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-page, 0],
      PageDown: [page, 0],
      Home: [0, -roster.columns.length],
      End: [0, roster.columns.length],
    };
    const way = ways[event.key];
    const from = event.shiftKey ? far : active;
    if (way) goTo(from.row + way[0], from.column + way[1], event.shiftKey);
    else if (event.key === "Enter" || event.key === "F2") begin(roster.rows[active.row]?.cells[active.column] ?? "");
    else if (event.key === "Delete" || event.key === "Backspace") clear();
    else if (event.key.length === 1) begin(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  const quoted = (cell: string) => (/["\t\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);

  function copy(event: ClipboardEvent) {
    if (typed !== undefined) return;
    const rows = roster.rows.slice(top, bottom + 1);
    const text = rows
      .map((r) =>
        r.cells
          .slice(left, right + 1)
          .map(quoted)
          .join("\t"),
      )
      .join("\n");
    event.clipboardData?.setData("text/plain", text);
    event.preventDefault();
  }

  function paste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData("text/plain");
    if (typed !== undefined || !text || !roster.columns.length) return;
    event.preventDefault();
    const row = roster.rows[top]?.id;
    void change({ change: "paste", row, column: roster.columns[left].name, text });
  }

  /** What the grid says is active: screen readers tell of it as the arrows move on. */
  const cellId = (row: number, column: number) => `cell-${row}-${column}`;
</script>

<div
  class="cells"
  role="grid"
  aria-label="Roster"
  aria-rowcount={roster.rows.length + 1}
  aria-colcount={roster.columns.length + 1}
  aria-multiselectable="true"
  aria-activedescendant={active.row >= first && active.row < first + shown.length
    ? cellId(active.row, active.column)
    : undefined}
  tabindex="0"
  bind:this={box}
  bind:clientHeight={tall}
  onscroll={() => (scroll = box?.scrollTop ?? 0)}
  onkeydown={keys}
  oncopy={copy}
  onpaste={paste}
>
  <div class="line heads" role="row" aria-rowindex="1" style="--columns: {roster.columns.length}">
    <span class="number" role="columnheader" aria-colindex="1" aria-label="row"></span>
    {#each roster.columns as column, k (column.name)}
      <button
        class="plainly"
        role="columnheader"
        aria-colindex={k + 2}
        class:open={head === column.name}
        title="rename it, say what its cells are"
        onclick={() => onhead(column.name)}>{column.name}</button
      >
    {/each}
  </div>
  <div class="body" role="rowgroup" style="height: {roster.rows.length * HIGH}px">
    {#each shown as row, k (row.id)}
      {@const at = first + k}
      <div
        class="line"
        role="row"
        aria-rowindex={at + 2}
        style="top: {at * HIGH}px; --columns: {roster.columns.length}"
        class:shown={row.id === session.view?.shown}
      >
        <span role="rowheader" aria-colindex="1">
          <button
            class="plainly number"
            title="show the part as this row has it"
            aria-label="show row {at + 1}"
            onclick={() => session.show(row.id)}>{at + 1}</button
          >
        </span>
        {#each row.cells as cell, column (column)}
          {@const fault = wrong.get(`${row.id} ${column}`)}
          <!-- svelte-ignore a11y_click_events_have_key_events (the grid takes the keys) -->
          <div
            class="cell"
            role="gridcell"
            id={cellId(at, column)}
            aria-colindex={column + 2}
            aria-selected={at >= top && at <= bottom && column >= left && column <= right}
            aria-invalid={fault ? "true" : undefined}
            tabindex="-1"
            data-cell="{at} {column}"
            class:picked={at >= top && at <= bottom && column >= left && column <= right}
            class:active={at === active.row && column === active.column}
            class:fault
            title={fault}
            onmousedown={(e) => {
              if (typed !== undefined && (at !== active.row || column !== active.column)) void keep();
              goTo(at, column, e.shiftKey);
              if (typed === undefined) {
                e.preventDefault();
                box?.focus();
              }
            }}
            ondblclick={() => begin(cell)}
          >
            {#if typed !== undefined && at === active.row && column === active.column}
              <input
                bind:this={field}
                bind:value={typed}
                aria-label="{roster.columns[column]?.name} of row {at + 1}"
                autocomplete="off"
                spellcheck="false"
                onkeydown={editing}
                onblur={() => void keep()}
              />
            {:else}{cell}{/if}
          </div>
        {/each}
      </div>
    {/each}
  </div>
</div>
<p class="fault-says" role="status">{says ?? ""}</p>

<style>
  .cells {
    flex: 1;
    min-height: 0;
    overflow: auto;
    border: 1px solid var(--line);
    border-radius: 7px;
    background: var(--enamel);
  }
  .cells:focus-visible {
    outline: 2px solid var(--pick);
  }
  .line {
    display: grid;
    grid-template-columns: 46px repeat(var(--columns), minmax(110px, 1fr));
    width: 100%;
    min-width: max-content;
    height: 28px;
  }
  .heads {
    position: sticky;
    z-index: 2;
    top: 0;
    border-bottom: 1px solid var(--rim-soft);
    background: var(--plate);
  }
  .heads button {
    padding: 0 8px;
    text-align: left;
    font-weight: 700;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .heads button.open {
    color: var(--pick);
  }
  .body {
    position: relative;
  }
  .body .line {
    position: absolute;
    left: 0;
  }
  [role="rowheader"] {
    display: grid;
  }
  .number {
    padding: 0 8px 0 0;
    text-align: right;
    line-height: 28px;
    font-size: 12px;
    color: var(--ink-soft);
  }
  .shown .number {
    background: var(--rim);
    color: var(--enamel);
    font-weight: 700;
  }
  .cell {
    padding: 0 8px;
    border-right: 1px solid var(--line);
    border-bottom: 1px solid var(--line);
    line-height: 27px;
    font-family: var(--figure);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: pre;
    cursor: cell;
  }
  .cell.picked {
    background: var(--plate);
  }
  .cell.active {
    outline: 2px solid var(--rim);
    outline-offset: -2px;
  }
  .cell.fault {
    color: var(--fail);
    background: var(--fail-ground);
    text-decoration: underline wavy;
    text-underline-offset: 3px;
  }
  .cell input {
    width: 100%;
    padding: 0;
    border: 0;
    outline: 0;
    background: none;
    color: inherit;
    font: inherit;
  }
  .fault-says {
    min-height: 20px;
    margin: 6px 2px 0;
    color: var(--fail);
  }
</style>
