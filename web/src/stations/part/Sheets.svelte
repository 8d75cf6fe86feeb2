<!-- Sheets of limits of the shop's own: kept from a job under a name, in versions, for other jobs to be judged by. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Schemas } from "../../api/client";
  import { person } from "../../frame/person.svelte";
  import { sheet as look } from "../../pieces/theme";
  import type { Session } from "../../session.svelte";
  import { many } from "../../words";

  let {
    session,
    view,
    sets,
    sheets = $bindable(),
    open = $bindable(),
  }: {
    session: Session;
    view: Schemas["JobView"];
    /** Those that ship. */
    sets: Schemas["LimitSetView"][];
    /** Every version, by name, the newest first. */
    sheets: Schemas["SheetView"][];
    open: boolean;
  } = $props();

  let name = $state("");
  let trouble = $state("");

  const names = $derived([...new Set(sheets.map((s) => s.sheet.name))]);
  const versions = (of: string) => sheets.filter((s) => s.sheet.name === of);
  const isGone = (of: string) => versions(of).some((s) => s.gone);
  const process = (id: string) => sets.find((s) => s.id === id)?.name ?? id;
  const inUse = (s: Schemas["SheetView"]) =>
    s.sheet.name === view.job.sheet?.name && s.sheet.version === view.job.sheet.version;
  const next = $derived((versions(name.trim())[0]?.sheet.version ?? 0) + 1);
  const own = $derived(view.job.own_limits.length);

  async function read() {
    const { data, error } = await api.GET("/api/sheets");
    if (data) sheets = data;
    else trouble = problem(error);
  }

  $effect(() => {
    if (!open) return;
    trouble = "";
    name = view.job.sheet?.name ?? "";
    void read();
  });

  async function keep(event: SubmitEvent) {
    event.preventDefault();
    const limits = view.job.limits;
    const { data, error } = await api.POST("/api/jobs/{id}/sheets", {
      params: { path: { id: session.id } },
      body: { author: person.name, name },
    });
    trouble = error ? problem(error) : "";
    if (data) await session.change({ do: "set_limits", limits, sheet: data });
    await read();
  }

  async function use(kept: Schemas["SheetView"]) {
    await session.change({ do: "set_limits", limits: kept.limits, sheet: kept.sheet });
  }

  async function put(of: string, gone: boolean) {
    const { error } = await api.POST("/api/sheets/{name}/gone", {
      params: { path: { name: of } },
      body: { author: person.name, gone },
    });
    trouble = error ? problem(error) : "";
    await read();
  }
</script>

<Modal bind:open title="Sheets of limits" class={look.base} classes={{ header: look.header, body: look.body }}>
  <form onsubmit={keep}>
    Keep the limits of this job{own ? `, with ${many(own, "limit")} set here,` : ""} as
    <input bind:value={name} aria-label="name of the sheet" placeholder="name of the sheet" maxlength="60" />
    <button class="press" disabled={!name.trim()}>keep version {next}</button>
  </form>
  {#if view.job.process.texture > 0}
    <p class="soft">
      The texture’s share of the draft is left out: it is added where the sheet is used. What you set here for draft and
      relief height stays with this job.
    </p>
  {/if}
  {#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
  <ul aria-label="sheets">
    {#each names.filter((n) => !isGone(n)) as of (of)}
      <li>
        <span class="what">
          <b>{of}</b>
          {#each versions(of) as kept (kept.sheet.version)}
            <small>
              version {kept.sheet.version}, over {process(kept.limits)}, kept by {kept.author} on {kept.at.slice(
                0,
                10,
              )}:
              {#if inUse(kept)}
                <b>in use here</b>
              {:else}
                <button class="word" onclick={() => void use(kept)}>judge by it</button>
              {/if}
            </small>
          {/each}
        </span>
        <button class="word" onclick={() => void put(of, true)}>archive</button>
      </li>
    {:else}
      <li class="soft">None yet. Set limits in the table for this job, then keep them here under a name.</li>
    {/each}
  </ul>
  {#if names.some(isGone)}
    <p class="soft">
      Archived:
      {#each names.filter(isGone) as of (of)}
        {of} <button class="word" onclick={() => void put(of, false)}>restore</button>{" "}
      {/each}
    </p>
  {/if}
</Modal>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
  }
  input {
    flex: 1;
    min-width: 150px;
    padding: 4px 8px;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--enamel);
    font: inherit;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 8px 0;
    border-top: 1px solid var(--line);
  }
  .what {
    flex: 1;
  }
  .what small {
    display: block;
  }
  .trouble {
    color: var(--fail);
  }
</style>
