<!-- The placement of a mark: the line it stands on, what holds its place, how it is turned. -->
<script lang="ts">
  import { api, type Mark, type PlacementView, type Schemas, type SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import { signed } from "../words";
  import ChoiceField from "./ChoiceField.svelte";
  import Keep from "./Keep.svelte";
  import NumberField from "./NumberField.svelte";
  import Repeat from "./Repeat.svelte";
  import Section from "./Section.svelte";
  import TieField from "./TieField.svelte";

  let {
    session,
    mark,
    seat,
    placed,
    onwiden,
    onrepeat,
  }: {
    session: Session;
    mark: Mark;
    seat?: SeatView;
    placed?: PlacementView;
    onwiden: () => void;
    onrepeat: () => void;
  } = $props();

  type Baseline = Schemas["Baseline"];
  let repeating = $state(false);
  const place = $derived(mark.place);
  const line = $derived(place.baseline);
  const lettering = $derived(mark.lettering);
  const over = $derived(placed?.characters.filter((c) => c.over_crease) ?? []);
  const set = (settings: object) => session.set(mark.id, { place: settings });
  const round = (v: number) => Math.round(v * 100) / 100;

  const baselines: { value: Baseline["line"]; says: string }[] = [
    { value: "straight", says: "straight" },
    { value: "arc", says: "on an arc" },
    { value: "edge", says: "beside an edge" },
    { value: "ring", says: "in a ring" },
  ];
  const letters: { value: "whole" | "bent"; says: string }[] = [
    { value: "whole", says: "kept whole" },
    { value: "bent", says: "bent with it" },
  ];
  const stands: { value: Schemas["Justify"]; says: string }[] = [
    { value: "start", says: "start" },
    { value: "middle", says: "middle" },
    { value: "end", says: "end" },
  ];

  /** The same mark on another baseline; a first arc is as large as the seat has room for round its middle. */
  async function runs(kind: Baseline["line"]) {
    if (kind === "straight") return set({ baseline: { line: kind }, ...loose() });
    if (kind === "ring") return set({ baseline: { line: kind, bent: false }, ...loose() });
    const stands = "middle" as const;
    if (kind === "edge") {
      const gap = round(lettering.cap_height / 2);
      const baseline = {
        line: kind,
        near: placed?.at ?? [0, 0, 0],
        gap,
        share: 50,
        stands,
        turned: false,
        bent: false,
      };
      // an edge alone says where
      return set({ baseline, placement: "wrapped", along: { tie: "middle" }, up: { tie: "middle" } });
    }
    // on a sphere a circle is one on the side that is seen
    const most = seat?.sphere ? (seat.sphere * Math.PI) / 2 : Infinity;
    const room = seat ? [0, 1].map((k) => (seat.closed[k] ? Infinity : seat.end[k] - seat.start[k])) : [];
    const fits = 0.5 * Math.min(...room) - 2.5 * lettering.cap_height;
    const wide = placed?.length ?? 10;
    // halfway to the largest there, or as large as the text asks for
    const girth = seat?.sphere ? (wide * 1.25) / (2 * Math.PI * seat.sphere) : 0;
    const asks = seat?.sphere ? seat.sphere * Math.asin(Math.min(girth, 1)) : wide / 4;
    const wanted = Math.max(Number.isFinite(fits) ? Math.min(fits, most / 2) : 0, asks, 2 * lettering.cap_height);
    const radius = Math.floor(Math.min(wanted, most) * 100) / 100;
    const baseline = { line: kind, radius, tops: "out" as const, share: 50, stands, bent: false };
    // a whole ball has no middle that is better than another: the text stays where it is
    if (seat?.sphere && seat.end[0] - seat.start[0] > 1.99 * Math.PI * seat.sphere && placed) {
      const body = { mark: { ...mark, place: { ...place, baseline } }, at: placed.at };
      const { data } = await api.POST("/api/jobs/{id}/placement", { params: session.params, body });
      if (data) return set(data.place);
    }
    // round the middle of the seat, where it has one
    return set({
      baseline,
      ...(seat?.closed[0] ? {} : { along: { tie: "middle" } }),
      ...(seat?.closed[1] ? {} : { up: { tie: "middle" } }),
    });
  }

  /** Off its edge a mark stays where it was. */
  function loose() {
    if (line.line !== "edge" || !placed) return {};
    const at = (k: 0 | 1) => ({ tie: "at", position: round((placed.low[k] + placed.high[k]) / 2) });
    return { along: at(0), up: at(1) };
  }

  /** On a sphere to another latitude or longitude; it stays turned as it is to the circle of latitude. */
  function globe(to: { latitude?: number; longitude?: number }) {
    if (!placed?.globe) return;
    return session.change({ do: "move_on_sphere", id: mark.id, ...placed.globe, ...to });
  }

  const turned = (by: number) => {
    const turn = place.turn + by;
    return set({ turn: turn > 180 ? turn - 360 : turn <= -180 ? turn + 360 : turn });
  };

  /** The same clear distance to the nearest edges on both sides, along and up. */
  function margins() {
    if (!placed) return;
    const tie = (k: 0 | 1) => ({ tie: "between", near: round((placed.low[k] + placed.high[k]) / 2) });
    void set({ along: tie(0), up: tie(1), anchor: { along: null, up: null, of: place.anchor.of } });
  }
</script>

{#snippet standing(line: Exclude<Baseline, { line: "straight" | "ring" }>, way: string)}
  its
  <ChoiceField
    value={line.stands}
    label="place of the text that stands there"
    choices={stands}
    onset={(stands) => set({ baseline: { line: line.line, stands } })}
  /> at
  <NumberField
    value={line.share}
    label="share of {way}"
    unit="%"
    step={5}
    places={1}
    onset={(share) => set({ baseline: { line: line.line, share } })}
  />
{/snippet}

{#snippet degrees(of: "latitude" | "longitude", after: string)}
  {of}
  <NumberField
    value={placed?.globe?.[of] ?? 0}
    label={of}
    unit="°"
    step={5}
    places={1}
    onset={(v) => globe({ [of]: v })}
    {after}
  />
{/snippet}

<Section head="placement">
  <p>
    {#if seat?.curved && line.line !== "edge"}
      <ChoiceField
        value={place.placement}
        label="wrapped or projected"
        keeps="placement"
        choices={[
          { value: "wrapped", says: "Wrapped (true lengths)" },
          { value: "projected", says: "Projected square to the seat" },
          { value: "projected_along_pull", says: "Projected along the pull" },
        ]}
        onset={(placement) => set({ placement })}
      />
    {:else}{seat?.curved ? "Wrapped (true lengths)" : "Flat"}{/if}
    on the <span class="seat">{seat ? seat.says.split(",")[0] : `face ${mark.seat.face}`}</span><Keep value="seat" />,
    <ChoiceField
      value={line.line}
      label="baseline"
      choices={baselines.filter(
        (c) =>
          c.value === line.line || (c.value === "ring" ? seat?.rings : c.value === "edge" ? seat?.edges.length : true),
      )}
      after={line.line === "arc" || line.line === "edge" ? "" : ","}
      onset={runs}
    />
    {#if line.line === "arc"}
      of radius
      <NumberField
        value={line.radius}
        label="radius of the arc"
        step={0.5}
        onset={(radius) => set({ baseline: { line: line.line, radius } })}
        after=","
      /> tops
      <ChoiceField
        value={line.tops}
        label="tops of the letters"
        choices={[
          { value: "out", says: "out" },
          { value: "in", says: "in" },
        ]}
        onset={(tops) => set({ baseline: { line: line.line, tops } })}
        after=","
      />
      {@render standing(line, "the arc")} of the way round,
    {:else if line.line === "edge"}
      (click another on the strip),
      <NumberField
        value={line.gap}
        label="gap to the edge"
        step={0.1}
        onset={(gap) => set({ baseline: { line: line.line, gap } })}
      /> clear of it,
      {@render standing(line, "the edge")} of its length, read
      <ChoiceField
        value={line.turned ? "turned" : "upright"}
        label="which side it is read from"
        choices={[
          { value: "upright", says: "upright" },
          { value: "turned", says: "from the other side" },
        ]}
        onset={(way) => set({ baseline: { line: line.line, turned: way === "turned" } })}
        after=","
      />
    {/if}
    {#if line.line !== "straight" && mark.figure}
      {line.line === "arc" ? "the arc's middle" : ""}
    {:else if line.line !== "straight"}
      letters
      <ChoiceField
        value={line.bent ? "bent" : "whole"}
        label="letters on the curve"
        choices={letters}
        onset={(how) => set({ baseline: { line: line.line, bent: how === "bent" } })}
        after={line.line === "arc" ? "; the arc's middle" : line.line === "edge" ? "." : ","}
      />
    {/if}
    {#if line.line !== "edge"}
      <TieField {session} {mark} {seat} {placed} k={0} />
      <TieField {session} {mark} {seat} {placed} k={1} />
      <Keep value="place" />
      (of its
      <ChoiceField
        value={place.anchor.of}
        label="box that is tied"
        choices={[
          { value: "capitals", says: "capitals" },
          { value: "ink", says: "whole ink" },
        ]}
        onset={(of) => set({ anchor: { of } })}
        after="),"
      />
      {#if placed?.globe}
        at {@render degrees("latitude", "")} and {@render degrees("longitude", ",")}
      {/if}
      turned
      <NumberField
        value={place.turn}
        label="turn"
        keeps="turn"
        unit="°"
        step={5}
        places={Number.isInteger(place.turn) ? 0 : 2}
        onset={(v) => set({ turn: v })}
        after="."
      />
    {/if}
  </p>
  <p class="acts">
    {#if line.line !== "edge"}
      <button class="word" onclick={() => void turned(90)}>rotate 90°</button>
      <button class="word" onclick={() => void turned(180)}>rotate 180°</button>
      <button class="word" onclick={margins}>equal margins</button>
    {/if}
    <button class="word" onclick={() => void session.change({ do: "move_to_opposite", id: mark.id })}
      >move to the opposite face</button
    >
    <button class="word" onclick={() => void session.change({ do: "copy_to_opposite", id: mark.id })}
      >copy to the opposite face</button
    >
    <button class="word" onclick={onwiden}>extend over faces</button>
    <button class="word" aria-expanded={repeating} onclick={() => (repeating = !repeating)}>repeat</button>
    <button class="word" onclick={onrepeat}>copy to a face</button>
  </p>
  {#if repeating}<Repeat {session} {mark} {seat} ondone={() => (repeating = false)} />{/if}
  {#if over.length}
    <p class="quiet">
      {over.map((c) => `“${c.text}”`).join(", ")}
      {over.length > 1 ? "lie" : "lies"} over a crease and bend{over.length > 1 ? "" : "s"} with it.
      {#if !mark.figure}
        <button class="word" onclick={() => void session.change({ do: "keep_off_creases", id: mark.id })}
          >keep letters off it</button
        >
      {/if}
    </p>
  {/if}
  {#if seat?.curved && placed}
    <p class="quiet">
      {#if Math.abs(placed.scale_error) < 0.05 && placed.shear < 0.05}
        Lengths and angles are true.
      {:else}
        Placed so, lengths are off by {signed(placed.scale_error, 1)} % and right angles by {placed.shear.toFixed(1)}°
        at most.
      {/if}
    </p>
  {/if}
</Section>

<style>
  .seat {
    font-weight: 700;
  }
  .acts {
    margin: 3px 0 1px;
    display: flex;
    flex-wrap: wrap;
    gap: 0 16px;
    font-size: 13px;
  }
  .acts .word {
    font-weight: 400;
  }
</style>
