<!-- A mark as it lies on the strip: its box, its field, what it keeps free, its characters. -->
<script lang="ts">
  import type { PlacementView, Mark } from "../api/client";

  let {
    mark,
    placed,
    transform,
    picked = false,
    letter,
  }: {
    mark: Mark;
    placed: PlacementView;
    transform: string;
    /** It can be grabbed. */
    picked?: boolean;
    /** The letter of it that is changed by itself. */
    letter?: number;
  } = $props();

  const outline = $derived(placed.outline.map((c) => c.join(",")).join(" "));
  const shapes = $derived({ stamp: mark.relief.sense === "stamp", off: picked && !mark.on });
</script>

<g
  class={[picked ? "mark" : "other", shapes]}
  data-grab={picked ? "" : undefined}
  data-other={picked ? undefined : mark.id}
  {transform}
>
  <polygon class={{ grip: picked }} points={outline} vector-effect="non-scaling-stroke" />
  {#if placed.field}<path class="field" d={placed.field} vector-effect="non-scaling-stroke" />{/if}
  {#if placed.kept_free.length}
    <path class="free" d={placed.kept_free.join("")} vector-effect="non-scaling-stroke" />
  {/if}
  {#each placed.characters as character, k (k)}
    <path
      d={character.path}
      fill-rule="evenodd"
      vector-effect="non-scaling-stroke"
      style:fill={picked && character.at !== letter ? character.colour : null}
      data-letter={picked ? character.at : undefined}
      class:chosen={picked && character.at === letter}
      class:over={picked && character.over_crease}
    />
  {/each}
</g>

<style>
  .mark {
    fill: var(--ink);
    cursor: move;
  }
  .field {
    fill: none;
    stroke: var(--rim);
    stroke-width: 1.2;
  }
  .stamp path,
  .free {
    fill: url(#kept-free);
    stroke: var(--ink);
    stroke-width: 1.2;
  }
  .other.stamp path,
  .other .free {
    stroke: var(--rivet);
  }
  .mark .over {
    fill: var(--marginal);
  }
  .mark .chosen {
    fill: var(--pick);
  }
  .mark.off {
    fill: var(--rivet);
  }
  .grip {
    fill: transparent;
    stroke: var(--pick);
    stroke-width: 1.2;
  }
  .other {
    fill: var(--rivet);
    cursor: pointer;
  }
  .other polygon {
    fill: transparent;
  }
  .other:hover {
    fill: var(--rim-soft);
  }
</style>
