<!-- Exact geometry: STEP files, each made when it is asked for, and what was found when it was read back. -->
<script lang="ts">
  import { api, problem, type Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import type { Session } from "../../session.svelte";
  import { bytes, many } from "../../words";

  const { session }: { session: Session } = $props();

  const LETTERING = { name: "lettering.step", what: "each letter a solid of its own, joined to nothing" };
  const MARKED = { name: "marked-solid.step", what: "the part’s own faces with the lettering on them" };

  /** Only such a file knows the part’s own faces. */
  const step = $derived(/\.(step|stp|p21)$/i.test(session.view?.job.part.file ?? ""));
  const files = $derived(step ? [LETTERING, MARKED] : [LETTERING]);

  let ap242 = $state(false);
  let steel = $state(false);
  /** With the shrinkage added; nothing where none is set. */
  const size = $derived(session.view?.steel_size);
  const times = $derived(size && (1 + size.shrinkage / 100).toFixed(4));
  /** What was made, or why not, by the file's name. */
  let made = $state.raw<Record<string, Schemas["ExactView"] | string>>({});
  let making = $state("");
  let stop: AbortController | undefined;

  const present = $derived(session.view && `${session.view.state} ${session.view.shown} ${ap242} ${steel}`);
  $effect(() => {
    if (present === undefined) return;
    made = {};
    return () => stop?.abort();
  });

  const of = $derived(`?${session.row === undefined ? "" : `row=${session.row}&`}ap242=${ap242}&steel=${steel}`);

  async function make(name: string) {
    const controller = new AbortController();
    stop = controller;
    making = name;
    const query = { row: session.row, ap242, steel };
    try {
      const { data, error } = await api.POST("/api/jobs/{id}/exact/{name}", {
        params: { path: { id: session.id, name }, query },
        signal: controller.signal,
      });
      if (!controller.signal.aborted) made = { ...made, [name]: data ?? problem(error) };
    } catch (e: unknown) {
      if (!controller.signal.aborted) made = { ...made, [name]: problem(e) };
    } finally {
      if (stop === controller) making = "";
    }
  }
</script>

<section aria-label="exact geometry">
  <h2>Exact geometry</h2>
  <p class="soft">
    STEP for other programs: tops and floors are the seat’s own kind of surface, walls straight from one outline to the
    other. Each file is read back and held to the mesh before you get it. As
    <ChoiceField
      value={ap242 ? "ap242" : "ap214"}
      label="application protocol"
      choices={[
        { value: "ap214", says: "AP214" },
        { value: "ap242", says: "AP242" },
      ]}
      onset={(schema) => (ap242 = schema === "ap242")}
      after={size ? "," : "."}
    />
    {#if size}
      <ChoiceField
        value={steel ? "steel" : "part"}
        label="size"
        choices={[
          { value: "part", says: "at the part’s size" },
          { value: "steel", says: `at the steel’s size, × ${times}` },
        ]}
        onset={(which) => (steel = which === "steel")}
        after="."
      />
      {#if steel}About the part’s zero; {size.shrinkage} % {size.source}.{/if}
    {/if}
  </p>
  {#if !step}<p class="soft">
      The part came as triangles: its own faces are not known, so there is no exact marked solid.
    </p>{/if}
  <ul>
    {#each files as { name, what } (name)}
      {@const found = made[name]}
      <li>
        {#if typeof found === "object"}
          <a href="/api/jobs/{session.id}/exact/{name}{of}" download>{found.name}</a>
          <span class="size">{bytes(found.size)}</span>
        {:else}
          <strong>{name}</strong>
          {#if making === name}
            <button class="word" onclick={() => stop?.abort()}>stop</button>
          {:else}
            <button class="word" disabled={making !== ""} onclick={() => void make(name)}>make {name}</button>
          {/if}
        {/if}
        <span class="soft">{what}</span>
        {#if making === name}
          <span class="soft" role="status" data-busy
            >Drawing {many(session.marks.length, "mark")} and reading it back …</span
          >
        {:else if typeof found === "string"}
          <span class="bad" role="alert">{found}</span>
        {:else if found}
          <span class="found"><StateShape state="passes" /> <span>{found.sentence}</span></span>
          {#each found.faceted as told (told)}<span class="soft">{told}.</span>{/each}
        {/if}
      </li>
    {/each}
  </ul>
</section>

<style>
  section {
    margin-top: 18px;
  }
  h2 {
    font-size: 16px;
  }
  ul {
    margin: 10px 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 1fr max-content;
    padding: 7px 0;
    border-top: 1px solid var(--line);
    font-size: 12.5px;
  }
  li a,
  li strong {
    color: var(--ink);
    font-weight: 700;
    font-size: 14px;
  }
  li a {
    text-decoration-color: var(--rim-soft);
    text-underline-offset: 3px;
  }
  li > span:not(.size) {
    grid-column: 1 / -1;
  }
  .found {
    display: flex;
    gap: 7px;
    align-items: baseline;
  }
  .bad {
    color: var(--fail);
  }
</style>
