<!-- A date code: which day's, how it is written. -->
<script lang="ts">
  import type { Schemas } from "../api/client";
  import ChoiceField from "./ChoiceField.svelte";
  import NumberField from "./NumberField.svelte";
  import TextField from "./TextField.svelte";

  type DatePiece = Extract<Schemas["PieceOf"], { piece: "date" }>;

  let {
    of,
    columns,
    onset,
  }: { of: DatePiece; columns: Schemas["Column"][]; onset: (to: DatePiece) => Promise<boolean> } = $props();

  const form = $derived(of.form);
  const put = (change: Partial<DatePiece["form"]>) => onset({ ...of, form: { ...form, ...change } });

  function from(date: DatePiece["from"]["date"]) {
    if (date === "set") return onset({ ...of, from: { date, day: new Date().toISOString().slice(0, 10) } });
    if (date === "column") return onset({ ...of, from: { date, column: columns[0]?.name ?? "" } });
    return onset({ ...of, from: { date } });
  }
</script>

The date of
<ChoiceField
  value={of.from.date}
  label="which day it is of"
  choices={[
    { value: "handoff", says: "the day of handoff" },
    { value: "set", says: "the day" },
    ...(columns.length ? [{ value: "column" as const, says: "the day in the column" }] : []),
  ]}
  onset={(date) => void from(date)}
  after={of.from.date === "handoff" ? "," : ""}
/>
{#if of.from.date === "set"}
  <TextField
    value={of.from.day}
    label="day of the date"
    onset={(day) => onset({ ...of, from: { date: "set", day } })}
  />,
{:else if of.from.date === "column"}
  <ChoiceField
    value={of.from.column}
    label="column of the date"
    choices={columns.map((c) => ({ value: c.name, says: c.name }))}
    onset={(column) => void onset({ ...of, from: { date: "column", column } })}
    after=","
  />
{/if}
written as
<ChoiceField
  value={form.of}
  label="what of the date"
  choices={[
    { value: "week", says: "week" },
    { value: "week_day", says: "week and weekday" },
    { value: "day", says: "day of the year" },
    { value: "month", says: "month" },
    { value: "month_letter", says: "letter of the month" },
    { value: "month_day", says: "month and day" },
    { value: "year", says: "year alone" },
  ]}
  onset={(v) => void put({ of: v, year: v === "year" ? "first" : form.year })}
/>
{#if form.of !== "year"}
  <ChoiceField
    value={form.year}
    label="where the year stands"
    choices={[
      { value: "first", says: "after the year" },
      { value: "last", says: "before the year" },
      { value: "none", says: "without the year" },
    ]}
    onset={(year) => void put({ year })}
    after={form.year === "none" ? "." : ""}
  />
{/if}
{#if form.year !== "none"}
  in
  <NumberField
    value={form.digits}
    label="digits of the year"
    unit=""
    places={0}
    step={1}
    onset={(digits) => put({ digits: Math.round(digits) })}
  /> digits, between them
  <TextField
    value={form.between}
    label="between the pieces of the date"
    placeholder="nothing"
    keepBlanks
    onset={(between) => put({ between })}
  />.
{/if}
