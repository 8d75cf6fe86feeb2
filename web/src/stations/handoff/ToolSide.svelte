<!-- The tool's side: how each mark comes into the steel, from where the toolmaker measures, and the files for it. -->
<script lang="ts">
  import { api, problem, type Mark, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import Cutters from "./Cutters.svelte";
  import StepFile from "./StepFile.svelte";
  import { bytes, called, many } from "../../words";

  let { session }: { session: Session } = $props();

  type InSteel = NonNullable<Mark["in_steel"]>;
  type Datum = NonNullable<Schemas["Job"]["datum"]>;

  let made = $state.raw<Schemas["ToolSideView"]>();
  let trouble = $state("");
  let working = $state(false);
  /** Whose artwork is shown, and what is left by which of the cutters. */
  let shown = $state<string>();
  let leftBy = $state<number>();

  const present = $derived(session.view && `${session.view.state} ${session.view.shown}`);
  $effect(() => {
    const asked = present;
    if (asked === undefined) return;
    working = true;
    void api
      .GET("/api/jobs/{id}/tool-side", { params: session.params })
      .then(({ data, error }) => {
        if (asked !== present) return;
        made = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => (trouble = problem(e)))
      .finally(() => {
        if (asked === present) working = false;
      });
  });

  const base = $derived(`/api/jobs/${session.id}/tool-side`);
  const of = $derived(session.row === undefined ? "" : `?row=${session.row}`);
  const size = $derived(session.view?.steel_size);
  const marks = $derived(session.marks.filter((m) => m.on && !["surface", "stamp"].includes(m.relief.sense)));
  const found = (id: string) => made?.marks.find((m) => m.mark === id);
  const file = (name: string) => made?.files.find((f) => f.name === name);
  /** What it is and its format: whose it is stands above, how large at the top, and both in its name. */
  const short = (name: string, mark: Mark) => {
    const own = found(mark.id)?.files[0]?.match(/^[a-z]+(?:-form)?-(.*)-steel-x/)?.[1] ?? "";
    return name
      .replace(`-${own}`, "")
      .replace(/-mirrored/, ", mirrored")
      .replace(/-steel-x[\d.]+(?=\.)/, "")
      .replaceAll("-", " ");
  };
  const text = (mark: Mark) => mark.text.replaceAll("\n", " / ");

  /** What somebody begins with; common practice. */
  const BEGIN: Record<InSteel["way"], InSteel> = {
    cut: { way: "cut" },
    electrode: { way: "electrode", gap: 0.08, stock: 12, margin: 2 },
    insert: { way: "insert", margin: 1.5, deep: 12, clearance: 0.01 },
  };
  const wayOf = (mark: Mark): InSteel => mark.in_steel ?? BEGIN.cut;
  const put = (mark: Mark, change: Partial<InSteel>) =>
    session.set(mark.id, { in_steel: { ...wayOf(mark), ...change } });

  const datum = $derived<Datum>(session.view?.job.datum ?? { datum: "zero" });
  const key = (d: Datum) =>
    d.datum === "corner" ? `${d.upper ? "upper" : "lower"} ${d.right ? "right" : "left"}` : d.datum;
  const ZEROS: { value: string; says: string; datum: Datum }[] = [
    { value: "zero", says: "the part’s zero", datum: { datum: "zero" } },
    { value: "centre", says: "the middle of the part", datum: { datum: "centre" } },
    ...[false, true].flatMap((upper) =>
      [false, true].map((right) => {
        const name = `${upper ? "upper" : "lower"} ${right ? "right" : "left"}`;
        return {
          value: name,
          says: `the ${name} corner of the part`,
          datum: { datum: "corner", right, upper } as Datum,
        };
      }),
    ),
    { value: "point", says: "a point of the part", datum: { datum: "point", at: [0, 0, 0] } },
  ];
  const setDatum = (to: Datum) => session.change({ do: "set_datum", datum: to });
  const artwork = $derived.by(() => {
    const of = found(shown ?? "") ?? made?.marks.find((m) => m.files.some((f) => f.endsWith(".svg")));
    const left = leftBy === undefined ? undefined : of?.cutters[leftBy]?.drawn;
    return of && { mark: of.mark, name: left ?? of.files.find((f) => f.startsWith("artwork") && f.endsWith(".svg")) };
  });
</script>

<div class="station">
  <div class="side" aria-label="tool’s side">
    <p>
      {#if size}
        At the steel’s size, × {(1 + size.shrinkage / 100).toFixed(4)} ({size.shrinkage} % {size.source}).
      {:else}
        <span class="bad">No shrinkage is set.</span>
        <a class="word" href="/jobs/{session.id}/part">Set the material at the part</a>.
      {/if}
      Measured from
      <ChoiceField
        value={key(datum)}
        label="zero of the tool"
        choices={ZEROS}
        onset={(value) => {
          const to = ZEROS.find((z) => z.value === value)?.datum;
          if (to) void setDatum(to);
        }}
        after={datum.datum === "point" ? ":" : "."}
      />
      {#if datum.datum === "point"}
        {@const at = datum.at}
        {#each ["x", "y", "z"] as name, axis (name)}
          {name}
          <NumberField
            value={at[axis]}
            label="zero of the tool, {name}"
            places={3}
            after={axis < 2 ? "," : "."}
            onset={(to) =>
              setDatum({ datum: "point", at: at.map((v, k) => (k === axis ? to : v)) as [number, number, number] })}
          />
        {/each}
      {/if}
      <span class="soft">Corners are as you look at the steel. A face, a hole’s axis: press it at the part.</span>
    </p>
    <Cutters {session} />
    {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
    {#if working}<p class="soft" data-busy>Cutting {many(marks.length, "mark")} into the steel …</p>{/if}
    {#if made}
      <p>
        <a class="press first" href="{base}/all.zip{of}" download>Download all {many(made.files.length, "file")}</a>
        <span class="soft">with contents.csv: zero, axes and hash of each</span>
      </p>
    {/if}
    <ul>
      {#each marks as mark (mark.id)}
        {@const told = found(mark.id)}
        {@const way = wayOf(mark)}
        <li data-mark={mark.id}>
          <p>
            <button
              class="word text"
              aria-pressed={artwork?.mark === mark.id}
              onclick={() => ((shown = mark.id), (leftBy = undefined))}>{called(mark)}</button
            >{#if told?.steel}, {told.steel},{/if}
            <ChoiceField
              value={way.way}
              label="how “{text(mark)}” comes into the steel"
              choices={[
                { value: "cut", says: "cut into the tool itself" },
                { value: "electrode", says: "sunk by an electrode" },
                { value: "insert", says: "on an insert" },
              ]}
              onset={(to) => void session.set(mark.id, { in_steel: BEGIN[to] })}
              after={way.way === "cut" ? "." : ":"}
            />
            {#if way.way === "electrode"}
              spark gap
              <NumberField
                value={way.gap}
                label="spark gap of “{text(mark)}”"
                places={3}
                step={0.01}
                after=","
                onset={(gap) => put(mark, { gap })}
              />
              stock
              <NumberField
                value={way.stock}
                label="stock of the electrode of “{text(mark)}”"
                step={1}
                after=","
                onset={(stock) => put(mark, { stock })}
              />
              margin
              <NumberField
                value={way.margin}
                label="margin of the electrode of “{text(mark)}”"
                step={0.5}
                after="."
                onset={(margin) => put(mark, { margin })}
              />
            {:else if way.way === "insert"}
              <NumberField
                value={way.margin}
                label="margin of the insert of “{text(mark)}”"
                step={0.5}
                onset={(margin) => put(mark, { margin })}
              />
              round the lettering,
              <NumberField
                value={way.deep}
                label="depth of the insert of “{text(mark)}”"
                step={1}
                onset={(deep) => put(mark, { deep })}
              />
              deep, clearance
              <NumberField
                value={way.clearance}
                label="clearance of the insert of “{text(mark)}”"
                places={3}
                step={0.005}
                after="."
                onset={(clearance) => put(mark, { clearance })}
              />
            {/if}
          </p>
          {#each told?.says ?? [] as line (line)}<p class="soft">{line[0].toUpperCase()}{line.slice(1)}.</p>{/each}
          {#each told?.cutters ?? [] as by, which (which)}
            {@const lettering = by.one_pass}
            <p class="by">
              <button
                class="word"
                aria-pressed={artwork?.mark === mark.id && leftBy === which}
                title={by.drawn ? "show what is left" : "nothing is left"}
                disabled={!by.drawn}
                onclick={() => ((shown = mark.id), (leftBy = which))}>{by.cutter}</button
              >
              <span class:bad={!by.clear}>{by.says}.</span>
              {#if lettering}
                <button class="press" onclick={() => void session.set(mark.id, { lettering })}
                  >One pass: {mark.lettering.face === lettering.face ? "" : "centre-line face, "}stroke {lettering.stroke}
                  mm</button
                >
              {/if}
            </p>
          {/each}
          {#each told?.refused ?? [] as why (why)}<p class="bad" role="alert">Not made: {why}.</p>{/each}
          <p class="files">
            {#each told?.files ?? [] as name (name)}
              {@const read = file(name)?.read}
              <span class="file">
                <a href="{base}/{name}{of}" title="{name}, {bytes(file(name)?.size ?? 0)}" download
                  >{short(name, mark)}</a
                >
                {#if read}<span title={read.sentence}><StateShape state={read.state} /></span>{/if}
              </span>
            {/each}
          </p>
          {#if told?.files.length}
            <StepFile {session} name="lettering.step" marks={1} query={{ steel: true, mark: mark.id }} />
          {/if}
        </li>
      {/each}
    </ul>
    {#if !marks.length}<p class="soft">No mark is raised or sunken, so nothing comes into the steel.</p>{/if}
    <p class="soft">
      The command line makes the same files: <code>tinbadge tool-side job.tinbadge.json</code>
    </p>
  </div>
  <div class="paper">
    {#if artwork?.name && !working}
      <p class="soft">
        {artwork.name}: as it is seen on the steel{artwork.name.startsWith("left-by") ? ", in red what is left" : ""}
      </p>
      <div class="sheet"><img src="{base}/{artwork.name}{of}" alt="artwork of {artwork.mark}, mirrored" /></div>
    {/if}
  </div>
</div>

<style>
  .station {
    display: grid;
    grid-template-columns: 560px minmax(0, 1fr);
    height: 100%;
    min-height: 0;
  }
  .side {
    overflow-y: auto;
    padding: 4px 24px 18px;
  }
  .side p {
    margin: 8px 0;
    line-height: 1.6;
  }
  ul {
    margin: 12px 0;
    padding: 0;
    list-style: none;
  }
  li {
    padding: 6px 0;
    border-top: 1px solid var(--line);
  }
  .side li p {
    margin: 2px 0;
  }
  .text {
    font-weight: 700;
  }
  .text[aria-pressed="true"] {
    color: var(--pick);
  }
  .files {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 16px;
  }
  .file {
    display: flex;
    gap: 6px;
    align-items: baseline;
  }
  .file a {
    color: var(--ink);
    text-decoration-color: var(--rim-soft);
    text-underline-offset: 3px;
  }
  .press {
    display: inline-block;
    text-decoration: none;
  }
  .bad {
    color: var(--fail);
  }
  .paper {
    display: flex;
    flex-direction: column;
    min-width: 0;
    padding: 14px 24px 20px;
    border-left: 1px solid var(--rim);
    background: var(--sand);
  }
  .paper p {
    margin: 0 0 8px;
    font-size: 12.5px;
  }
  .sheet {
    display: grid;
    flex: 1;
    min-height: 0;
    place-items: center;
    padding: 24px;
    border: 1px solid var(--rim);
    border-radius: 4px;
    background: var(--enamel);
  }
  .sheet img {
    width: 100%;
    max-height: 100%;
    object-fit: contain;
  }
</style>
