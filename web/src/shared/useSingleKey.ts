import { useHotkeys } from "react-hotkeys-hook";

/**
 * Actions on a single key can be turned off at this device, in Settings: speech input, or a sleeve on the keyboard, sets them off by
 * chance. What has a search or a place as its aim stays.
 */
const stored = "inner-compass.single-keys";
export const singleKeys = () => localStorage.getItem(stored) !== "off";
export const setSingleKeys = (on: boolean) => localStorage.setItem(stored, on ? "on" : "off");

type Args = Parameters<typeof useHotkeys>;

/** useHotkeys for an action on a single key. */
export function useSingleKey(keys: Args[0], act: Args[1], options: { preventDefault?: boolean; useKey?: boolean } = {}) {
  return useHotkeys(keys, act, { ...options, enabled: singleKeys });
}
