<!-- What belongs to the shop and to no job: by whose midnight days change, lettering faces and their versions, who did what. -->
<script lang="ts">
  import { onMount } from "svelte";
  import { api, problem, type Schemas } from "../api/client";
  import { listen } from "../frame/events";
  import { person } from "../frame/person.svelte";
  import { day, many, moment } from "../words";
  import Page from "./Page.svelte";

  let shop = $state.raw<Schemas["Shop"]>();
  let trouble = $state("");
  let typed = $state<string>();

  async function load() {
    try {
      const { data, error } = await api.GET("/api/shop");
      if (data) shop = data;
      trouble = data ? "" : problem(error);
    } catch (e) {
      trouble = problem(e);
    }
  }

  onMount(() => {
    void load();
    return listen(
      (told) => {
        if (told.what === "shop") void load();
      },
      () => void load(),
    );
  });

  async function ask(question: Promise<{ error?: unknown }>) {
    try {
      const { error } = await question;
      const said = error ? problem(error) : "";
      await load();
      trouble = said;
      return !said;
    } catch (e) {
      trouble = problem(e);
      return false;
    }
  }

  async function set(event?: Event) {
    event?.preventDefault();
    const zone = typed?.trim();
    if (!shop || typed === undefined || zone === (shop.zone ?? "")) return;
    const body = { author: person.name, zone: zone || null, seen: shop.zone_version };
    if (await ask(api.PUT("/api/shop/zone", { body }))) typed = undefined;
  }

  const faces = $derived([...new Set(shop?.faces.map((f) => f.name))]);
  const versions = (name: string) => shop?.faces.filter((f) => f.name === name) ?? [];

  async function again(of: Schemas["FaceVersion"], newest: number) {
    const { data, error } = await api.GET("/api/own-face", {
      params: { query: { name: of.name, version: of.version } },
    });
    if (!data) trouble = problem(error);
    else await ask(api.POST("/api/own-face", { body: { author: person.name, face: data, seen: newest } }));
  }

  const put = (name: string, gone: boolean) =>
    ask(api.POST("/api/own-face/gone", { body: { author: person.name, name, gone } }));
</script>

<svelte:head><title>Shop · Tin Badge</title></svelte:head>

<Page>
  <p><a class="word" href="/">all jobs</a></p>
  <h1>Shop</h1>
  {#if trouble}<p class="bad" role="alert">{trouble}</p>{/if}
  {#if shop}
    <section aria-label="days">
      <h2>Days</h2>
      <form onsubmit={set}>
        Date codes show the day it is in
        <input
          list="zones"
          aria-label="time zone"
          placeholder="the machine’s time zone"
          value={typed ?? shop.zone ?? ""}
          oninput={(e) => (typed = e.currentTarget.value)}
          onchange={() => void set()}
          spellcheck="false"
        />: {day(`${shop.day}T12:00`)}, {shop.clock}.
        {#if shop.zone}
          <button
            type="button"
            class="word"
            onclick={() => {
              typed = "";
              void set();
            }}>take the machine’s</button
          >
        {/if}
      </form>
      <datalist id="zones">
        {#each shop.zones as zone (zone)}<option value={zone}></option>{/each}
      </datalist>
    </section>
    <section aria-label="lettering faces">
      <h2>Lettering faces of your own</h2>
      <ul>
        {#each faces as name (name)}
          {@const all = versions(name)}
          <li>
            <b>{name}</b>{all[0].gone ? ", archived" : ""}
            <button class="word" onclick={() => void put(name, !all[0].gone)}
              >{all[0].gone ? "restore" : "archive"}</button
            >
            {#each all as face (face.version)}
              <small>
                version {face.version}: {many(face.letters, "letter")}, kept by {face.author}, {moment(face.at)}
                {#if face.version !== all[0].version}
                  <button class="word" onclick={() => void again(face, all[0].version)}>bring it back</button>
                {/if}
              </small>
            {/each}
          </li>
        {:else}
          <li class="soft">None yet. In a mark’s card, choose the lettering face and take letters from a drawing.</li>
        {/each}
      </ul>
    </section>
    <section aria-label="what was done">
      <h2>Who did what</h2>
      <ol>
        {#each shop.steps as step (step.id)}
          <li><time datetime={step.at}>{moment(step.at)}</time><span>{step.author}</span><span>{step.says}</span></li>
        {:else}
          <li class="soft">Nothing yet: faces, patterns and sheets of limits that are kept are told here.</li>
        {/each}
      </ol>
    </section>
  {/if}
</Page>

<style>
  h1 {
    margin: 0 0 6px;
    font-size: 21px;
  }
  h2 {
    margin: 26px 0 6px;
    font-size: 16px;
  }
  input {
    width: 210px;
    padding: 3px 8px;
    border: 1px solid var(--line);
    border-radius: 7px;
    background: var(--plate);
    color: var(--ink);
    font: inherit;
  }
  ul,
  ol {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  ul li {
    padding: 7px 12px;
    border-top: 1px solid var(--line);
    background: var(--plate);
  }
  ol li {
    display: grid;
    grid-template-columns: 190px 150px 1fr;
    gap: 0 14px;
    padding: 4px 12px;
    border-top: 1px solid var(--line);
    background: var(--plate);
  }
  ol li.soft {
    display: block;
  }
  small {
    display: block;
    font-size: 12.5px;
    color: var(--ink-soft);
  }
  .bad {
    color: var(--fail);
  }
</style>
