<!-- Answering for a finding that fails: who, why and until when. It fails all the same. -->
<script lang="ts">
  import type { Finding } from "../../api/client";
  import { refused } from "../../api/refused";
  import { person } from "../../frame/person.svelte";
  import type { Session } from "../../session.svelte";
  import { day } from "../../words";

  let { session, finding, varies }: { session: Session; finding: Finding; varies: boolean } = $props();

  let asking = $state(false);
  let reason = $state("");
  let until = $state("");
  let everyRow = $state(false);
  let trouble = $state("");

  const waived = $derived(finding.waived);
  const holds = $derived(waived && !waived.lapsed);

  // a form that was begun belongs to its finding
  $effect(() => {
    void [finding.mark, finding.check];
    asking = false;
    trouble = "";
  });

  async function waive() {
    const made = await session.change({
      do: "waive",
      mark: finding.mark,
      check: finding.check,
      row: session.view?.shown ?? null,
      all_rows: everyRow || !varies,
      reason,
      by: person.name,
      until: until || null,
    });
    trouble = made ? "" : refused.beside();
    if (!made) return;
    asking = false;
    reason = until = "";
  }
</script>

<div class="waive">
  {#if waived}
    <p>
      {holds ? "Waived" : "Was waived"} by {waived.by} on {day(waived.on)}{waived.until
        ? `, until ${day(waived.until)}`
        : ""}: {waived.reason}.{waived.lapsed ? ` It holds no more: ${waived.lapsed}.` : ""}
      <button class="word" onclick={() => void session.change({ do: "withdraw_waiver", waiver: waived.id })}
        >withdraw it</button
      >
    </p>
  {/if}
  {#if asking}
    <form
      onsubmit={(e) => {
        e.preventDefault();
        void waive();
      }}
    >
      <label
        >why it is taken as it is
        <input bind:value={reason} maxlength="500" required aria-label="reason of the waiver" /></label
      >
      <label>until <input type="date" bind:value={until} aria-label="last day of the waiver" /> or left open</label>
      {#if varies}<label
          ><input type="checkbox" bind:checked={everyRow} /> in all rows where the figure is no worse</label
        >{/if}
      {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
      <p>
        <button class="press first" type="submit" disabled={!reason.trim()}>waive it as {person.name}</button>
        <button class="press" type="button" onclick={() => (asking = false)}>cancel</button>
      </p>
    </form>
  {:else if !holds}
    <p>
      <button
        class="word"
        title="it still fails; somebody answers for it as it is, until the figure gets worse or the mark, part or limit changes"
        onclick={() => (asking = true)}>{waived ? "waive it anew" : "waive it"}</button
      >
    </p>
  {/if}
</div>

<style>
  .waive {
    font-size: 13px;
  }
  p {
    margin: 0 0 6px;
  }
  form {
    margin: 4px 0 8px;
    padding: 8px 12px;
    border: 1px solid var(--rim-soft);
    border-radius: 8px;
    background: var(--enamel);
  }
  label {
    display: block;
    margin-bottom: 5px;
  }
  input:not([type="checkbox"]) {
    padding: 2px 6px;
    border: 1px solid var(--rim-soft);
    border-radius: 5px;
    background: var(--plate);
  }
  label input:not([type]) {
    width: 100%;
  }
  .bad {
    color: var(--fail);
  }
</style>
