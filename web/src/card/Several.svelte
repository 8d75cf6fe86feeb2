<!-- Several marks that are picked together: in what they differ, and what is done to all of them at once. What is set in the
     card below holds for all. -->
<script lang="ts">
  import type { Mark, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import { called, many } from "../words";
  import TextField from "./TextField.svelte";

  let {
    session,
    marks,
    mark,
    onpicked,
  }: {
    session: Session;
    marks: Mark[];
    /** The one that the card shows. */ mark: Mark;
    onpicked: (ids: string[]) => void;
  } = $props();

  const ids = $derived(marks.map((m) => m.id));
  const on = $derived(marks.filter((m) => m.on).length);
  const group = $derived(marks.every((m) => m.group === marks[0].group) ? (marks[0].group ?? "") : "");
  const seats = $derived(new Set(marks.map((m) => JSON.stringify(m.seat))).size);

  const figure = (v: number) => String(Number(v.toFixed(3)));
  type Of = "lettering" | "relief";
  const WORDS: { says: string; of: Of; key: string; unit?: string }[] = [
    { says: "cap height", of: "lettering", key: "cap_height", unit: " mm" },
    { says: "stroke", of: "lettering", key: "stroke", unit: " mm" },
    { says: "lettering face", of: "lettering", key: "face" },
    { says: "sense", of: "relief", key: "sense" },
    { says: "height", of: "relief", key: "height", unit: " mm" },
    { says: "draft", of: "relief", key: "draft", unit: "°" },
    { says: "walls", of: "relief", key: "walls" },
    { says: "level of the size", of: "relief", key: "measured_at" },
    { says: "edge", of: "relief", key: "edge", unit: " mm" },
    { says: "root", of: "relief", key: "root", unit: " mm" },
  ];
  const value = (m: Mark, of: Of, key: string): unknown => (m[of] as unknown as Record<string, unknown>)[key] ?? null;
  const read = (v: unknown, unit = "") =>
    typeof v === "number" ? `${figure(v)}${unit}` : v === null ? "the face’s own" : String(v).replaceAll("_", " ");
  const differs = $derived(
    WORDS.flatMap(({ says, of, key, unit }) => {
      const all = [...new Set(marks.map((m) => read(value(m, of, key), unit)))];
      if (all.length < 2) return [];
      const own = value(mark, of, key);
      return [{ says, all, own: read(own, unit), settings: { [of]: { [key]: own } } }];
    }),
  );

  const LINES: { line: Schemas["Line"]; says: string }[] = [
    { line: "left", says: "left" },
    { line: "middle", says: "middle" },
    { line: "right", says: "right" },
    { line: "bottom", says: "feet" },
    { line: "centre", says: "centres" },
    { line: "top", says: "tops" },
  ];

  async function remove() {
    if (await session.changeAll(ids.map((id) => ({ do: "remove_mark", id })))) onpicked([]);
  }
</script>

<section aria-label="{marks.length} marks picked">
  <h2>{many(marks.length, "mark")} picked</h2>
  <p class="which">{marks.map(called).join(" · ")}</p>
  <p>What you set below in lettering, placement and relief holds for all of them.</p>
  {#each differs as { says, all, own, settings } (says)}
    <p class="differ">
      They differ in {says}: {all.slice(0, 4).join(", ")}{all.length > 4 ? " …" : "."}
      <button class="word" onclick={() => void session.set(mark.id, settings)}>all {own}</button>
    </p>
  {/each}
  <p class="acts">
    <button class="word" onclick={() => void session.changeAll(ids.map((id) => ({ do: "copy_mark", id })))}>copy</button
    >
    {#if on}
      <button class="word" onclick={() => void session.set(ids[0], { on: false })}>switch off</button>
    {/if}
    {#if on < marks.length}
      <button class="word" onclick={() => void session.set(ids[0], { on: true })}>switch on</button>
    {/if}
    <button class="word" onclick={() => void remove()}>remove</button>
    <button class="word" title="Escape" onclick={() => onpicked([])}>one alone</button>
  </p>
  {#if seats === 1}
    <p class="acts">
      in line:
      {#each LINES as { line, says } (line)}
        <button class="word" onclick={() => void session.change({ do: "align_marks", ids, line })}>{says}</button>
      {/each}
    </p>
    {#if marks.length > 2}
      <p class="acts">
        evenly apart:
        <button class="word" onclick={() => void session.change({ do: "spread_marks", ids, up: false })}>along</button>
        <button class="word" onclick={() => void session.change({ do: "spread_marks", ids, up: true })}>up</button>
      </p>
    {/if}
  {/if}
  <p>
    Group <TextField
      value={group}
      label="group of the picked marks"
      placeholder="none"
      onset={(name) => session.set(ids[0], { group: name || null })}
    />
  </p>
</section>

<style>
  section {
    padding: 12px 20px 10px;
    border-bottom: 1px solid var(--rim);
    background: var(--enamel);
  }
  h2 {
    margin: 0 0 2px;
    font-size: 15px;
  }
  p {
    margin: 3px 0;
    line-height: 1.5;
    font-size: 13px;
  }
  .which {
    max-height: 3em;
    overflow: hidden;
    font-weight: 700;
    overflow-wrap: anywhere;
  }
  .differ {
    color: var(--ink-soft);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
  }
  .acts .word {
    font-weight: 400;
  }
</style>
