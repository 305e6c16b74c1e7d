/** Labels and number formats in one place. */
export const stageNames: Record<string, string> = {
  complaint: "Complaint",
  road: "Road test",
  checks: "Checks",
  teardown: "Teardown",
  decision: "Decision",
  proof: "Proof",
};
export const stages = Object.keys(stageNames);

export const accessNames: Record<string, string> = {
  ground: "ground",
  lifted: "lifted",
  "pan-off": "pan off",
  "valve-body-off": "valve body",
  "unit-out": "unit out",
  "unit-apart": "apart",
  "converter-open": "converter",
};

export const sourceNames: Record<string, string> = { customer: "customer", seen: "seen", measured: "measured" };

export const percent = (p: number) => `${p > 0.995 && p < 1 ? ">99" : p > 0 && p < 0.005 ? "<1" : Math.round(p * 100)}`;
export const money = (currency: string, v: number) => `${currency} ${Math.round(v).toLocaleString("en")}`;
/** An amount in hundredths of the currency, as on paper; without its decimals where a glance is enough. */
export const amount = (currency: string, minor: number) =>
  `${currency} ${minor < 0 ? "−" : ""}${(Math.abs(minor) / 100).toLocaleString("en", { minimumFractionDigits: 2, maximumFractionDigits: 2 })}`;
export const roughly = (currency: string, minor: number) => money(currency, minor / 100);
export const signed = (v: number, digits = 1) => `${v < 0 ? "−" : "+"}${Math.abs(v).toFixed(digits)}`;

export function minutes(m: number): string {
  if (m < 60) return `${Math.round(m)} min`;
  const h = Math.floor(m / 60);
  const rest = Math.round(m - h * 60);
  return rest ? `${h} h ${rest} min` : `${h} h`;
}

/** How long ago, as a shop says it. */
export function age(iso: string, now = Date.now()): string {
  const m = Math.max(0, (now - Date.parse(iso)) / 60000);
  if (m < 60) return `${Math.round(m)} min`;
  if (m < 60 * 24) return `${Math.round(m / 60)} h`;
  return `${Math.round(m / 60 / 24)} d`;
}

export const quoted = (words: string) => `“${words}”`;

/** What an entry of the knowledge is called. */
export const kindNames: Record<string, string> = {
  cause: "root",
  damage: "damage",
  fault: "failure of the design",
  finding: "finding",
  check: "check",
  option: "repair",
  school: "school",
};

export const knowledgePath = (unit: string, kind: string, id: string) => `/knowledge/${unit}/${kind}/${encodeURIComponent(id)}`;
