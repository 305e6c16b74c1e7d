import { newKey } from "../shared/key";

/** What was asked for last at each place, while the server has not answered for good. */
const open = new Map<string, { what: string; key: string }>();

/** A file is told by its name, size and time: what is in it is not read for that. */
const plain = (_: string, v: unknown) => (v instanceof File ? [v.name, v.size, v.lastModified] : v);

/**
 * The key of a thing that is done. Pressed again while the server has not answered for good, the same thing keeps its key, so that
 * it is done once; another thing in between makes it a new one.
 */
export function keyOf(place: string, thing: unknown): string {
  const what = JSON.stringify(thing, plain) ?? "";
  const last = open.get(place);
  if (last?.what === what) return last.key;
  const key = newKey();
  open.set(place, { what, key });
  return key;
}

/** The server has done it, or refused it: the same thing again is another. */
export function answered(place: string, key: string) {
  if (open.get(place)?.key === key) open.delete(place);
}
