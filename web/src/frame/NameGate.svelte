<!-- Who makes the changes? Asked once. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { sheet } from "../pieces/theme";
  import { person } from "./person.svelte";

  let name = $state("");

  function take(event: SubmitEvent) {
    event.preventDefault();
    if (name.trim()) person.set(name);
  }
</script>

<Modal open permanent title="Your name" class={sheet.base} classes={{ header: sheet.header, body: sheet.body }}>
  <p>Every change you make carries your name, so that others see who did it. It is asked once in this browser.</p>
  <form onsubmit={take}>
    <!-- svelte-ignore a11y_autofocus -->
    <input
      id="person"
      aria-label="your name"
      maxlength="80"
      autocomplete="name"
      placeholder="E. Marrow"
      autofocus
      bind:value={name}
    />
    <button class="press first" disabled={!name.trim()}>Begin</button>
  </form>
</Modal>

<style>
  form {
    display: flex;
    gap: 10px;
  }
  input {
    flex: 1;
    padding: 5px 9px;
    border: 1px solid var(--rim-soft);
    border-radius: 7px;
    background: var(--enamel);
    color: var(--ink);
    font: inherit;
  }
</style>
