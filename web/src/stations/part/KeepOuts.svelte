<!-- Keep-outs: where no lettering may go, and how far it stays away. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import NumberField from "../../card/NumberField.svelte";
  import TextField from "../../card/TextField.svelte";
  import type { Session } from "../../session.svelte";
  import { many } from "../../words";
  import { keepOutKinds, type Hand, type KeepOut, type KeepOutKind } from "./hand";

  let { session, told, hand = $bindable() }: { session: Session; told?: Schemas["ToolView"]; hand?: Hand } = $props();

  const keepOuts = $derived(session.view?.job.tool.keep_outs ?? []);
  let kind = $state<KeepOutKind>("ejector_pin");

  const set = (k: KeepOut, changes: Partial<KeepOut>) =>
    session.change({ do: "set_keep_out", name: k.name, keep_out: { ...k, ...changes } });
</script>

<section>
  <h3>keep-outs</h3>
  {#each keepOuts as k, at (k.name)}
    <div class="row">
      <p>
        <TextField value={k.name} label="name of the keep-out" onset={(name) => set(k, { name })} />:
        <ChoiceField
          value={k.kind}
          label="kind of {k.name}"
          choices={keepOutKinds}
          onset={(kind) => void set(k, { kind })}
          after=","
        />
        {#if k.area.kind === "circle"}
          {@const area = k.area}
          radius <NumberField
            value={area.radius}
            label="radius of {k.name}"
            onset={(radius) => set(k, { area: { ...area, radius } })}
            after=","
          />
        {:else if k.area.kind === "faces"}{many(k.area.faces.length, "face")},
        {:else}painted,{/if}
        marks stay <NumberField
          value={told?.keep_outs[at]?.margin ?? k.margin ?? 0}
          label="margin of {k.name}"
          onset={(margin) => set(k, { margin })}
        /> away
      </p>
      <p class="soft">
        {#if told?.keep_outs[at]}{told.keep_outs[at].area.toFixed(1)} mm², margin {told.keep_outs[at].source};{/if}
        {#if k.margin != null}<button class="word" onclick={() => set(k, { margin: null })}>as the limits say</button
          >,{/if}
        {#if k.area.kind === "painted"}
          <button
            class="word"
            onclick={() => (hand = { does: "paint", radius: 2, rub: false, into: { keepOut: k.name } })}>paint</button
          >,
        {/if}
        <button class="word" onclick={() => session.change({ do: "remove_keep_out", name: k.name })}>remove</button>
      </p>
    </div>
  {/each}
  <p>
    {keepOuts.length ? "Another," : "Where must no lettering go? Click a face and say so, or set one"} for
    <ChoiceField value={kind} label="kind of the new keep-out" choices={keepOutKinds} onset={(k) => (kind = k)} />
    as
    <button class="word" onclick={() => (hand = { does: "circle", kind, radius: kind === "gate" ? 1.5 : 2.5 })}
      >a circle</button
    >
    or
    <button class="word" onclick={() => (hand = { does: "paint", radius: 2, rub: false, into: { kind } })}
      >painted</button
    >.
  </p>
</section>

<style>
  .row {
    margin-bottom: 5px;
  }
  .row p {
    margin: 0;
  }
  .soft .word {
    font-weight: 400;
  }
</style>
