<!-- Part: is it a closed solid, in which unit, which way does the tool open, where does it part? -->
<script lang="ts">
  import { api, type Schemas, type Witness } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import { currentSession } from "../../frame/current";
  import StateShape from "../../pieces/StateShape.svelte";
  import { go } from "../../router";
  import type { Cut, Point } from "../../view3d/table";
  import View3d from "../../view3d/View3d.svelte";

  const current = currentSession();
  const session = $derived(current());
  const view = $derived(session.view);
  const part = $derived(view?.part);
  const tool = $derived(view?.job.tool);
  /** The pressed face; chosen from the list it has no pressed point. */
  let picked = $state.raw<{ place: number; point?: Point }>();
  let sheets = $state.raw<Schemas["SheetView"][]>([]);
  let three = $state<View3d>();

  $effect(() => {
    void api.GET("/api/sheets").then(({ data }) => (sheets = data ?? []));
  });

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

  const plural = (n: number, one: string, many: string) => (n === 1 ? `1 ${one}` : `${n} ${many}`);

  function mendWords({ mend, count }: Schemas["MendView"]): string {
    switch (mend) {
      case "drop_doubles":
        return `drop ${plural(count, "facet that lies on another", "facets that lie on others")}`;
      case "drop_loose":
        return `drop ${plural(count, "loose bit", "loose bits")}`;
      case "turn":
        return `turn ${plural(count, "facet", "facets")} right side out`;
      case "close_holes":
        return `close ${plural(count, "flat hole", "flat holes")}`;
    }
  }

  function volumes({ before, after }: Schemas["MendView"]): string {
    const moved = after - before;
    if (Math.abs(moved) < 1e-6 * Math.abs(after)) return "encloses the same";
    return `encloses ${before.toFixed(1)} → ${after.toFixed(1)} mm³`;
  }

  /** Takes a body in or leaves it out. */
  async function take(at: number) {
    const taken = part?.bodies.flatMap((b, k) => ((k === at) !== b.taken ? [k] : [])) ?? [];
    picked = undefined;
    await session.change({ do: "take_bodies", bodies: taken });
  }

  function pull(k: number, value: number) {
    const direction = [...(tool?.pull ?? [0, 0, 0])];
    direction[k] = value;
    return session.change({ do: "set_pull", direction });
  }

  const unitOf: Partial<Record<Schemas["Subject"], string>> = {
    draft: "°",
    even_depth: " %",
    cap_height: " mm",
    reading_angle: "′",
    stroke: " mm",
    counter: " mm",
    gap: " strokes",
    parting: " mm",
    wall_left: " %",
    wall_least: " mm",
    wall_added: " %",
  };

  const subject: Record<Schemas["Subject"], string> = {
    draft: "least draft of the walls",
    even_depth: "spread of the depth",
    cap_height: "cap height",
    reading_angle: "angle of the capitals as read",
    stroke: "stroke on land or floor",
    counter: "counter at the root",
    gap: "gap between characters",
    stroke_to_height: "stroke over relief height",
    parting: "clearance to the parting line",
    wall_left: "wall left when sunken, share",
    wall_least: "wall left when sunken",
    wall_added: "wall added when raised",
  };
</script>

{#if view && part && tool}
  <div class="station">
    <View3d
      bind:this={three}
      {session}
      bare
      face={picked?.place}
      {cut}
      {witnesses}
      note={distance === undefined ? undefined : `${distance.toFixed(3)} mm`}
      onpress={(p) => {
        if (cut) measured = p ? [...measured.slice(measured.length === 2 ? 2 : 0), p.point] : [];
        else picked = p && p.mark < 0 ? { place: p.place, point: p.point } : undefined;
      }}
    >
      <div class="tools">
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
        {:else if !picked}<span class="soft">press a face to take the pull or the parting line from it</span>{/if}
      </div>
      {#if face && picked}
        <section class="face" aria-label="the pressed face">
          <p><strong>{face.says}</strong></p>
          <p class="soft">{face.area.toFixed(1)} mm², {face.facets} facets, face {face.face}</p>
          <div>
            <button
              class="press"
              disabled={!face.direction}
              onclick={() => session.change({ do: "pull_from_face", face: face.face })}
            >
              {face.kind === "plane" ? "pull along its normal" : "pull along its axis"}
            </button>
            <button
              class="press"
              disabled={!tool.pull || !picked.point}
              onclick={() => picked?.point && session.change({ do: "parting_at", point: picked.point })}
            >
              parting plane here
            </button>
            <button class="press first" disabled={!face.seat || !part.soundness.solid} onclick={mark}
              >mark it here</button
            >
          </div>
          {#if !face.seat}<p class="soft">Marks go on planes and cylinders.</p>{/if}
        </section>
      {/if}
    </View3d>
    <aside>
      <section>
        <h3>part</h3>
        {#if part.soundness.solid}
          <p>
            <StateShape state="holds" /> A closed solid{part.soundness.shells > 1
              ? ` of ${part.soundness.shells} shells`
              : ""},
            <b>{part.size.map((s) => s.toFixed(2)).join(" × ")}</b> mm, <b>{part.volume?.toFixed(0)}</b> mm³, drawn in {part.unit}.
          </p>
        {:else}
          <p class="bad"><StateShape state="fails" /> {part.soundness.complaint}</p>
          <p class="soft">
            The places are drawn in red on the part. Until it is closed, no solid can be marked and nothing can be
            measured; seats, tool and texts can be prepared.
          </p>
          {#each part.soundness.mends as m (m.mend)}
            <p class="mend">
              <button
                class="press"
                disabled={!!session.marks.length}
                onclick={() => session.change({ do: "mend_part", mend: m.mend })}>{mendWords(m)}</button
              >
              <span class="soft">{volumes(m)}</span>
            </p>
          {/each}
          {#if part.soundness.mends.length && session.marks.length}
            <p class="soft">Marks sit on the part as it is; take them away to mend it.</p>
          {/if}
        {/if}
        {#each part.soundness.mended as m, at (at)}
          <p class="mend">
            <span>Mended: {mendWords(m)}</span><span class="soft">{volumes(m)}</span>
            {#if !session.marks.length}
              <button class="word" onclick={() => session.change({ do: "leave_mend", mend: m.mend })}>leave it</button>
            {/if}
          </p>
        {/each}
        <p class="soft">
          {part.triangles.toLocaleString("en-GB")} triangles, {part.faces.length} faces{#if part.soundness.joined}, {part
              .soundness.joined}
            vertices joined that stood a hair apart{/if}{#if part.soundness.dropped}, {part.soundness.dropped} triangles without
            area left out{/if}{#if part.soundness.turned}, turned right side out{/if}.
        </p>
      </section>
      {#if part.bodies.length > 1}
        <section>
          <h3>bodies in the file</h3>
          <ol class="bodies">
            {#each part.bodies as body, at (at)}
              <li>
                <label class:here={body.taken}>
                  <input
                    type="checkbox"
                    checked={body.taken}
                    disabled={!!session.marks.length || (body.taken && part.bodies.filter((b) => b.taken).length === 1)}
                    onchange={() => take(at)}
                  />
                  <span>{body.name || `body ${at + 1}`}</span>
                  <span class="soft">{body.solid ? `${body.volume.toFixed(0)} mm³` : "sheet"}</span>
                </label>
              </li>
            {/each}
          </ol>
          {#if session.marks.length}
            <p class="soft">Marks sit on the bodies taken now; take them away to choose others.</p>
          {/if}
        </section>
      {/if}
      <section>
        <h3>tool</h3>
        {#if tool.pull}
          <p>
            The first half leaves along
            {#each tool.pull as c, k (k)}
              {["x", "y", "z"][k]}&nbsp;<NumberField
                value={c}
                label="pull {['x', 'y', 'z'][k]}"
                unit=""
                after={k < 2 ? "," : ""}
                places={3}
                step={0.1}
                onset={(v) => pull(k, v)}
              />
            {/each}
            <button class="word" onclick={() => session.change({ do: "turn_pull" })}>turn it round</button>. The other
            half leaves the other way.
          </p>
        {:else}
          <p>
            Which way does the tool open? Press a face and take its direction, or start from
            {#each ["x", "y", "z"] as axis, k (axis)}<button
                class="word"
                onclick={() => session.change({ do: "set_pull", direction: [0, 1, 2].map((i) => (i === k ? 1 : 0)) })}
                >{axis}</button
              >{k === 0 ? ", " : k === 1 ? " or " : "."}
            {/each}
          </p>
        {/if}
        {#each tool.parting as line, at (at)}
          <p>
            {#if line.kind === "plane"}
              Parting plane at
              <NumberField
                value={line.height}
                label="height of the parting plane"
                onset={(height) => session.change({ do: "set_parting", at, parting: { kind: "plane", height } })}
              /> along the pull,
            {:else}
              Parting line along the silhouette,
            {/if}
            <button class="word" onclick={() => session.change({ do: "remove_parting", at })}>take away</button>
          </p>
        {/each}
        {#if tool.pull}
          <p>
            {tool.parting.length ? "Add" : "Where does it part? Press the part where the line runs, or add"}
            <button
              class="word"
              onclick={() => session.change({ do: "add_parting", parting: { kind: "plane", height: 0 } })}
              >a plane</button
            >
            {#if !tool.parting.some((p) => p.kind === "silhouette")}or
              <button
                class="word"
                onclick={() => session.change({ do: "add_parting", parting: { kind: "silhouette" } })}
                >the silhouette</button
              >{/if}.
          </p>
        {/if}
      </section>
      <section>
        <h3>faces</h3>
        <ol>
          {#each part.faces as f (f.face)}
            <li>
              <button class="plainly" class:here={picked?.place === f.face} onclick={() => (picked = { place: f.face })}
                ><span>{f.says.split(", ")[0]}</span><span class="soft">{f.area.toFixed(0)} mm²</span></button
              >
            </li>
          {/each}
        </ol>
      </section>
      <section>
        <h3>limits</h3>
        <p>
          By the sheet
          <ChoiceField
            value={view.job.limits}
            label="limits sheet"
            choices={sheets.map((s) => ({ value: s.id, says: s.name }))}
            onset={(limits) => session.change({ do: "set_limits", limits })}
            after=","
          /> read from
          <NumberField
            value={view.job.reading_distance}
            label="reading distance"
            places={0}
            step={50}
            onset={(mm) => session.change({ do: "set_reading_distance", mm })}
          /> away.
        </p>
        <table>
          <tbody>
            {#each sheets.find((s) => s.id === view.job.limits)?.limits ?? [] as l (l.subject)}
              <tr>
                <td>{subject[l.subject]}</td>
                <td class="n">{l.limit.side === "at_least" ? "≥" : "≤"} {l.limit.value}{unitOf[l.subject] ?? ""}</td>
                <td class="soft">{l.limit.source}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      </section>
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
  aside section {
    padding: 9px 0 11px;
    border-bottom: 1px solid var(--line);
  }
  aside section:last-child {
    border: 0;
  }
  h3 {
    margin: 0 0 3px;
    font-size: 12px;
    font-weight: 400;
    color: var(--ink-soft);
  }
  p {
    margin: 0 0 4px;
    line-height: 1.7;
  }
  .bad {
    color: var(--fail);
  }
  table {
    width: 100%;
    margin-top: 4px;
    border-collapse: collapse;
    font-size: 12px;
  }
  td {
    padding: 2px 6px 2px 0;
    vertical-align: top;
  }
  .n {
    white-space: nowrap;
    font-weight: 700;
  }
  ol {
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
  .mend {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: baseline;
  }
  .bodies label {
    display: flex;
    gap: 8px;
    align-items: baseline;
    padding: 2px 6px;
    border-radius: 5px;
    font-size: 13px;
  }
  .bodies label.here {
    background: var(--sand);
  }
  .bodies span:first-of-type {
    flex: 1;
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
  .face {
    position: absolute;
    left: 18px;
    bottom: 44px;
    padding: 10px 14px;
    border: 1px solid var(--rim);
    border-radius: 10px;
    background: var(--enamel);
  }
  .face p {
    line-height: 1.4;
  }
  .face div {
    display: flex;
    gap: 8px;
    margin-top: 6px;
  }
</style>
