<!-- A STEP file: made when it is asked for, read back, then taken. -->
<script lang="ts">
  import { api, problem, type Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { bytes, many } from "../../words";

  let {
    session,
    name,
    what = "",
    marks,
    query,
  }: {
    session: Session;
    name: string;
    /** What it holds. */
    what?: string;
    /** So many marks are drawn. */
    marks: number;
    /** How it is written. */
    query: { ap242?: boolean; steel?: boolean; mark?: string };
  } = $props();

  /** What was made, or why not. */
  let made = $state.raw<Schemas["ExactView"] | string>();
  let making = $state(false);
  let stop: AbortController | undefined;

  const asked = $derived({ row: session.row, ...query });
  const present = $derived(session.view && JSON.stringify([session.view.state, session.view.shown, asked]));
  $effect(() => {
    if (present === undefined) return;
    made = undefined;
    return () => stop?.abort();
  });

  const of = $derived(
    new URLSearchParams(
      Object.entries(asked).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]])),
    ),
  );

  async function make() {
    const controller = new AbortController();
    stop = controller;
    making = true;
    try {
      const { data, error } = await api.POST("/api/jobs/{id}/exact/{name}", {
        params: { path: { id: session.id, name }, query: asked },
        signal: controller.signal,
      });
      if (!controller.signal.aborted) made = data ?? problem(error);
    } catch (e: unknown) {
      if (!controller.signal.aborted) made = problem(e);
    } finally {
      if (stop === controller) making = false;
    }
  }
</script>

<div class="step">
  {#if typeof made === "object"}
    <a href="/api/jobs/{session.id}/exact/{name}?{of}" download>{made.name}</a>
    <span class="size">{bytes(made.size)}</span>
  {:else}
    <strong>{name}</strong>
    {#if making}
      <button class="word" onclick={() => stop?.abort()}>stop</button>
    {:else}
      <button class="word" onclick={() => void make()}>make {name}</button>
    {/if}
  {/if}
  {#if what}<span class="soft">{what}</span>{/if}
  {#if making}
    <span class="soft" role="status" data-busy>Drawing {many(marks, "mark")} and reading it back …</span>
  {:else if typeof made === "string"}
    <span class="bad" role="alert">{made}</span>
  {:else if made}
    <span class="found"><StateShape state="passes" /> <span>{made.sentence}</span></span>
    {#each made.faceted as told (told)}<span class="soft">{told}.</span>{/each}
  {/if}
</div>

<style>
  .step {
    display: grid;
    grid-template-columns: 1fr max-content;
    font-size: 12.5px;
  }
  a,
  strong {
    color: var(--ink);
    font-weight: 700;
    font-size: 14px;
  }
  a {
    text-decoration-color: var(--rim-soft);
    text-underline-offset: 3px;
  }
  span:not(.size, .found > span) {
    grid-column: 1 / -1;
  }
  .found {
    display: flex;
    gap: 7px;
    align-items: baseline;
  }
  .bad {
    color: var(--fail);
  }
</style>
