<!-- The relief of a mark: how it stands out or is sunk in, and what it stands on. -->
<script lang="ts">
  import type { Mark, PlacementView, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";
  import Section from "./Section.svelte";

  let { session, mark, placed }: { session: Session; mark: Mark; placed?: PlacementView } = $props();

  type Pad = Schemas["Pad"];
  const relief = $derived(mark.relief);
  const raised = $derived(relief.sense === "raised");
  const solid = $derived(relief.sense !== "surface" && relief.sense !== "stamp");
  const pad = $derived(relief.pad);
  /** What the letters stand on, where that is round. */
  const round = $derived(solid && !relief.through ? placed?.round : undefined);
  const rounds = $derived(relief.edge > 0 || relief.root > 0);
  /** Letters that are less round than what is set. */
  const less = $derived(session.outcome?.marks.find((m) => m.id === mark.id)?.less_round ?? []);
  const set = (settings: object) => session.set(mark.id, { relief: settings });

  /** What such a letter has: "edge 0.06, root 0.04 mm". */
  function lessOf({ edge, root }: Schemas["LessRound"]) {
    const sizes = [
      ...(edge < relief.edge ? [`edge ${edge.toFixed(2)}`] : []),
      ...(root < relief.root ? [`root ${root.toFixed(2)}`] : []),
    ];
    return `${sizes.join(", ")} mm`;
  }

  function become(sense: Schemas["Sense"]) {
    const flat = sense === "surface" || sense === "stamp";
    const relief = {
      sense,
      ...(sense === "sunken" ? {} : { through: false }),
      ...(flat ? { pad: null } : {}),
      ...(sense === "stamp" ? { runs_out: false } : {}),
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

  function stand(on: Pad["form"] | "seat") {
    if (on === "seat") return set({ pad: null });
    const height = pad?.height ?? relief.height;
    const draft = pad?.draft ?? Math.max(relief.draft, 3);
    const clears = on === "recessed" ? (pad?.clears ?? 0) : 0;
    // room of half a capital and more between letters and edge
    const margin = Math.round(60 * mark.lettering.cap_height) / 100;
    return set({ pad: { form: on, height, draft, clears }, runs_out: false, ...(pad ? {} : { field: { margin } }) });
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
        keeps="sense"
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
      <span class="quiet">A field kept free for what is struck in later; the text is the most that it will hold.</span>
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
          round={round ?? undefined}
          keeps="relief_height"
          onset={(v) => set({ height: v })}
          after={round ? "" : ","}
        />
        {#if round}(<span title="Type “to Ø 53” or “to R 26.5” as the height to set it by what it reaches"
            >to Ø {(2 * round.reaches).toFixed(2)}</span
          >),{/if}
      {/if}
      draft
      <NumberField
        value={relief.draft}
        label="draft"
        keeps="draft"
        unit="°"
        step={0.5}
        places={1}
        onset={(v) => set({ draft: v })}
        after=","
      />
      size measured at the
      <ChoiceField
        value={relief.measured_at}
        label="size measured at"
        choices={[
          { value: "top", says: raised ? "top" : relief.through ? "far side" : "floor" },
          { value: "root", says: raised ? "root" : "rim" },
        ]}
        keeps="measured_at"
        onset={(measured_at) => set({ measured_at })}
        after=","
      />
      walls
      <ChoiceField
        value={relief.walls}
        label="wall sense"
        keeps="walls"
        choices={[
          { value: "seat", says: "square to the seat" },
          { value: "pull", says: "along the pull" },
        ]}
        onset={(walls) => set({ walls })}
        after=","
      />
      {raised ? "edge of the top" : "rim"}
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
          after=","
        />
      {:else}off{relief.through ? "." : ","}{/if}
      {#if !relief.through}
        {raised ? "root" : "floor corner"}
        <NumberField
          value={relief.root}
          label="root radius"
          keeps="root"
          step={0.05}
          onset={(v) => set({ root: v })}
          after={rounds ? " round," : " round."}
        />
      {/if}
      {#if rounds}
        and where a letter is too thin for {relief.edge > 0 && relief.root > 0 ? "them" : "it"}
        <ChoiceField
          value={relief.rounds}
          label="where a letter is too thin for it"
          choices={[
            { value: "as_set", says: "nothing is built" },
            { value: "as_fit", says: "as much as fits the letter" },
          ]}
          onset={(rounds) => set({ rounds })}
          after="."
        />
      {/if}
      {#if relief.sense === "inlay"}
        The filling stands
        <NumberField value={relief.gap} label="gap round the filling" step={0.05} onset={(v) => set({ gap: v })} /> clear
        of its pocket.
      {/if}
    {/if}
  </p>
  {#if less.length}
    <p class="quiet">
      Less round, as much as fits: {#each less as l, at (l.character)}{at ? ", " : ""}“{l.text}” {lessOf(l)}{/each}.
    </p>
  {/if}
  {#if solid}
    <p>
      It stands
      <ChoiceField
        value={pad?.form ?? "seat"}
        label="what it stands on"
        keeps="pad"
        choices={[
          { value: "seat", says: "on the seat itself" },
          { value: "raised", says: "on a raised pad" },
          { value: "recessed", says: "in a recessed pad" },
        ]}
        after={pad ? "" : "."}
        onset={stand}
      />
      {#if pad}
        <NumberField
          value={pad.height}
          label={pad.form === "raised" ? "height of the raised pad" : "depth of the recessed pad"}
          step={0.1}
          onset={(height) => set({ pad: { height } })}
        />
        {pad.form === "raised" ? "high" : "deep"} with
        <NumberField
          value={pad.draft}
          label="draft of the {pad.form}"
          unit="°"
          step={0.5}
          places={1}
          onset={(draft) => set({ pad: { draft } })}
        />
        of draft, {@render field(pad.form === "recessed" ? ";" : ".")}
        {#if pad.form === "recessed"}
          what stands on the seat there, up to 5 mm, is cleared away, and in any case
          <NumberField
            value={pad.clears}
            label="height that is cleared"
            step={0.5}
            onset={(clears) => set({ pad: { clears } })}
            after=" high."
          />
        {/if}
      {/if}
    </p>
  {/if}
  {#if relief.sense !== "stamp" && !pad}
    <p>
      It
      <ChoiceField
        value={relief.runs_out ? "out" : "on"}
        label="at the edge of its face"
        choices={[
          { value: "on", says: "keeps off the edge of its face" },
          { value: "out", says: "may run over the edge of its face" },
        ]}
        onset={(where) => set({ runs_out: where === "out" })}
        after={relief.runs_out ? "" : "."}
      />{#if relief.runs_out}, where it
        {relief.sense === "sunken" ? "is cut on into the air" : "ends"}.{/if}
    </p>
  {/if}
</Section>
