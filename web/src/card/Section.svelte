<!-- One thing that the card says of a mark. -->
<script lang="ts">
  import type { Snippet } from "svelte";

  let { head, tip, label, children }: { head: string; tip?: string; label?: string; children: Snippet } = $props();
</script>

<section aria-label={label}>
  <h3 title={tip}>{head}</h3>
  {@render children()}
</section>

<style>
  section {
    padding: 9px 0 11px;
    border-bottom: 1px solid var(--line);
  }
  section:last-of-type {
    border-bottom: 0;
  }
  h3 {
    margin: 0 0 3px;
    font-size: 12px;
    font-weight: 400;
    color: var(--ink-soft);
  }
  section :global(p) {
    margin: 0;
    line-height: 1.8;
  }
  section :global(.quiet) {
    color: var(--ink-soft);
  }
</style>
