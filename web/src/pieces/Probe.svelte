<!-- What a map says at the place under the pointer. -->
<script lang="ts">
  let { x, y, says }: { x: number; y: number; says: string } = $props();
</script>

<p class="probe" style:left="{x + 14}px" style:top="{y + 16}px">{says}</p>

<style>
  .probe {
    position: absolute;
    margin: 0;
    padding: 2px 9px;
    border: 1px solid var(--rim-soft);
    border-radius: 6px;
    background: var(--enamel);
    font-size: 12px;
    white-space: nowrap;
    pointer-events: none;
  }
</style>
