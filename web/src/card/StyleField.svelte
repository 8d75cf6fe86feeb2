<!-- The style of a mark: lettering and relief under one name, shared by marks and changed once. -->
<script lang="ts">
  import type { Mark } from "../api/client";
  import type { Session } from "../session.svelte";
  import { called, many } from "../words";
  import TextField from "./TextField.svelte";
  import ChoiceField from "./ChoiceField.svelte";

  let { session, mark }: { session: Session; mark: Mark } = $props();

  const NONE = "";
  const NEW = "\u0000";
  let naming = $state(false);
  let name = $state("");

  const known = $derived([...new Set(session.marks.flatMap((m) => m.style ?? []))].sort());
  const others = $derived(session.marks.filter((m) => m.id !== mark.id && m.style && m.style === mark.style).length);

  function choose(style: string) {
    naming = style === NEW;
    if (naming) name = "";
    else void session.set(mark.id, { style: style === NONE ? null : style });
  }

  async function keep() {
    const wanted = name.trim();
    if (wanted === "" || (await session.set(mark.id, { style: wanted }))) naming = false;
  }
</script>

<p>
  Called
  <TextField
    value={mark.name ?? ""}
    label="name of the mark"
    placeholder="“{called({ ...mark, name: undefined })}”"
    onset={(name) => session.set(mark.id, { name: name || null })}
  />, in
  <TextField
    value={mark.group ?? ""}
    label="group of the mark"
    placeholder="no group"
    onset={(group) => session.set(mark.id, { group: group || null })}
  />.
</p>
<p>
  {#if naming}
    Its lettering and relief are called
    <!-- svelte-ignore a11y_autofocus -->
    <input
      aria-label="name of the style"
      autofocus
      maxlength="60"
      bind:value={name}
      onkeydown={(e) => {
        if (e.key === "Enter") void keep();
        if (e.key === "Escape") naming = false;
      }}
      onblur={() => void keep()}
    />
  {:else}
    Lettering and relief
    <ChoiceField
      value={mark.style ?? NONE}
      label="style"
      choices={[
        { value: NONE, says: "of their own" },
        ...known.map((m) => ({ value: m, says: `in the style “${m}”` })),
        { value: NEW, says: "under a new name …" },
      ]}
      after={others ? "" : "."}
      onset={choose}
    />{#if others}, like {many(others, "other mark")}: what is changed above changes there too.{/if}
  {/if}
</p>

<style>
  p {
    margin: 0;
    line-height: 1.8;
  }
  input {
    width: 11em;
    border: 0;
    border-bottom: 1.5px solid var(--pick);
    background: none;
    color: var(--ink);
    font: inherit;
    font-weight: 700;
  }
</style>
