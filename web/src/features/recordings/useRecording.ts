import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Schemas } from "../../api/client";
import { recordingQuery, type Recording } from "../../api/recordings";
import { worker } from "../../shared/worker";

/** What can be said of a recording; each answer is the recording as it then is. */
export function useRecording(r: Recording) {
  const client = useQueryClient();
  const take = (now: Recording) => {
    client.setQueryData(recordingQuery(r.id).queryKey, now);
    void client.invalidateQueries({ queryKey: ["recordings", "list"] });
  };
  const path = { id: r.id };
  const revision = r.revision;
  type Said = Omit<
    NonNullable<import("../../api/schema.gen").operations["changeRecording"]["requestBody"]>["content"]["application/json"],
    "revision"
  >;
  const change = useMutation({
    mutationFn: (said: Said) => answer(api.PUT("/recordings/{id}", { params: { path }, body: { revision, ...said } })),
    onSuccess: take,
  });
  const reread = useMutation({
    mutationFn: (layout: Schemas["Layout"]) => answer(api.PUT("/recordings/{id}/layout", { params: { path }, body: { revision, layout } })),
    onSuccess: take,
  });
  const mark = useMutation({
    mutationFn: (m: { at: number; note: string }) =>
      answer(api.POST("/recordings/{id}/marks", { params: { path }, body: { revision, ...m, by: worker() } })),
    onSuccess: take,
  });
  const unmark = useMutation({
    mutationFn: (id: string) =>
      answer(api.DELETE("/recordings/{id}/marks/{mark}", { params: { path: { ...path, mark: id }, query: { revision } } })),
    onSuccess: take,
  });
  const remove = useMutation({
    mutationFn: () => answer(api.DELETE("/recordings/{id}", { params: { path, query: { revision } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["recordings", "list"] }),
  });
  return { change, reread, mark, unmark, remove, error: change.error ?? reread.error ?? mark.error ?? unmark.error ?? remove.error };
}
