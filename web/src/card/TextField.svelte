<!-- A short text in a sentence: Enter or leaving takes it, Escape leaves it as it was. -->
<script lang="ts">
  import { refused } from "../api/refused";
  import { givesWay } from "./givesWay.svelte";
  import { keepsPicked } from "./keepsPicked.svelte";

  let {
    value,
    label,
    placeholder = "",
    keepBlanks = false,
    ontype,
    onset,
  }: {
    value: string;
    label: string;
    placeholder?: string;
    /** Blanks at its ends belong to it. */
    keepBlanks?: boolean;
    /** What is being typed; nothing when that is over. */
    ontype?: (value: string | undefined) => void;
    onset: (value: string) => Promise<unknown> | void;
  } = $props();

  let typed = $state<string>();
  let wrong = $state("");
  givesWay(
    () => value,
    () => {
      if (!wrong) return;
      typed = undefined;
      wrong = "";
    },
  );

  /** It is on its way: leaving the field after Enter doesn't send it again. */
  let sending = false;

  async function take() {
    const text = keepBlanks ? typed : typed?.trim();
    if (sending) return;
    sending = true;
    const kept = text === undefined || text === value ? undefined : await onset(text);
    sending = false;
    // what was refused stays, with the reason beside it
    wrong = kept === false ? refused.beside() : "";
    if (kept !== false) leave();
  }

  function type(text: string) {
    typed = text;
    wrong = "";
    ontype?.(text);
  }

  function leave() {
    if (typed !== undefined) ontype?.(undefined);
    typed = undefined;
    wrong = "";
  }
</script>

<input
  aria-label={label}
  value={typed ?? value}
  {@attach keepsPicked(() => typed ?? value)}
  {placeholder}
  autocomplete="off"
  spellcheck="false"
  oninput={(e) => type(e.currentTarget.value)}
  onkeydown={(e) => {
    if (e.key === "Enter") void take();
    else if (e.key === "Escape") leave();
  }}
  onblur={() => wrong || void take()}
/>
{#if wrong}<small role="alert">{wrong}</small>{/if}

<style>
  small {
    color: var(--fail);
  }
  input {
    padding: 0 1px;
    border: 0;
    border-bottom: 1.5px solid var(--rim-soft);
    background: none;
    color: var(--ink);
    font: inherit;
    font-weight: 700;
    line-height: 1.25;
    field-sizing: content;
    min-width: 2em;
    max-width: 240px;
  }
  input:hover,
  input:focus {
    border-color: var(--pick);
  }
</style>
