/** Ticks of a ruler between two coordinates, mm: about one figure each 60 pixels, in steps of 1, 2, 5. */
export interface Tick {
  at: number;
  label?: string;
}

export function ticks(from: number, to: number, pixelsPerMm: number): Tick[] {
  const wanted = 60 / pixelsPerMm;
  const ten = 10 ** Math.floor(Math.log10(wanted));
  const step = [1, 2, 5, 10].map((k) => k * ten).find((s) => s >= wanted) ?? 10 * ten;
  const fine = step / 5;
  const out: Tick[] = [];
  for (let k = Math.ceil(from / fine); k * fine <= to + 1e-9; k++) {
    const at = k * fine;
    out.push(k % 5 === 0 ? { at, label: String(Number(at.toFixed(3))).replace("-", "−") } : { at });
  }
  return out;
}
