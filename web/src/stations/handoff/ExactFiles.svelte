<!-- Exact geometry: STEP files, each made when it is asked for, and what was found when it was read back. -->
<script lang="ts">
  import ChoiceField from "../../card/ChoiceField.svelte";
  import type { Session } from "../../session.svelte";
  import StepFile from "./StepFile.svelte";

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
      <li><StepFile {session} {name} {what} marks={session.marks.length} query={{ ap242, steel }} /></li>
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
    padding: 7px 0;
    border-top: 1px solid var(--line);
  }
</style>
