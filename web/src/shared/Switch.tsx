import type { ReactNode } from "react";

/** A thing that is on or off, with its words as the target. */
export function Switch({ on, set, children }: { on: boolean; set: (on: boolean) => void; children: ReactNode }) {
  return (
    <label style={{ display: "flex", gap: 10, alignItems: "center", minHeight: 44, cursor: "pointer" }}>
      <input type="checkbox" checked={on} onChange={(e) => set(e.target.checked)} style={{ width: 20, height: 20, flex: "none" }} />
      <span>{children}</span>
    </label>
  );
}
