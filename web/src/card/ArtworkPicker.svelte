<!-- Asks for a file of artwork and makes a mark draw it. -->
<script lang="ts">
  import type { Snippet } from "svelte";
  import type { Mark } from "../api/client";
  import type { Session } from "../session.svelte";
  import { drawArtwork } from "./figures";

  let {
    session,
    mark,
    label,
    opener,
  }: {
    session: Session;
    mark: Mark;
    label: string;
    /** What is pressed to be asked. */
    opener: Snippet<[() => void]>;
  } = $props();

  let picker = $state<HTMLInputElement>();
</script>

{@render opener(() => picker?.click())}
<input
  bind:this={picker}
  type="file"
  accept=".svg,.dxf"
  aria-label={label}
  hidden
  onchange={(e) => {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = "";
    if (file) void drawArtwork(session, mark, file);
  }}
/>
