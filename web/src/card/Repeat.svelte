<!-- Repeats of a mark: in a row, round an arc or a seat that closes on itself, mirrored over the part. -->
<script lang="ts">
  import type { Mark, SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";

  let { session, mark, seat, ondone }: { session: Session; mark: Mark; seat?: SeatView; ondone: () => void } = $props();

  const round = $derived(mark.place.baseline.line === "arc" || !!seat?.closed.some(Boolean));
  type How = "row" | "round" | "x" | "y" | "z";
  let how = $state<How>("row");
  const mirrored = $derived(how === "x" || how === "y" || how === "z" ? how : undefined);
  let times = $state(3);
  let along = $state(0);
  let up = $state(0);

  // clear of one another by half a capital
  $effect.pre(() => {
    up = -Math.round(150 * mark.lettering.cap_height) / 100;
  });

  async function apply() {
    if (mirrored) {
      if (await session.change({ do: "mirror_mark", id: mark.id, along: mirrored })) ondone();
      return;
    }
    const spread = how === "round" && round;
    if (await session.change({ do: "repeat_mark", id: mark.id, times, along, up, round: spread })) ondone();
  }
</script>

<p>
  {#if mirrored}
    Once more,
  {:else}
    <NumberField
      value={times}
      label="repeats in all"
      unit=""
      step={1}
      places={0}
      onset={(v) => void (times = Math.max(2, Math.round(v)))}
    />
    in all,
  {/if}
  <ChoiceField
    value={how === "round" && !round ? "row" : how}
    label="how it is repeated"
    choices={[
      { value: "row", says: "each" },
      ...(round ? [{ value: "round" as const, says: "spread evenly once round." }] : []),
      ...(["x", "y", "z"] as const).map((value) => ({ value, says: `where the part is mirrored along ${value}.` })),
    ]}
    onset={(v) => (how = v)}
  />
  {#if !mirrored && !(round && how === "round")}
    <NumberField value={along} label="repeat along" step={1} onset={(v) => void (along = v)} /> along and
    <NumberField value={up} label="repeat up" step={1} onset={(v) => void (up = v)} /> up from the last.
  {/if}
  <button class="press" onclick={() => void apply()}>Place {mirrored ? "it" : "them"}</button>
  <button class="word" onclick={ondone}>cancel</button>
</p>

<style>
  p {
    margin: 2px 0 4px;
    line-height: 1.8;
  }
</style>
