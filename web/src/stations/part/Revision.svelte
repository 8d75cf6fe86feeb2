<!-- A newer revision of the part: what of the job finds its place on it, before anything is changed. -->
<script lang="ts">
  import { api, problem, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import { person } from "../../frame/person.svelte";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";

  let {
    session,
    proposal,
    file,
    onclose,
  }: { session: Session; proposal: Schemas["Proposal"]; file: string; onclose: (taken: boolean) => void } = $props();

  /** Faces that were chosen otherwise than proposed; −1 leaves out what uses them. */
  let chosen = $state<Record<number, number>>({});
  let trouble = $state("");
  const key = crypto.randomUUID();

  const taken = (row: Schemas["RevisionRow"]) =>
    chosen[row.face] ?? (row.fate === "same" || row.fate === "moved" ? (row.to ?? -1) : -1);
  const open = $derived(proposal.rows.filter((row) => taken(row) < 0));
  const sizes = (at: number) => proposal.size[at].map((s) => s.toFixed(2)).join(" × ");
  const volume = $derived.by(() => {
    const [before, now] = proposal.volume;
    if (before == null || now == null) return "";
    const by = now - before;
    return `, ${Math.abs(by) < 0.05 ? "the same volume" : `${by > 0 ? "+" : "−"}${Math.abs(by).toFixed(1)} mm³`}`;
  });

  function fateWords(row: Schemas["RevisionRow"]): string {
    switch (row.fate) {
      case "same":
        return "the same face";
      case "moved":
        return `moved by ${row.moved?.toFixed(2)} mm`;
      case "guess":
        return "not found; the closest match is offered";
      case "gone":
        return "gone, and nothing like it";
    }
  }

  async function confirm() {
    const choices = proposal.rows.map((row) => ({ face: row.face, to: taken(row) < 0 ? null : taken(row) }));
    const { data, error } = await api.POST("/api/jobs/{id}/revision/confirmed", {
      params: { path: { id: session.id } },
      body: { author: person.name, key, state: proposal.state, part: proposal.part, choices },
    });
    if (data) onclose(true);
    else trouble = problem(error);
  }
</script>

<section aria-label="newer revision of the part">
  <h2>{file} replaces {session.view?.job.part.file}</h2>
  <p>
    {sizes(0)} → <b>{sizes(1)}</b> mm{volume}. Nothing changes until you take it; <i>undo</i> brings the old part back.
  </p>
  {#if proposal.complaint}<p class="bad"><StateShape state="fails" /> {proposal.complaint}</p>{/if}
  {#if proposal.rows.length}
    <table>
      <thead><tr><th>what uses the face</th><th>the face was</th><th></th><th>it goes to</th></tr></thead>
      <tbody>
        {#each proposal.rows as row (row.face)}
          <tr>
            <td>{row.uses.join(", ")}</td>
            <td>{row.says.split(", ")[0]}</td>
            <td class:marginal={taken(row) < 0}>
              <StateShape state={taken(row) < 0 ? "fails" : row.fate === "same" ? "passes" : "marginal"} />
              {fateWords(row)}
            </td>
            <td>
              <ChoiceField
                value={String(taken(row))}
                label="face for {row.uses[0]}"
                choices={[
                  { value: "-1", says: "nowhere: left out" },
                  ...(row.to != null && row.fate === "guess"
                    ? [{ value: String(row.to), says: `${proposal.faces[row.to].says.split(", ")[0]} (closest match)` }]
                    : []),
                  ...proposal.faces
                    .filter((f) => !(row.fate === "guess" && f.face === row.to))
                    .map((f) => ({
                      value: String(f.face),
                      says: `${f.says.split(", ")[0]}, ${f.area.toFixed(0)} mm²`,
                    })),
                ]}
                onset={(to) => (chosen = { ...chosen, [row.face]: Number(to) })}
              />
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {:else}
    <p>Nothing of the job sits on a face yet.</p>
  {/if}
  {#if open.length}
    <p class="bad">
      Left out if you take it now: {open.flatMap((row) => row.uses).join(", ")}.
    </p>
  {/if}
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  <div>
    <button class="press first" onclick={() => void confirm()}>take the newer part</button>
    <button class="press" onclick={() => onclose(false)}>keep the old one</button>
  </div>
</section>

<style>
  section {
    position: absolute;
    z-index: 4;
    inset: 14px 14px auto 14px;
    max-height: calc(100% - 28px);
    overflow-y: auto;
    padding: 14px 18px;
    border: 1px solid var(--rim);
    border-radius: 10px;
    background: var(--enamel);
  }
  p {
    margin: 6px 0;
    line-height: 1.5;
  }
  table {
    width: 100%;
    border-collapse: collapse;
    font-size: 13px;
  }
  th {
    padding: 2px 10px 2px 0;
    border-bottom: 1px solid var(--rim-soft);
    color: var(--ink-soft);
    font-weight: 400;
    text-align: left;
  }
  td {
    padding: 4px 10px 4px 0;
    border-bottom: 1px solid var(--line);
    vertical-align: baseline;
  }
  .bad,
  .marginal {
    color: var(--fail);
  }
  div {
    display: flex;
    gap: 10px;
    margin-top: 8px;
  }
</style>
