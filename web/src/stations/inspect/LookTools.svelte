<!-- In the corner of the view at Inspect: cut it, paint it with figures, light it, see the whole part; with a key each. -->
<script lang="ts">
  import type { Lamp } from "../../view3d/lamp.svelte";
  import { torchSays } from "../../words";
  import type { MarkCut } from "./markCut.svelte";
  import type { MarkMap } from "./markMap.svelte";

  let { cut, map, lamp, onwhole }: { cut?: MarkCut; map?: MarkMap; lamp?: Lamp; onwhole: () => void } = $props();

  function turnCut() {
    cut?.set(cut.lie ? undefined : { tilt: 0, shift: 0 });
  }

  // under a lamp colours say nothing
  function turnMap() {
    if (!map || (!map.on && !map.has)) return;
    map.turn();
    if (map.on && lamp?.on) lamp.turn();
  }

  function turnLamp() {
    lamp?.turn();
    if (lamp?.on && map?.on) map.turn();
  }

  function key(event: KeyboardEvent) {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    if ((event.target as HTMLElement).closest("input, textarea, select, [role=dialog], dialog")) return;
    const does = { c: turnCut, m: turnMap, l: turnLamp, w: onwhole }[event.key];
    if (!does) return;
    event.preventDefault();
    does();
  }
</script>

<svelte:window onkeydown={key} />

<div class="tools">
  {#if cut}<button
      class="word"
      class:here={!!cut.lie}
      aria-pressed={!!cut.lie}
      title="the finished solid cut through the place that was measured (c)"
      onclick={turnCut}>cut</button
    >{/if}
  {#if map?.has}<button
      class="word"
      class:here={map.on}
      aria-pressed={map.on}
      title="what the pressed check finds at each place of the mark, in colours (m)"
      onclick={turnMap}>map</button
    >{/if}
  {#if lamp}<button class="word" class:here={lamp.on} aria-pressed={lamp.on} title="{torchSays} (l)" onclick={turnLamp}
      >torch</button
    >{/if}
  <button class="word" title="w" onclick={onwhole}>whole part</button>
</div>

<style>
  .tools {
    position: absolute;
    right: 14px;
    bottom: 8px;
    font-size: 13px;
  }
  .word {
    font-weight: 400;
    /* readable over dark lettering */
    background: color-mix(in srgb, var(--enamel) 75%, transparent);
    box-shadow: 0 0 0 4px color-mix(in srgb, var(--enamel) 75%, transparent);
  }
</style>
