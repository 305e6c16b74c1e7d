import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, isAway, type Schemas } from "../../api/client";

export type LiveState = Schemas["LiveState"];
export type LiveRow = Schemas["LiveRow"];

/** So many seconds are kept at this page, and so often it asks. */
const kept = 30;
const every = 100;
const quiet = 1000; // while nothing is connected

/**
 * What is connected, asked ten times a second: its state, and the rows since the last answer. The rows stand in a ref: a drawing reads them
 * when it draws, and nothing is rendered again for each.
 */
export function useLive() {
  const [state, setState] = useState<LiveState | null>();
  const [error, setError] = useState<unknown>();
  const [latest, setLatest] = useState<number[]>();
  const rows = useRef<LiveRow[]>([]);
  const columns = useRef("");
  const take = useCallback((s: LiveState) => {
    const now = s.watched.join(" ");
    if (now !== columns.current) {
      columns.current = now;
      rows.current = [];
    }
    setState(s);
  }, []);
  useEffect(() => {
    let ended = false;
    let timer = 0;
    const ask = async () => {
      const after = rows.current.at(-1)?.seq ?? 0;
      try {
        const got = await answer(api.GET("/live", { params: { query: { after } } }));
        if (ended) return;
        if (got.state.unit === "") {
          rows.current = [];
          columns.current = "";
          setState(null);
          setError(undefined);
          timer = window.setTimeout(() => void ask(), quiet);
          return;
        }
        take(got.state);
        const first = got.rows[0];
        if (first && got.rows.every((r) => r.value.length === got.state.watched.length)) {
          const last = got.rows.at(-1)?.at ?? 0;
          setLatest(got.rows.at(-1)?.value);
          rows.current = [...rows.current, ...got.rows].filter((r) => r.at > last - kept);
        }
        setError(undefined);
      } catch (e) {
        if (ended) return;
        if (!isAway(e)) setError(e);
      }
      if (!ended) timer = window.setTimeout(() => void ask(), every);
    };
    void ask();
    return () => {
      ended = true;
      window.clearTimeout(timer);
    };
  }, [take]);
  return { state, rows, latest, error, take, gone: () => setState(null) };
}
