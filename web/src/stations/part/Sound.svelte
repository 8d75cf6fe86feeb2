<!-- Is the part a closed solid? What is wrong, what can be mended, what the file holds. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { many, tips } from "../../words";

  let {
    session,
    part,
    onnewer,
  }: { session: Session; part: Schemas["PartView"]; onnewer: (file: File | undefined) => void } = $props();

  function mendWords({ mend, count }: Schemas["MendView"]): string {
    switch (mend) {
      case "drop_doubles":
        return `drop ${many(count, "facet that lies on another", "facets that lie on others")}`;
      case "drop_loose":
        return `drop ${many(count, "loose bit")}`;
      case "turn":
        return `turn ${many(count, "facet")} right side out`;
      case "close_holes":
        return `close ${many(count, "flat hole")}`;
    }
  }

  function volumes({ before, after }: Schemas["MendView"]): string {
    const moved = after - before;
    if (Math.abs(moved) < 1e-6 * Math.abs(after)) return "encloses the same";
    return `encloses ${before.toFixed(1)} → ${after.toFixed(1)} mm³`;
  }

  const area = $derived(part.faces.reduce((sum, f) => sum + f.area, 0));

  const byHand = $derived.by(() => {
    const done = session.view?.job.part.face_mends ?? [];
    const count = (what: string) => done.filter((m) => m.do === what).length;
    return [
      count("join") ? `joined ${count("join")}×` : "",
      count("divide") ? `divided ${count("divide")}×` : "",
    ].filter((words) => words);
  });

  /** Takes a body in or leaves it out. */
  async function take(at: number) {
    const bodies = part.bodies.flatMap((b, k) => ((k === at) !== b.taken ? [k] : []));
    await session.change({ do: "take_bodies", bodies });
  }
</script>

<section>
  <h3>part</h3>
  {#if part.soundness.solid}
    <p>
      <StateShape state="passes" /> A closed solid{part.soundness.shells > 1
        ? ` of ${part.soundness.shells} shells`
        : ""},
      <b>{part.size.map((s) => s.toFixed(2)).join(" × ")}</b> mm, <b>{part.volume?.toFixed(0)}</b> mm³, drawn in {part.unit}.
    </p>
  {:else if part.soundness.surface_body}
    <p>
      <StateShape state="passes" /> A surface body without thickness,
      <b>{part.size.map((s) => s.toFixed(2)).join(" × ")}</b> mm, <b>{area.toFixed(0)}</b> mm², drawn in {part.unit}.
      Marks on it are bodies of their own: raised ones stand on its outside, sunken ones below it.
    </p>
    {#if !session.marks.length}
      <p class="mend">
        <button
          class="word"
          onclick={() =>
            session.change({
              do: "take_as_surface_body",
              side: part.soundness.surface_body === "back" ? "front" : "back",
            })}>Flip its outside</button
        >
        {#if session.view?.job.part.surface_body && !part.bodies.some((b) => b.taken && !b.solid)}
          <button class="word" onclick={() => session.change({ do: "take_as_surface_body", side: null })}
            >it is not a surface body</button
          >
        {/if}
      </p>
    {/if}
  {:else}
    <p class="bad"><StateShape state="fails" /> {part.soundness.complaint}</p>
    <p class="soft">
      The places are drawn in red on the part. Until it is closed, no solid can be marked and nothing can be measured;
      seats, tool and texts can be prepared.
    </p>
    {#if part.soundness.could_be_surface_body && !session.marks.length}
      <p>
        Is it meant as a surface body, without thickness?
        <button class="press" onclick={() => session.change({ do: "take_as_surface_body", side: "front" })}
          >take it as a surface body</button
        >
      </p>
    {/if}
    {#each part.soundness.mends as m (m.mend)}
      <p class="mend" title={tips.mend}>
        <button
          class="press"
          disabled={!!session.marks.length}
          onclick={() => session.change({ do: "mend_part", mend: m.mend })}>{mendWords(m)}</button
        >
        <span class="soft">{volumes(m)}</span>
      </p>
    {/each}
    {#if part.soundness.mends.length && session.marks.length}
      <p class="soft">Marks sit on the part as it is; remove them to mend it.</p>
    {/if}
  {/if}
  {#each part.soundness.mended as m, at (at)}
    <p class="mend" title={tips.mend}>
      <span>Mended: {mendWords(m)}</span><span class="soft">{volumes(m)}</span>
      {#if !session.marks.length}
        <button class="word" onclick={() => session.change({ do: "remove_mend", mend: m.mend })}>remove</button>
      {/if}
    </p>
  {/each}
  <p class="soft">
    {part.triangles.toLocaleString("en-GB")} triangles, {many(
      part.faces.filter((f) => f.facets).length,
      "face",
    )}{#if part.soundness.joined},
      {part.soundness.joined} vertices joined that were a hair apart{/if}{#if part.soundness.dropped}, {part.soundness
        .dropped} triangles without area left out{/if}{#if part.soundness.turned}, turned right side out{/if}{#if part.soundness.slivers},
      {many(part.soundness.slivers, "sliver")} lower than a micrometre (drawn on the part; they do no harm){/if}.
  </p>
  {#if byHand.length}
    <p class="mend">
      <span>Faces {byHand.join(" and ")} by hand.</span>
      <button class="word" onclick={() => session.change({ do: "clear_face_mends" })}>back to the faces as found</button
      >
    </p>
  {/if}
  <p class="soft">
    {#if session.view?.job.part.replaces}It replaced {session.view.job.part.replaces.file}.
    {/if}
    <label class="newer">
      <input
        type="file"
        id="newer-file"
        accept=".step,.stp,.p21,.stl,.3mf,.obj,.ply,.glb,.gltf"
        onchange={(e) => {
          onnewer(e.currentTarget.files?.[0]);
          e.currentTarget.value = "";
        }}
      />
      <span class="word">Bring in a newer revision</span>
    </label> or drop its file here.
  </p>
</section>
{#if part.bodies.length > 1}
  <section>
    <h3>bodies in the file</h3>
    <ol class="bodies">
      {#each part.bodies as body, at (at)}
        <li>
          <label class:here={body.taken}>
            <input
              type="checkbox"
              checked={body.taken}
              disabled={!!session.marks.length || (body.taken && part.bodies.filter((b) => b.taken).length === 1)}
              onchange={() => take(at)}
            />
            <span>{body.name || `body ${at + 1}`}</span>
            <span class="soft">{body.solid ? `${body.volume.toFixed(0)} mm³` : "surface body"}</span>
          </label>
        </li>
      {/each}
    </ol>
    {#if session.marks.length}
      <p class="soft">Marks sit on the bodies chosen now; remove them to choose others.</p>
    {/if}
  </section>
{/if}

<style>
  .bad {
    color: var(--fail);
  }
  .mend {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: baseline;
  }
  .newer input {
    position: absolute;
    opacity: 0;
    pointer-events: none;
  }
  .newer:focus-within {
    outline: 2px solid var(--pick);
  }
  li label {
    display: flex;
    gap: 8px;
    align-items: baseline;
    padding: 2px 6px;
    border-radius: 5px;
    font-size: 13px;
  }
  li label.here {
    background: var(--sand);
  }
  li label span:first-of-type {
    flex: 1;
  }
</style>
