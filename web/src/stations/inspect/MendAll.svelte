<!-- One press for everything that fails or is close: the changes one after another, and what they come to. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Edit, type Schemas } from "../../api/client";
  import { sheet } from "../../pieces/theme";
  import type { Session } from "../../session.svelte";
  import { many } from "../../words";
  import Moves from "./Moves.svelte";

  let { session, open = $bindable() }: { session: Session; open: boolean } = $props();

  let all = $state.raw<Schemas["MendsOfAll"]>();
  let trouble = $state("");

  const text = (mark: string) => session.marks.find((m) => m.id === mark)?.text.replaceAll("\n", " / ") ?? mark;

  $effect(() => {
    if (!open) return;
    all = undefined;
    trouble = "";
    const left = new AbortController();
    void api
      .GET("/api/jobs/{id}/mends/all", { params: session.params, signal: left.signal })
      .then(({ data, error }) => {
        if (left.signal.aborted) return;
        all = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => {
        if (!left.signal.aborted) trouble = problem(e);
      });
    return () => left.abort();
  });

  async function take() {
    const edits = (all?.steps ?? []).map(({ mark, settings }): Edit => ({
      do: "set_mark",
      id: mark,
      settings: settings as Record<string, never>,
    }));
    if (await session.changeAll(edits)) open = false;
  }
</script>

<Modal bind:open title="Make all pass" class={sheet.base} classes={{ header: sheet.header, body: sheet.body }}>
  {#if trouble}
    <p class="bad" role="alert">{trouble}</p>
  {:else if !all}
    <p class="soft" data-searching>Looking for changes, the worst finding first; each is built and inspected …</p>
  {:else}
    {#if all.steps.length}
      <ol class="changes" aria-label="changes">
        {#each all.steps as step, at (at)}
          <li><b>“{text(step.mark)}”</b> {step.says}</li>
        {/each}
      </ol>
      <Moves {session} moves={all.moves} />
      <p><button class="press first" onclick={() => void take()}>Make {many(all.steps.length, "change")}</button></p>
      <p class="soft">One undo takes them back.</p>
    {:else if all.left.length}
      <p>Nothing was found that mends a finding without making another worse.</p>
    {:else}
      <p>Nothing fails and nothing is close.</p>
    {/if}
    {#if all.left.length}
      <p class="soft">{all.steps.length ? "Not mended by this" : "Open"}:</p>
      <ul>
        {#each all.left as left (left.mark + left.check)}<li>“{text(left.mark)}”: {left.sentence}</li>{/each}
      </ul>
    {/if}
    {#if all.cut_short}<p class="soft">The search ran out of time.</p>{/if}
  {/if}
</Modal>

<style>
  .changes {
    list-style: decimal;
  }
  ol,
  ul {
    margin: 0 0 8px;
    padding-left: 22px;
  }
  li {
    margin: 3px 0;
  }
  ul {
    max-height: 180px;
    overflow: auto;
    font-size: 13px;
  }
  .bad {
    color: var(--fail);
  }
</style>
