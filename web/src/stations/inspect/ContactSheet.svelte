<!-- A mark as it looks in every row, to be looked through quickly: raking light from above left. -->
<script lang="ts">
  import type { Mark, Schemas } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { called } from "../../words";

  let {
    session,
    mark,
    rows,
    number,
    onlook,
  }: {
    session: Session;
    mark: Mark;
    rows: Schemas["RowView"][];
    /** Of a row, from 1 on. */
    number: (row: number) => number;
    onlook: (row: number, mark: string, check?: string | null) => void;
  } = $props();

  const ABOVE_LEFT = 3;
  /** Each is built for it: so many at a time, so that changes don't wait. */
  const AT_ONCE = 2;
  let done = $state(0);

  const key = $derived(`${mark.id} ${session.view?.state}`);
  $effect(() => {
    void key;
    done = 0;
  });

  const address = (row: number) =>
    `/api/jobs/${session.id}/reading/picture?mark=${encodeURIComponent(mark.id)}&light=${ABOVE_LEFT}&row=${row}&state=${session.view?.state}`;
</script>

{#key key}
  <ul aria-label="pictures of “{called(mark)}”">
    {#each rows as row, at (row.row)}
      {@const found = row.marks.find((m) => m.mark === mark.id)}
      <li>
        <button class="plainly {found?.state ?? ''}" onclick={() => onlook(row.row, mark.id, found?.check)}>
          <span class="frame">
            {#if at < done + AT_ONCE}
              <img
                src={address(row.row)}
                alt="row {number(row.row)}"
                onload={() => (done += 1)}
                onerror={() => (done += 1)}
              />
            {/if}
          </span>
          <small>
            {number(row.row)}
            {found?.text.replaceAll("\n", " / ") || "no text"}
            {#if found?.state && found.state !== "passes"}<StateShape state={found.state} size={9} />{/if}
          </small>
        </button>
      </li>
    {/each}
  </ul>
{/key}

<style>
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 8px;
    margin: 0 0 14px;
    padding: 0;
    list-style: none;
  }
  button {
    width: 100%;
    padding: 3px;
    border: 1px solid var(--line);
    border-radius: 6px;
    text-align: left;
  }
  button:hover {
    background: var(--plate);
  }
  .frame {
    display: grid;
    height: 76px;
    place-items: center;
    border-radius: 4px;
    background: #9e9e9e;
  }
  img {
    max-width: 100%;
    max-height: 76px;
  }
  small {
    display: block;
    overflow: hidden;
    font-size: 12px;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .fails {
    border-color: var(--fail);
  }
  .marginal {
    border-color: var(--marginal);
  }
</style>
