<!-- The rack: one plate for each mark. Marks are picked, ordered, copied, switched off and added here. -->
<script lang="ts">
  import StateShape from "../pieces/StateShape.svelte";
  import type { Session } from "../session.svelte";
  import { figureWithUnit, checkNames, tips, worst } from "../words";
  import type { Mark, Schemas } from "../api/client";
  import Patterns from "./Patterns.svelte";
  import Plate from "./Plate.svelte";
  import Shown from "./Shown.svelte";

  let {
    session,
    picked,
    adding,
    onpick,
    onseveral,
    onadd,
    onapply,
  }: {
    session: Session;
    picked?: string;
    adding: boolean;
    onpick: (id: string) => void;
    /** Marks are picked together; none: one alone is. */
    onseveral?: (ids: string[]) => void;
    onadd: () => void;
    onapply: (pattern: Schemas["Pattern"]) => void;
  } = $props();

  let patterns = $state(false);

  let dragged = $state<string>();

  const here = $derived(session.marks.find((m) => m.id === picked));
  const ids = (of: (m: Mark) => boolean) => session.marks.filter(of).map((m) => m.id);
  const groups = $derived([...new Set(session.marks.flatMap((m) => m.group ?? []))].sort());
  /** What is picked in one press with the mark that is: only what is more than that and not all. */
  const wider = $derived.by(() => {
    if (!here || !onseveral) return [];
    const all = { says: "all", title: "pick all marks (a)", ids: ids(() => true) };
    const seat = JSON.stringify(here.seat);
    const some = [
      { says: "on this seat", title: "pick all marks of this seat", ids: ids((m) => JSON.stringify(m.seat) === seat) },
      ...(here.style
        ? [{ says: "of this style", title: `pick all of “${here.style}”`, ids: ids((m) => m.style === here.style) }]
        : []),
    ].filter((w) => w.ids.length > 1 && w.ids.length < all.ids.length);
    return all.ids.length > 1 ? [all, ...some] : [];
  });

  /** Control takes a mark in or out, Shift takes all up to it. */
  function press(id: string, event: MouseEvent) {
    const several = session.several.length ? session.several : picked ? [picked] : [];
    if (onseveral && (event.ctrlKey || event.metaKey)) {
      onseveral(several.includes(id) ? several.filter((other) => other !== id) : [...several, id]);
    } else if (onseveral && event.shiftKey && picked) {
      const [from, to] = [picked, id].map((id) => session.marks.findIndex((m) => m.id === id)).sort((a, b) => a - b);
      const between = session.marks.slice(from, to + 1).map((m) => m.id);
      onseveral([picked, ...between.filter((other) => other !== picked)]);
    } else {
      onseveral?.([]);
      onpick(id);
    }
  }

  function says(id: string): string {
    const found = worst(session.outcome, id);
    if (session.outcome?.marks.find((m) => m.id === id)?.problem) return "not built";
    if (!found) return "passes";
    if (found.check === "complete" && found.state === "fails") return "not complete";
    const figure = found.measured == null ? "" : ` ${figureWithUnit(found.measured, found.unit)}`;
    return `${checkNames[found.check].head}${figure}`;
  }

  function drop(to: number) {
    const id = dragged;
    dragged = undefined;
    if (id && session.marks[to]?.id !== id) void session.change({ do: "move_mark", id, to });
  }

  function move(id: string, event: KeyboardEvent) {
    if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
    event.preventDefault();
    const at = session.marks.findIndex((m) => m.id === id);
    const to = at + (event.key === "ArrowUp" ? -1 : 1);
    if (to >= 0 && to < session.marks.length) void session.change({ do: "move_mark", id, to });
  }
</script>

<nav aria-label="Marks">
  <header title={tips.rack}>
    <button class="word" onclick={() => (patterns = true)} title="Marks kept for other jobs">patterns</button>
    <button class="word" aria-pressed={adding} onclick={onadd} title="Add a mark (n)">add a mark</button>
  </header>
  <Patterns {session} mark={session.marks.find((m) => m.id === picked)} bind:open={patterns} {onapply} />
  <Shown {session} />
  {#if wider.length}
    <p class="wider">
      pick
      {#each wider as { says, title, ids } (says)}
        <button class="word" {title} onclick={() => onseveral?.(ids)}>{says}</button>
      {/each}
    </p>
  {/if}
  <ol>
    {#each session.marks as mark, at (mark.id)}
      {@const view = session.outcome?.marks.find((m) => m.id === mark.id)}
      <li
        class:picked={mark.id === picked}
        class:with={session.several.includes(mark.id)}
        class:off={!mark.on}
        draggable="true"
        ondragstart={() => (dragged = mark.id)}
        ondragover={(e) => e.preventDefault()}
        ondrop={() => drop(at)}
      >
        <button
          class="plainly face"
          aria-current={mark.id === picked}
          data-mark={mark.id}
          aria-pressed={session.several.length ? session.several.includes(mark.id) : undefined}
          onclick={(e) => press(mark.id, e)}
          onkeydown={(e) => move(mark.id, e)}
        >
          <span class="letters">
            <Plate plate={session.plates.find((p) => p.id === mark.id)} text={mark.text} faint={!mark.on} />
          </span>
          {#if mark.name}<span class="name">{mark.name}</span>{/if}
          <span class="stand {view?.state ?? ''}">
            {#if !mark.on}
              switched off
            {:else if view && !session.stale}
              <StateShape state={view.state} />
              {says(mark.id)}
            {:else}
              <span data-busy>checking …</span>
            {/if}
          </span>
          {#if session.changed.has(mark.id)}
            <span class="was">changed; was “{session.changed.get(mark.id)?.replaceAll("\n", " / ")}”</span>
          {/if}
        </button>
        {#if mark.id === picked && !session.several.length}
          <span class="acts">
            <button class="word" onclick={() => session.change({ do: "copy_mark", id: mark.id })}>copy</button>
            <button
              class="word"
              title="{mark.on ? 'switch off' : 'switch on'} (o)"
              onclick={() => session.set(mark.id, { on: !mark.on })}
            >
              {mark.on ? "off" : "on"}
            </button>
            <button class="word" onclick={() => session.change({ do: "remove_mark", id: mark.id })}>remove</button>
          </span>
        {/if}
      </li>
    {/each}
  </ol>
  {#each groups as group (group)}
    {@const own = session.marks.filter((m) => m.group === group)}
    {@const on = own.some((m) => m.on)}
    <p class="wider" role="group" aria-label="group {group}">
      <button class="word" onclick={() => onseveral?.(own.map((m) => m.id))}>{group}</button>
      <span>{own.length}</span>
      <button
        class="word"
        aria-label="switch group {group} {on ? 'off' : 'on'}"
        onclick={() =>
          void session.changeAll(own.map((m) => ({ do: "set_mark", id: m.id, settings: { on: !on } as never })))}
        >{on ? "off" : "on"}</button
      >
    </p>
  {/each}
  {#if session.marks.length === 0}
    <button class="plainly empty" onclick={onadd}
      >No marks yet. Click here, then click the face for the first mark.</button
    >
  {/if}
</nav>

<style>
  nav {
    display: flex;
    flex-direction: column;
    width: 184px;
    flex: none;
    box-sizing: border-box;
    padding: 10px 12px;
    overflow-y: auto;
    background: var(--sand);
  }
  header {
    display: flex;
    justify-content: space-between;
    padding: 0 4px 8px;
  }
  header .word {
    font-weight: 400;
  }
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    margin-bottom: 9px;
    border: 1px solid var(--rim);
    border-radius: 8px;
    background: var(--plate);
  }
  li.picked {
    box-shadow: 0 0 0 2px var(--rim);
    background: var(--enamel);
  }
  li.off {
    border-style: dashed;
  }
  .face {
    display: block;
    width: 100%;
    padding: 5px 4px 6px;
    text-align: left;
  }
  .letters {
    display: block;
    height: 40px;
  }
  .was {
    display: block;
    padding: 0 8px;
    font-size: 12px;
    color: var(--ink-soft);
    overflow-wrap: anywhere;
  }
  .stand {
    display: flex;
    gap: 6px;
    align-items: center;
    padding: 3px 6px 0;
    font-size: 12px;
    color: var(--ink-soft);
  }
  .stand.fails {
    color: var(--fail);
  }
  .stand.marginal {
    color: var(--marginal);
  }
  li.with:not(.picked) {
    box-shadow: 0 0 0 2px var(--rim-soft);
    background: var(--enamel);
  }
  .wider {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 9px;
    margin: 0 4px 8px;
    font-size: 12px;
  }
  .wider .word {
    font-weight: 400;
    border-bottom-width: 1px;
  }
  .name {
    display: block;
    padding: 0 8px;
    font-size: 12px;
    font-weight: 700;
    overflow-wrap: anywhere;
  }
  .acts {
    display: flex;
    justify-content: space-between;
    padding: 2px 10px 7px;
    font-size: 12px;
  }
  .acts .word {
    font-weight: 400;
    border-bottom-width: 1px;
  }
  .empty {
    padding: 12px;
    border: 1px dashed var(--rim-soft);
    border-radius: 8px;
    text-align: left;
    color: var(--ink);
  }
</style>
