<!-- The callout sheet as it will be printed, and how it is drawn. -->
<script lang="ts">
  import ChoiceField from "../../card/ChoiceField.svelte";
  import { person } from "../../frame/person.svelte";
  import type { Session } from "../../session.svelte";

  let { session }: { session: Session } = $props();

  let a3 = $state(false);
  let third = $state(false);
  let inch = $state(false);
  const query = $derived(
    new URLSearchParams({
      ...(session.row === undefined ? {} : { row: String(session.row) }),
      a3: String(a3),
      third_angle: String(third),
      inch: String(inch),
      person: person.name,
    }),
  );
  // another state is another sheet
  const file = $derived(`/api/jobs/${session.id}/callouts.pdf?${query}&at=${session.view?.state}`);
</script>

<div class="sheet">
  <p>
    For each mark where it is, how large, how deep, which way round, with which cutter, and a section through a letter;
    drawn on
    <ChoiceField
      value={a3 ? "a3" : "a4"}
      label="paper"
      choices={[
        { value: "a4", says: "A4" },
        { value: "a3", says: "A3" },
      ]}
      onset={(to) => (a3 = to === "a3")}
      after=","
    /> in
    <ChoiceField
      value={third ? "third" : "first"}
      label="projection"
      choices={[
        { value: "first", says: "first-angle projection" },
        { value: "third", says: "third-angle projection" },
      ]}
      onset={(to) => (third = to === "third")}
      after=","
    /> in
    <ChoiceField
      value={inch ? "inch" : "mm"}
      label="unit of the dimensions"
      choices={[
        { value: "mm", says: "mm" },
        { value: "inch", says: "inches" },
      ]}
      onset={(to) => (inch = to === "inch")}
      after="."
    />
    <a class="press first" href={file} download="{session.view?.job.name ?? 'job'}-callouts.pdf"
      >Download callouts.pdf</a
    >
  </p>
  {#if session.view && session.marks.some((m) => m.on)}
    <iframe src="{file}#navpanes=0" title="the callout sheet as it will be printed"></iframe>
  {:else}
    <p class="soft">No mark is on: there is nothing to call out.</p>
  {/if}
</div>

<style>
  .sheet {
    display: flex;
    flex-direction: column;
    height: 100%;
    padding: 4px 24px 18px;
  }
  p {
    margin: 8px 0;
    line-height: 1.8;
  }
  .press {
    display: inline-block;
    margin-left: 16px;
    text-decoration: none;
  }
  iframe {
    flex: 1;
    border: 1px solid var(--rim);
    border-radius: 4px;
    background: var(--sand);
  }
</style>
