<!-- Patterns of the shop: marks that are kept to be placed on other jobs with their ties. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { api, problem, type Mark, type Schemas } from "../api/client";
  import ChoiceField from "../card/ChoiceField.svelte";
  import { person } from "../frame/person.svelte";
  import { sheet } from "../pieces/theme";
  import type { Session } from "../session.svelte";
  import { many } from "../words";
  import Plate from "./Plate.svelte";

  let {
    session,
    mark,
    open = $bindable(),
    onapply,
  }: {
    session: Session;
    /** The picked mark. */
    mark?: Mark;
    open: boolean;
    /** Called with the pattern that goes on the face clicked next. */
    onapply: (pattern: Schemas["Pattern"]) => void;
  } = $props();

  let all = $state.raw<Schemas["PatternView"][]>([]);
  let name = $state("");
  let of = $state<"one" | "seat">("one");
  let trouble = $state("");

  const onSeat = $derived(session.marks.filter((m) => JSON.stringify(m.seat) === JSON.stringify(mark?.seat)));
  const kept = $derived(all.filter((p) => !p.gone));
  const gone = $derived(all.filter((p) => p.gone));

  async function look() {
    const { data, error } = await api.GET("/api/patterns");
    if (data) all = data;
    else trouble = problem(error);
  }

  $effect(() => {
    if (!open) return;
    trouble = "";
    void look();
  });

  async function keep(event: SubmitEvent) {
    event.preventDefault();
    if (!mark) return;
    const marks = of === "seat" ? onSeat.map((m) => m.id) : [mark.id];
    const { error } = await api.POST("/api/jobs/{id}/patterns", {
      params: { path: { id: session.id } },
      body: { author: person.name, name, marks },
    });
    trouble = error ? problem(error) : "";
    if (!error) name = "";
    await look();
  }

  async function apply(id: string) {
    const { data, error } = await api.GET("/api/patterns/{id}", { params: { path: { id } } });
    if (!data) {
      trouble = problem(error);
      return;
    }
    open = false;
    onapply(data);
  }

  async function put(id: string, gone: boolean) {
    const { error } = await api.POST("/api/patterns/{id}/gone", {
      params: { path: { id } },
      body: { author: person.name, gone },
    });
    trouble = error ? problem(error) : "";
    await look();
  }
</script>

<Modal bind:open title="Patterns of the shop" class={sheet.base} classes={{ header: sheet.header, body: sheet.body }}>
  {#if mark}
    <form onsubmit={keep}>
      Keep
      {#if onSeat.length > 1}
        <ChoiceField
          value={of}
          label="what is kept"
          choices={[
            { value: "one", says: `“${mark.text.replaceAll("\n", " / ")}”` },
            { value: "seat", says: `the ${onSeat.length} marks of its seat` },
          ]}
          onset={(to) => (of = to)}
        />
      {:else}
        “{mark.text.replaceAll("\n", " / ")}”
      {/if}
      as
      <input bind:value={name} aria-label="name of the pattern" placeholder="name of the pattern" maxlength="80" />
      <button class="press" disabled={!name.trim()}>keep it</button>
    </form>
  {/if}
  {#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
  <ul aria-label="patterns">
    {#each kept as pattern (pattern.id)}
      <li>
        <span class="plates">
          {#each pattern.plates.slice(0, 4) as plate (plate.id)}
            <span><Plate {plate} text={plate.id} /></span>
          {/each}
        </span>
        <span class="what">
          <b>{pattern.name}</b>
          <small>
            {many(pattern.plates.length, "mark")}, kept by {pattern.author} on {pattern.at.slice(0, 10)}{pattern.columns
              .length
              ? `; reads the roster's ${pattern.columns.join(", ")}`
              : ""}
          </small>
        </span>
        <button class="press" onclick={() => void apply(pattern.id)}>place it</button>
        <button class="word" onclick={() => void put(pattern.id, true)}>archive</button>
      </li>
    {:else}
      <li class="none">None yet{mark ? "" : ": pick the mark to make one of"}.</li>
    {/each}
  </ul>
  {#if gone.length}
    <p class="gone">
      Archived:
      {#each gone as pattern (pattern.id)}
        {pattern.name} <button class="word" onclick={() => void put(pattern.id, false)}>restore</button>{" "}
      {/each}
    </p>
  {/if}
</Modal>

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
  }
  input {
    flex: 1;
    min-width: 150px;
    padding: 4px 8px;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--enamel);
    font: inherit;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 8px 0;
    border-top: 1px solid var(--line);
  }
  .plates {
    display: grid;
    flex: none;
    gap: 3px;
    width: 120px;
  }
  .plates > span {
    height: 26px;
    border: 1px solid var(--rim);
    border-radius: 6px;
    background: var(--plate);
  }
  .what {
    flex: 1;
  }
  .what small {
    display: block;
  }
  .none,
  .gone {
    color: var(--ink-soft);
  }
  .trouble {
    color: var(--fail);
  }
</style>
