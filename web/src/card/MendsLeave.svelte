<!-- Values of a mark that no mend changes. -->
<script lang="ts">
  import type { Mark, Schemas } from "../api/client";
  import type { Session } from "../session.svelte";
  import { fixedWords } from "../words";
  import Section from "./Section.svelte";

  let { session, mark }: { session: Session; mark: Mark } = $props();

  type Fixed = Schemas["Fixed"];

  const more = $derived((Object.keys(fixedWords) as Fixed[]).filter((value) => !mark.fixed.includes(value)));
  const keep = (fixed: Fixed[]) => void session.set(mark.id, { fixed });
</script>

<Section head="what mends leave as it is">
  <p>
    {#each mark.fixed as value (value)}
      {fixedWords[value]}
      <button
        class="word"
        aria-label="let mends change the {fixedWords[value]} again"
        onclick={() => keep(mark.fixed.filter((f) => f !== value))}>release</button
      >,
    {/each}
    <select
      class="offer"
      aria-label="keep a value from mends"
      value=""
      onchange={(e) => {
        const value = e.currentTarget.value as Fixed;
        e.currentTarget.value = "";
        keep([...mark.fixed, value]);
      }}
    >
      <option value="" disabled>keep a value …</option>
      {#each more as value (value)}<option {value}>the {fixedWords[value]}</option>{/each}
    </select>
  </p>
</Section>
