/** What is seen of the strip: a place, a scale, and the way from mm to pixels. */
export interface Seen {
  x: number;
  y: number;
  scale: number;
}

/** Width of the rulers, pixels. */
export const RULER = 26;

/** The window onto the strip. `near` is what is seen while nothing was chosen. */
export class Viewport {
  wide = $state(0);
  tall = $state(0);
  /** Chosen by hand. */
  chosen = $state<Seen>();
  /** While a mark is dragged the paper lies still. */
  still = $state<Seen>();
  readonly #near: () => Seen;

  constructor(near: (viewport: Viewport) => Seen) {
    this.#near = () => near(this);
  }

  readonly seen = $derived.by(() => this.chosen ?? this.still ?? this.#near());
  readonly matrix = $derived.by(() => `matrix(${this.seen.scale} 0 0 ${-this.seen.scale} ${this.x(0)} ${this.y(0)})`);
  /** Hatching keeps its width whatever the scale. */
  readonly shade = $derived.by(() => `scale(${1 / this.seen.scale} ${-1 / this.seen.scale})`);

  x(mm: number): number {
    return RULER + (this.wide - RULER) / 2 + (mm - this.seen.x) * this.seen.scale;
  }

  y(mm: number): number {
    return RULER + (this.tall - RULER) / 2 - (mm - this.seen.y) * this.seen.scale;
  }

  /** Least and greatest mm that are seen: along, and up. */
  get span(): [[number, number], [number, number]] {
    const { x, y, scale } = this.seen;
    const [across, upward] = [(this.wide - RULER) / 2 / scale, (this.tall - RULER) / 2 / scale];
    return [
      [x - across, x + across],
      [y - upward, y + upward],
    ];
  }

  /** All between two corners, mm. */
  fit(low: number[], high: number[]): Seen {
    const across = (this.wide - RULER - 24) / (high[0] - low[0]);
    const upward = (this.tall - RULER - 24) / (high[1] - low[1]);
    return { x: (low[0] + high[0]) / 2, y: (low[1] + high[1]) / 2, scale: Math.max(Math.min(across, upward), 0.01) };
  }

  /** Moved by so many pixels from what was seen. */
  pan(from: Seen, right: number, down: number) {
    const { scale } = this.seen;
    this.chosen = { x: from.x - right / scale, y: from.y + down / scale, scale };
  }

  /** Larger or smaller, the place under the pointer stays. */
  wheel(event: WheelEvent) {
    event.preventDefault();
    const bounds = (event.currentTarget as Element).getBoundingClientRect();
    const px = event.clientX - bounds.left - RULER - (this.wide - RULER) / 2;
    const py = event.clientY - bounds.top - RULER - (this.tall - RULER) / 2;
    const { x, y, scale: before } = this.seen;
    const scale = Math.min(400, Math.max(0.2, before * Math.exp(-event.deltaY * 0.0015)));
    this.chosen = { x: x + px / before - px / scale, y: y - py / before + py / scale, scale };
  }
}
