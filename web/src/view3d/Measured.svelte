<!-- What was measured in a section, line by line. -->
<script lang="ts">
  import type { Picks } from "./picks.svelte";

  let { picks, area }: { picks: Picks; area: number } = $props();
</script>

<div class="measured" role="status" aria-label="measured in the cut">
  {#each picks.says as line, k (k)}<p>{line}</p>{:else}<p class="soft">
      {area.toFixed(1)} mm² cut through; click an edge for what it is, two places for their distance, three for a circle
    </p>{/each}
</div>

<style>
  .measured {
    max-width: 560px;
    font-size: 12.5px;
    font-variant-numeric: tabular-nums;
  }
  p {
    margin: 0;
    line-height: 1.4;
  }
</style>
