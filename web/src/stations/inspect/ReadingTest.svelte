<!-- Can it be read by its shadows? Eight pictures, the worst light first, and by how much each letter stands out. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Mark, type Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import { sheet } from "../../pieces/theme";
  import type { Session } from "../../session.svelte";

  let { session, mark, open = $bindable() }: { session: Session; mark: Mark; open: boolean } = $props();

  type Letter = Schemas["LetterRead"];

  let read = $state.raw<Schemas["ReadingTestView"]>();
  let trouble = $state("");

  $effect(() => {
    if (!open) return;
    read = undefined;
    trouble = "";
    const left = new AbortController();
    const { path, query } = session.params;
    void api
      .GET("/api/jobs/{id}/reading", { params: { path, query: { ...query, mark: mark.id } }, signal: left.signal })
      .then(({ data, error }) => {
        if (left.signal.aborted) return;
        read = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => {
        if (!left.signal.aborted) trouble = problem(e);
      });
    return () => left.abort();
  });

  const texture = $derived(session.view?.job.process.texture ?? 0);
  const word: Partial<Record<Schemas["State"], string>> = { marginal: "reads just so", fails: "doesn’t read" };
  const sides = ["the right", "above right", "above", "above left", "the left", "below left", "below", "below right"];
  const side = (from: number) => sides[Math.round(from / 45) % 8];
  const picture = (light: number) => {
    const row = session.row === undefined ? "" : `&row=${session.row}`;
    return `/api/jobs/${session.id}/reading/picture?mark=${encodeURIComponent(mark.id)}&light=${light}${row}&state=${read?.state}`;
  };
  const worst = $derived<Letter | undefined>(read?.letters.toSorted((a, b) => a.margin - b.margin)[0]);
</script>

<Modal
  bind:open
  title="Reading test of “{mark.text.replaceAll('\n', ' / ')}”"
  size="xl"
  class={sheet.wide}
  classes={{ header: sheet.header, body: sheet.body }}
>
  {#if trouble}
    <p class="bad" role="alert">{trouble}</p>
  {:else if !read}
    <p class="soft" data-searching>Looking at it under eight lights …</p>
  {:else}
    <p>
      <StateShape state={read.verdict} />
      {#if worst && word[worst.verdict]}
        “{worst.text}” {word[worst.verdict]}: with light from {side(worst.worst_light)} it looks most like “{worst.taken_for}”.
      {:else}
        Every letter reads{#if worst}; “{worst.text}” stands out least, from “{worst.rival}”{/if}.
      {/if}
      {#if read.shadow > read.long_shadow}
        Its shadows are {read.shadow.toFixed(1)} capitals long: too tall for this size under flat light.
      {/if}
    </p>
    <div class="lights">
      {#each read.lights as light (light.light)}
        <figure>
          <img src={picture(light.light)} alt="the mark with light from {side(light.from)}" />
          <figcaption>from {side(light.from)}: {light.margin.toFixed(2)}</figcaption>
        </figure>
      {/each}
    </div>
    <ul aria-label="letters">
      {#each read.letters as letter (letter.character)}
        <li
          class={letter.verdict}
          title="square-on {letter.square_on.toFixed(2)}, from 30° off {letter.oblique.toFixed(
            2,
          )}; nearest: {letter.rival}"
        >
          <b>{letter.text}</b>
          <span>{letter.margin.toFixed(2)}</span>
          <small>{letter.rival}</small>
        </li>
      {/each}
    </ul>
    <p class="soft">
      By how much each letter’s picture matches itself better than the nearest other of its face: {read.reads.toFixed(
        2,
      )}
      and more reads, below {read.limit.toFixed(2)} doesn’t ({read.sheet}; {read.source}). Seen from {read.distance.toFixed(
        0,
      )} mm by an eye that resolves one minute of arc, under a lamp 20° over the ground, square-on and from 30° off, on
      {texture > 0
        ? `a surface with a texture ${texture.toFixed(3)} mm deep`
        : `a ${session.view?.job.process.finish} surface`}. It is a comparison, not a promise.
    </p>
  {/if}
</Modal>

<style>
  p {
    margin: 0 0 10px;
  }
  .lights {
    display: grid;
    grid-template-columns: repeat(4, 1fr);
    gap: 10px;
    margin-bottom: 12px;
  }
  figure {
    margin: 0;
  }
  img {
    width: 100%;
    height: 96px;
    border-radius: 5px;
    object-fit: contain;
    background: #9e9e9e;
  }
  figcaption {
    font-size: 12.5px;
    color: var(--ink-soft);
  }
  ul {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin: 0 0 10px;
    padding: 0;
    list-style: none;
  }
  li {
    display: flex;
    flex-direction: column;
    align-items: center;
    min-width: 46px;
    padding: 4px 6px;
    border: 1px solid var(--line);
    border-radius: 6px;
    line-height: 1.25;
  }
  li b {
    font-size: 17px;
  }
  li small {
    color: var(--ink-soft);
  }
  li.marginal {
    border-color: var(--marginal);
    color: var(--marginal);
  }
  li.fails {
    border-color: var(--fail);
    color: var(--fail);
  }
  .bad {
    color: var(--fail);
  }
</style>
