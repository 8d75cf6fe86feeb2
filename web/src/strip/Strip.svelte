<!-- The seat unrolled flat at true size: rulers, edges, parting line, the marks on it. The picked mark is dragged here,
     snaps to the middles and to other marks, and shows its distances. -->
<script lang="ts">
  import type { PlacementView, Mark, SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import { signed } from "../words";
  import Caption from "./Caption.svelte";
  import { type By, Carrier, heldBy, moved, round } from "./carrier";
  import Drawing from "./Drawing.svelte";
  import type { Placements } from "./placements.svelte";
  import Paper from "./Paper.svelte";
  import { reaches, tiedTo } from "./reach";
  import Ruler from "./Ruler.svelte";
  import { SNAP, snapped } from "./snap";
  import { RULER, type Seen, Viewport } from "./viewport.svelte";

  let {
    session,
    seat,
    placements,
    mark,
    letter,
    onletter,
    onpick,
    onghost,
  }: {
    session: Session;
    seat: SeatView;
    placements: Placements;
    mark?: Mark;
    /** The letter of the mark that is changed by itself. */
    letter?: number;
    onletter: (at: number) => void;
    onpick: (id: string) => void;
    /** The mark as it is being dragged; nothing when it was let go. */
    onghost: (mark: Mark | undefined) => void;
  } = $props();

  /** Percent from which on it is marked where the placement is off most. */
  const SHOWN_STRETCH = 0.5;

  /** The mark as it was when it was grabbed, and how far it has come. */
  let drag = $state.raw<{
    mark: Mark;
    placed: PlacementView;
    from: [number, number];
    by: [number, number];
    snaps: [number?, number?];
    /** The letter that was grabbed. */
    letter?: number;
  }>();
  let pan: { from: [number, number]; seen: Seen } | undefined;

  /** Moved over the strip it keeps its shape. */
  const beside = $derived(mark?.place.baseline.line === "edge" ? mark.place.baseline : undefined);
  const stiff = $derived(seat.stiff && mark?.place.placement === "wrapped" && !beside);
  // while it is dragged, a stiff mark is drawn from where it was grabbed; any other is laid anew
  const placed = $derived((stiff ? drag?.placed : undefined) ?? placements.of(mark?.id) ?? drag?.placed);
  const others = $derived(
    session.marks.filter((m) => m.id !== mark?.id && m.on && JSON.stringify(m.seat) === JSON.stringify(mark?.seat)),
  );

  const laidOthers = $derived(others.flatMap((other) => placements.of(other.id) ?? []));
  // svelte-ignore state_referenced_locally
  const carrier = new Carrier(session, (mark) => onghost(mark));
  const view = new Viewport((view) => {
    if (!placed) return view.fit(seat.low, seat.high);
    const xs = placed.outline.map((c) => c[0]);
    const ys = placed.outline.map((c) => c[1]);
    const size = Math.max(...ys) - Math.min(...ys);
    const room = Math.max(0.9 * size, 0.22 * (Math.max(...xs) - Math.min(...xs)));
    const low = [Math.max(seat.low[0] - 1, Math.min(...xs) - room), Math.max(seat.low[1] - 1, Math.min(...ys) - room)];
    const high = [
      Math.min(seat.high[0] + 1, Math.max(...xs) + room),
      Math.min(seat.high[1] + 1, Math.max(...ys) + room),
    ];
    return view.fit(low, high);
  });
  // another mark, another place to look at; a change of the same one is none
  const looked = $derived(`${mark?.id} ${seat.face}`);
  $effect(() => {
    void looked;
    view.chosen = undefined;
  });

  const path = (ring: number[][]) =>
    ring.map((p, k) => `${k ? "L" : "M"}${p[0].toFixed(4)} ${p[1].toFixed(4)}`).join("");

  const by = $derived<By>((stiff ? drag?.by : undefined) ?? [0, 0]);

  const shown = $derived(placed && mark ? reaches(mark, placed, seat, by, 34 / view.seen.scale) : []);

  /** The letter in whose box a place lies: strokes are thin. */
  function letterUnder(group: Element, x: number, y: number): string | undefined {
    const over = [...group.querySelectorAll<SVGElement>("[data-letter]")].find((path) => {
      const box = path.getBoundingClientRect();
      return x >= box.left && x <= box.right && y >= box.top && y <= box.bottom;
    });
    return over?.dataset.letter;
  }

  function down(event: PointerEvent) {
    if (event.button !== 0) return;
    if ((event.target as Element).closest("[data-press]")) return;
    const target = event.currentTarget as SVGSVGElement;
    target.setPointerCapture(event.pointerId);
    const grabbed = (event.target as Element).closest("[data-grab]");
    const other = (event.target as Element).closest<SVGElement>("[data-other]")?.dataset.other;
    if (grabbed && placed && mark) {
      view.still = view.seen;
      const own = letterUnder(grabbed, event.clientX, event.clientY);
      const from: [number, number] = [event.clientX, event.clientY];
      drag = { mark, placed, from, by: [0, 0], snaps: [], letter: own === undefined ? undefined : Number(own) };
    } else if (other) onpick(other);
    else pan = { from: [event.clientX, event.clientY], seen: view.seen };
  }

  function move(event: PointerEvent) {
    if (pan) view.pan(pan.seen, event.clientX - pan.from[0], event.clientY - pan.from[1]);
    if (!drag) return;
    const grabbed = drag.placed;
    let want: [number, number] = [
      (event.clientX - drag.from[0]) / view.seen.scale,
      -(event.clientY - drag.from[1]) / view.seen.scale,
    ];
    const snaps: [number?, number?] = [];
    for (const k of [0, 1] as const) {
      const reach = grabbed.outline.map((c) => c[k]);
      // Shift drags past the snaps
      if (!event.shiftKey)
        [want[k], snaps[k]] = snapped(
          want[k],
          k,
          [Math.min(...reach), Math.max(...reach)],
          seat,
          laidOthers,
          SNAP / view.seen.scale,
        );
    }
    want = [round(want[0]), round(want[1])];
    drag = { ...drag, by: want, snaps };
    if (stiff) onghost(moved(drag.mark, drag.placed, seat, want, snaps));
    else void carrier.carry(drag.mark, drag.placed, want);
  }

  async function up() {
    pan = undefined;
    if (!drag) return;
    const { mark: was, placed: from, by, snaps, letter: own } = drag;
    if (!by[0] && !by[1] && own !== undefined) onletter(own);
    if (by[0] || by[1]) {
      // the paper stays where it was under the hand
      view.chosen = view.still;
      const put = stiff ? moved(was, from, seat, by, snaps) : await carrier.carry(was, from, by);
      if (put) await session.set(was.id, { place: heldBy(put.place) });
    }
    drag = undefined;
    view.still = undefined;
    onghost(undefined);
  }

  function keys(event: KeyboardEvent) {
    const step = event.shiftKey ? 1 : 0.1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    if (!by || !mark || !placed) return;
    event.preventDefault();
    if (nudged?.mark.id !== mark.id) {
      void nudge();
      nudged = { mark, placed, by: [0, 0] };
    }
    nudged.by = [round(nudged.by[0] + by[0]), round(nudged.by[1] + by[1])];
    if (stiff) onghost(moved(nudged.mark, nudged.placed, seat, nudged.by, []));
    else void carrier.carry(nudged.mark, nudged.placed, nudged.by);
    // one change in the history for a run of steps
    clearTimeout(waiting);
    waiting = setTimeout(() => void nudge(), 350);
  }

  /** A run of steps with the arrows: from where, and how far. */
  let nudged: { mark: Mark; placed: PlacementView; by: [number, number] } | undefined;
  let waiting: ReturnType<typeof setTimeout> | undefined;

  async function nudge() {
    const run = nudged;
    nudged = undefined;
    clearTimeout(waiting);
    if (!run) return;
    const put = stiff
      ? moved(run.mark, run.placed, seat, run.by, [])
      : await carrier.carry(run.mark, run.placed, run.by);
    if (put) await session.set(run.mark.id, { place: heldBy(put.place) });
    if (!nudged) onghost(undefined);
  }

  /** The mark stands beside another edge. */
  const stand = (near: number[]) =>
    mark && beside && session.set(mark.id, { place: { baseline: { ...beside, near } } });

  /** Ties to a point hold on to another one. */
  function tieTo(point: SeatView["points"][number]["point"]) {
    void session.inTurn(async () => {
      if (!mark) return false;
      const to = (key: "along" | "up") => (mark.place[key].tie === "point" ? { [key]: { tie: "point", point } } : {});
      return session.set(mark.id, { place: { ...to("along"), ...to("up") } });
    });
  }

  const ties = $derived(mark ? [mark.place.along, mark.place.up] : []);
  const byPoint = $derived(ties.some((t) => t.tie === "point"));
  const pointWords = { corner: "corner", centre: "centre of a round edge", halfway: "halfway along an edge" };
</script>

<figure>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    bind:clientWidth={view.wide}
    bind:clientHeight={view.tall}
    role="application"
    aria-label="The strip: {seat.says}. Drag the mark, or move it with the arrow keys."
    tabindex="0"
    data-scale={view.seen.scale}
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onwheel={(event) => view.wheel(event)}
    onkeydown={keys}
  >
    <defs>
      <clipPath id="paper"
        ><rect
          x={RULER}
          y={RULER}
          width={Math.max(0, view.wide - RULER)}
          height={Math.max(0, view.tall - RULER)}
        /></clipPath
      >
      <pattern
        id="kept-free"
        width="6"
        height="6"
        patternUnits="userSpaceOnUse"
        patternTransform="{view.shade} rotate(-45)"
      >
        <line x1="0" x2="0" y1="0" y2="6" />
      </pattern>
    </defs>
    <g clip-path="url(#paper)">
      <Paper {seat} {view} />
      {#each others as other (other.id)}
        {@const its = placements.of(other.id)}
        {#if its}<Drawing mark={other} placed={its} transform={view.matrix} />{/if}
      {/each}
      {#if drag}
        {#if drag.snaps[0] !== undefined}<line
            class="snap"
            x1={view.x(drag.snaps[0])}
            x2={view.x(drag.snaps[0])}
            y1={RULER}
            y2={view.tall}
          />{/if}
        {#if drag.snaps[1] !== undefined}<line
            class="snap"
            x1={RULER}
            x2={view.wide}
            y1={view.y(drag.snaps[1])}
            y2={view.y(drag.snaps[1])}
          />{/if}
      {/if}
      {#if placed && mark}
        <Drawing {mark} {placed} picked {letter} transform="{view.matrix} translate({by[0]} {by[1]})" />
        {#if Math.abs(placed.scale_error) >= SHOWN_STRETCH}
          <path
            class="worst"
            d="M0-5L5 0L0 5L-5 0Z"
            transform="translate({view.x(placed.worst_at[0])} {view.y(placed.worst_at[1])})"
          >
            <title>Lengths are off most here, by {signed(placed.scale_error, 1)} %</title>
          </path>
        {/if}
        {#if beside}
          {#each seat.edges as edge, k (k)}
            <!-- svelte-ignore a11y_click_events_have_key_events -->
            <path
              class="rail"
              role="button"
              tabindex="-1"
              aria-label="stand beside this edge"
              data-press
              d={path(edge.path)}
              transform={view.matrix}
              vector-effect="non-scaling-stroke"
              onclick={() => void stand(edge.near)}
            />
          {/each}
        {/if}
        {#if byPoint}
          {#each seat.points as p, k (k)}
            <!-- svelte-ignore a11y_click_events_have_key_events -->
            <circle
              class="point"
              class:held={tiedTo(mark, p.point)}
              role="button"
              tabindex="-1"
              aria-label="tie to the {pointWords[p.point.kind]}"
              data-press
              cx={view.x(p.at[0])}
              cy={view.y(p.at[1])}
              r={p.point.kind === "halfway" ? 3.5 : 5}
              onclick={() => tieTo(p.point)}
            >
              <title>{pointWords[p.point.kind]}</title>
            </circle>
          {/each}
        {/if}
        {#each shown as d, k (k)}
          <line class="reach" x1={view.x(d.x1)} y1={view.y(d.y1)} x2={view.x(d.x2)} y2={view.y(d.y2)} />
          {@const mx = Math.min(view.wide - 34, Math.max(RULER + 30, (view.x(d.x1) + view.x(d.x2)) / 2))}
          {@const my = Math.min(view.tall - 14, Math.max(RULER + 12, (view.y(d.y1) + view.y(d.y2)) / 2))}
          <g class="chip" transform="translate({mx} {my})">
            <rect x="-24" y="-10" width="48" height="20" rx="4" />
            <text text-anchor="middle" y="4">{signed(d.mm, 2)}</text>
          </g>
        {/each}
      {/if}
    </g>
    <Ruler {view} />
  </svg>
  <Caption {session} {seat} {mark} {view} />
</figure>

<style>
  figure {
    position: relative;
    display: flex;
    flex-direction: column;
    width: 100%;
    height: 100%;
    margin: 0;
    background: var(--enamel);
  }
  svg {
    display: block;
    flex: 1;
    min-height: 0;
    width: 100%;
    touch-action: none;
    user-select: none;
    cursor: grab;
  }
  #kept-free line {
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .rail {
    fill: none;
    stroke: transparent;
    stroke-width: 14;
    pointer-events: stroke;
    cursor: pointer;
  }
  .rail:hover {
    stroke: rgb(from var(--pick) r g b / 0.3);
  }
  .point {
    fill: var(--enamel);
    stroke: var(--pick);
    stroke-width: 1.4;
    cursor: pointer;
  }
  .point.held,
  .point:hover {
    fill: var(--pick);
  }
  .reach {
    stroke: var(--marginal);
    stroke-width: 1.2;
  }
  .worst {
    fill: var(--enamel);
    stroke: var(--marginal);
    stroke-width: 1.5;
  }
  .snap {
    stroke: var(--pick);
    stroke-dasharray: 5 4;
  }
  .chip rect {
    fill: var(--enamel);
    stroke: var(--marginal);
  }
  .chip text {
    font-size: 12px;
    fill: var(--ink);
  }
</style>
