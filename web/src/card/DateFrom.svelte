<!-- Which day a date is of. -->
<script lang="ts">
  import type { Schemas } from "../api/client";
  import ChoiceField from "./ChoiceField.svelte";
  import TextField from "./TextField.svelte";

  type From = Schemas["DateFrom"];

  let {
    from,
    columns,
    onset,
    after = "",
  }: {
    from: From;
    columns: Schemas["Column"][];
    onset: (from: From) => Promise<boolean>;
    /** What follows in the sentence without a space. */
    after?: string;
  } = $props();

  function of(date: From["date"]) {
    if (date === "set") return onset({ date, day: new Date().toISOString().slice(0, 10) });
    if (date === "column") return onset({ date, column: columns[0]?.name ?? "" });
    return onset({ date });
  }
</script>

<ChoiceField
  value={from.date}
  label="which day it is of"
  choices={[
    { value: "handoff", says: "the day of handoff" },
    { value: "set", says: "the day" },
    ...(columns.length ? [{ value: "column" as const, says: "the day in the column" }] : []),
  ]}
  onset={(date) => void of(date)}
  after={from.date === "handoff" ? after : ""}
/>
{#if from.date === "set"}
  <TextField value={from.day} label="day of the date" onset={(day) => onset({ date: "set", day })} />{after}
{:else if from.date === "column"}
  <ChoiceField
    value={from.column}
    label="column of the date"
    choices={columns.map((c) => ({ value: c.name, says: c.name }))}
    onset={(column) => void onset({ date: "column", column })}
    {after}
  />
{/if}
