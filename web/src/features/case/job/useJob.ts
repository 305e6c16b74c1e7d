import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Schemas } from "../../../api/client";
import { jobQuery } from "../../../api/queries";
import { useCase } from "../useCase";

export type Job = Schemas["Job"];
export type JobPart = Schemas["JobPart"];
export type JobTask = Schemas["JobTask"];

/** The job of the case, of the option looked at, and what a person settles about it. */
export function useJob() {
  const { shown, by } = useCase();
  const client = useQueryClient();
  const [option, setOption] = useState("");
  const job = useQuery(jobQuery(shown.id, shown.rev, option));
  const key = jobQuery(shown.id, shown.rev, option).queryKey;
  const settle = useMutation({
    scope: { id: "settle" }, // one after the other, each on what the one before has left
    mutationFn: (change: Partial<Schemas["JobSettledInput"]>) => {
      const { rev, ...now } = (client.getQueryData(key) ?? job.data!).settled;
      return answer(
        api.PUT("/cases/{id}/job", {
          params: { path: { id: shown.id }, header: { "If-Match": String(rev) } },
          body: { ...now, ...change, by },
        }),
      );
    },
    onSuccess: (settled) => {
      client.setQueryData(key, (old) => old && { ...old, settled });
    },
    onSettled: () => {
      void client.invalidateQueries({ queryKey: ["job"] });
      void client.invalidateQueries({ queryKey: ["week"] });
    },
  });
  return { job, option, setOption, settle };
}
