<!-- How the finished solid is cut through a mark: along the text, across it, level with the seat, or turned freely. -->
<script lang="ts">
  import NumberField from "../../card/NumberField.svelte";
  import Measured from "../../view3d/Measured.svelte";
  import type { Session } from "../../session.svelte";
  import { keptCuts } from "./keptCuts.svelte";
  import type { Lie, MarkCut } from "./markCut.svelte";

  let { session, cut, level, reach }: { session: Session; cut: MarkCut; level: number; reach: number } = $props();

  const kept = $derived(keptCuts.of(session).length);

  function keep() {
    if (cut.wish) keptCuts.keep(session, cut.wish);
  }

  const lie = $derived(cut.lie);
  const ways: { name: string; lie: () => Lie }[] = [
    { name: "square to it", lie: () => ({ tilt: 0, shift: 0 }) },
    { name: "along the text", lie: () => ({ turn: 0, tilt: 0, shift: 0 }) },
    { name: "across it", lie: () => ({ turn: 90, tilt: 0, shift: 0 }) },
    { name: "level with the seat", lie: () => ({ turn: 0, tilt: 90, shift: level }) },
  ];
  const here = (way: Lie) => lie && way.turn === lie.turn && way.tilt === lie.tilt;
</script>

{#if lie}
  <div class="cut">
    <p>
      cut
      {#each ways as way (way.name)}
        <button
          class="word"
          class:here={here(way.lie())}
          aria-pressed={here(way.lie())}
          onclick={() => cut.set(way.lie())}>{way.name}</button
        >{" "}
      {/each}
    </p>
    <p>
      turned
      <NumberField
        value={lie.turn ?? cut.view?.turn ?? 0}
        label="turn of the cut"
        unit="°"
        step={1}
        places={1}
        onset={(turn) => cut.set({ ...lie, turn })}
        after=","
      />
      leaning
      <NumberField
        value={lie.tilt}
        label="lean of the cut"
        unit="°"
        step={1}
        places={1}
        onset={(tilt) => cut.set({ ...lie, tilt })}
        after=","
      />
      moved
      <NumberField
        value={lie.shift}
        label="how far the cut is moved"
        step={0.05}
        onset={(shift) => cut.set({ ...lie, shift })}
      />
      <input
        type="range"
        aria-label="move the cut"
        min={-reach}
        max={reach}
        step={reach / 200}
        value={lie.shift}
        oninput={(e) => cut.set({ ...lie, shift: Number(Number(e.currentTarget.value).toFixed(3)) })}
      />
    </p>
    {#if cut.trouble}<p class="bad" role="alert">{cut.trouble}</p>
    {:else if cut.view}<Measured picks={cut.picks} area={cut.view.section.area} />
      <p>
        <button class="word" disabled={session.stale} onclick={keep}>keep it for the record</button>
        {#if kept}<span class="soft">{kept === 1 ? "one is kept" : `${kept} are kept`}</span>{/if}
      </p>
    {:else}<p class="soft" data-busy>Cutting …</p>{/if}
  </div>
{/if}

<style>
  .cut {
    position: absolute;
    left: 10px;
    right: 10px;
    bottom: 34px;
    padding: 5px 10px 6px;
    border: 1px solid var(--rim-soft);
    border-radius: 8px;
    background: rgb(from var(--enamel) r g b / 0.94);
    font-size: 13px;
  }
  p {
    margin: 0;
    line-height: 1.65;
  }
  .word {
    font-weight: 400;
  }
  .word.here {
    font-weight: 700;
  }
  input[type="range"] {
    width: 110px;
    vertical-align: middle;
    accent-color: var(--rim);
  }
  .bad {
    color: var(--fail);
  }
</style>
