<!-- Part: is it a closed solid, in which unit, which way does the tool open, where does it part, where does lettering stay
     out? -->
<script lang="ts">
  import { api, type Schemas } from "../../api/client";
  import { currentSession } from "../../frame/current";
  import { Drop, type Unit } from "../../jobs/drop.svelte";
  import DropTold from "../../jobs/DropTold.svelte";
  import Probe from "../../pieces/Probe.svelte";
  import { go } from "../../router";
  import type { Picked, Point } from "../../view3d/table";
  import View3d from "../../view3d/View3d.svelte";
  import { Brush } from "./brush.svelte";
  import { Cutting } from "./cutting.svelte";
  import FacePlate from "./FacePlate.svelte";
  import KeepOuts from "./KeepOuts.svelte";
  import Legend from "./Legend.svelte";
  import { Maps } from "./maps.svelte";
  import Process from "./Process.svelte";
  import Revision from "./Revision.svelte";
  import Sound from "./Sound.svelte";
  import Toolbar from "./Toolbar.svelte";
  import ToolSection from "./ToolSection.svelte";

  const current = currentSession();
  const session = $derived(current());
  const view = $derived(session.view);
  const part = $derived(view?.part);
  const tool = $derived(view?.job.tool);
  /** The pressed face; chosen from the list it has no pressed point. */
  let picked = $state.raw<{ place: number; point?: Point }>();
  let three = $state<View3d>();
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

  const maps = new Maps(() => ({ id: session.id, view, told, toolKey }));
  const cutting = new Cutting(() => ({ id: session.id, part }));
  const brush = new Brush(() => session);

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

  const areas = $derived({
    faces: told?.keep_outs.flatMap((k) => k.faces) ?? [],
    triangles: (told?.keep_outs.flatMap((k) => k.triangles) ?? []) as Point[][],
  });

  function lookAtCaught() {
    maps.show = "steel";
    const { at, out } = told?.caught ?? {};
    if (!at || !out || !part) return;
    const up: Point = Math.abs(out[2]) > 0.9 ? [0, 1, 0] : [0, 0, 1];
    target = { at: at as Point, out: out as Point, up, extent: Math.max(...part.size), lean: 0.5 };
  }

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

  async function press(under: Picked | undefined) {
    if (brush.hand && under && under.mark < 0) await brush.press(under);
    else picked = under && under.mark < 0 ? { place: under.place, point: under.point } : undefined;
  }

  async function divide() {
    const made = await brush.divide();
    if (made !== undefined) picked = { place: made };
  }

  $effect(() => {
    if (brush.hand) picked = undefined;
  });
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.key === "Escape" && brush.hand) brush.hand = undefined;
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
      face={brush.hand?.does === "join" || brush.hand?.does === "divide" ? brush.hand.face : picked?.place}
      cut={cutting.cut}
      {target}
      map={maps.painted}
      areas={maps.show ? undefined : areas}
      brush={brush.stroke}
      witnesses={cutting.picks.witnesses}
      note={cutting.picks.distance === undefined ? undefined : `${cutting.picks.distance.toFixed(3)} mm`}
      oncut={(at) => cutting.picks.press(at)}
      onpress={(p) => void press(p)}
      ongrab={(under) => brush.grab(under)}
      onhover={maps.show ? (under, x, y) => maps.hover(under, x, y) : undefined}
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
              cutting.at = undefined;
              maps.show = "change";
              void session.refresh();
            }
          }}
        />
      {/if}
      {#if maps.show && maps.painted}<Legend show={maps.show} top={maps.top} limit={maps.limit} {told} />{/if}
      {#if maps.passed && maps.show}<Probe {...maps.passed} />{/if}
      <Toolbar
        {brush}
        {cutting}
        {maps}
        pull={!!tool.pull}
        replaces={!!view.job.part.replaces}
        picked={!!picked}
        onwhole={() => three?.whole()}
        onopen={(axis) => {
          picked = undefined;
          cutting.open(axis);
        }}
        ondivide={() => void divide()}
      />
      {#if face && picked && !brush.hand}<FacePlate
          {session}
          {face}
          point={picked.point}
          bind:hand={brush.hand}
          onmark={() => void mark()}
        />{/if}
    </View3d>
    <aside>
      <Sound {session} {part} onnewer={(file) => void newer(file)} />
      <ToolSection {session} {told} bind:hand={brush.hand} onlook={lookAtCaught} />
      <KeepOuts {session} {told} bind:hand={brush.hand} />
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
</style>
