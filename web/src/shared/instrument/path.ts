/** The page of an instrument named id or id:part, used on a case or a unit, with values that it begins with. */
export function instrumentPath(name: string, on: { case?: string; unit?: string }, values: Record<string, string> = {}) {
  const [id, part] = name.split(":");
  const params = new URLSearchParams();
  if (on.case) params.set("case", on.case);
  if (on.unit) params.set("unit", on.unit);
  if (part) params.set("part", part);
  for (const [input, value] of Object.entries(values)) params.set(`with.${input}`, value);
  return `/instruments/${id}${params.size > 0 ? `?${params}` : ""}`;
}
