<!-- The lettering faces, each shown in itself: those that ship, the job's own, those that the shop keeps. -->
<script lang="ts">
  import { api, problem, type Schemas } from "../api/client";
  import { person } from "../frame/person.svelte";
  import type { Session } from "../session.svelte";
  import { readLetters, takeShopFace } from "./ownFaces";

  let {
    session,
    mark,
    value,
    after = "",
    onset,
  }: {
    session: Session;
    /** Of the mark that is lettered. */
    mark: string;
    value: string;
    after?: string;
    onset: (id: string) => void;
  } = $props();

  type Face = Schemas["LetteringFace"];

  let faces = $state.raw<Face[]>([]);
  let open = $state(false);
  let root: HTMLSpanElement;
  let picker = $state<HTMLInputElement>();
  const own = $derived(session.view?.job.own_faces ?? []);
  const name = $derived(faces.find((f) => f.id === value)?.name ?? value);
  const offered = $derived(faces.filter((f) => f.of !== "gone"));
  const gone = $derived(faces.filter((f) => f.of === "gone"));

  async function look() {
    const { data, error } = await api.GET("/api/faces", { params: { query: { job: session.id } } });
    if (data) faces = data;
    else session.trouble = problem(error);
  }

  $effect(() => void look());

  function unfold() {
    open = !open;
    // others may have kept faces meanwhile
    if (open) void look();
  }

  function choose(face: Face) {
    open = false;
    if (face.of === "shop") void takeShopFace(session, mark, face.id);
    else if (face.id !== value) onset(face.id);
  }

  function change(face: Face) {
    const held = own.find((f) => f.name === face.id);
    open = false;
    if (held) session.letters = { mark, face: held, told: [], faults: [] };
  }

  async function put(face: Face, gone: boolean) {
    const { error } = await api.POST("/api/own-face/gone", { body: { author: person.name, name: face.id, gone } });
    if (error) session.trouble = problem(error);
    await look();
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
  <button class="word" aria-haspopup="listbox" aria-expanded={open} aria-label="lettering face: {name}" onclick={unfold}
    >{name}</button
  >{after}
  {#if open}
    <div class="list">
      <ul role="listbox" aria-label="lettering faces">
        {#each offered as face (face.of + face.id)}
          <li>
            <button
              role="option"
              aria-selected={face.id === value && face.of !== "shop"}
              class="plainly"
              data-face={face.id}
              onclick={() => choose(face)}
            >
              <svg viewBox="0 -11 {face.width} 13" preserveAspectRatio="xMinYMid meet" aria-hidden="true">
                <path d={face.sample} transform="scale(1 -1)" fill-rule="evenodd" />
              </svg>
              <span>{face.name}<small>{face.of === "shop" ? "kept by the shop: " : ""}{face.character}</small></span>
            </button>
            {#if face.of === "job"}
              <button class="word aside" onclick={() => change(face)}>its bearings</button>
            {:else if face.of === "shop"}
              <button class="word aside" onclick={() => void put(face, true)}>archive</button>
            {/if}
          </li>
        {/each}
      </ul>
      <p>
        <button class="word" onclick={() => picker?.click()}>letters from a drawing…</button>
        <small>Each in a group or on a layer named after it: A, 7, U+002F.</small>
      </p>
      {#if gone.length}
        <p class="soft">
          Archived:
          {#each gone as face (face.id)}
            {face.name} <button class="word" onclick={() => void put(face, false)}>restore</button>{" "}
          {/each}
        </p>
      {/if}
    </div>
  {/if}
</span>
<input
  bind:this={picker}
  type="file"
  accept=".svg,.dxf"
  aria-label="drawing of letters"
  hidden
  onchange={(e) => {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = "";
    open = false;
    if (file) void readLetters(session, mark, file);
  }}
/>

<style>
  .chooser {
    position: relative;
  }
  .list {
    position: absolute;
    z-index: 6;
    top: 1.6em;
    left: -6px;
    width: 320px;
    padding: 5px;
    border: 1px solid var(--rim);
    border-radius: 8px;
    background: var(--enamel);
    box-shadow: 0 6px 18px rgb(from var(--ink) r g b / 0.2);
  }
  ul {
    max-height: min(430px, 48vh);
    margin: 0;
    padding: 0;
    list-style: none;
    overflow: auto;
  }
  li {
    display: flex;
    align-items: center;
    gap: 8px;
  }
  .aside {
    flex: none;
    font-size: 12px;
  }
  .list p {
    margin: 6px 7px 3px;
    line-height: 1.4;
  }
  li [role="option"] {
    display: flex;
    align-items: center;
    gap: 12px;
    width: 100%;
    padding: 5px 7px;
    border-radius: 5px;
    text-align: left;
    line-height: 1.25;
  }
  li [role="option"]:hover,
  li [role="option"][aria-selected="true"] {
    background: var(--plate);
  }
  svg {
    flex: none;
    width: 84px;
    height: 21px;
    fill: var(--ink);
  }
  small {
    display: block;
  }
</style>
