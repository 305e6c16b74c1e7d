import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, ProblemError, type Schemas } from "./client";

export type Recording = Schemas["Recording"];
export type Orders = Schemas["Orders"];

/** Recordings, the latest first; of one case when it is named. */
export const recordingsQuery = (of?: string) =>
  queryOptions({
    queryKey: ["recordings", "list", of ?? ""],
    queryFn: ({ signal }) => answer(api.GET("/recordings", { signal, params: { query: { case: of || undefined } } })),
  });

export const recordingQuery = (id: string) =>
  queryOptions({
    queryKey: ["recordings", id],
    queryFn: ({ signal }) => answer(api.GET("/recordings/{id}", { signal, params: { path: { id } } })),
  });

export interface Part {
  from: number;
  to: number;
}

/** What is drawn of channels between two moments. A recording's samples never change, so neither does this while it is read the same way. */
export const traceQuery = (id: string, channels: number[], part: Part, most: number, layout: string) =>
  queryOptions({
    queryKey: ["recordings", id, "trace", channels, part, most, layout],
    queryFn: ({ signal }) =>
      answer(api.GET("/recordings/{id}/trace", { signal, params: { path: { id }, query: { channels, ...part, most } } })),
    placeholderData: keepPreviousData,
    enabled: channels.length > 0,
    staleTime: Infinity,
  });

export type OrdersAsked = NonNullable<import("./schema.gen").operations["getOrders"]["parameters"]["query"]>;

export const ordersQuery = (id: string, asked: OrdersAsked, rev: number) =>
  queryOptions({
    queryKey: ["recordings", id, "orders", asked, rev],
    queryFn: ({ signal }) => answer(api.GET("/recordings/{id}/orders", { signal, params: { path: { id }, query: asked } })),
    placeholderData: keepPreviousData,
    retry: (n, e) => !(e instanceof ProblemError) && n < 2,
    staleTime: 60_000,
  });

export const vehicleSheetQuery = (vehicle: string) =>
  queryOptions({
    queryKey: ["recordings", "vehicle", vehicle],
    queryFn: ({ signal }) => answer(api.GET("/vehicle-sheets", { signal, params: { query: { vehicle } } })),
    enabled: vehicle !== "",
  });

/** What is said of a recording that is brought in. */
export type Brought = import("./schema.gen").operations["bringRecording"]["parameters"]["query"];

/** Sends a recording as it is and says how far it is; aborting it leaves nothing behind. Only this way of asking tells progress. */
export function bringRecording(said: Brought, body: Blob, progress: (share: number) => void, signal: AbortSignal): Promise<Recording> {
  return new Promise((resolve, reject) => {
    const ask = new XMLHttpRequest();
    const query = new URLSearchParams(Object.entries(said).flatMap(([k, v]) => (v ? [[k, String(v)]] : [])));
    ask.open("POST", `/api/recordings?${query}`);
    ask.setRequestHeader("Content-Type", "application/octet-stream");
    ask.responseType = "json";
    ask.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    ask.onload = () => {
      const got = ask.response as unknown;
      if (ask.status === 201) return resolve(got as Recording);
      const p = (got ?? {}) as Partial<Schemas["Problem"]>;
      reject(
        new ProblemError({
          type: p.type ?? "urn:inner-compass:problem:failed",
          title: p.title ?? "Not taken",
          status: ask.status,
          detail: p.detail,
          field: p.field,
          accepted: p.accepted,
        }),
      );
    };
    ask.onerror = () => reject(new TypeError("the server does not answer"));
    ask.onabort = () => reject(new DOMException("stopped", "AbortError"));
    signal.addEventListener("abort", () => ask.abort());
    ask.send(body);
  });
}
