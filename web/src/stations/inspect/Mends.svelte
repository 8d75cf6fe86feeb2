<!-- What would mend a finding: changes that were built and inspected, each one press. -->
<script lang="ts">
  import { untrack } from "svelte";
  import { api, problem, type Finding, type Schemas } from "../../api/client";
  import type { Session } from "../../session.svelte";
  import { fixedWords, many } from "../../words";
  import Moves from "./Moves.svelte";

  let { session, finding }: { session: Session; finding: Finding } = $props();

  let mends = $state.raw<Schemas["MendsOfFinding"]>();
  let trouble = $state("");

  const stays = "no mend changes it then";

  const key = $derived([session.view?.state, session.view?.shown, finding.mark, finding.check].join(" "));

  $effect(() => {
    void key;
    return untrack(search);
  });

  function search() {
    mends = undefined;
    trouble = "";
    const left = new AbortController();
    const { path, query } = session.params;
    const { mark, check } = finding;
    void api
      .GET("/api/jobs/{id}/mends", { params: { path, query: { ...query, mark, check } }, signal: left.signal })
      .then(({ data, error }) => {
        if (left.signal.aborted) return;
        mends = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => {
        if (!left.signal.aborted) trouble = problem(e);
      });
    // a change, or another finding: nobody waits for it any more
    return () => left.abort();
  }

  const fixed = $derived(session.marks.find((m) => m.id === finding.mark)?.fixed ?? []);
  type Fixed = (typeof fixed)[number];
  const keep = (value: Fixed) => void session.set(finding.mark, { fixed: [...new Set([...fixed, value])] });
  const release = (value: Fixed) => void session.set(finding.mark, { fixed: fixed.filter((f) => f !== value) });

  const rows = (n: number) =>
    n ? ` In ${n === 1 ? "another row that says" : `${n} other rows that say`} something else it passes too.` : "";
</script>

<div class="mends" aria-label="mends" aria-live="polite">
  {#if trouble}
    <p class="bad" role="alert">{trouble}</p>
  {:else if !mends}
    <p class="soft" data-searching>Looking for what would mend it …</p>
  {:else}
    {#if mends.offers.length}
      <p class="soft">
        Each was built and inspected: it passes, and nothing else gets worse.{rows(
          Math.min(...mends.offers.map((o) => o.rows)),
        )}
      </p>
      <ul>
        {#each mends.offers as mend (mend.says)}
          <li>
            <button class="press" onclick={() => void session.set(mend.mark, mend.settings)}>{mend.says}</button>
            {#each mend.changes as value (value)}
              <button class="word" title={stays} onclick={() => keep(value)}>keep the {fixedWords[value]}</button>
            {/each}
            <Moves {session} moves={mend.moves} own={finding} />
          </li>
        {/each}
      </ul>
    {:else if !mends.against.length}
      <p class="soft">
        None of {many(mends.tried, "change")} that were built and inspected makes it pass{mends.cut_short
          ? "; the search ran out of time"
          : ""}.
      </p>
    {/if}
    {#if mends.against.length}
      <p class="soft">{mends.offers.length ? "Stood against by something else:" : "What stands against it:"}</p>
      <ul class="against">
        {#each mends.against.slice(0, 4) as why (why.says)}<li>{why.says}</li>{/each}
      </ul>
    {/if}
  {/if}
  {#if fixed.length}
    <p class="soft">
      No mend of this mark changes its {#each fixed as value, at (value)}{at ? ", " : ""}{fixedWords[value]}
        <button class="word" onclick={() => release(value)}>release</button>{/each}.
    </p>
  {/if}
</div>

<style>
  .mends p {
    margin: 4px 0;
    font-size: 12.5px;
  }
  ul {
    margin: 0 0 6px;
    padding: 0;
    list-style: none;
  }
  li {
    margin: 4px 0;
  }
  li .word {
    margin-left: 8px;
    font-size: 12px;
    font-weight: 400;
  }
  .against li {
    margin: 2px 0;
    font-size: 12.5px;
  }
  .bad {
    color: var(--fail);
  }
</style>
