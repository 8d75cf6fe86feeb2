<!-- One change for all jobs that are picked: what it is, and the press that tries it. -->
<script lang="ts">
  import { onMount } from "svelte";
  import { api, problem, type Edit, type Schemas } from "../api/client";
  import { person } from "../frame/person.svelte";
  import { toMany } from "../router";
  import { many } from "../words";

  let {
    picked,
    all,
    folders,
    onpick,
    onarchive,
    onend,
  }: {
    picked: string[];
    /** Every job that can be picked. */
    all: string[];
    /** Those that there are on the list. */
    folders: string[];
    onpick: (ids: string[]) => void;
    onarchive: (ids: string[]) => void;
    onend: () => void;
  } = $props();

  let sets = $state.raw<Schemas["LimitSetView"][]>([]);
  let sheets = $state.raw<Schemas["SheetView"][]>([]);
  let before = $state.raw<Schemas["CampaignRow"][]>([]);
  let wish = $state("revision");
  let folder = $state("");
  let trouble = $state("");
  let sending = $state(false);

  onMount(() => {
    void api.GET("/api/limits").then(({ data }) => (sets = data ?? []));
    void api.GET("/api/sheets").then(({ data }) => (sheets = data ?? []));
    void api.GET("/api/campaigns").then(({ data }) => (before = data ?? []));
  });

  /** Of each sheet on the list the newest version. */
  const newest = $derived(sheets.filter((s, at) => !s.gone && s.sheet.name !== sheets[at - 1]?.sheet.name));

  function edit(): Edit {
    const [kind, name] = wish.split(/:(.*)/);
    const sheet = newest.find((s) => s.sheet.name === name);
    if (kind === "sheet" && sheet) return { do: "set_limits", limits: sheet.limits, sheet: sheet.sheet };
    if (kind === "limits") return { do: "set_limits", limits: name };
    return { do: "roster", edit: { change: "next_revision" } };
  }

  /** All that are picked into one folder of the list. */
  async function gather() {
    const put = (id: string) =>
      api.PUT("/api/jobs/{id}/folder", { params: { path: { id } }, body: { folder: folder.trim() } });
    const answers = await Promise.all(picked.map(put));
    const refused = answers.find(({ error }) => error)?.error;
    trouble = refused ? problem(refused) : "";
    if (!refused) onpick([]);
  }

  async function begin() {
    sending = true;
    try {
      const body = { author: person.name, edit: edit(), jobs: picked };
      const { data, error } = await api.POST("/api/campaigns", { body });
      trouble = data ? "" : problem(error);
      if (data) toMany(data.id);
    } catch (e) {
      trouble = problem(e);
    } finally {
      sending = false;
    }
  }
</script>

<section aria-label="Change many jobs">
  <p>
    Pick jobs below
    <button class="word" onclick={() => onpick(all)}>all</button>
    <button class="word" onclick={() => onpick([])}>none</button>
    and give {many(picked.length, "job")}
    <select aria-label="what they get" bind:value={wish}>
      <option value="revision">the next revision</option>
      {#each sets as set (set.id)}<option value="limits:{set.id}">the limits for {set.name.toLowerCase()}</option
        >{/each}
      {#each newest as { sheet } (sheet.name)}
        <option value="sheet:{sheet.name}">the limits of {sheet.name}, version {sheet.version}</option>
      {/each}
    </select>
    <button class="press" disabled={!picked.length || sending} onclick={begin}
      >Try it on {many(picked.length, "job")}</button
    >
    <button class="word" onclick={onend}>leave</button>
  </p>
  <p>
    or put {many(picked.length, "job")} into the folder
    <input
      aria-label="folder of those picked"
      placeholder="none"
      list="folders-there"
      maxlength="60"
      bind:value={folder}
    />
    <datalist id="folders-there"
      >{#each folders as one (one)}<option value={one}></option>{/each}</datalist
    >
    <button class="press" disabled={!picked.length} onclick={() => void gather()}>Put there</button>
    or <button class="word" disabled={!picked.length} onclick={() => onarchive(picked)}>archive</button> them
  </p>
  <p class="soft">Trying changes no job: you see what each would come to, and take it where you want it.</p>
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  {#if before.length}
    <p class="soft before">
      Tried before:
      {#each before as one (one.id)}<a href="/many/{one.id}">{one.says}, {many(one.jobs, "job")}</a>{/each}
    </p>
  {/if}
</section>

<style>
  section {
    margin-bottom: 16px;
    padding: 11px 16px;
    border: 1px solid var(--rim);
    border-radius: 11px;
    background: var(--plate);
  }
  p {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 10px;
    align-items: baseline;
    margin: 0;
  }
  p + p {
    margin-top: 6px;
    font-size: 13px;
  }
  select {
    field-sizing: content;
  }
  input {
    width: 150px;
    padding: 2px 6px;
    border: 1px solid var(--line);
    border-radius: 5px;
    background: var(--enamel);
    font: inherit;
  }
  .bad {
    color: var(--fail);
  }
  .before {
    gap: 4px 16px;
  }
</style>
