<!-- Repeats of a mark: in a row, round an arc or a seat that closes on itself. -->
<script lang="ts">
  import type { Mark, SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";

  let { session, mark, seat, ondone }: { session: Session; mark: Mark; seat?: SeatView; ondone: () => void } = $props();

  const round = $derived(mark.place.baseline.line === "arc" || !!seat?.closed.some(Boolean));
  let how = $state<"row" | "round">("row");
  let times = $state(3);
  let along = $state(0);
  let up = $state(0);

  // clear of one another by half a capital
  $effect.pre(() => {
    up = -Math.round(150 * mark.lettering.cap_height) / 100;
  });

  async function lay() {
    const spread = how === "round" && round;
    if (await session.change({ do: "repeat_mark", id: mark.id, times, along, up, round: spread })) ondone();
  }
</script>

<p>
  <NumberField
    value={times}
    label="repeats in all"
    unit=""
    step={1}
    places={0}
    onset={(v) => void (times = Math.max(2, Math.round(v)))}
  />
  in all,
  <ChoiceField
    value={round ? how : "row"}
    label="how it is repeated"
    choices={[
      { value: "row", says: "each" },
      ...(round ? [{ value: "round" as const, says: "spread evenly once round." }] : []),
    ]}
    onset={(v) => (how = v)}
  />
  {#if !(round && how === "round")}
    <NumberField value={along} label="repeat along" step={1} onset={(v) => void (along = v)} /> along and
    <NumberField value={up} label="repeat up" step={1} onset={(v) => void (up = v)} /> up from the last.
  {/if}
  <button class="press" onclick={() => void lay()}>lay them</button>
  <button class="word" onclick={ondone}>leave it</button>
</p>

<style>
  p {
    margin: 2px 0 4px;
    line-height: 1.8;
  }
</style>
