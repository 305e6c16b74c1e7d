import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, ProblemError } from "../../api/client";
import { draftQuery } from "../../api/queries";
import type { From } from "../../shared/sources";
import { worker } from "../../shared/worker";
import type { Draft, Sheet, View } from "./sheet";

/** How long a change waits for the next one before it is sent. */
const settle = 150;

/** What was changed and is not kept by the server yet stands in this browser: neither a reload nor a server that is away loses it. */
const unsent = {
  name: (id: string) => `inner-compass.build ${id}`,
  put: (id: string, revision: number, draft: Draft) => localStorage.setItem(unsent.name(id), JSON.stringify({ revision, draft })),
  drop: (id: string) => localStorage.removeItem(unsent.name(id)),
  /** The change that was not sent, if the server still stands where it was made. */
  of: (id: string, revision: number): Draft | undefined => {
    const text = localStorage.getItem(unsent.name(id));
    if (!text) return undefined;
    const kept = JSON.parse(text) as { revision: number; draft: Draft };
    return kept.revision === revision ? kept.draft : undefined;
  },
};

/**
 * A unit that is being built. Every change shows at once, is kept by the server within a moment, and comes back with what it comes to.
 * Changes go one after the other; what was changed while one was under way is sent with the next.
 */
export function useBuild(id: string) {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery(draftQuery(id));
  const [draft, setDraft] = useState<Draft>();
  const [failed, setFailed] = useState<unknown>();
  const [saving, setSaving] = useState(false);
  const revision = useRef(0);
  const waiting = useRef<{ draft: Draft; fill: boolean } | undefined>(undefined);
  const under = useRef(false);
  if (data && !draft) setDraft(unsent.of(id, data.revision) ?? (data.draft as unknown as Draft));
  useEffect(() => {
    if (data && !under.current) revision.current = Math.max(revision.current, data.revision);
  }, [data]);
  const send = useCallback(async () => {
    if (under.current) return;
    under.current = true;
    setSaving(true);
    let sent: typeof waiting.current;
    try {
      while (waiting.current) {
        const next = waiting.current;
        sent = next;
        waiting.current = undefined;
        const view: View = await answer(
          api.PUT("/drafts/{id}", {
            params: { path: { id } },
            body: { revision: revision.current, draft: next.draft as never, ...(next.fill ? { fill: true } : {}) },
          }),
        );
        revision.current = view.revision;
        setFailed(undefined);
        client.setQueryData(draftQuery(id).queryKey, view);
        if (!waiting.current) {
          unsent.drop(id);
          // As the server keeps it: what follows from the change may stand in it.
          setDraft(view.draft as unknown as Draft);
        }
      }
    } catch (e) {
      setFailed(e);
      // What was not taken waits for the next try, unless something newer waits already.
      waiting.current ??= sent;
      if (e instanceof ProblemError && e.problem.status === 409) {
        // Changed on another page: what stands there is shown, and said.
        const fresh = await refetch();
        unsent.drop(id);
        waiting.current = undefined;
        if (fresh.data) {
          revision.current = fresh.data.revision;
          setDraft(fresh.data.draft as unknown as Draft);
        }
      }
    } finally {
      under.current = false;
      setSaving(false);
    }
  }, [client, id, refetch]);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const queue = useCallback(
    (next: Draft, fill = false) => {
      unsent.put(id, revision.current, next);
      waiting.current = { draft: next, fill: fill || (waiting.current?.fill ?? false) };
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void send(), fill ? 0 : settle);
    },
    [id, send],
  );
  const put = useCallback(
    (next: Draft, fill = false) => {
      setDraft(next);
      setSaving(true);
      queue(next, fill);
    },
    [queue],
  );
  // What an earlier page could not send is sent now.
  const first = useRef(true);
  useEffect(() => {
    if (!data || !first.current) return;
    first.current = false;
    const kept = unsent.of(id, data.revision);
    if (kept) queue(kept);
  }, [data, id, queue]);
  // A page that is left takes its last change along.
  useEffect(() => () => void send(), [send]);
  const change = useCallback(
    (f: (s: Sheet) => Sheet, more: Partial<Draft> = {}) => {
      if (draft) put({ ...draft, ...more, sheet: f(draft.sheet) });
    },
    [draft, put],
  );
  /** What the server does to the draft; what was changed before it is sent first. */
  const act = async (post: (at: { params: { path: { id: string } } }, revision: number) => Promise<View>) => {
    clearTimeout(timer.current);
    await send();
    const view = await post({ params: { path: { id } } }, revision.current);
    revision.current = view.revision;
    client.setQueryData(draftQuery(id).queryKey, view);
    setDraft(view.draft as unknown as Draft);
  };
  /** Takes a chart that was pasted. */
  const paste = (text: string) => act((at, revision) => answer(api.POST("/drafts/{id}/table", { ...at, body: { revision, text } })));
  /** Takes what was measured in cases for a number of the sheet. */
  const take = (path: string) =>
    act((at, revision) => answer(api.POST("/drafts/{id}/offers", { ...at, body: { revision, path, by: worker() } })));
  /** Puts one number into the sheet, with where it is from. */
  const say = (path: string, value: string, from: From, why: string) =>
    act((at, revision) => answer(api.POST("/drafts/{id}/numbers", { ...at, body: { revision, path, value, from, why, by: worker() } })));
  const fill = () => draft && put(draft, true);
  return {
    draft,
    view: data,
    error,
    failed,
    saving,
    change,
    fill,
    paste,
    take,
    say,
    retry: () => void refetch(),
    again: () => void send(),
  };
}

export type Build = ReturnType<typeof useBuild>;
