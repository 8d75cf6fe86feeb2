<!-- How cavities are arranged next: in rows or round a circle, and what they are called. -->
<script lang="ts">
  import { untrack } from "svelte";
  import type { Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import { many } from "../../words";

  type Layout = Schemas["Layout"];
  type Corner = Schemas["Corner"];

  let {
    cavities,
    part,
    onarrange,
  }: {
    cavities: Schemas["Cavity"][];
    /** Extents of the part across the pull, to the right and up on the plate, mm. */
    part: number[];
    onarrange: (edit: Schemas["PlateEdit"]) => void;
  } = $props();

  // what is arranged next; nothing changes until the press
  let kind = $state<Layout["layout"]>("rows");
  let across = $state(4);
  let up = $state(2);
  let own = $state<number[]>();
  const pitch = $derived(own ?? part.map((p) => Math.ceil((1.25 * p + 8) / 5) * 5));
  let first = $state<Corner>("lower_left");
  let byColumns = $state(false);
  let backAndForth = $state(false);
  let turned = $state(false);
  let count = $state(8);
  let ownRadius = $state<number>();
  const radius = $derived(ownRadius ?? Math.ceil((count * (Math.hypot(...part) + 6)) / (2 * Math.PI) / 5) * 5);
  let from = $state(90);
  let clockwise = $state(true);
  let naming = $state<Schemas["CavityNaming"]>("numbers");
  let start = $state(1);

  // a plate in rows is gone on with as it was arranged
  untrack(() => {
    const distinct = (k: number) =>
      [...new Set(cavities.map((c) => Math.round(c.at[k] * 100) / 100))].sort((a, b) => a - b);
    const [xs, ys] = [distinct(0), distinct(1)];
    if (cavities.length < 2 || xs.length * ys.length !== cavities.length) return;
    [across, up] = [xs.length, ys.length];
    own = [xs.length > 1 ? xs[1] - xs[0] : pitch[0], ys.length > 1 ? ys[1] - ys[0] : pitch[1]];
    byColumns = ys.length > 1 && Math.abs(cavities[1].at[0] - cavities[0].at[0]) < 0.01;
    const [left, low] = [cavities[0].at[0] < 0.01, cavities[0].at[1] < 0.01];
    first = low ? (left ? "lower_left" : "lower_right") : left ? "upper_left" : "upper_right";
    const along = byColumns ? ys.length : xs.length;
    const second = cavities[along];
    if (!second) return;
    const k = byColumns ? 1 : 0;
    backAndForth = Math.abs(second.at[k] - cavities[along - 1].at[k]) < 0.01 && along > 1;
    turned = second.turn === 180;
  });

  const number = $derived(kind === "rows" ? across * up : count);

  function apply() {
    const layout: Layout =
      kind === "rows"
        ? {
            layout: "rows",
            across,
            up,
            pitch: [pitch[0], pitch[1]],
            first,
            by_columns: byColumns,
            back_and_forth: backAndForth,
            turned,
          }
        : { layout: "circle", count, radius, first: from, clockwise, turned };
    onarrange({ change: "arrange", layout, naming, start });
  }
</script>

{#snippet whole(value: number, label: string, onset: (v: number) => void)}
  <NumberField {value} {label} unit="" places={0} step={1} onset={(v) => onset(Math.max(1, Math.round(v)))} />
{/snippet}

{#snippet turning(turnedOnes: string)}
  <ChoiceField
    value={turned ? "turned" : "upright"}
    label="how cavities are turned"
    choices={[
      { value: "upright", says: "all upright" },
      { value: "turned", says: turnedOnes },
    ]}
    onset={(v) => (turned = v === "turned")}
    after=","
  />
{/snippet}

<p class="sentence">
  Cavities in
  <ChoiceField
    value={kind}
    label="how cavities are arranged"
    choices={[
      { value: "rows", says: "rows" },
      { value: "circle", says: "a circle" },
    ]}
    onset={(v) => (kind = v)}
    after=","
  />
  {#if kind === "rows"}
    {@render whole(across, "cavities across", (v) => void (across = v))}
    across and
    {@render whole(up, "cavities up", (v) => void (up = v))}
    up,
    <NumberField value={pitch[0]} label="distance across" onset={(v) => void (own = [v, pitch[1]])} /> and
    <NumberField value={pitch[1]} label="distance up" onset={(v) => void (own = [pitch[0], v])} /> apart; numbered from
    <ChoiceField
      value={first}
      label="corner of the first cavity"
      choices={[
        { value: "lower_left", says: "the lower left" },
        { value: "lower_right", says: "the lower right" },
        { value: "upper_left", says: "the upper left" },
        { value: "upper_right", says: "the upper right" },
      ]}
      onset={(v) => (first = v)}
    />
    <ChoiceField
      value={byColumns ? "columns" : "rows"}
      label="order of the numbers"
      choices={[
        { value: "rows", says: "along each row" },
        { value: "columns", says: "up or down each column" },
      ]}
      onset={(v) => (byColumns = v === "columns")}
      after=","
    />
    <ChoiceField
      value={backAndForth ? "both" : "one"}
      label="way of the numbers"
      choices={[
        { value: "one", says: "always one way" },
        { value: "both", says: "back and forth" },
      ]}
      onset={(v) => (backAndForth = v === "both")}
      after=","
    />
    {@render turning("every other line turned by half")}
  {:else}
    {@render whole(count, "cavities round", (v) => void (count = v))}
    of them on a radius of
    <NumberField value={radius} label="radius of the circle" onset={(v) => void (ownRadius = v)} />; the first at
    <NumberField
      value={from}
      label="angle of the first"
      unit="°"
      places={0}
      step={15}
      onset={(v) => void (from = v)}
    />, then
    <ChoiceField
      value={clockwise ? "clockwise" : "counter"}
      label="way round"
      choices={[
        { value: "clockwise", says: "clockwise" },
        { value: "counter", says: "counter-clockwise" },
      ]}
      onset={(v) => (clockwise = v === "clockwise")}
      after=","
    />
    {@render turning("tops outward")}
  {/if}
  named with
  <ChoiceField
    value={naming}
    label="how cavities are called"
    choices={[
      { value: "numbers", says: "numbers of one width" },
      { value: "letters", says: "letters without look-alikes" },
    ]}
    onset={(v) => (naming = v)}
  />
  from
  {@render whole(start, "number of the first cavity", (v) => void (start = v))} on.
  <button class="press" class:first={!cavities.length} onclick={apply}
    >{cavities.length ? "Arrange again: " : "Arrange "}{many(number, "cavity", "cavities")}</button
  >
</p>

<style>
  .sentence {
    margin: 0;
    line-height: 1.9;
  }
</style>
