<!-- A number in a sentence: type (inches too), step with arrows or wheel, leave with Escape. A wrong entry says what
     would be right and leaves the old value. -->
<script lang="ts">
  import { type Round, length } from "../api/length";
  import { refused } from "../api/refused";
  import { givesWay } from "./givesWay.svelte";
  import { keepsPicked } from "./keepsPicked.svelte";
  import Keep from "./Keep.svelte";
  import { keptOf, type Fixed } from "./keeping";

  let {
    value,
    label,
    unit = "mm",
    step = 0.1,
    places = 2,
    after = "",
    round,
    keeps,
    onset,
  }: {
    value: number;
    label: string;
    unit?: "mm" | "°" | "%" | "";
    step?: number;
    places?: number;
    /** What follows in the sentence without a space: a comma, a full stop. */
    after?: string;
    /** The round surface that it stands on: what it reaches to may be typed instead. */
    round?: Round;
    /** Mends can be kept from it, by a press beside it. */
    keeps?: Fixed;
    onset: (value: number) => Promise<boolean> | void;
  } = $props();

  let typed = $state<string>();
  let wrong = $state("");
  let waiting: ReturnType<typeof setTimeout> | undefined;
  givesWay(
    () => value,
    () => {
      if (!wrong) return;
      typed = undefined;
      wrong = "";
    },
  );

  /** What is set holds for other marks too, which may have another value. */
  const kept = keptOf();
  const forSeveral = () => !!kept && kept().session.several.includes(kept().mark.id);

  const shown = $derived(typed ?? value.toFixed(places).replace("-", "−"));

  async function read(text: string): Promise<number | undefined> {
    if (unit !== "mm") {
      const number = Number(text.replace(",", ".").replace("−", "-").replace(/[°%]/, "").trim());
      if (text.trim() !== "" && Number.isFinite(number)) return number;
      wrong = `“${text}” is not a number; type for instance 3 or 1.5`;
      return undefined;
    }
    const answer = await length(text.replace("−", "-"), round);
    if ("mm" in answer) return answer.mm;
    wrong = answer.problem;
    return undefined;
  }

  async function take() {
    clearTimeout(waiting);
    const text = typed;
    if (text === undefined) return;
    wrong = "";
    const number = await read(text);
    if (number === undefined) return;
    // what was refused stays, with the reason beside it
    if ((Math.abs(number - value) > 1e-9 || forSeveral()) && (await onset(number)) === false) wrong = refused.beside();
    else if (typed === text) typed = undefined;
  }

  function stepBy(by: number) {
    wrong = "";
    const from = Number((typed ?? String(value)).replace("−", "-"));
    typed = ((Number.isFinite(from) ? from : value) + by).toFixed(places);
    // one change in the history for a run of steps
    clearTimeout(waiting);
    waiting = setTimeout(() => void take(), 350);
  }

  function keys(event: KeyboardEvent) {
    if (event.key === "Enter") void take();
    else if (event.key === "Escape") {
      typed = undefined;
      wrong = "";
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      stepBy((event.key === "ArrowUp" ? 1 : -1) * step * (event.shiftKey ? 10 : 1));
    }
  }

  function wheel(event: WheelEvent) {
    if (document.activeElement !== event.currentTarget) return;
    event.preventDefault();
    stepBy(event.deltaY < 0 ? step : -step);
  }
</script>

<span class="field">
  <input
    aria-label={label}
    aria-invalid={!!wrong}
    value={shown}
    {@attach keepsPicked(() => shown)}
    size={Math.max(3, shown.length)}
    inputmode="decimal"
    autocomplete="off"
    onfocus={(e) => e.currentTarget.select()}
    oninput={(e) => {
      typed = e.currentTarget.value;
      wrong = "";
    }}
    onkeydown={keys}
    onwheel={wheel}
    onblur={() => wrong || void take()}
  /><span class="unit" class:near={unit !== "mm"}>{unit}</span>{#if keeps}<Keep value={keeps} />{/if}{after}
  {#if wrong}<span class="wrong" role="alert">{wrong}</span>{/if}
</span>

<style>
  .field {
    white-space: nowrap;
    position: relative;
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
    text-align: right;
    field-sizing: content;
    min-width: 1.5em;
  }
  input:hover,
  input:focus {
    border-color: var(--pick);
  }
  input[aria-invalid="true"] {
    border-color: var(--fail);
    color: var(--fail);
  }
  .unit {
    margin-left: 3px;
    font-size: 12px;
    color: var(--ink-soft);
  }
  .unit.near {
    margin-left: 0;
    font-size: inherit;
    color: inherit;
  }
  .wrong {
    display: block;
    margin: 3px 0 5px;
    padding: 4px 10px;
    border: 1px solid var(--fail);
    border-radius: 6px;
    background: var(--fail-ground);
    color: var(--fail);
    font-size: 13px;
    font-weight: 400;
    line-height: 1.35;
    white-space: normal;
  }
</style>
