<!-- Under the part: what the hand does, cutting it open, and its maps. -->
<script lang="ts">
  import NumberField from "../../card/NumberField.svelte";
  import Measured from "../../view3d/Measured.svelte";
  import type { Brush } from "./brush.svelte";
  import type { Axis, Cutting } from "./cutting.svelte";
  import type { Maps } from "./maps.svelte";

  let {
    brush,
    cutting,
    maps,
    pull,
    replaces,
    picked,
    onwhole,
    onopen,
    ondivide,
  }: {
    brush: Brush;
    cutting: Cutting;
    maps: Maps;
    /** A pull is set. */
    pull: boolean;
    /** The part took the place of another. */
    replaces: boolean;
    /** A face is picked. */
    picked: boolean;
    onwhole: () => void;
    onopen: (axis: Axis) => void;
    ondivide: () => void;
  } = $props();

  const hand = $derived(brush.hand);
</script>

<div class="tools">
  {#if hand}
    <span class="hand">
      {brush.words}
      {#if hand.does !== "edge" && hand.does !== "join"}<NumberField
          value={hand.radius}
          label="radius of the circle"
          onset={(radius) => {
            if (brush.hand && brush.hand.does !== "edge" && brush.hand.does !== "join")
              brush.hand = { ...brush.hand, radius: Math.min(500, Math.max(0.05, radius)) };
          }}
        />{/if}
      {#if hand.does === "paint" && "keepOut" in hand.into}
        <button
          class="word"
          onclick={() => {
            if (brush.hand?.does === "paint") brush.hand = { ...brush.hand, rub: !brush.hand.rub };
          }}>{hand.rub ? "paint" : "rub out"}</button
        >,
      {/if}
      {#if hand.does === "divide"}
        <button class="press first" disabled={!brush.stroke.length} onclick={() => ondivide()}>divide it</button>
        <button class="press" onclick={() => (brush.hand = undefined)}>cancel</button>
      {:else}
        <button class="press" onclick={() => (brush.hand = undefined)}>done</button>
      {/if}
    </span>
  {:else}
    <button class="word" onclick={() => onwhole()}>whole part</button>
    <span>
      cut across
      {#each ["x", "y", "z"] as axis, k (axis)}<button
          class="word"
          class:here={cutting.at?.axis === k}
          aria-pressed={cutting.at?.axis === k}
          onclick={() => onopen(k as Axis)}>{axis}</button
        >{k < 2 ? ", " : ""}{/each}
    </span>
    <span>
      show
      {#if pull}<button
          class="word"
          class:here={maps.show === "draft"}
          aria-pressed={maps.show === "draft"}
          onclick={() => maps.choose("draft")}>draft</button
        >,
        <button
          class="word"
          class:here={maps.show === "steel"}
          aria-pressed={maps.show === "steel"}
          onclick={() => maps.choose("steel")}>steels</button
        >,{/if}
      <button
        class="word"
        class:here={maps.show === "ray"}
        aria-pressed={maps.show === "ray"}
        onclick={() => maps.choose("ray")}>wall by ray</button
      >,
      <button
        class="word"
        class:here={maps.show === "sphere"}
        aria-pressed={maps.show === "sphere"}
        onclick={() => maps.choose("sphere")}>wall by sphere</button
      >{#if replaces},
        <button
          class="word"
          class:here={maps.show === "change"}
          aria-pressed={maps.show === "change"}
          onclick={() => maps.choose("change")}>what changed</button
        >{/if}{#if maps.show && !maps.painted}<span class="soft" data-busy>&nbsp; working it out …</span>{/if}
    </span>
    {#if cutting.at}
      <input
        type="range"
        aria-label="place of the cut"
        min={cutting.span.low}
        max={cutting.span.high}
        step={(cutting.span.high - cutting.span.low) / 400}
        value={cutting.at.height}
        oninput={(e) => cutting.move(Number(e.currentTarget.value))}
      />
      <span
        >at <NumberField
          value={cutting.at.height}
          label="height of the cut"
          onset={(height) => cutting.move(height)}
        /></span
      >
      {#if cutting.section}<Measured picks={cutting.picks} area={cutting.section.area} />{/if}
    {:else if !picked}<span class="soft">click a face to see what it can be used for</span>{/if}
  {/if}
</div>

<style>
  .tools {
    position: absolute;
    left: 18px;
    right: 12px;
    bottom: 12px;
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 18px;
    font-size: 13px;
  }
  .tools .word.here {
    font-weight: 700;
  }
  .tools input[type="range"] {
    width: 170px;
    align-self: center;
    accent-color: var(--rim);
  }
  .tools .word {
    font-weight: 400;
  }
  .hand {
    padding: 5px 12px;
    border: 1px solid var(--pick);
    border-radius: 8px;
    background: var(--enamel);
  }
</style>
