<!-- `?` lists the keys, and what our own words mean. -->
<script lang="ts">
  import { Modal } from "flowbite-svelte";
  import { sheet } from "../pieces/theme";
  import { tips } from "../words";

  let open = $state(false);

  const keys = [
    ["1 2 3 4 5", "go to Part, Roster, Marks, Inspect, Hand off"],
    ["n", "add a mark: then click its face"],
    ["j k", "next mark, previous mark"],
    ["a, Ctrl click, Shift click", "pick all marks; one more mark, or fewer; all up to a mark"],
    ["[ ]", "show the row of the roster before or after"],
    ["arrow keys, Enter, F2", "in the roster: go to a cell, change it; typing begins at once"],
    ["t", "type the picked mark's text"],
    ["o", "switch the picked mark off or on"],
    ["f", "look at the picked mark square-on"],
    ["w", "see the whole part"],
    [
      "v",
      "choose a view: then f front, b back, l left, r right, t top, u underneath, p along the pull, v the last one",
    ],
    ["c m l", "at Inspect: the cut, the map of the pressed check, the torch"],
    ["arrow keys", "on the strip: move the mark by 0.1 mm, with Shift by 1 mm; in a number: step it"],
    ["Shift", "while dragging on the strip: no snapping"],
    ["Alt ↑ ↓", "on a plate: move it in the rack"],
    ["Ctrl Z", "undo"],
    ["Ctrl Shift Z", "redo"],
    ["?", "this list of keys and words"],
  ];

  function pressed(event: KeyboardEvent) {
    const target = event.target as HTMLElement;
    if (event.key === "?" && !target.matches("input, textarea, select")) open = !open;
  }
</script>

<svelte:window onkeydown={pressed} />

<Modal bind:open title="Keys and words" class={sheet.base} classes={{ header: sheet.header, body: sheet.body }}>
  <dl>
    {#each keys as [key, does] (key)}
      <dt>{key}</dt>
      <dd>{does}</dd>
    {/each}
  </dl>
  <h3>Words</h3>
  <ul>
    {#each Object.entries(tips) as [word, tip] (word)}
      <li>{tip}</li>
    {/each}
  </ul>
</Modal>

<style>
  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 5px 18px;
    margin: 0;
  }
  dt {
    font-weight: 700;
  }
  dd {
    margin: 0;
  }
  h3 {
    margin: 16px 0 5px;
    font-size: 15px;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
    line-height: 1.4;
  }
  li {
    margin-bottom: 5px;
  }
</style>
