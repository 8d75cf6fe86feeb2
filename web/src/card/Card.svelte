<!-- The card of a mark: what it says, its lettering, its lay, its relief, as sentences whose values are the controls. -->
<script lang="ts">
  import { onMount, tick } from "svelte";
  import type { LayView, Mark, Schemas, SeatView } from "../api/client";
  import StateShape from "../pieces/StateShape.svelte";
  import type { Session } from "../session.svelte";
  import { checkNames, signed, steelWord, worst } from "../words";
  import ChoiceField from "./ChoiceField.svelte";
  import FaceChooser from "./FaceChooser.svelte";
  import Letter from "./Letter.svelte";
  import MannerField from "./MannerField.svelte";
  import NumberField from "./NumberField.svelte";
  import Repeat from "./Repeat.svelte";

  type Tie = Schemas["Tie"];

  let {
    session,
    mark,
    seat,
    lay,
    problem,
    onghost,
    letter,
    onletter,
    onwiden,
    onrepeat,
    oninspect,
  }: {
    session: Session;
    mark: Mark;
    seat?: SeatView;
    lay?: LayView;
    problem?: string;
    /** The mark as it would be with what is being typed; nothing when that is over. */
    onghost: (mark: Mark | undefined) => void;
    /** The letter that is changed by itself. */
    letter?: number;
    onletter: (at: number | undefined) => void;
    /** The seat is to go over more faces, or over fewer. */
    onwiden: () => void;
    /** The mark is to be put on faces that are pressed. */
    onrepeat: () => void;
    oninspect: (check: string) => void;
  } = $props();

  let typed = $state<string>();
  let repeating = $state(false);
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let field = $state<HTMLTextAreaElement>();

  const relief = $derived(mark.relief);
  const lettering = $derived(mark.lettering);
  const raised = $derived(relief.sense === "raised");
  const lines = $derived((typed ?? mark.text).split("\n").length);
  const steel = $derived(session.outcome?.marks.find((m) => m.id === mark.id)?.steel);
  const finding = $derived(session.stale ? undefined : worst(session.outcome, mark.id));
  const id = $derived(mark.id);
  const letterText = $derived(
    lay?.characters.find((c) => c.at === letter)?.text ?? mark.letters.find((l) => l.at === letter)?.text,
  );

  const set = (settings: object) => session.set(id, settings);

  function type(text: string) {
    typed = text;
    onghost({ ...mark, text });
    clearTimeout(waiting);
    waiting = setTimeout(() => void keep(), 600);
  }

  async function keep() {
    clearTimeout(waiting);
    const text = typed;
    if (text === undefined) return;
    if (text !== mark.text && text.trim() !== "") await set({ text });
    // more may have been typed while the change was kept
    if (typed === text && text.trim() !== "") {
      typed = undefined;
      onghost(undefined);
    }
  }

  /** Puts the cursor into the text, for a mark that was just added. */
  export async function write() {
    await tick();
    field?.focus();
    field?.select();
  }

  onMount(() => {
    if (session.fresh !== mark.id) return;
    session.fresh = "";
    void write();
  });

  const round = (v: number) => Math.round(v * 100) / 100;

  /** The same place, tied otherwise. */
  function tied(kind: Tie["tie"], k: 0 | 1): Tie {
    const at = lay ?? { margins: [0, 0, 0, 0], middle: [0, 0] };
    if (kind === "from_start") return { tie: kind, distance: round(at.margins[2 * k]) };
    if (kind === "from_end") return { tie: kind, distance: round(at.margins[2 * k + 1]) };
    if (kind === "at") return { tie: kind, position: round(at.middle[k]) };
    return { tie: "middle" };
  }

  const along: { value: Tie["tie"]; says: string }[] = [
    { value: "from_start", says: "from the left edge" },
    { value: "from_end", says: "from the right edge" },
    { value: "middle", says: "midway along" },
    { value: "at", says: "along to its middle" },
  ];
  const up: { value: Tie["tie"]; says: string }[] = [
    { value: "from_start", says: "from the lower edge" },
    { value: "from_end", says: "from the upper edge" },
    { value: "middle", says: "midway up" },
    { value: "at", says: "up to its middle" },
  ];

  type Baseline = Schemas["Baseline"];
  const line = $derived(mark.place.baseline);
  const baselines: { value: Baseline["line"]; says: string }[] = [
    { value: "straight", says: "straight" },
    { value: "arc", says: "on an arc" },
    { value: "ring", says: "in a ring" },
  ];
  const letters: { value: "whole" | "bent"; says: string }[] = [
    { value: "whole", says: "kept whole" },
    { value: "bent", says: "bent with it" },
  ];

  /** The same mark on another baseline; a first arc is as large as the seat has room for round its middle. */
  function runs(kind: Baseline["line"]) {
    if (kind !== "arc")
      return set({ place: { baseline: kind === "ring" ? { line: kind, bent: false } : { line: kind } } });
    const room = seat ? [0, 1].map((k) => (seat.closed[k] ? Infinity : seat.end[k] - seat.start[k])) : [];
    const fits = 0.5 * Math.min(...room) - 2.5 * lettering.cap_height;
    const wide = lay?.length ?? 10;
    const radius = round(Math.max(Number.isFinite(fits) ? fits : 0, wide / 4, 2 * lettering.cap_height));
    const baseline = { line: kind, radius, tops: "out" as const, share: 50, stands: "middle" as const, bent: false };
    // round the middle of the seat, where it has one
    const place = {
      baseline,
      ...(seat?.closed[0] ? {} : { along: { tie: "middle" } }),
      ...(seat?.closed[1] ? {} : { up: { tie: "middle" } }),
    };
    return set({ place });
  }

  const turned = (by: number) => {
    const turn = mark.place.turn + by;
    return set({ place: { turn: turn > 180 ? turn - 360 : turn <= -180 ? turn + 360 : turn } });
  };

  type FitBy = Schemas["FitBy"];

  /** What a length was fitted with. */
  const fitted = $derived.by(() => {
    if (!lay) return "";
    const by = lettering.fit?.by;
    if (by === "spacing") return `letters ${signed(lay.spacing, 2)} mm further apart`;
    if (by === "width") return `letters ${(lay.width * 100).toFixed(0)} % as broad`;
    return `capitals ${lay.cap_height.toFixed(2)} mm high`;
  });

  function fitBy(by: FitBy | "none") {
    if (by === "none") return set({ lettering: { fit: null } });
    return set({ lettering: { fit: { length: lettering.fit?.length ?? round(lay?.length ?? 20), by } } });
  }

  const number = (tie: Tie) => (tie.tie === "at" ? tie.position : tie.tie === "middle" ? undefined : tie.distance);
  const withNumber = (tie: Tie, mm: number): Tie =>
    tie.tie === "at" ? { ...tie, position: mm } : tie.tie === "middle" ? tie : { ...tie, distance: mm };
</script>

{#snippet place(tie: Tie, k: 0 | 1)}
  {@const mm = number(tie)}
  {@const key = k === 0 ? "along" : "up"}
  {#if mm !== undefined}
    <NumberField
      value={mm}
      label={k === 0 ? "distance along" : "distance up"}
      onset={(v) => set({ place: { [key]: withNumber(tie, v) } })}
    />
  {/if}
  <ChoiceField
    value={tie.tie}
    label={k === 0 ? "tied along" : "tied up"}
    choices={(k === 0 ? along : up).filter((c) => !seat?.closed[k] || !c.value.startsWith("from"))}
    after=","
    onset={(kind) => set({ place: { [key]: tied(kind, k) } })}
  />
{/snippet}

<article aria-label="Mark {mark.id}">
  <section>
    <h3>says</h3>
    <textarea
      bind:this={field}
      aria-label="text of the mark"
      rows={Math.min(6, lines)}
      spellcheck="false"
      value={typed ?? mark.text}
      oninput={(e) => type(e.currentTarget.value)}
      onblur={() => void keep()}
    ></textarea>
    {#if problem}<p class="problem" role="alert"><StateShape state="fails" /> {problem}</p>{/if}
  </section>

  <section>
    <h3>lettering</h3>
    <p>
      <FaceChooser value={lettering.face} onset={(face) => set({ lettering: { face } })} after="," /> capitals
      <NumberField
        value={lettering.cap_height}
        label="cap height"
        onset={(v) => set({ lettering: { cap_height: v } })}
      />
      high, strokes
      <NumberField
        value={lettering.stroke ?? lay?.stroke ?? lettering.cap_height / 10}
        label="stroke"
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
        unit="%"
        step={5}
        places={0}
        onset={(v) => set({ lettering: { width: v / 100 } })}
      /> as broad as drawn, slanted
      <NumberField
        value={lettering.slant}
        label="slant"
        unit="°"
        step={5}
        places={0}
        onset={(v) => set({ lettering: { slant: v } })}
      /> and
      <NumberField
        value={lettering.spacing}
        label="spacing"
        step={0.05}
        onset={(v) => set({ lettering: { spacing: v } })}
      />
      further apart{#if lines > 1}, lines
        <NumberField value={lettering.line_gap} label="line gap" onset={(v) => set({ lettering: { line_gap: v } })} />
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
    <p>
      <ChoiceField
        value={lettering.fit?.by ?? "none"}
        label="fitted to a length"
        choices={[
          { value: "none", says: "As long as it comes" },
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
          onset={(length) => set({ lettering: { fit: { ...lettering.fit, length } } })}
        />: {fitted}{:else}{lay ? `, ${lay.length.toFixed(2)} mm` : ""}{/if}.
    </p>
  </section>

  {#if letter !== undefined && letterText}
    <Letter {session} {mark} at={letter} text={letterText} ondone={() => onletter(undefined)} />
  {/if}

  {#if mark.letters.length && letter === undefined}
    <section>
      <h3>letters of their own</h3>
      <p>
        {#each mark.letters as l (l.at)}
          <button class="word" onclick={() => onletter(l.at)}>“{l.text}”{l.left_out ? " left out" : ""}</button>{" "}
        {/each}
      </p>
    </section>
  {/if}

  <section>
    <h3>lay</h3>
    <p>
      {#if seat?.curved}
        <ChoiceField
          value={mark.place.lay}
          label="rolled or dropped"
          choices={[
            { value: "rolled", says: "Rolled" },
            { value: "dropped", says: "Dropped square to the seat" },
            { value: "dropped_along_pull", says: "Dropped along the pull" },
          ]}
          onset={(lay) => set({ place: { lay } })}
        />
      {:else}Flat{/if}
      on the <span class="seat">{seat ? seat.says.split(",")[0] : `face ${mark.seat.face}`}</span>,
      <ChoiceField
        value={line.line}
        label="baseline"
        choices={baselines.filter((c) => c.value !== "ring" || seat?.rings || line.line === "ring")}
        after={line.line === "arc" ? "" : ","}
        onset={runs}
      />
      {#if line.line === "arc"}
        of radius
        <NumberField
          value={line.radius}
          label="radius of the arc"
          step={0.5}
          onset={(radius) => set({ place: { baseline: { ...line, radius } } })}
          after=","
        /> tops
        <ChoiceField
          value={line.tops}
          label="tops of the letters"
          choices={[
            { value: "out", says: "out" },
            { value: "in", says: "in" },
          ]}
          onset={(tops) => set({ place: { baseline: { ...line, tops } } })}
          after=","
        /> its
        <ChoiceField
          value={line.stands}
          label="place of the text that stands there"
          choices={[
            { value: "start", says: "start" },
            { value: "middle", says: "middle" },
            { value: "end", says: "end" },
          ]}
          onset={(stands) => set({ place: { baseline: { ...line, stands } } })}
        /> at
        <NumberField
          value={line.share}
          label="share of the arc"
          unit="%"
          step={5}
          places={1}
          onset={(share) => set({ place: { baseline: { ...line, share } } })}
        /> of the way round,
      {/if}
      {#if line.line !== "straight"}
        letters
        <ChoiceField
          value={line.bent ? "bent" : "whole"}
          label="letters on the curve"
          choices={letters}
          onset={(how) => set({ place: { baseline: { ...line, bent: how === "bent" } } })}
          after={line.line === "arc" ? "; the arc's middle" : ","}
        />
      {/if}
      {@render place(mark.place.along, 0)}
      {@render place(mark.place.up, 1)} turned
      <NumberField
        value={mark.place.turn}
        label="turn"
        unit="°"
        step={5}
        places={0}
        onset={(v) => set({ place: { turn: v } })}
        after="."
      />
    </p>
    <p class="acts">
      <button class="word" onclick={() => void turned(90)}>turn it a quarter</button>
      <button class="word" onclick={() => void turned(180)}>end for end</button>
      <button class="word" onclick={() => void session.change({ do: "other_side", id })}>other side</button>
      <button class="word" onclick={onwiden}>more faces</button>
      <button class="word" aria-expanded={repeating} onclick={() => (repeating = !repeating)}>repeat</button>
      <button class="word" onclick={onrepeat}>repeat elsewhere</button>
    </p>
    {#if repeating}<Repeat {session} {mark} {seat} ondone={() => (repeating = false)} />{/if}
    {#if seat?.curved && lay}
      <p class="quiet stretch">
        {#if Math.abs(lay.scale_error) < 0.05 && lay.shear < 0.05}
          Lengths and angles are true.
        {:else}
          Laid so, lengths are off by {signed(lay.scale_error, 1)} % and right angles by {lay.shear.toFixed(1)}° at
          most.
        {/if}
      </p>
    {/if}
  </section>

  <section>
    <h3>relief</h3>
    <p>
      <ChoiceField
        value={relief.sense}
        label="raised or sunken"
        choices={[
          { value: "raised", says: "raised" },
          { value: "sunken", says: "sunken" },
          { value: "inlay", says: "inlaid in a second colour" },
          { value: "surface", says: "on the surface only" },
        ]}
        onset={(sense) => set({ relief: { sense } })}
        after={relief.sense === "surface" ? "." : ""}
      />
      {#if relief.sense === "surface"}<span class="quiet">
          No height, no change of the solid: for print, paint or a laser.</span
        >{:else}<NumberField
          value={relief.height}
          label={raised ? "height" : "depth"}
          step={0.05}
          onset={(v) => set({ relief: { height: v } })}
          after=","
        />
        draft
        <NumberField
          value={relief.draft}
          label="draft"
          unit="°"
          step={0.5}
          places={1}
          onset={(v) => set({ relief: { draft: v } })}
          after=","
        />
        outline held at the
        <ChoiceField
          value={relief.held}
          label="outline held at"
          choices={[
            { value: "land", says: raised ? "land" : "floor" },
            { value: "root", says: raised ? "root" : "rim" },
          ]}
          onset={(held) => set({ relief: { held } })}
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
          onset={(walls) => set({ relief: { walls } })}
          after=","
        />
        {raised ? "edge of the land" : "rim"}
        <NumberField value={relief.edge} label="edge" step={0.05} onset={(v) => set({ relief: { edge: v } })} />
        <ChoiceField
          value={relief.edge_shape}
          label="shape of the edge"
          choices={[
            { value: "round", says: "round" },
            { value: "bevel", says: "bevelled" },
          ]}
          onset={(edge_shape) => set({ relief: { edge_shape } })}
          after=","
        />
        {raised ? "root" : "floor corner"}
        <NumberField
          value={relief.root}
          label="root radius"
          step={0.05}
          onset={(v) => set({ relief: { root: v } })}
          after=" round."
        />
        {#if relief.sense === "inlay"}
          The filling stands
          <NumberField
            value={relief.gap}
            label="gap round the filling"
            step={0.05}
            onset={(v) => set({ relief: { gap: v } })}
          /> clear of its pocket.
        {/if}
      {/if}
    </p>
  </section>

  <section>
    <h3>manner</h3>
    <MannerField {session} {mark} />
  </section>

  {#if steel && relief.sense !== "surface" && session.view?.job.tool.slides.length}
    <p class="quiet">
      Formed by {steel.steel === "slide" ? "" : "the "}<b>{steelWord(steel)}</b>, as the tool is set at the part.
    </p>
  {/if}
  {#if !mark.on}
    <p class="quiet">Switched off: neither built nor checked.</p>
  {:else if session.stale}
    <p class="quiet" aria-live="polite">Measuring the finished solid …</p>
  {:else if finding}
    <section class="finding {finding.state}" aria-live="polite">
      <h3><StateShape state={finding.state} /> {checkNames[finding.check].whole}</h3>
      <p>{finding.sentence}</p>
      <button class="word" onclick={() => oninspect(finding.check)}>see it on the solid</button>
    </section>
  {:else}
    <p class="quiet" aria-live="polite"><StateShape state="holds" /> Everything holds on the finished solid.</p>
  {/if}
</article>

<style>
  article {
    padding: 6px 20px 16px;
  }
  section {
    padding: 9px 0 11px;
    border-bottom: 1px solid var(--line);
  }
  section:last-of-type {
    border-bottom: 0;
  }
  h3 {
    margin: 0 0 3px;
    font-size: 12px;
    font-weight: 400;
    color: var(--ink-soft);
  }
  p {
    margin: 0;
    line-height: 1.8;
  }
  textarea {
    width: 100%;
    box-sizing: border-box;
    padding: 3px 6px;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--enamel);
    color: var(--ink);
    font: 700 16px/1.35 var(--figure);
    resize: none;
  }
  .problem {
    margin-top: 5px;
    line-height: 1.4;
    color: var(--fail);
  }
  .seat {
    font-weight: 700;
  }
  .finding {
    margin: 10px -8px 0;
    padding: 10px 12px !important;
    border: 1px solid var(--rim) !important;
    border-radius: 9px;
    background: var(--enamel);
  }
  .finding p {
    margin: 3px 0 6px;
    line-height: 1.5;
  }
  .finding h3 {
    font-size: 14px;
    font-weight: 700;
    color: var(--ink);
  }
  .finding.fails {
    border-color: var(--fail) !important;
  }
  .finding.fails h3 {
    color: var(--fail);
  }
  .finding.close {
    border-color: var(--close) !important;
  }
  .finding.close h3 {
    color: var(--close);
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
  .quiet.stretch {
    margin-top: 0;
  }
  .quiet {
    margin-top: 10px;
    color: var(--ink-soft);
  }
</style>
