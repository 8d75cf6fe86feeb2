<!-- All rows measured or built: how far it is, begin, stop. -->
<script lang="ts">
  import type { Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import { many } from "../words";

  let { session, work }: { session: Session; work: Schemas["Work"] } = $props();

  const rows = $derived(session.rows);
  const total = $derived(rows?.rows.length ?? 0);
  const done = $derived((work === "measure" ? rows?.measured : rows?.built) ?? 0);
  const word = $derived(work === "measure" ? "measured" : "built");
  const doing = { measure: "Checking", build: "Building" };
  const wish = { measure: "Check", build: "Build" };
</script>

{#if !rows}
  <p class="soft">Checking which rows are already {word} …</p>
{:else if rows.running}
  <p class="run" aria-live="polite">
    {doing[rows.running.work]}: {rows.running.done} of {rows.running.total}
    <progress max={rows.running.total || 1} value={rows.running.done} aria-label="rows done"></progress>
    <button class="press" onclick={() => void session.stopRows()}>Stop</button>
  </p>
{:else if done < total}
  <p class="run">
    <button class="press first" onclick={() => void session.beginRows(work)}
      >{wish[work]} {done ? `the other ${total - done}` : `all ${many(total, "row")}`}</button
    >
    {#if done}<span class="soft">{done} of {total} {done === 1 ? "is" : "are"} {word} and kept.</span>{/if}
  </p>
{/if}

<style>
  .run {
    display: flex;
    align-items: center;
    gap: 12px;
    margin: 10px 0;
  }
  progress {
    flex: 1;
    max-width: 260px;
    height: 9px;
    border: 1px solid var(--rim);
    border-radius: 5px;
    background: var(--plate);
    overflow: hidden;
    appearance: none;
  }
  progress::-webkit-progress-bar {
    background: var(--plate);
  }
  progress::-webkit-progress-value {
    background: var(--rim);
  }
  progress::-moz-progress-bar {
    background: var(--rim);
  }
</style>
