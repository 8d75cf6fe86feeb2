<!-- Who changed what of the job and when; how it was then, in what it differs, and back to it. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Schemas } from "../api/client";
  import { person } from "./person.svelte";
  import { sheet } from "../pieces/theme";
  import { go } from "../router";
  import type { Session } from "../session.svelte";

  let { session }: { session: Session } = $props();

  type Row = Schemas["HistoryRow"];

  let open = $state(false);
  let rows = $state.raw<Row[]>([]);
  let more = $state(false);
  let trouble = $state("");

  /** The row that is looked at, and in what the job differs since. */
  let looked = $state<Row>();
  let differs = $state.raw<Schemas["Differences"]>();

  const latest = $derived(session.view?.latest);

  async function read(before?: number) {
    try {
      const { data, error } = await api.GET("/api/jobs/{id}/history", {
        params: { path: { id: session.id }, query: { before } },
      });
      trouble = data ? "" : problem(error);
      if (!data) return;
      rows = before === undefined ? data : [...rows, ...data];
      more = data.length === 100;
    } catch (e) {
      trouble = problem(e);
    }
  }

  $effect(() => {
    if (open && latest !== undefined) void read();
  });

  /** Rows of one day stand under its name. */
  const days = $derived(
    rows.reduce<{ day: string; rows: Row[] }[]>((days, row) => {
      const day = new Date(row.at).toLocaleDateString("en-GB", {
        weekday: "short",
        day: "numeric",
        month: "long",
        year: "numeric",
      });
      const last = days[days.length - 1];
      if (last?.day === day) last.rows.push(row);
      else days.push({ day, rows: [row] });
      return days;
    }, []),
  );

  const time = (at: string) => new Date(at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

  async function back(row: Row) {
    if (await session.back(row.state)) open = false;
  }

  async function look(row: Row) {
    const same = looked?.row === row.row;
    looked = same ? undefined : row;
    differs = undefined;
    if (same) return;
    const path = { id: session.id, state: row.state };
    const { data, error } = await api.GET("/api/jobs/{id}/states/{state}/differences", { params: { path } });
    if (looked?.row !== row.row) return;
    differs = data;
    trouble = data ? "" : problem(error);
  }

  /** A job of its own of how it was then. */
  async function copy(row: Row) {
    const name = `${session.view?.job.name} of ${new Date(row.at).toLocaleDateString("en-GB", { day: "numeric", month: "short" })}, ${time(row.at)}`;
    const { data, error } = await api.POST("/api/jobs/{id}/states/{state}/copy", {
      params: { path: { id: session.id, state: row.state } },
      body: { author: person.name, name: name.slice(-200) },
    });
    trouble = data ? "" : problem(error);
    if (!data) return;
    open = false;
    go(data.id, "marks");
  }
</script>

<button class="plainly" title="who changed what, and back to how it was" onclick={() => (open = true)}>history</button>

<Modal bind:open title="History" class={sheet.base} classes={{ header: sheet.header, body: sheet.body }}>
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  {#each days as { day, rows } (day)}
    <h3>{day}</h3>
    <ol>
      {#each rows as row (row.row)}
        <li>
          <time datetime={row.at}>{time(row.at)}</time>
          <span class="who">{row.by}</span>
          <button
            class="plainly says"
            aria-expanded={looked?.row === row.row}
            title="how it was then, and what is otherwise now"
            onclick={() => look(row)}>{row.says}</button
          >
          {#if row.state === session.view?.state}
            <small>as it is now</small>
          {:else}
            <button class="word" title="undo brings back what it is now" onclick={() => back(row)}>back to this</button>
          {/if}
          {#if looked?.row === row.row}
            <div class="then">
              <img
                src="/api/jobs/{session.id}/picture?state={row.state}"
                alt="the part as it was then"
                width="216"
                height="144"
              />
              <div>
                {#if !differs}
                  <p class="soft">Comparing …</p>
                {:else if !differs.all.length}
                  <p>Nothing is otherwise now.</p>
                {:else}
                  <p>Since then:</p>
                  <ul aria-label="differences">
                    {#each differs.all as d, at (at)}
                      <li>
                        {#if d.of}<b>{d.of}</b>{/if}
                        {d.what}{#if d.then != null || d.now != null}:
                          {d.then ?? "not there"} → {d.now ?? "not there"}{/if}
                      </li>
                    {/each}
                  </ul>
                  {#if differs.more}<p class="soft">and {differs.more} more.</p>{/if}
                {/if}
                <button class="word" onclick={() => copy(row)}>open it as a job of its own</button>
              </div>
            </div>
          {/if}
        </li>
      {/each}
    </ol>
  {/each}
  {#if more}<button class="word" onclick={() => read(rows[rows.length - 1]?.row)}>earlier</button>{/if}
</Modal>

<style>
  h3 {
    margin: 12px 0 4px;
    font-size: 15px;
  }
  h3:first-of-type {
    margin-top: 0;
  }
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 44px 96px 1fr max-content;
    gap: 0 10px;
    align-items: baseline;
    padding: 3px 0;
    border-bottom: 1px solid var(--line);
    line-height: 1.35;
  }
  time {
    font-variant-numeric: tabular-nums;
  }
  .who,
  .says {
    overflow-wrap: anywhere;
  }
  .says {
    text-align: left;
  }
  .then {
    display: grid;
    grid-column: 2 / -1;
    grid-template-columns: 216px 1fr;
    gap: 14px;
    padding: 6px 0 10px;
  }
  .then img {
    border-radius: 7px;
    background: radial-gradient(ellipse at 50% 40%, var(--enamel), var(--table) 80%);
  }
  .then p {
    margin: 0 0 4px;
  }
  .then ul {
    max-height: 190px;
    margin: 0 0 6px;
    padding: 0;
    overflow: auto;
    list-style: none;
  }
  .then li {
    display: block;
    border: 0;
    padding: 1px 0;
    overflow-wrap: anywhere;
  }
  small {
    color: var(--ink-soft);
  }
</style>
