<!-- The scale of a map: little is dark, much is pale; hatched where the limit is not kept, with the limit's line. -->
<script lang="ts">
  let {
    top,
    limit,
    unit,
    most = false,
  }: {
    top: number;
    limit: number;
    unit: string;
    /** The limit is a most. */
    most?: boolean;
  } = $props();

  const gap = $derived(unit === "°" ? "" : " ");
  const at = $derived(Math.min(100, (100 * limit) / top));
</script>

<div class="scale">
  <div class="short" style:left="{most ? at : 0}%" style:width="{most ? 100 - at : at}%"></div>
  <div class="line" style:left="{at}%"></div>
</div>
<div class="ends">
  <span>{at < 18 ? "" : "0"}</span>
  <span class="limit" style:left="max({at}%, 26px)">{limit.toFixed(limit % 1 ? 2 : 1)}{gap}{unit}</span>
  <span>{top.toFixed(1)}{gap}{unit} and more</span>
</div>

<style>
  .scale {
    position: relative;
    height: 12px;
    border-radius: 3px;
    background: linear-gradient(in oklab 90deg, var(--scale-little), var(--scale-much));
  }
  .short {
    position: absolute;
    height: 100%;
    background: repeating-linear-gradient(135deg, var(--fail) 0 2px, transparent 2px 7px);
  }
  .line {
    position: absolute;
    top: -3px;
    bottom: -3px;
    width: 2px;
    background: var(--ink);
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
</style>
