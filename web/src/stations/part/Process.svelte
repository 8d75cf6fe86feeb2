<!-- Process, material, texture, and the limits that count, each with its source; every one can be set for this job. -->
<script lang="ts">
  import { api, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import TextField from "../../card/TextField.svelte";
  import type { Session } from "../../session.svelte";
  import { decimals } from "../../words";
  import Sheets from "./Sheets.svelte";

  let { session, view }: { session: Session; view: Schemas["JobView"] } = $props();

  let sets = $state.raw<Schemas["LimitSetView"][]>([]);
  let materials = $state.raw<Schemas["MaterialView"][]>([]);
  /** The shop's own, every version. */
  let sheets = $state.raw<Schemas["SheetView"][]>([]);
  let sheetsOpen = $state(false);

  $effect(() => {
    void api.GET("/api/limits").then(({ data }) => (sets = data ?? []));
    void api.GET("/api/sheets").then(({ data }) => (sheets = data ?? []));
    void api.GET("/api/materials").then(({ data }) => (materials = data ?? []));
  });

  const process = $derived(view.job.process);
  const set = (changes: Partial<Schemas["Process"]>) =>
    session.change({ do: "set_process", process: { ...process, ...changes } });

  const judgedBy = $derived(view.job.sheet);
  /** Of each sheet on the list the newest version. */
  const newest = $derived(sheets.filter((s, at) => !s.gone && s.sheet.name !== sheets[at - 1]?.sheet.name));
  const newer = $derived(newest.find((s) => s.sheet.name === judgedBy?.name && s.sheet.version > judgedBy.version));
  const told = (s: Schemas["Sheet"]) => `${s.name}, version ${s.version}`;
  // a sheet in use may be an older version, or off the list
  const choices = $derived([
    ...sets.map((s) => ({ value: s.id, says: s.name })),
    ...(judgedBy ? [{ value: key(judgedBy), says: told(judgedBy) }] : []),
    ...newest.filter((s) => s.sheet.name !== judgedBy?.name).map((s) => ({ value: key(s.sheet), says: told(s.sheet) })),
  ]);

  function key(sheet: Schemas["Sheet"]) {
    return `${sheet.version} ${sheet.name}`;
  }

  function judge(by: string) {
    const taken = newest.find((s) => key(s.sheet) === by);
    return session.change(
      taken ? { do: "set_limits", limits: taken.limits, sheet: taken.sheet } : { do: "set_limits", limits: by },
    );
  }

  const unitOf: Partial<Record<Schemas["Subject"], string>> = {
    draft: "°",
    sunken_draft: "°",
    uniform_depth: "%",
    reading_angle: "′",
    gap: "strokes",
    word_gap: "characters",
    line_gap: "cap heights",
    clearance: "× cap height",
    stroke_to_height: "",
    stroke_to_cap: "",
    relief_to_cap: "",
    wall_left: "%",
    wall_added: "%",
    reading: "",
  };

  const subject: Record<Schemas["Subject"], string> = {
    draft: "least draft of the walls",
    sunken_draft: "the same of sunken lettering",
    uniform_depth: "spread of the depth",
    relief_height: "relief height",
    sunken_depth: "depth of sunken lettering",
    cap_height: "cap height",
    reading_angle: "angle of the capitals as read",
    stroke: "stroke on top or floor",
    counter: "counter at the root",
    gap: "gap between characters",
    word_gap: "gap between words",
    line_gap: "gap between lines",
    stroke_to_height: "stroke over relief height",
    stroke_to_cap: "stroke over cap height",
    relief_to_cap: "relief height over cap height",
    island: "smallest piece of a letter, as a disc",
    steel_between: "steel between raised letters",
    steel_of_letters: "steel that makes sunken letters",
    inner_corner: "radius where walls meet ground or floor",
    parting: "clearance to the parting line",
    clearance: "clearance to edges and other marks",
    wall_left: "wall left when sunken, share",
    wall_least: "wall left when sunken",
    wall_added: "wall added when raised",
    from_polished: "from polished faces",
    from_sealing: "from sealing faces",
    from_clamping: "from clamping faces",
    from_gate: "from gates",
    from_ejector_pin: "from ejector pins",
    from_weld_line: "from weld lines",
    reading: "margin of the reading test",
  };

  function own(row: Schemas["LimitRow"], changes: { value?: number; source?: string }) {
    const source = row.own && row.limit.source !== "set for this job" ? row.limit.source : "";
    return session.change({
      do: "set_limit",
      limit: { subject: row.subject, value: row.limit.value, source, ...changes },
    });
  }
</script>

<section>
  <h3>process and limits</h3>
  <p>
    Limits:
    <ChoiceField
      value={judgedBy ? key(judgedBy) : view.job.limits}
      label="limits"
      {choices}
      onset={(by) => void judge(by)}
      after=","
    /> read from
    <NumberField
      value={view.job.reading_distance}
      label="reading distance"
      places={0}
      step={50}
      onset={(mm) => session.change({ do: "set_reading_distance", mm })}
    /> away.
  </p>
  <p>
    {#if newer}
      Version {newer.sheet.version} of this sheet is there:
      <button class="word" onclick={() => void judge(key(newer.sheet))}>judge by it</button>;
    {/if}
    <button class="word" onclick={() => (sheetsOpen = true)}>sheets of the shop…</button>
  </p>
  <p>
    Material
    <ChoiceField
      value={process.material ?? ""}
      label="material"
      choices={[{ value: "", says: "not set" }, ...materials.map((m) => ({ value: m.id, says: m.name }))]}
      onset={(id) => void set({ material: id || null, shrinkage: null })}
      after=","
    />
    <ChoiceField
      value={process.finish}
      label="finish"
      choices={[
        { value: "satin", says: "satin" },
        { value: "matt", says: "matt" },
      ]}
      onset={(finish) => void set({ finish })}
    /> surface with a texture
    <NumberField
      value={process.texture}
      label="texture depth"
      places={3}
      step={0.005}
      onset={(texture) => set({ texture })}
    /> deep.
  </p>
  {#if view.steel_size}
    <p>
      It shrinks by <NumberField
        value={view.steel_size.shrinkage}
        label="shrinkage"
        unit=""
        places={2}
        step={0.05}
        onset={(shrinkage) => set({ shrinkage })}
      /> % <span class="soft">({view.steel_size.source})</span>: in steel
      <b>{view.steel_size.size.map((s) => s.toFixed(2)).join(" × ")}</b> mm.
    </p>
  {/if}
  <table>
    <tbody>
      {#each view.limits as l (l.subject)}
        <tr class:own={l.own}>
          <td>{subject[l.subject]}</td>
          <td class="n">
            {l.limit.side === "at_least" ? "≥" : "≤"}
            <NumberField
              value={l.limit.value}
              label="limit: {subject[l.subject]}"
              unit={l.subject in unitOf ? (unitOf[l.subject] === "°" ? "°" : "") : "mm"}
              places={l.limit.value % 1 ? Math.max(2, decimals(l.limit.value)) : 1}
              onset={(value) => own(l, { value })}
            />{unitOf[l.subject] === "°" ? "" : ` ${unitOf[l.subject] ?? ""}`}
          </td>
          <td class="soft">
            {#if l.own}
              <TextField
                value={l.limit.source === "set for this job" ? "" : l.limit.source}
                placeholder="who requires it?"
                label="source of the limit: {subject[l.subject]}"
                onset={(source) => own(l, { source })}
              />
              <button class="word" onclick={() => session.change({ do: "reset_limit", subject: l.subject })}
                >back to {l.of_sheet}</button
              >
            {:else}{l.limit.source}{/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</section>
<Sheets {session} {view} {sets} bind:sheets bind:open={sheetsOpen} />

<style>
  table {
    width: 100%;
    margin-top: 4px;
    border-collapse: collapse;
    font-size: 12px;
  }
  td {
    padding: 2px 6px 2px 0;
    vertical-align: top;
  }
  .n {
    white-space: nowrap;
  }
  .own td:first-child {
    font-weight: 700;
  }
</style>
