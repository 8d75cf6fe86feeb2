<!-- What a roster that was read would do to the one that is there, before it does. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import { many } from "../../words";
  import { reading } from "./reading";

  let {
    name,
    there,
    file,
    ontake,
    onleave,
  }: {
    name: string;
    there: Schemas["Roster"];
    file: Schemas["Roster"];
    ontake: () => void;
    onleave: () => void;
  } = $props();

  /** Rows that are told one by one. */
  const TOLD = 5;
  const does = $derived(reading(there, file));
  const named = (columns: string[]) => columns.map((c) => `“${c}”`).join(", ");
</script>

<section class="reading" aria-label="What reading the file would do">
  <p>
    <strong>{name}</strong> holds {many(file.columns.length, "column")} and {many(file.rows.length, "row")}.
    {#if does.comes.length}New: {named(does.comes)}.{/if}
    {#if does.goes.length}<b class="goes">Goes: {named(does.goes)}.</b>{/if}
  </p>
  <p>
    {many(does.same, "row")}
    {does.same === 1 ? "stays" : "stay"}{does.changed.length
      ? `, ${does.changed.length} ${does.changed.length === 1 ? "changes" : "change"}`
      : ""}{does.added ? `, ${does.added} ${does.added === 1 ? "is" : "are"} added` : ""}{#if does.gone}, <b
        class="goes">{does.gone} {does.gone === 1 ? "goes" : "go"}</b
      >{/if}.
  </p>
  {#if does.changed.length}
    <ul>
      {#each does.changed.slice(0, TOLD) as { row, cells } (row)}
        <li>
          row {row}: {#each cells as cell, k (cell.column)}{k ? ", " : ""}{cell.column}
            {cell.was || "nothing"} → <b>{cell.is || "nothing"}</b>{/each}
        </li>
      {/each}
      {#if does.changed.length > TOLD}<li>and {many(does.changed.length - TOLD, "row")} more</li>{/if}
    </ul>
  {/if}
  <p>
    <button class="press first" onclick={ontake}>Take it</button>
    <button class="word" onclick={onleave}>leave it</button>
    <span class="soft">One undo brings back what is there now.</span>
  </p>
</section>

<style>
  .reading {
    margin: 0 0 12px;
    padding: 10px 14px;
    border: 1px solid var(--rim);
    border-radius: 9px;
    background: var(--plate);
    font-size: 13px;
  }
  p {
    margin: 0 0 4px;
  }
  p:last-child {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 14px;
    align-items: baseline;
    margin: 8px 0 0;
  }
  ul {
    margin: 0;
    padding-left: 14px;
    list-style: "– ";
  }
  .goes {
    color: var(--fail);
  }
</style>
