<!-- The frame of a page that is of no one job: the maker's plate, who works here, the way to the shop's things. -->
<script lang="ts">
  import type { Snippet } from "svelte";
  import MakersPlate from "../frame/MakersPlate.svelte";
  import { person } from "../frame/person.svelte";

  let { children }: { children: Snippet } = $props();
</script>

<header>
  <MakersPlate />
  <nav>
    <a href="/shop" title="time zone, lettering faces, who did what with the shop's things">shop</a>
    <button class="plainly" title="click to change your name" onclick={() => person.set("")}>{person.name}</button>
  </nav>
</header>
<main>{@render children()}</main>

<style>
  header {
    display: flex;
    justify-content: space-between;
    align-items: center;
    height: 52px;
    padding: 0 16px 0 13px;
    background: var(--rim);
    color: var(--plate);
  }
  nav {
    display: flex;
    gap: 20px;
    align-items: baseline;
  }
  a {
    color: inherit;
  }
  main {
    max-width: 1180px;
    margin: 0 auto;
    padding: 22px 28px 60px;
  }
</style>
