import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { outbox, type Waiting } from "../api/outbox";

/** How long a change may be on its way before it is said that it waits. */
const patience = 1500;

/** What this device has kept for longer than it takes to send it. */
export function useWaiting(): Waiting[] {
  const list = useSyncExternalStore(outbox.subscribe, outbox.list);
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (list.length === 0) return;
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, [list]);
  return useMemo(() => list.filter((e) => e.conflict || e.refused || now - e.at > patience), [list, now]);
}

/** The readings of a case that wait: the state that was noted, by finding. */
export function useWaitingReadings(caseId: string): Map<string, string> {
  const list = useWaiting();
  const text = JSON.stringify(list.filter((e) => e.caseId === caseId).flatMap((e) => (e.about ?? []).map((a) => [a.finding, a.state])));
  return useMemo(() => new Map(JSON.parse(text) as [string, string][]), [text]);
}
