<!-- Part: is it a closed solid, in which unit, which way does the tool open, where does it part, where does lettering stay
     out? -->
<script lang="ts">
  import { api, type Schemas, type Witness } from "../../api/client";
  import NumberField from "../../card/NumberField.svelte";
  import { currentSession } from "../../frame/current";
  import { Drop, type Unit } from "../../jobs/drop.svelte";
  import DropTold from "../../jobs/DropTold.svelte";
  import { go } from "../../router";
  import { paint, readMap, type SkinMap } from "../../view3d/map";
  import type { Cut, Picked, Point } from "../../view3d/table";
  import View3d from "../../view3d/View3d.svelte";
  import { signed, steelWord } from "../../words";
  import FacePlate from "./FacePlate.svelte";
  import { keepOutWord, type Hand, type Touch } from "./hand";
  import KeepOuts from "./KeepOuts.svelte";
  import Legend from "./Legend.svelte";
  import Process from "./Process.svelte";
  import Revision from "./Revision.svelte";
  import Sound from "./Sound.svelte";
  import ToolSection from "./ToolSection.svelte";

  const current = currentSession();
  const session = $derived(current());
  const view = $derived(session.view);
  const part = $derived(view?.part);
  const tool = $derived(view?.job.tool);
  /** The pressed face; chosen from the list it has no pressed point. */
  let picked = $state.raw<{ place: number; point?: Point }>();
  let three = $state<View3d>();
  /** What a press or a stroke does, when not to pick a face. */
  let hand = $state<Hand>();
  let target = $state.raw<{ at: Point; out: Point; up: Point; extent: number; lean?: number }>();

  // what the tool does to the part, and the map on show, follow the job
  let told = $state.raw<Schemas["ToolView"]>();
  const toolKey = $derived(view ? JSON.stringify([session.id, part?.mesh, tool, view.limits]) : "");
  $effect(() => {
    const key = toolKey;
    if (!key) return;
    void api.GET("/api/jobs/{id}/tool", { params: { path: { id: session.id } } }).then(({ data }) => {
      if (key === toolKey && data) told = data;
    });
  });

  const named = (face: number) => {
    const name = view?.job.face_names.find((n) => n.face === face)?.name;
    return name ? `${name}: ` : "";
  };

  // a newer file of the part: what it would change is shown before it is taken
  const drop = new Drop<Schemas["Proposal"]>(() => `/api/jobs/${session.id}/revision`);
  let proposal = $state.raw<{ file: string; told: Schemas["Proposal"] }>();
  let over = $state(false);

  async function newer(file: File | undefined, unit?: Unit) {
    if (!file) return;
    const told = await drop.send(file, unit);
    if (told) proposal = { file: file.name, told };
  }

  type Show = "draft" | "steel" | "ray" | "ball" | "change";
  let show = $state<Show>();
  let skinMap = $state.raw<SkinMap>();
  /** Which map is loaded: walls don't change with the tool. */
  const mapKey = $derived(
    !show
      ? ""
      : show === "ray" || show === "ball"
        ? `wall ${session.id} ${part?.mesh}`
        : show === "change"
          ? `change ${session.id} ${part?.mesh} ${view?.job.part.replaces?.sha256}`
          : `draft ${toolKey}`,
  );
  $effect(() => {
    const key = mapKey;
    skinMap = undefined;
    if (!key) return;
    void fetch(`/api/jobs/${session.id}/maps/${key.split(" ")[0]}`)
      .then(async (answer) => (answer.ok ? readMap(await answer.arrayBuffer()) : undefined))
      .then((map) => {
        if (key === mapKey) skinMap = map;
      });
  });

  const limitOf = (subject: Schemas["Subject"]) => view?.limits.find((l) => l.subject === subject)?.limit.value ?? 0;
  const limit = $derived(show === "draft" ? limitOf("draft") : limitOf("wall_least"));
  /** The palest colour: four limits of draft, or the wall that all but the thickest twentieth stay below. */
  const top = $derived.by(() => {
    if (show === "draft") return Math.max(4 * limit, 5);
    if (!skinMap) return 2 * limit;
    if (show === "change") return skinMap.values.reduce((most, v) => Math.max(most, Math.abs(v)), 0.01);
    const channel = show === "ball" ? 1 : 0;
    const values = Float32Array.from({ length: skinMap.of.length }, (_, p) => skinMap!.values[2 * p + channel])
      .filter((v) => !Number.isNaN(v))
      .sort();
    return Math.max(values[Math.floor(0.95 * values.length)] ?? 0, 1.5 * limit);
  });
  const painted = $derived(
    skinMap && show && skinMap.of.length ? { map: skinMap, paint: paint(skinMap, show, top, limit) } : undefined,
  );
  const areas = $derived({
    faces: told?.keep_outs.flatMap((k) => k.faces) ?? [],
    triangles: (told?.keep_outs.flatMap((k) => k.triangles) ?? []) as Point[][],
  });

  // the probe under the pointer reads the map that is on show
  let passed = $state.raw<{ x: number; y: number; says: string }>();
  const firstPiece = $derived.by(() => {
    if (!skinMap) return undefined;
    const first = new Int32Array((part?.triangles ?? 0) + 1).fill(-1);
    for (let p = skinMap.of.length - 1; p >= 0; p--) first[skinMap.of[p]] = p;
    return first;
  });

  function hover(under: Picked | undefined, x: number, y: number) {
    if (!under || !skinMap || !firstPiece || !show || under.mark >= 0) {
      passed = undefined;
      return;
    }
    let p = firstPiece[under.triangle] ?? -1;
    if (p < 0) return;
    if (skinMap.divided[p]) p = nearestPiece(skinMap, p, under);
    const value = (channel: number) => skinMap!.values[skinMap!.channels * p + channel];
    let says: string;
    if (show === "change") {
      const off = value(0);
      says = `${Math.abs(off).toFixed(3)} mm ${Math.abs(off) < 0.0005 ? "from" : off > 0 ? "outside" : "inside"} the earlier skin`;
    } else if (show === "ray" || show === "ball") {
      const [ray, ball] = [value(0), value(1)];
      says = Number.isNaN(ray) ? "open: no wall" : `wall ${ray.toFixed(2)} mm straight in, ${ball.toFixed(2)} by ball`;
    } else {
      const steel = told?.steels[value(3)]?.steel;
      const draft = signed((value(0) + value(1) + value(2)) / 3, 2);
      says = `draft ${draft}°, ${steel ? steelWord(steel) : "no steel frees it"}${value(4) && steel ? ", caught" : ""}`;
    }
    passed = { x, y, says };
  }

  function nearestPiece(map: SkinMap, first: number, under: Picked): number {
    // corners of divided pieces stand in the order of the pieces
    let at = 0;
    for (let p = 0; p < first; p++) if (map.divided[p]) at++;
    let best = first;
    let least = Infinity;
    for (let p = first; p < map.of.length && map.of[p] === map.of[first]; p++, at++) {
      const c = map.corners.subarray(9 * at, 9 * at + 9);
      const off = [0, 1, 2].reduce((s, k) => s + ((c[k] + c[3 + k] + c[6 + k]) / 3 - under.point[k]) ** 2, 0);
      if (off < least) {
        least = off;
        best = p;
      }
    }
    return best;
  }

  function lookAtCaught() {
    show = "steel";
    const { at, out } = told?.caught ?? {};
    if (!at || !out || !part) return;
    const up: Point = Math.abs(out[2]) > 0.9 ? [0, 1, 0] : [0, 0, 1];
    target = { at: at as Point, out: out as Point, up, extent: Math.max(...part.size), lean: 0.5 };
  }

  /** The part is cut open square to an axis, so far along it, mm. */
  let cutting = $state.raw<{ axis: 0 | 1 | 2; height: number }>();
  let cut = $state.raw<Cut & { area: number }>();
  /** Places pressed on the cut: their distance is measured. */
  let measured = $state.raw<Point[]>([]);
  let asked = 0;

  $effect(() => {
    const [wanted, name] = [cutting, part?.mesh];
    if (!wanted || !name) {
      cut = undefined;
      measured = [];
      return;
    }
    const normal = [0, 1, 2].map((k) => (k === wanted.axis ? 1 : 0)) as Point;
    const turn = ++asked;
    void api
      .GET("/api/jobs/{id}/section", {
        params: {
          path: { id: session.id },
          query: { x: normal[0], y: normal[1], z: normal[2], height: wanted.height },
        },
      })
      .then(({ data }) => {
        if (turn !== asked || !cutting || !data) return;
        measured = [];
        cut = { normal, height: wanted.height, ...(data as Pick<Cut, "filled" | "rings"> & { area: number }) };
      });
  });

  const span = $derived.by(() => {
    if (!part || !cutting) return { low: 0, high: 1 };
    const [middle, half] = [part.middle[cutting.axis], part.size[cutting.axis] / 2];
    return { low: middle - half, high: middle + half };
  });

  function open(axis: 0 | 1 | 2) {
    if (!part) return;
    picked = undefined;
    cutting = cutting?.axis === axis ? undefined : { axis, height: Math.round(part.middle[axis] * 100) / 100 };
  }

  function moveCut(height: number) {
    if (cutting) cutting = { ...cutting, height: Math.min(span.high, Math.max(span.low, height)) };
  }

  const distance = $derived(
    measured.length === 2 ? Math.hypot(...measured[0].map((c, k) => c - measured[1][k])) : undefined,
  );
  const witnesses = $derived<Witness[]>(
    measured.length === 2
      ? [{ kind: "pair", from: measured[0], to: measured[1] }]
      : measured.map((at) => ({ kind: "point", at })),
  );

  const face = $derived(picked && part ? part.faces[picked.place] : undefined);

  async function mark() {
    if (!picked || !view) return;
    const before = session.marks.length;
    const made = await session.change({
      do: "add_mark",
      face: picked.place,
      text: "TEXT",
      point: picked.point ?? null,
    });
    const added = session.marks[before];
    if (!made || !added) return;
    session.fresh = added.id;
    go(session.id, "marks", { mark: added.id });
  }

  /** What the stroke that is being made has touched. */
  let stroke = $state.raw<Touch[]>([]);

  function touch(under: Picked, radius: number) {
    const last = stroke[stroke.length - 1];
    if (last && Math.hypot(...last.at.map((c, k) => c - under.point[k])) < 0.5 * radius) return;
    stroke = [...stroke, { at: under.point, out: under.out, radius }];
  }

  const rounded = (p: Point) => p.map((c) => Math.round(c * 1e4) / 1e4);

  /** A stroke of the brush is done: it becomes part of what is painted. */
  async function brushed() {
    if (hand?.does !== "paint" || !stroke.length) return;
    const { into, radius, rub } = hand;
    const spots = stroke.map((t) => ({ at: rounded(t.at), radius: t.radius }));
    if ("steel" in into) {
      await session.change({ do: "give", area: { kind: "painted", spots }, to: into.steel });
    } else if ("kind" in into) {
      const before = tool?.keep_outs.length ?? 0;
      await session.change({ do: "add_keep_out", kind: into.kind, area: { kind: "painted", spots } });
      const made = session.view?.job.tool.keep_outs[before];
      // further strokes go into the same area
      if (made) hand = { ...hand, into: { keepOut: made.name } };
    } else {
      const keepOut = tool?.keep_outs.find((k) => k.name === into.keepOut);
      if (keepOut?.area.kind === "painted") {
        const old = keepOut.area.spots;
        const under = (s: { at: number[] }) =>
          spots.some((t) => Math.hypot(...t.at.map((c, k) => c - s.at[k])) < radius);
        const kept = rub ? old.filter((s) => !under(s)) : [...old, ...spots];
        if (kept.length)
          await session.change({
            do: "set_keep_out",
            name: keepOut.name,
            keep_out: { ...keepOut, area: { kind: "painted", spots: kept } },
          });
        else {
          await session.change({ do: "remove_keep_out", name: keepOut.name });
          hand = undefined;
        }
      }
    }
    stroke = [];
  }

  async function press(under: Picked | undefined) {
    if (hand && under && under.mark < 0) {
      const point = rounded(under.point) as Point;
      if (hand.does === "join") {
        if (under.place !== hand.face) await session.change({ do: "join_faces", face: hand.face, with: under.place });
        return;
      }
      if (hand.does === "edge") {
        const before = tool?.parting.length ?? 0;
        const fresh = hand.at === null;
        if ((await session.change({ do: "pick_edge", at: hand.at, point })) && fresh)
          hand = { does: "edge", at: before };
        // the last edge was taken away, and the line with it
        else if (!fresh && session.view?.job.tool.parting[hand.at ?? 0]?.kind !== "edges") hand = undefined;
      } else if (hand.does === "circle") {
        const area = { kind: "circle" as const, middle: point, radius: hand.radius };
        if (await session.change({ do: "add_keep_out", kind: hand.kind, area })) hand = undefined;
      } else {
        grab(under)?.dropped();
      }
      return;
    }
    if (cut) measured = under ? [...measured.slice(measured.length === 2 ? 2 : 0), under.point] : [];
    else picked = under && under.mark < 0 ? { place: under.place, point: under.point } : undefined;
  }

  /** What was painted of a face becomes a face of its own. */
  async function divide() {
    if (hand?.does !== "divide" || !stroke.length) return;
    const spots = stroke.map((t) => ({ at: rounded(t.at), radius: t.radius }));
    stroke = [];
    const made = part?.faces.length ?? 0;
    if (!(await session.change({ do: "divide_face", face: hand.face, spots }))) return;
    hand = undefined;
    picked = { place: made };
  }

  function grab(under: Picked) {
    if ((hand?.does !== "paint" && hand?.does !== "divide") || under.mark >= 0) return undefined;
    const { radius } = hand;
    // only facets of the face that is divided are painted
    const only = hand.does === "divide" ? hand.face : undefined;
    const onto = (to: Picked) => {
      if (only === undefined || to.place === only) touch(to, radius);
    };
    onto(under);
    return {
      moved: onto,
      dropped: () => void brushed(),
    };
  }

  $effect(() => {
    if (!hand) stroke = [];
    else picked = undefined;
  });

  const handWords = $derived.by(() => {
    if (hand?.does === "edge") return "press edges of the part: each press takes an edge in, or leaves it out again";
    if (hand?.does === "circle") return `press where the ${keepOutWord[hand.kind]} is; its circle has the radius`;
    if (hand?.does === "join") return "press the neighbours that belong to this face";
    if (hand?.does === "divide")
      return stroke.length
        ? "what is painted becomes a face of its own; brush of radius"
        : "paint the facets of this face that are a face of their own, with a brush of radius";
    if (hand?.does === "paint") {
      const into = hand.into;
      const what =
        "steel" in into
          ? `what ${steelWord(into.steel)} forms`
          : "kind" in into
            ? keepOutWord[into.kind]
            : into.keepOut;
      return `${hand.rub ? "rub out" : "paint"} ${what} with a brush of radius`;
    }
    return "";
  });

  function choose(wanted: Show) {
    show = show === wanted ? undefined : wanted;
  }
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.key === "Escape" && hand) hand = undefined;
  }}
  ondragover={(e) => {
    e.preventDefault();
    over = true;
  }}
  ondragleave={(e) => {
    if (!e.relatedTarget) over = false;
  }}
  ondrop={(e) => {
    e.preventDefault();
    over = false;
    void newer(e.dataTransfer?.files[0]);
  }}
/>

{#if view && part && tool}
  <div class="station" class:over>
    <View3d
      bind:this={three}
      {session}
      bare
      face={hand?.does === "join" || hand?.does === "divide" ? hand.face : picked?.place}
      {cut}
      {target}
      map={painted}
      areas={show ? undefined : areas}
      brush={stroke}
      {witnesses}
      note={distance === undefined ? undefined : `${distance.toFixed(3)} mm`}
      onpress={(p) => void press(p)}
      ongrab={grab}
      onhover={show ? hover : undefined}
    >
      <div class="told"><DropTold {drop} again={(file, unit) => void newer(file, unit)} /></div>
      {#if proposal}
        <Revision
          {session}
          proposal={proposal.told}
          file={proposal.file}
          onclose={(taken) => {
            proposal = undefined;
            if (taken) {
              picked = undefined;
              cutting = undefined;
              show = "change";
              void session.refresh();
            }
          }}
        />
      {/if}
      {#if show && painted}<Legend {show} {top} {limit} {told} />{/if}
      {#if passed && show}<p class="probe" style:left="{passed.x + 14}px" style:top="{passed.y + 16}px">
          {passed.says}
        </p>{/if}
      <div class="tools">
        {#if hand}
          <span class="hand">
            {handWords}
            {#if hand.does !== "edge" && hand.does !== "join"}<NumberField
                value={hand.radius}
                label="radius of the circle"
                onset={(radius) => {
                  if (hand && hand.does !== "edge" && hand.does !== "join")
                    hand = { ...hand, radius: Math.min(500, Math.max(0.05, radius)) };
                }}
              />{/if}
            {#if hand.does === "paint" && "keepOut" in hand.into}
              <button
                class="word"
                onclick={() => {
                  if (hand?.does === "paint") hand = { ...hand, rub: !hand.rub };
                }}>{hand.rub ? "paint" : "rub out"}</button
              >,
            {/if}
            {#if hand.does === "divide"}
              <button class="press first" disabled={!stroke.length} onclick={() => void divide()}>divide it</button>
              <button class="press" onclick={() => (hand = undefined)}>leave it</button>
            {:else}
              <button class="press" onclick={() => (hand = undefined)}>done</button>
            {/if}
          </span>
        {:else}
          <button class="word" onclick={() => three?.whole()}>whole part</button>
          <span>
            cut across
            {#each ["x", "y", "z"] as axis, k (axis)}<button
                class="word"
                class:here={cutting?.axis === k}
                aria-pressed={cutting?.axis === k}
                onclick={() => open(k as 0 | 1 | 2)}>{axis}</button
              >{k < 2 ? ", " : ""}{/each}
          </span>
          <span>
            show
            {#if tool.pull}<button
                class="word"
                class:here={show === "draft"}
                aria-pressed={show === "draft"}
                onclick={() => choose("draft")}>draft</button
              >,
              <button
                class="word"
                class:here={show === "steel"}
                aria-pressed={show === "steel"}
                onclick={() => choose("steel")}>steels</button
              >,{/if}
            <button class="word" class:here={show === "ray"} aria-pressed={show === "ray"} onclick={() => choose("ray")}
              >wall</button
            >,
            <button
              class="word"
              class:here={show === "ball"}
              aria-pressed={show === "ball"}
              onclick={() => choose("ball")}>balls</button
            >{#if view.job.part.replaces},
              <button
                class="word"
                class:here={show === "change"}
                aria-pressed={show === "change"}
                onclick={() => choose("change")}>what changed</button
              >{/if}{#if show && !painted}<span class="soft">&nbsp; measuring …</span>{/if}
          </span>
          {#if cutting}
            <input
              type="range"
              aria-label="place of the cut"
              min={span.low}
              max={span.high}
              step={(span.high - span.low) / 400}
              value={cutting.height}
              oninput={(e) => moveCut(Number(e.currentTarget.value))}
            />
            <span>at <NumberField value={cutting.height} label="height of the cut" onset={moveCut} /></span>
            {#if cut}<span class="soft"
                >{cut.area.toFixed(1)} mm² cut through;
                {distance === undefined
                  ? "press two places on the cut to measure"
                  : `${distance.toFixed(3)} mm apart`}</span
              >{/if}
          {:else if !picked}<span class="soft">press a face to see what it can be used for</span>{/if}
        {/if}
      </div>
      {#if face && picked && !hand}<FacePlate
          {session}
          {face}
          point={picked.point}
          bind:hand
          onmark={() => void mark()}
        />{/if}
    </View3d>
    <aside>
      <Sound {session} {part} onnewer={(file) => void newer(file)} />
      <ToolSection {session} {told} bind:hand onlook={lookAtCaught} />
      <KeepOuts {session} {told} bind:hand />
      <section>
        <h3>faces</h3>
        <ol>
          {#each part.faces.filter((f) => f.facets) as f (f.face)}
            <li>
              <button class="plainly" class:here={picked?.place === f.face} onclick={() => (picked = { place: f.face })}
                ><span>{named(f.face)}{f.says.split(", ")[0]}</span><span class="soft">{f.area.toFixed(0)} mm²</span
                ></button
              >
            </li>
          {/each}
        </ol>
      </section>
      <Process {session} {view} />
    </aside>
  </div>
{/if}

<style>
  .station {
    display: grid;
    grid-template-columns: 1fr 400px;
    height: 100%;
  }
  aside {
    border-left: 1px solid var(--rim);
    overflow-y: auto;
    padding: 6px 20px 20px;
    background: var(--plate);
  }
  aside :global(section) {
    padding: 9px 0 11px;
    border-bottom: 1px solid var(--line);
  }
  aside :global(section:last-child) {
    border: 0;
  }
  aside :global(h3) {
    margin: 0 0 3px;
    font-size: 12px;
    font-weight: 400;
    color: var(--ink-soft);
  }
  aside :global(p) {
    margin: 0 0 4px;
    line-height: 1.7;
  }
  aside :global(ol) {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li button {
    display: flex;
    justify-content: space-between;
    width: 100%;
    padding: 2px 6px;
    border-radius: 5px;
    text-align: left;
    font-size: 13px;
  }
  li button:hover,
  li button.here {
    background: var(--sand);
  }
  .over {
    outline: 3px dashed var(--pick);
    outline-offset: -6px;
  }
  .told {
    position: absolute;
    z-index: 3;
    top: 14px;
    left: 130px;
    max-width: 560px;
  }
  .tools {
    position: absolute;
    left: 18px;
    right: 12px;
    bottom: 12px;
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 18px;
    font-size: 13px;
  }
  .tools .word.here {
    font-weight: 700;
  }
  .tools input[type="range"] {
    width: 170px;
    align-self: center;
    accent-color: var(--rim);
  }
  .tools .word {
    font-weight: 400;
  }
  .hand {
    padding: 5px 12px;
    border: 1px solid var(--pick);
    border-radius: 8px;
    background: var(--enamel);
  }
  .probe {
    position: absolute;
    margin: 0;
    padding: 2px 9px;
    border: 1px solid var(--rim-soft);
    border-radius: 6px;
    background: var(--enamel);
    font-size: 12px;
    white-space: nowrap;
    pointer-events: none;
  }
</style>
