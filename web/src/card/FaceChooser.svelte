<!-- The lettering faces, each shown in itself. -->
<script lang="ts">
  import { api, type Schemas } from "../api/client";

  let { value, after = "", onset }: { value: string; after?: string; onset: (id: string) => void } = $props();

  let faces = $state.raw<Schemas["LetteringFace"][]>([]);
  let open = $state(false);
  let root: HTMLSpanElement;
  const name = $derived(faces.find((f) => f.id === value)?.name ?? value);

  $effect(() => {
    void api.GET("/api/faces").then(({ data }) => (faces = data ?? []));
  });

  function choose(id: string) {
    open = false;
    if (id !== value) onset(id);
  }

  function keys(event: KeyboardEvent) {
    if (event.key === "Escape") open = false;
    const items = [...root.querySelectorAll<HTMLElement>("[role=option]")];
    const at = items.indexOf(document.activeElement as HTMLElement);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1 }[event.key];
    if (open && to !== undefined) {
      event.preventDefault();
      items[Math.max(0, Math.min(items.length - 1, to))]?.focus();
    }
  }
</script>

<svelte:window onpointerdown={(e) => !root.contains(e.target as Node) && (open = false)} />

<!-- svelte-ignore a11y_no_static_element_interactions -->
<span class="chooser" bind:this={root} onkeydown={keys}>
  <button
    class="word"
    aria-haspopup="listbox"
    aria-expanded={open}
    aria-label="lettering face: {name}"
    onclick={() => (open = !open)}>{name}</button
  >{after}
  {#if open}
    <ul role="listbox" aria-label="lettering faces">
      {#each faces as face (face.id)}
        <li>
          <button
            role="option"
            aria-selected={face.id === value}
            class="plainly"
            data-face={face.id}
            onclick={() => choose(face.id)}
          >
            <svg viewBox="0 -11 {face.width} 13" preserveAspectRatio="xMinYMid meet" aria-hidden="true">
              <path d={face.sample} transform="scale(1 -1)" fill-rule="evenodd" />
            </svg>
            <span>{face.name}<small>{face.character}</small></span>
          </button>
        </li>
      {/each}
    </ul>
  {/if}
</span>

<style>
  .chooser {
    position: relative;
  }
  ul {
    position: absolute;
    z-index: 6;
    top: 1.6em;
    left: -6px;
    width: 290px;
    margin: 0;
    padding: 5px;
    list-style: none;
    border: 1px solid var(--rim);
    border-radius: 8px;
    background: var(--enamel);
    box-shadow: 0 6px 18px rgb(from var(--ink) r g b / 0.2);
  }
  li button {
    display: flex;
    align-items: center;
    gap: 12px;
    width: 100%;
    padding: 5px 7px;
    border-radius: 5px;
    text-align: left;
    line-height: 1.25;
  }
  li button:hover,
  li button[aria-selected="true"] {
    background: var(--plate);
  }
  svg {
    width: 84px;
    height: 21px;
    fill: var(--ink);
  }
  small {
    display: block;
  }
</style>
