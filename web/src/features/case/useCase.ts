import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useMemo } from "react";
import { answer, api, ProblemError, type Case, type Schemas } from "../../api/client";
import { caseQuery, settingsQuery } from "../../api/queries";
import { worker } from "../../shared/worker";

/** Until new weights are there, readings keep those that they had; a new one has none. */
function keepWeights(old: Case | undefined, now: Case): Case {
  if (now.weighed) return now;
  const had = new Map(old?.trail.map((t) => [t.id, t]));
  return {
    ...now,
    trail: now.trail.map((t) => {
      const before = had.get(t.id);
      return before ? { ...t, weight: before.weight, hangsOn: before.hangsOn } : { ...t, weight: NaN };
    }),
  };
}

/** Puts what a change returned in place of what is shown; a refused change loads the case again. */
export function useCaseChange<V>(id: string, change: (input: V) => Promise<Case>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: (now) => {
      client.setQueryData(caseQuery(id).queryKey, (old) => keepWeights(old, now));
      void client.invalidateQueries({ queryKey: ["cases"] });
    },
    onError: (e) => {
      if (e instanceof ProblemError && e.problem.status === 412) void client.invalidateQueries({ queryKey: caseQuery(id).queryKey });
    },
  });
}

export type NewReading = Schemas["NewReading"];

/** Everything that can be done to a case, with how each is going. A reading carries its own key, so that sending it again after a lost answer changes nothing. */
export function useCaseMutations(id: string) {
  const path = { id };
  const by = useWorker();
  return {
    read: useCaseChange(id, (readings: NewReading[]) => answer(api.POST("/cases/{id}/readings", { params: { path }, body: { readings } }))),
    update: useCaseChange(id, ({ rev, ...body }: Schemas["CaseChange"] & { rev?: number }) =>
      answer(api.PATCH("/cases/{id}", { params: { path, header: rev ? { "If-Match": `"${rev}"` } : {} }, body })),
    ),
    mark: useCaseChange(id, ({ check, ...body }: Schemas["Mark"] & { check: string }) =>
      answer(api.POST("/cases/{id}/checks/{check}/mark", { params: { path: { id, check } }, body: { by, ...body } })),
    ),
    put: useCaseChange(id, ({ check, ...body }: Schemas["Values"] & { check: string }) =>
      answer(api.POST("/cases/{id}/checks/{check}/put", { params: { path: { id, check } }, body: { by, ...body } })),
    ),
    codes: useCaseChange(id, (body: Schemas["Codes"]) =>
      answer(api.POST("/cases/{id}/codes", { params: { path }, body: { by, ...body } })),
    ),
    decide: useCaseChange(id, (body: Schemas["NewDecision"]) =>
      answer(api.POST("/cases/{id}/decisions", { params: { path }, body: { by, ...body } })),
    ),
    proof: useCaseChange(id, (body: Schemas["ProofInput"]) =>
      answer(api.POST("/cases/{id}/proof", { params: { path }, body: { by, ...body } })),
    ),
    close: useCaseChange(id, (body: Schemas["Closing"]) => answer(api.POST("/cases/{id}/close", { params: { path }, body }))),
    reopen: useCaseChange(id, () => answer(api.POST("/cases/{id}/reopen", { params: { path } }))),
  };
}

/** Who works at this device; the first person of the shop until one is chosen in Settings. */
export function useWorker() {
  const { data } = useQuery(settingsQuery);
  return worker() || data?.people[0]?.name || "";
}

type Mutations = ReturnType<typeof useCaseMutations>;
type Actions = { [K in keyof Mutations]: Pick<Mutations[K], "mutate"> };

/** The same without how it is going: it never changes, so that pressing a button does not draw the whole case anew. */
export function useActions(all: Mutations): Actions {
  const { mutate: read } = all.read;
  const { mutate: update } = all.update;
  const { mutate: mark } = all.mark;
  const { mutate: put } = all.put;
  const { mutate: codes } = all.codes;
  const { mutate: decide } = all.decide;
  const { mutate: proof } = all.proof;
  const { mutate: close } = all.close;
  const { mutate: reopen } = all.reopen;
  return useMemo(
    () => ({
      read: { mutate: read },
      update: { mutate: update },
      mark: { mutate: mark },
      put: { mutate: put },
      codes: { mutate: codes },
      decide: { mutate: decide },
      proof: { mutate: proof },
      close: { mutate: close },
      reopen: { mutate: reopen },
    }),
    [read, update, mark, put, codes, decide, proof, close, reopen],
  );
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
