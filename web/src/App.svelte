<script lang="ts">
  import { Router } from "sv-router";
  import "./router";
  import Keys from "./frame/Keys.svelte";
  import NameGate from "./frame/NameGate.svelte";
  import { person } from "./frame/person.svelte";
</script>

<Router />
<Keys />
{#if !person.name}<NameGate />{/if}
