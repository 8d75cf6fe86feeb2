<!-- What a mark draws in place of a text, as sentences whose values are the controls. -->
<script lang="ts">
  import type { PlacementView, Mark, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import ArtworkPicker from "./ArtworkPicker.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import DateFrom from "./DateFrom.svelte";
  import type { Figure } from "./figures";
  import NumberField from "./NumberField.svelte";

  type Dial = Schemas["Dial"];
  type Ring = Schemas["DialRing"];

  let { session, mark, figure, placed }: { session: Session; mark: Mark; figure: Figure; placed?: PlacementView } =
    $props();

  const columns = $derived(session.view?.job.roster.columns ?? []);
  /** Its text waits as pieces that stand fixed. */
  const typed = $derived(mark.recipe.every((p) => p.of.piece === "text" || p.of.piece === "line_end"));
  const put = (change: object) => session.set(mark.id, { figure: change });
  const dial = (change: Partial<Dial>) => put({ dial: change });

  const kinds: { value: Ring["of"]; says: string }[] = [
    { value: "months", says: "months" },
    { value: "days", says: "days" },
    { value: "weeks", says: "weeks" },
  ];
  /** Of each kind there is one ring. */
  const free = (rings: Ring[], own?: Ring["of"]) =>
    kinds.filter((k) => k.value === own || !rings.some((r) => r.of === k.value));
  const rings = (make: (rings: Ring[]) => Ring[]) =>
    session.inTurn(async () => {
      const now = session.marks.find((m) => m.id === mark.id);
      if (!now?.figure || !("dial" in now.figure)) return false;
      const { rings, diameter, gap } = now.figure.dial;
      const to = make(rings);
      // a ring with its pointer and its line
      const ring = 1.7 * now.lettering.cap_height + 3 * gap + 0.1 * now.lettering.cap_height;
      const across = diameter + 2 * ring * (to.length - rings.length);
      return dial({ rings: to, diameter: Math.max(1, Math.round(across * 10) / 10) });
    });
</script>

{#if "dial" in figure}
  {@const d = figure.dial}
  <p>
    A date dial of <DateFrom from={d.from} {columns} onset={(from) => dial({ from })} after="," />
    <NumberField value={d.diameter} label="diameter of the dial" step={0.5} onset={(diameter) => dial({ diameter })} />
    across, its numbers with their
    <ChoiceField
      value={d.tops}
      label="which way the numbers look"
      choices={[
        { value: "out", says: "tops outward" },
        { value: "in", says: "tops inward" },
      ]}
      onset={(tops) => void dial({ tops })}
      after=","
    />
    <NumberField value={d.gap} label="gap of the dial" step={0.05} onset={(gap) => dial({ gap })} /> from its lines,
    <ChoiceField
      value={String(d.year)}
      label="digits of the year"
      choices={[
        { value: "2", says: "two digits of the year" },
        { value: "4", says: "the whole year" },
        { value: "0", says: "no year" },
      ]}
      onset={(year) => void dial({ year: Number(year) })}
    /> beside the arrow.
  </p>
  {#each d.rings as ring, at (ring.of)}
    <p>
      {at === 0 ? "Around it are the" : "Inside them are the"}
      <ChoiceField
        value={ring.of}
        label="what the ring counts"
        choices={free(d.rings, ring.of)}
        onset={(of) => void rings((all) => all.map((r, k) => (k === at ? { of, every: of === "months" ? 1 : 5 } : r)))}
        after=","
      /> every
      <NumberField
        value={ring.every}
        label="every so many is a number"
        unit=""
        places={0}
        step={1}
        onset={(every) => rings((all) => all.map((r, k) => (k === at ? { ...r, every: Math.round(every) } : r)))}
        after={ring.every === 1 ? "." : ", dots between."}
      />
      {#if d.rings.length > 1}
        <button class="word" onclick={() => void rings((all) => all.toSpliced(at, 1))}>remove it</button>
      {/if}
    </p>
  {/each}
  <p>
    {#if d.rings.length < kinds.length}
      <button
        class="word"
        onclick={() =>
          void rings((all) => {
            const of = free(all)[0].value;
            return [{ of, every: of === "months" ? 1 : 5 }, ...all];
          })}>one more ring outside</button
      ><br />
    {/if}
    Arrow and year are handed off
    <ChoiceField
      value={d.core_apart ? "apart" : "joined"}
      label="how the core is handed off"
      choices={[
        { value: "joined", says: "with the rings" },
        { value: "apart", says: "as a body of their own" },
      ]}
      onset={(v) => void dial({ core_apart: v === "apart" })}
      after="."
    />
  </p>
{:else if "tally" in figure}
  {@const t = figure.tally}
  <p>
    A tally grid from
    <NumberField
      value={t.first_year}
      label="first year of the tally"
      unit=""
      places={0}
      step={1}
      onset={(year) => put({ tally: { first_year: Math.round(year) } })}
    /> on, over
    <NumberField
      value={t.years}
      label="years of the tally"
      unit=""
      places={0}
      step={1}
      onset={(years) => put({ tally: { years: Math.round(years) } })}
    /> years, dotted up to <DateFrom from={t.from} {columns} onset={(from) => put({ tally: { from } })} after="." />
    Dots
    <NumberField value={t.dot} label="diameter of the dots" onset={(dot) => put({ tally: { dot } })} /> across,
    <NumberField value={t.pitch} label="pitch of the tally" onset={(pitch) => put({ tally: { pitch } })} /> from one to the
    next,
    <ChoiceField
      value={t.labels ? "with" : "without"}
      label="labels of the tally"
      choices={[
        { value: "with", says: "with months and years" },
        { value: "without", says: "without months and years" },
      ]}
      onset={(v) => void put({ tally: { labels: v === "with" } })}
    /> written on. Fields of months to come are kept free.
  </p>
{:else if "artwork" in figure}
  {@const a = figure.artwork}
  <p>
    The artwork <b>{a.file}</b>,
    <NumberField
      value={a.height}
      label="height of the artwork"
      step={0.5}
      onset={(height) => put({ artwork: { height } })}
    /> high{#if placed},
      <NumberField
        value={placed.length}
        label="width of the artwork"
        step={0.5}
        onset={(wide) => put({ artwork: { height: (a.height * wide) / placed.length } })}
      /> wide{/if}.
  </p>
  <ul>
    {#each a.told as told (told)}<li>{told}</li>{/each}
  </ul>
  <p class="under">
    <ArtworkPicker {session} {mark} label="another file of artwork">
      {#snippet opener(open)}<button class="word" onclick={open}>another file</button>{/snippet}
    </ArtworkPicker>
  </p>
{:else}
  {@const p = figure.pocket}
  <p>
    The pocket of an insert
    <NumberField
      value={p.diameter}
      label="diameter of the insert"
      onset={(diameter) => put({ pocket: { diameter } })}
    />
    across, with a gap of
    <NumberField value={p.gap} label="gap round the insert" step={0.01} onset={(gap) => put({ pocket: { gap } })} /> all round
    it. How deep it is stands below.
  </p>
{/if}
<p class="under">
  <button class="word" onclick={() => void session.set(mark.id, { figure: null })}
    >back to its {typed ? "text" : "pieces"}</button
  >
</p>

<style>
  ul {
    margin: 4px 0;
    padding-left: 18px;
    color: var(--ink-soft);
    font-size: 13px;
    line-height: 1.4;
    list-style: disc;
  }
  p {
    margin: 0;
    line-height: 1.8;
  }
  .under {
    font-size: 13px;
  }
</style>
