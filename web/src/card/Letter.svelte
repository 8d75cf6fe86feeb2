<!-- One letter that differs from the others of its mark. -->
<script lang="ts">
  import type { Mark, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";
  import Section from "./Section.svelte";

  type Change = Schemas["LetterChange"];

  let {
    session,
    mark,
    at,
    text,
    ondone,
  }: { session: Session; mark: Mark; at: number; text: string; ondone: () => void } = $props();

  const same: Omit<Change, "at" | "text"> = {
    size: 1,
    along: 0,
    up: 0,
    turn: 0,
    left_out: false,
    sense: null,
    colour: null,
  };
  const own = $derived<Change>(mark.letters.find((l) => l.at === at && l.text === text) ?? { at, text, ...same });

  type Sense = Schemas["Sense"];
  const words: Record<Sense, string> = {
    raised: "raised",
    sunken: "sunken",
    inlay: "inlaid",
    surface: "on the surface",
    stamp: "a stamp area",
  };
  const senses: Sense[] = ["raised", "sunken", "inlay"];
  /** Goes through, or has no height: all its letters do. */
  const relieved = $derived(senses.includes(mark.relief.sense) && !mark.relief.through);

  const set = (change: Partial<Change>) =>
    session.inTurn(() =>
      session.set(mark.id, { letters: [...mark.letters.filter((l) => l.at !== at), { ...own, ...change }] }),
    );
</script>

<Section head="letter {at + 1}" label="Letter {text}">
  <p>
    <b>“{text}”</b> is
    <ChoiceField
      value={own.left_out ? "out" : "in"}
      label="letter left out"
      choices={[
        { value: "in", says: "there" },
        { value: "out", says: "left out" },
      ]}
      onset={(v) => set({ left_out: v === "out" })}
      after={own.left_out ? "." : ","}
    />
    {#if !own.left_out}
      <NumberField
        value={own.size * 100}
        label="size of the letter"
        unit="%"
        step={5}
        places={0}
        onset={(v) => set({ size: v / 100 })}
      /> as large as the others, shifted
      <NumberField value={own.along} label="letter shifted along" onset={(v) => set({ along: v })} /> along and
      <NumberField value={own.up} label="letter shifted up" onset={(v) => set({ up: v })} /> up, turned
      <NumberField
        value={own.turn}
        label="turn of the letter"
        unit="°"
        step={5}
        places={0}
        onset={(v) => set({ turn: v })}
        after={relieved ? "," : "."}
      />
      {#if relieved}
        <ChoiceField
          value={own.sense ?? "same"}
          label="sense of the letter"
          choices={[
            { value: "same", says: `${words[mark.relief.sense]} like the others` },
            ...senses.filter((s) => s !== mark.relief.sense).map((value) => ({ value, says: words[value] })),
          ]}
          onset={(v) => set({ sense: v === "same" ? null : v })}
          after="."
        />
      {/if}
      {#if own.colour}
        Its colour is
        <input
          type="color"
          aria-label="colour of the letter"
          value={own.colour}
          onchange={(e) => void set({ colour: e.currentTarget.value })}
        />
        (<button class="word" onclick={() => void set({ colour: null })}>none of its own</button>).
      {:else}
        <button class="word" onclick={() => void set({ colour: "#B3261E" })}>a colour of its own</button>
      {/if}
    {/if}
    <button class="word" onclick={() => void set(same)}>like the others</button>
    <button class="word" onclick={ondone}>done</button>
  </p>
</Section>

<style>
  input {
    width: 34px;
    height: 20px;
    padding: 0;
    vertical-align: middle;
    border: 1px solid var(--rim);
    border-radius: 4px;
    background: none;
    cursor: pointer;
  }
</style>
