import { useCallback, useEffect, useRef, useState } from "react";
import { answer, api, isAway, type Schemas } from "../../api/client";

export type LiveState = Schemas["LiveState"];
export type LiveRow = Schemas["LiveRow"];

/** So many seconds are kept at this page, and so often it asks. */
const kept = 30;
const every = 150;
const quiet = 1000; // while nothing is connected
const numbers = 200; // between new numbers: faster than that nobody reads

/** What a state says, but for the moment: two that say the same are rendered once. */
const said = (s: LiveState) => JSON.stringify({ ...s, at: 0, rate: Math.round(s.rate), recorded: Math.round(s.recorded) });

/**
 * What is connected, asked some seven times a second: its state, and the rows since the last answer. The rows stand in a ref: a drawing reads them
 * when it draws, and nothing is rendered again for each.
 */
export function useLive() {
  const [state, setState] = useState<LiveState | null>();
  const [error, setError] = useState<unknown>();
  const [latest, setLatest] = useState<number[]>();
  const rows = useRef<LiveRow[]>([]);
  const columns = useRef("");
  const before = useRef("");
  const take = useCallback((s: LiveState) => {
    const now = s.watched.join(" ");
    if (now !== columns.current) {
      columns.current = now;
      rows.current = [];
    }
    const text = said(s);
    if (text !== before.current) setState(s);
    before.current = text;
  }, []);
  useEffect(() => {
    let ended = false;
    let timer = 0;
    let shown = 0;
    const ask = async () => {
      const after = rows.current.at(-1)?.seq ?? 0;
      try {
        const got = await answer(api.GET("/live", { params: { query: { after } } }));
        if (ended) return;
        if (got.state.unit === "") {
          rows.current = [];
          columns.current = "";
          before.current = "";
          setState(null);
          setError(undefined);
          timer = window.setTimeout(() => void ask(), quiet);
          return;
        }
        take(got.state);
        const first = got.rows[0];
        if (first && got.rows.every((r) => r.value.length === got.state.watched.length)) {
          const last = got.rows.at(-1)?.at ?? 0;
          if (performance.now() - shown >= numbers) {
            shown = performance.now();
            setLatest(got.rows.at(-1)?.value);
          }
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
  const gone = useCallback(() => {
    before.current = "";
    setState(null);
  }, []);
  return { state, rows, latest, error, take, gone };
}
