<!-- A drawing before a mark draws it: what was read of it, what is wrong with it and where, and how to read it. -->
<script lang="ts">
  import { Checkbox, Modal } from "flowbite-svelte";
  import StateShape from "../pieces/StateShape.svelte";
  import { sheet } from "../pieces/theme";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import "./drawing-sheet.css";
  import {
    ARTWORK_HIGH,
    putArtwork,
    readArtwork,
    type ArtworkAsked,
    type ArtworkView,
    type ArtworkWish,
  } from "./figures";
  import NumberField from "./NumberField.svelte";

  let { session, asked }: { session: Session; asked: ArtworkAsked } = $props();

  let open = $state(true);
  let wish = $state.raw<ArtworkWish>({});
  let view = $state.raw<ArtworkView>();
  /** The kind of fault that is looked at. */
  let looked = $state<string>();
  let reading = 0;

  // another file may be dropped while this one is asked about
  $effect(() => {
    view = asked.view;
    wish = asked.wish;
    looked = undefined;
    open = true;
  });

  const units = [
    { value: "", says: "not set" },
    { value: "1", says: "1 mm" },
    { value: "10", says: "1 cm" },
    { value: "25.4", says: "1 inch" },
    { value: "0.0254", says: "a thousandth of an inch" },
  ];

  const layers = $derived(view?.layers ?? []);
  const high = $derived(view?.height ?? 0);
  const size = $derived(view?.size ?? [0, 0]);
  const fits = $derived(!!view && !view.problem && high > 0);
  /** A little more than the drawing, in its units. */
  const rim = $derived(0.04 * Math.max(size[0], size[1]));
  const other = $derived(view?.told.filter((t) => !view?.faults.some((f) => f.says === t)) ?? []);

  async function read(change: ArtworkWish) {
    const mine = ++reading;
    wish = { ...wish, ...change };
    const now = await readArtwork(session, asked.file, wish);
    if (mine !== reading) return false;
    // what there is to choose from stays, whatever is wrong
    if (now?.problem && !now.layers.length) view = { ...now, layers };
    else if (now) view = now;
    return !!now;
  }

  function choose(name: string, on: boolean) {
    const drawn = layers.filter((l) => (l.name === name ? on : l.drawn)).map((l) => l.name);
    if (view) view = { ...view, layers: layers.map((l) => (l.name === name ? { ...l, drawn: on } : l)) };
    void read({ layers: JSON.stringify(drawn) });
  }

  function leave() {
    session.asked = undefined;
  }

  async function draw() {
    if (!view || !fits) return;
    if (await putArtwork(session, asked.mark, view)) leave();
  }
</script>

<Modal
  bind:open
  title={asked.file.name}
  size="xl"
  class={sheet.wide}
  classes={{ header: sheet.header, body: sheet.body }}
  onclose={leave}
>
  <div class="drawing-sheet">
    <figure>
      {#if view?.outline}
        <svg
          class="framed"
          role="img"
          aria-label="the drawing as it is read"
          viewBox="{-rim} {-rim} {size[0] + 2 * rim} {size[1] + 2 * rim}"
        >
          <g transform="translate(0 {size[1]}) scale(1 -1)">
            <path class="ink" d={view.outline} />
            {#each view.faults as fault (fault.kind)}
              {#each fault.places as [x, y], at (at)}
                <circle
                  class:mended={fault.mended}
                  class:looked={looked === fault.kind}
                  cx={x}
                  cy={y}
                  r={(looked === fault.kind ? 0.5 : 0.25) * rim}
                />
              {/each}
            {/each}
          </g>
        </svg>
      {:else}
        <p class="nothing framed">Nothing is drawn.</p>
      {/if}
      {#if fits}
        <figcaption>
          {((high * size[0]) / size[1]).toFixed(2)} mm wide, {high.toFixed(2)} mm high, {view?.points.toLocaleString(
            "en",
          )}
          points
        </figcaption>
      {/if}
    </figure>
    <div class="says">
      {#if view?.problem}<p role="alert"><StateShape state="fails" /> {view.problem}</p>{/if}
      {#if view && !view.sized && view.lines}
        <p>
          The file doesn't say what its lengths are. One unit of it is
          <ChoiceField
            value={wish.unit === undefined ? "" : String(wish.unit)}
            label="length of a unit"
            choices={units}
            onset={(unit) => void read({ unit: unit === "" ? undefined : Number(unit), height: undefined })}
            after="."
          />
        </p>
      {/if}
      <p>
        {#if high > 0}
          It is drawn
          <NumberField value={high} label="height of the drawing" step={0.5} onset={(height) => read({ height })} /> high.
          {#if wish.height !== undefined && (view?.sized || wish.unit !== undefined)}
            <button class="word" onclick={() => void read({ height: undefined })}>the height in the file</button>
          {/if}
        {:else if view}
          <button class="word" onclick={() => void read({ height: ARTWORK_HIGH })}
            >draw it {ARTWORK_HIGH} mm high, whatever its unit</button
          >
        {/if}
      </p>
      {#if layers.length > 1}
        <fieldset>
          <legend>Of its layers and groups are drawn</legend>
          {#each layers as layer (layer.name)}
            <Checkbox checked={layer.drawn} onchange={(e) => choose(layer.name, e.currentTarget.checked)}>
              {layer.name || "what is in no group"}
              <small>&ensp;{layer.shapes} {layer.shapes === 1 ? "shape" : "shapes"}</small>
            </Checkbox>
          {/each}
        </fieldset>
      {/if}
      {#if view?.lines}
        <p>
          Its lines
          <ChoiceField
            value={wish.stroke === undefined ? "bound" : "wide"}
            label="what lines are"
            choices={[
              { value: "bound", says: "bound what lies between them" },
              { value: "wide", says: "are drawn with a width" },
            ]}
            onset={(v) => void read({ stroke: v === "wide" ? 0.5 : undefined })}
            after={wish.stroke === undefined ? "." : ""}
          />
          {#if wish.stroke !== undefined}
            of <NumberField
              value={wish.stroke}
              label="width of its lines"
              step={0.05}
              onset={(stroke) => read({ stroke })}
              after="."
            />
          {/if}
        </p>
      {/if}
      {#if high > 0 || wish.within !== undefined}
        <p>
          Its outlines have
          <ChoiceField
            value={wish.within === undefined ? "all" : "fewer"}
            label="points of its outlines"
            choices={[
              { value: "all", says: "all their points" },
              { value: "fewer", says: "fewer points" },
            ]}
            onset={(v) => void read({ within: v === "fewer" ? 0.01 : undefined })}
            after={wish.within === undefined ? "." : ","}
          />
          {#if wish.within !== undefined}
            none of them more than
            <NumberField
              value={wish.within}
              label="tolerance of the outlines"
              step={0.005}
              places={3}
              onset={(within) => read({ within })}
            /> off.
          {/if}
        </p>
      {/if}
      {#if view?.faults.length}
        <ul class="faults" aria-label="faults of the drawing">
          {#each view.faults as fault (fault.kind)}
            <li>
              <button
                class="word"
                aria-pressed={looked === fault.kind}
                onclick={() => (looked = looked === fault.kind ? undefined : fault.kind)}
                ><StateShape state={fault.mended ? "passes" : "marginal"} /> {fault.says}</button
              >
            </li>
          {/each}
        </ul>
      {/if}
      <ul class="told">
        {#each other as told (told)}<li>{told}</li>{/each}
      </ul>
      <p class="do">
        <button class="press first" disabled={!fits} onclick={() => void draw()}>draw it</button>
        <button class="word" onclick={leave}>cancel</button>
        {#if !fits && !view?.problem}<small>First set its height or its unit.</small>{/if}
      </p>
    </div>
  </div>
</Modal>

<style>
  svg {
    height: 380px;
  }
  circle.looked {
    stroke-width: 4px;
  }
  figcaption {
    margin-top: 6px;
    color: var(--ink-soft);
    font-size: 13px;
  }
  .nothing {
    display: grid;
    height: 380px;
    margin: 0;
    place-items: center;
    color: var(--ink-soft);
  }
  fieldset {
    max-height: 150px;
    margin: 0 0 8px;
    padding: 0;
    border: 0;
    overflow: auto;
  }
  legend {
    padding: 0;
    line-height: 1.8;
  }
  .faults .word[aria-pressed="true"] {
    font-weight: 700;
  }
</style>
