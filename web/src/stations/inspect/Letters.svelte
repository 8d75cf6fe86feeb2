<!-- A finding letter by letter, each bar against the limit, each letter in its own outlines. -->
<script lang="ts">
  import type { Finding, PlateView } from "../../api/client";
  import { figure, withUnit } from "../../words";

  let {
    finding,
    plate,
    capHeight,
    picked,
    onpick,
  }: { finding: Finding; plate?: PlateView; capHeight: number; picked?: number; onpick: (letter: number) => void } =
    $props();

  let wide = $state(700);
  const TALL = 150;
  const FOOT = 40;

  const letters = $derived(finding.letters.filter((l) => l.measured != null));
  const limit = $derived(finding.limit?.value ?? 0);
  const values = $derived(letters.map((l) => l.measured ?? 0));
  // a bar far above the limit says no more than one well above it
  const cap = $derived(
    finding.limit && finding.limit.side === "at_least" ? Math.max(4 * Math.abs(limit), 1e-9) : Infinity,
  );
  const top = $derived(Math.max(limit, 0, ...values.map((v) => Math.min(v, cap))) * 1.12 || 1);
  const bottom = $derived(Math.max(Math.min(0, ...values) * 1.12, -top * 2));
  const Y = (v: number) => 16 + ((top - Math.max(bottom, Math.min(v, top))) / (top - bottom)) * (TALL - 34);
  const column = $derived(Math.min(58, (wide - 90) / Math.max(1, letters.length)));
</script>

<div class="letters" bind:clientWidth={wide}>
  <svg width={wide} height={TALL + FOOT} role="group" aria-label="letter by letter">
    <defs>
      <pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" class="hatched" /><line x1="0" y1="0" x2="0" y2="6" class="stroke" />
      </pattern>
    </defs>
    <line class="zero" x1="0" x2={wide} y1={Y(0)} y2={Y(0)} />
    {#if finding.limit}
      <line class="limit" x1="0" x2={wide} y1={Y(limit)} y2={Y(limit)} />
      <text class="limit-word" x={wide - 4} y={Y(limit) - 4} text-anchor="end"
        >limit {withUnit(limit, finding.unit)}</text
      >
    {/if}
    {#each letters as letter, k (letter.character)}
      {@const value = letter.measured ?? 0}
      {@const x = 6 + k * column}
      {@const glyph = plate?.characters[letter.character]}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <g
        class="letter {letter.state}"
        class:picked={picked === letter.character}
        role="button"
        tabindex="0"
        aria-label="{letter.text}: {figure(value, finding.unit)} {finding.unit}, {letter.state}"
        onclick={() => onpick(letter.character)}
        onkeydown={(e) => e.key === "Enter" && onpick(letter.character)}
      >
        <rect class="hit" {x} y="0" width={column} height={TALL + FOOT} />
        <rect
          class="bar"
          x={x + column * 0.2}
          width={column * 0.6}
          y={Math.min(Y(value), Y(0))}
          height={Math.max(1, Math.abs(Y(value) - Y(0)))}
        />
        {#if column > 24}
          <text x={x + column / 2} y={value < 0 ? Math.min(TALL + 2, Y(value) + 12) : Y(value) - 3} text-anchor="middle"
            >{figure(value, finding.unit)}</text
          >
        {/if}
        {#if glyph && plate}
          {@const scale = Math.min(20 / capHeight, (column * 0.8) / Math.max(glyph.right - glyph.left, 0.1))}
          <path
            d={glyph.path}
            fill-rule="evenodd"
            transform="translate({x + column / 2 - ((glyph.left + glyph.right) / 2) * scale} {TALL +
              FOOT -
              8 +
              glyph.baseline * scale}) scale({scale} {-scale})"
          />
        {:else}
          <text x={x + column / 2} y={TALL + FOOT - 12} text-anchor="middle">{letter.text}</text>
        {/if}
      </g>
    {/each}
  </svg>
</div>

<style>
  .letters {
    min-width: 0;
    overflow: hidden;
  }
  svg {
    display: block;
  }
  text {
    font-size: 11px;
    fill: var(--ink-soft);
  }
  .zero {
    stroke: var(--rim-soft);
  }
  .limit {
    stroke: var(--fail);
    stroke-dasharray: 6 4;
  }
  .limit-word {
    fill: var(--fail);
  }
  .letter {
    cursor: pointer;
  }
  .letter path {
    fill: var(--ink);
  }
  .hit {
    fill: transparent;
  }
  .letter:hover .hit,
  .letter.picked .hit {
    fill: var(--plate);
  }
  .bar {
    fill: var(--part);
    stroke: var(--rim-soft);
  }
  .fails .bar {
    fill: url(#hatch);
    stroke: var(--fail);
  }
  .fails text {
    fill: var(--fail);
    font-weight: 700;
  }
  .marginal .bar {
    fill: var(--marginal-ground);
    stroke: var(--marginal);
  }
  .hatched {
    fill: var(--fail-ground);
  }
  .stroke {
    stroke: var(--fail);
    stroke-width: 1.4;
  }
</style>
