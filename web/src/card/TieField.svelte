<!-- What holds a mark's place in one direction: a distance, from what, and to which side of its box. -->
<script lang="ts">
  import type { PlacementView, Mark, Schemas, SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";
  import { called, signed } from "../words";

  type Tie = Schemas["Tie"];
  type Side = Schemas["BoxSide"];

  let {
    session,
    mark,
    seat,
    placed,
    k,
  }: { session: Session; mark: Mark; seat?: SeatView; placed?: PlacementView; /** Along is 0, up is 1. */ k: 0 | 1 } =
    $props();

  const key = $derived(k === 0 ? "along" : "up");
  const tie = $derived(mark.place[key]);
  const side = $derived(mark.place.anchor[key]);
  /** Another tie, or a change of the one that holds. */
  const set = (tie: { tie: Tie["tie"]; [setting: string]: unknown }) => session.set(mark.id, { place: { [key]: tie } });
  const round = (v: number) => Math.round(v * 100) / 100;
  const others = $derived(session.marks.filter((m) => m.id !== mark.id && m.on));
  const points = $derived(seat?.points ?? []);

  const kinds = $derived<{ value: Tie["tie"]; says: string }[]>([
    { value: "from_start", says: k === 0 ? "from the left edge" : "from the lower edge" },
    { value: "from_end", says: k === 0 ? "from the right edge" : "from the upper edge" },
    { value: "middle", says: k === 0 ? "midway along the seat" : "midway up the seat" },
    {
      value: "between",
      says: k === 0 ? "midway between the edges beside it" : "midway between the edges above and below",
    },
    { value: "at", says: k === 0 ? "along" : "up" },
    { value: "point", says: "from" },
    { value: "mark", says: "from the mark" },
  ]);
  const open = $derived(
    kinds.filter(
      ({ value }) =>
        value === tie.tie ||
        (value.startsWith("from")
          ? !seat?.closed[k]
          : value === "point"
            ? points.length
            : value === "mark"
              ? others.length
              : true),
    ),
  );
  // the sentence reads on; the list has to tell them apart
  const listed = $derived(
    open.map((c) =>
      c.value === tie.tie
        ? c
        : c.value === "point"
          ? { ...c, says: "from a point of the part" }
          : c.value === "mark"
            ? { ...c, says: "from another mark" }
            : c.value === "at"
              ? { ...c, says: k === 0 ? "at a place along" : "at a place up" }
              : c,
    ),
  );

  const words: Record<Schemas["PointKind"], string> = { corner: "corner", centre: "centre", halfway: "halfway point" };
  /** Which corner of the seat it is, where it is one. */
  function where(p: SeatView["points"][number]): string {
    if (!seat || p.point.kind !== "corner") return "";
    const { start, end } = seat;
    const is = (i: 0 | 1, of: readonly number[]) => Math.abs(p.grid[i] - of[i]) < 0.01;
    const side = is(0, start) ? "left" : is(0, end) ? "right" : "";
    const level = is(1, start) ? "lower" : is(1, end) ? "upper" : "";
    return side && level ? `${level} ${side}, ` : "";
  }
  const point = (p: SeatView["points"][number]) =>
    `the ${words[p.point.kind]} ${where(p)}at ${signed(p.grid[0], 1)}, ${signed(p.grid[1], 1)}`;
  /** The point that it is tied to now: the nearest of its kind. */
  const chosen = $derived.by(() => {
    if (tie.tie !== "point") return -1;
    const { kind, near } = tie.point;
    const far = (p: SeatView["points"][number]) => Math.hypot(...p.point.near.map((c, i) => c - near[i]));
    const same = points.map((p, at) => ({ at, kind: p.point.kind, far: far(p) })).filter((p) => p.kind === kind);
    return same.sort((a, b) => a.far - b.far)[0]?.at ?? -1;
  });

  /** Coordinate of a side of the box. */
  function coordinate(of: Side | null | undefined, fallback: Side): number {
    if (!placed) return 0;
    const which = of ?? fallback;
    return which === "start" ? placed.low[k] : which === "end" ? placed.high[k] : (placed.low[k] + placed.high[k]) / 2;
  }

  /** The same place, tied otherwise. */
  function tied(kind: Tie["tie"]): Tie {
    if (kind === "from_start") return { tie: kind, distance: round(coordinate(side, "start") - (seat?.start[k] ?? 0)) };
    if (kind === "from_end") return { tie: kind, distance: round((seat?.end[k] ?? 0) - coordinate(side, "end")) };
    const held = mark.place.baseline.line === "arc" ? (placed?.held[k] ?? 0) : coordinate(side, "middle");
    if (kind === "at") return { tie: kind, position: round(held) };
    if (kind === "between") return { tie: kind, near: round(coordinate("middle", "middle")) };
    if (kind === "point" && points.length) {
      const far = (p: SeatView["points"][number]) => Math.hypot(...p.grid.map((c, i) => c - (placed?.held[i] ?? 0)));
      const nearest = points.reduce((a, b) => (far(b) < far(a) ? b : a));
      return { tie: kind, point: nearest.point, distance: round(held - nearest.grid[k]) };
    }
    // how far it is from the other mark now is known once it is laid out from there
    if (kind === "mark" && others.length) return { tie: kind, id: others[0].id, side: "middle", distance: 0 };
    return { tie: "middle" };
  }

  const number = $derived(
    tie.tie === "at" ? tie.position : tie.tie === "middle" || tie.tie === "between" ? undefined : tie.distance,
  );
  const withNumber = (mm: number) =>
    tie.tie === "at"
      ? { tie: tie.tie, position: mm }
      : tie.tie === "middle" || tie.tie === "between"
        ? tie
        : { tie: tie.tie, distance: mm };

  const sides = $derived<{ value: Side; says: string }[]>([
    { value: "start", says: k === 0 ? "left side" : "lower side" },
    { value: "middle", says: "middle" },
    { value: "end", says: k === 0 ? "right side" : "upper side" },
  ]);
  const own = $derived<Side>(side ?? (tie.tie === "from_start" ? "start" : tie.tie === "from_end" ? "end" : "middle"));
</script>

{#snippet boxSide(after: string)}
  <ChoiceField
    value={own}
    label={k === 0 ? "side that is tied along" : "side that is tied up"}
    choices={sides}
    {after}
    onset={(side) => session.set(mark.id, { place: { anchor: { [key]: side } } })}
  />
{/snippet}

{#if number === undefined}its {@render boxSide("")}{/if}
{#if number !== undefined}
  <NumberField value={number} label={k === 0 ? "distance along" : "distance up"} onset={(v) => set(withNumber(v))} />
{/if}
<ChoiceField
  value={tie.tie}
  label={k === 0 ? "tied along" : "tied up"}
  choices={listed}
  after={number === undefined && k === 0 ? "," : ""}
  onset={(kind) => set(tied(kind))}
/>
{#if tie.tie === "point"}
  <ChoiceField
    value={String(chosen)}
    label={k === 0 ? "point tied to along" : "point tied to up"}
    choices={[
      ...points.map((p, at) => ({ value: String(at), says: point(p) })),
      ...(chosen < 0 ? [{ value: "-1", says: "a point that is gone" }] : []),
    ]}
    onset={(at) => set({ tie: tie.tie, point: points[Number(at)].point })}
  />
{:else if tie.tie === "mark"}
  <ChoiceField
    value={tie.id}
    label={k === 0 ? "mark tied to along" : "mark tied to up"}
    choices={[
      ...others.map((m) => ({ value: m.id, says: called(m) })),
      ...(others.some((m) => m.id === tie.id) ? [] : [{ value: tie.id, says: "a mark that is gone" }]),
    ]}
    after="'s"
    onset={(id) => set({ tie: tie.tie, id })}
  />
  <ChoiceField
    value={tie.side}
    label={k === 0 ? "side of the other mark along" : "side of the other mark up"}
    choices={sides}
    onset={(side) => set({ tie: tie.tie, side })}
  />
{/if}
{#if number !== undefined}to its {@render boxSide(k === 0 ? "," : "")}{/if}
