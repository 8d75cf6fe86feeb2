<!-- The tool in sentences: how the halves and slides leave, where they meet, what none of them frees. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import TextField from "../../card/TextField.svelte";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { many, signed, steelKey, steelWord } from "../../words";
  import { type Hand, type Steel } from "./hand";

  let {
    session,
    told,
    hand = $bindable(),
    onlook,
  }: {
    session: Session;
    /** What the tool does to the part, once it is worked out. */
    told?: Schemas["ToolView"];
    hand?: Hand;
    /** Turns the part to what is caught, on the map that shows it. */
    onlook: () => void;
  } = $props();

  const tool = $derived(session.view?.job.tool);
  const steels = $derived<Steel[]>(told?.steels.map((s) => s.steel) ?? []);

  function pull(k: number, value: number) {
    const direction = [...(tool?.pull ?? [0, 0, 0])];
    direction[k] = value;
    return session.change({ do: "set_pull", direction });
  }

  function slidePull(slide: Schemas["Slide"], k: number, value: number) {
    const direction = [...slide.pull];
    direction[k] = value;
    return session.change({ do: "set_slide_pull", name: slide.name, direction });
  }

  const axes = [0, 1, 2].map((k) => [0, 1, 2].map((i) => (i === k ? 1 : 0)));

  function lineWords(at: number): string {
    const line = told?.parting[at];
    if (!line) return "";
    if (!line.length) return "it meets the part nowhere";
    const loops = line.loops ? many(line.loops, "closed loop") : "";
    const ends = line.open_ends ? many(line.open_ends, "open end") : "";
    return [`${line.length.toFixed(1)} mm`, loops, ends].filter(Boolean).join(", ");
  }

  function areaOf(steel: Steel): string {
    const found = told?.steels.find((s) => steelKey(s.steel) === steelKey(steel));
    if (!found) return "";
    if (!found.area) return "forms nothing yet";
    const least = found.least_draft == null ? "" : `, least draft ${signed(found.least_draft, 1)}°`;
    return `forms ${found.area.toFixed(0)} mm²${least}`;
  }

  const edging = (at: number | null) => hand?.does === "edge" && hand.at === at;
</script>

{#if tool}
  <section>
    <h3>tool</h3>
    {#if tool.pull}
      <p>
        The fixed half leaves along
        {#each tool.pull as c, k (k)}
          {["x", "y", "z"][k]}&nbsp;<NumberField
            value={c}
            label="pull {['x', 'y', 'z'][k]}"
            unit=""
            after={k < 2 ? "," : ""}
            places={3}
            step={0.1}
            onset={(v) => pull(k, v)}
          />
        {/each}
        <button class="word" onclick={() => session.change({ do: "swap_halves" })}>swap the halves</button>. The other
        half leaves the other way.
      </p>
    {:else}
      <p>
        Which way does the tool open? Click a face and take its direction, or start from
        {#each axes as direction, k (k)}<button
            class="word"
            onclick={() => session.change({ do: "set_pull", direction })}>{["x", "y", "z"][k]}</button
          >{k === 0 ? ", " : k === 1 ? " or " : "."}
        {/each}
      </p>
    {/if}
    {#each tool.slides as slide (slide.name)}
      <div class="row">
        <p>
          <TextField
            value={slide.name}
            label="name of the slide"
            onset={(to) => session.change({ do: "rename_slide", name: slide.name, to })}
          /> leaves along
          {#each slide.pull as c, k (k)}
            {["x", "y", "z"][k]}&nbsp;<NumberField
              value={c}
              label="pull of {slide.name} {['x', 'y', 'z'][k]}"
              unit=""
              after={k < 2 ? "," : ""}
              places={2}
              step={0.1}
              onset={(v) => slidePull(slide, k, v)}
            />
          {/each}
        </p>
        <p class="soft">
          {areaOf({ steel: "slide", name: slide.name })};
          <button
            class="word"
            onclick={() =>
              (hand = { does: "paint", radius: 2, rub: false, into: { steel: { steel: "slide", name: slide.name } } })}
            >paint what it forms</button
          >,
          <button class="word" onclick={() => session.change({ do: "remove_slide", name: slide.name })}>remove</button>
        </p>
      </div>
    {/each}
    {#if tool.pull}
      <p class="slides">
        {tool.slides.length ? "Another slide" : "A slide for what the halves can't release:"} along
        {#each axes as direction, k (k)}<button
            class="word"
            onclick={() => session.change({ do: "add_slide", direction })}>{["x", "y", "z"][k]}</button
          >{k < 2 ? ", " : ""}
        {/each} or the normal of a face that you click.
      </p>
    {/if}
    {#each tool.assigned as given, at (at)}
      <p>
        {given.area.kind === "faces"
          ? many(given.area.faces.length, "face")
          : "A painted area"}{#if told?.assigned[at]},
          {told.assigned[at].toFixed(0)} mm²,{/if} assigned to <b>{steelWord(given.to)}</b>,
        <button class="word" onclick={() => session.change({ do: "unassign", at })}>unassign</button>
      </p>
    {/each}
    {#if told && steels.length}
      {#if told.caught.facets}
        <p class="bad">
          <StateShape state="fails" />
          {many(told.caught.facets, "facet")}, {told.caught.area.toFixed(1)} mm², undercut:
          <button class="word" onclick={onlook}>look</button>
        </p>
      {:else}
        <p><StateShape state="passes" /> Every facet releases.</p>
      {/if}
    {:else if tool.pull}
      <p class="soft">Working out what releases …</p>
    {/if}
  </section>
  {#if tool.pull}
    <section>
      <h3>parting lines</h3>
      {#each tool.parting as line, at (at)}
        <div class="row">
          <p>
            {#if line.kind === "plane"}
              A plane at
              <NumberField
                value={line.height}
                label="height of the parting plane"
                onset={(height) => session.change({ do: "set_parting", at, parting: { kind: "plane", height } })}
              /> along the pull
            {:else if line.kind === "silhouette"}
              The silhouette along
              <ChoiceField
                value={line.slide ?? ""}
                label="pull of the silhouette"
                choices={[
                  { value: "", says: "the pull" },
                  ...tool.slides.map((s) => ({ value: s.name, says: `the pull of ${s.name}` })),
                ]}
                onset={(name) =>
                  void session.change({
                    do: "set_parting",
                    at,
                    parting: { kind: "silhouette", slide: name || null },
                  })}
              />
            {:else}
              Along {many(line.through.length, "edge")},
              <button
                class="word"
                aria-pressed={edging(at)}
                onclick={() => (hand = edging(at) ? undefined : { does: "edge", at })}
                >{edging(at) ? "done" : "pick edges"}</button
              >
            {/if}
          </p>
          <p class="soft">
            {lineWords(at)};
            <button class="word" onclick={() => session.change({ do: "remove_parting", at })}>remove</button>
          </p>
        </div>
      {/each}
      <p>
        {tool.parting.length ? "Add" : "Where does it part? Click the part where the line runs, or add"}
        <button
          class="word"
          onclick={() => session.change({ do: "add_parting", parting: { kind: "plane", height: 0 } })}>a plane</button
        >,
        <button
          class="word"
          onclick={() => session.change({ do: "add_parting", parting: { kind: "silhouette", slide: null } })}
          >the silhouette</button
        >
        or <button class="word" onclick={() => (hand = { does: "edge", at: null })}>edges that you pick</button>.
      </p>
    </section>
  {/if}
{/if}

<style>
  .bad {
    color: var(--fail);
  }
  .row {
    margin-bottom: 5px;
  }
  .row p {
    margin: 0;
  }
  .soft .word {
    font-weight: 400;
  }
</style>
