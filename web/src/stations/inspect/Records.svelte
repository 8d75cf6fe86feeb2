<!-- Records of the job: made, opened, repeated, held against an earlier one, their proof and figures taken away. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Schemas } from "../../api/client";
  import { person } from "../../frame/person.svelte";
  import StateShape from "../../pieces/StateShape.svelte";
  import { sheet } from "../../pieces/theme";
  import type { Session } from "../../session.svelte";
  import { moment, verdictWords } from "../../words";
  import { keptCuts } from "./keptCuts.svelte";
  import OpenedRecord from "./OpenedRecord.svelte";

  let {
    session,
    varies,
    shown,
    onshow,
    open = $bindable(),
  }: {
    session: Session;
    varies: boolean;
    /** The record that is opened, by its number. */
    shown?: number;
    onshow: (number: number | undefined) => void;
    open: boolean;
  } = $props();

  let records = $state.raw<Schemas["RecordLine"][]>();
  let making = $state(false);
  let allRows = $state(false);
  let trouble = $state("");
  let repeated = $state.raw<{ number: number; says: string; otherwise: Schemas["DifferenceView"][] }>();
  let working = $state(0);

  const kept = $derived(keptCuts.of(session).length);

  async function list() {
    const { data, error } = await api.GET("/api/jobs/{id}/records", { params: { path: { id: session.id } } });
    records = data ?? records;
    trouble = data ? "" : problem(error);
  }

  $effect(() => {
    if (open) void list();
  });

  async function make() {
    const { view } = session;
    if (!view) return;
    making = true;
    const cuts = keptCuts.of(session);
    const { data, error } = await api
      .POST("/api/jobs/{id}/records", {
        params: { path: { id: session.id } },
        body: { author: person.name, state: view.state, row: view.shown ?? null, all_rows: allRows, cuts },
      })
      .catch((e: unknown) => ({ data: undefined, error: e }));
    making = false;
    await list();
    if (data) keptCuts.forget(session);
    else trouble = problem(error);
  }

  async function repeat(number: number) {
    working = number;
    const params = { path: { id: session.id, number } };
    const { data, error } = await api
      .POST("/api/jobs/{id}/records/{number}/repeat", { params })
      .catch((e: unknown) => ({ data: undefined, error: e }));
    working = 0;
    trouble = data ? "" : problem(error);
    if (!data) return;
    const within = data.within ? `, ${data.within} within the stated error` : "";
    const otherwise = data.otherwise.length ? `, ${data.otherwise.length} otherwise` : "";
    repeated = {
      number,
      says: `Inspected once more: ${data.same} figures the same to the last digit${within}${otherwise}.`,
      otherwise: data.otherwise,
    };
  }

  const address = (number: number, file: string) => `/api/jobs/${session.id}/records/${number}/${file}`;
</script>

<Modal
  bind:open
  title={shown === undefined ? "Records of this job" : `Record ${shown}`}
  size="xl"
  class={sheet.wide}
  classes={{ header: sheet.header, body: sheet.body }}
>
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  {#if shown !== undefined}
    <p><button class="word" onclick={() => onshow(undefined)}>all records</button></p>
    <OpenedRecord {session} number={shown} earlier={records?.map((r) => r.number).filter((n) => n < shown) ?? []} />
  {:else}
    <p class="soft">
      A record freezes the findings with everything they were judged by, and makes the proof to send on. It is written
      once and stays.
    </p>
    <p>
      <button class="press first" disabled={making || session.stale} onclick={() => void make()}
        >{varies ? "record this row" : "record it as it is"}</button
      >
      {#if varies}<label><input type="checkbox" bind:checked={allRows} /> with what all rows came to</label>{/if}
      {#if kept}<span class="soft"
          >&nbsp;with {kept === 1 ? "a cut" : `${kept} cuts`} that {kept === 1 ? "is" : "are"} kept
          <button class="word" onclick={() => keptCuts.forget(session)}>leave {kept === 1 ? "it" : "them"} out</button
          ></span
        >{/if}
      {#if making}<span class="soft" data-busy>Inspecting, reading, drawing …</span>{/if}
    </p>
    {#if records && !records.length}<p class="soft">There is none yet.</p>{/if}
    {#if records?.length}
      <table>
        <thead>
          <tr>
            <th scope="col">no.</th>
            <th scope="col">made</th>
            <th scope="col">of</th>
            <th scope="col">result</th>
            <th scope="col"></th>
          </tr>
        </thead>
        <tbody>
          {#each records as record (record.number)}
            <tr>
              <th scope="row"
                ><button class="word" aria-label="open record {record.number}" onclick={() => onshow(record.number)}
                  >{record.number}</button
                ></th
              >
              <td>{moment(record.at)} by {record.by}</td>
              <td class="soft"
                >{record.of.row ? `row ${record.of.row} ${record.of.cells}` : "the job"}{record.of.rows
                  ? `, and ${record.of.rows} rows`
                  : ""}</td
              >
              <td><StateShape state={record.of.verdict} size={10} /> {verdictWords(record.of, 1)}</td>
              <td class="files">
                <a class="word" href={address(record.number, "proof.pdf")} target="_blank" rel="noreferrer">proof</a>
                <a class="word" href={address(record.number, "figures.csv")} download>figures</a>
                <a class="word" href={address(record.number, "record.json")} download>data</a>
                <button class="word" disabled={!!working} onclick={() => void repeat(record.number)}>repeat</button>
              </td>
            </tr>
            {#if working === record.number}<tr
                ><td></td><td colspan="4" class="soft" data-busy>Inspecting it once more …</td></tr
              >{/if}
            {#if repeated?.number === record.number}
              <tr>
                <td></td>
                <td colspan="4">
                  {repeated.says}
                  {#each repeated.otherwise as d (d.what)}<br />{d.what}: {d.was || "none"} → {d.is || "none"}{/each}
                </td>
              </tr>
            {/if}
          {/each}
        </tbody>
      </table>
    {/if}
  {/if}
</Modal>

<style>
  p {
    margin: 0 0 10px;
  }
  label {
    margin-left: 10px;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  thead th {
    font-size: 12px;
    font-weight: 400;
    text-align: left;
    color: var(--ink-soft);
  }
  tbody tr {
    border-top: 1px solid var(--line);
  }
  td,
  tbody th {
    padding: 4px 8px 4px 0;
    text-align: left;
    vertical-align: top;
  }
  .files {
    white-space: nowrap;
  }
  .files .word {
    margin-left: 10px;
    font-weight: 400;
  }
  .bad {
    color: var(--fail);
  }
</style>
