import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, ProblemError, type Schemas } from "./client";

export type ShiftsTold = Schemas["ShiftsTold"];
export type ShiftTold = Schemas["ShiftTold"];
export type Compared = Schemas["ShiftCompared"];
export type ShiftsAsked = NonNullable<import("./schema.gen").operations["getShifts"]["parameters"]["query"]>;

/** The shifts of a recording; its samples never change, so neither do they while it is read the same way. */
export const shiftsQuery = (id: string, asked: ShiftsAsked, revision: number) =>
  queryOptions({
    queryKey: ["recordings", id, "shifts", asked, revision],
    queryFn: ({ signal }) => answer(api.GET("/recordings/{id}/shifts", { signal, params: { path: { id }, query: asked } })),
    placeholderData: keepPreviousData,
    retry: (n, e) => !(e instanceof ProblemError) && n < 2,
    staleTime: 60_000,
  });

export const comparisonQuery = (id: string, after: string, asked: ShiftsAsked) =>
  queryOptions({
    queryKey: ["recordings", id, "comparison", after, asked],
    queryFn: ({ signal }) =>
      answer(api.GET("/recordings/{id}/comparison", { signal, params: { path: { id }, query: { ...asked, after } } })),
    enabled: after !== "",
    retry: (n, e) => !(e instanceof ProblemError) && n < 2,
    staleTime: 60_000,
  });
