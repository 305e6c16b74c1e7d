/** A drop on white paper, graded: drawn by us, from new to black, clear to milky, and so on. */
const darkness = ["#d96a3c", "#a9562c", "#5d2f1d", "#211915"];
const milkiness = ["#d96a3c", "#e09a7c", "#ecc6b4"];

function Drop({ fill, children }: { fill: string; children?: React.ReactNode }) {
  return (
    <>
      <ellipse cx="28" cy="29" rx="21" ry="18" fill={fill} />
      <path d="M14 22c4-6 10-8 15-8" fill="none" stroke="#fff" strokeOpacity="0.55" strokeWidth="2.5" strokeLinecap="round" />
      {children}
    </>
  );
}

const bubbles: [number, number, number][] = [
  [18, 24, 4],
  [28, 20, 3],
  [36, 26, 5],
  [24, 34, 5],
  [34, 37, 3.5],
  [15, 33, 3],
  [41, 34, 3],
  [28, 28, 3],
];

/** Smells rise as lines: the more, the stronger. */
function Smell({ strength, wave }: { strength: number; wave: string }) {
  return (
    <>
      <ellipse cx="28" cy="42" rx="18" ry="8" fill="#a9562c" />
      {[28, 18, 38].slice(0, strength).map((x) => (
        <path key={x} d={`M${x} 32${wave}`} fill="none" stroke="#4b5660" strokeWidth="2.4" strokeLinecap="round" />
      ))}
    </>
  );
}

const drawings: Record<string, (grade: number) => React.ReactNode> = {
  dark: (g) => <Drop fill={darkness[g] ?? "#000"} />,
  milky: (g) => <Drop fill={milkiness[g] ?? "#fff"} />,
  foam: (g) => (
    <Drop fill="#d96a3c">
      {bubbles.slice(0, [0, 3, 8][g]).map(([x, y, r]) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r={r} fill="#fdfcf8" fillOpacity="0.7" stroke="#8d5a44" />
      ))}
    </Drop>
  ),
  burnt: (g) => <Smell strength={[0, 1, 3][g] ?? 0} wave="c-5-5 5-9 0-14s5-7 0-10" />,
  sweet: (g) => <Smell strength={g * 3} wave="c4-3 4-7 0-9s-4-6 0-9" />,
  "gear-oil": (g) => <Smell strength={g * 3} wave="l-4-7 8-6-8-6 4-5" />,
  feel: (g) => (
    <>
      <path d="M6 40c8-12 36-12 44 0" fill="none" stroke="#a9562c" strokeWidth="7" strokeLinecap="round" />
      {g > 0 &&
        [14, 21, 27, 34, 41].map((x, i) => (
          <rect key={x} x={x} y={i % 2 ? 29 : 33} width="3.500" height="3.500" fill="#39434a" transform={`rotate(${x} ${x} 31)`} />
        ))}
    </>
  ),
  sticky: (g) => (
    <>
      <rect x="22" y="4" width="12" height="48" rx="3" fill="#cfd5d9" stroke="#6b767d" />
      {g > 0 && <path d="M22 18h12v22c-3 8-9 8-12 0z" fill="#7a4a1e" />}
    </>
  ),
  core: (g) => (
    <>
      <circle cx="28" cy="28" r="21" fill="#eac7ae" />
      <circle cx="28" cy="28" r="14" fill="#dfae8d" />
      {g > 0 && <circle cx="28" cy="28" r="9" fill="#3a2a20" />}
    </>
  ),
  ring: (g) => (
    <>
      {g > 0 && <circle cx="28" cy="28" r="24" fill="#dfe9ee" stroke="#9fb2bc" />}
      <circle cx="28" cy="28" r={g > 0 ? 16 : 20} fill="#dfae8d" />
    </>
  ),
  kind: (g) => (
    <>
      <path d="M28 10a18 18 0 0 0 0 36z" fill="#d96a3c" />
      <path d="M28 10a18 18 0 0 1 0 36z" fill={g > 0 ? "#c2a13a" : "#c96338"} />
      <line x1="28" x2="28" y1="6" y2="50" stroke="#6b767d" />
    </>
  ),
  plate: (g) => (
    <>
      <rect x="6" y="42" width="44" height="6" rx="2" fill="#6b767d" />
      <ellipse cx="28" cy="40" rx="12" ry="4" fill="#a9562c" />
      {g > 0 && (
        <path
          d="M16 34l-5-7M22 31l-3-9M28 30V18M34 31l3-9M40 34l5-7"
          stroke="#3f7183"
          strokeWidth="2.4"
          strokeLinecap="round"
          fill="none"
        />
      )}
    </>
  ),
};

/** One grade of one mark. */
export function LookSwatch({ mark, grade }: { mark: string; grade: number }) {
  return (
    <svg width="48" height="48" viewBox="0 0 56 56" aria-hidden="true" style={{ flex: "none" }}>
      <rect x="1" y="1" width="54" height="54" rx="3" fill="#fdfcf8" stroke="var(--chakra-colors-slate)" />
      {drawings[mark]?.(grade)}
    </svg>
  );
}
