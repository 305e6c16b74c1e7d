/** Who works at this device: a choice of the device, set in Settings. */
const key = "inner-compass.worker";
export const worker = () => localStorage.getItem(key) ?? "";
export const setWorker = (name: string) => localStorage.setItem(key, name);
