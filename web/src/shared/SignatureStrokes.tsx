import { useRef, useState, type PointerEvent } from "react";

const W = 1000;
const H = 400;

/** Strokes of a finger, pen or mouse on a grid of 1000 by 400: moves and lines. Whoever cannot draw types the name alone. */
export function SignatureStrokes({ value, onChange, border }: { value: string; onChange: (strokes: string) => void; border: string }) {
  const pad = useRef<SVGSVGElement>(null);
  const [drawing, setDrawing] = useState(false);
  const point = (e: PointerEvent) => {
    const box = pad.current?.getBoundingClientRect();
    if (!box) return "0 0";
    const at = (v: number, low: number, size: number, most: number) => Math.round(Math.min(Math.max(((v - low) / size) * most, 0), most));
    return `${at(e.clientX, box.left, box.width, W)} ${at(e.clientY, box.top, box.height, H)}`;
  };
  return (
    <svg
      ref={pad}
      viewBox={`0 0 ${W} ${H}`}
      width="100%"
      role="img"
      aria-labelledby="signature-label"
      style={{ touchAction: "none", background: "#fff", border: `1px solid ${border}`, borderRadius: 4, display: "block", maxWidth: 520 }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawing(true);
        onChange(`${value}M${point(e)}`);
      }}
      onPointerMove={(e) => drawing && onChange(`${value}L${point(e)}`)}
      onPointerUp={() => setDrawing(false)}
      onPointerCancel={() => setDrawing(false)}
    >
      <line x1="60" x2={W - 60} y1={H - 80} y2={H - 80} stroke="#a9b4ba" strokeWidth="3" />
      <path d={value || undefined} fill="none" stroke="#1c262d" strokeWidth="6" strokeLinecap="round" strokeLinejoin="round" />
    </svg>
  );
}
