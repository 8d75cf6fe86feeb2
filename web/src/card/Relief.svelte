<!-- The relief of a mark: how it stands out or is sunk in, and what it stands on. -->
<script lang="ts">
  import type { Mark, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";
  import Section from "./Section.svelte";

  let { session, mark }: { session: Session; mark: Mark } = $props();

  type Plate = Schemas["Plate"];
  const relief = $derived(mark.relief);
  const raised = $derived(relief.sense === "raised");
  const solid = $derived(relief.sense !== "surface" && relief.sense !== "stamp");
  const plate = $derived(relief.plate);
  const set = (settings: object) => session.set(mark.id, { relief: settings });

  function become(sense: Schemas["Sense"]) {
    const flat = sense === "surface" || sense === "stamp";
    const relief = {
      sense,
      ...(sense === "sunken" ? {} : { through: false }),
      ...(flat ? { plate: null } : {}),
    };
    return session.set(mark.id, { relief, ...(flat ? alike() : {}) });
  }

  /** What has no height, or goes through, has no letters of another sense. */
  function alike() {
    if (!mark.letters.some((l) => l.sense)) return {};
    return { letters: mark.letters.map((l) => ({ ...l, sense: null })) };
  }

  function sink(how: "deep" | "through") {
    if (how === "deep") return set({ through: false });
    // there is no floor whose corner could be round
    return session.set(mark.id, { relief: { through: true, root: 0 }, ...alike() });
  }

  function stand(on: Plate["form"] | "seat") {
    if (on === "seat") return set({ plate: null });
    const height = plate?.height ?? relief.height;
    const draft = plate?.draft ?? Math.max(relief.draft, 3);
    const clears = on === "tray" ? (plate?.clears ?? 0) : 0;
    // room of half a capital and more between letters and edge
    const margin = Math.round(60 * mark.lettering.cap_height) / 100;
    return set({ plate: { form: on, height, draft, clears }, ...(plate ? {} : { field: { margin } }) });
  }
</script>

{#snippet field(after: string)}
  <NumberField
    value={relief.field.margin}
    label="margin of the field"
    step={0.5}
    onset={(margin) => set({ field: { margin } })}
  />
  {#if mark.figure && ("dial" in mark.figure || "pocket" in mark.figure)}
    past it all round{after}
  {:else}
    past the letters all round, corners
    <NumberField
      value={relief.field.corner}
      label="corner radius of the field"
      step={0.5}
      onset={(corner) => set({ field: { corner } })}
      after=" round{after}"
    />
  {/if}
{/snippet}

<Section head="relief">
  <p>
    {#if mark.figure && "pocket" in mark.figure}
      sunken
    {:else}
      <ChoiceField
        value={relief.sense}
        label="raised or sunken"
        choices={[
          { value: "raised", says: "raised" },
          { value: "sunken", says: "sunken" },
          { value: "inlay", says: "inlaid in a second colour" },
          { value: "surface", says: "on the surface only" },
          { value: "stamp", says: "a stamp area" },
        ]}
        onset={become}
        after={solid ? "" : "."}
      />
    {/if}
    {#if relief.sense === "surface"}<span class="quiet">
        No height, no change of the solid: for print, paint or a laser.</span
      >
    {:else if relief.sense === "stamp"}
      <span class="quiet">A field kept free for what is struck in later; the text says how much that is at most.</span>
      It reaches {@render field(".")}
    {:else}
      {#if relief.sense === "sunken"}
        <ChoiceField
          value={relief.through ? "through" : "deep"}
          label="how far it is sunken"
          choices={[
            { value: "deep", says: "to a depth of" },
            { value: "through", says: "right through the wall" },
          ]}
          after={relief.through ? "," : ""}
          onset={sink}
        />
      {/if}
      {#if !relief.through}
        <NumberField
          value={relief.height}
          label={raised ? "height" : "depth"}
          step={0.05}
          onset={(v) => set({ height: v })}
          after=","
        />
      {/if}
      draft
      <NumberField
        value={relief.draft}
        label="draft"
        unit="°"
        step={0.5}
        places={1}
        onset={(v) => set({ draft: v })}
        after=","
      />
      outline held at the
      <ChoiceField
        value={relief.held}
        label="outline held at"
        choices={[
          { value: "land", says: raised ? "land" : relief.through ? "far side" : "floor" },
          { value: "root", says: raised ? "root" : "rim" },
        ]}
        onset={(held) => set({ held })}
        after=","
      />
      walls
      <ChoiceField
        value={relief.walls}
        label="wall sense"
        choices={[
          { value: "seat", says: "square to the seat" },
          { value: "pull", says: "along the pull" },
        ]}
        onset={(walls) => set({ walls })}
        after=","
      />
      {raised ? "edge of the land" : "rim"}
      <NumberField value={relief.edge} label="edge" step={0.05} onset={(v) => set({ edge: v })} />
      {#if relief.edge > 0}
        <ChoiceField
          value={relief.edge_shape}
          label="shape of the edge"
          choices={[
            { value: "round", says: "round" },
            { value: "bevel", says: "bevelled" },
          ]}
          onset={(edge_shape) => set({ edge_shape })}
          after={relief.through ? "." : ","}
        />
      {:else}off{relief.through ? "." : ","}{/if}
      {#if !relief.through}
        {raised ? "root" : "floor corner"}
        <NumberField
          value={relief.root}
          label="root radius"
          step={0.05}
          onset={(v) => set({ root: v })}
          after=" round."
        />
      {/if}
      {#if relief.sense === "inlay"}
        The filling stands
        <NumberField value={relief.gap} label="gap round the filling" step={0.05} onset={(v) => set({ gap: v })} /> clear
        of its pocket.
      {/if}
    {/if}
  </p>
  {#if solid}
    <p>
      It stands
      <ChoiceField
        value={plate?.form ?? "seat"}
        label="what it stands on"
        choices={[
          { value: "seat", says: "on the seat itself" },
          { value: "plinth", says: "on a plinth" },
          { value: "tray", says: "in a tray" },
        ]}
        after={plate ? "" : "."}
        onset={stand}
      />
      {#if plate}
        <NumberField
          value={plate.height}
          label={plate.form === "plinth" ? "height of the plinth" : "depth of the tray"}
          step={0.1}
          onset={(height) => set({ plate: { height } })}
        />
        {plate.form === "plinth" ? "high" : "deep"} with
        <NumberField
          value={plate.draft}
          label="draft of the {plate.form}"
          unit="°"
          step={0.5}
          places={1}
          onset={(draft) => set({ plate: { draft } })}
        />
        of draft, {@render field(plate.form === "tray" ? ";" : ".")}
        {#if plate.form === "tray"}
          what stands on the seat there is cleared away up to
          <NumberField
            value={plate.clears}
            label="height that is cleared"
            step={0.5}
            onset={(clears) => set({ plate: { clears } })}
            after=" high."
          />
        {/if}
      {/if}
    </p>
  {/if}
</Section>
