<!-- What the colours of a map mean: the scale with its limit, or the steels. -->
<script lang="ts">
  import { steelKey, steelWord } from "../../words";
  import type { Schemas } from "../../api/client";
  import Scale from "../../pieces/Scale.svelte";
  import { STEEL_TOKENS } from "../../view3d/map";

  let {
    show,
    top,
    limit,
    told,
  }: { show: "draft" | "steel" | "ray" | "sphere" | "change"; top: number; limit: number; told?: Schemas["ToolView"] } =
    $props();

  const unit = $derived(show === "draft" ? "°" : "mm");
</script>

<figure aria-label="what the colours mean">
  {#if show === "steel"}
    <ul>
      {#each told?.steels ?? [] as s, k (steelKey(s.steel))}
        <li>
          <i style:background="var({STEEL_TOKENS[Math.min(k, STEEL_TOKENS.length - 1)]})"></i>
          {steelWord(s.steel)}
          <span class="soft">{s.area.toFixed(0)} mm²</span>
        </li>
      {/each}
      <li><i class="hatched"></i> undercut <span class="soft">{told?.caught.area.toFixed(0) ?? 0} mm²</span></li>
    </ul>
  {:else if show === "change"}
    <div class="scale"></div>
    <div class="ends">
      <span>−{top.toFixed(2)} mm</span><span class="limit" style:left="50%">0</span><span>+{top.toFixed(2)} mm</span>
    </div>
    <p class="soft">how far the surface lies inside or outside the earlier revision's</p>
  {:else}
    <Scale {top} {limit} {unit} />
    <p class="soft">
      {show === "draft"
        ? "draft against the pull that releases each place"
        : show === "ray"
          ? "wall by ray"
          : "wall by sphere, the largest that fits"}; hatched below the limit{show === "draft"
        ? ", red where undercut"
        : ""}
    </p>
  {/if}
</figure>

<style>
  figure {
    position: absolute;
    right: 14px;
    top: 12px;
    width: 250px;
    margin: 0;
    padding: 9px 12px 7px;
    border: 1px solid var(--line);
    border-radius: 9px;
    background: rgb(from var(--enamel) r g b / 0.92);
    font-size: 12px;
  }
  .scale {
    position: relative;
    height: 12px;
    border-radius: 3px;
    background: linear-gradient(in oklab 90deg, var(--scale-little), var(--scale-much));
  }
  .ends {
    position: relative;
    display: flex;
    justify-content: space-between;
    margin-top: 3px;
  }
  .limit {
    position: absolute;
    font-weight: 700;
    transform: translateX(-50%);
  }
  p {
    margin: 3px 0 0;
    line-height: 1.35;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    display: flex;
    gap: 7px;
    align-items: center;
  }
  li .soft {
    margin-left: auto;
  }
  i {
    width: 14px;
    height: 14px;
    border: 1px solid var(--rim-soft);
    border-radius: 3px;
  }
  .hatched {
    background: repeating-linear-gradient(135deg, var(--fail) 0 4px, var(--part) 4px 6px);
  }
</style>
