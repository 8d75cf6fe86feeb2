<!-- What the drawing says of the mark: each phrase that is understood with what it becomes, what is not, and in what the mark
     differs from it. -->
<script lang="ts">
  import { api, problem, type Mark, type Schemas } from "../api/client";
  import { refused } from "../api/refused";
  import StateShape from "../pieces/StateShape.svelte";
  import type { Session } from "../session.svelte";
  import { keepsPicked } from "./keepsPicked.svelte";
  import Section from "./Section.svelte";

  let { session, mark }: { session: Session; mark: Mark } = $props();

  type Settings = Record<string, Record<string, unknown>>;

  let open = $state(false);
  let typed = $state<string>();
  let wrong = $state("");
  let read = $state.raw<{ note: string; found: Schemas["NoteRead"] }>();

  const note = $derived(typed ?? mark.note ?? "");
  const shown = $derived(open || !!mark.note);
  // its settings count: what it differs in is told
  const asked = $derived(JSON.stringify([note, mark]));
  $effect(() => {
    const [about, of] = [asked, note];
    if (!of.trim()) {
      read = undefined;
      return;
    }
    const waiting = setTimeout(() => {
      void api
        .POST("/api/note", { body: { note: of, mark } })
        .then(({ data, error }) => {
          if (about !== asked) return;
          read = data && { note: of, found: data };
          wrong = data ? "" : problem(error);
        })
        .catch((e: unknown) => (wrong = problem(e)));
    }, 200);
    return () => clearTimeout(waiting);
  });

  /** The note in pieces: understood, left, or neither. */
  const pieces = $derived.by(() => {
    if (!read) return [];
    const all = [...read.note];
    const marked = [
      ...read.found.phrases.map((p) => ({ from: p.from, to: p.to, left: false, says: p.becomes.map((b) => b.says) })),
      ...read.found.left.map(([from, to]) => ({ from, to, left: true, says: ["not understood"] })),
    ].sort((a, b) => a.from - b.from);
    const text = (from: number, to?: number) => all.slice(from, to).join("");
    let at = 0;
    const found = marked.flatMap((m) => {
      const before = { text: text(at, m.from), kind: "", says: "" };
      at = m.to;
      return [before, { text: text(m.from, m.to), kind: m.left ? "left" : "known", says: m.says.join(", ") }];
    });
    return [...found, { text: text(at), kind: "", says: "" }].filter((p) => p.text);
  });
  const wishes = $derived((read?.found.phrases ?? []).flatMap((p) => p.becomes));
  const unmet = $derived(wishes.filter((w) => w.settings && w.differs));
  const byHand = $derived(wishes.filter((w) => !w.settings && w.wish.wish !== "in_unit"));

  async function keep() {
    if (typed === undefined || typed === (mark.note ?? "")) {
      typed = undefined;
      return;
    }
    const text = typed;
    const kept = await session.set(mark.id, { note: text.trim() ? text : null });
    wrong = kept ? "" : refused.beside();
    if (kept && typed === text) typed = undefined;
  }

  /** Several wishes as one change. */
  async function take(all: Schemas["Becomes"][]) {
    await keep();
    const settings: Settings = {};
    for (const { settings: own } of all)
      for (const [key, value] of Object.entries((own ?? {}) as Settings))
        settings[key] = Array.isArray(value) || typeof value !== "object" ? value : { ...settings[key], ...value };
    await session.set(mark.id, settings);
  }
</script>

<Section head="drawing’s note">
  {#if !shown}
    <p><button class="word" onclick={() => (open = true)}>paste what the drawing says</button></p>
  {:else}
    <textarea
      aria-label="note of the drawing"
      rows="3"
      maxlength="2000"
      spellcheck="false"
      placeholder="MARK P/N AND REV, 3.0 HIGH, RAISED 0.3, 3° DRAFT"
      value={note}
      {@attach keepsPicked(() => note)}
      oninput={(e) => ((typed = e.currentTarget.value), (wrong = ""))}
      onblur={() => void keep()}
    ></textarea>
    {#if wrong}<p class="wrong" role="alert">{wrong}</p>{/if}
    {#if read}
      <p class="read">
        {#each pieces as piece, k (k)}{#if piece.kind}<span class={piece.kind} title={piece.says}>{piece.text}</span
            >{:else}{piece.text}{/if}{/each}
      </p>
      {#if unmet.length}
        <p class="acts">
          {#each unmet as wish, k (k)}
            <button class="word" onclick={() => void take([wish])}>{wish.says}</button>
          {/each}
          {#if unmet.length > 1}<button class="press" onclick={() => void take(unmet)}>take all {unmet.length}</button
            >{/if}
        </p>
      {/if}
      {#each read.found.differs as says (says)}
        <p class="differs"><StateShape state="marginal" /> {says[0].toUpperCase()}{says.slice(1)}.</p>
      {:else}
        {#if wishes.length}<p><StateShape state="passes" /> The mark has what the note gives as a figure.</p>{/if}
      {/each}
      {#if byHand.length}
        <p class="soft">To see to by hand: {byHand.map((w) => w.says).join(", ")}.</p>
      {/if}
      {#if read.found.left.length}<p class="soft">What is dotted is not understood, and nothing was made of it.</p>{/if}
      {#if read.found.inch}<p class="soft">Figures without a unit are taken as inches.</p>{/if}
    {/if}
  {/if}
</Section>

<style>
  p {
    margin: 3px 0;
    line-height: 1.5;
    font-size: 13px;
  }
  textarea {
    width: 100%;
    box-sizing: border-box;
    padding: 3px 6px;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--enamel);
    color: var(--ink);
    font: 13px/1.4 var(--figure);
    resize: vertical;
  }
  .read {
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }
  .known {
    border-bottom: 2px solid var(--pick);
  }
  .left {
    border-bottom: 2px dotted var(--fail);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
  }
  .differs {
    color: var(--marginal);
  }
  .wrong {
    color: var(--fail);
  }
</style>
