<!-- Rulers along the strip's upper and left sides, mm. -->
<script lang="ts">
  import { ticks } from "./ruler";
  import { RULER, type Viewport } from "./viewport.svelte";

  let { view }: { view: Viewport } = $props();

  const across = $derived(ticks(...view.span[0], view.seen.scale));
  const upward = $derived(ticks(...view.span[1], view.seen.scale));
</script>

<g class="ruler">
  <rect width={view.wide} height={RULER} /><rect width={RULER} height={view.tall} />
  {#each across as tick (tick.at)}
    {#if view.x(tick.at) > RULER}
      <line x1={view.x(tick.at)} x2={view.x(tick.at)} y1={tick.label ? RULER - 9 : RULER - 4} y2={RULER} />
      {#if tick.label}<text x={view.x(tick.at)} y="13" text-anchor="middle">{tick.label}</text>{/if}
    {/if}
  {/each}
  {#each upward as tick (tick.at)}
    {#if view.y(tick.at) > RULER}
      <line y1={view.y(tick.at)} y2={view.y(tick.at)} x1={tick.label ? RULER - 9 : RULER - 4} x2={RULER} />
      {#if tick.label}<text transform="translate(12 {view.y(tick.at)}) rotate(-90)" text-anchor="middle"
          >{tick.label}</text
        >{/if}
    {/if}
  {/each}
  <rect class="corner" width={RULER} height={RULER} />
  <text x={RULER / 2} y={RULER / 2 + 4} text-anchor="middle">mm</text>
</g>

<style>
  .ruler rect {
    fill: var(--plate);
  }
  .ruler line {
    stroke: var(--rim-soft);
  }
  .ruler text {
    font-size: 10.5px;
    fill: var(--ink-soft);
  }
</style>
