<!-- Where the torch stands round the mark: dragged on a dial, or moved with the arrow keys. -->
<script lang="ts">
  import type { Lamp } from "./lamp.svelte";

  let { lamp }: { lamp: Lamp } = $props();

  const side = $derived(lamp.at?.side ?? 0);
  const height = $derived(lamp.at?.height ?? 0);

  const SIZE = 92;
  const RIM = 38;
  /** Lower, nothing but walls is lit; straight above there are no shadows. */
  const LOWEST = 5;
  const HIGHEST = 85;

  // from above: at the rim it lies on the ground, in the middle it stands overhead
  const far = $derived(RIM * Math.cos((height * Math.PI) / 180));
  const x = $derived(SIZE / 2 + far * Math.cos((side * Math.PI) / 180));
  const y = $derived(SIZE / 2 - far * Math.sin((side * Math.PI) / 180));
  const round = (degrees: number) => ((Math.round(degrees) % 360) + 360) % 360;
  const within = (degrees: number) => Math.min(HIGHEST, Math.max(LOWEST, Math.round(degrees)));

  function to(event: PointerEvent) {
    const [dx, dy] = [event.offsetX - SIZE / 2, SIZE / 2 - event.offsetY];
    const overhead = (Math.acos(Math.min(1, Math.hypot(dx, dy) / RIM)) * 180) / Math.PI;
    lamp.carry(round((Math.atan2(dy, dx) * 180) / Math.PI), within(overhead));
  }

  function down(event: PointerEvent & { currentTarget: Element }) {
    event.currentTarget.setPointerCapture(event.pointerId);
    to(event);
  }

  function key(event: KeyboardEvent) {
    const step = event.shiftKey ? 15 : 5;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [step, 0],
      ArrowRight: [-step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    lamp.carry(round(side + move[0]), within(height + move[1]));
    lamp.rest();
  }
</script>

<svg
  width={SIZE}
  height={SIZE}
  role="slider"
  tabindex="0"
  aria-label="torch: drag it round the mark, or use the arrow keys"
  aria-valuenow={side}
  aria-valuetext="from {side}° counter-clockwise of the reading direction, {height}° over the ground"
  onpointerdown={down}
  onpointermove={(event) => {
    if (event.buttons & 1) to(event);
  }}
  onpointerup={() => lamp.rest()}
  onkeydown={key}
>
  <circle class="ground" cx={SIZE / 2} cy={SIZE / 2} r={RIM} />
  <text x={SIZE / 2} y={SIZE / 2 + 5} text-anchor="middle">A</text>
  <line x1={SIZE / 2} y1={SIZE / 2} x2={x} y2={y} />
  <circle class="lamp" cx={x} cy={y} r="7" />
</svg>
<span>{height}° over the ground</span>

<style>
  svg {
    display: block;
    touch-action: none;
    cursor: grab;
    border-radius: 50%;
  }
  svg > * {
    pointer-events: none;
  }
  .ground {
    fill: color-mix(in srgb, var(--enamel) 80%, transparent);
    stroke: var(--rim);
    stroke-width: 2;
  }
  text {
    font-size: 15px;
    fill: var(--ink-soft);
  }
  line {
    stroke: var(--marginal);
    stroke-width: 1.5;
    stroke-dasharray: 3 3;
  }
  .lamp {
    fill: #ffd75e;
    stroke: var(--ink);
    stroke-width: 1.5;
  }
  span {
    padding: 0 5px;
    border-radius: 4px;
    background: color-mix(in srgb, var(--enamel) 75%, transparent);
    font-size: 12px;
  }
</style>
