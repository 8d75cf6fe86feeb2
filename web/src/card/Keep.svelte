<!-- A small lock beside a value: pressed, no mend changes the value. -->
<script lang="ts">
  import { fixedWords } from "../words";
  import { type Fixed, keptOf } from "./keeping";

  let { value }: { value: Fixed } = $props();

  const of = keptOf();
  const fixed = $derived(of?.().mark.fixed ?? []);
  const kept = $derived(fixed.includes(value));
  const says = $derived(
    kept
      ? `no mend changes the ${fixedWords[value]}: press to let them`
      : `keep the ${fixedWords[value]} as it is: no mend changes it`,
  );

  function turn() {
    if (!of) return;
    const { session, mark } = of();
    void session.set(mark.id, { fixed: kept ? fixed.filter((f) => f !== value) : [...fixed, value] });
  }
</script>

{#if of}
  <button class:kept aria-pressed={kept} aria-label="keep the {fixedWords[value]}" title={says} onclick={turn}>
    <svg width="10" height="12" viewBox="0 0 10 12" aria-hidden="true">
      <path d={kept ? "M2.5 5V3.5a2.5 2.5 0 0 1 5 0V5" : "M2.5 5V3.5a2.5 2.5 0 0 1 4.8-1"} />
      <rect x="1" y="5" width="8" height="6" rx="1.2" />
    </svg>
  </button>
{/if}

<style>
  button {
    padding: 0 1px;
    border: 0;
    background: none;
    color: var(--ink-soft);
    line-height: 1;
    opacity: 0.12;
  }
  /* plain where the hand is */
  :global(section:hover) button:not(.kept) {
    opacity: 0.45;
  }
  :global(section) button:not(.kept):hover,
  button:focus-visible,
  :global(section) .kept {
    opacity: 1;
  }
  .kept {
    color: var(--pick);
  }
  path {
    fill: none;
    stroke: currentColor;
    stroke-width: 1.4;
  }
  rect {
    fill: none;
    stroke: currentColor;
    stroke-width: 1.4;
  }
  .kept rect {
    fill: currentColor;
  }
</style>
