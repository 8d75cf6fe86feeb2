<!-- The cutters that the toolmaker has: what each leaves is told with every mark. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import NumberField from "../../card/NumberField.svelte";
  import type { Session } from "../../session.svelte";

  let { session }: { session: Session } = $props();

  type Cutter = Schemas["Cutter"];

  const cutters = $derived<Cutter[]>(session.view?.job.cutters ?? []);
  const put = (was: Cutter, change: Partial<Cutter>) =>
    session.change({ do: "set_cutter", was, cutter: { ...was, ...change } });
  /** What the next one begins with: one that is not there yet. */
  const fresh = (): Cutter => {
    const sizes = [0.5, 0.3, 0.2, 0.8, 1];
    const diameter = sizes.find((d) => !cutters.some((c) => c.diameter === d)) ?? 0.1 + cutters.length / 10;
    return { diameter, taper: 0, corner: 0, reach: null };
  };
</script>

<div class="cutters" role="group" aria-label="cutters">
  {#each cutters as cutter, at (at)}
    {@const which = `cutter ${at + 1}`}
    <p>
      A cutter of Ø <NumberField
        value={cutter.diameter}
        label="diameter of {which}"
        step={0.05}
        after=","
        onset={(diameter) => put(cutter, { diameter })}
      />
      taper
      <NumberField
        value={cutter.taper}
        label="taper of {which}"
        unit="°"
        step={1}
        after=" a side,"
        onset={(taper) => put(cutter, { taper })}
      />
      corner R
      <NumberField
        value={cutter.corner}
        label="corner radius of {which}"
        step={0.05}
        after=","
        onset={(corner) => put(cutter, { corner })}
      />
      {#if cutter.reach === null || cutter.reach === undefined}
        <button class="word" onclick={() => put(cutter, { reach: 3 })}>deep enough</button>,
      {:else}
        reach
        <NumberField
          value={cutter.reach}
          label="reach of {which}"
          step={0.5}
          after=","
          onset={(reach) => put(cutter, { reach })}
        />
      {/if}
      <button
        class="word"
        aria-label="remove {which}"
        onclick={() => void session.change({ do: "remove_cutter", cutter })}>remove</button
      >.
    </p>
  {/each}
  {#if cutters.length < 12}
    <button class="word" onclick={() => void session.change({ do: "add_cutter", cutter: fresh() })}
      >{cutters.length ? "another cutter" : "try a cutter you have"}</button
    >
    {#if !cutters.length}<span class="soft">: what it leaves is drawn red in the artwork, letter by letter.</span>{/if}
  {/if}
</div>

<style>
  p {
    margin: 2px 0;
  }
</style>
