import { useMemo, type ReactNode } from "react";
import type { Case } from "../../api/client";
import { CaseContext, CaseStatusContext, useActions, useCaseMutations, useWorker } from "./useCase";

/** Gives the case, what can be done to it, and how that is going, as two contexts: the second changes at every press. */
export function CaseProvider({ shown, children }: { shown: Case; children: ReactNode }) {
  const status = useCaseMutations(shown.id);
  const actions = useActions(status);
  const by = useWorker();
  const value = useMemo(() => ({ shown, actions, by }), [shown, actions, by]);
  return (
    <CaseContext.Provider value={value}>
      <CaseStatusContext.Provider value={status}>{children}</CaseStatusContext.Provider>
    </CaseContext.Provider>
  );
}
