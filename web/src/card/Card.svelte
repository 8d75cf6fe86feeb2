<!-- The card of a mark: what it says, its lettering, its placement, its relief, as sentences whose values are the controls. -->
<script lang="ts">
  import { onMount, tick } from "svelte";
  import type { PlacementView, Mark, Schemas, SeatView } from "../api/client";
  import { refused } from "../api/refused";
  import StateShape from "../pieces/StateShape.svelte";
  import type { Session } from "../session.svelte";
  import Mends from "../stations/inspect/Mends.svelte";
  import { called, checkNames, steelWord, tips, worst } from "../words";
  import ArtworkPicker from "./ArtworkPicker.svelte";
  import ColourField from "./ColourField.svelte";
  import FigureFields from "./FigureFields.svelte";
  import { drawn, figureKinds, type FigureKind } from "./figures";
  import { keepsOf } from "./keeping";
  import { keepsPicked } from "./keepsPicked.svelte";
  import Note from "./Note.svelte";
  import Placement from "./Placement.svelte";
  import Letter from "./Letter.svelte";
  import Lettering from "./Lettering.svelte";
  import MendsLeave from "./MendsLeave.svelte";
  import StyleField from "./StyleField.svelte";
  import Recipe from "./Recipe.svelte";
  import Relief from "./Relief.svelte";
  import Section from "./Section.svelte";
  import Signs from "./Signs.svelte";

  let {
    session,
    mark,
    seat,
    placed,
    problem,
    onghost,
    letter,
    onletter,
    onwiden,
    onrepeat,
    oninspect,
  }: {
    session: Session;
    mark: Mark;
    seat?: SeatView;
    placed?: PlacementView;
    problem?: string;
    /** The mark as it would be with what is being typed; nothing when that is over. */
    onghost: (mark: Mark | undefined) => void;
    /** The letter that is changed by itself. */
    letter?: number;
    onletter: (at: number | undefined) => void;
    /** The seat is to go over more faces, or over fewer. */
    onwiden: () => void;
    /** The mark is to be put on faces that are pressed. */
    onrepeat: () => void;
    oninspect: (check: string) => void;
  } = $props();

  keepsOf(() => ({ session, mark }));

  let typed = $state<string>();
  /** Why what is typed was not kept. */
  let wrong = $state("");
  /** What is typed until the field is left is one step of the history. */
  let typing = crypto.randomUUID();
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let field = $state<HTMLTextAreaElement>();

  /** The search takes seconds: only where it is asked for. */
  let mending = $state(false);
  const relief = $derived(mark.relief);
  const lines = $derived((typed ?? mark.text).split("\n").length);
  const steel = $derived(session.outcome?.marks.find((m) => m.id === mark.id)?.steel);
  const finding = $derived(session.stale ? undefined : worst(session.outcome, mark.id));
  const id = $derived(mark.id);
  const letterText = $derived(
    placed?.characters.find((c) => c.at === letter)?.text ?? mark.letters.find((l) => l.at === letter)?.text,
  );

  const set = (settings: object) => session.set(id, settings);

  function type(text: string) {
    typed = text;
    wrong = "";
    onghost({ ...mark, text });
    clearTimeout(waiting);
    waiting = setTimeout(() => void keep(), 600);
  }

  async function keep() {
    clearTimeout(waiting);
    const text = typed;
    if (text === undefined) return;
    const kept = text === mark.text || text.trim() === "" || (await session.set(id, { text }, typing));
    // what was refused stays, with the reason beside it
    wrong = kept ? "" : refused.beside();
    if (!kept) return;
    // more may have been typed while the change was kept
    if (typed === text && text.trim() !== "") {
      typed = undefined;
      onghost(undefined);
    }
  }

  /** Puts a sign where the cursor stands. */
  function put(sign: string) {
    if (!field) return;
    field.setRangeText(sign, field.selectionStart, field.selectionEnd, "end");
    type(field.value);
    field.focus();
  }

  /** The text as the first piece of a recipe, line by line. */
  async function compose() {
    await keep();
    const lines = mark.text.split("\n");
    const piece = (of: Schemas["PieceOf"]) => ({ of });
    const recipe = lines.flatMap((text, at) => [
      ...(at ? [piece({ piece: "line_end" })] : []),
      ...(text ? [piece({ piece: "text", text })] : []),
    ]);
    await set({ recipe });
  }

  /** Puts the cursor into the text, for a mark that was just added. */
  export async function write() {
    await tick();
    field?.focus();
    field?.select();
  }

  onMount(() => {
    if (session.fresh !== mark.id) return;
    session.fresh = "";
    void write();
  });
</script>

<article aria-label="Mark “{called(mark)}”">
  <Section head="text" tip={tips.card}>
    {#if mark.figure}
      <FigureFields {session} {mark} {placed} figure={mark.figure} />
    {:else if mark.recipe.length}
      <Recipe
        {session}
        recipe={mark.recipe}
        made={mark.text}
        lines
        onghost={(recipe) => onghost(recipe && { ...mark, recipe })}
        onset={(recipe) => session.set(mark.id, recipe.length ? { recipe } : { recipe, text: mark.text })}
      />
    {:else}
      <textarea
        bind:this={field}
        aria-label="text of the mark"
        rows={Math.min(6, lines)}
        spellcheck="false"
        value={typed ?? mark.text}
        {@attach keepsPicked(() => typed ?? mark.text)}
        onfocus={() => (typing = crypto.randomUUID())}
        oninput={(e) => type(e.currentTarget.value)}
        onblur={() => wrong || void keep()}
      ></textarea>
      {#if wrong}<p class="wrong" role="alert">{wrong}</p>{/if}
      <p class="under">
        <button class="word" onclick={() => void compose()}>compose from pieces</button>
        <Signs onpick={(sign) => put(sign)} />
      </p>
      <p class="under">
        <ArtworkPicker {session} {mark} label="file of artwork">
          {#snippet opener(open)}
            <select
              class="offer"
              aria-label="draw something else"
              value=""
              onchange={(e) => {
                const kind = e.currentTarget.value as FigureKind;
                e.currentTarget.value = "";
                if (kind === "artwork") open();
                else void set(drawn(mark, kind));
              }}
            >
              <option value="" disabled>draw instead of text …</option>
              {#each figureKinds as kind (kind.value)}<option value={kind.value}>{kind.says}</option>{/each}
            </select>
          {/snippet}
        </ArtworkPicker>
      </p>
    {/if}
    {#if problem}<p class="problem" role="alert"><StateShape state="fails" /> {problem}</p>{/if}
  </Section>

  {#if !(mark.figure && ("pocket" in mark.figure || "artwork" in mark.figure))}
    <Lettering {session} {mark} {placed} {lines} />
  {/if}

  {#if letter !== undefined && letterText}
    <Letter {session} {mark} at={letter} text={letterText} ondone={() => onletter(undefined)} />
  {/if}

  {#if mark.letters.length && letter === undefined && !mark.figure}
    <Section head="single letters">
      <p>
        {#each mark.letters as l (l.at)}
          <button class="word" onclick={() => onletter(l.at)}>“{l.text}”{l.left_out ? " left out" : ""}</button>{" "}
        {/each}
      </p>
    </Section>
  {/if}

  <Placement {session} {mark} {seat} {placed} {onwiden} {onrepeat} />
  <Relief {session} {mark} {placed} />

  <Note {session} {mark} />
  <Section head="name and style">
    <StyleField {session} {mark} />
    <p><ColourField {session} {mark} /></p>
  </Section>
  <MendsLeave {session} {mark} />

  {#if steel && relief.sense !== "surface" && relief.sense !== "stamp" && session.view?.job.tool.slides.length}
    <p class="quiet">
      Formed by {steel.steel === "slide" ? "" : "the "}<b>{steelWord(steel)}</b>, as the tool is set at the part.
    </p>
  {/if}
  {#if !mark.on}
    <p class="quiet">Switched off: neither built nor checked.</p>
  {:else if session.stale}
    <p class="quiet" aria-live="polite" data-busy>Checking the finished solid …</p>
  {:else if finding}
    <div class="finding {finding.state}" aria-live="polite">
      <h3><StateShape state={finding.state} /> {checkNames[finding.check].whole}</h3>
      <p>{finding.sentence}</p>
      <p>
        <button class="word" onclick={() => oninspect(finding.check)}>see it on the solid</button>
        {#if (finding.state === "fails" || finding.state === "marginal") && !mending}
          · <button class="word" onclick={() => (mending = true)}>what would mend it?</button>
        {/if}
      </p>
      {#if mending}<Mends {session} {finding} />{/if}
    </div>
  {:else}
    <p class="quiet" aria-live="polite"><StateShape state="passes" /> Everything passes on the finished solid.</p>
  {/if}
</article>

<style>
  article {
    padding: 6px 20px 16px;
  }
  p {
    margin: 0;
    line-height: 1.8;
  }
  textarea {
    width: 100%;
    box-sizing: border-box;
    padding: 3px 6px;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--enamel);
    color: var(--ink);
    font: 700 16px/1.35 var(--figure);
    resize: none;
  }
  .wrong {
    color: var(--fail);
    font-size: 13px;
  }
  .under {
    display: flex;
    align-items: center;
    justify-content: space-between;
    margin-top: 4px;
    font-size: 13px;
  }
  .under .word {
    font-weight: 400;
  }
  .problem {
    margin-top: 5px;
    line-height: 1.4;
    color: var(--fail);
  }
  .finding {
    margin: 10px -8px 0;
    padding: 10px 12px;
    border: 1px solid var(--rim);
    border-radius: 9px;
    background: var(--enamel);
  }
  .finding p {
    margin: 3px 0 6px;
    line-height: 1.5;
  }
  .finding h3 {
    margin: 0 0 3px;
    font-size: 14px;
    font-weight: 700;
    color: var(--ink);
  }
  .finding.fails {
    border-color: var(--fail);
  }
  .finding.fails h3 {
    color: var(--fail);
  }
  .finding.marginal {
    border-color: var(--marginal);
  }
  .finding.marginal h3 {
    color: var(--marginal);
  }
  .quiet {
    margin-top: 10px;
    color: var(--ink-soft);
  }
</style>
