<!-- The tool plate: cavities arranged in rows or round a circle, moved by hand, left out; each is a row of the roster. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import NumberField from "../../card/NumberField.svelte";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { many, signed } from "../../words";
  import Layout from "./Layout.svelte";

  let { session }: { session: Session } = $props();

  const cavities = $derived(session.view?.job.tool_plate.cavities ?? []);
  const roster = $derived(session.view?.job.roster);
  const column = $derived(roster?.columns.findIndex((c) => c.kind.kind === "cavity") ?? -1);
  const change = (edit: Schemas["PlateEdit"]) => session.change({ do: "tool_plate", edit });

  /** Extents of the part across the pull, to the right and up on the plate, mm. */
  const part = $derived(session.view?.cavities.part ?? [10, 10]);
  const overlapping = $derived(session.view?.cavities.overlapping ?? []);
  const overlapped = $derived(new Set(overlapping.flat()));
  const called = (at: number) => idOf(cavities[at]) || `at place ${at + 1}`;

  let picked = $state<number>();
  const cavity = $derived(picked === undefined ? undefined : cavities[picked]);
  let drag = $state<{ at: [number, number]; by: [number, number] }>();
  let drawing = $state<SVGSVGElement>();

  const half = (turn: number) => {
    const [s, c] = [Math.abs(Math.sin((turn * Math.PI) / 180)), Math.abs(Math.cos((turn * Math.PI) / 180))];
    return [(part[0] * c + part[1] * s) / 2, (part[0] * s + part[1] * c) / 2];
  };
  const box = $derived.by(() => {
    const corners = cavities.flatMap((c) => {
      const [w, h] = half(c.turn);
      return [
        [c.at[0] - w, c.at[1] - h],
        [c.at[0] + w, c.at[1] + h],
      ];
    });
    const side = (k: number, of: (...v: number[]) => number) => of(...corners.map((p) => p[k]));
    const margin = 12;
    return {
      left: side(0, Math.min) - margin,
      low: side(1, Math.min) - margin,
      right: side(0, Math.max) + margin,
      high: side(1, Math.max) + margin,
    };
  });

  const idOf = (c: Schemas["Cavity"]) =>
    c.row == null || column < 0 ? "" : (roster?.rows.find((r) => r.id === c.row)?.cells[column] ?? "");
  const size = (id: string) => Math.min(0.45 * Math.min(...part), (1.5 * part[0]) / Math.max(id.length, 1));

  /** A place of the window on the plate, mm. */
  function onPlate(event: PointerEvent): [number, number] {
    const matrix = drawing?.getScreenCTM()?.inverse();
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix ?? undefined);
    return [p.x, -p.y];
  }

  function hold(event: PointerEvent, at: number) {
    picked = at;
    const row = cavities[at].row;
    if (row != null) session.show(row);
    drag = { at: onPlate(event), by: [0, 0] };
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
  }

  function move(event: PointerEvent) {
    if (!drag) return;
    const now = onPlate(event);
    // to half a millimetre
    drag.by = [0, 1].map((k) => Math.round(2 * (now[k] - (drag?.at[k] ?? 0))) / 2) as [number, number];
  }

  async function drop() {
    const by = drag?.by;
    if (by && (by[0] || by[1]) && cavity && picked !== undefined)
      await put([cavity.at[0] + by[0], cavity.at[1] + by[1]], cavity.turn);
    drag = undefined;
  }

  const put = (at: [number, number], turn: number) =>
    cavity ? change({ change: "move", cavity: cavity.id, at, turn }) : Promise.resolve(false);

  function keys(event: KeyboardEvent, at: number) {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (event.key === "Enter" || event.key === " ") picked = at;
    else if (by && picked === at && cavity) void put([cavity.at[0] + by[0], cavity.at[1] + by[1]], cavity.turn);
    else return;
    event.preventDefault();
  }

  /** Where a cavity put by hand is in nobody's way: below the others. */
  function add() {
    const low = cavities.length ? box.low - part[1] / 2 + 4 : 0;
    picked = cavities.length;
    return change({ change: "add", at: [0, Math.round(low)] });
  }

  const missing = $derived(
    cavities.length ? (roster?.rows.filter((r) => !cavities.some((c) => c.row === r.id)).length ?? 0) : 0,
  );
</script>

<div class="plate-view">
  <Layout
    {cavities}
    {part}
    onarrange={(edit) => {
      picked = undefined;
      void change(edit);
    }}
  />
  {#if cavities.length}
    <svg
      bind:this={drawing}
      viewBox="{box.left} {-box.high} {box.right - box.left} {box.high - box.low}"
      role="group"
      aria-label="tool plate"
    >
      <rect x={box.left} y={-box.high} width={box.right - box.left} height={box.high - box.low} class="ground" />
      {#each cavities as c, at (at)}
        {@const by = drag && at === picked ? drag.by : [0, 0]}
        {@const id = idOf(c)}
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <g
          transform="translate({c.at[0] + by[0]} {-(c.at[1] + by[1])}) rotate({-c.turn})"
          class="cavity"
          class:out={c.row == null}
          class:overlapping={overlapped.has(at)}
          class:picked={at === picked}
          class:shown={c.row != null && c.row === session.view?.shown}
          role="button"
          tabindex="0"
          aria-label={c.row == null ? `cavity ${at + 1}, left out` : `cavity ${id || "without an ID"}`}
          onpointerdown={(e) => hold(e, at)}
          onpointermove={move}
          onpointerup={() => void drop()}
          onpointercancel={() => (drag = undefined)}
          onkeydown={(e) => keys(e, at)}
        >
          <rect x={-part[0] / 2} y={-part[1] / 2} width={part[0]} height={part[1]} />
          {#if c.row == null}
            <path
              d="M{-part[0] / 2} {-part[1] / 2}L{part[0] / 2} {part[1] / 2}M{part[0] / 2} {-part[1] / 2}L{-part[0] /
                2} {part[1] / 2}"
            />
          {:else}
            <text text-anchor="middle" y={0.36 * size(id)} font-size={size(id)}>{id || "?"}</text>
          {/if}
        </g>
      {/each}
    </svg>
    <p class="sentence">
      {#if cavity}
        {cavity.row == null
          ? `The place of cavity ${(picked ?? 0) + 1}, left out,`
          : `Cavity ${idOf(cavity) || "without an ID"}`} lies
        <NumberField
          value={cavity.at[0]}
          label="to the right of the middle"
          onset={(v) => put([v, cavity.at[1]], cavity.turn)}
        /> to the right of the plate's middle and
        <NumberField value={cavity.at[1]} label="above the middle" onset={(v) => put([cavity.at[0], v], cavity.turn)} /> above
        it, turned by
        <NumberField
          value={cavity.turn}
          label="turn of the cavity"
          unit="°"
          places={0}
          step={15}
          onset={(v) => put(cavity.at as [number, number], v)}
          after="."
        />
        {#if cavity.row == null}
          <button class="word" onclick={() => void change({ change: "put_back", cavity: cavity.id })}>restore</button>
        {:else}
          <button class="word" onclick={() => void change({ change: "leave_out", cavity: cavity.id })}>leave out</button
          >
        {/if}
        <button
          class="word"
          onclick={() => {
            picked = undefined;
            void change({ change: "remove", cavity: cavity.id });
          }}>remove it</button
        >
      {:else}
        Click a cavity to show its row; drag it to move it. <span class="soft">Seen from the parting face.</span>
      {/if}
      <button class="word" onclick={() => void add()}>add a cavity</button>
      <button class="word" onclick={() => void change({ change: "forget" })}>remove the tool plate</button>
    </p>
    {#if overlapping.length}
      <p class="overlapping" role="status">
        <StateShape state="marginal" />
        {overlapping
          .slice(0, 3)
          .map(([a, b]) => `Cavities ${called(a)} and ${called(b)} overlap.`)
          .join(" ")}
        {#if overlapping.length >= 100}So do many more.{:else if overlapping.length === 4}So does 1 more pair.{:else if overlapping.length > 4}So
          do {overlapping.length - 3} more pairs.{/if}
        <span class="soft">By the part's extents, {part.map((p) => signed(p, 1)).join(" by ")} mm.</span>
      </p>
    {/if}
    {#if missing}
      <p class="soft">{many(missing, "row")} of the roster {missing === 1 ? "has" : "have"} no place on the plate.</p>
    {/if}
  {:else}
    <p class="soft">
      Once arranged, each cavity becomes a row of the roster with its ID; rows that are there already come first. The
      part is
      {signed(part[0], 1)} by {signed(part[1], 1)} mm across the pull.
    </p>
  {/if}
</div>

<style>
  .plate-view {
    display: flex;
    flex: 1;
    flex-direction: column;
    min-height: 0;
    gap: 8px;
  }
  p.overlapping {
    margin: 0;
  }
  .sentence {
    margin: 0;
    line-height: 1.9;
  }
  svg {
    flex: 1;
    min-height: 0;
    touch-action: none;
  }
  .ground {
    fill: var(--plate);
    stroke: var(--rim);
    stroke-width: 1.5px;
    vector-effect: non-scaling-stroke;
  }
  .cavity {
    cursor: grab;
    outline: none;
  }
  .cavity rect,
  .cavity path {
    fill: var(--enamel);
    stroke: var(--rim);
    stroke-width: 1px;
    vector-effect: non-scaling-stroke;
  }
  .cavity.overlapping rect {
    stroke: var(--marginal);
    stroke-width: 2px;
  }
  .cavity text {
    fill: var(--ink);
    font-family: var(--figure);
    font-weight: 700;
    pointer-events: none;
  }
  .cavity.out rect {
    fill: none;
    stroke-dasharray: 4 3;
  }
  .cavity:hover rect,
  .cavity:focus-visible rect,
  .cavity.picked rect {
    stroke-width: 2.5px;
  }
  .cavity.shown rect {
    fill: var(--rim);
  }
  .cavity.shown text {
    fill: var(--enamel);
  }
</style>
