<!-- Who changed what of the job and when; and back to how it was. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Schemas } from "../api/client";
  import { sheet } from "../pieces/theme";
  import type { Session } from "../session.svelte";

  let { session }: { session: Session } = $props();

  type Row = Schemas["HistoryRow"];

  let open = $state(false);
  let rows = $state.raw<Row[]>([]);
  let more = $state(false);
  let trouble = $state("");

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
          <span class="says">{row.says}</span>
          {#if row.state === session.view?.state}
            <small>as it is now</small>
          {:else}
            <button class="word" title="undo brings back what it is now" onclick={() => back(row)}>back to this</button>
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
  small {
    color: var(--ink-soft);
  }
</style>
