/** Round steps that cut a span into about four. */
export function ticks(low: number, high: number): number[] {
  const raw = (high - low || 1) / 4;
  const size = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 2.5, 5, 10].map((k) => k * size).find((s) => s >= raw) ?? raw;
  const out: number[] = [];
  for (let v = Math.ceil(low / step - 1e-9) * step; v <= high + step * 1e-9; v += step) out.push(Math.abs(v) < step * 1e-9 ? 0 : v);
  return out;
}
