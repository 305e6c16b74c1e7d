import { stageNames, stages } from "../shared/format";

/** Something that can be gone to by its name, beside what the shop has. */
export interface Command {
  title: string;
  /** What else it is called. */
  words: string;
  to: string;
}

const everywhere: Command[] = [
  { title: "Take in a vehicle", words: "new case intake customer", to: "/take-in" },
  { title: "Floor", words: "cases home jobs", to: "/" },
  { title: "Week", words: "bays people schedule plan jobs calendar", to: "/week" },
  { title: "Closed cases", words: "done finished archive", to: "/?show=closed" },
  { title: "Units", words: "transmissions sheets designs", to: "/units" },
  { title: "Write a unit sheet", words: "new own transmission", to: "/units/new" },
  { title: "Instruments", words: "calculators gauges tools", to: "/instruments" },
  { title: "Recordings", words: "drives logs sound vibration csv wav microphone orders", to: "/recordings" },
  { title: "Live: connect, watch, record", words: "scan tool adapter codes gauge pressure clear drive simulator", to: "/live" },
  { title: "Record here", words: "microphone sound motion sensor shake phone", to: "/recordings/new" },
  { title: "Knowledge", words: "causes trade facts", to: "/knowledge" },
  { title: "Settings", words: "options setup", to: "/settings" },
  { title: "Settings: rates and tax", words: "labor rate money currency goodwill fluid", to: "/settings#rates" },
  { title: "Settings: units of measure", words: "psi bar km mi metric inch numbers time zone", to: "/settings#measure" },
  { title: "Settings: bays, people and hours", words: "workshop opening lead time closed days", to: "/settings#workshop" },
  { title: "Settings: this device", words: "theme dark light keys who works", to: "/settings#device" },
  { title: "Settings: gauges of the shop", words: "calibration uncertainty", to: "/settings#gauges" },
  { title: "Settings: words of the shop", words: "customer sayings this means", to: "/settings#words" },
  { title: "People and devices", words: "sign in passphrase pin passkey owner apprentice tablet admit", to: "/people" },
  { title: "Audit trail", words: "who did what log history changes", to: "/trail" },
  { title: "Backup", words: "save disk restore copy", to: "/backup" },
  { title: "Privacy", words: "customer data erase forget export retention", to: "/privacy" },
  { title: "Price book", words: "prices hours parts quote", to: "/prices" },
  { title: "Verify a record", words: "check genuine digest file", to: "/verify" },
];

const ofCase = (id: string): Command[] => [
  ...stages.map((s) => ({ title: `This case: ${stageNames[s]}`, words: "stage go to", to: `/cases/${id}/${s}` })),
  { title: "This case: drive it cell by cell", words: "road test", to: `/cases/${id}/road?drive=1` },
  { title: "This case: job", words: "tasks parts order promise sheet", to: `/cases/${id}/job` },
  { title: "This case: its recordings", words: "drives logs sound vibration", to: `/recordings?case=${id}` },
  { title: "This case: instruments for it", words: "measure", to: `/instruments?case=${id}` },
  { title: "This case: who did what", words: "audit trail history changes", to: `/trail?case=${id}` },
  { title: "This case: bay sheet to print", words: "paper plan a4 print", to: `/cases/${id}/sheet` },
];

const begins = (text: string, word: string) =>
  text
    .toLowerCase()
    .split(/[\s:]+/)
    .some((w) => w.startsWith(word));

/** Commands in which every word typed begins a word; those of the place first. */
export function commandsFor(query: string, caseId: string): Command[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const all = [...(caseId ? ofCase(caseId) : []), ...everywhere];
  if (words.length === 0) return all.slice(0, 9);
  return all.filter((c) => words.every((w) => begins(`${c.title} ${c.words}`, w))).slice(0, 5);
}
