import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { caseQuery, fullCaseQuery } from "../../api/queries";
import { useCase } from "./useCase";

/** Asks for the exact answer while an approximate one is shown, and puts it in its place; a new reading cancels it. */
export function useExact() {
  const { shown } = useCase();
  const client = useQueryClient();
  const { data } = useQuery({ ...fullCaseQuery(shown.id, shown.rev, shown.trail.length), enabled: !shown.suspicion.exact });
  useEffect(() => {
    if (!data) return;
    client.setQueryData(caseQuery(data.id).queryKey, (now) =>
      now?.rev === data.rev && now.trail.length === data.trail.length ? data : now,
    );
  }, [data, client]);
}
