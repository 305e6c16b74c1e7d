import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { withRanking } from "../../api/caseParts";
import { caseQuery, rankingQuery } from "../../api/queries";
import { useCase } from "./useCase";

/** Asks for the exact answer and the weights while they are not there, and puts them in place; a new reading cancels it. */
export function useExact() {
  const { shown } = useCase();
  const client = useQueryClient();
  const { data } = useQuery({
    ...rankingQuery(shown.id, shown.rev, shown.trail.length),
    enabled: !shown.suspicion.exact || !shown.weighed,
  });
  useEffect(() => {
    if (data) client.setQueryData(caseQuery(shown.id).queryKey, (now) => withRanking(now, data));
  }, [data, client, shown.id]);
}
