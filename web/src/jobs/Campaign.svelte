<!-- One change on many jobs: what each comes to with it, and the presses that make it. -->
<script lang="ts">
  import { onMount } from "svelte";
  import { api, problem, type Schemas } from "../api/client";
  import { listen } from "../frame/events";
  import { person } from "../frame/person.svelte";
  import StateShape from "../pieces/StateShape.svelte";
  import { route } from "../router";
  import { many, moment, verdictWords } from "../words";
  import Page from "./Page.svelte";

  type Row = Schemas["CampaignJob"];

  const id = $derived(String(route.params.id));
  let view = $state.raw<Schemas["CampaignView"]>();
  let trouble = $state("");
  let asking: "idle" | "once" | "again" = "idle";

  async function load() {
    if (asking !== "idle") {
      asking = "again";
      return;
    }
    try {
      do {
        asking = "once";
        const { data, error } = await api.GET("/api/campaigns/{id}", { params: { path: { id } } });
        if (data) view = data;
        trouble = data ? "" : problem(error);
        // jobs come in faster than anyone reads
        await new Promise((ready) => setTimeout(ready, 200));
      } while ((asking as string) === "again");
    } catch (e) {
      trouble = problem(e);
    } finally {
      asking = "idle";
    }
  }

  onMount(() => {
    void load();
    return listen(
      (told) => {
        if (told.what === "campaign" && told.job === id) void load();
      },
      () => void load(),
    );
  });

  const jobs = $derived(view?.jobs ?? []);
  const of = (phase: Row["phase"]) => jobs.filter((row) => row.phase === phase);
  const open = $derived(of("waiting").length + of("taking").length);
  const fine = $derived(of("tried").filter((row) => row.no_worse));
  const worse = $derived(of("tried").filter((row) => !row.no_worse));

  async function ask(question: Promise<{ error?: unknown }>) {
    try {
      const { error } = await question;
      trouble = error ? problem(error) : "";
    } catch (e) {
      trouble = problem(e);
    }
    await load();
  }

  const path = () => ({ params: { path: { id } } });
  const take = (rows: Row[]) =>
    ask(
      api.POST("/api/campaigns/{id}/take", {
        ...path(),
        body: { author: person.name, jobs: rows.map((row) => row.job) },
      }),
    );

  const shape = (verdict: Schemas["VerdictView"]) =>
    verdict.fails ? "fails" : verdict.not_checked ? "not_checked" : verdict.marginal ? "marginal" : "passes";

  const phases: Record<Row["phase"], string> = {
    waiting: "waits to be tried",
    tried: "",
    same: "stays as it is",
    refused: "can't be changed",
    taking: "is being changed …",
    taken: "changed",
  };
</script>

<svelte:head><title>{view ? `${view.says} · Tin Badge` : "Tin Badge"}</title></svelte:head>

<Page>
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  {#if view}
    <h1>{view.says[0].toUpperCase()}{view.says.slice(1)}, on {many(jobs.length, "job")}</h1>
    <p class="soft">{view.by}, {moment(view.at)}. <a class="word" href="/">all jobs</a></p>
    <p class="presses">
      {#if open && !view.stopped}
        <span role="status" data-open>{jobs.length - open} of {jobs.length} done …</span>
        <button class="press" onclick={() => ask(api.POST("/api/campaigns/{id}/stop", path()))}>Stop</button>
      {:else if open}
        <span>Stopped; {many(open, "job")} left.</span>
        <button class="press first" onclick={() => ask(api.POST("/api/campaigns/{id}/go-on", path()))}>Go on</button>
      {/if}
      {#if fine.length}
        <button class="press first" onclick={() => take(fine)}>
          Change {many(fine.length, "job")} that {fine.length === 1 ? "gets" : "get"} no worse
        </button>
      {/if}
      {#if worse.length}<span>{many(worse.length, "job")} would need a mend first.</span>{/if}
      {#if of("taken").length}<span>{of("taken").length} changed; undo in a job takes it back there.</span>{/if}
    </p>
    <table>
      <thead>
        <tr><th scope="col">job</th><th scope="col">as it is</th><th scope="col">with the change</th><td></td></tr>
      </thead>
      <tbody>
        {#each jobs as row (row.job)}
          <tr data-job={row.name}>
            <th scope="row"><a href="/jobs/{row.job}/inspect">{row.name}</a></th>
            {#each [row.before, row.after] as verdict, at (at)}
              <td>
                {#if verdict}
                  <span class="stand {shape(verdict)}"
                    ><StateShape state={shape(verdict)} />{verdictWords(verdict, 1)}</span
                  >
                  {#if verdict.worst && (at === 0 || !row.no_worse)}<small>{verdict.worst}</small>{/if}
                {/if}
              </td>
            {/each}
            <td>
              {#if row.phase === "tried"}
                <button class="word" onclick={() => take([row])}>change it</button>
              {:else}
                {phases[row.phase]}
              {/if}
              {#if row.why}<small class="fails">{row.why}</small>{/if}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {:else if !trouble}
    <p>Opening …</p>
  {/if}
</Page>

<style>
  h1 {
    margin: 0;
    font-size: 21px;
  }
  p {
    margin: 4px 0 10px;
  }
  .presses {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 16px;
    align-items: center;
    min-height: 34px;
  }
  table {
    width: 100%;
    border-collapse: collapse;
    background: var(--plate);
  }
  th,
  td {
    padding: 7px 12px;
    border-top: 1px solid var(--line);
    text-align: left;
    vertical-align: top;
  }
  thead :is(th, td) {
    border: 0;
    font-size: 12px;
    font-weight: 400;
    color: var(--ink-soft);
  }
  tbody th {
    width: 24%;
  }
  td {
    width: 29%;
  }
  td:last-child {
    width: 18%;
  }
  small {
    display: block;
    font-size: 12.5px;
    color: var(--ink-soft);
  }
  .stand {
    display: flex;
    gap: 7px;
    align-items: center;
  }
  .fails {
    color: var(--fail);
  }
  .stand.marginal {
    color: var(--marginal);
  }
  .bad {
    color: var(--fail);
  }
</style>
