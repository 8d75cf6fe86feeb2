<!-- Hand off: each document as it will be, then all of them in one archive. -->
<script lang="ts">
  import { api, problem, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import { currentSession } from "../../frame/current";
  import { person } from "../../frame/person.svelte";
  import Shown from "../../rack/Shown.svelte";
  import StateShape from "../../pieces/StateShape.svelte";
  import CalloutSheet from "./CalloutSheet.svelte";
  import EveryRow from "./EveryRow.svelte";
  import ExactFiles from "./ExactFiles.svelte";
  import SteelChanges from "./SteelChanges.svelte";
  import ToolSide from "./ToolSide.svelte";
  import { bytes, day, many, moment, verdictWords } from "../../words";

  const current = currentSession();
  const session = $derived(current());
  let made = $state.raw<Schemas["HandoffView"]>();
  let trouble = $state("");
  let working = $state(false);

  const present = $derived(session.view && `${session.view.state} ${session.view.shown}`);
  $effect(() => {
    if (present === undefined) return;
    working = true;
    trouble = "";
    void api
      .GET("/api/jobs/{id}/handoff", { params: session.params })
      .then(({ data, error }) => {
        made = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => (trouble = problem(e)))
      .finally(() => (working = false));
  });

  const VIEWS = [
    { key: "part", says: "the part’s files" },
    { key: "steel", says: "the tool’s side" },
    { key: "callouts", says: "the callout sheet" },
    { key: "changes", says: "what changes in steel" },
  ] as const;
  let on = $state<(typeof VIEWS)[number]["key"]>("part");
  const surface = $derived(!!session.view?.part.soundness.surface_body);

  /** The files of all rows, instead of those of the row on show. */
  let all = $state(false);
  const rows = $derived(session.view?.job.roster.rows.length ?? 0);
  const every = $derived(all && rows > 1);

  const handed = $derived(session.view?.handed_off);
  const verdict = $derived(session.verdict);
  const base = $derived(`/api/jobs/${session.id}/handoff`);
  /** Which row of the roster is on show, from 1 on. */
  const number = $derived((session.view?.job.roster.rows.findIndex((r) => r.id === session.view?.shown) ?? -1) + 1);
  const of = $derived(session.row === undefined ? "" : `?row=${session.row}`);

  /** Notes the handover when the archive is taken. */
  async function take(state: number | undefined) {
    if (state === undefined) return;
    const { error } = await api.POST("/api/jobs/{id}/handoff", {
      params: { path: { id: session.id } },
      body: { author: person.name, state },
    });
    if (error) session.trouble = problem(error);
    else await session.refresh();
  }
</script>

<div class="frame">
  <div class="head">
    <h1>For the toolmaker</h1>
    <div role="tablist" aria-label="what is handed off">
      {#each VIEWS.filter((v) => !surface || v.key === "part" || v.key === "callouts") as view (view.key)}
        <button role="tab" class="word" aria-selected={on === view.key} onclick={() => (on = view.key)}
          >{view.says}</button
        >
      {/each}
    </div>
    <Shown {session} />
  </div>
  {#if on === "steel" && !surface}
    <ToolSide {session} />
  {:else if on === "callouts"}
    <CalloutSheet {session} />
  {:else if on === "changes" && !surface}
    <SteelChanges {session} />
  {:else}
    <div class="station">
      <div class="files">
        {#if rows > 1}
          <button class="word" onclick={() => (all = !all)}>{all ? "this row only" : `all ${rows} rows`}</button>
        {/if}
        {#if every}
          <EveryRow {session} ontake={() => void take(session.view?.state)} />
        {:else if trouble}
          <p class="bad" role="alert">{trouble}</p>
        {:else if !made || working}
          <p class="soft" data-busy>Building all of it and checking it once more …</p>
        {:else}
          <p>
            Measured on {session.view?.part.soundness.surface_body ? "the lettering bodies" : "the whole solid"}:
            <strong class:bad={!!verdict?.fails}>{verdictWords(verdict, session.marks.length)}</strong>.
            {#if verdict?.fails}<span class="soft">The files say so too; nothing keeps you from handing off.</span>{/if}
            <a class="word" href="/jobs/{session.id}/inspect?records=all">records and their proofs</a>
          </p>
          {#if made.solid}
            <p class="found"><StateShape state={made.solid.state} /> <span>{made.solid.sentence}</span></p>
          {/if}
          <p>
            <a class="press first" href="{base}/all.zip{of}" download onclick={() => void take(made?.state)}
              >Hand off all {many(made.files.length, "file")}</a
            >
            <span class="soft">with the part file</span>
          </p>
          {#if handed}
            <p class="soft">
              Last handed off {moment(handed.at)} by {handed.by}{handed.changed
                ? ", and changed since"
                : "; nothing has changed since"}.
            </p>
          {/if}
          <p>
            Lettering bodies are
            <ChoiceField
              value={session.view?.job.letters_apart ? "apart" : "joined"}
              label="how lettering bodies are handed off"
              choices={[
                { value: "joined", says: "joined into one for each mark" },
                { value: "apart", says: "kept letter by letter" },
              ]}
              onset={(how) => void session.change({ do: "set_letters_apart", apart: how === "apart" })}
              after="."
            />
          </p>
          <ul>
            {#each made.files as file (file.name)}
              <li>
                {#if file.name === "findings.html"}
                  <a href="{base}/{file.name}{of}" target="_blank" rel="noopener" download={file.name}>{file.name}</a>
                {:else}
                  <a href="{base}/{file.name}{of}" download>{file.name}</a>
                {/if}
                <span class="size">{bytes(file.size)}</span>
                <span class="soft">{file.what}</span>
                {#if file.read}
                  <span class="found" class:bad={file.read.state === "fails"}>
                    <StateShape state={file.read.state} /> <span>{file.read.sentence}</span>
                  </span>
                {/if}
              </li>
            {/each}
          </ul>
          {#if !session.view?.part.soundness.surface_body}<ExactFiles {session} />{/if}
          <p class="soft">
            The command line makes the same files from job.tinbadge.json and the part file: <code
              >tinbadge run job.tinbadge.json --out handoff{number > 1 ? ` --row ${number}` : ""}</code
            >
            STEP files: <code>tinbadge exact job.tinbadge.json{number > 1 ? ` --row ${number}` : ""}</code>
          </p>
        {/if}
      </div>
      <div class="paper">
        <p class="soft">
          findings.html, as it will be printed{made && handed && !handed.changed
            ? `, handed off ${day(handed.at)}`
            : ""}
        </p>
        {#if made && !working}
          {#key `${made.state} ${of}`}<iframe
              src="{base}/findings.html{of}"
              title="the findings as they will be printed"
            ></iframe>{/key}
        {/if}
      </div>
    </div>
  {/if}
</div>

<style>
  .frame {
    display: grid;
    grid-template-rows: max-content minmax(0, 1fr);
    height: 100%;
  }
  .head {
    display: flex;
    gap: 28px;
    align-items: baseline;
    padding: 12px 24px 8px;
  }
  .head [role="tablist"] {
    display: flex;
    gap: 18px;
  }
  .head [role="tab"] {
    border-bottom: 2px solid transparent;
    font-weight: 400;
  }
  .head [aria-selected="true"] {
    border-color: var(--ink);
    font-weight: 700;
  }
  .station {
    display: grid;
    grid-template-columns: 470px minmax(0, 1fr);
    height: 100%;
    min-height: 0;
  }
  .files {
    overflow-y: auto;
    padding: 18px 24px;
  }
  .files p {
    margin: 10px 0;
  }
  .press {
    display: inline-block;
    text-decoration: none;
  }
  ul {
    margin: 16px 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: 1fr max-content;
    padding: 7px 0;
    border-top: 1px solid var(--line);
  }
  li a {
    color: var(--ink);
    font-weight: 700;
    text-decoration-color: var(--rim-soft);
    text-underline-offset: 3px;
  }
  li .soft {
    grid-column: 1 / -1;
    font-size: 12.5px;
  }
  .found {
    display: flex;
    gap: 7px;
    align-items: baseline;
  }
  li .found {
    grid-column: 1 / -1;
    font-size: 12.5px;
  }
  .bad {
    color: var(--fail);
  }
  code {
    display: block;
    font-family: "B612 Mono", monospace;
    font-size: 12px;
    white-space: nowrap;
  }
  .paper {
    display: flex;
    flex-direction: column;
    padding: 14px 24px 20px;
    border-left: 1px solid var(--rim);
    background: var(--sand);
  }
  .paper p {
    margin: 0 0 8px;
    font-size: 12.5px;
  }
  iframe {
    flex: 1;
    border: 1px solid var(--rim);
    border-radius: 4px;
    background: var(--enamel);
  }
</style>
