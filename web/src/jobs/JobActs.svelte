<!-- What can be done with a job of the list. -->
<script lang="ts">
  import { api, problem, type JobRow } from "../api/client";
  import { person } from "../frame/person.svelte";

  let {
    row,
    folders,
    onarchive,
    ontrouble,
  }: {
    row: JobRow;
    /** Those that there are. */
    folders: string[];
    onarchive: () => void;
    ontrouble: (why: string) => void;
  } = $props();

  let folder = $state<string>();

  async function copy() {
    const { error } = await api.POST("/api/jobs/{id}/states/{state}/copy", {
      params: { path: { id: row.id, state: row.state } },
      body: { author: person.name, name: `${row.name.slice(0, 195)} copy` },
    });
    if (error) ontrouble(problem(error));
  }

  async function keep() {
    const name = folder?.trim();
    folder = undefined;
    if (name === undefined || name === row.folder) return;
    const { error } = await api.PUT("/api/jobs/{id}/folder", {
      params: { path: { id: row.id } },
      body: { folder: name },
    });
    if (error) ontrouble(problem(error));
  }

  const focus = (input: HTMLInputElement) => input.focus();
</script>

<span class="acts">
  {#if folder === undefined}
    <button class="word" title="put it into a folder of this list" onclick={() => (folder = row.folder)}
      >{row.folder || "folder"}</button
    >
  {:else}
    <input
      aria-label="folder of {row.name}"
      placeholder="in no folder"
      list="folders-of-jobs"
      maxlength="60"
      bind:value={folder}
      {@attach focus}
      onblur={() => void keep()}
      onkeydown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") folder = undefined;
      }}
    />
    <datalist id="folders-of-jobs"
      >{#each folders as one (one)}<option value={one}></option>{/each}</datalist
    >
  {/if}
  <button class="word" title="a job of its own, as this one stands" onclick={() => void copy()}>copy</button>
  <a
    class="word"
    href="/api/jobs/{row.id}/job.zip"
    download
    title="the job and its part in one file: dropped on a list of jobs it is that job again">as one file</a
  >
  <button class="word" onclick={onarchive}>archive</button>
</span>

<style>
  .acts {
    position: absolute;
    right: 14px;
    bottom: 9px;
    display: flex;
    gap: 12px;
    align-items: baseline;
    font-size: 12px;
  }
  .word {
    max-width: 130px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-weight: 400;
    border-bottom-width: 1px;
    color: var(--ink-soft);
  }
  input {
    width: 120px;
    padding: 0 4px;
    border: 1px solid var(--rim);
    border-radius: 4px;
    background: var(--enamel);
    font: inherit;
  }
</style>
