<!-- The part in three dimensions. Everything heavy is loaded when this is first shown. -->
<script lang="ts">
  import { onMount, untrack, type Snippet } from "svelte";
  import { api, type PlacementView, type Witness } from "../api/client";
  import type { Session } from "../session.svelte";
  import type { Paint, SurfaceMap } from "./map";
  import type { Lamp } from "./lamp.svelte";
  import { fetchPiece, type Piece } from "./mesh";
  import type { Cut, OnCut } from "./cut";
  import type { MarkedMap, ReadOff } from "./markedMap";
  import type { Picked, Point, Table, Target } from "./table";
  import TorchPad from "./TorchPad.svelte";
  import Views from "./Views.svelte";

  let {
    session,
    bare = false,
    mark,
    ghost,
    face,
    witnesses = [],
    target,
    note,
    cut,
    map,
    markedMap,
    areas,
    brush,
    torch,
    onpress,
    oncut,
    onhover,
    onread,
    ongrab,
    children,
  }: {
    session: Session;
    /** The part without its marks. */
    bare?: boolean;
    /** The picked mark, by its place in the job. */
    mark?: number;
    ghost?: PlacementView;
    face?: number;
    witnesses?: Witness[];
    /** What to turn to; a new object turns the view. */
    target?: Target;
    /** What is said at the first witness. */
    note?: string;
    /** The part cut open; a press then gives the place on it. */
    cut?: Cut;
    /** The surface painted with a map. */
    map?: { map: SurfaceMap; paint: Paint };
    /** Places of the marked solid painted with their figures. */
    markedMap?: MarkedMap;
    /** Patches of the part to show: whole faces, and triangles. */
    areas?: { faces: number[]; triangles: Point[][] };
    /** Where a brush has gone. */
    brush?: { at: Point; out: Point; radius: number }[];
    /** A torch, and where the mark lies that it is carried round. */
    torch?: { lamp: Lamp; round?: PlacementView };
    onpress?: (picked: Picked | undefined, double: boolean, event: MouseEvent) => void;
    oncut?: (at: OnCut | undefined) => void;
    /** What the pointer passes over, and where in the view. */
    onhover?: (picked: Picked | undefined, x: number, y: number) => void;
    /** What such a map says under the pointer, and where in the view. */
    onread?: (read: ReadOff | undefined, x: number, y: number) => void;
    /** Says whether what was grabbed is to be dragged, and how. */
    ongrab?: (picked: Picked) => { moved: (to: Picked) => void; dropped: (to: Picked) => void } | undefined;
    children?: Snippet;
  } = $props();

  let canvas: HTMLCanvasElement;
  let table = $state.raw<Table>();
  let failed = $state("");
  let framed = "";
  /** The piece that is on the table; maps and patches are drawn on it. */
  let shownName = $state("");
  let arrow = $state<{ x1: number; y1: number; x2: number; y2: number }>();
  let flag = $state<{ x: number; y: number }>();
  const known = new Map<string, Piece>();

  onMount(() => {
    let gone = false;
    void import("./table")
      .then(({ Table }) => {
        if (!gone) table = new Table(canvas);
      })
      .catch((e: unknown) => (failed = `The view can't be drawn here (${String(e)}). Everything else works.`));
    return () => {
      gone = true;
      table?.close();
    };
  });

  /** The pieces to show, by name, with their addresses. */
  const wanted = $derived.by(() => {
    const view = session.view;
    if (!view) return [];
    if (bare || !session.solid)
      return [{ name: view.part.mesh, url: `/api/jobs/${session.id}/part/${view.part.mesh}` }];
    return session.solid.pieces.map((name) => ({ name, url: `/api/pieces/${name}` }));
  });

  $effect(() => {
    const shown = table;
    const pieces = wanted;
    if (!shown || !pieces.length) return;
    let overtaken = false;
    void Promise.all(
      pieces.map(async ({ name, url }) => {
        const piece = known.get(name) ?? (await fetchPiece(url));
        if (piece) known.set(name, piece);
        return [name, piece] as const;
      }),
    ).then((all) => {
      if (overtaken) return;
      const whole = all.filter((entry): entry is [string, Piece] => !!entry[1]);
      // a piece that is no longer to be had belongs to an older state; the newer one follows
      if (whole.length < all.length) return;
      const sound = session.view?.part.soundness;
      shown.open = sound?.solid ? "no" : sound?.surface_body && !bare ? "marked" : "bare";
      shown.show(new Map(whole));
      for (const name of known.keys()) if (!pieces.some((p) => p.name === name)) known.delete(name);
      const view = untrack(() => session.view);
      if (view && framed !== view.part.mesh) {
        framed = view.part.mesh;
        shown.frame(view.part.size as Point, view.part.middle as Point);
        shown.faults(
          view.part.soundness.bad_edges as Point[][],
          view.part.soundness.crossing_triangles as Point[][],
          bare ? (view.part.soundness.sliver_edges as Point[][]) : [],
        );
        if (untrack(() => target)) turn();
      }
      shown.face(untrack(() => face));
      shownName = pieces[0].name;
    });
    return () => (overtaken = true);
  });

  const tool = $derived(JSON.stringify([session.view?.part.mesh, session.view?.job.tool]));
  $effect(() => {
    const shown = table;
    if (!shown || !tool) return;
    void api.GET("/api/jobs/{id}/parting", { params: { path: { id: session.id } } }).then(({ data }) => {
      if (data) shown.parting(data as Point[][]);
    });
  });

  $effect(() => table?.pick(mark ?? -1));
  $effect(() => table?.ghost((ghost?.on_part ?? []) as Point[][], !!pressed?.drag));
  $effect(() => table?.cut(cut));
  $effect(() => {
    if (shownName && bare) table?.map(map?.map, map?.paint);
  });
  $effect(() => {
    if (shownName && !bare) table?.markedMap(markedMap);
  });
  $effect(() => {
    if (shownName) table?.areas(areas?.faces ?? [], areas?.triangles ?? []);
  });
  $effect(() => table?.brush(brush ?? []));
  $effect(() => {
    const lamp = torch?.lamp.at;
    if (!torch?.round || !lamp) {
      table?.light(undefined);
      return;
    }
    const { at, out, up, low, high } = torch.round;
    // shadows of what stands beside it, too
    const reach = 0.75 * Math.hypot(high[0] - low[0], high[1] - low[1]) + 4;
    table?.light({ at: at as Point, out: out as Point, up: up as Point, reach, ...lamp });
  });
  $effect(() => table?.face(face));
  $effect(() => table?.witness(witnesses));
  $effect(() => {
    if (table && target && framed) turn();
  });

  function turn() {
    if (table && target) table.turns.lookAt(target.at, target.out, target.up, target.extent, target.lean);
  }

  // the arrow of the pull is drawn over the picture, so that it never hides in the part
  $effect(() => {
    if (!table) return;
    const view = session.view;
    const first = note ? witnesses[0] : undefined;
    table.ondrawn = (pixels) => {
      const at =
        first?.kind === "point"
          ? first.at
          : first?.kind === "pair"
            ? first.from.map((c, k) => (c + first.to[k]) / 2)
            : first && middle(first.corners);
      const [x, y] = at ? pixels(at as Point) : [0, 0];
      flag = at && { x, y };
      const pull = view?.job.tool.pull;
      if (!view || !pull) {
        arrow = undefined;
        return;
      }
      const long = Math.hypot(...pull);
      const centre = view.part.middle as Point;
      const [ox, oy] = pixels(centre);
      const tip = centre.map((c, k) => c + (pull[k] / long) * Math.max(...view.part.size)) as Point;
      const [tx, ty] = pixels(tip);
      const seen = Math.hypot(tx - ox, ty - oy);
      const [dx, dy] = seen > 6 ? [(tx - ox) / seen, (ty - oy) / seen] : [0, 0];
      arrow = { x1: 44, y1: 52, x2: 44 + 34 * dx, y2: 52 + 34 * dy };
    };
    const shown = table;
    untrack(() => shown.tell());
  });

  const middle = (corners: number[][]) => [0, 1, 2].map((k) => (corners[0][k] + corners[1][k] + corners[2][k]) / 3);

  export function whole() {
    table?.turns.whole();
  }

  let pressed: { x: number; y: number; drag?: ReturnType<NonNullable<typeof ongrab>>; last?: Picked } | undefined;

  function down(event: PointerEvent) {
    if (event.button !== 0 || !table) return;
    const picked = table.under(event.offsetX, event.offsetY);
    const drag = picked && ongrab?.(picked);
    if (drag) {
      table.turning = false;
      canvas.setPointerCapture(event.pointerId);
    }
    pressed = { x: event.offsetX, y: event.offsetY, drag: drag || undefined, last: picked };
  }

  function move(event: PointerEvent) {
    if (!table) return;
    if (!pressed && onhover && !event.buttons)
      onhover(cut ? undefined : table.under(event.offsetX, event.offsetY), event.offsetX, event.offsetY);
    if (!pressed && onread && markedMap && !event.buttons)
      onread(table.readOff(event.offsetX, event.offsetY), event.offsetX, event.offsetY);
    if (!pressed?.drag) return;
    const to = table.under(event.offsetX, event.offsetY);
    if (to) {
      pressed.last = to;
      pressed.drag.moved(to);
    }
  }

  function up(event: PointerEvent) {
    const was = pressed;
    pressed = undefined;
    if (!was || !table) return;
    table.turning = true;
    const still = Math.hypot(event.offsetX - was.x, event.offsetY - was.y) < 4;
    if (still && cut) oncut?.(table.onCut(event.offsetX, event.offsetY));
    else if (still) onpress?.(table.under(event.offsetX, event.offsetY), false, event);
    else if (was.drag && was.last) was.drag.dropped(was.last);
  }

  /** The pointer is lost: what was dragged stays where it was last. */
  function lost() {
    const was = pressed;
    pressed = undefined;
    if (table) table.turning = true;
    if (was?.drag && was.last) was.drag.dropped(was.last);
  }
</script>

<div class="view" class:old={!bare && session.stale}>
  <canvas
    bind:this={canvas}
    aria-label="The part in three dimensions. Drag to turn, wheel to zoom, click a face or a mark to pick it."
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={lost}
    onpointerleave={() => {
      onhover?.(undefined, 0, 0);
      onread?.(undefined, 0, 0);
    }}
    ondblclick={(e) => table && !cut && onpress?.(table.under(e.offsetX, e.offsetY), true, e)}
  ></canvas>
  {#if table}<Views {session} turns={table.turns} />{/if}
  {#if arrow}
    <svg class="pull" width="120" height="104" aria-label="direction of the pull">
      <defs>
        <marker id="tip" viewBox="0 0 10 10" refX="8" refY="5" markerWidth="8" markerHeight="8" orient="auto">
          <path d="M1 1 9 5 1 9" fill="none" stroke="currentColor" stroke-width="1.6" />
        </marker>
      </defs>
      {#if arrow.x1 === arrow.x2 && arrow.y1 === arrow.y2}
        <circle cx={arrow.x1} cy={arrow.y1} r="4" fill="none" stroke="currentColor" stroke-width="1.6" />
      {:else}
        <line {...arrow} stroke="currentColor" stroke-width="1.6" marker-end="url(#tip)" />
      {/if}
      <text x="44" y="98" text-anchor="middle">pull</text>
    </svg>
  {/if}
  {#if flag && note}
    <svg class="flag" aria-hidden="true"><path d="M{flag.x} {flag.y}l34 -34h14" /></svg>
    <p class="flag-note" style:left="{flag.x + 48}px" style:top="{flag.y - 46}px">{note}</p>
  {/if}
  {#if torch?.round && torch.lamp.on}<div class="torch"><TorchPad lamp={torch.lamp} /></div>{/if}
  {#if failed}<p class="failed">{failed}</p>{/if}
  {#if !bare && session.solid && !session.fits(session.solid)}<p class="note" data-busy>
      older solid, being rebuilt …
    </p>{/if}
  {@render children?.()}
</div>

<style>
  .view {
    position: relative;
    width: 100%;
    height: 100%;
    min-height: 0;
    overflow: hidden;
    background: radial-gradient(ellipse at 50% 40%, var(--enamel), var(--table) 75%);
  }
  canvas {
    display: block;
    width: 100%;
    height: 100%;
    touch-action: none;
  }
  .old canvas {
    opacity: 0.72;
  }
  .pull {
    position: absolute;
    left: 4px;
    top: 2px;
    pointer-events: none;
    color: var(--ink);
    font-size: 12px;
    fill: var(--ink);
  }
  .flag {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
    fill: none;
    stroke: var(--fail);
    stroke-width: 1.3;
  }
  .flag-note {
    position: absolute;
    margin: 0;
    padding: 1px 8px;
    border-radius: 5px;
    background: rgb(from var(--enamel) r g b / 0.9);
    color: var(--fail);
    font-weight: 700;
    white-space: nowrap;
    pointer-events: none;
  }
  .torch {
    position: absolute;
    top: 34px;
    right: 10px;
  }
  .note,
  .failed {
    position: absolute;
    top: 8px;
    right: 12px;
    margin: 0;
    padding: 2px 9px;
    border-radius: 6px;
    background: var(--marginal-ground);
    color: var(--marginal);
    font-size: 12px;
  }
  .failed {
    left: 120px;
    background: var(--fail-ground);
    color: var(--fail);
  }
</style>
