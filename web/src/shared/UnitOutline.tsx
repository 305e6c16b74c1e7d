/** The shape of a unit from the side, out of the zones of its parts: x, y, width, height from 0 to 100, front and bottom at 0. */
const across = 10;
const up = 4.1;
export const sideWidth = 1000;
export const sideHeight = 460;
export const sideY = (v: number) => sideHeight - 24 - v * up;

/** The outline follows the parts: a step up wherever a zone is taller. */
export function outline(zones: number[][]): string {
  const columns = Array.from({ length: 101 }, (_, x) => {
    const over = zones.filter(([px = 0, , pw = 0]) => px - 1 <= x && x <= px + pw + 1);
    return over.length
      ? { low: Math.min(...over.map(([, py = 0]) => py)) - 2, high: Math.max(...over.map(([, py = 0, , ph = 0]) => py + ph)) + 2 }
      : undefined;
  });
  const known = columns.flatMap((c, x) => (c ? [{ x, ...c }] : []));
  if (known.length === 0) return "";
  const back = [...known].reverse();
  return `M${known.map((k) => `${k.x * across} ${sideY(k.high)}`).join("L")}L${back.map((k) => `${k.x * across} ${sideY(k.low)}`).join("L")}Z`;
}

/** A small drawing of a unit, to tell it from others at a glance. */
export function UnitOutline({ zones }: { zones: number[][] }) {
  return (
    <svg viewBox={`0 0 ${sideWidth} ${sideHeight}`} width="100%" height="100%" aria-hidden preserveAspectRatio="xMidYMid meet">
      <path
        d={outline(zones)}
        fill="var(--chakra-colors-panel)"
        stroke="var(--chakra-colors-ink2)"
        strokeWidth="7"
        strokeLinejoin="round"
      />
      {zones.map(([x = 0, y = 0, w = 0, h = 0], i) => (
        <rect
          key={i}
          x={x * across}
          y={sideY(y + h)}
          width={w * across}
          height={h * up}
          fill="none"
          stroke="var(--chakra-colors-slate)"
          strokeWidth="4"
        />
      ))}
    </svg>
  );
}
