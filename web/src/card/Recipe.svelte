<!-- A text put together from pieces: the pieces in a row, the picked one as a sentence. -->
<script lang="ts">
  import type { Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import DateFields from "./DateFields.svelte";
  import NumberField from "./NumberField.svelte";
  import Signs from "./Signs.svelte";
  import TextField from "./TextField.svelte";
  import { tips } from "../words";

  type Piece = Schemas["Piece"];
  type Of = Schemas["PieceOf"];

  let {
    session,
    recipe,
    made,
    lines = false,
    onghost,
    onset,
  }: {
    session: Session;
    recipe: Piece[];
    /** What it makes for the row on show. */
    made: string;
    /** It may make several lines. */
    lines?: boolean;
    /** What it would be with what is being typed; nothing when that is over. */
    onghost?: (recipe: Piece[] | undefined) => void;
    onset: (recipe: Piece[]) => Promise<boolean>;
  } = $props();

  let picked = $state<number>();
  const columns = $derived(session.view?.job.roster.columns ?? []);
  const piece = $derived(picked === undefined ? undefined : recipe[picked]);

  const set = (make: (recipe: Piece[]) => Piece[]) => session.inTurn(() => onset(make(recipe)));
  const changed = (pieces: Piece[], which: number | undefined, change: Partial<Piece>) =>
    pieces.map((p, at) => (at === which ? ({ ...p, ...change } as Piece) : p));
  function put(change: Partial<Piece>) {
    const which = picked;
    return set((pieces) => changed(pieces, which, change));
  }
  const live = (change: Partial<Piece> | undefined) => onghost?.(change && changed(recipe, picked, change));

  const kinds = $derived(
    [
      { value: "text", says: "a fixed text" },
      { value: "column", says: "a column of the roster", off: !columns.length },
      { value: "revision", says: "the job's revision" },
      { value: "date", says: "a date" },
      { value: "material", says: "a material code" },
      { value: "line_end", says: "a new line", off: !lines },
    ].filter((k) => !k.off) as { value: Of["piece"]; says: string }[],
  );

  function fresh(kind: Of["piece"]): Of {
    if (kind === "text") return { piece: kind, text: "-" };
    if (kind === "column") return { piece: kind, column: columns[0]?.name ?? "" };
    if (kind === "material") return { piece: kind, code: "ABS" };
    if (kind === "date")
      return { piece: kind, from: { date: "handoff" }, form: { of: "week", year: "first", digits: 2, between: "" } };
    return { piece: kind };
  }

  const plain = (of: Of): Piece => ({ of, width: null, pad: "zeros", case: "as_it_is", empty: { empty: "error" } });

  async function add(kind: Of["piece"]) {
    const at = picked === undefined ? recipe.length : picked + 1;
    if (await set((pieces) => pieces.toSpliced(at, 0, plain(fresh(kind))))) picked = at;
  }

  async function move(by: number) {
    const at = picked;
    if (at === undefined || !piece) return;
    const to = at + by;
    if (to < 0 || to >= recipe.length) return;
    if (await set((pieces) => pieces.toSpliced(at, 1).toSpliced(to, 0, pieces[at]))) picked = to;
  }

  async function takeAway() {
    const at = picked;
    if (at === undefined) return;
    picked = undefined;
    await set((pieces) => pieces.toSpliced(at, 1));
  }

  function says(of: Of): string {
    if (of.piece === "text") return `“${of.text}”`;
    if (of.piece === "column") return of.column;
    if (of.piece === "material") return `>${of.code}<`;
    return { revision: "revision", date: "date", line_end: "↵" }[of.piece];
  }

  const reads = $derived(
    piece && (piece.of.piece === "column" || piece.of.piece === "revision" || piece.of.piece === "date"),
  );
</script>

<p class="made" aria-live="polite">{made.replaceAll("\n", " / ") || "no text in this row"}</p>
<p class="pieces" title={tips.recipe}>
  {#each recipe as p, at (at)}
    <button
      class="piece"
      class:picked={at === picked}
      class:literal={p.of.piece === "text"}
      aria-pressed={at === picked}
      onclick={() => (picked = at === picked ? undefined : at)}>{says(p.of)}</button
    >
  {/each}
  <select
    aria-label="add a piece"
    value=""
    onchange={(e) => {
      const kind = e.currentTarget.value as Of["piece"];
      e.currentTarget.value = "";
      void add(kind);
    }}
  >
    <option value="" disabled>add …</option>
    {#each kinds as kind (kind.value)}<option value={kind.value}>{kind.says}</option>{/each}
  </select>
</p>
{#if piece}
  {@const of = piece.of}
  <p>
    {#if of.piece === "text"}
      The text
      <TextField
        value={of.text}
        label="fixed text of the piece"
        keepBlanks
        ontype={(text) => live(text === undefined ? undefined : { of: { ...of, text } })}
        onset={(text) => put({ of: { ...of, text } })}
      />.
      {#if lines}<Signs onpick={(sign) => void put({ of: { ...of, text: of.text + sign } })} />{/if}
    {:else if of.piece === "column"}
      What stands in
      <ChoiceField
        value={of.column}
        label="column of the piece"
        choices={columns.map((c) => ({ value: c.name, says: c.name }))}
        onset={(column) => void put({ of: { ...of, column } })}
        after=","
      />
    {:else if of.piece === "revision"}
      The job's revision, {session.view?.job.revision ?? "which is not set yet"},
    {:else if of.piece === "material"}
      The material code
      <TextField
        value={of.code}
        label="material code"
        ontype={(code) => live(code === undefined ? undefined : { of: { ...of, code } })}
        onset={(code) => put({ of: { ...of, code } })}
      />, between &gt; and &lt;.
    {:else if of.piece === "date"}
      <DateFields {of} {columns} onset={(to) => put({ of: to })} />
    {:else}
      A new line.
    {/if}
    {#if of.piece === "column" || of.piece === "revision"}
      <ChoiceField
        value={piece.case}
        label="capitals or small letters"
        choices={[
          { value: "as_it_is", says: "as it is" },
          { value: "capitals", says: "in capitals" },
          { value: "small", says: "in small letters" },
        ]}
        onset={(v) => void put({ case: v })}
        after=","
      />
      {#if piece.width == null}
        <button class="word" onclick={() => void put({ width: 2 })}>natural width</button>,
      {:else}
        <NumberField
          value={piece.width}
          label="width of the piece"
          unit=""
          places={0}
          step={1}
          onset={(width) => put({ width: Math.round(width) })}
        /> characters wide with
        <ChoiceField
          value={piece.pad}
          label="what fills it up"
          choices={[
            { value: "zeros", says: "zeros before it" },
            { value: "blanks_before", says: "blanks before it" },
            { value: "blanks_after", says: "blanks after it" },
          ]}
          onset={(pad) => void put({ pad })}
        /> (<button class="word" onclick={() => void put({ width: null })}>natural width</button>),
      {/if}
    {/if}
    {#if reads && !(of.piece === "date" && of.from.date !== "column")}
      and where it is empty
      <ChoiceField
        value={piece.empty.empty}
        label="what an empty cell becomes"
        choices={[
          { value: "error", says: "an error" },
          { value: "nothing", says: "nothing" },
          { value: "text", says: "the text" },
        ]}
        onset={(v) => void put({ empty: v === "text" ? { empty: v, text: "-" } : { empty: v } })}
        after={piece.empty.empty === "text" ? "" : "."}
      />
      {#if piece.empty.empty === "text"}
        <TextField
          value={piece.empty.text}
          label="text for an empty cell"
          keepBlanks
          ontype={(text) => live(text === undefined ? undefined : { empty: { empty: "text", text } })}
          onset={(text) => put({ empty: { empty: "text", text } })}
        />.
      {/if}
    {/if}
  </p>
  <p class="acts">
    <button class="word" disabled={picked === 0} onclick={() => void move(-1)}>earlier</button>
    <button class="word" disabled={picked === recipe.length - 1} onclick={() => void move(1)}>later</button>
    <button class="word" onclick={() => void takeAway()}>remove it</button>
    <button class="word" onclick={() => (picked = undefined)}>done</button>
  </p>
{/if}

<style>
  .made {
    padding: 3px 6px;
    border-radius: 6px;
    background: var(--enamel);
    font: 700 16px/1.35 var(--figure);
  }
  .pieces {
    display: flex;
    flex-wrap: wrap;
    gap: 5px;
    margin: 6px 0;
  }
  .piece,
  select {
    padding: 2px 8px;
    border: 1px solid var(--rim-soft);
    border-radius: 6px;
    background: var(--enamel);
    color: var(--ink);
    font: inherit;
  }
  .piece.literal {
    background: none;
  }
  .piece.picked {
    border-color: var(--rim);
    background: var(--rim);
    color: var(--enamel);
  }
  select {
    border-style: dashed;
    appearance: none;
    field-sizing: content;
    cursor: pointer;
  }
  .acts {
    display: flex;
    gap: 0 16px;
    font-size: 13px;
  }
</style>
