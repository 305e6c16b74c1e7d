import type { QueryClient } from "@tanstack/react-query";
import { withNews, type News } from "./caseParts";
import { answer, api, isAway, ProblemError, type Schemas } from "./client";
import { caseQuery, sessionQuery } from "./queries";
import { newKey } from "../shared/key";

/** A change of a case as it is sent: kept on this device until the server has answered, so that neither a lost line nor a closed page loses it. */
export interface Waiting {
  /** The server does what has one key once, however often it arrives. */
  key: string;
  caseId: string;
  /** The page that pressed it sends it, or another once that one is gone. */
  tab?: string;
  /** Who pressed it: it is sent by nobody else. */
  person: string;
  at: number;
  label: string;
  request: { path: string; params: Record<string, string>; body: unknown };
  /** Of a reading: the finding, with the readings of it that were known then. */
  about?: { finding: string; state: string; known: string[] }[];
  /** What somebody else noted of the same meanwhile: a person decides. */
  conflict?: { finding: string; mine: string; theirs: string; by: string; at: string };
  /** A person has decided to send it all the same. */
  decided?: boolean;
  refused?: Schemas["Problem"];
}

const store = "inner-compass.outbox";
const waiters = new Map<string, { resolve: (n: News) => void; reject: (e: unknown) => void }>();
/** Answers that came before anybody has asked for them: the changes of a case have their turn one after the other. */
const outcomes = new Map<string, { news: News } | { error: unknown }>();
/** Keys of changes that this page has pressed: each is asked for once. */
const mine = new Set<string>();
const listeners = new Set<() => void>();
/** This page, as the others of this device know that it is there. */
const tab = newKey();
const tabLock = (id: string) => `${store} ${id}`;
/** The device keeps nothing, as in a private window: the list lives as long as the page. */
let memoryOnly = false;
let entries: Waiting[] = [];
entries = read();
let client: QueryClient | undefined;
let wake: (() => void) | undefined;
let running = false;
/** The last try did not reach the server. */
let stuck = false;

function read(): Waiting[] {
  if (memoryOnly) return entries;
  try {
    return JSON.parse(localStorage.getItem(store) ?? "[]") as Waiting[];
  } catch {
    return []; // what is no list was not written by this page
  }
}

function write(change: (now: Waiting[]) => Waiting[]) {
  entries = change(read());
  try {
    localStorage.setItem(store, JSON.stringify(entries));
  } catch {
    memoryOnly = true;
  }
  listeners.forEach((l) => l());
}

export const outbox = {
  list: () => entries,
  isStuck: () => stuck,
  subscribe(listener: () => void) {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  },
  /** Keeps a change and begins to send it. */
  put(entry: Waiting) {
    mine.add(entry.key);
    write((now) => (now.some((e) => e.key === entry.key) ? now : [...now, { ...entry, tab }]));
    void drain();
  },
  /** The answer to a change that was put in. */
  sent(key: string): Promise<News> {
    const came = outcomes.get(key);
    outcomes.delete(key);
    mine.delete(key);
    if (came) return "news" in came ? Promise.resolve(came.news) : Promise.reject(came.error as Error);
    return new Promise((resolve, reject) => waiters.set(key, { resolve, reject }));
  },
  /** A person decides: it is sent all the same, or dropped. */
  send(key: string) {
    write((now) => now.map((e) => (e.key === key ? { ...e, conflict: undefined, refused: undefined, decided: true } : e)));
    void drain();
  },
  drop(key: string) {
    write((now) => now.filter((e) => e.key !== key));
    settle(key, {
      error: new ProblemError({ type: "urn:inner-compass:problem:not-now", title: "Left out: theirs was kept", status: 409 }),
    });
  },
  /** The line may be back, or somebody has signed in. */
  poke() {
    wake?.();
    void drain();
  },
};

/** Begins with what an earlier page has left. */
export function startOutbox(c: QueryClient) {
  client = c;
  // Held as long as the page is open: so others know whose entries are left behind.
  void navigator.locks?.request(tabLock(tab), () => new Promise(() => {}));
  window.addEventListener("online", outbox.poke);
  // What a page that was closed meanwhile has left.
  setInterval(() => entries.length > 0 && void drain(), 10_000);
  // Another page of this device has changed the list.
  window.addEventListener("storage", (e) => {
    if (e.key !== store) return;
    entries = read();
    listeners.forEach((l) => l());
  });
  void drain();
}

/** Hands an outcome to whoever asks for it; false when nobody of this page does. */
function settle(key: string, outcome: { news: News } | { error: unknown }) {
  const waiter = waiters.get(key);
  waiters.delete(key);
  if (waiter) {
    if ("news" in outcome) waiter.resolve(outcome.news);
    else waiter.reject(outcome.error);
  } else if (mine.has(key)) outcomes.set(key, outcome);
  else return false;
  return true;
}

async function drain() {
  if (running || !client) return;
  running = true;
  try {
    await sendAll();
  } finally {
    running = false;
  }
}

async function sendAll() {
  for (let tries = 0; ;) {
    const e = await next();
    if (!e) return;
    try {
      const found = await conflictOf(e);
      if (found) {
        write((now) => now.map((x) => (x.key === e.key ? { ...x, conflict: found } : x)));
        continue;
      }
      done(e, await send(e));
      tries = 0;
      stuck = false;
    } catch (error) {
      if (isAway(error) || isLocked(error)) {
        stuck = isAway(error);
        listeners.forEach((l) => l());
        await pause(Math.min(5000, 300 * 2 ** tries++));
      } else refuse(e, error);
    }
  }
}

const isLocked = (error: unknown) => error instanceof ProblemError && error.problem.type === "urn:inner-compass:problem:not-signed-in";

/** What is to be sent next: the oldest that waits for nobody, of whoever is signed in, pressed here or by a page that is gone. */
async function next() {
  const held = (await navigator.locks?.query())?.held?.map((l) => l.name) ?? [];
  const left = (e: Waiting) => !e.tab || e.tab === tab || !held.includes(tabLock(e.tab));
  const session = client?.getQueryData(sessionQuery.queryKey);
  const me = session?.person?.id ?? "";
  return read().find((e) => left(e) && !e.conflict && !e.refused && (!session?.needed || e.person === me));
}

function pause(ms: number) {
  return new Promise<void>((resolve) => {
    const timer = setTimeout(resolve, ms);
    wake = () => (clearTimeout(timer), resolve());
  });
}

function send(e: Waiting) {
  const params = { path: e.request.params, header: { "Idempotency-Key": e.key } };
  return answer(api.POST(e.request.path as never, { params, body: e.request.body } as never) as never) as Promise<News>;
}

/** How long something may be on its way before it counts as having waited: then others may have been there in between. */
const onItsWay = 3000;

/** What somebody else has noted of the same while this waited. */
async function conflictOf(e: Waiting) {
  if (!e.about || e.decided || Date.now() - e.at < onItsWay) return undefined;
  const now = await answer(api.GET("/cases/{id}", { params: { path: { id: e.caseId } } }));
  for (const a of e.about) {
    const theirs = now.ranking?.trail.find((t) => t.finding === a.finding && t.state !== a.state && !a.known.includes(t.id));
    if (theirs) return { finding: theirs.title, mine: a.state, theirs: theirs.stateTitle, by: theirs.by, at: theirs.at };
  }
  return undefined;
}

function done(e: Waiting, news: News) {
  write((now) => now.filter((x) => x.key !== e.key));
  if (settle(e.key, { news })) return;
  const { queryKey } = caseQuery(e.caseId);
  const shown = withNews(client?.getQueryData(queryKey), news);
  if (shown) client?.setQueryData(queryKey, shown);
  else void client?.invalidateQueries({ queryKey });
}

/** The server does not take it: the page that pressed it says so; when there is none any more, it stays in the list. */
function refuse(e: Waiting, error: unknown) {
  if (settle(e.key, { error }) && Date.now() - e.at < onItsWay) {
    write((now) => now.filter((x) => x.key !== e.key));
    return;
  }
  const refused: Schemas["Problem"] =
    error instanceof ProblemError ? error.problem : { type: "urn:inner-compass:problem:failed", title: String(error), status: 500 };
  write((now) => now.map((x) => (x.key === e.key ? { ...x, refused } : x)));
}
