import { useMutation, useQuery, useQueryClient, type MutateOptions, type QueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useEffect, useRef, useState } from "react";
import { withNews, type News } from "../../api/caseParts";
import { answer, api, isAway, ProblemError, type Case, type Schemas } from "../../api/client";
import { answered, keyOf } from "../../api/keys";
import { outbox, type Waiting } from "../../api/outbox";
import { caseQuery, sessionQuery, settingsQuery } from "../../api/queries";
import { gaugeInHand } from "../../shared/gaugeInHand";
import { useSession } from "../../shared/session";
import { worker } from "../../shared/worker";

/** Revisions that changes of this page led to, by case: a change that was pressed before them is not held against them. */
const own = new Map<string, Map<number, number>>();

function afterOwn(id: string, rev: number): number {
  const steps = own.get(id);
  while (steps?.has(rev)) rev = steps.get(rev)!;
  return rev;
}

/** What goes with a change: its key, and the revision that was on the screen when it was pressed. */
interface Sent {
  key: string;
  rev: number;
}

const keyed = ({ key }: Sent) => ({ "Idempotency-Key": key });
/** Refused when somebody else has changed the case since it was pressed. */
const guarded = ({ key, rev }: Sent) => ({ "Idempotency-Key": key, ...(rev > 0 ? { "If-Match": `"${rev}"` } : {}) });

interface Pressed<V> {
  input: V;
  sent: Sent;
}

/** Puts what is new in a case in place; a case that somebody else has changed in between is loaded again. */
export function takeNews(client: QueryClient, id: string, news: News) {
  const { queryKey } = caseQuery(id);
  const now = withNews(client.getQueryData(queryKey), news);
  if (now) client.setQueryData(queryKey, now);
  else void client.invalidateQueries({ queryKey });
}

/**
 * Puts what a change returned in place of what is shown; a refused change loads the case again. The changes of a case go one after
 * the other, as they were pressed.
 */
export function useCaseChange<V>(
  id: string,
  kind: string,
  change: (input: V, sent: Sent) => Promise<News>,
  /** Done at once when it is pressed, before its turn has come. */
  pressed?: (input: V, key: string) => void,
) {
  const client = useQueryClient();
  const place = `${id} ${kind}`;
  const { mutate, ...rest } = useMutation({
    mutationKey: ["case", id],
    scope: { id: `case ${id}` },
    mutationFn: ({ input, sent }: Pressed<V>) => change(input, { ...sent, rev: afterOwn(id, sent.rev) }),
    onSuccess: (now, { sent }) => {
      answered(place, sent.key);
      const from = afterOwn(id, sent.rev);
      if (now.rev === from + 1) own.set(id, (own.get(id) ?? new Map()).set(from, now.rev));
      takeNews(client, id, now);
      void client.invalidateQueries({ queryKey: ["cases"] });
    },
    onError: (e, { sent }) => {
      if (!isAway(e)) answered(place, sent.key);
      if (e instanceof ProblemError && (e.problem.status === 412 || e.problem.status === 409))
        void client.invalidateQueries({ queryKey: caseQuery(id).queryKey });
    },
  });
  const press = useCallback(
    (input: V, options?: MutateOptions<News, Error, Pressed<V>>) => {
      const rev = client.getQueryData(caseQuery(id).queryKey)?.rev ?? 0;
      const key = keyOf(place, input);
      pressed?.(input, key);
      mutate({ input, sent: { key, rev } }, options);
    },
    [client, id, mutate, place, pressed],
  );
  return { ...rest, mutate: press };
}

/**
 * A change that is kept on this device until the server has it: what was noted while the line was down is not lost with the page. Only
 * what needs no answer to go on may wait: an estimate or a decision rests on what stands, and is not made behind anybody's back.
 */
function useQueuedChange<V>(id: string, kind: string, what: (input: V, key: string) => Pick<Waiting, "label" | "request" | "about">) {
  const client = useQueryClient();
  const latest = useRef(what);
  useEffect(() => {
    latest.current = what;
  });
  const pressed = useCallback(
    (input: V, key: string) => {
      const person = client.getQueryData(sessionQuery.queryKey)?.person?.id ?? "";
      outbox.put({ key, caseId: id, person, at: Date.now(), ...latest.current(input, key) });
    },
    [client, id],
  );
  return useCaseChange<V>(id, kind, (_, { key }) => outbox.sent(key), pressed);
}

/** A finding as people may know it, where its title is not at hand. */
const told = (id: string) => id.replace(/^road\./, "road test ").replaceAll(/[.-]/g, " ");

/** A picture as it is put into a case; part is that of the stack that it shows. */
export interface NewPhoto {
  file: File;
  caption: string;
  part?: string;
  stage?: string;
}

export type NewReading = Schemas["NewReading"];

/** Everything that can be done to a case, with how each is going. */
export function useCaseMutations(id: string) {
  const path = { id };
  const by = useWorker();
  const client = useQueryClient();
  /** The readings of a finding that are on the screen. */
  const known = (finding: string) =>
    (client.getQueryData(caseQuery(id).queryKey)?.trail ?? []).filter((t) => t.finding === finding).map((t) => t.id);
  return {
    // Each reading has a key of its own: of a batch that is sent again, those that arrived are passed over.
    read: useQueuedChange(id, "read", (readings: NewReading[], key) => ({
      label: readings.map((r) => (r.finding ? `${told(r.finding)}: ${told(r.state ?? "")}` : "a reading taken back")).join(", "),
      request: { path: "/cases/{id}/readings", params: path, body: { readings: readings.map((r, i) => ({ key: `${key}.${i}`, ...r })) } },
      about: readings.flatMap((r) =>
        r.finding && r.state && !r.again ? [{ finding: r.finding, state: r.state, known: known(r.finding) }] : [],
      ),
    })),
    // A form that was filled in says which revision it began with: what came in between, it does not overwrite.
    update: useCaseChange(id, "update", ({ began, ...body }: Schemas["CaseChange"] & { began?: number }, sent) => {
      const header = began === undefined ? keyed(sent) : guarded({ ...sent, rev: afterOwn(id, began) });
      return answer(api.PATCH("/cases/{id}", { params: { path, header }, body }));
    }),
    choose: useQueuedChange(id, "choose", (body: Schemas["WordsChoice"]) => ({
      label: "words of the customer",
      request: { path: "/cases/{id}/words", params: path, body: { by, ...body } },
    })),
    answer: useQueuedChange(id, "answer", (body: Schemas["CustomerAnswer"]) => ({
      label: "an answer of the customer",
      request: { path: "/cases/{id}/interview", params: path, body: { by, ...body } },
    })),
    mark: useQueuedChange(id, "mark", ({ check, ...body }: Schemas["Mark"] & { check: string }) => ({
      label: `${body.kind} ${told(check)}`,
      request: { path: "/cases/{id}/checks/{check}/marks", params: { id, check }, body: { by, ...body } },
    })),
    put: useQueuedChange(id, "put", ({ check, ...body }: Schemas["Values"] & { check: string }) => ({
      label: `measured: ${told(check)}`,
      request: { path: "/cases/{id}/checks/{check}/measurements", params: { id, check }, body: { by, ...body } },
    })),
    codes: useQueuedChange(id, "codes", (body: Schemas["Codes"]) => ({
      label: "fault codes",
      request: { path: "/cases/{id}/codes", params: path, body: { by, ...body } },
    })),
    bench: useQueuedChange(id, "bench", (notes: Schemas["BenchNote"][]) => ({
      label: notes.map((n) => `${n.kind} ${told(n.part ?? "")}`).join(", "),
      request: { path: "/cases/{id}/bench", params: path, body: { by, notes, gauge: gaugeInHand() } },
    })),
    countersign: useCaseChange(id, "countersign", (decision: string, sent) =>
      answer(api.POST("/cases/{id}/decisions/{decision}/countersign", { params: { path: { id, decision }, header: keyed(sent) } })),
    ),
    decide: useCaseChange(id, "decide", (body: Schemas["NewDecision"], sent) =>
      answer(api.POST("/cases/{id}/decisions", { params: { path, header: guarded(sent) }, body: { by, ...body } })),
    ),
    proof: useQueuedChange(id, "proof", (body: Schemas["ProofInput"]) => ({
      label: `proof ${told(body.item)}: ${body.result}`,
      request: { path: "/cases/{id}/proof", params: path, body: { by, ...body } },
    })),
    close: useCaseChange(id, "close", (body: Schemas["Closing"], sent) =>
      answer(api.PUT("/cases/{id}/closing", { params: { path, header: guarded(sent) }, body })),
    ),
    reopen: useCaseChange(id, "reopen", (_: undefined, sent) =>
      answer(api.DELETE("/cases/{id}/closing", { params: { path, header: guarded(sent) } })),
    ),
    estimate: useCaseChange(id, "estimate", (body: Schemas["NewEstimate"], sent) =>
      answer(api.POST("/cases/{id}/estimates", { params: { path, header: guarded(sent) }, body: { by, ...body } })),
    ),
    issue: useCaseChange(id, "issue", (body: Schemas["NewRecord"], sent) =>
      answer(api.POST("/cases/{id}/records", { params: { path, header: guarded(sent) }, body: { by, ...body } })),
    ),
    followUp: useCaseChange(id, "followUp", (body: Schemas["FollowUp"], sent) =>
      answer(api.PUT("/cases/{id}/follow-up", { params: { path, header: keyed(sent) }, body })),
    ),
    earlier: useCaseChange(id, "earlier", (body: Schemas["CaseRef"], sent) =>
      answer(api.PUT("/cases/{id}/earlier", { params: { path, header: keyed(sent) }, body })),
    ),
    photo: useCaseChange(id, "photo", async ({ file, caption, part, stage }: NewPhoto, { key }) => {
      const form = new FormData();
      form.set("file", file);
      if (part) form.set("part", part);
      if (stage) form.set("stage", stage);
      form.set("by", by);
      form.set("caption", caption);
      return uploaded(await fetch(`/api/cases/${id}/photos`, { method: "POST", body: form, headers: { "Idempotency-Key": key } }));
    }),
    withdrawPhoto: useCaseChange(id, "withdrawPhoto", (photo: string, sent) =>
      answer(api.DELETE("/cases/{id}/photos/{photo}", { params: { path: { id, photo }, header: keyed(sent) } })),
    ),
  };
}

/** What is new in the case that a picture was put into, or the problem with it: a form with a file is outside the typed client. */
async function uploaded(response: Response): Promise<News> {
  const body: unknown = await response.json();
  if (response.ok) return body as News;
  throw new ProblemError(body as Schemas["Problem"]);
}

/** Who is signed in; in a shop that asks nobody, who works at this device, or the first person until one is chosen in Settings. */
export function useWorker() {
  const { data } = useQuery(settingsQuery);
  const { session } = useSession();
  return session?.person?.name || worker() || data?.people[0]?.name || "";
}

type Mutations = ReturnType<typeof useCaseMutations>;
type Actions = { [K in keyof Mutations]: Pick<Mutations[K], "mutate"> };

/** The same without how it is going: it never changes, so that pressing a button does not draw the whole case anew. */
export function useActions(all: Mutations): Actions {
  const latest = useRef(all);
  useEffect(() => {
    latest.current = all;
  });
  const [actions] = useState(() => {
    const press =
      (kind: keyof Mutations) =>
      (...args: unknown[]) =>
        (latest.current[kind].mutate as (...args: unknown[]) => void)(...args);
    return Object.fromEntries(Object.keys(all).map((kind) => [kind, { mutate: press(kind as keyof Mutations) }])) as unknown as Actions;
  });
  return actions;
}

interface CaseValue {
  shown: Case;
  actions: Actions;
  by: string;
}

export const CaseContext = createContext<CaseValue | null>(null);
export const CaseStatusContext = createContext<Mutations | null>(null);

export function useCase(): CaseValue {
  const value = useContext(CaseContext);
  if (!value) throw new Error("useCase needs a CaseProvider around it");
  return value;
}

/** How the last change of each kind is going; only what shows it should ask, since it changes at every press. */
export function useCaseStatus(): Mutations {
  const value = useContext(CaseStatusContext);
  if (!value) throw new Error("useCaseStatus needs a CaseProvider around it");
  return value;
}
