import { size, type Joint, type Lines, type Wheels } from "./linesLayout";

const ink = "var(--chakra-colors-ink)";
const ink2 = "var(--chakra-colors-ink2)";
const slate = "var(--chakra-colors-slate)";
const brass = "var(--chakra-colors-brass)";
const page = "var(--chakra-colors-page)";

/** The case: a line with hatching. */
function Ground({ x, y }: { x: number; y: number }) {
  return (
    <g stroke={ink} strokeWidth="1.2">
      <line x1={x - 12} x2={x + 12} y1={y} y2={y} strokeWidth="1.8" />
      {[-10, -4, 2, 8].map((d) => (
        <line key={d} x1={x + d} x2={x + d + 5} y1={y} y2={y - 6} />
      ))}
    </g>
  );
}

/** The two halves of an element where they meet. */
function Grip({ kind, x, y, on }: { kind: string; x: number; y: number; on: boolean }) {
  const color = on ? brass : ink;
  const bar = (dy: number, half: number) => <line x1={x - half} x2={x + half} y1={y + dy} y2={y + dy} stroke={color} strokeWidth="3" />;
  if (kind === "freewheel")
    return (
      <g>
        <circle cx={x} cy={y} r="7" fill={page} stroke={color} strokeWidth="1.8" />
        <path d={`M ${x - 3} ${y - 3} L ${x + 4} ${y} L ${x - 3} ${y + 3} Z`} fill={color} />
      </g>
    );
  if (kind === "selector")
    return (
      <path
        d={`M ${x - 10} ${y - 4} h 5 v 6 h 5 v -6 h 5 v 6 h 5`}
        fill="none"
        stroke={color}
        strokeWidth="2.4"
        transform={`translate(0 -1)`}
      />
    );
  if (kind === "band") return <rect x={x - 11} y={y - 4} width="22" height="8" rx="4" fill={page} stroke={color} strokeWidth="2.4" />;
  return (
    <g>
      {bar(-3, 11)}
      {bar(3, 11)}
    </g>
  );
}

function JointFigure({ joint, on, open }: { joint: Joint; on: boolean; open: () => void }) {
  const { x, from, to } = joint;
  if (from === undefined || to === undefined)
    return (
      <text x={x} y={size.top - 14} textAnchor="middle" fill={ink2} style={{ fontSize: 12, cursor: "pointer" }} onClick={open}>
        where?
      </text>
    );
  const top = Math.min(from, to);
  const bottom = Math.max(from, to);
  const ground = joint.element.a === "case" || joint.element.b === "case";
  const grip = ground ? top + 13 : (top + bottom) / 2;
  const color = on ? brass : ink;
  return (
    <g stroke={color} strokeWidth={on ? 2.6 : 1.5} style={{ cursor: "pointer" }} onClick={open}>
      <rect x={x - 22} y={grip - 22} width="44" height="44" fill="transparent" stroke="none" />
      <line x1={x} x2={x} y1={top} y2={grip - 5} />
      <line x1={x} x2={x} y1={grip + 5} y2={bottom} />
      {ground && <Ground x={x} y={top} />}
      <Grip kind={joint.element.kind} x={x} y={grip} on={on} />
      {[from, to].map((y, i) => !(ground && y === top) && <circle key={i} cx={x} cy={y} r="3.4" fill={color} stroke="none" />)}
    </g>
  );
}

function SetFigure({ set }: { set: Wheels }) {
  const ys = set.wheels.map((w) => w.y);
  return (
    <g>
      <title>{set.name}</title>
      <line
        x1={set.x}
        x2={set.x}
        y1={Math.min(...ys)}
        y2={Math.max(...ys)}
        stroke={slate}
        strokeWidth="2"
        strokeDasharray={set.chain ? "3 3" : undefined}
      />
      {set.wheels.map((w, i) =>
        w.ground ? (
          <Ground key={i} x={set.x} y={w.y} />
        ) : (
          <g key={i}>
            <circle cx={set.x} cy={w.y} r="11" fill={page} stroke={ink} strokeWidth="1.5" />
            <text x={set.x} y={w.y + 4} textAnchor="middle" fill={ink} style={{ fontSize: 12, fontWeight: 600 }}>
              <title>{w.title}</title>
              {w.word}
            </text>
          </g>
        ),
      )}
    </g>
  );
}

/** What is on in the row that is looked at, and how fast each line turns there. */
export interface Running {
  on: string[];
  speeds: Record<string, number>;
  word: string;
}

const speedWord = (v: number) => (Math.abs(v) < 1e-6 ? "stands" : `${v.toFixed(2).replace("-", "−")}×`);

/** Lines that can be tapped, and those that are picked. */
export interface Tapping {
  picked: string[];
  tap: (line: string) => void;
}

/** Lines and joints of a unit, its element columns over those of the chart. An element is tapped to be changed. */
export function LinesFigure({
  lines,
  running,
  label,
  tapping,
  openElement,
}: {
  lines: Lines;
  running?: Running;
  label: string;
  tapping?: Tapping;
  openElement: (id: string) => void;
}) {
  if (lines.lanes.length === 0) return null;
  const right = lines.width - size.end + 6;
  return (
    <svg
      viewBox={`0 0 ${lines.width} ${lines.height}`}
      width={lines.width}
      height={lines.height}
      role={tapping ? "group" : "img"}
      aria-label={label}
    >
      {lines.lanes.map((l) => {
        const speed = running?.speeds[l.id];
        const turns = speed !== undefined && Math.abs(speed) > 1e-6;
        const power = turns && l.role !== "";
        const picked = tapping?.picked.includes(l.id);
        return (
          <g key={l.id}>
            {picked && <rect x="0" y={l.y - 15} width={lines.width} height="30" fill="var(--chakra-colors-brass-soft)" />}
            <line
              x1={size.label}
              x2={right - 6}
              y1={l.y}
              y2={l.y}
              stroke={power ? brass : turns ? ink : slate}
              strokeWidth={power ? 3 : turns ? 1.6 : 1}
              strokeDasharray={speed !== undefined && !turns ? "4 4" : undefined}
            />
            <text x={size.label - 8} y={l.y + 4} textAnchor="end" fill={ink} style={{ fontSize: 12.5, fontWeight: l.role ? 700 : 400 }}>
              {l.name.length > 22 ? `${l.name.slice(0, 21)}…` : l.name}
              <title>{l.name}</title>
            </text>
            <text x={right} y={l.y + 4} fill={speed === undefined ? ink2 : ink} style={{ fontSize: 12, fontWeight: power ? 700 : 400 }}>
              {speed === undefined ? (l.role === "in" ? "input" : l.role === "out" ? "output" : "") : speedWord(speed)}
            </text>
          </g>
        );
      })}
      {lines.wheels.map((w, i) => (
        <SetFigure key={i} set={w} />
      ))}
      {lines.joints.map((j) => (
        <JointFigure key={j.element.id} joint={j} on={running?.on.includes(j.element.id) ?? false} open={() => openElement(j.element.id)} />
      ))}
      {tapping &&
        lines.lanes.map((l) => (
          <rect
            key={l.id}
            role="button"
            tabIndex={0}
            aria-label={`Line ${l.name}`}
            aria-pressed={tapping.picked.includes(l.id)}
            x="0"
            y={l.y - size.tapped / 2}
            width={lines.width}
            height={size.tapped}
            fill="transparent"
            style={{ cursor: "pointer" }}
            onClick={() => tapping.tap(l.id)}
            onKeyDown={(e) => e.key === "Enter" && tapping.tap(l.id)}
          />
        ))}
    </svg>
  );
}

/** A scheme in small: its lines and sets alone. */
export function SchemeSketch({ lines }: { lines: Lines }) {
  const sets = lines.wheels;
  const x = (i: number, of: number) => 10 + ((i + 0.5) / of) * 128;
  const y = (v: number) => 8 + ((v - size.top) / Math.max(1, lines.height - size.top)) * 62;
  const joints = lines.joints.filter((j) => j.from !== undefined && j.to !== undefined);
  const columns = joints.length + sets.length;
  return (
    <svg viewBox="0 0 148 78" width="148" height="78" aria-hidden>
      {lines.lanes.map((l) => (
        <line key={l.id} x1="6" x2="142" y1={y(l.y)} y2={y(l.y)} stroke={l.role ? ink : slate} strokeWidth={l.role ? 1.6 : 0.8} />
      ))}
      {joints.map((j, i) => {
        const top = Math.max(4, y(Math.min(j.from!, j.to!)));
        const bottom = y(Math.max(j.from!, j.to!));
        const ground = j.element.a === "case" || j.element.b === "case";
        return (
          <g key={j.element.id} stroke={ink2} strokeWidth="1">
            <line x1={x(i, columns)} x2={x(i, columns)} y1={top} y2={bottom} />
            {ground && <line x1={x(i, columns) - 4} x2={x(i, columns) + 4} y1={top} y2={top} strokeWidth="2" />}
          </g>
        );
      })}
      {sets.map((s, i) => {
        const at = x(joints.length + i, columns);
        const ys = s.wheels.map((w) => Math.max(4, y(w.y)));
        return (
          <g key={i}>
            <line x1={at} x2={at} y1={Math.min(...ys)} y2={Math.max(...ys)} stroke={ink} strokeWidth="1.6" />
            {ys.map((v, k) => (
              <circle key={k} cx={at} cy={v} r="3" fill={page} stroke={ink} strokeWidth="1.4" />
            ))}
          </g>
        );
      })}
    </svg>
  );
}
