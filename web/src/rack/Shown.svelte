<!-- Which row of the roster the part is shown as. -->
<script lang="ts">
  import { searchParams } from "sv-router";
  import { untrack } from "svelte";
  import type { Session } from "../session.svelte";

  let { session }: { session: Session } = $props();

  const rows = $derived(session.view?.job.roster.rows ?? []);
  const at = $derived(rows.findIndex((r) => r.id === session.view?.shown));
  const varies = $derived(rows.length > 1 && session.marks.some((m) => m.recipe.length));
  const cells = $derived((rows[at]?.cells ?? []).filter(Boolean).join(" · "));

  // a link shows the row that was on show
  $effect(() => {
    const named = searchParams.get("row");
    // not again when another row is shown: the address follows it
    if (typeof named === "number" && rows.some((r) => r.id === named)) untrack(() => session.show(named));
  });
  $effect(() => {
    if (session.row !== undefined && searchParams.get("row") !== session.row)
      searchParams.set("row", session.row, { replace: true });
  });

  function step(by: number) {
    const row = rows[(at + by + rows.length) % rows.length];
    if (row) session.show(row.id);
  }

  function keys(event: KeyboardEvent) {
    const focus = event.target as HTMLElement;
    if (!varies || focus.matches("input, textarea, select") || event.ctrlKey || event.metaKey) return;
    if (event.key === "[") step(-1);
    if (event.key === "]") step(1);
  }
</script>

<svelte:window onkeydown={keys} />

{#if varies}
  <p title={cells}>
    <button class="word" aria-label="row before" onclick={() => step(-1)}>‹</button>
    <label
      >row
      <input
        type="number"
        min="1"
        max={rows.length}
        value={at + 1}
        aria-label="row of the roster"
        onchange={(e) => {
          const row = rows[Number(e.currentTarget.value) - 1];
          if (row) session.show(row.id);
          else e.currentTarget.value = String(at + 1);
        }}
      />
      of {rows.length}</label
    >
    <button class="word" aria-label="row after" onclick={() => step(1)}>›</button>
    <small>{cells}</small>
  </p>
{/if}

<style>
  p {
    margin: 0 0 8px;
    padding: 0 4px;
  }
  input {
    width: 3.2em;
    padding: 0 2px;
    border: 0;
    border-bottom: 1.5px solid var(--rim-soft);
    background: none;
    color: var(--ink);
    font: 700 14px var(--figure);
    appearance: textfield;
  }
  small {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    color: var(--ink-soft);
  }
</style>
