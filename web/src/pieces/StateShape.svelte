<!-- How a finding stands, by shape: a filled square fails, an open triangle is marginal, an open ring passes, dots are
     not checked, a short line has nothing to check. -->
<script lang="ts">
  import type { State } from "../api/client";
  let { state, size = 12 }: { state: State; size?: number } = $props();
</script>

<svg class={state} width={size} height={size} viewBox="0 0 12 12" aria-hidden="true">
  {#if state === "fails"}
    <rect x="1" y="1" width="10" height="10" />
  {:else if state === "marginal"}
    <path d="M6 1.5 11 10.5H1Z" />
  {:else if state === "passes"}
    <circle cx="6" cy="6" r="4.2" />
  {:else if state === "does_not_apply"}
    <path d="M3.5 6h5" />
  {:else}
    <circle cx="2" cy="6" r="1.3" /><circle cx="6" cy="6" r="1.3" /><circle cx="10" cy="6" r="1.3" />
  {/if}
</svg>

<style>
  svg {
    flex: none;
    display: inline-block;
    vertical-align: -1px;
  }
  .fails {
    fill: var(--fail);
  }
  .marginal {
    fill: none;
    stroke: var(--marginal);
    stroke-width: 1.7;
  }
  .passes,
  .does_not_apply {
    fill: none;
    stroke: var(--rim-soft);
    stroke-width: 1.5;
  }
  .not_checked {
    fill: var(--ink-soft);
  }
</style>
