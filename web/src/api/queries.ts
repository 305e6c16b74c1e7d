import { queryOptions } from "@tanstack/react-query";
import { answer, api } from "./client";

export const floorQuery = queryOptions({ queryKey: ["cases"], queryFn: () => answer(api.GET("/cases")) });
export const settingsQuery = queryOptions({ queryKey: ["settings"], queryFn: () => answer(api.GET("/settings")) });
export const unitsQuery = queryOptions({ queryKey: ["units"], queryFn: () => answer(api.GET("/units")), staleTime: Infinity });

export const unitQuery = (id: string) =>
  queryOptions({ queryKey: ["unit", id], queryFn: () => answer(api.GET("/units/{id}", { params: { path: { id } } })) });

export const caseQuery = (id: string) =>
  queryOptions({ queryKey: ["case", id], queryFn: () => answer(api.GET("/cases/{id}", { params: { path: { id } } })) });

export const findingsQuery = (id: string, stage: "complaint" | "checks" | "teardown", rev: number) =>
  queryOptions({
    queryKey: ["findings", id, stage, rev],
    queryFn: () => answer(api.GET("/cases/{id}/findings", { params: { path: { id }, query: { stage } } })),
    placeholderData: (old) => old,
  });

export const checksQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["checks", id, rev],
    queryFn: () => answer(api.GET("/cases/{id}/checks", { params: { path: { id } } })),
    placeholderData: (old) => old,
  });

export const checkQuery = (id: string, check: string, rev: number) =>
  queryOptions({
    queryKey: ["check", id, check, rev],
    queryFn: () => answer(api.GET("/cases/{id}/checks/{check}", { params: { path: { id, check } } })),
    placeholderData: (old) => (old?.id === check ? old : undefined),
  });

export const optionsQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["options", id, rev],
    queryFn: () => answer(api.GET("/cases/{id}/options", { params: { path: { id } } })),
    placeholderData: (old) => old,
  });
