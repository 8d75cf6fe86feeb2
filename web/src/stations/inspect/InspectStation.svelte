<!-- Inspect: checks down, marks across; the pressed finding on the solid, in a sentence, letter by letter. -->
<script lang="ts">
  import { searchParams } from "sv-router";
  import { api, type Finding, type PlacementView, type Witness } from "../../api/client";
  import { currentSession } from "../../frame/current";
  import Shown from "../../rack/Shown.svelte";
  import { Lamp } from "../../view3d/lamp.svelte";
  import type { Picked, Point } from "../../view3d/table";
  import View3d from "../../view3d/View3d.svelte";
  import { checkNames, figureWithUnit, moment, PAD, stateWeight } from "../../words";
  import AllRows from "./AllRows.svelte";
  import CutTools from "./CutTools.svelte";
  import LetterFlat from "./LetterFlat.svelte";
  import Letters from "./Letters.svelte";
  import FindingsTable from "./FindingsTable.svelte";
  import LookTools from "./LookTools.svelte";
  import MapLegend from "./MapLegend.svelte";
  import { MarkCut } from "./markCut.svelte";
  import { MarkMap } from "./markMap.svelte";
  import MendAll from "./MendAll.svelte";
  import OneFinding from "./OneFinding.svelte";
  import ReadingTest from "./ReadingTest.svelte";
  import Records from "./Records.svelte";

  const current = currentSession();
  const session = $derived(current());
  const outcome = $derived(session.outcome);
  let worstFirst = $state(false);
  let three = $state<View3d>();
  let placed = $state.raw<PlacementView>();
  const letter = $derived.by(() => {
    const named = searchParams.get("letter");
    return typeof named === "number" ? named : undefined;
  });
  let mendAll = $state(false);
  const lamp = new Lamp();
  const recorded = $derived.by(() => {
    const named = searchParams.get("records");
    return typeof named === "number" ? named : undefined;
  });

  const open = $derived(
    (outcome?.marks ?? []).flatMap((m) => m.findings).filter((f) => f.state === "fails" || f.state === "marginal")
      .length,
  );
  const varies = $derived((session.view?.job.roster.rows.length ?? 0) > 1);
  const all = $derived(varies && searchParams.get("rows") === "all");

  const checks = Object.keys(checkNames) as Finding["check"][];

  const rows = $derived.by(() => {
    const marks = (outcome?.marks ?? []).filter((m) => session.marks.some((s) => s.id === m.id));
    if (!worstFirst) return marks;
    const count = (m: (typeof marks)[number], state: string) => m.findings.filter((f) => f.state === state).length;
    return marks.toSorted(
      (a, b) =>
        stateWeight[b.state] - stateWeight[a.state] ||
        count(b, "fails") - count(a, "fails") ||
        count(b, "not_checked") - count(a, "not_checked") ||
        count(b, "marginal") - count(a, "marginal"),
    );
  });

  /** The pressed cell, or the worst of all. */
  const chosen = $derived.by(() => {
    const named = rows
      .find((m) => m.id === searchParams.get("mark"))
      ?.findings.find((f) => f.check === searchParams.get("check"));
    if (named) return named;
    // the mark that was picked elsewhere, by its worst
    const picked = rows.find((m) => m.id === (searchParams.get("mark") ?? session.pick) && m.on);
    if (picked) return picked.findings[picked.worst ?? 0];
    const all = rows.flatMap((m) => (m.worst == null ? [] : [m.findings[m.worst]]));
    return (
      all.toSorted((a, b) => stateWeight[b.state] - stateWeight[a.state])[0] ?? rows.find((m) => m.on)?.findings[0]
    );
  });
  const mark = $derived(session.marks.find((m) => m.id === chosen?.mark));
  const place = $derived(session.marks.findIndex((m) => m.id === chosen?.mark));

  function press(finding: Finding) {
    pickLetter(undefined);
    session.pick = finding.mark;
    searchParams.set("mark", finding.mark);
    searchParams.set("check", finding.check);
  }

  function pickLetter(at: number | undefined) {
    if (at === undefined) searchParams.delete("letter", undefined, { replace: true });
    else searchParams.set("letter", at, { replace: true });
  }

  /** The picked letter, or the one that the figure is of. */
  const lookedLetter = $derived(
    chosen?.letters.find((l) => (letter === undefined ? l.measured === chosen.measured : l.character === letter)),
  );
  /** A pad is no letter. */
  const toLay = $derived(lookedLetter && lookedLetter.character < PAD ? lookedLetter : undefined);
  const flat = $derived(searchParams.has("flat") ? toLay?.character : undefined);

  function layFlat(at: number | undefined) {
    if (at === undefined) {
      searchParams.delete("flat");
      return;
    }
    pickLetter(at);
    searchParams.set("flat", "on");
  }

  function readingTest(open: boolean) {
    if (open) searchParams.set("reading", "test");
    else searchParams.delete("reading");
  }

  const witnesses = $derived.by<Witness[]>(() => {
    if (!chosen) return [];
    const own = letter === undefined ? undefined : chosen.letters.find((l) => l.character === letter)?.witness;
    return own ? [own] : chosen.witnesses.slice(0, 1);
  });

  const layKey = $derived(mark ? JSON.stringify(mark) : "");
  $effect(() => {
    const key = layKey;
    if (!key) return;
    void api
      .POST("/api/jobs/{id}/placement", { params: session.params, body: { mark: JSON.parse(key) } })
      .then(({ data }) => (placed = key === layKey ? data : placed));
  });

  /** What is looked at, and how far what it was measured at lies apart. */
  const looked = $derived.by(() => {
    if (!placed || !mark) return undefined;
    const w = witnesses[0];
    const points: number[][] = !w
      ? [placed.at]
      : w.kind === "point"
        ? [w.at]
        : w.kind === "pair"
          ? [w.from, w.to]
          : w.corners;
    const at = [0, 1, 2].map((k) => points.reduce((sum, p) => sum + p[k], 0) / points.length) as Point;
    const apart = Math.max(...points.map((p) => Math.hypot(...p.map((c, k) => c - at[k]))), 0);
    return {
      at,
      apart,
      points: (w?.kind === "pair" ? points : [at]) as Point[],
      extent: Math.max(3.2 * mark.lettering.cap_height, 3 * apart),
    };
  });

  const markCut = new MarkCut(() => ({
    session,
    mark: mark?.id,
    through: looked?.points,
    relief: Math.max(8 * (mark?.relief.height ?? 0), 1.6 * (looked?.apart ?? 0), 2),
    letter: looked?.extent ?? 10,
  }));

  const markMap = new MarkMap(() => ({ session, mark: mark?.id, check: chosen?.check }));

  /** The view turns to the witness, from where the mark is read; cut through, square to the cut. */
  const target = $derived.by(() => {
    if (markCut.target) return markCut.target;
    if (!placed || !looked) return undefined;
    return {
      at: looked.at,
      out: placed.out as Point,
      up: placed.up as Point,
      extent: looked.extent,
      lean: 0.8,
    };
  });

  /** What is said at the witness: the letter and its figure. */
  const note = $derived.by(() => {
    const own = chosen?.letters.find((l) =>
      letter === undefined ? l.measured === chosen.measured : l.character === letter,
    );
    if (!chosen || own?.measured == null) return undefined;
    return `“${own.text}” ${figureWithUnit(own.measured, chosen.unit)}`;
  });

  function pick(picked: Picked | undefined) {
    const id = picked && picked.mark >= 0 ? session.marks[picked.mark]?.id : undefined;
    const finding = rows.find((m) => m.id === id)?.findings.find((f) => f.check === chosen?.check);
    if (!finding) return;
    press(finding);
    pickLetter(picked?.place);
  }
</script>

<div class="station" class:cutting={markCut.lie}>
  <div class="table">
    <div class="head">
      <div>
        <h1>
          Measured on {session.view?.part.soundness.surface_body
            ? "the finished lettering bodies"
            : "the finished solid"}
        </h1>
        {#if session.view}
          <p class="soft">
            Limits: {outcome?.limits ?? "…"}, read from
            {session.view.job.reading_distance.toFixed(0)} mm; changed {moment(session.view.at)} by {session.view.by}.
          </p>
        {/if}
      </div>
      <div class="which">
        <Shown {session} />
        {#if varies}
          <button class="word" onclick={() => (all ? searchParams.delete("rows") : searchParams.set("rows", "all"))}
            >{all ? "this row only" : `all ${session.view?.job.roster.rows.length} rows`}</button
          >
        {/if}
      </div>
      {#if open > 1 && !all}<button class="word all" title="changes that make all pass" onclick={() => (mendAll = true)}
          >mend all</button
        >{/if}
      {#if session.marks.length}<button
          class="word all"
          title="findings frozen with what they were judged by, and their proof"
          onclick={() => searchParams.set("records", "all")}>records</button
        >{/if}
      <label><input type="checkbox" bind:checked={worstFirst} /> worst first</label>
    </div>
    {#if all}
      <AllRows {session} {worstFirst} />
    {:else if session.marks.length === 0}
      <p class="nothing">
        There is nothing to check yet. <a class="word" href="/jobs/{session.id}/marks">Add a mark</a> and its findings show
        here.
      </p>
    {:else if !outcome}
      <p class="nothing" data-busy>Checking the finished solid …</p>
    {:else}
      <FindingsTable {session} {checks} {rows} {chosen} onpress={press} />
      {#if chosen && mark && chosen.letters.some((l) => l.measured != null)}
        <section class="by-letter">
          <p class="soft">
            Letter by letter, “{mark.text.replaceAll("\n", " / ")}”, {checkNames[chosen.check].whole}
            {#if toLay}·
              <button
                class="word"
                title="its outlines at true size, with what was measured on them"
                onclick={() => layFlat(toLay.character)}>“{toLay.text}” laid flat</button
              >{/if}
          </p>
          <Letters
            finding={chosen}
            plate={session.plates.find((p) => p.id === mark.id)}
            capHeight={mark.lettering.cap_height}
            picked={letter}
            onpick={(l) => pickLetter(letter === l ? undefined : l)}
          />
        </section>
      {/if}
    {/if}
  </div>
  <aside>
    <div class="look">
      <View3d
        bind:this={three}
        {session}
        mark={place}
        witnesses={markCut.picks.places.length ? markCut.picks.witnesses : witnesses}
        {target}
        note={markCut.picks.places.length ? undefined : note}
        cut={markCut.cut}
        oncut={(at) => markCut.picks.press(at)}
        torch={{ lamp, round: placed }}
        markedMap={markMap.map}
        onread={(read, x, y) => markMap.pass(read, x, y)}
        onpress={pick}
      >
        <CutTools
          {session}
          cut={markCut}
          level={((mark?.relief.sense === "raised" ? 1 : -1) * (mark?.relief.height ?? 0)) / 2}
          reach={1.5 * (mark?.lettering.cap_height ?? 4)}
        />
        <MapLegend map={markMap} />
        <LookTools cut={mark && markCut} map={mark && markMap} lamp={placed && lamp} onwhole={() => three?.whole()} />
      </View3d>
    </div>
    {#if chosen}
      <OneFinding
        {session}
        finding={chosen}
        {varies}
        onread={mark && !mark.figure ? () => readingTest(true) : undefined}
      />
    {/if}
  </aside>
</div>

<MendAll {session} bind:open={mendAll} />
<Records
  {session}
  {varies}
  shown={recorded}
  onshow={(number) => searchParams.set("records", number ?? "all")}
  bind:open={() => searchParams.has("records"), (open) => open || searchParams.delete("records")}
/>
{#if mark}<LetterFlat {session} {mark} letter={flat} onlay={layFlat} />{/if}
{#if mark}<ReadingTest {session} {mark} bind:open={() => searchParams.has("reading"), readingTest} />{/if}

<style>
  .station {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 390px;
    height: 100%;
  }
  .cutting {
    grid-template-columns: minmax(0, 1fr) minmax(390px, 50%);
  }
  /* what stands beside the cut has less room */
  .cutting .head p {
    display: none;
  }
  .cutting .head > :first-child {
    flex-basis: 120px;
  }
  .cutting h1 {
    font-size: 15px;
  }
  .table {
    display: flex;
    flex-direction: column;
    min-width: 0;
    padding: 14px 0 0 14px;
    overflow: hidden;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    row-gap: 6px;
    padding: 0 16px 6px 4px;
  }
  .head > :first-child {
    flex: 1 1 240px;
  }
  .which {
    display: flex;
    flex: none;
    gap: 12px;
    align-items: baseline;
    padding: 0 12px;
    white-space: nowrap;
  }
  .head p {
    margin: 0;
    font-size: 12.5px;
  }
  .head label,
  .head .all {
    flex: none;
    align-self: start;
    white-space: nowrap;
  }
  .head .all {
    margin-right: 12px;
  }
  .by-letter {
    flex: none;
    padding: 8px 16px 10px 4px;
    border-top: 2px solid var(--rim);
  }
  .by-letter p {
    margin: 0 0 4px;
    font-size: 12.5px;
  }
  aside {
    display: flex;
    flex-direction: column;
    min-height: 0;
    border-left: 1px solid var(--rim);
    background: var(--plate);
  }
  .look {
    flex: 1;
    min-height: 200px;
  }
  .nothing {
    padding: 30px 4px;
    color: var(--ink-soft);
  }
</style>
