<!-- What the colours of a map on the marked solid mean, and what stands under the pointer. -->
<script lang="ts">
  import Probe from "../../pieces/Probe.svelte";
  import Scale from "../../pieces/Scale.svelte";
  import type { MarkMap } from "./markMap.svelte";

  let { map }: { map: MarkMap } = $props();

  const view = $derived(map.map?.map);
</script>

{#if view}
  <figure aria-label="what the colours mean">
    <Scale top={map.top} limit={Math.abs(view.limit.value)} unit={view.unit} most={map.most} />
    <p class="soft">
      {map.what}; hatched {map.most ? "above" : "below"} the limit{view.check === "draft"
        ? ", red where it leans back"
        : ""}{#if view.worst != null}:
        {view.beyond < 0.005 ? "nowhere on the mark" : `${view.beyond.toFixed(2)} of ${view.area.toFixed(2)} mm²`}{/if}
    </p>
  </figure>
{:else if map.on && map.has && map.trouble}<p class="trouble" role="alert">{map.trouble}</p>
{:else if map.on && map.has}<p class="trouble" data-busy>Measuring every place …</p>{/if}
{#if map.passed && view}<Probe x={Math.min(map.passed.x, 146)} y={map.passed.y} says={map.passed.says} />{/if}

<style>
  figure,
  .trouble {
    position: absolute;
    right: 10px;
    top: 8px;
    width: 250px;
    margin: 0;
    padding: 7px 12px 6px;
    border: 1px solid var(--line);
    border-radius: 9px;
    background: rgb(from var(--enamel) r g b / 0.92);
    font-size: 12px;
  }
  figure p {
    margin: 2px 0 0;
    line-height: 1.35;
  }
</style>
