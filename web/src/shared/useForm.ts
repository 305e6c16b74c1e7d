import { useState } from "react";

/**
 * The fields of a form, a way to put some of them, and a way to set all. A put adds to what stands now, not to what the last drawing
 * saw: of two fields that are filled at once neither is lost.
 */
export function useForm<T extends object>(start: T | (() => T)) {
  const [form, setForm] = useState(start);
  const put = (part: Partial<T>) => setForm((f) => ({ ...f, ...part }));
  return [form, put, setForm] as const;
}
