/** The gauge that sizes are read with at this device; empty for the usual one of the trade. */
const key = "inner-compass.gauge";
export const gaugeInHand = () => localStorage.getItem(key) ?? "";
export const takeGauge = (id: string) => localStorage.setItem(key, id);
