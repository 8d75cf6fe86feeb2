<!-- What changes in steel that is cut already: the job as it is against one of its earlier states. -->
<script lang="ts">
  import { api, problem, type Schemas } from "../../api/client";
  import ChoiceField from "../../card/ChoiceField.svelte";
  import type { Session } from "../../session.svelte";
  import { moment } from "../../words";

  let { session }: { session: Session } = $props();

  let since = $state<string>();
  let earlier = $state.raw<{ value: string; says: string }[]>();
  let found = $state.raw<Schemas["SteelChangesView"]>();
  let trouble = $state("");
  let working = $state(false);

  const present = $derived(session.view && `${session.view.state} ${session.view.shown}`);

  // states that somebody would have cut steel after: what was recorded, then every step
  $effect(() => {
    if (present === undefined) return;
    const params = { path: { id: session.id } };
    void Promise.all([api.GET("/api/jobs/{id}/records", { params }), api.GET("/api/jobs/{id}/history", { params })])
      .then(([records, history]) => {
        const own = session.view?.state;
        const recorded = (records.data ?? []).map((r) => ({
          value: String(r.state),
          says: `record ${r.number}, ${moment(r.at)}, by ${r.by}`,
        }));
        const steps = (history.data ?? []).map((h) => ({
          value: String(h.state),
          says: `${moment(h.at)}, after: ${h.says}`,
        }));
        const taken = new Set(recorded.map((r) => r.value));
        const all = [...recorded, ...steps.filter((s) => !taken.has(s.value) && taken.add(s.value))];
        earlier = all.filter((s) => s.value !== String(own));
        if (!earlier.some((s) => s.value === since)) since = earlier[0]?.value;
        const wrong = records.error ?? history.error;
        trouble = wrong ? problem(wrong) : "";
      })
      .catch((e: unknown) => (trouble = problem(e)));
  });

  const wanted = $derived(since && present && `${since} ${present}`);
  $effect(() => {
    const asked = wanted;
    if (!asked || !since) return;
    working = true;
    const { path, query } = session.params;
    void api
      .GET("/api/jobs/{id}/states/{state}/steel", { params: { path: { ...path, state: Number(since) }, query } })
      .then(({ data, error }) => {
        if (asked !== wanted) return;
        found = data;
        trouble = data ? "" : problem(error);
      })
      .catch((e: unknown) => (trouble = problem(e)))
      .finally(() => {
        if (asked === wanted) working = false;
      });
  });

  const line = (text: string | null | undefined) => text?.replaceAll("\n", " / ");
  const changed = $derived(found?.marks.filter((m) => m.differs.length) ?? []);
  const same = $derived((found?.marks.length ?? 0) - changed.length);
  const of = $derived(session.row === undefined ? "" : `?row=${session.row}`);
</script>

<div class="changes" aria-label="what changes in the steel">
  {#if earlier && !earlier.length}
    <p class="soft">The job has no earlier state to hold it against.</p>
  {:else if earlier}
    <p>
      If the steel was cut after
      <ChoiceField
        value={since ?? ""}
        label="state that the steel was cut after"
        choices={earlier}
        onset={(to) => (since = to)}
        after=":"
      />
    </p>
  {/if}
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  {#if working}<p class="soft" data-busy>Comparing letter by letter …</p>{/if}
  {#if found && !working}
    {#if found.other_part}<p class="bad">
        The part is another one since, or was read otherwise: only the marks are compared.
      </p>{/if}
    <p>
      {changed.length ? "" : "Nothing changes in the steel."}
      {#if changed.length && same}<span class="soft">{same} of {found.marks.length} marks stay as they are.</span>{/if}
      {#if found.scale !== 1}<span class="soft">Sizes are the steel’s, × {found.scale.toFixed(4)}.</span>{/if}
    </p>
    <ul>
      {#each changed as mark (mark.mark)}
        <li>
          <div>
            <h2>
              {#if mark.then != null && mark.now != null && mark.then !== mark.now}{line(mark.then)} → {line(mark.now)}
              {:else}{line(mark.now ?? mark.then)}{/if}
              <small>{mark.differs.join(", ")}</small>
            </h2>
            <p>{mark.says}</p>
            <p class="soft">
              {#if mark.off.volume > 0}<span class="key off"></span> comes off{/if}
              {#if mark.on.volume > 0}<span class="key on"></span> put on{/if}
            </p>
          </div>
          {#if mark.off.volume > 0 || mark.on.volume > 0}
            <img
              src="/api/jobs/{session.id}/states/{found.from}/steel/{mark.mark}{of ? `${of}&` : '?'}at={found.state}"
              alt="{line(mark.now ?? mark.then)}: steel that comes off blue, steel that is put on red"
            />
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  .changes {
    overflow-y: auto;
    height: 100%;
    padding: 4px 24px 18px;
  }
  p {
    margin: 8px 0;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 480px;
    gap: 24px;
    padding: 12px 0;
    border-top: 1px solid var(--line);
  }
  h2 {
    font-size: 16px;
  }
  h2 small {
    margin-left: 8px;
    font-weight: 400;
  }
  img {
    width: 480px;
    height: 200px;
    object-fit: contain;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--table);
  }
  .key {
    display: inline-block;
    width: 11px;
    height: 11px;
    border-radius: 2px;
  }
  .off {
    background: var(--steel-off);
  }
  .on {
    margin-left: 10px;
    background: var(--steel-on);
  }
  .bad {
    color: var(--fail);
  }
</style>
