<!-- A lettering face of the shop's own: its letters on their baseline, and the space that each keeps beside it. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { untrack } from "svelte";
  import StateShape from "../pieces/StateShape.svelte";
  import { sheet } from "../pieces/theme";
  import type { Session } from "../session.svelte";
  import "./drawing-sheet.css";
  import NumberField from "./NumberField.svelte";
  import {
    inkWidth,
    keepFace,
    lines,
    ownNames,
    type LettersAsked,
    type OwnFace,
    type OwnLetter,
    type Set,
  } from "./ownFaces";

  let { session, asked }: { session: Session; asked: LettersAsked } = $props();

  let open = $state(true);
  let face = $state.raw<OwnFace>({ name: "", file: "", letters: [], blank: 0 });
  /** The letter that is changed by itself. */
  let picked = $state<string>();
  let tried = $state("");
  let wrong = $state("");
  let left = $state.raw<OwnLetter[]>([]);
  /** What it is called already. */
  let own = $state("");

  // another drawing may be taken; what changes in the job meanwhile doesn't matter
  $effect(() => {
    face = asked.face;
    picked = undefined;
    left = [];
    wrong = "";
    own = asked.told.length ? "" : asked.face.name;
    void ownNames(session).then((names) => (known = names));
    const text = untrack(() => session.marks.find((m) => m.id === asked.mark)?.text ?? "");
    tried = text.replaceAll("\n", " ").trim();
    open = true;
  });

  /** Room above capitals and below the baseline in the drawings, % of the cap height. */
  const ABOVE = 150;
  const LINE = 215;

  const rows = $derived(lines(face.letters, face.blank, 1150));
  const wide = $derived(Math.max(400, ...rows.map(end)));
  const trial = $derived(
    lines(
      [...tried].map((c) => face.letters.find((l) => l.character === c)),
      face.blank,
      Infinity,
    ),
  );
  const trialWide = $derived(Math.max(600, ...trial.map(end)));
  const letter = $derived(face.letters.find((l) => l.character === picked));
  const lacks = $derived(
    [...new Set(tried)].filter((c) => c !== " " && !face.letters.some((l) => l.character === c)).join(" "),
  );
  const faults = $derived(asked.faults.filter((f) => face.letters.some((l) => l.character === f.character)));
  /** Names that faces of the shop or of the job have, with the versions that were seen. */
  let known = $state.raw(new Map<string, number>());
  const replaced = $derived(face.name.trim() !== own && known.has(face.name.trim()));

  function end(line: Set[]): number {
    const last = line.at(-1);
    return last ? last.x + inkWidth(last.letter) + last.letter.right : 0;
  }

  /** What most letters have. */
  function usual(of: "left" | "right"): number {
    const count = new Map<number, number>();
    for (const l of face.letters) count.set(l[of], (count.get(l[of]) ?? 0) + 1);
    return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
  }

  function all(change: Partial<OwnLetter>) {
    face = { ...face, letters: face.letters.map((l) => ({ ...l, ...change })) };
  }

  function one(change: Partial<OwnLetter>) {
    face = { ...face, letters: face.letters.map((l) => (l.character === picked ? { ...l, ...change } : l)) };
  }

  function leaveOut() {
    if (!letter) return;
    left = [...left, letter];
    face = { ...face, letters: face.letters.filter((l) => l !== letter) };
    picked = undefined;
  }

  function putBack(letter: OwnLetter) {
    left = left.filter((l) => l !== letter);
    face = { ...face, letters: [...face.letters, letter] };
  }

  function leave() {
    session.letters = undefined;
  }

  async function take() {
    const name = face.name.trim();
    wrong = await keepFace(session, asked.mark, { ...face, name }, known.get(name) ?? 0);
    if (!wrong) leave();
  }
</script>

{#snippet share(value: number, label: string, set: (value: number) => unknown)}
  <NumberField {value} {label} unit="%" step={1} places={1} onset={(v) => void set(v)} />
{/snippet}

{#snippet line(set: Set[], length: number)}
  <path class="guide" d="M0 0H{length}M0 100H{length}" />
  {#each set as { letter, x }, at (at)}
    <path class="ink" d={letter.outline} transform="translate({x} {letter.rise})" />
  {/each}
{/snippet}

<Modal
  bind:open
  title="Letters of {face.file}"
  size="xl"
  class={sheet.wide}
  classes={{ header: sheet.header, body: sheet.body }}
  onclose={leave}
>
  <div class="drawing-sheet">
    <figure>
      <div class="all framed">
        <svg viewBox="-20 {-ABOVE} {wide + 40} {LINE * rows.length}" role="group" aria-label="letters of the face">
          {#each rows as row, at (at)}
            <g transform="translate(0 {at * LINE}) scale(1 -1)">
              {@render line(row, wide)}
              {#each row as { letter, x } (letter.character)}
                {@const width = inkWidth(letter)}
                <!-- svelte-ignore a11y_click_events_have_key_events -->
                <rect
                  class="space"
                  role="button"
                  tabindex="-1"
                  aria-label="letter {letter.character}"
                  aria-pressed={picked === letter.character}
                  x={x - letter.left}
                  y="-50"
                  width={Math.max(1, letter.left + width + letter.right)}
                  height="190"
                  onclick={() => (picked = picked === letter.character ? undefined : letter.character)}
                />
                {#if picked === letter.character}<path class="edges" d="M{x} -50V140M{x + width} -50V140" />{/if}
              {/each}
              {#each faults as of (of.character)}
                {#each row.filter((s) => s.letter.character === of.character) as { letter, x } (x)}
                  {#each of.faults as fault (fault.kind)}
                    {#each fault.places as [px, py], k (k)}
                      <circle class:mended={fault.mended} cx={x + px} cy={py + letter.rise} r="9" />
                    {/each}
                  {/each}
                {/each}
              {/each}
            </g>
          {/each}
        </svg>
      </div>
      <figcaption>
        <input bind:value={tried} aria-label="text to try the face with" placeholder="try a text" spellcheck="false" />
        <svg
          class="trial framed"
          viewBox="-20 -130 {trialWide + 40} 180"
          preserveAspectRatio="xMinYMid meet"
          role="img"
          aria-label="the text in this face"
        >
          <g transform="scale(1 -1)">
            {#each trial as set, at (at)}{@render line(set, trialWide)}{/each}
          </g>
        </svg>
        {#if lacks}<small role="status">The face lacks {lacks}.</small>{/if}
      </figcaption>
    </figure>
    <div class="says">
      <p>
        The face is called
        <input
          class="name"
          bind:value={face.name}
          maxlength="60"
          aria-label="name of the face"
          spellcheck="false"
        />{#if replaced}
          <small>— replaces the face of that name</small>{/if}
      </p>
      <p>
        Each letter keeps
        {@render share(usual("left"), "left bearing of all letters", (v) => all({ left: v }))}
        of the cap height clear on its left and
        {@render share(usual("right"), "right bearing of all letters", (v) => all({ right: v }))}
        on its right; a blank is
        {@render share(face.blank, "width of a blank", (v) => (face = { ...face, blank: v }))} wide.
      </p>
      {#if letter}
        <p>
          <b class="letter">{letter.character}</b> keeps
          {@render share(letter.left, "left bearing of the letter", (v) => one({ left: v }))}
          on its left,
          {@render share(letter.right, "right bearing of the letter", (v) => one({ right: v }))}
          on its right, and stands
          {@render share(letter.rise, "rise of the letter", (v) => one({ rise: v }))}
          above where it was drawn.
          {#if face.letters.length > 1}<button class="word" onclick={leaveOut}>leave out</button>{/if}
        </p>
      {:else}
        <p class="soft">Click a letter to change it alone.</p>
      {/if}
      {#if left.length}
        <p>
          Left out:
          {#each left as gone (gone.character)}
            <button class="word" onclick={() => putBack(gone)}>put {gone.character} back</button>{" "}
          {/each}
        </p>
      {/if}
      {#if faults.length}
        <ul class="faults" aria-label="faults of the letters">
          {#each faults as of (of.character)}
            {#each of.faults as fault (fault.kind)}
              <li>
                <button class="word" onclick={() => (picked = of.character)}>
                  <StateShape state={fault.mended ? "passes" : "marginal"} />
                  {of.character}: {fault.says}
                </button>
              </li>
            {/each}
          {/each}
        </ul>
      {/if}
      <ul class="told">
        {#each asked.told as told (told)}<li>{told}</li>{/each}
      </ul>
      {#if wrong}<p role="alert"><StateShape state="fails" /> {wrong}</p>{/if}
      <p class="do">
        <button class="press first" disabled={!face.name.trim()} onclick={() => void take()}>use this face</button>
        <button class="word" onclick={leave}>cancel</button>
        <small>The job keeps it, and so does the shop.</small>
      </p>
    </div>
  </div>
</Modal>

<style>
  .drawing-sheet {
    grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  }
  .all {
    max-height: 340px;
    overflow: auto;
  }
  .guide {
    fill: none;
    stroke: var(--seam);
    stroke-width: 1px;
    stroke-dasharray: 3 4;
    vector-effect: non-scaling-stroke;
  }
  .space {
    fill: transparent;
    cursor: pointer;
    outline: none;
  }
  .space:hover,
  .space[aria-pressed="true"] {
    fill: rgb(from var(--pick) r g b / 0.14);
  }
  .edges {
    fill: none;
    stroke: var(--pick);
    stroke-width: 1px;
    vector-effect: non-scaling-stroke;
  }
  figcaption {
    margin-top: 10px;
  }
  figcaption input {
    width: 100%;
    padding: 4px 8px;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--enamel);
    font: inherit;
  }
  .trial {
    height: 90px;
    margin-top: 6px;
  }
  .name {
    padding: 0 1px;
    border: 0;
    border-bottom: 1.5px solid var(--rim-soft);
    background: none;
    font: inherit;
    font-weight: 700;
    field-sizing: content;
    min-width: 4em;
    max-width: 240px;
  }
  .letter {
    padding: 0 6px;
    border: 1px solid var(--rim-soft);
    border-radius: 5px;
  }
  ul {
    max-height: 120px;
    overflow: auto;
  }
</style>
