<!-- Under the strip: what its seat is, its files, and what is looked at. -->
<script lang="ts">
  import type { Mark, SeatView } from "../api/client";
  import type { Session } from "../session.svelte";
  import { tips } from "../words";
  import type { Viewport } from "./viewport.svelte";

  let { session, seat, mark, view }: { session: Session; seat: SeatView; mark?: Mark; view: Viewport } = $props();
</script>

<div class="caption">
  <span class="says" title="{seat.says}. {tips.seat} {tips.strip}">{seat.says}{seat.curved ? ", unrolled" : ""}</span>
  {#if mark}
    <span class="written">
      write {@render written(false)}, mirrored {@render written(true)}
    </span>
  {/if}
  <span class="acts">
    <button class="word" onclick={() => (view.chosen = undefined)}>near the mark</button>
    <button class="word" onclick={() => (view.chosen = view.fit(seat.low, seat.high))}>whole seat</button>
  </span>
</div>

{#snippet written(tool: boolean)}
  {#each ["svg", "dxf"] as form (form)}
    {" "}<a
      class="word"
      href="/api/jobs/{session.id}/strips/{mark?.id}/{form}?{new URLSearchParams({
        tool: String(tool),
        ...(session.row === undefined ? {} : { row: String(session.row) }),
      })}"
      aria-label="the strip as {form.toUpperCase()}{tool ? ', mirrored for the tool' : ''}"
      download>{form.toUpperCase()}</a
    >
  {/each}
{/snippet}

<style>
  .caption {
    display: flex;
    justify-content: space-between;
    gap: 18px;
    padding: 2px 14px 5px 30px;
    font-size: 12px;
    color: var(--ink-soft);
  }
  .caption > span {
    flex: none;
  }
  .caption > .says {
    flex: 0 1 auto;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .written .word {
    font-weight: 400;
  }
  .acts {
    display: flex;
    gap: 14px;
  }
  .acts .word {
    font-weight: 400;
  }
</style>
