<!-- How a mark is lettered: its face and sizes, and the length that it is fitted to. -->
<script lang="ts">
  import type { Mark, PlacementView, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import { signed } from "../words";
  import ChoiceField from "./ChoiceField.svelte";
  import FaceChooser from "./FaceChooser.svelte";
  import Keep from "./Keep.svelte";
  import NumberField from "./NumberField.svelte";
  import Section from "./Section.svelte";

  let { session, mark, placed, lines }: { session: Session; mark: Mark; placed?: PlacementView; lines: number } =
    $props();

  const lettering = $derived(mark.lettering);
  const id = $derived(mark.id);
  const set = (settings: object) => session.set(id, settings);

  const round = (v: number) => Math.round(v * 100) / 100;

  type FitBy = Schemas["FitBy"];

  /** What a length was fitted with. */
  const fitted = $derived.by(() => {
    if (!placed) return "";
    const by = lettering.fit?.by;
    if (by === "spacing") return `${signed(placed.spacing, 2)} mm of extra spacing`;
    if (by === "width") return `${(placed.width * 100).toFixed(0)} % wide`;
    return `capitals ${placed.cap_height.toFixed(2)} mm high`;
  });

  function fitBy(by: FitBy | "none") {
    if (by === "none") return set({ lettering: { fit: null } });
    return set({ lettering: { fit: { length: lettering.fit?.length ?? round(placed?.length ?? 20), by } } });
  }
</script>

<Section head="lettering">
  <p>
    <FaceChooser {session} mark={id} value={lettering.face} onset={(face) => set({ lettering: { face } })} /><Keep
      value="face"
    />, capitals
    <NumberField
      value={lettering.cap_height}
      label="cap height"
      keeps="cap_height"
      onset={(v) => set({ lettering: { cap_height: v } })}
    />
    high, strokes
    <NumberField
      value={lettering.stroke ?? placed?.stroke ?? lettering.cap_height / 10}
      label="stroke"
      keeps="stroke"
      step={0.05}
      onset={(v) => set({ lettering: { stroke: v } })}
    />
    {#if lettering.stroke == null}
      wide ({lettering.face === "centre-line" ? "a tenth of the height" : "the face's own"}),
    {:else}
      wide (<button class="word" onclick={() => void set({ lettering: { stroke: null } })}
        >back to {lettering.face === "centre-line" ? "a tenth of the height" : "the face's own"}</button
      >),
    {/if}
    letters
    <NumberField
      value={lettering.width * 100}
      label="letter width"
      keeps="width"
      unit="%"
      step={5}
      places={0}
      onset={(v) => set({ lettering: { width: v / 100 } })}
    /> of their natural width, slanted
    <NumberField
      value={lettering.slant}
      label="slant"
      unit="°"
      step={5}
      places={0}
      onset={(v) => set({ lettering: { slant: v } })}
    /> with
    <NumberField
      value={lettering.spacing}
      label="spacing"
      keeps="spacing"
      step={0.05}
      onset={(v) => set({ lettering: { spacing: v } })}
    />
    extra spacing{#if lines > 1 && !mark.figure}, lines
      <NumberField
        value={lettering.line_gap}
        label="line gap"
        keeps="line_gap"
        onset={(v) => set({ lettering: { line_gap: v } })}
      />
      apart and
      <ChoiceField
        value={lettering.justify}
        label="justification"
        choices={[
          { value: "start", says: "flush left" },
          { value: "middle", says: "centred" },
          { value: "end", says: "flush right" },
        ]}
        onset={(justify) => set({ lettering: { justify } })}
        after="."
      />{:else}.{/if}
  </p>
  {#if !mark.figure}
    <p>
      <ChoiceField
        value={lettering.fit?.by ?? "none"}
        label="fitted to a length"
        choices={[
          { value: "none", says: "Natural length" },
          { value: "spacing", says: "Fitted by its spacing" },
          { value: "width", says: "Fitted by its letter width" },
          { value: "height", says: "Fitted by its height" },
        ]}
        onset={fitBy}
      />{#if lettering.fit}
        {" "}to a length of
        <NumberField
          value={lettering.fit.length}
          label="length of the text"
          step={0.5}
          onset={(length) => set({ lettering: { fit: { length } } })}
        />: {fitted}{:else}{placed ? `, ${placed.length.toFixed(2)} mm` : ""}{/if}.
    </p>
  {/if}
</Section>

<style>
  p {
    margin: 0;
    line-height: 1.8;
  }
</style>
