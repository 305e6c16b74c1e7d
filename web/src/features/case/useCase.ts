import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { answer, api, ProblemError, type Case, type Schemas } from "../../api/client";
import { caseQuery, settingsQuery } from "../../api/queries";
import { worker } from "../../shared/worker";

/** Puts what a change returned in place of what is shown; a refused change loads the case again. */
export function useCaseChange<V>(id: string, change: (input: V) => Promise<Case>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: (now) => {
      client.setQueryData(caseQuery(id).queryKey, now);
      void client.invalidateQueries({ queryKey: ["cases"] });
    },
    onError: (e) => {
      if (e instanceof ProblemError && e.problem.status === 412) void client.invalidateQueries({ queryKey: caseQuery(id).queryKey });
    },
  });
}

export type NewReading = Schemas["NewReading"];

/** Everything that can be done to a case. A reading carries its own key, so that sending it again after a lost answer changes nothing. */
export function useCaseActions(id: string) {
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

interface CaseContext {
  shown: Case;
  actions: ReturnType<typeof useCaseActions>;
  by: string;
}

export const CaseContext = createContext<CaseContext | null>(null);

export function useCase(): CaseContext {
  const value = useContext(CaseContext);
  if (!value) throw new Error("useCase needs a CasePage around it");
  return value;
}
