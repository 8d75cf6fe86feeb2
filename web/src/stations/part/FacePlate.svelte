<!-- The pressed face: what it is, what the tool does to it there, and what it can be used for. -->
<script lang="ts">
  import { api, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import TextField from "../../card/TextField.svelte";
  import type { Session } from "../../session.svelte";
  import type { Point } from "../../view3d/table";
  import { many, signed, steelKey, steelWord } from "../../words";
  import { keepOutKinds, type Hand, type KeepOutKind, type Steel } from "./hand";

  let {
    session,
    face,
    point,
    hand = $bindable(),
    onmark,
  }: {
    session: Session;
    face: Schemas["FaceView"];
    /** Where it was pressed; a face chosen from the list has no such place. */
    point?: Point;
    hand: Hand | undefined;
    onmark: () => void;
  } = $props();

  const view = $derived(session.view);
  const tool = $derived(view?.job.tool);
  const sound = $derived(!!(view?.part.soundness.solid || view?.part.soundness.surface_body));
  let probe = $state.raw<Schemas["ProbeView"]>();
  const wanted = $derived(JSON.stringify([point, tool, view?.part.mesh]));

  $effect(() => {
    const asked = wanted;
    if (!point) {
      probe = undefined;
      return;
    }
    const [x, y, z] = point;
    void api
      .GET("/api/jobs/{id}/probe", { params: { path: { id: session.id }, query: { x, y, z } } })
      .then(({ data }) => {
        if (asked === wanted) probe = data;
      });
  });

  const steels = $derived<Steel[]>([
    ...(tool?.pull ? [{ steel: "fixed" } as const, { steel: "moving" } as const] : []),
    ...(tool?.slides ?? []).map((s) => ({ steel: "slide", name: s.name }) as const),
  ]);

  const name = $derived(view?.job.face_names.find((n) => n.face === face.face)?.name ?? "");

  /** The place in the list where this face as a whole was last assigned to a steel; −1: nowhere. */
  const given = $derived(
    tool?.assigned.findLastIndex((g) => g.area.kind === "faces" && g.area.faces.includes(face.face)) ?? -1,
  );

  /** Gives the face to a steel, or leaves it to the one that frees it. */
  async function form(key: string) {
    if (given >= 0) await session.change({ do: "unassign", at: given });
    const to = steels.find((s) => steelKey(s) === key);
    if (to) await session.change({ do: "assign", area: { kind: "faces", faces: [face.face] }, to });
  }

  /** The keep-out that this face belongs to as a whole. */
  const keepOut = $derived(tool?.keep_outs.find((k) => k.area.kind === "faces" && k.area.faces.includes(face.face)));

  async function stayOut(kind: KeepOutKind | "free") {
    const area = { kind: "faces" as const, faces: [face.face] };
    if (keepOut?.area.kind === "faces") {
      const faces = keepOut.area.faces.filter((f) => f !== face.face);
      if (faces.length)
        await session.change({
          do: "set_keep_out",
          name: keepOut.name,
          keep_out: { ...keepOut, area: { kind: "faces", faces } },
        });
      else await session.change({ do: "remove_keep_out", name: keepOut.name });
    }
    if (kind !== "free") await session.change({ do: "add_keep_out", kind, area });
  }

  /** A brush that paints a face of this size with a few strokes, mm. */
  const brush = $derived(Math.max(0.1, Number((Math.sqrt(face.area) / 20).toPrecision(1))));

  const axis = $derived(face.kind === "plane" ? "normal" : "axis");
</script>

<section class="face" aria-label="the picked face">
  <p>
    <TextField
      value={name}
      placeholder="give it a name"
      label="name of the face"
      onset={(name) => session.change({ do: "name_face", face: face.face, name })}
    />
    <strong>{face.says}</strong>
  </p>
  <p class="soft">
    {face.area.toFixed(1)} mm², {many(face.facets, "facet")}, face {face.face}. Found wrongly?
    <button class="word" onclick={() => (hand = { does: "join", face: face.face })}>join</button> it with neighbours{#if face.facets > 1},
      <button class="word" onclick={() => (hand = { does: "divide", face: face.face, radius: brush })}>divide</button> it{/if}.
  </p>
  {#if probe}
    <p>
      {#if probe.draft != null}
        Here: {probe.free ? "" : "undercut, "}draft <b>{signed(probe.draft, 2)}°</b>,
        {probe.steel ? steelWord(probe.steel) : "no steel releases it"};
      {/if}
      {#if probe.ray != null}
        wall <b>{probe.ray.toFixed(2)}</b> mm by ray{#if probe.sphere != null}, <b>{probe.sphere.toFixed(2)}</b> by sphere{/if}.
      {:else}{probe.draft != null ? "the" : "The"} part is open here, so it has no wall.{/if}
    </p>
  {/if}
  <p>
    Lettering
    <ChoiceField
      value={keepOut?.kind ?? "free"}
      label="may lettering go on this face"
      choices={[
        { value: "free" as const, says: "may go on it" },
        ...keepOutKinds.map((k) => ({ value: k.value, says: `keeps out: ${k.says}` })),
      ]}
      onset={(kind) => void stayOut(kind)}
    />{#if steels.length > 2}, formed by
      <ChoiceField
        value={given >= 0 && tool ? steelKey(tool.assigned[given].to) : ""}
        label="steel that forms this face"
        choices={[
          { value: "", says: "what releases it" },
          ...steels.map((s) => ({ value: steelKey(s), says: steelWord(s) })),
        ]}
        onset={(key) => void form(key)}
      />{/if}.
  </p>
  <div>
    <button class="press first" disabled={!sound} onclick={onmark}>mark it here</button>
    <button
      class="press"
      disabled={!face.direction}
      onclick={() => session.change({ do: "pull_from_face", face: face.face })}>pull along its {axis}</button
    >
    <button
      class="press"
      disabled={!face.direction}
      onclick={() => session.change({ do: "add_slide_from_face", face: face.face })}>slide along its {axis}</button
    >
    <button
      class="press"
      disabled={!tool?.pull || !point}
      onclick={() => point && session.change({ do: "parting_at", point })}>parting plane here</button
    >
    <button
      class="press"
      disabled={!tool?.pull}
      title="the toolmaker measures from its middle, of a hole or a boss from its axis"
      onclick={() => session.change({ do: "datum_at_face", face: face.face })}>zero of the tool here</button
    >
  </div>
</section>

<style>
  .face {
    position: absolute;
    left: 18px;
    bottom: 66px;
    padding: 10px 14px;
    border: 1px solid var(--rim);
    border-radius: 10px;
    background: var(--enamel);
  }
  p {
    margin: 0 0 3px;
    line-height: 1.5;
  }
  div {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 8px;
  }
</style>
