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
    estimate: useCaseChange(id, (body: Schemas["NewEstimate"]) =>
      answer(api.POST("/cases/{id}/estimates", { params: { path }, body: { by, ...body } })),
    ),
    issue: useCaseChange(id, (body: Schemas["NewRecord"]) =>
      answer(api.POST("/cases/{id}/records", { params: { path }, body: { by, ...body } })),
    ),
    followUp: useCaseChange(id, (body: Schemas["FollowUp"]) => answer(api.PUT("/cases/{id}/follow-up", { params: { path }, body }))),
    earlier: useCaseChange(id, (body: Schemas["CaseRef"]) => answer(api.PUT("/cases/{id}/earlier", { params: { path }, body }))),
    photo: useCaseChange(id, async ({ file, ...text }: { file: File; caption: string; key: string }) => {
      const form = new FormData();
      form.set("file", file);
      form.set("by", by);
      for (const [name, value] of Object.entries(text)) form.set(name, value);
      return uploaded(await fetch(`/api/cases/${id}/photos`, { method: "POST", body: form }));
    }),
    dropPhoto: useCaseChange(id, (photo: string) => answer(api.DELETE("/cases/{id}/photos/{photo}", { params: { path: { id, photo } } }))),
  };
}

/** The case that a picture was put into, or the problem with it: a form with a file is outside the typed client. */
async function uploaded(response: Response): Promise<Case> {
  const body: unknown = await response.json();
  if (response.ok) return body as Case;
  throw new ProblemError(body as Schemas["Problem"]);
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
  const { mutate: estimate } = all.estimate;
  const { mutate: issue } = all.issue;
  const { mutate: followUp } = all.followUp;
  const { mutate: earlier } = all.earlier;
  const { mutate: photo } = all.photo;
  const { mutate: dropPhoto } = all.dropPhoto;
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
      estimate: { mutate: estimate },
      issue: { mutate: issue },
      followUp: { mutate: followUp },
      earlier: { mutate: earlier },
      photo: { mutate: photo },
      dropPhoto: { mutate: dropPhoto },
    }),
    [read, update, mark, put, codes, decide, proof, close, reopen, estimate, issue, followUp, earlier, photo, dropPhoto],
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
