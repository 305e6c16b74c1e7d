import { useEffect, useId, useMemo, useState, type KeyboardEvent, type MouseEvent } from "react";
import type { Orders } from "../../api/recordings";
import { number, short } from "../../shared/format";
import { frame, hertzAt, speedAt, ticks, x, y, type Ray, type Scale } from "./mapLayout";

export interface Point {
  speed: number;
  hertz: number;
}

const ink = "var(--chakra-colors-ink)";
const ink2 = "var(--chakra-colors-ink2)";
const line = "var(--chakra-colors-line)";
const brass = "var(--chakra-colors-brass)";
const closer = 7;
const radius = 72;

/** The cells as a picture of one pixel each. */
function useCells(o: Orders): string {
  const [dark, setDark] = useState(document.documentElement.classList.contains("dark"));
  useEffect(() => {
    const watch = new MutationObserver(() => setDark(document.documentElement.classList.contains("dark")));
    watch.observe(document.documentElement, { attributeFilter: ["class"] });
    return () => watch.disconnect();
  }, []);
  return useMemo(() => {
    const canvas = document.createElement("canvas");
    const { cells } = o.picture;
    canvas.width = cells.length;
    canvas.height = cells[0]?.length ?? 1;
    const ctx = canvas.getContext("2d");
    if (!ctx) return "";
    ctx.fillStyle = dark ? "#ECE7DC" : "#1C262D";
    cells.forEach((column, i) => {
      for (let k = 0; k < column.length; k++) {
        const level = column.charCodeAt(k) - 48;
        if (level <= 0) continue;
        ctx.globalAlpha = 0.06 + (0.64 * level) / 9;
        ctx.fillRect(i, canvas.height - 1 - k, 1, 1);
      }
    });
    return canvas.toDataURL();
  }, [o, dark]);
}

interface MapProps {
  o: Orders;
  s: Scale;
  rays: Ray[];
  others: number;
  point: Point | undefined;
  setPoint: (p: Point) => void;
  order: number | undefined;
  hide: (ray: string) => void;
}

/** What was heard by speed and frequency, with a ray for each source and a glass over the point in hand. */
export function OrderMap({ o, s, rays, others, point, setPoint, order, hide }: MapProps) {
  const cells = useCells(o);
  const id = useId();
  const put = (e: MouseEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const speed = speedAt(s, ((e.clientX - box.left) / box.width) * frame.width);
    const hertz = hertzAt(s, ((e.clientY - box.top) / box.height) * frame.height);
    if (speed >= 0 && speed <= s.xMost && hertz >= 0 && hertz <= s.yMost) setPoint({ speed, hertz });
  };
  const keys = (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (!step || !point) return;
    e.preventDefault();
    const within = (v: number, most: number) => Math.max(0, Math.min(most, v));
    setPoint({
      speed: within(point.speed + (step[0] ?? 0) * (s.xMost / 120), s.xMost),
      hertz: within(point.hertz + (step[1] ?? 0) * (s.yMost / 240), s.yMost),
    });
  };
  const { xFrom, xStep, yStep, cells: columns } = o.picture;
  const picture = {
    x: x(s, xFrom * s.per),
    width: x(s, (xFrom + xStep * columns.length) * s.per) - x(s, xFrom * s.per),
    y: y(s, yStep * (columns[0]?.length ?? 0)),
    height: y(s, 0) - y(s, yStep * (columns[0]?.length ?? 0)),
  };
  const content = (fine: boolean) => (
    <>
      <image href={cells} {...picture} preserveAspectRatio="none" style={{ imageRendering: "pixelated" }} />
      {o.levels.map((l) => (
        <line
          key={l.hertz}
          x1={picture.x}
          x2={picture.x + picture.width}
          y1={y(s, l.hertz)}
          y2={y(s, l.hertz)}
          stroke={ink2}
          strokeWidth="1.2"
          strokeDasharray="1 4"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {[...rays].reverse().map((r) => (
        <line
          key={r.key}
          x1={x(s, 0)}
          y1={y(s, 0)}
          x2={r.end[0]}
          y2={r.end[1]}
          vectorEffect="non-scaling-stroke"
          stroke={r.rank < 2 ? brass : ink2}
          strokeWidth={r.rank < 2 ? (fine ? 3.5 : 2.6) : 1.2}
          strokeDasharray={r.rank === 0 ? undefined : r.rank === 1 ? "9 5" : "2 4"}
        />
      ))}
    </>
  );
  const px = point && x(s, point.speed);
  const py = point && y(s, point.hertz);
  const glass = px !== undefined && py !== undefined ? glassAt(px, py) : undefined;
  return (
    <svg
      viewBox={`0 0 ${frame.width} ${frame.height}`}
      width="100%"
      style={{ display: "block", maxHeight: "calc(100vh - 300px)", minHeight: 320, touchAction: "manipulation" }}
      data-orders
      role="img"
      aria-label="What was heard by speed and frequency. The table has the same."
      tabIndex={0}
      onClick={put}
      onKeyDown={keys}
    >
      <clipPath id={`${id}map`}>
        <rect
          x={frame.left}
          y={frame.top}
          width={frame.width - frame.left - frame.right}
          height={frame.height - frame.top - frame.bottom}
        />
      </clipPath>
      {ticks(s.yMost).map((t) => (
        <g key={t}>
          <line x1={frame.left} x2={frame.width - frame.right} y1={y(s, t)} y2={y(s, t)} stroke={line} />
          <text x={frame.left - 8} y={y(s, t) + 4} textAnchor="end" style={{ fontSize: 13 }} fill={ink2}>
            {short(t, 1)}
          </text>
        </g>
      ))}
      {ticks(s.xMost).map((t) => (
        <g key={t}>
          <line y1={frame.top} y2={frame.height - frame.bottom} x1={x(s, t)} x2={x(s, t)} stroke={line} />
          <text x={x(s, t)} y={frame.height - frame.bottom + 18} textAnchor="middle" style={{ fontSize: 13 }} fill={ink2}>
            {number(t)}
          </text>
        </g>
      ))}
      <text x={frame.left - 8} y={frame.top - 10} textAnchor="end" style={{ fontSize: 13 }} fill={ink2}>
        Hz
      </text>
      <text x={frame.width - frame.right} y={frame.height - 8} textAnchor="end" style={{ fontSize: 13 }} fill={ink2}>
        {s.unit}
        {o.rangeName && `, in ${o.rangeName}`}
      </text>
      <g clipPath={`url(#${id}map)`}>{content(false)}</g>
      <path d={`M${picture.x} ${y(s, 0) - 5}v5h${picture.width}v-5`} fill="none" stroke={ink} strokeWidth="2.5" />
      {rays.map((r) => (
        <Label key={r.key} r={r} hide={() => hide(r.key)} />
      ))}
      {o.levels.slice(0, 1).map((l) => (
        <text key={l.hertz} x={frame.left + 6} y={y(s, l.hertz) - 5} style={{ fontSize: 12.5 }} fill={ink2}>
          stays at {short(l.hertz, 1)} Hz
        </text>
      ))}
      {others > 0 && (
        <text x={frame.width - frame.right + 18} y={frame.height - 8} style={{ fontSize: 12.5 }} fill={ink2}>
          and {others} others
        </text>
      )}
      {point && glass && px !== undefined && py !== undefined && (
        <g>
          <clipPath id={`${id}glass`}>
            <circle cx={glass.x} cy={glass.y} r={radius} />
          </clipPath>
          <line x1={px} y1={py} x2={glass.x} y2={glass.y} stroke={ink} strokeWidth="1.4" />
          <circle cx={glass.x} cy={glass.y} r={radius} fill="var(--chakra-colors-panel)" />
          <g clipPath={`url(#${id}glass)`}>
            <g transform={`translate(${glass.x} ${glass.y}) scale(${closer}) translate(${-px} ${-py})`}>{content(true)}</g>
          </g>
          <circle cx={glass.x} cy={glass.y} r={radius} fill="none" stroke={ink} strokeWidth="2" />
          <circle cx={px} cy={py} r="9" fill="none" stroke={ink} strokeWidth="2" />
          <g
            textAnchor={glass.left ? "end" : "start"}
            transform={`translate(${glass.left ? glass.x - radius - 12 : glass.x + radius + 12} ${glass.y - 16})`}
          >
            <text
              style={{ fontSize: 21 }}
              fontWeight="700"
              fill={ink}
              stroke="var(--chakra-colors-page)"
              strokeWidth="5"
              paintOrder="stroke"
            >
              {short(point.hertz, 1)} Hz
            </text>
            <text y="20" style={{ fontSize: 14 }} fill={ink} stroke="var(--chakra-colors-page)" strokeWidth="5" paintOrder="stroke">
              at {number(point.speed)} {s.unit.split(" ")[0]}
            </text>
            {order !== undefined && (
              <text y="38" style={{ fontSize: 13 }} fill={ink2} stroke="var(--chakra-colors-page)" strokeWidth="5" paintOrder="stroke">
                order {short(order, 3)}
              </text>
            )}
          </g>
        </g>
      )}
    </svg>
  );
}

/** The glass stands clear of its point: above it where there is room. */
function glassAt(px: number, py: number): { x: number; y: number; left: boolean } {
  const above = py > frame.top + 2 * radius + 40;
  const gx = Math.max(frame.left + radius + 4, Math.min(frame.width - frame.right - radius - 4, px - (above ? 10 : 0)));
  return { x: gx, y: above ? py - radius - 60 : py + radius + 60, left: gx > frame.left + 260 };
}

/** The name of a ray where it leaves the map; a press hides the ray. */
function Label({ r, hide }: { r: Ray; hide: () => void }) {
  const from = frame.width - frame.right;
  const lead = r.rank < 2;
  const name = r.name.length > 30 ? `${r.name.slice(0, 29)}…` : r.name;
  return (
    <g
      style={{ cursor: "pointer" }}
      onClick={(e) => {
        e.stopPropagation();
        hide();
      }}
    >
      <rect x={from + 14} y={r.label - 13} width={frame.right - 14} height="30" fill="transparent" />
      <path
        d={`M${r.end[0]} ${r.end[1]}L${from + 14} ${r.label - 4}`}
        stroke={lead ? brass : "var(--chakra-colors-slate)"}
        strokeDasharray={r.rank === 1 ? "6 4" : undefined}
        fill="none"
      />
      <text x={from + 18} y={r.label} style={{ fontSize: 12.5 }} fontWeight={lead ? 700 : 400} fill={ink}>
        <title>{r.name}</title>
        {name}
      </text>
      <text x={from + 18} y={r.label + 13} style={{ fontSize: 11.5 }} fill={ink2}>
        {short(r.order, 3)}
      </text>
    </g>
  );
}
