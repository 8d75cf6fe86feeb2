<!-- The way in: every job with its picture, its worst finding, who changed it last. Drop a part file anywhere. -->
<script lang="ts">
  import { onMount } from "svelte";
  import { api, problem, type JobRow } from "../api/client";
  import { listen } from "../frame/events";
  import { person } from "../frame/person.svelte";
  import StateShape from "../pieces/StateShape.svelte";
  import { go } from "../router";
  import { handoffWords, many, moment, tips, verdictWords } from "../words";
  import { Drop, type Unit } from "./drop.svelte";
  import { each, everything, found, standing } from "./finding";
  import Find from "./Find.svelte";
  import JobActs from "./JobActs.svelte";
  import DropTold from "./DropTold.svelte";
  import Many from "./Many.svelte";
  import Page from "./Page.svelte";

  let rows = $state.raw<JobRow[]>();
  let trouble = $state("");
  let over = $state(false);
  /** Jobs that one change is to be tried on, while they are picked. */
  let picked = $state<string[]>();
  let picker: HTMLInputElement;
  const drop = new Drop<{ id: string }>(() => "/api/jobs");

  async function load() {
    try {
      const { data, error } = await api.GET("/api/jobs");
      if (data) rows = data;
      trouble = data ? "" : problem(error);
    } catch (e) {
      trouble = problem(e);
    }
  }

  onMount(() => {
    void load();
    return listen(
      (told) => {
        if (!["rows", "campaign", "shop"].includes(told.what)) void load();
      },
      () => void load(),
    );
  });

  const kept = new Drop<{ sha256: string }>(() => "/api/parts");
  /** A job with its part in one file. */
  const packed = new Drop<{ id: string }>(() => "/api/jobs/of-archive");

  async function begin(files: File[], unit?: Unit) {
    const archive = files.find((one) => one.name.toLowerCase().endsWith(".zip"));
    if (archive) {
      const made = await packed.send(archive);
      if (made) go(made.id, "marks");
      return;
    }
    const file = files.find((one) => one.name.endsWith(".json"));
    if (file)
      return ofFile(
        file,
        files.find((one) => one !== file),
      );
    const begun = files[0] && (await drop.send(files[0], unit));
    if (begun) go(begun.id, "part");
  }

  /** A job of a job file, with its part file where that is dropped beside it. */
  async function ofFile(file: File, part: File | undefined) {
    trouble = "";
    if (part && !(await kept.send(part))) {
      trouble = kept.trouble;
      return;
    }
    try {
      const body = await file.text();
      const { data, error } = await api.POST("/api/jobs/of-file", {
        params: { query: { author: person.name } },
        body: body as never,
        bodySerializer: (text: unknown) => text as string,
        headers: { "content-type": "application/json" },
      });
      if (data) go(data.id, "marks");
      else trouble = `${file.name}: ${problem(error)}`;
    } catch (e) {
      trouble = problem(e);
    }
  }

  function dropped(event: DragEvent) {
    event.preventDefault();
    over = false;
    void begin([...(event.dataTransfer?.files ?? [])]);
  }

  const here = $derived(rows?.filter((row) => !row.gone));
  let find = $state(everything());
  const shown = $derived(here && found(here, find));
  const folders = $derived(each(here ?? [], (row) => row.folder));
  const gone = $derived(rows?.filter((row) => row.gone) ?? []);

  /** Archived last, to be undone beside it. */
  let archived = $state.raw<string[]>([]);

  /** Asks the same for each of these jobs; those that it was done for. What was refused is told. */
  async function forEach(ids: string[], ask: (id: string) => Promise<{ error?: unknown }>): Promise<string[]> {
    const answers = await Promise.all(ids.map((id) => ask(id).catch((error: unknown) => ({ error }))));
    await load();
    const refused = answers.find(({ error }) => error);
    if (refused) trouble = problem(refused.error);
    return ids.filter((_, at) => !answers[at].error);
  }

  async function archive(ids: string[]) {
    archived = await forEach(ids, (id) => api.DELETE("/api/jobs/{id}", { params: { path: { id } } }));
  }

  async function restore(ids: string[]) {
    await forEach(ids, (id) => api.POST("/api/jobs/{id}/restore", { params: { path: { id } } }));
    archived = [];
  }
</script>

<svelte:head><title>Jobs · Tin Badge</title></svelte:head>
<svelte:window
  ondragover={(e) => {
    e.preventDefault();
    over = true;
  }}
  ondragleave={(e) => {
    if (!e.relatedTarget) over = false;
  }}
  ondrop={dropped}
/>

<div class="page" class:over>
  <Page>
    <div class="head">
      <h1 title={tips.job}>Jobs</h1>
      <label class="begin">
        <input
          bind:this={picker}
          id="part-file"
          type="file"
          accept=".step,.stp,.p21,.stl,.3mf,.obj,.ply,.glb,.gltf,.json,.zip"
          multiple
          onchange={() => {
            void begin([...(picker.files ?? [])]);
            picker.value = "";
          }}
        />
        <span class="press first">Begin a job with a part file</span>
        <span
          class="soft"
          title="A job that was saved as one file, or a handoff, makes that job again; so does a job file with its part file."
          >or drop one anywhere: STEP, STL, 3MF, OBJ, PLY or GLB</span
        >
      </label>
      {#if (here?.length ?? 0) > 1}
        {#if !picked}<button class="word many" onclick={() => (picked = [])}>change many jobs</button>{/if}
      {/if}
    </div>
    {#if picked}
      <Many
        {picked}
        all={(shown ?? []).filter((row) => !row.unreadable).map((row) => row.id)}
        {folders}
        onpick={(ids) => (picked = ids)}
        onarchive={(ids) => ((picked = undefined), void archive(ids))}
        onend={() => (picked = undefined)}
      />
    {/if}
    {#if here && here.length > 1}<Find rows={here} bind:find />{/if}
    <DropTold {drop} again={(file, unit) => void begin([file], unit)} />
    <DropTold drop={packed} again={(file) => void begin([file])} />
    {#if archived.length}
      <p class="note" role="status">
        {archived.length === 1
          ? `“${rows?.find((row) => row.id === archived[0])?.name}” is archived.`
          : `${archived.length} jobs are archived.`}
        <button class="word" onclick={() => restore(archived)}>undo</button>
      </p>
    {/if}
    {#if trouble}<p class="note bad" role="alert">{trouble}</p>{/if}
    {#if here?.length === 0 && !drop.question}
      <button class="plainly empty" onclick={() => picker.click()}>
        No jobs yet. Drop a part file here, or click to choose one.
      </button>
    {/if}
    <ul>
      {#each shown ?? [] as row (row.id)}
        <li>
          {#if row.unreadable}
            <span class="words odd">
              <strong>{row.name}</strong>
              <span class="stand fails">
                <StateShape state="fails" />
                can't be read: {row.unreadable}
              </span>
              <span class="soft">What is kept of it stays as it is.</span>
              <span class="soft last">{row.by}, {moment(row.at)}</span>
            </span>
          {:else}
            <a href="/jobs/{row.id}/{row.marks ? 'marks' : 'part'}">
              <img
                src="/api/jobs/{row.id}/picture?state={row.state}"
                alt="the part of {row.name}"
                width="216"
                height="144"
              />
              <span class="words">
                <strong>{row.name}</strong>
                <span class="soft">{row.part_file}, {many(row.marks, "mark")}</span>
                <span class="stand {standing(row)}">
                  <StateShape state={standing(row)} />
                  {verdictWords(row.verdict, row.marks)}
                </span>
                {#if row.verdict?.worst}<span class="worst">{row.verdict.worst}</span>{/if}
                <span class="soft last">{row.by}, {moment(row.at)} · {handoffWords(row.handed_off)}</span>
              </span>
            </a>
          {/if}
          {#if picked && !row.unreadable}
            <label class="pick">
              <input type="checkbox" aria-label="pick {row.name}" value={row.id} bind:group={picked} />
            </label>
          {:else}
            <JobActs {row} {folders} onarchive={() => archive([row.id])} ontrouble={(why) => (trouble = why)} />
          {/if}
        </li>
      {/each}
    </ul>
    {#if here?.length && !shown?.length}<p class="soft">No job is like that.</p>{/if}
    {#if gone.length}
      <p class="gone">
        Archived, nothing lost:
        {#each gone as row (row.id)}
          <span>{row.name} <button class="word" onclick={() => restore([row.id])}>restore</button></span>
        {/each}
      </p>
    {/if}
  </Page>
  {#if over}<div class="target">Drop to begin a new job with this part</div>{/if}
</div>

<style>
  .page {
    min-height: 100%;
  }
  .head {
    display: flex;
    align-items: baseline;
    gap: 26px;
    margin-bottom: 16px;
  }
  h1 {
    font-size: 21px;
  }
  .begin {
    display: flex;
    gap: 12px;
    align-items: baseline;
    cursor: pointer;
  }
  .begin input {
    position: absolute;
    width: 1px;
    height: 1px;
    opacity: 0;
  }
  .begin input:focus-visible + .press {
    outline: 2px solid var(--pick);
    outline-offset: 2px;
  }
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(480px, 1fr));
    gap: 16px;
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    position: relative;
    border: 1px solid var(--rim);
    border-radius: 11px;
    background: var(--plate);
  }
  li a {
    display: flex;
    gap: 16px;
    padding: 12px;
    color: inherit;
    text-decoration: none;
  }
  .odd {
    padding: 12px;
  }
  li:hover {
    box-shadow: 0 0 0 2px var(--rim);
  }
  img {
    flex: none;
    align-self: flex-start;
    border-radius: 7px;
    background: radial-gradient(ellipse at 50% 40%, var(--enamel), var(--table) 80%);
  }
  .words {
    display: flex;
    flex-direction: column;
    gap: 4px;
    min-width: 0;
    flex: 1;
  }
  li:has(.pick) strong {
    padding-right: 28px;
  }
  .words strong {
    font-size: 16px;
  }
  .stand {
    display: flex;
    gap: 7px;
    align-items: center;
  }
  .stand.fails {
    color: var(--fail);
    font-weight: 700;
  }
  .stand.marginal {
    color: var(--marginal);
    font-weight: 700;
  }
  .worst {
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow: hidden;
    font-size: 13px;
  }
  .last {
    margin-top: auto;
    padding-bottom: 20px;
    font-size: 12px;
  }
  .many {
    margin-left: auto;
  }
  .pick {
    position: absolute;
    top: 0;
    right: 0;
    padding: 12px 14px;
    cursor: pointer;
  }
  .pick input {
    width: 18px;
    height: 18px;
  }
  .gone {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 20px;
    margin-top: 26px;
    color: var(--ink-soft);
  }
  .gone .word {
    margin-left: 5px;
    font-weight: 400;
  }
  .note {
    margin: 0 0 14px;
    padding: 9px 14px;
    border-radius: 8px;
    background: var(--plate);
  }
  .note.bad {
    border: 1px solid var(--fail);
    background: var(--fail-ground);
    color: var(--fail);
  }
  .empty {
    width: 100%;
    padding: 70px 20px;
    border: 1.5px dashed var(--rim-soft);
    border-radius: 11px;
  }
  .target {
    position: fixed;
    inset: 14px;
    display: grid;
    place-items: center;
    border: 2px dashed var(--pick);
    border-radius: 14px;
    background: rgb(from var(--enamel) r g b / 0.86);
    font-size: 20px;
    pointer-events: none;
  }
</style>
