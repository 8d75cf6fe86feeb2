<!-- An open job: its head with the five stations, and the station below. -->
<script lang="ts">
  import { setContext, type Snippet } from "svelte";
  import { keepsPicked } from "../card/keepsPicked.svelte";
  import { go as goTo, route } from "../router";
  import { Session } from "../session.svelte";
  import { handoffWords, many, partWords, tips, verdictWords } from "../words";
  import History from "./History.svelte";
  import MakersPlate from "./MakersPlate.svelte";
  import { person } from "./person.svelte";
  import { sessionKey } from "./current";

  let { children }: { children: Snippet } = $props();

  const id = $derived((route.params as { id?: string }).id ?? "");
  const station = $derived(route.pathname.split("/")[3] ?? "");
  let session = $state.raw<Session>();
  setContext(sessionKey, () => session as Session);

  $effect(() => {
    if (!id) return;
    const opened = new Session(id);
    opened.open();
    session = opened;
    return () => opened.close();
  });

  const view = $derived(session?.view);
  const stations = $derived.by(() => {
    if (!view) return [];
    const verdict = session?.verdict ?? null;
    const stale = session?.stale && view.job.marks.length > 0 && !verdict;
    return [
      {
        key: "part",
        tip: tips.part,
        name: "Part",
        says: partWords(view),
        bad: !view.part.soundness.solid && !view.part.soundness.surface_body,
      },
      {
        key: "roster",
        tip: tips.roster,
        name: "Roster",
        says: view.job.roster.rows.length ? many(view.job.roster.rows.length, "row") : "one part",
        bad: false,
      },
      { key: "marks", tip: tips.marks, name: "Marks", says: many(view.job.marks.length, "mark"), bad: false },
      {
        key: "inspect",
        tip: tips.inspect,
        name: "Inspect",
        says: stale ? "checking …" : verdictWords(verdict, view.job.marks.length),
        busy: stale || !verdict,
        bad: !!verdict?.fails,
      },
      {
        key: "handoff",
        tip: tips.handoff,
        name: "Hand off",
        says: view.handed_off ? handoffWords(view.handed_off) : "not yet",
        bad: false,
      },
    ];
  });

  let naming = $state<string>();

  function rename() {
    const name = naming;
    naming = undefined;
    if (name !== undefined && name.trim() && name !== view?.job.name) void session?.change({ do: "rename", name });
  }

  function keys(event: KeyboardEvent) {
    const typing = (event.target as HTMLElement).matches("input, textarea, select");
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
      event.preventDefault();
      void (event.shiftKey ? session?.redo() : session?.undo());
    }
    const to = typing || event.ctrlKey || event.altKey || event.metaKey ? undefined : stations[Number(event.key) - 1];
    if (to) go(to.key);
  }

  function go(key: string) {
    goTo(id, key);
  }
</script>

<!-- who leaves while a change is on its way is asked -->
<svelte:window onkeydown={keys} onbeforeunload={(e) => session?.outbox.count && e.preventDefault()} />
<svelte:head><title>{view ? `${view.job.name} · Tin Badge` : "Tin Badge"}</title></svelte:head>

<div class="frame">
  <header>
    <MakersPlate />
    <div class="what">
      {#if view}
        <input
          class="name"
          aria-label="name of the job"
          value={naming ?? view.job.name}
          {@attach keepsPicked(() => naming ?? view.job.name)}
          oninput={(e) => (naming = e.currentTarget.value)}
          onblur={rename}
          onkeydown={(e) => {
            if (e.key === "Enter") e.currentTarget.blur();
            if (e.key === "Escape") naming = undefined;
          }}
        />
        <span>{view.job.part.file}</span>
      {/if}
    </div>
    <nav aria-label="Stations">
      {#each stations as s (s.key)}
        <a
          href="/jobs/{id}/{s.key}"
          title={s.tip}
          class:here={s.key === station}
          aria-current={s.key === station ? "page" : undefined}
        >
          <span>{s.name}</span>
          <small class:bad={s.bad} data-busy={"busy" in s && s.busy ? "" : undefined}>{s.says}</small>
        </a>
      {/each}
    </nav>
    <div class="history">
      <button
        class="plainly"
        disabled={!view?.undo}
        title={view?.undo ? `undo: ${view.undo} (Ctrl Z)` : "nothing to undo"}
        onclick={() => session?.undo()}>undo</button
      >
      <button
        class="plainly"
        disabled={!view?.redo}
        title={view?.redo ? `redo: ${view.redo} (Ctrl Shift Z)` : "nothing to redo"}
        onclick={() => session?.redo()}>redo</button
      >
      {#if session}<History {session} />{/if}
    </div>
    <button class="plainly who" title="click to change your name" onclick={() => person.set("")}>{person.name}</button>
  </header>
  {#if session?.lost}
    <main class="lost">
      <h1>{session.lost}</h1>
      <a class="press" href="/">All jobs</a>
    </main>
  {:else if session && view}
    <main>{@render children()}</main>
  {:else}
    <main class="lost">Opening the job …</main>
  {/if}
  {#if session?.outbox.cut}
    <div class="trouble" role="status" data-outbox>
      <p>
        The server does not answer. {session.outbox.count === 1
          ? "Your last change waits here and is"
          : `Your last ${session.outbox.count} changes wait here and are`} sent when it is back; you can go on.
      </p>
    </div>
  {:else if session?.trouble}
    <div class="trouble" role="alert">
      <p>{session.trouble}</p>
      {#if session.outbox.overtaken}<button class="word" onclick={() => session?.anew()}>make it anew</button>{/if}
      {#if session.outbox.between !== undefined}
        <button class="word" onclick={() => session?.back(session.outbox.between!)}>
          undo all that was done since, too
        </button>
      {/if}
      <button class="word" onclick={() => session && (session.trouble = "")}>dismiss</button>
    </div>
  {:else if session?.removed}
    <div class="trouble told" role="status" data-removed>
      <p>{session.removed[0].toUpperCase()}{session.removed.slice(1)}.</p>
      <button class="word" onclick={() => session?.undo()}>undo</button>
      <button class="word" onclick={() => session && (session.removed = "")}>dismiss</button>
    </div>
  {/if}
</div>

<style>
  .frame {
    display: flex;
    flex-direction: column;
    height: 100%;
    /* half of 1920: what a wide screen shows at twice its size; on a narrower one the page scrolls */
    min-width: 960px;
    min-height: 620px;
  }
  header {
    display: flex;
    align-items: center;
    gap: 14px;
    flex: none;
    height: 52px;
    padding: 0 16px 0 13px;
    background: var(--rim);
    color: var(--plate);
  }
  .what {
    display: flex;
    flex-direction: column;
    width: 218px;
    line-height: 1.25;
  }
  .what span {
    padding: 0 4px;
    font-size: 12px;
    opacity: 0.8;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .name {
    padding: 1px 4px;
    border: 0;
    border-radius: 4px;
    background: none;
    color: inherit;
    font: 15px var(--figure);
    text-overflow: ellipsis;
  }
  .name:hover,
  .name:focus {
    background: var(--ink);
  }
  nav {
    display: flex;
    flex: 1;
    max-width: 640px;
  }
  nav a {
    position: relative;
    flex: 1;
    min-width: 0;
    padding: 3px 8px 4px 22px;
    margin-left: -7px;
    background: var(--rim-soft);
    clip-path: polygon(0 0, calc(100% - 12px) 0, 100% 50%, calc(100% - 12px) 100%, 0 100%, 12px 50%);
    color: inherit;
    line-height: 1.25;
    text-decoration: none;
  }
  nav a::before {
    content: "";
    position: absolute;
    inset: 1px;
    z-index: -1;
    background: var(--rim);
    clip-path: polygon(0 0, calc(100% - 12px) 0, 100% 50%, calc(100% - 12px) 100%, 0 100%, 12px 50%);
  }
  nav a {
    isolation: isolate;
  }
  nav a.here {
    background: var(--plate);
    color: var(--ink);
    font-weight: 700;
  }
  nav a.here::before {
    background: var(--plate);
  }
  nav span,
  nav small {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  nav small {
    font-weight: 400;
    color: inherit;
    opacity: 0.92;
  }
  .here small.bad {
    color: var(--fail);
    opacity: 1;
  }
  a:not(.here) small.bad {
    font-weight: 700;
    opacity: 1;
  }
  .history {
    display: flex;
    gap: 14px;
    margin-left: auto;
  }
  .history button:disabled {
    opacity: 0.45;
    cursor: default;
  }
  .who {
    max-width: 130px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  @media (max-width: 1100px) {
    header {
      gap: 8px;
      padding-right: 10px;
    }
    .what {
      width: 150px;
    }
    .history {
      gap: 9px;
    }
    .who {
      max-width: 84px;
    }
  }
  header :focus-visible {
    outline-color: var(--plate);
  }
  main {
    flex: 1;
    min-height: 0;
  }
  .lost {
    padding: 60px;
  }
  .lost h1 {
    margin-bottom: 16px;
  }
  .trouble {
    position: fixed;
    z-index: 20;
    left: 50%;
    bottom: 24px;
    display: flex;
    gap: 18px;
    align-items: baseline;
    max-width: 640px;
    padding: 11px 16px;
    transform: translateX(-50%);
    border: 1.5px solid var(--fail);
    border-radius: 9px;
    background: var(--fail-ground);
    color: var(--fail);
  }
  .told {
    border-color: var(--rim);
    background: var(--plate);
    color: var(--ink);
  }
  .trouble p {
    margin: 0;
  }
  .trouble .word {
    white-space: nowrap;
  }
</style>
