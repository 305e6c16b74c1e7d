import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Schemas } from "../../api/client";
import { weekQuery } from "../../api/queries";
import { worker } from "../../shared/worker";

export type Change = Partial<Pick<Schemas["JobSettledInput"], "bay" | "person" | "from" | "due">>;

/** The week, and what a person settles about a job in it. */
export function useWeek() {
  const client = useQueryClient();
  const week = useQuery(weekQuery);
  const settle = useMutation({
    scope: { id: "settle" }, // one after the other, each on what the one before has left
    mutationFn: ({ job, change }: { job: Schemas["WeekJob"]; change: Change }) => {
      const known = client.getQueryData(weekQuery.queryKey)?.jobs.find((j) => j.case === job.case) ?? job;
      const { rev, ...now } = known.settled;
      return answer(
        api.PUT("/cases/{id}/job", {
          params: { path: { id: job.case }, header: { "If-Match": String(rev) } },
          body: { ...now, ...change, by: worker() },
        }),
      );
    },
    onSuccess: (settled, { job }) => {
      client.setQueryData(
        weekQuery.queryKey,
        (old) => old && { ...old, jobs: old.jobs.map((j) => (j.case === job.case ? { ...j, settled } : j)) },
      );
    },
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ["week"] });
      void client.invalidateQueries({ queryKey: ["job"] });
    },
  });
  return { week, settle };
}
