<!-- The colour that a mark is shown and handed off in. -->
<script lang="ts">
  import type { Mark } from "../api/client";
  import type { Session } from "../session.svelte";

  let { session, mark }: { session: Session; mark: Mark } = $props();

  /** What a first colour begins with. */
  const FIRST = "#0072B2";
  const put = (colour: string | null) => void session.set(mark.id, { colour });
</script>

{#if mark.colour}
  Shown and handed off in
  <input
    type="color"
    aria-label="colour of the mark"
    value={mark.colour}
    onchange={(e) => put(e.currentTarget.value)}
  />
  (<button class="word" onclick={() => put(null)}>no colour of its own</button>).
{:else}
  <button class="word" title="on screen, in pictures, in 3MF, GLB and STEP" onclick={() => put(FIRST)}
    >a colour of its own</button
  >
{/if}
