import { useEffect, useRef, useState } from "react";

/** The width of an element as it is, in px, so that a drawing keeps its sizes of text. */
export function useWidth<T extends HTMLElement>(first = 900) {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const host = ref.current;
    if (!host) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(280, host.clientWidth)));
    watch.observe(host);
    setWidth(Math.max(280, host.clientWidth));
    return () => watch.disconnect();
  }, []);
  return { ref, width };
}
