<!-- A date code: which day's, how it is written. -->
<script lang="ts">
  import type { Schemas } from "../api/client";
  import ChoiceField from "./ChoiceField.svelte";
  import DateFrom from "./DateFrom.svelte";
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
</script>

The date of
<DateFrom from={of.from} {columns} onset={(from) => onset({ ...of, from })} after="," />
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
