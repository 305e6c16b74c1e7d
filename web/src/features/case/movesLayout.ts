import type { Schemas } from "../../api/client";

export const movesFigure = { width: 300, height: 210, top: 18, bottom: 196, left: 8, right: 150, name: 34 };

/** Keeps names apart by a least distance, in their order, within the figure. */
export function spread(ys: number[], least: number, low: number, high: number): number[] {
  const out = [...ys];
  for (let i = 1; i < out.length; i++) out[i] = Math.max(out[i]!, out[i - 1]! + least);
  const over = (out[out.length - 1] ?? 0) - high;
  if (over > 0) {
    for (let i = out.length - 1; i >= 0; i--) {
      const most = i === out.length - 1 ? high : out[i + 1]! - least;
      out[i] = Math.max(low, Math.min(out[i]!, most));
    }
  }
  return out;
}

export interface DrawnMove {
  row: Schemas["MovedSuspect"];
  points: [number, number][];
  name: number;
}

/** Where each line runs and where its name stands; rows come most probable first. */
export function drawMoves(moves: Schemas["Moves"]): { xs: number[]; lines: DrawnMove[] } {
  const f = movesFigure;
  const top = Math.max(0.05, ...moves.rows.flatMap((r) => r.shares));
  const n = moves.columns.length;
  const xs = moves.columns.map((_, i) => (n === 1 ? f.right : f.left + (i * (f.right - f.left)) / (n - 1)));
  const y = (share: number) => f.bottom - (share / top) * (f.bottom - f.top);
  const names = spread(
    moves.rows.map((r) => y(r.shares[n - 1] ?? 0)),
    f.name,
    f.top,
    f.bottom,
  );
  return {
    xs,
    lines: moves.rows.map((row, i) => ({ row, points: row.shares.map((s, k) => [xs[k]!, y(s)]), name: names[i]! })),
  };
}
