<!-- Text of the marks in the row on show and over all rows, and what of that can be mistaken. -->
<script lang="ts">
  import type { Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import { go } from "../../router";
  import type { Session } from "../../session.svelte";

  let { session, said }: { session: Session; said?: Schemas["SaidView"] } = $props();

  /** More than anyone reads at once. */
  const MOST = 60;
  const rows = $derived(session.view?.job.roster.rows ?? []);
  const at = $derived(rows.findIndex((r) => r.id === session.view?.shown));
  const line = (text: string) => text.replaceAll("\n", " / ");
  const name = (id: string) => {
    const place = session.marks.findIndex((m) => m.id === id);
    return session.marks[place]?.name ?? `mark ${place + 1}`;
  };
  const number = (id: number) => rows.findIndex((r) => r.id === id) + 1;
</script>

<aside aria-label="Text of the marks">
  <h1>Text of the marks{at >= 0 ? ` in row ${at + 1}` : ""}</h1>
  {#if !said?.marks.length}
    <p class="quiet">
      No mark has a recipe yet. In <button class="word" onclick={() => go(session.id, "marks")}>Marks</button>, compose
      a mark's text from pieces; it then shows each row's values.
    </p>
  {:else}
    <dl>
      {#each said.marks as mark (mark.id)}
        <dt>{name(mark.id)}</dt>
        <dd>
          <button class="plainly says" onclick={() => go(session.id, "marks", { mark: mark.id })}
            >{line(mark.texts[Math.max(at, 0)] ?? "—")}</button
          >
          {#if mark.shortest && mark.longest && mark.widest}
            <span class="quiet">
              {#if rows.length < 2 || mark.same}
                {mark.widest.length.toFixed(2)} mm{rows.length > 1 ? ", the same in every row" : ""}
              {:else if [...mark.shortest].length === [...mark.longest].length}
                {[...mark.longest].length} characters in every row, at most {mark.widest.length.toFixed(2)} mm (“{line(
                  mark.widest.text,
                )}”)
              {:else}
                shortest “{line(mark.shortest)}”, longest “{line(mark.longest)}”, at most {mark.widest.length.toFixed(
                  2,
                )} mm (“{line(mark.widest.text)}”)
              {/if}
            </span>
          {/if}
        </dd>
      {/each}
    </dl>
  {/if}
  {#if said && (said.faults.length || said.cells.length)}
    <h2>To look at</h2>
    <ul>
      {#if said.cells.length}
        <li class="fails">
          <StateShape state="fails" />
          {said.cells.length === 1 ? "one cell doesn't" : `${said.cells.length} cells don't`} fit the column:
          <button class="word" onclick={() => session.show(said.cells[0].row)}>row {number(said.cells[0].row)}</button>, {said
            .cells[0].says}
        </li>
      {/if}
      {#each said.faults.slice(0, MOST) as fault, k (k)}
        <li class={fault.state}>
          <StateShape state={fault.state} />
          {#if fault.mark}<b>{name(fault.mark)}</b>:{/if}
          {fault.sentence}
          {#if fault.rows.length}
            <button class="word" onclick={() => session.show(fault.rows[0])}>row {number(fault.rows[0])}</button>
          {/if}
        </li>
      {/each}
    </ul>
    {#if said.faults.length > MOST}<p class="quiet">and {said.faults.length - MOST} more of these</p>{/if}
  {:else if said?.marks.length}
    <p><StateShape state="passes" /> No row can be misread.</p>
  {/if}
</aside>

<style>
  aside {
    overflow-y: auto;
    padding: 14px 20px;
    border-left: 1px solid var(--line);
    background: var(--plate);
  }
  h1 {
    margin: 0 0 10px;
    font-size: 16px;
  }
  h2 {
    margin: 18px 0 6px;
    font-size: 14px;
  }
  dl {
    margin: 0;
  }
  dt {
    font-size: 12px;
    color: var(--ink-soft);
  }
  dd {
    margin: 0 0 10px;
  }
  .says {
    display: block;
    padding: 0;
    font: 700 16px/1.35 var(--figure);
    text-align: left;
  }
  .says:hover {
    color: var(--pick);
  }
  .quiet {
    color: var(--ink-soft);
    line-height: 1.6;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    padding: 6px 0;
    border-top: 1px solid var(--line);
    line-height: 1.5;
  }
  .fails {
    color: var(--fail);
  }
  .marginal {
    color: var(--marginal);
  }
</style>
