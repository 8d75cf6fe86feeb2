<!-- A small enamel plate lettered with a mark's real outlines. -->
<script lang="ts">
  import type { PlateView } from "../api/client";
  let { plate, text, faint = false }: { plate: PlateView | undefined; text: string; faint?: boolean } = $props();
  const box = $derived.by(() => {
    if (!plate || plate.problem || !plate.size[0]) return "0 0 1 1";
    const [wide, tall] = plate.size;
    // descenders and accents reach past the capitals' box
    const room = 0.22 * Math.min(tall, 6);
    return `${-room} ${-tall - room} ${wide + 2 * room} ${tall + 2 * room}`;
  });
</script>

<span class="plate" class:faint>
  <i></i><i></i>
  {#if plate && !plate.problem && plate.path}
    <svg viewBox={box} preserveAspectRatio="xMidYMid meet" role="img" aria-label={text}>
      <path d={plate.path} transform="scale(1 -1)" fill-rule="evenodd" />
    </svg>
  {:else}
    <span class="words">{text || "no text"}</span>
  {/if}
</span>

<style>
  .plate {
    position: relative;
    display: flex;
    align-items: center;
    justify-content: center;
    width: 100%;
    height: 100%;
    padding: 3px 12px;
    box-sizing: border-box;
  }
  .plate > svg {
    width: 100%;
    height: 100%;
    max-height: 34px;
    min-height: 0;
    fill: var(--ink);
    overflow: visible;
  }
  .faint > svg {
    fill: var(--rivet);
  }
  i {
    position: absolute;
    top: 3px;
    width: 4px;
    height: 4px;
    border-radius: 50%;
    background: var(--rivet);
  }
  i:first-child {
    left: 4px;
  }
  i:nth-child(2) {
    right: 4px;
  }
  .words {
    color: var(--fail);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
