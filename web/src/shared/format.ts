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

/** How the shop writes numbers and which zone its days are in; set once its settings are known. */
const notation = { decimal: ".", group: ",", zone: undefined as string | undefined };

/** The marks of a sample such as 1.234,5: between thousands, and before decimals. */
function marks(sample: string | undefined): [string, string] {
  const found = /^1(.)234(.)5$/u.exec(sample ?? "");
  return [found?.[1] ?? ",", found?.[2] ?? "."];
}

/** A typed number with the marks of another sample. */
export function restyled(text: string, from: string | undefined, to: string | undefined): string {
  const [[group, decimal], [newGroup, newDecimal]] = [marks(from), marks(to)];
  return [...text].map((c) => (c === group ? newGroup : c === decimal ? newDecimal : c)).join("");
}

/** Takes the notation from a sample, and the zone. */
export function setNotation(sample: string | undefined, zone: string | undefined) {
  [notation.group, notation.decimal] = marks(sample);
  try {
    new Intl.DateTimeFormat("en", { timeZone: zone || undefined });
    notation.zone = zone || undefined;
  } catch {
    notation.zone = undefined; // a browser that does not know the zone shows its own
  }
}

/** A number with so many decimals, its thousands parted, as the shop writes it. */
export function number(v: number, decimals = 0): string {
  const [whole = "", part] = Math.abs(v).toFixed(decimals).split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, notation.group);
  return `${v < 0 && Number(v.toFixed(decimals)) !== 0 ? "−" : ""}${grouped}${part ? notation.decimal + part : ""}`;
}

/** The same without zeros at the end that say nothing. */
export function short(v: number, decimals = 2): string {
  const trimmed = Number(v.toFixed(decimals));
  return number(trimmed, (String(trimmed).split(".")[1] ?? "").length);
}

export const percent = (p: number) => `${p > 0.995 && p < 1 ? ">99" : p > 0 && p < 0.005 ? "<1" : Math.round(p * 100)}`;
export const money = (currency: string, v: number) => `${currency} ${number(Math.round(v))}`;
/** An amount in hundredths of the currency, as on paper; without its decimals where a glance is enough. */
export const amount = (currency: string, minor: number) => `${currency} ${number(minor / 100, 2)}`;
export const roughly = (currency: string, minor: number) => money(currency, minor / 100);
export const signed = (v: number, digits = 1) => `${v < 0 ? "−" : "+"}${number(Math.abs(v), digits)}`;

/** Days and moments, as the shop's clock has them. */
const told = (iso: string, form: Intl.DateTimeFormatOptions) => new Date(iso).toLocaleString("en-GB", { ...form, timeZone: notation.zone });
export const day = (iso: string) => told(iso, { dateStyle: "medium" });
export const moment = (iso: string) => told(iso, { dateStyle: "medium", timeStyle: "short" });
export const longMoment = (iso: string) => told(iso, { dateStyle: "long", timeStyle: "short" });
export const weekday = (iso: string) => told(iso, { weekday: "short", day: "numeric", month: "short" });
export const clock = (iso: string) => told(iso, { hour: "2-digit", minute: "2-digit" });
export const weekMoment = (iso: string) => `${weekday(iso)}, ${clock(iso)}`;
/** A day such as 2026-12-03, wherever it is read. */
export const plainDay = (d: string) =>
  new Date(`${d}T12:00:00Z`).toLocaleString("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" });
export const hours = (h: number) => `${number(h, 1)} h`;
export const shortMoment = (iso: string) => told(iso, { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

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

/** A sentence or title begins with a capital. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
