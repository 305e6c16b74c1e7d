import { useEffect, useState } from "react";

/** A value once it has stayed as it is for a moment: what is asked of the server follows the fingers, not each of their strokes. */
export function useSettled<T>(value: T, ms = 250): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
