<!-- The files of all rows: which, how they are called, built in one press, taken in one archive. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import Recipe from "../../card/Recipe.svelte";
  import RowsRun from "../../rack/RowsRun.svelte";
  import type { Session } from "../../session.svelte";
  import { many } from "../../words";

  let { session, ontake }: { session: Session; ontake: () => void } = $props();

  $effect(() => session.watchRows());

  type Kind = Schemas["RowFile"];
  const view = $derived(session.rows);
  const files = $derived(session.view?.job.row_files);
  const surface = $derived(!!session.view?.part.soundness.surface_body);
  const shown = $derived(view?.rows.find((r) => r.row === session.view?.shown) ?? view?.rows[0]);
  const nameless = $derived(view?.rows.filter((r) => r.nameless) ?? []);
  const ready = $derived(
    !!view && !view.running && view.state === session.view?.state && view.built === view.rows.length,
  );
  const without = $derived(view?.rows.filter((r) => r.problem).length ?? 0);

  const kinds = $derived(
    [
      { value: "solid_3mf", says: "the marked solid, 3MF", ending: ".3mf", off: surface },
      { value: "solid_stl", says: "the marked solid, STL", ending: ".stl", off: surface },
      { value: "solid_glb", says: "the same for viewers, GLB", ending: ".glb" },
      { value: "lettering_3mf", says: "the lettering bodies, 3MF", ending: "-lettering.3mf" },
      { value: "findings_html", says: "the findings to print", ending: "-findings.html" },
      { value: "findings_json", says: "the findings for programs", ending: "-findings.json" },
      { value: "tool_side_zip", says: "the tool’s side", ending: "-tool-side.zip", off: surface },
    ].filter((k) => !k.off) as { value: Kind; says: string; ending: string }[],
  );

  const set = (change: (now: Schemas["RowFiles"]) => Schemas["RowFiles"]) =>
    session.inTurn(() =>
      files
        ? session.change({ do: "roster", edit: { change: "set_files", files: change(files) } })
        : Promise.resolve(false),
    );

  function turn(kind: Kind, on: boolean) {
    return set((now) => ({ ...now, kinds: on ? [...now.kinds, kind] : now.kinds.filter((k) => k !== kind) }));
  }

  const number = (id: number) => (session.view?.job.roster.rows.findIndex((r) => r.id === id) ?? -1) + 1;
</script>

{#if files}
  <h2>Of each row</h2>
  <ul class="kinds">
    {#each kinds as kind (kind.value)}
      {@const on = files.kinds.includes(kind.value)}
      <li>
        <label>
          <input
            type="checkbox"
            data-kind={kind.value}
            checked={on}
            disabled={on && files.kinds.length === 1}
            onchange={(e) => void turn(kind.value, e.currentTarget.checked)}
          />
          {kind.says}
        </label>
        {#if on && shown?.name}<small class="soft">{shown.name}{kind.ending}</small>{/if}
      </li>
    {/each}
  </ul>
  <h2>Called</h2>
  {#if files.name.length}
    <Recipe
      {session}
      recipe={files.name}
      made={shown?.name ?? ""}
      onset={(name) => session.change({ do: "roster", edit: { change: "set_files", files: { ...files, name } } })}
    />
  {:else}
    <p>
      After the job and the cavity or the row, as “{shown?.name ?? "…"}”.
      <button
        class="word"
        onclick={() =>
          void set((now) => ({
            ...now,
            name: [
              {
                of: { piece: "text", text: session.view?.job.name.slice(0, 100) ?? "" },
                width: null,
                pad: "zeros",
                case: "as_it_is",
                empty: { empty: "error" },
              },
            ],
          }))}>Compose the name from pieces</button
      >
    </p>
  {/if}
  {#if nameless.length}
    <p class="bad" role="alert">
      {many(nameless.length, "row")} can't be named this way: row {number(nameless[0].row)}, {nameless[0].nameless}.
    </p>
  {/if}
  <RowsRun {session} work="build" />
  {#if ready && view}
    <p>
      {#if nameless.length}
        <span class="soft">Built. Give every row a name of its own, then download them.</span>
      {:else}
        <a class="press first" href="/api/jobs/{session.id}/rows/all.zip" download onclick={ontake}
          >Hand off all {many(view.rows.length, "row")}</a
        >
      {/if}
    </p>
    {#if without}<p class="bad">Of {many(without, "row")} no files could be made; rows.csv says why.</p>{/if}
    <p class="soft">Included: rows.csv, which lists each row's files and worst finding, and the job file.</p>
  {/if}
{/if}

<style>
  h2 {
    margin: 16px 0 4px;
    font-size: 14px;
  }
  .kinds {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  .kinds li {
    display: flex;
    justify-content: space-between;
    gap: 10px;
    padding: 3px 0;
  }
  .kinds small {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  p {
    margin: 10px 0;
  }
  .press {
    display: inline-block;
    text-decoration: none;
  }
  .bad {
    color: var(--fail);
  }
</style>
