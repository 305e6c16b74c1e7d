import { useEffect } from "react";

/** What the browser's tab and a screen reader call the page. */
export function Title({ of }: { of: string }) {
  useEffect(() => {
    document.title = `${of} · Inner Compass`;
  }, [of]);
  return null;
}
