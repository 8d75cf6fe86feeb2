<!-- Plain signs to put into a text; every lettering face has them. -->
<script lang="ts">
  let { onpick }: { onpick: (sign: string) => void } = $props();

  const signs: [string, string][] = [
    ["↑", "arrow up"],
    ["↓", "arrow down"],
    ["→", "arrow right"],
    ["←", "arrow left"],
    ["△", "this side up"],
    ["⏚", "earth"],
    ["⊕", "plus pole"],
    ["⊖", "minus pole"],
    ["♳", "resin 1, PET"],
    ["♴", "resin 2, PE-HD"],
    ["♵", "resin 3, PVC"],
    ["♶", "resin 4, PE-LD"],
    ["♷", "resin 5, PP"],
    ["♸", "resin 6, PS"],
    ["♹", "resin 7, other"],
  ];
</script>

<select
  class="offer"
  aria-label="insert a sign"
  value=""
  onchange={(e) => {
    const sign = e.currentTarget.value;
    e.currentTarget.value = "";
    onpick(sign);
  }}
>
  <option value="" disabled>sign …</option>
  {#each signs as [sign, says] (sign)}<option value={sign}>{sign} {says}</option>{/each}
</select>
