<!-- Marks: the rack, the part and the strip as two views of one thing, the card. -->
<script lang="ts">
  import { searchParams } from "sv-router";
  import { onDestroy, untrack } from "svelte";
  import { api, problem, type Mark, type Schemas, type SeatView } from "../../api/client";
  import Card from "../../card/Card.svelte";
  import Several from "../../card/Several.svelte";
  import ArtworkSheet from "../../card/ArtworkSheet.svelte";
  import LettersSheet from "../../card/LettersSheet.svelte";
  import { drawArtwork } from "../../card/figures";
  import { currentSession } from "../../frame/current";
  import Rack from "../../rack/Rack.svelte";
  import { go } from "../../router";
  import { Placements } from "../../strip/placements.svelte";
  import Strip from "../../strip/Strip.svelte";
  import { Lamp } from "../../view3d/lamp.svelte";
  import type { Picked, Point, Target } from "../../view3d/table";
  import View3d from "../../view3d/View3d.svelte";
  import { torchSays } from "../../words";

  const current = currentSession();
  const session = $derived(current());
  const placements = new Placements(() => session.params);
  let adding = $state(false);
  /** A pattern goes on the face that is clicked next. */
  let placing = $state.raw<Schemas["Pattern"]>();
  /** The next presses take faces into the picked mark's seat, or out of it. */
  let widening = $state(false);
  /** The letter of the picked mark that was pressed on the strip. */
  let letter = $state<number>();
  /** The next presses put the picked mark on faces once more. */
  let repeating = $state(false);
  const lamp = new Lamp();
  let ghost = $state.raw<Mark>();
  let seat = $state.raw<SeatView>();
  let seatTrouble = $state("");
  let card = $state<Card>();
  let three = $state<View3d>();
  let target = $state.raw<Target>();
  /** Where a mark is being added, until it is there. */
  let landing = $state.raw<{ at: Point; out: Point; radius: number }>();
  /** When one was last added: the second press of a double click adds none. */
  let addedAt = -Infinity;
  const DOUBLE_MS = 700;
  const spot = $derived(0.03 * Math.max(...(session.view?.part.size ?? [60])));

  const wanted = $derived(searchParams.get("mark"));
  const mark = $derived(
    session.marks.find((m) => m.id === wanted) ?? session.marks.find((m) => m.id === session.pick) ?? session.marks[0],
  );
  const several = $derived(
    session.several.length > 1 ? session.marks.filter((m) => session.several.includes(m.id)) : [],
  );
  const place = $derived(session.marks.findIndex((m) => m.id === mark?.id));
  /** The picked mark as it is shown on the strip: with what is being typed. */
  const live = $derived(ghost && ghost.id === mark?.id ? ghost : mark);
  const tool = $derived(JSON.stringify([session.view?.job.tool, session.view?.limits]));
  const seatKey = $derived(mark ? `${mark.seat.face} ${mark.seat.with.join(",")} ${tool}` : "");

  $effect(() => {
    const key = seatKey;
    if (!key) {
      seat = undefined;
      return;
    }
    const [face, more] = key.split(" ");
    void api
      .GET("/api/jobs/{id}/seats/{face}", {
        params: { path: { id: session.id, face: Number(face) }, query: { with: more } },
      })
      .then(({ data, error }) => {
        if (key !== seatKey) return;
        seat = data;
        seatTrouble = data ? "" : problem(error);
      });
  });

  // the picked mark and its neighbours on the seat are laid out as they would be
  $effect(() => {
    for (const m of session.marks)
      if (m.id === live?.id || sameSeat(m, live)) placements.wish(m.id === live?.id ? live : m, tool);
  });

  const placed = $derived(placements.of(mark?.id));
  /** Outlines on the part while the solid there is older than the strip. */
  const over = $derived(mark?.on && (ghost || session.stale) ? placed : undefined);

  function pick(id: string) {
    adding = widening = repeating = false;
    letter = undefined;
    ghost = undefined;
    session.pick = id;
    searchParams.set("mark", id);
  }

  /** Picks marks together; the card shows the first of them. */
  function pickSeveral(ids: string[]) {
    session.several = ids.length > 1 ? ids : [];
    const [first] = ids;
    if (first && !ids.includes(mark?.id ?? "")) pick(first);
  }
  // elsewhere each mark is changed by itself
  onDestroy(() => (session.several = []));
  // a mark that is gone is not picked any more
  $effect(() => {
    const there = session.several.filter((id) => session.marks.some((m) => m.id === id));
    if (there.length !== session.several.length) session.several = there.length > 1 ? there : [];
  });

  /** A drawing dropped anywhere here is the picked mark's. */
  function dropped(event: DragEvent) {
    const file = event.dataTransfer?.files[0];
    if (!file) return;
    event.preventDefault();
    if (mark) void drawArtwork(session, mark, file);
    else session.trouble = "Pick a mark first, or add one: the drawing goes on a mark.";
  }

  const sameSeat = (a: Mark, b: Mark | undefined) => JSON.stringify(a.seat) === JSON.stringify(b?.seat);

  function toggle(id: string) {
    const now = session.several.length ? session.several : mark ? [mark.id] : [];
    pickSeveral(now.includes(id) ? now.filter((other) => other !== id) : [...now, id]);
  }

  async function press(picked: Picked | undefined, double: boolean, event: MouseEvent) {
    if (!picked) return;
    if (widening && mark) {
      if (picked.mark < 0) await session.change({ do: "extend_over", id: mark.id, face: picked.place });
      return;
    }
    if (repeating && mark) {
      const { place: face, point } = picked;
      if (picked.mark < 0) await session.change({ do: "copy_to_face", id: mark.id, face, point });
      return;
    }
    if (placing) {
      if (picked.mark >= 0) return;
      const pattern = placing;
      const before = session.marks.length;
      placing = undefined;
      if (await session.change({ do: "place_pattern", pattern, face: picked.place }))
        pick(session.marks[before]?.id ?? "");
      return;
    }
    if (picked.mark >= 0) {
      const id = session.marks[picked.mark]?.id;
      if (id && (event.ctrlKey || event.metaKey)) toggle(id);
      else if (id) {
        session.several = [];
        pick(id);
      }
    } else if (adding || (double && !landing && performance.now() - addedAt > DOUBLE_MS)) {
      adding = false;
      const before = session.marks.length;
      const { place: face, point, up, out } = picked;
      landing = { at: point, out, radius: spot };
      const made = await session.change({ do: "add_mark", face, text: "TEXT", point, up });
      landing = undefined;
      addedAt = performance.now();
      const added = session.marks[before];
      if (made && added) {
        session.fresh = added.id;
        pick(added.id);
      }
    }
  }

  function grab(picked: Picked) {
    if (picked.mark < 0 || picked.mark !== place || !mark) return undefined;
    const was = mark;
    const seatFace = was.seat.face;
    const faces = [seatFace, ...was.seat.with];
    let last: Picked | undefined;
    const at = async (to: Picked) => {
      // the drag stays on the seat's own faces; other marks under the pointer don't matter
      if (to.mark < 0 && !faces.includes(to.place)) return;
      last = to;
      const { data } = await api.POST("/api/jobs/{id}/placement", {
        params: session.params,
        body: { mark: was, at: to.point },
      });
      if (data && last === to) ghost = { ...was, place: data.place };
    };
    return {
      moved: (to: Picked) => void at(to),
      dropped: async () => {
        if (last) await session.change({ do: "place_mark", id: was.id, face: seatFace, point: last.point });
        ghost = undefined;
      },
    };
  }

  function extent(): number {
    if (!placed) return 30;
    const xs = placed.outline.map((c) => c[0]);
    const ys = placed.outline.map((c) => c[1]);
    return 1.5 * Math.max((Math.max(...xs) - Math.min(...xs)) * 0.62, Math.max(...ys) - Math.min(...ys), 4);
  }

  function squareOn() {
    if (placed) target = { at: placed.at as Point, out: placed.out as Point, up: placed.up as Point, extent: extent() };
  }

  function keys(event: KeyboardEvent) {
    const focus = event.target as HTMLElement;
    if (focus.matches("input, textarea, select") || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Escape") {
      placing = undefined;
      adding = widening = repeating = false;
      letter = undefined;
      session.several = [];
    } else if (event.key === "a") pickSeveral(session.marks.map((m) => m.id));
    else if (event.key === "n") adding = !adding;
    else if (event.key === "f") squareOn();
    else if (event.key === "w") three?.whole();
    else if (event.key === "t" && mark) {
      event.preventDefault();
      void card?.write();
    } else if (event.key === "o" && mark) void session.set(mark.id, { on: !mark.on });
    else if (event.key === "j" || event.key === "k") {
      const next = session.marks[place + (event.key === "j" ? 1 : -1)];
      if (next) pick(next.id);
    }
  }

  // a new seat is turned into view
  let seen = "";
  $effect(() => {
    const now = placed && seat && mark ? `${mark.id} ${seat.face} ${mark.seat.with.join()}` : "";
    if (!now || now === seen) return;
    seen = now;
    untrack(() => {
      if (placed)
        target = {
          at: placed.at as Point,
          out: placed.out as Point,
          up: placed.up as Point,
          extent: extent() * 1.5,
          lean: 0.6,
        };
    });
  });
</script>

<svelte:window
  onkeydown={keys}
  ondragover={(e) => {
    if (e.dataTransfer?.types.includes("Files")) e.preventDefault();
  }}
  ondrop={dropped}
/>

{#if session.asked}<ArtworkSheet {session} asked={session.asked} />{/if}
{#if session.letters}<LettersSheet {session} asked={session.letters} />{/if}

<div class="station">
  <Rack
    {session}
    picked={mark?.id}
    {adding}
    onpick={pick}
    onseveral={pickSeveral}
    onadd={() => (adding = !adding)}
    onapply={(pattern) => {
      adding = widening = repeating = false;
      placing = pattern;
    }}
  />
  <div class="middle" class:adding={adding || placing || widening || repeating}>
    <View3d
      bind:this={three}
      {session}
      mark={place}
      ghost={over}
      {target}
      torch={{ lamp, round: placed }}
      brush={landing && [landing]}
      onpress={press}
      ongrab={grab}
    >
      <div class="tools">
        {#if placing}
          <strong>Click the face that “{placing.name}” goes on</strong>
          <button class="word" onclick={() => (placing = undefined)}>cancel</button>
        {:else if adding}
          <strong>Click the face that the new mark goes on</strong>
          <button class="word" onclick={() => (adding = false)}>cancel</button>
        {:else if widening}
          <strong>Click more faces for the seat; click one again to remove it</strong>
          <button class="word" onclick={() => (widening = false)}>done</button>
        {:else if repeating}
          <strong>Click each face, where the middle of the copy goes</strong>
          <button
            class="word"
            onclick={() => {
              repeating = false;
              if (mark) void session.change({ do: "copy_to_faces", id: mark.id });
            }}>every flat face that holds it</button
          >
          <button class="word" onclick={() => (repeating = false)}>done</button>
        {:else}
          <button
            class="word"
            class:here={lamp.on}
            aria-pressed={lamp.on}
            title={torchSays}
            disabled={!placed}
            onclick={() => lamp.turn()}>torch</button
          >
          <button class="word" title="f" disabled={!placed} onclick={squareOn}>square-on</button>
          <button class="word" title="w" onclick={() => three?.whole()}>whole part</button>
        {/if}
      </div>
    </View3d>
    {#if seat && mark}
      <Strip
        {session}
        {seat}
        {placements}
        mark={live}
        {letter}
        onletter={(at) => (letter = mark.figure ? undefined : at)}
        onpick={pick}
        onghost={(m) => (ghost = m)}
      />
    {:else if seatTrouble}
      <p class="nothing">{seatTrouble}</p>
    {:else}
      <p class="nothing">The picked mark's seat shows here, unrolled at true size.</p>
    {/if}
  </div>
  <aside>
    {#if several.length && mark}<Several {session} marks={several} {mark} onpicked={pickSeveral} />{/if}
    {#if mark}
      {#key mark.id}
        <Card
          bind:this={card}
          {session}
          {mark}
          {seat}
          {placed}
          problem={placements.problem(mark.id)}
          onghost={(m) => (ghost = m)}
          {letter}
          onletter={(at) => (letter = at)}
          onwiden={() => ([widening, repeating] = [!widening, false])}
          onrepeat={() => ([widening, repeating] = [false, !repeating])}
          oninspect={(check) => go(session.id, "inspect", { mark: mark.id, check })}
        />
      {/key}
    {:else}
      <p class="nothing">The picked mark's card shows here: its text, lettering, placement and relief.</p>
    {/if}
  </aside>
</div>

<style>
  .station {
    display: flex;
    height: 100%;
  }
  .middle {
    display: grid;
    grid-template-rows: minmax(0, 1.3fr) minmax(0, 1fr);
    grid-template-columns: minmax(0, 1fr);
    flex: 1;
    min-width: 0;
  }
  .middle > :global(:nth-child(2)) {
    border-top: 2px solid var(--rim);
    margin: 0;
  }
  .middle.adding :global(canvas) {
    cursor: crosshair;
  }
  aside {
    width: 336px;
    flex: none;
    overflow-y: auto;
    border-left: 1px solid var(--rim);
    background: var(--plate);
  }
  .tools {
    position: absolute;
    left: 18px;
    bottom: 10px;
    display: flex;
    gap: 18px;
    font-size: 13px;
  }
  .tools .word {
    font-weight: 400;
    /* readable over dark lettering */
    background: color-mix(in srgb, var(--enamel) 75%, transparent);
    box-shadow: 0 0 0 4px color-mix(in srgb, var(--enamel) 75%, transparent);
  }
  .nothing {
    padding: 20px 24px;
    color: var(--ink-soft);
  }
</style>
