import { useCallback, useEffect, useState } from "react";

/** Text that outlives a reload and a server that is away: kept in this browser until it is thrown away. Null when there is none yet. */
export function useDraft(key: string) {
  const name = `inner-compass-draft ${key}`;
  const [text, setText] = useState(() => localStorage.getItem(name));
  useEffect(() => {
    if (text !== null) localStorage.setItem(name, text);
  }, [name, text]);
  const clear = useCallback(() => localStorage.removeItem(name), [name]);
  return { text, setText, clear };
}
