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
    mutationFn: ({ job, change }: { job: Schemas["WeekJob"]; change: Change }) => {
      const { rev, ...now } = job.settled;
      return answer(
        api.PUT("/cases/{id}/job", {
          params: { path: { id: job.case }, header: { "If-Match": String(rev) } },
          body: { ...now, ...change, by: worker() },
        }),
      );
    },
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ["week"] });
      void client.invalidateQueries({ queryKey: ["job"] });
    },
  });
  return { week, settle };
}
