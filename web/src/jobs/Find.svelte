<!-- Which jobs of the list are shown, and in which order. -->
<script lang="ts">
  import type { JobRow } from "../api/client";
  import { stateWord } from "../words";
  import { each, everything, NO_FOLDER, type Finding } from "./finding";

  let { rows, find = $bindable() }: { rows: JobRow[]; find: Finding } = $props();

  const folders = $derived(each(rows, (row) => row.folder));
  const people = $derived(each(rows, (row) => row.by));
  const asked = $derived(!!(find.text || find.folder || find.standing || find.by));
</script>

<div class="find" role="search">
  <input type="search" placeholder="find a job" aria-label="find a job" bind:value={find.text} />
  {#if folders.length}
    <select aria-label="folder" bind:value={find.folder}>
      <option value="">all folders</option>
      {#each folders as folder (folder)}<option value={folder}>{folder}</option>{/each}
      <option value={NO_FOLDER}>{NO_FOLDER}</option>
    </select>
  {/if}
  <select aria-label="how they stand" bind:value={find.standing}>
    <option value="">however they stand</option>
    {#each ["fails", "not_checked", "marginal", "passes"] as const as state (state)}
      <option value={state}>{stateWord[state]}</option>
    {/each}
    <option value="not handed off">not handed off as it is</option>
  </select>
  {#if people.length > 1}
    <select aria-label="who changed them last" bind:value={find.by}>
      <option value="">by anyone</option>
      {#each people as person (person)}<option value={person}>by {person}</option>{/each}
    </select>
  {/if}
  <select aria-label="order" bind:value={find.order}>
    <option value="changed">last changed first</option>
    <option value="name">by name</option>
    <option value="part">by part file</option>
  </select>
  {#if asked}<button class="word" onclick={() => (find = { ...everything(), order: find.order })}>show all</button>{/if}
</div>

<style>
  .find {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 14px;
    align-items: baseline;
    margin-bottom: 14px;
    font-size: 13px;
  }
  input {
    width: 170px;
    padding: 4px 9px;
    border: 1px solid var(--line);
    border-radius: 7px;
    background: var(--plate);
    color: var(--ink);
    font: inherit;
  }
  select {
    field-sizing: content;
    max-width: 220px;
  }
</style>
