<!-- The seat as paper: its area and edges, creases, parting line and keep-outs. -->
<script lang="ts">
  import type { SeatView } from "../api/client";
  import { RULER, type Viewport } from "./viewport.svelte";

  let { seat, view }: { seat: SeatView; view: Viewport } = $props();

  const path = (ring: number[][]) =>
    ring.map((p, k) => `${k ? "L" : "M"}${p[0].toFixed(4)} ${p[1].toFixed(4)}`).join("");
  const lines = (pairs: number[][][]) => pairs.map(([a, b]) => `M${a[0]} ${a[1]}L${b[0]} ${b[1]}`).join("");
  const edges = $derived(seat.outline.map(path).join(""));
  const area = $derived(seat.area.map((ring) => `${path(ring)}Z`).join(""));
  const parting = $derived(lines(seat.parting));
  const creases = $derived(lines(seat.creases));
</script>

<defs>
  <clipPath id="strip">
    <polygon points={seat.bounds.map((p) => p.join(",")).join(" ")} />
  </clipPath>
  <pattern id="out" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="{view.shade} rotate(45)">
    <line x1="0" x2="0" y1="0" y2="7" />
  </pattern>
</defs>
<g transform={view.matrix} clip-path="url(#strip)">
  <path class="seat" d={area} fill-rule="evenodd" />
  <path class="edges" d={edges} vector-effect="non-scaling-stroke" />
  <path class="crease" d={creases} vector-effect="non-scaling-stroke" />
  <path class="parting" d={parting} vector-effect="non-scaling-stroke" />
  {#each seat.keep_outs as k (k.name)}
    {#if k.whole}<path class="keep-out" d={area} fill-rule="evenodd" />{/if}
    {#each k.circles as c, at (at)}
      <circle class="margin" cx={c.at[0]} cy={c.at[1]} r={c.radius + k.margin} />
    {/each}
    {#if k.border.length}
      <path class="margin" d={lines(k.border)} style:stroke-width={2 * k.margin} />
      <path class="kept" d={lines(k.border)} vector-effect="non-scaling-stroke" />
    {/if}
    {#each k.circles as c, at (at)}
      <circle class="keep-out" cx={c.at[0]} cy={c.at[1]} r={c.radius} vector-effect="non-scaling-stroke" />
    {/each}
  {/each}
</g>
{#each seat.keep_outs as k (k.name)}
  {@const at = k.circles[0]?.at ?? k.border[0]?.[0] ?? [seat.low[0], seat.high[1]]}
  <text
    class="hint out"
    x={Math.max(
      RULER + 6,
      view.x(at[0]) + 4 > view.wide - 110 ? Math.min(view.wide - 6, view.x(at[0]) - 4) : view.x(at[0]) + 4,
    )}
    text-anchor={view.x(at[0]) + 4 > view.wide - 110 ? "end" : "start"}
    y={Math.min(view.tall - 6, Math.max(RULER + 14, view.y(at[1]) - 4))}>{k.name}</text
  >
{/each}
{#if seat.crown}
  <line class="crown" x1={view.x(seat.start[0])} x2={view.x(seat.end[0])} y1={view.y(0)} y2={view.y(0)} />
  <text class="hint" x={Math.max(RULER + 6, view.x(seat.start[0]) + 5)} y={view.y(0) - 4}>crown</text>
{/if}
{#if seat.parting.length}
  {@const [a] = seat.parting[0]}
  <text class="hint seam" x={Math.max(RULER + 6, Math.min(view.wide - 80, view.x(a[0]) + 5))} y={view.y(a[1]) - 4}
    >parting line</text
  >
{/if}

<style>
  .seat {
    fill: var(--plate);
  }
  .edges {
    fill: none;
    stroke: var(--rim);
    stroke-width: 1.3;
  }
  .crease {
    fill: none;
    stroke: var(--rivet);
    stroke-width: 1;
    stroke-dasharray: 2 3;
  }
  .parting {
    fill: none;
    stroke: var(--seam);
    stroke-width: 1.6;
    stroke-dasharray: 9 5;
  }
  .keep-out {
    fill: url(#out);
    stroke: var(--keep-out);
  }
  .margin {
    fill: rgb(from var(--keep-out) r g b / 0.12);
    stroke: rgb(from var(--keep-out) r g b / 0.12);
    stroke-width: 0;
  }
  path.margin {
    fill: none;
  }
  .kept {
    stroke: var(--keep-out);
    stroke-width: 2.5;
  }
  #out line {
    stroke: var(--keep-out);
    stroke-width: 1.6;
  }
  .out {
    fill: var(--keep-out);
  }
  .crown {
    stroke: var(--rivet);
    stroke-dasharray: 2 3;
  }
  .hint {
    font-size: 11px;
    fill: var(--ink-soft);
  }
  .seam {
    fill: var(--seam);
  }
</style>
