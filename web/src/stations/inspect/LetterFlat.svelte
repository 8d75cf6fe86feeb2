<!-- One character laid flat to scale: its top and root, the disc of its narrowest stroke, its counters, how near its neighbours
     come. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Mark, type Schemas } from "../../api/client";
  import NumberField from "../../card/NumberField.svelte";
  import { sheet } from "../../pieces/theme";
  import type { Session } from "../../session.svelte";
  import { many } from "../../words";

  let {
    session,
    mark,
    letter,
    onlay,
  }: {
    session: Session;
    mark: Mark;
    /** Its place in the mark; none where nothing is laid flat. */
    letter?: number;
    /** Lays another one flat, or none. */
    onlay: (letter: number | undefined) => void;
  } = $props();

  type Place = number[];

  let flat = $state.raw<Schemas["LetterFlatView"]>();
  /** Diameter of a cutter, mm; 0 where none is asked about. */
  let cutter = $state(0);
  let trouble = $state("");

  $effect(() => {
    const { state } = session.solid ?? {};
    if (letter === undefined || state === undefined || session.stale) return;
    trouble = "";
    const left = new AbortController();
    const { path, query } = session.params;
    void api
      .GET("/api/jobs/{id}/letter", {
        params: { path, query: { ...query, mark: mark.id, letter, cutter: cutter || undefined } },
        signal: left.signal,
      })
      .then(({ data, error }) => {
        if (left.signal.aborted) return;
        flat = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => {
        if (!left.signal.aborted) trouble = problem(e);
      });
    return () => left.abort();
  });

  const WIDE = 620;
  const TALL = 420;
  /** Room for the names of the neighbours and the ruler, pixels. */
  const RIM = 46;

  const letters = $derived(session.plates.find((p) => p.id === mark.id)?.characters ?? []);
  const box = $derived.by(() => {
    const all = (flat?.root.length ? flat.root : (flat?.top ?? [])).flat();
    const of = (k: number) => all.map((p) => p[k]);
    const [x, y] = [0, 1].map((k) => [Math.min(...of(k)), Math.max(...of(k))]);
    return { left: x[0], right: x[1], low: y[0], high: y[1] };
  });
  const extents = (rings: Place[][]) => {
    const all = rings.flat();
    const size = (k: number) => Math.max(...all.map((p) => p[k])) - Math.min(...all.map((p) => p[k]));
    return all.length ? `${size(0).toFixed(3)} × ${size(1).toFixed(3)} mm` : "nothing: it goes through";
  };
  /** Pixels for a mm: the character, and so much of its neighbours as has room beside it. */
  const scale = $derived(
    Math.min(
      (0.62 * WIDE) / Math.max(box.right - box.left, 0.01),
      (TALL - 2 * RIM) / Math.max(box.high - box.low, 0.01),
    ),
  );
  const X = (x: number) => WIDE / 2 + (x - (box.left + box.right) / 2) * scale;
  const Y = (y: number) => TALL / 2 - 8 - (y - (box.low + box.high) / 2) * scale;
  const path = (rings: Place[][]) =>
    rings.map((ring) => `M${ring.map(([x, y]) => `${X(x).toFixed(2)} ${Y(y).toFixed(2)}`).join("L")}Z`).join("");
  /** A length that a ruler of about 90 pixels shows. */
  const ruler = $derived([0.1, 0.2, 0.5, 1, 2, 5, 10, 20].find((mm) => mm * scale > 60) ?? 50);
  const sunken = $derived(mark.relief.sense === "sunken" || mark.relief.sense === "inlay");
  const [upper, lower] = $derived(sunken ? ["floor", "rim"] : ["top", "root"]);

  function key(event: KeyboardEvent) {
    if (letter === undefined) return;
    const to = { ArrowLeft: letter - 1, ArrowRight: letter + 1 }[event.key];
    if (to === undefined || !letters[to]) return;
    event.preventDefault();
    onlay(to);
  }
</script>

<svelte:window onkeydown={key} />

<Modal
  bind:open={() => letter !== undefined, (open) => open || onlay(undefined)}
  title={flat && flat.character === letter ? `“${flat.text}” laid flat` : "Laid flat"}
  size="xl"
  class={sheet.wide}
  classes={{ header: sheet.header, body: sheet.body }}
>
  {#if trouble}
    <p class="bad" role="alert">{trouble}</p>
  {:else if !flat || flat.character !== letter}
    <p class="soft" data-busy>Laying it flat …</p>
  {:else}
    <div class="sides">
      <svg width={WIDE} height={TALL} role="img" aria-label="“{flat.text}” to scale: {upper} and {lower}">
        {#each flat.beside as rings, k (k)}<path class="beside" d={path(rings)} />{/each}
        <path class="root" d={path(flat.root)} />
        <path class="top" d={path(flat.top)} fill-rule="evenodd" />
        <path class="rim" d={path(flat.root)} />
        {#if flat.uncut}<path class="uncut" d={path(flat.uncut.rings)} />{/if}
        {#each flat.spaces as space, k (k)}
          <circle
            class="space"
            cx={X(space.middle[0])}
            cy={Y(space.middle[1])}
            r={Math.max(2, (space.diameter / 2) * scale)}
          />
          <text class="space" x={X(space.middle[0])} y={Y(space.middle[1]) + 4} text-anchor="middle"
            >{space.width.toFixed(2)}</text
          >
        {/each}
        {#if flat.stroke}
          {@const [x, y] = [X(flat.stroke.middle[0]), Y(flat.stroke.middle[1])]}
          {@const r = Math.max(2, (flat.stroke.diameter / 2) * scale)}
          <circle class="stroke" cx={x} cy={y} {r} />
          <path class="flag" d="M{x + r * 0.7} {y - r * 0.7}L{WIDE - 96} {Y(box.high) - 6}" />
          <text class="stroke" x={WIDE - 92} y={Y(box.high) - 6}>stroke {flat.stroke.width.toFixed(3)}</text>
        {/if}
        {#each flat.gaps as gap (gap.to)}
          {@const [[x1, y1], [x2, y2]] = gap.from_to}
          <line class="gap" x1={X(x1)} y1={Y(y1)} x2={X(x2)} y2={Y(y2)} />
          <text class="gap" x={(X(x1) + X(x2)) / 2} y={(Y(y1) + Y(y2)) / 2 - 5} text-anchor="middle"
            >{gap.width.toFixed(2)}</text
          >
        {/each}
        <path class="ruler" d="M14 {TALL - 20}v6h{ruler * scale}v-6" />
        <text x={18 + ruler * scale} y={TALL - 12}>{ruler} mm</text>
      </svg>
      <div class="said">
        <dl>
          <dt>{upper}, wide × high</dt>
          <dd>{extents(flat.top)}</dd>
          <dt>{lower}, wide × high</dt>
          <dd>{extents(flat.root)}</dd>
          {#if flat.heights}
            <dt>{sunken ? "deep" : "high"}</dt>
            <dd>
              {flat.heights[1].toFixed(3)} mm{#if flat.heights[2] - flat.heights[0] >= 0.001}, {flat.heights[0].toFixed(
                  3,
                )} to {flat.heights[2].toFixed(3)}{/if}
            </dd>
          {/if}
          <dt>narrowest stroke</dt>
          <dd>{flat.stroke ? `${flat.stroke.width.toFixed(3)} mm` : "none is left"}</dd>
          <dt>counters and spaces</dt>
          <dd>{flat.spaces.length ? `${flat.spaces.map((s) => s.width.toFixed(3)).join(", ")} mm` : "it has none"}</dd>
          {#each flat.gaps as gap (gap.to)}
            <dt>to “{gap.text}”</dt>
            <dd>{gap.width.toFixed(3)} mm at the {lower}</dd>
          {/each}
        </dl>
        {#if flat.stretch > 0.001}<p class="soft">
            Its seat can’t be laid quite flat: lengths of the drawing may be off by {(100 * flat.stretch).toFixed(1)} %. The
            figures are measured in space.
          </p>{/if}
        <p>
          A cutter of Ø <NumberField
            value={cutter}
            label="cutter diameter"
            places={2}
            step={0.1}
            onset={(diameter) => {
              cutter = Math.max(diameter, 0);
            }}
          />
          {#if cutter && flat.uncut}
            {#if flat.uncut.places}
              leaves <strong class="bad">{flat.uncut.area.toFixed(3)} mm²</strong> in {many(flat.uncut.places, "place")}
            {:else}
              leaves nothing
            {/if}
            {sunken ? "round it" : "of it"} in the steel{flat.uncut.scale === 1
              ? ""
              : `, which is × ${flat.uncut.scale.toFixed(4)}`}.
            {#if flat.uncut.largest}
              Ø {flat.uncut.largest.toFixed(2)} is the largest that leaves nothing wider than 0.01 mm.
            {:else}
              None leaves nothing: its corners are sharp.
            {/if}
          {:else}
            leaves what?
          {/if}
        </p>
        <p>
          <button class="word" disabled={!letters[letter - 1]} onclick={() => onlay(letter - 1)}
            >the letter before</button
          >
          ·
          <button class="word" disabled={!letters[letter + 1]} onclick={() => onlay(letter + 1)}>the next</button>
        </p>
      </div>
    </div>
  {/if}
</Modal>

<style>
  .sides {
    display: flex;
    gap: 18px;
  }
  svg {
    flex: none;
    overflow: hidden;
    border: 1px solid var(--line);
    border-radius: 8px;
    background: var(--enamel);
  }
  .beside {
    fill: var(--plate);
    stroke: var(--line);
  }
  .root {
    fill: var(--part);
    fill-rule: evenodd;
  }
  .top {
    fill: var(--lettering);
  }
  .uncut {
    fill: var(--fail);
    fill-rule: evenodd;
  }
  .rim {
    fill: none;
    stroke: var(--rim);
    stroke-width: 1.2;
  }
  circle {
    fill: none;
    stroke-width: 2;
  }
  circle.stroke {
    stroke: var(--fail);
    fill: rgb(from var(--fail) r g b / 0.25);
  }
  circle.space {
    stroke: var(--pick);
    stroke-dasharray: 5 3;
  }
  .flag {
    fill: none;
    stroke: var(--fail);
  }
  text {
    font-size: 12px;
    fill: var(--ink);
  }
  text.stroke {
    fill: var(--fail);
    font-weight: 700;
  }
  text.space,
  text.gap {
    fill: var(--pick);
    font-weight: 700;
    paint-order: stroke;
    stroke: var(--enamel);
    stroke-width: 3px;
  }
  line.gap {
    stroke: var(--pick);
    stroke-width: 2;
  }
  .ruler {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.5;
  }
  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 4px 12px;
    margin: 0 0 10px;
    font-size: 13px;
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    margin: 0;
    font-weight: 700;
  }
  p {
    margin: 0 0 8px;
  }
  .bad {
    color: var(--fail);
  }
</style>
