/** Line drawings of what may be in the hand, on a field of 32 by 32. */
const drawings: Record<string, string> = {
  pressure: "M16 4a10 10 0 1 1 0 20 10 10 0 0 1 0-20M16 14l5-5M13 24v5h6v-5M9 17h1.5M22 17h-1.5M16 7v1.5",
  caliper: "M4 8h25v4H4zM6 12v12l3-3v-9M16 12v9l3 3V12M22 8v4M26 8v2",
  feeler: "M5 24 24 5l2 2L8 26zM9 27 28 11l1.500 2.500L12 28zM7 24.500a1.500 1.500 0 1 0 3 0 1.500 1.500 0 1 0-3 0",
  dial: "M16 3a8 8 0 1 1 0 16 8 8 0 0 1 0-16M16 11l-3-4M16 19v7M14.500 26h3v3h-3zM25 9h4v4h-4",
  spring: "M8 5h16M8 27h16M9 5l14 4-14 4 14 4-14 4 14 4-6 2",
  torque: "M5 9a4 4 0 1 0 8 0 4 4 0 1 0-8 0M12 11.500 26 24l2.500 3-3.500-1.500L10.500 13M18 5a13 13 0 0 1 9 9M27 9.500v4.500h-4.500",
  speed: "M5 22a11 11 0 1 1 22 0M16 22l6-8M5 22h3M24 22h3M16 11v3M8.500 14.500l2 2M3 27h26",
  oil: "M8 8h13v19H8zM21 12h4l2 3v6h-6M8 18h5M8 22h5M8 14h5M14.500 4v4",
  hand: "M10 17V8a2 2 0 0 1 4 0v7M14 15V6a2 2 0 0 1 4 0v9M18 15V7a2 2 0 0 1 4 0v9M22 14v-3a2 2 0 0 1 4 0v8c0 6-3 9-8 9-4 0-6-2-8-5l-4-6c-1-2 1-3.500 3-2l3 3",
};

export function HandIcon({ id }: { id: string }) {
  return (
    <svg width="30" height="30" viewBox="0 0 32 32" aria-hidden="true" style={{ flex: "none" }}>
      <path d={drawings[id]} fill="none" stroke="currentColor" strokeWidth="1.6" strokeLinejoin="round" strokeLinecap="round" />
    </svg>
  );
}
