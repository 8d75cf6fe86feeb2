<!-- How a part file that was dropped is getting on: how far it is, what its unit is, why it can't be read. -->
<script lang="ts">
  import StateShape from "../pieces/StateShape.svelte";
  import type { Drop, Unit } from "./drop.svelte";

  let { drop, again }: { drop: Drop<unknown>; again: (file: File, unit: Unit) => void } = $props();

  const say = (v: number) => (v >= 100 ? v.toFixed(0) : v.toPrecision(3));
</script>

{#if drop.progress}
  <p class="note" aria-live="polite">
    {drop.progress} <button class="word" onclick={() => drop.stop()}>stop</button>
  </p>
{/if}
{#if drop.trouble}<p class="note bad" role="alert"><StateShape state="fails" /> {drop.trouble}</p>{/if}
{#if drop.question}
  {@const q = drop.question}
  <section class="question" aria-label="unit of the part file">
    <p>
      <strong>{q.file.name}</strong> doesn't say its unit, or says one that can't be right. Which of these is the part's greatest
      length?
    </p>
    <button class="press" onclick={() => again(q.file, "mm")}>{say(q.mm)} mm: drawn in millimetres</button>
    <button class="press" onclick={() => again(q.file, "inch")}>
      {say(q.inch)} mm ({say(q.mm)} in): drawn in inches
    </button>
    <button class="word" onclick={() => (drop.question = undefined)}>neither, cancel</button>
  </section>
{/if}

<style>
  .note {
    margin: 0 0 14px;
    padding: 9px 14px;
    border-radius: 8px;
    background: var(--plate);
  }
  .note.bad {
    border: 1px solid var(--fail);
    background: var(--fail-ground);
    color: var(--fail);
  }
  .question {
    display: flex;
    flex-wrap: wrap;
    gap: 12px;
    align-items: baseline;
    margin-bottom: 16px;
    padding: 12px 16px;
    border: 1px solid var(--marginal);
    border-radius: 9px;
    background: var(--marginal-ground);
  }
  .question p {
    flex-basis: 100%;
    margin: 0;
  }
</style>
