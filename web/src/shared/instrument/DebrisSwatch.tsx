const shapes: Record<string, string[]> = {
  film: ["M8 30c4-12 34-14 40-2 3 8-8 16-22 15C15 42 5 38 8 30Z"],
  lining: ["M10 14l9-3 5 6-4 8-9-2zM30 10l8 2 3 7-7 5-6-5zM14 32l10-2 4 8-8 6-8-4zM34 30l9 1 2 9-9 3-5-6zM26 24l4-2 3 4-4 3z"],
  steel: ["M9 12l14-5M27 9l16 6M8 26l12 4M24 22l20-4M12 42l16-8M32 40l13-6M20 46l7-2"],
  needles: ["M10 12l22 8 1.500-4-22-8zM14 34l26-6-1-4-26 6zM24 46l18-10-2-3.500-18 10z"],
  chunks: ["M8 18l8-9 9 3 1 10-9 6-8-3zM30 12l11-3 6 9-6 8-10-3zM22 34l10-4 8 7-5 9-11-1z"],
  aluminium: ["M10 14c6-6 12 4 6 8M28 10c8-4 12 6 4 8M12 34c8-2 10 8 2 9M30 30c4-8 14-2 9 5M38 44c4-4 8 0 6 3M24 24c3-3 6 0 4 3"],
  bronze: ["M10 12h5v4h-5zM24 9h4v5h-4zM38 13h6v4h-6zM14 27h4v5h-4zM29 25h6v4h-6zM42 30h4v4h-4zM10 42h6v4h-6zM26 40h4v5h-4zM38 43h5v4h-5z"],
  plastic: ["M9 22 22 8l5 6-10 14zM30 12l14 4-3 9-12-4zM16 38l14-8 6 10-14 6z"],
  rubber: ["M10 30a18 18 0 0 1 30-14l-4 5a12 12 0 0 0-20 9zM34 38l10-2 1 6-10 2z"],
  sealant: ["M8 14c12-8 18 10 8 14s-6 14 6 14 10-10 20-8M30 10c8 2 14 8 14 16"],
  rust: [
    "M12 14h2v2h-2zM22 10h3v3h-3zM34 14h2v2h-2zM42 20h3v3h-3zM10 26h3v3h-3zM20 24h2v2h-2zM30 26h3v3h-3zM40 34h2v2h-2zM14 38h3v3h-3zM26 40h2v2h-2zM36 44h3v3h-3zM46 42h2v2h-2z",
  ],
};

/** Filled in the colour of what it is; the rest is drawn in lines. */
const fills: Record<string, [fill: string, stroke: string]> = {
  film: ["#8b9196", "none"],
  lining: ["#3a2f28", "none"],
  steel: ["none", "#8d989e"],
  needles: ["#b9c1c6", "#5d686e"],
  chunks: ["#7c878d", "#3c454a"],
  aluminium: ["none", "#aab3b8"],
  bronze: ["#b98a35", "none"],
  plastic: ["#efeadd", "#8d8672"],
  rubber: ["#23262a", "none"],
  sealant: ["none", "#c9772e"],
  rust: ["#93401f", "none"],
};

/** A kind of debris as it lies on white paper; its name stands beside it. */
export function DebrisSwatch({ kind }: { kind: string }) {
  const [fill, stroke] = fills[kind] ?? ["none", "#000"];
  return (
    <svg width="56" height="56" viewBox="0 0 56 56" aria-hidden="true" style={{ flex: "none" }}>
      <rect x="1" y="1" width="54" height="54" rx="3" fill="#fdfcf8" stroke="var(--chakra-colors-slate)" />
      {shapes[kind]?.map((d) => (
        <path key={d} d={d} fill={fill} stroke={stroke} strokeWidth="2.2" strokeLinejoin="round" strokeLinecap="round" />
      ))}
    </svg>
  );
}
