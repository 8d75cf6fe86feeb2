<!-- A choice in a sentence. -->
<script lang="ts" generics="T extends string">
  import Keep from "./Keep.svelte";
  import type { Fixed } from "./keeping";

  let {
    value,
    label,
    choices,
    after = "",
    keeps,
    onset,
  }: {
    value: T;
    label: string;
    choices: { value: T; says: string }[];
    after?: string;
    /** Mends can be kept from it, by a press beside it. */
    keeps?: Fixed;
    onset: (value: T) => void;
  } = $props();
</script>

<span
  ><select aria-label={label} {value} onchange={(e) => onset(e.currentTarget.value as T)}>
    {#each choices as choice (choice.value)}<option value={choice.value}>{choice.says}</option>{/each}
  </select>{#if keeps}<Keep value={keeps} />{/if}{after}</span
>

<style>
  span {
    white-space: nowrap;
  }
  select {
    padding: 0 1px;
    border: 0;
    border-bottom: 1.5px solid var(--rim-soft);
    background: none;
    color: var(--ink);
    font: inherit;
    font-weight: 700;
    line-height: 1.25;
    appearance: none;
    field-sizing: content;
    cursor: pointer;
  }
  select:hover {
    border-color: var(--pick);
    color: var(--pick);
  }
</style>
