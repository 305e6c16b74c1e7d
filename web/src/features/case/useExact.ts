import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { caseQuery, fullCaseQuery } from "../../api/queries";
import { useCase } from "./useCase";

/** Asks for the exact answer and the weights while they are not there, and puts them in place; a new reading cancels it. */
export function useExact() {
  const { shown } = useCase();
  const client = useQueryClient();
  const { data } = useQuery({
    ...fullCaseQuery(shown.id, shown.rev, shown.trail.length),
    enabled: !shown.suspicion.exact || !shown.weighed,
  });
  useEffect(() => {
    if (!data) return;
    client.setQueryData(caseQuery(data.id).queryKey, (now) =>
      now?.rev === data.rev && now.trail.length === data.trail.length ? data : now,
    );
  }, [data, client]);
}
