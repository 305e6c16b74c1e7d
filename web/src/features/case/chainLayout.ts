import type { Schemas } from "../../api/client";

type Node = Schemas["ChainNode"];
type Link = Schemas["ChainLink"];

export interface Placed {
  node: Node;
  x: number;
  y: number;
}

export interface Layout {
  box: { width: number; height: number };
  placed: Placed[];
  width: number;
  height: number;
}

/** What is free between the sides of a case at 1280 pixels. */
const room = 644;
const gapX = 22;
const gapY = 12;

/** How large a box is: columns share the room, and what gets narrow gets taller. */
function boxSize(columns: number) {
  const width = Math.max(108, Math.min(176, Math.floor((room - (columns - 1) * gapX) / columns)));
  return { width, height: width < 130 ? 84 : 70 };
}

/** Places the root on the left and every node a column further right than what brings it about; in a column, beside its parents. */
export function chainLayout(nodes: Node[], links: Link[]): Layout {
  const depth = Math.max(0, ...nodes.map((n) => n.depth));
  const row = new Array<number>(nodes.length).fill(0);
  let most = 1;
  for (let d = 0; d <= depth; d++) {
    const column = nodes.map((_, i) => i).filter((i) => nodes[i]?.depth === d);
    const wish = (i: number) => {
      const from = links.filter((l) => l.to === i).map((l) => row[l.from] ?? 0);
      return from.length ? from.reduce((a, b) => a + b, 0) / from.length : 0;
    };
    const order = column.map((i) => ({ i, at: wish(i) })).sort((a, b) => a.at - b.at || a.i - b.i);
    order.forEach((o, k) => {
      row[o.i] = k;
    });
    most = Math.max(most, order.length);
  }
  const counts = nodes.reduce<Record<number, number>>((c, n) => ({ ...c, [n.depth]: (c[n.depth] ?? 0) + 1 }), {});
  const box = boxSize(depth + 1);
  const step = box.height + gapY;
  return {
    box,
    placed: nodes.map((node, i) => ({
      node,
      x: node.depth * (box.width + gapX),
      y: ((row[i] ?? 0) + (most - (counts[node.depth] ?? 1)) / 2) * step,
    })),
    width: depth * (box.width + gapX) + box.width,
    height: most * step - gapY,
  };
}
