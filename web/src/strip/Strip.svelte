<!-- The seat unrolled flat at true size: rulers, edges, parting line, the marks on it. The picked mark is dragged here,
     snaps to the middles and to other marks, and shows its distances. -->
<script lang="ts">
  import { api, problem, type LayView, type Mark, type SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import { signed } from "../words";
  import type { Lays } from "./lays.svelte";
  import { ticks } from "./ruler";

  let {
    session,
    seat,
    lays,
    mark,
    letter,
    onletter,
    onpick,
    onghost,
  }: {
    session: Session;
    seat: SeatView;
    lays: Lays;
    mark?: Mark;
    /** The letter of the mark that is changed by itself. */
    letter?: number;
    onletter: (at: number) => void;
    onpick: (id: string) => void;
    /** The mark as it is being dragged; nothing when it was let go. */
    onghost: (mark: Mark | undefined) => void;
  } = $props();

  const RULER = 26;
  const SNAP = 7;
  /** Percent from which on it is marked where the lay is off most. */
  const SHOWN_STRETCH = 0.5;

  let wide = $state(0);
  let tall = $state(0);
  /** What is seen, mm: the middle and the scale. Nothing chosen yet: near the mark. */
  let chosen = $state<{ x: number; y: number; scale: number }>();
  /** The mark as it was when it was grabbed, and how far it has come. */
  let drag = $state.raw<{
    mark: Mark;
    lay: LayView;
    from: [number, number];
    by: [number, number];
    snaps: [number?, number?];
    /** The letter that was grabbed. */
    letter?: number;
  }>();
  let pan: { from: [number, number]; view: { x: number; y: number; scale: number } } | undefined;

  /** Moved over the strip it keeps its shape. */
  const beside = $derived(mark?.place.baseline.line === "edge" ? mark.place.baseline : undefined);
  const stiff = $derived(seat.stiff && mark?.place.lay === "rolled" && !beside);
  // while it is dragged, a stiff mark is drawn from where it was grabbed; any other is laid anew
  const lay = $derived((stiff ? drag?.lay : undefined) ?? lays.of(mark?.id) ?? drag?.lay);
  const others = $derived(
    session.marks.filter((m) => m.id !== mark?.id && m.on && JSON.stringify(m.seat) === JSON.stringify(mark?.seat)),
  );

  function fit(low: number[], high: number[]) {
    const scale = Math.min((wide - RULER - 24) / (high[0] - low[0]), (tall - RULER - 24) / (high[1] - low[1]));
    return { x: (low[0] + high[0]) / 2, y: (low[1] + high[1]) / 2, scale: Math.max(scale, 0.01) };
  }

  const near = $derived.by(() => {
    if (!lay) return fit(seat.low, seat.high);
    const xs = lay.outline.map((c) => c[0]);
    const ys = lay.outline.map((c) => c[1]);
    const size = Math.max(...ys) - Math.min(...ys);
    const room = Math.max(0.9 * size, 0.22 * (Math.max(...xs) - Math.min(...xs)));
    const low = [Math.max(seat.low[0] - 1, Math.min(...xs) - room), Math.max(seat.low[1] - 1, Math.min(...ys) - room)];
    const high = [
      Math.min(seat.high[0] + 1, Math.max(...xs) + room),
      Math.min(seat.high[1] + 1, Math.max(...ys) + room),
    ];
    return fit(low, high);
  });
  // while a mark is dragged the paper lies still
  let held = $state<typeof near>();
  const view = $derived(chosen ?? held ?? near);
  // another mark, another place to look at; a change of the same one is none
  const looked = $derived(`${mark?.id} ${seat.face}`);
  $effect(() => {
    void looked;
    chosen = undefined;
  });

  const X = (x: number) => RULER + (wide - RULER) / 2 + (x - view.x) * view.scale;
  const Y = (y: number) => RULER + (tall - RULER) / 2 - (y - view.y) * view.scale;
  const matrix = $derived(`matrix(${view.scale} 0 0 ${-view.scale} ${X(0)} ${Y(0)})`);
  /** Hatching keeps its width whatever the scale. */
  const shade = $derived(`scale(${1 / view.scale} ${-1 / view.scale})`);
  const across = $derived(
    ticks(view.x - (wide - RULER) / 2 / view.scale, view.x + (wide - RULER) / 2 / view.scale, view.scale),
  );
  const upward = $derived(
    ticks(view.y - (tall - RULER) / 2 / view.scale, view.y + (tall - RULER) / 2 / view.scale, view.scale),
  );
  const path = (ring: number[][]) =>
    ring.map((p, k) => `${k ? "L" : "M"}${p[0].toFixed(4)} ${p[1].toFixed(4)}`).join("");
  const edges = $derived(seat.outline.map(path).join(""));
  const area = $derived(seat.area.map((ring) => `${path(ring)}Z`).join(""));
  const parting = $derived(seat.parting.map(([a, b]) => `M${a[0]} ${a[1]}L${b[0]} ${b[1]}`).join(""));

  const creases = $derived(seat.creases.map(([a, b]) => `M${a[0]} ${a[1]}L${b[0]} ${b[1]}`).join(""));

  const borderPath = (edges: number[][][]) => edges.map(([a, b]) => `M${a[0]} ${a[1]}L${b[0]} ${b[1]}`).join("");

  const by = $derived<[number, number]>((stiff ? drag?.by : undefined) ?? [0, 0]);

  /** The extents of the picked mark where it lies now: left, right, below, above. */
  const box = $derived.by(() => {
    if (!lay) return undefined;
    const xs = lay.outline.map((c) => c[0] + by[0]);
    const ys = lay.outline.map((c) => c[1] + by[1]);
    return { left: Math.min(...xs), right: Math.max(...xs), below: Math.min(...ys), above: Math.max(...ys) };
  });
  const round = (v: number) => Math.round(v * 100) / 100;

  /** The distances that the ties keep, or the nearer edge's where the middle is tied. */
  const shown = $derived.by(() => {
    if (!lay || !mark || !box || seat.bends || beside) return [];
    const [left, right, below, above] = [
      lay.margins[0] + by[0],
      lay.margins[1] - by[0],
      lay.margins[2] + by[1],
      lay.margins[3] - by[1],
    ];
    const place = mark.place;
    const y = (box.below + box.above) / 2;
    const x = (box.left + box.right) / 2;
    const reach = [];
    // round a middle that is tied the edges' distances say nothing
    const loose = place.baseline.line === "arc" ? ["from_start", "from_end"] : undefined;
    if (loose && !loose.includes(place.along.tie) && !loose.includes(place.up.tie)) return [];
    for (const [k, tie] of [place.along, place.up].entries()) {
      if (tie.tie !== "point") continue;
      const held = seat.points.find((p) => tiedTo(p.point) && p.point.kind === tie.point.kind);
      if (!held) continue;
      const to = lay.held[k] + by[k];
      const [a, b] = [held.at[0], held.at[1]];
      if (k === 0) reach.push({ x1: a, y1: y, x2: to, y2: y, mm: to - a });
      else reach.push({ x1: x, y1: b, x2: x, y2: to, mm: to - b });
    }
    if (place.along.tie === "point" || place.along.tie === "mark") {
      // shown from what it is tied to
    } else if (place.along.tie === "from_end") reach.push({ x1: box.right, y1: y, x2: seat.end[0], y2: y, mm: right });
    else if (!seat.closed[0]) reach.push({ x1: seat.start[0], y1: y, x2: box.left, y2: y, mm: left });
    // a seat that closes on itself has no edge there: the distance that counts is from its crown
    if (place.up.tie === "point" || place.up.tie === "mark") {
      // as along
    } else if (seat.closed[1]) {
      const beside = box.right + 34 / view.scale;
      reach.push({ x1: beside, y1: 0, x2: beside, y2: y, mm: y });
    } else if (place.up.tie === "from_end") reach.push({ x1: x, y1: box.above, x2: x, y2: seat.end[1], mm: above });
    else reach.push({ x1: x, y1: seat.start[1], x2: x, y2: box.below, mm: below });
    return reach;
  });

  function snap(want: number, k: 0 | 1, low: number, high: number): [number, number?] {
    const lines = seat.bends ? [] : [(seat.start[k] + seat.end[k]) / 2];
    if (seat.crown && k === 1) lines.push(0);
    const points: [number, number][] = lines.map((l) => [l, (low + high) / 2]);
    for (const other of others) {
      const outline = lays.of(other.id)?.outline;
      if (!outline) continue;
      const [a, b] = [Math.min(...outline.map((c) => c[k])), Math.max(...outline.map((c) => c[k]))];
      points.push([a, low], [b, high], [(a + b) / 2, (low + high) / 2]);
    }
    let best: [number, number?] = [want];
    let least = SNAP / view.scale;
    for (const [line, own] of points) {
      const miss = Math.abs(own + want - line);
      if (miss < least) {
        least = miss;
        best = [line - own, line];
      }
    }
    return best;
  }

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
    if (grabbed && lay && mark) {
      held = view;
      const own = letterUnder(grabbed, event.clientX, event.clientY);
      const from: [number, number] = [event.clientX, event.clientY];
      drag = { mark, lay, from, by: [0, 0], snaps: [], letter: own === undefined ? undefined : Number(own) };
    } else if (other) onpick(other);
    else pan = { from: [event.clientX, event.clientY], view };
  }

  function move(event: PointerEvent) {
    if (pan) {
      chosen = {
        x: pan.view.x - (event.clientX - pan.from[0]) / view.scale,
        y: pan.view.y + (event.clientY - pan.from[1]) / view.scale,
        scale: view.scale,
      };
    }
    if (!drag) return;
    const grabbed = drag.lay;
    let want: [number, number] = [
      (event.clientX - drag.from[0]) / view.scale,
      -(event.clientY - drag.from[1]) / view.scale,
    ];
    const snaps: [number?, number?] = [];
    for (const k of [0, 1] as const) {
      const reach = grabbed.outline.map((c) => c[k]);
      // Shift drags past the snaps
      if (!event.shiftKey) [want[k], snaps[k]] = snap(want[k], k, Math.min(...reach), Math.max(...reach));
    }
    want = [round(want[0]), round(want[1])];
    drag = { ...drag, by: want, snaps };
    if (stiff) onghost(moved(drag.mark, drag.lay, want, snaps));
    else void carry(drag.mark, drag.lay, want);
  }

  /** Marks that are carried now, by their ids, and where to next. */
  const carried = new Map<string, { wish?: [number, number]; done: Promise<Mark | undefined> }>();

  /** Carries a mark that changes its shape on the way: the server lays it, the newest wish goes first. */
  function carry(mark: Mark, from: LayView, by: [number, number]): Promise<Mark | undefined> {
    const wish: [number, number] = [from.middle[0] + by[0], from.middle[1] + by[1]];
    const under = carried.get(mark.id);
    if (under) {
      under.wish = wish;
      return under.done;
    }
    const way: { wish?: [number, number] } = { wish };
    const done = (async () => {
      let last: Mark | undefined;
      try {
        while (way.wish) {
          const to = way.wish;
          way.wish = undefined;
          const { data } = await api.POST("/api/jobs/{id}/lay", {
            params: session.params,
            body: { mark, to },
          });
          if (data) onghost((last = { ...mark, place: data.place }));
        }
      } catch (e) {
        session.trouble = problem(e);
      }
      carried.delete(mark.id);
      return last;
    })();
    carried.set(mark.id, Object.assign(way, { done }));
    return done;
  }

  /** The mark with its ties carried along: a distance stays a distance. */
  function moved(mark: Mark, lay: LayView, by: [number, number], snaps: [number?, number?]): Mark {
    const place = mark.place;
    const tie = (k: 0 | 1) => {
      const old = k === 0 ? place.along : place.up;
      if (by[k] === 0) return old;
      if (old.tie === "from_start") return { ...old, distance: round(old.distance + by[k]) };
      if (old.tie === "from_end") return { ...old, distance: round(old.distance - by[k]) };
      if (old.tie === "point" || old.tie === "mark") return { ...old, distance: round(old.distance + by[k]) };
      const at = lay.held[k] + by[k];
      const middle = !place.anchor[k === 0 ? "along" : "up"];
      if (middle && snaps[k] === (seat.start[k] + seat.end[k]) / 2 && Math.abs(at - snaps[k]) < 0.02)
        return { tie: "middle" as const };
      return { tie: "at" as const, position: round(at) };
    };
    return { ...mark, place: { ...place, along: tie(0), up: tie(1) } };
  }

  async function up() {
    pan = undefined;
    if (!drag) return;
    const { mark: was, lay: from, by, snaps, letter: own } = drag;
    if (!by[0] && !by[1] && own !== undefined) onletter(own);
    if (by[0] || by[1]) {
      // the paper stays where it was under the hand
      chosen = held;
      const put = stiff ? moved(was, from, by, snaps) : await carry(was, from, by);
      if (put) await session.set(was.id, { place: heldBy(put.place) });
    }
    drag = undefined;
    held = undefined;
    onghost(undefined);
  }

  function wheel(event: WheelEvent) {
    event.preventDefault();
    const bounds = (event.currentTarget as Element).getBoundingClientRect();
    const [px, py] = [
      event.clientX - bounds.left - RULER - (wide - RULER) / 2,
      event.clientY - bounds.top - RULER - (tall - RULER) / 2,
    ];
    const scale = Math.min(400, Math.max(0.2, view.scale * Math.exp(-event.deltaY * 0.0015)));
    chosen = { x: view.x + px / view.scale - px / scale, y: view.y - py / view.scale + py / scale, scale };
  }

  function keys(event: KeyboardEvent) {
    const step = event.shiftKey ? 1 : 0.1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    if (!by || !mark || !lay) return;
    event.preventDefault();
    if (nudged?.mark.id !== mark.id) {
      void nudge();
      nudged = { mark, lay, by: [0, 0] };
    }
    nudged.by = [round(nudged.by[0] + by[0]), round(nudged.by[1] + by[1])];
    if (stiff) onghost(moved(nudged.mark, nudged.lay, nudged.by, []));
    else void carry(nudged.mark, nudged.lay, nudged.by);
    // one change in the history for a run of steps
    clearTimeout(waiting);
    waiting = setTimeout(() => void nudge(), 350);
  }

  /** A run of steps with the arrows: from where, and how far. */
  let nudged: { mark: Mark; lay: LayView; by: [number, number] } | undefined;
  let waiting: ReturnType<typeof setTimeout> | undefined;

  async function nudge() {
    const run = nudged;
    nudged = undefined;
    clearTimeout(waiting);
    if (!run) return;
    const put = stiff ? moved(run.mark, run.lay, run.by, []) : await carry(run.mark, run.lay, run.by);
    if (put) await session.set(run.mark.id, { place: heldBy(put.place) });
    if (!nudged) onghost(undefined);
  }

  /** What of a place a drag changes. */
  const heldBy = ({ along, up, baseline }: Mark["place"]) => (baseline.line === "edge" ? { baseline } : { along, up });

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
  const tiedTo = (p: SeatView["points"][number]["point"]) =>
    ties.some(
      (t) =>
        t.tie === "point" &&
        t.point.kind === p.kind &&
        Math.hypot(...t.point.near.map((c: number, i: number) => c - p.near[i])) < 0.05,
    );
  const pointWords = { corner: "corner", centre: "middle of a round edge", halfway: "halfway along an edge" };
</script>

<figure>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    bind:clientWidth={wide}
    bind:clientHeight={tall}
    role="application"
    aria-label="The strip: {seat.says}. Drag the mark, or move it with the arrow keys."
    tabindex="0"
    data-scale={view.scale}
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onwheel={wheel}
    onkeydown={keys}
  >
    <defs>
      <clipPath id="paper"
        ><rect x={RULER} y={RULER} width={Math.max(0, wide - RULER)} height={Math.max(0, tall - RULER)} /></clipPath
      >
      <clipPath id="strip">
        <polygon points={seat.bounds.map((p) => p.join(",")).join(" ")} />
      </clipPath>
      <pattern id="kept-free" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="{shade} rotate(-45)">
        <line x1="0" x2="0" y1="0" y2="6" />
      </pattern>
      <pattern id="out" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="{shade} rotate(45)">
        <line x1="0" x2="0" y1="0" y2="7" />
      </pattern>
    </defs>
    <g clip-path="url(#paper)">
      <g transform={matrix} clip-path="url(#strip)">
        <path class="seat" d={area} fill-rule="evenodd" />
        <path class="edges" d={edges} vector-effect="non-scaling-stroke" />
        <path class="crease" d={creases} vector-effect="non-scaling-stroke" />
        <path class="parting" d={parting} vector-effect="non-scaling-stroke" />
        {#each seat.keep_outs as k (k.name)}
          {#if k.whole}<path class="keep-out" d={area} fill-rule="evenodd" />{/if}
          {#each k.circles as c, at (at)}
            <circle class="margin" cx={c.at[0]} cy={c.at[1]} r={c.radius + k.margin} />
          {/each}
          {#if k.border.length}
            <path class="margin" d={borderPath(k.border)} style:stroke-width={2 * k.margin} />
            <path class="kept" d={borderPath(k.border)} vector-effect="non-scaling-stroke" />
          {/if}
          {#each k.circles as c, at (at)}
            <circle class="keep-out" cx={c.at[0]} cy={c.at[1]} r={c.radius} vector-effect="non-scaling-stroke" />
          {/each}
        {/each}
      </g>
      {#each seat.keep_outs as k (k.name)}
        {@const at = k.circles[0]?.at ?? k.border[0]?.[0] ?? [seat.low[0], seat.high[1]]}
        <text
          class="hint out"
          x={Math.max(RULER + 6, X(at[0]) + 4 > wide - 110 ? Math.min(wide - 6, X(at[0]) - 4) : X(at[0]) + 4)}
          text-anchor={X(at[0]) + 4 > wide - 110 ? "end" : "start"}
          y={Math.min(tall - 6, Math.max(RULER + 14, Y(at[1]) - 4))}>{k.name}</text
        >
      {/each}
      {#if seat.crown}
        <line class="crown" x1={X(seat.start[0])} x2={X(seat.end[0])} y1={Y(0)} y2={Y(0)} />
        <text class="hint" x={Math.max(RULER + 6, X(seat.start[0]) + 5)} y={Y(0) - 4}>crown</text>
      {/if}
      {#if seat.parting.length}
        {@const [a] = seat.parting[0]}
        <text class="hint seam" x={Math.max(RULER + 6, Math.min(wide - 80, X(a[0]) + 5))} y={Y(a[1]) - 4}
          >parting line</text
        >
      {/if}
      {#each others as other (other.id)}
        {@const otherLay = lays.of(other.id)}
        {#if otherLay}
          <g class="other" class:stamp={other.relief.sense === "stamp"} data-other={other.id} transform={matrix}>
            <polygon points={otherLay.outline.map((c) => c.join(",")).join(" ")} />
            {#if otherLay.field}<path class="field" d={otherLay.field} vector-effect="non-scaling-stroke" />{/if}
            {#if otherLay.kept_free.length}<path
                class="free"
                d={otherLay.kept_free.join("")}
                vector-effect="non-scaling-stroke"
              />{/if}
            {#each otherLay.characters as character, k (k)}<path
                d={character.path}
                fill-rule="evenodd"
                vector-effect="non-scaling-stroke"
              />{/each}
          </g>
        {/if}
      {/each}
      {#if drag}
        {#if drag.snaps[0] !== undefined}<line
            class="snap"
            x1={X(drag.snaps[0])}
            x2={X(drag.snaps[0])}
            y1={RULER}
            y2={tall}
          />{/if}
        {#if drag.snaps[1] !== undefined}<line
            class="snap"
            x1={RULER}
            x2={wide}
            y1={Y(drag.snaps[1])}
            y2={Y(drag.snaps[1])}
          />{/if}
      {/if}
      {#if lay && mark}
        <g
          class="mark"
          class:off={!mark.on}
          class:stamp={mark.relief.sense === "stamp"}
          data-grab
          transform="{matrix} translate({by[0]} {by[1]})"
        >
          <polygon
            class="grip"
            points={lay.outline.map((c) => c.join(",")).join(" ")}
            vector-effect="non-scaling-stroke"
          />
          {#if lay.field}<path class="field" d={lay.field} vector-effect="non-scaling-stroke" />{/if}
          {#if lay.kept_free.length}<path
              class="free"
              d={lay.kept_free.join("")}
              vector-effect="non-scaling-stroke"
            />{/if}
          {#each lay.characters as character (character.at)}
            <path
              d={character.path}
              fill-rule="evenodd"
              vector-effect="non-scaling-stroke"
              style:fill={character.at === letter ? null : character.colour}
              data-letter={character.at}
              class:chosen={character.at === letter}
            />
          {/each}
        </g>
        {#if Math.abs(lay.scale_error) >= SHOWN_STRETCH}
          <path class="worst" d="M0-5L5 0L0 5L-5 0Z" transform="translate({X(lay.worst_at[0])} {Y(lay.worst_at[1])})">
            <title>Here lengths are off most, by {signed(lay.scale_error, 1)} %</title>
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
              transform={matrix}
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
              class:held={tiedTo(p.point)}
              role="button"
              tabindex="-1"
              aria-label="tie to the {pointWords[p.point.kind]}"
              data-press
              cx={X(p.at[0])}
              cy={Y(p.at[1])}
              r={p.point.kind === "halfway" ? 3.5 : 5}
              onclick={() => tieTo(p.point)}
            >
              <title>{pointWords[p.point.kind]}</title>
            </circle>
          {/each}
        {/if}
        {#each shown as d, k (k)}
          <line class="reach" x1={X(d.x1)} y1={Y(d.y1)} x2={X(d.x2)} y2={Y(d.y2)} />
          {@const mx = Math.min(wide - 34, Math.max(RULER + 30, (X(d.x1) + X(d.x2)) / 2))}
          {@const my = Math.min(tall - 14, Math.max(RULER + 12, (Y(d.y1) + Y(d.y2)) / 2))}
          <g class="chip" transform="translate({mx} {my})">
            <rect x="-24" y="-10" width="48" height="20" rx="4" />
            <text text-anchor="middle" y="4">{signed(d.mm, 2)}</text>
          </g>
        {/each}
      {/if}
    </g>
    <g class="ruler">
      <rect width={wide} height={RULER} /><rect width={RULER} height={tall} />
      {#each across as tick (tick.at)}
        {#if X(tick.at) > RULER}
          <line x1={X(tick.at)} x2={X(tick.at)} y1={tick.label ? RULER - 9 : RULER - 4} y2={RULER} />
          {#if tick.label}<text x={X(tick.at)} y="13" text-anchor="middle">{tick.label}</text>{/if}
        {/if}
      {/each}
      {#each upward as tick (tick.at)}
        {#if Y(tick.at) > RULER}
          <line y1={Y(tick.at)} y2={Y(tick.at)} x1={tick.label ? RULER - 9 : RULER - 4} x2={RULER} />
          {#if tick.label}<text transform="translate(12 {Y(tick.at)}) rotate(-90)" text-anchor="middle"
              >{tick.label}</text
            >{/if}
        {/if}
      {/each}
      <rect class="corner" width={RULER} height={RULER} />
      <text x={RULER / 2} y={RULER / 2 + 4} text-anchor="middle">mm</text>
    </g>
  </svg>
  <figcaption>
    <span class="says" title={seat.says}>{seat.says}{seat.curved ? ", unrolled" : ""}</span>
    {#if mark}
      <span class="written">
        write {@render written(false)}, mirrored {@render written(true)}
      </span>
    {/if}
    <span class="acts">
      <button class="word" onclick={() => (chosen = undefined)}>near the mark</button>
      <button class="word" onclick={() => (chosen = fit(seat.low, seat.high))}>whole seat</button>
    </span>
  </figcaption>
</figure>

{#snippet written(tool: boolean)}
  {#each ["svg", "dxf"] as form (form)}
    {" "}<a
      class="word"
      href="/api/jobs/{session.id}/strips/{mark?.id}/{form}?{new URLSearchParams({
        tool: String(tool),
        ...(session.row === undefined ? {} : { row: String(session.row) }),
      })}"
      aria-label="the strip as {form.toUpperCase()}{tool ? ', mirrored for the tool' : ''}"
      download>{form.toUpperCase()}</a
    >
  {/each}
{/snippet}

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
  figcaption {
    display: flex;
    justify-content: space-between;
    gap: 18px;
    padding: 2px 14px 5px 30px;
    font-size: 12px;
    color: var(--ink-soft);
  }
  figcaption > span {
    flex: none;
  }
  figcaption > .says {
    flex: 0 1 auto;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .written .word {
    font-weight: 400;
  }
  .acts {
    display: flex;
    gap: 14px;
  }
  .acts .word {
    font-weight: 400;
  }
  .seat {
    fill: var(--plate);
  }
  .edges {
    fill: none;
    stroke: var(--rim);
    stroke-width: 1.3;
  }
  .crease {
    fill: none;
    stroke: var(--rivet);
    stroke-width: 1;
    stroke-dasharray: 2 3;
  }
  .parting {
    fill: none;
    stroke: var(--seam);
    stroke-width: 1.6;
    stroke-dasharray: 9 5;
  }
  .keep-out {
    fill: url(#out);
    stroke: var(--keep-out);
  }
  .margin {
    fill: rgb(from var(--keep-out) r g b / 0.12);
    stroke: rgb(from var(--keep-out) r g b / 0.12);
    stroke-width: 0;
  }
  path.margin {
    fill: none;
  }
  .kept {
    stroke: var(--keep-out);
    stroke-width: 2.5;
  }
  #out line {
    stroke: var(--keep-out);
    stroke-width: 1.6;
  }
  .out {
    fill: var(--keep-out);
  }
  .crown {
    stroke: var(--rivet);
    stroke-dasharray: 2 3;
  }
  .hint {
    font-size: 11px;
    fill: var(--ink-soft);
  }
  .seam {
    fill: var(--seam);
  }
  .mark {
    fill: var(--ink);
    cursor: move;
  }
  .field {
    fill: none;
    stroke: var(--rim);
    stroke-width: 1.2;
  }
  .stamp path,
  .free {
    fill: url(#kept-free);
    stroke: var(--ink);
    stroke-width: 1.2;
  }
  .other.stamp path,
  .other .free {
    stroke: var(--rivet);
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
  .mark .chosen {
    fill: var(--pick);
  }
  .mark.off {
    fill: var(--rivet);
  }
  .grip {
    fill: transparent;
    stroke: var(--pick);
    stroke-width: 1.2;
  }
  .other {
    fill: var(--rivet);
    cursor: pointer;
  }
  .other polygon {
    fill: transparent;
  }
  .other:hover {
    fill: var(--rim-soft);
  }
  .reach {
    stroke: var(--close);
    stroke-width: 1.2;
  }
  .worst {
    fill: var(--enamel);
    stroke: var(--close);
    stroke-width: 1.5;
  }
  .snap {
    stroke: var(--pick);
    stroke-dasharray: 5 4;
  }
  .chip rect {
    fill: var(--enamel);
    stroke: var(--close);
  }
  .chip text {
    font-size: 12px;
    fill: var(--ink);
  }
  .ruler rect {
    fill: var(--plate);
  }
  .ruler line {
    stroke: var(--rim-soft);
  }
  .ruler text {
    font-size: 10.5px;
    fill: var(--ink-soft);
  }
</style>
