<!-- Roster: the table of parts, variants and cavities, and what the marks say over all its rows. -->
<script lang="ts">
  import { searchParams } from "sv-router";
  import { api, problem, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import TextField from "../../card/TextField.svelte";
  import { currentSession } from "../../frame/current";
  import { go } from "../../router";
  import { many, tips } from "../../words";
  import Grid from "./Grid.svelte";
  import ReadRoster from "./ReadRoster.svelte";
  import Said from "./Said.svelte";
  import ToolPlate from "./ToolPlate.svelte";

  type Kind = Schemas["ColumnKind"];

  const current = currentSession();
  const session = $derived(current());
  const roster = $derived(session.view?.job.roster ?? { columns: [], rows: [] });
  let said = $state.raw<Schemas["SaidView"]>();
  let head = $state<string>();
  let picker = $state<HTMLInputElement>();
  /** A roster that was read and not taken yet. */
  let offered = $state.raw<{ name: string; file: Schemas["Roster"] }>();
  /** The tool plate instead of the table. */
  const plate = $derived(searchParams.get("show") === "plate");
  const open = $derived(roster.columns.find((c) => c.name === head));
  const revision = $derived(session.view?.job.revision);

  const kinds: { value: Kind["kind"]; says: string }[] = [
    { value: "text", says: "text, kept to the letter" },
    { value: "number", says: "whole numbers" },
    { value: "revision", says: "revisions" },
    { value: "date", says: "dates" },
    { value: "cavity", says: "cavities" },
  ];

  const present = $derived(session.view?.state);
  $effect(() => {
    const asked = present;
    if (asked === undefined) return;
    void api.GET("/api/jobs/{id}/said", { params: { path: { id: session.id } } }).then(({ data, error }) => {
      if (data && data.state >= (said?.state ?? 0)) said = data;
      else if (error) session.trouble = problem(error);
    });
  });

  const oneLine = (text: string) => `“${text.replaceAll("\n", " / ")}”`;

  const change = (edit: Schemas["RosterEdit"]) => session.change({ do: "roster", edit });

  /** A new column, or an old one of another kind. */
  function kindOf(kind: Kind["kind"], width = 2): Kind {
    return kind === "number" ? { kind, width } : { kind };
  }

  async function setColumn(to: string, column: Kind) {
    if (!open) return false;
    const kept = await change({ change: "set_column", name: open.name, to, column });
    if (kept) head = to.trim();
    return kept;
  }

  async function addColumn() {
    const names = roster.columns.map((c) => c.name);
    let number = names.length + 1;
    while (names.includes(`column ${number}`)) number++;
    if (await change({ change: "add_column", name: `column ${number}`, column: { kind: "text" } }))
      head = `column ${number}`;
  }

  async function begin() {
    for (const [name, kind] of [
      ["part", "text"],
      ["variant", "text"],
      ["cavity", "cavity"],
    ] as const)
      if (!(await change({ change: "add_column", name, column: kindOf(kind) }))) return;
    await change({ change: "add_rows", count: 1 });
  }

  async function read(files: FileList | null | undefined) {
    const file = files?.[0];
    if (!file) return;
    const { data, error } = await api.POST("/api/roster", {
      params: { query: { file: file.name } },
      body: file as unknown as number[],
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "Content-Type": "application/octet-stream" },
    });
    if (picker) picker.value = "";
    if (!data) session.trouble = problem(error);
    // where there is none yet, nothing is lost
    else if (roster.rows.length) offered = { name: file.name, file: data };
    else await change({ change: "take", roster: data });
  }

  async function take() {
    if (offered && (await change({ change: "take", roster: offered.file }))) offered = undefined;
  }
</script>

<div class="station">
  <div class="left">
    <p class="acts">
      <button
        class="word"
        title={tips.toolPlate}
        onclick={() => (plate ? searchParams.delete("show") : searchParams.set("show", "plate"))}
        >{plate ? "table" : "tool plate"}</button
      >
      {#if roster.columns.length}
        <strong>{many(roster.rows.length, "row")}</strong>
        <button class="word" onclick={() => void change({ change: "add_rows", count: 1 })}>add a row</button>
        <button class="word" onclick={() => void addColumn()}>add a column</button>
        {#if session.view?.shown != null}
          <button class="word" onclick={() => void change({ change: "remove_rows", rows: [session.view?.shown ?? 0] })}
            >remove row {roster.rows.findIndex((r) => r.id === session.view?.shown) + 1}</button
          >
        {/if}
      {/if}
      <button class="word" onclick={() => picker?.click()}>read a file</button>
      {#if roster.rows.length}
        <span>
          write <a class="word" href="/api/jobs/{session.id}/roster/csv" download>CSV</a>
          <a class="word" href="/api/jobs/{session.id}/roster/xlsx" download>XLSX</a>
        </span>
      {/if}
      <span class="revision">
        revision
        <TextField
          value={revision ?? ""}
          label="revision of the job"
          placeholder="none"
          onset={(v) => change({ change: "set_revision", revision: v || null })}
        />
        <button class="word" onclick={() => void session.nextRevision()}>next revision</button>
      </span>
      <input
        class="picker"
        type="file"
        accept=".csv,.tsv,.txt,.xlsx"
        aria-label="file of a roster"
        bind:this={picker}
        onchange={(e) => void read(e.currentTarget.files)}
      />
    </p>
    {#if session.changed.size}
      <p class="head" role="status">
        Since the last revision
        {#each [...session.changed] as [id, was], at (id)}{at ? ", " : ""}<button
            class="word"
            onclick={() => go(session.id, "marks", { mark: id })}
            >{oneLine(session.marks.find((m) => m.id === id)?.text ?? id)}</button
          >
          replaces {oneLine(was)}{/each}.
      </p>
    {/if}
    {#if offered}
      <ReadRoster
        name={offered.name}
        there={roster}
        file={offered.file}
        ontake={() => void take()}
        onleave={() => (offered = undefined)}
      />
    {/if}
    {#if open && !plate}
      <p class="head">
        <TextField
          value={open.name}
          label="name of the column"
          onset={(to) => setColumn(to, open.kind).then(() => undefined)}
        /> holds
        <ChoiceField
          value={open.kind.kind}
          label="kind of the column"
          choices={kinds}
          onset={(kind) => void setColumn(open.name, kindOf(kind))}
        />
        {#if open.kind.kind === "number"}
          of at most
          <NumberField
            value={open.kind.width}
            label="digits of the column"
            unit=""
            places={0}
            step={1}
            onset={(width) => setColumn(open.name, { kind: "number", width: Math.round(width) })}
          /> digits
        {/if}
        <button class="word" onclick={() => void change({ change: "remove_column", name: open.name })}
          >remove the column</button
        >
        <button class="word" onclick={() => (head = undefined)}>done</button>
      </p>
    {/if}
    {#if plate}
      <ToolPlate {session} />
    {:else if roster.columns.length}
      <Grid {session} faults={said?.cells ?? []} {head} onhead={(name) => (head = head === name ? undefined : name)} />
    {:else}
      <div class="empty">
        <h1>One part, one text</h1>
        <p>
          Parts that differ in their lettering, by variant, revision or cavity, are listed here row by row; the marks'
          recipes read the columns. <strong>007</strong> stays <strong>007</strong>.
        </p>
        <p>
          <button class="press first" onclick={() => picker?.click()}>Read a CSV or XLSX file</button>
          <button class="press" onclick={() => void begin()}>Begin with part, variant, cavity</button>
        </p>
      </div>
    {/if}
  </div>
  <Said {session} {said} />
</div>

<style>
  .station {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 400px;
    height: 100%;
  }
  .left {
    display: flex;
    flex-direction: column;
    min-width: 0;
    min-height: 0;
    padding: 14px 18px 10px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 18px;
    margin: 0 0 10px;
  }
  .acts a {
    text-decoration: none;
  }
  .revision {
    margin-left: auto;
    white-space: nowrap;
  }
  .head {
    margin: 0 0 10px;
    padding: 8px 12px;
    border: 1px solid var(--line);
    border-radius: 7px;
    background: var(--enamel);
    line-height: 1.8;
  }
  .picker {
    display: none;
  }
  .empty {
    max-width: 520px;
    margin: 60px auto;
    line-height: 1.6;
  }
  .empty p {
    margin: 8px 0 14px;
  }
</style>
