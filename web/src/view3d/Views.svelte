<!-- Views of the part: one press, or `v` and a letter. -->
<script lang="ts">
  import type { Session } from "../session.svelte";
  import type { Point } from "./objects";
  import type { Turns } from "./turns";

  let { session, turns }: { session: Session; turns: Turns } = $props();

  let open = $state(false);

  interface View {
    key: string;
    says: string;
    out: Point;
    up: Point;
  }
  const SIDES: View[] = [
    { key: "f", says: "front", out: [0, -1, 0], up: [0, 0, 1] },
    { key: "b", says: "back", out: [0, 1, 0], up: [0, 0, 1] },
    { key: "l", says: "left", out: [-1, 0, 0], up: [0, 0, 1] },
    { key: "r", says: "right", out: [1, 0, 0], up: [0, 0, 1] },
    { key: "t", says: "top", out: [0, 0, 1], up: [0, 1, 0] },
    { key: "u", says: "underneath", out: [0, 0, -1], up: [0, 1, 0] },
  ];
  /** Along the pull what is upright is the axis that leans off it most. */
  const views = $derived.by(() => {
    const pull = session.view?.job.tool.pull as Point | null | undefined;
    if (!pull) return SIDES;
    const least = pull.map(Math.abs).indexOf(Math.min(...pull.map(Math.abs)));
    const up = [0, 1, 2].map((k) => Number(k === (Math.abs(pull[2]) > 0.9 ? 1 : Math.abs(pull[2]) < 0.1 ? 2 : least)));
    return [...SIDES, { key: "p", says: "along the pull", out: pull, up: up as Point }];
  });

  function look(key: string): boolean {
    const view = views.find((v) => v.key === key);
    if (view) turns.side(view.out, view.up);
    else if (key === "w") turns.whole();
    else if (key === "v") turns.back();
    else if (key === "e") turns.fit();
    else return false;
    return true;
  }

  /** Before anybody else: while it is open a letter is a view. */
  function keys(event: KeyboardEvent) {
    const focus = event.target as HTMLElement;
    if (focus.matches("input, textarea, select") || event.ctrlKey || event.metaKey || event.altKey) return;
    if (!open) {
      if (event.key !== "v") return;
      open = true;
    } else {
      open = false;
      if (event.key !== "Escape" && !look(event.key)) return;
    }
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<svelte:window onkeydowncapture={keys} />

<div class="views" class:open role="group" aria-label="views">
  {#if open}
    {#each views as { key, says } (key)}
      <button class="word" title="v {key}" onclick={() => ((open = false), look(key))}>{says}</button>
    {/each}
    <button class="word" title="v e: as it is turned, all of the part" onclick={() => ((open = false), turns.fit())}
      >fit</button
    >
    <button class="word" title="v v" onclick={() => ((open = false), turns.back())}>last view</button>
    <button class="word" aria-label="close the views" onclick={() => (open = false)}>×</button>
  {:else}
    <button class="word" title="front, top, along the pull … (v)" onclick={() => (open = true)}>views</button>
  {/if}
</div>

<style>
  .views {
    position: absolute;
    left: 16px;
    top: 112px;
    z-index: 1;
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    max-width: calc(100% - 32px);
    box-sizing: border-box;
    font-size: 13px;
  }
  .views button {
    background: color-mix(in srgb, var(--enamel) 75%, transparent);
  }
  .open {
    padding: 3px 10px;
    border: 1px solid var(--rim);
    border-radius: 8px;
    background: var(--enamel);
  }
  .word {
    font-weight: 400;
  }
</style>
