<!-- A record as it was: checks down, marks across, and in what it differs from an earlier one. -->
<script lang="ts">
  import { api, problem, type Finding, type Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { checkNames, figureWithUnit, isWaived, moment, stands, stateWord } from "../../words";

  let { session, number, earlier }: { session: Session; number: number; earlier: number[] } = $props();

  let record = $state.raw<Schemas["RecordView"]>();
  let trouble = $state("");
  let since = $state<number>();
  let differences = $state.raw<Schemas["DifferenceView"][]>();

  $effect(() => {
    const params = { path: { id: session.id, number } };
    record = differences = since = undefined;
    void api.GET("/api/jobs/{id}/records/{number}", { params }).then(({ data, error }) => {
      record = data;
      trouble = data ? "" : problem(error);
    });
  });

  async function compare(with_: number) {
    since = with_;
    const params = { path: { id: session.id, number, earlier: with_ } };
    const { data, error } = await api.GET("/api/jobs/{id}/records/{number}/since/{earlier}", { params });
    differences = data;
    trouble = data ? "" : problem(error);
  }

  const checks = Object.keys(checkNames) as Finding["check"][];
  const asked = $derived(
    checks.filter((c) =>
      record?.marks.some((m) => m.findings.some((f) => f.check === c && f.state !== "does_not_apply")),
    ),
  );
  const said = (f: Finding | undefined) =>
    !f || f.state === "does_not_apply"
      ? ""
      : f.measured == null
        ? stateWord[f.state]
        : figureWithUnit(f.measured, f.unit);
  const line = (text: string) => text.replaceAll("\n", " / ");
</script>

{#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
{#if record}
  <p>
    Made {moment(record.at)} by {record.by}{record.row ? `, row ${record.row}: ${record.cells.join(" · ")}` : ""};
    {record.sheet}; part {record.part}.
    <span class="soft">SHA-256 of the part {record.part_sha256.slice(0, 16)}…; program {record.program}.</span>
  </p>
  {#if earlier.length}
    <p>
      since record
      {#each earlier as n (n)}
        <button class="word" class:here={since === n} aria-pressed={since === n} onclick={() => void compare(n)}
          >{n}</button
        >{" "}
      {/each}
    </p>
  {/if}
  {#if differences}
    <div class="differences" role="status">
      {#each differences as d (d.what)}
        <p>
          <b>{d.what}</b>: {d.was || "none"} → {d.is || "none"}{d.within_error ? " (within the stated error)" : ""}
        </p>
      {:else}<p>Nothing differs.</p>{/each}
    </div>
  {/if}
  <div class="scroll">
    <table>
      <thead>
        <tr
          ><th></th>{#each record.marks as m (m.mark)}<th scope="col">{line(m.text)}</th>{/each}</tr
        >
      </thead>
      <tbody>
        {#each asked as check (check)}
          <tr>
            <th scope="row">{checkNames[check].whole}</th>
            {#each record.marks as m (m.mark)}
              {@const f = m.findings.find((f) => f.check === check)}
              <td class={f?.state ?? ""} class:waived={f && isWaived(f)} title={f?.sentence}
                >{#if f && f.state !== "passes" && f.state !== "does_not_apply"}<StateShape
                    state={f.state}
                    size={9}
                  />{/if}
                {said(f)}{f && isWaived(f) ? ` (${stands(f)} by ${f.waived?.by})` : ""}</td
              >
            {/each}
          </tr>
        {/each}
        <tr>
          <th scope="row">reading test</th>
          {#each record.marks as m (m.mark)}<td class={m.reading ?? ""}
              >{m.margin == null || !m.reading ? "" : `${m.margin.toFixed(3)} ${stateWord[m.reading]}`}</td
            >{/each}
        </tr>
      </tbody>
    </table>
  </div>
  {#each record.cuts as cut, k (k)}
    <p>Cut through {cut.mark}: {cut.says.join("; ") || "nothing measured in it"}.</p>
  {/each}
{:else if !trouble}
  <p class="soft" data-busy>Opening it …</p>
{/if}

<style>
  p {
    margin: 0 0 8px;
  }
  .word.here {
    font-weight: 700;
  }
  .differences {
    margin-bottom: 10px;
    padding: 8px 12px;
    border: 1px solid var(--rim-soft);
    border-radius: 8px;
    background: var(--plate);
  }
  .differences p {
    margin: 0 0 2px;
    font-size: 13px;
  }
  .scroll {
    overflow-x: auto;
  }
  table {
    border-collapse: collapse;
    font-size: 13px;
    font-variant-numeric: tabular-nums;
  }
  th {
    padding: 2px 10px 2px 0;
    font-weight: 400;
    text-align: left;
  }
  thead th {
    padding: 2px 10px;
    font-weight: 700;
    text-align: right;
  }
  td {
    padding: 2px 10px;
    text-align: right;
    white-space: nowrap;
  }
  tbody tr {
    border-top: 1px solid var(--line);
  }
  .fails {
    color: var(--fail);
    font-weight: 700;
  }
  .fails.waived {
    font-weight: 400;
  }
  .marginal {
    color: var(--marginal);
  }
  .bad {
    color: var(--fail);
  }
</style>
