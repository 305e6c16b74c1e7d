/** Where a number may be from; empty when the source of its topic counts. */
export type From = "" | "measured" | "paper" | "counted" | "assumed";

/** What a sheet speaks of, as its sources name it. */
export const topics: Record<string, string> = {
  chart: "what is on in each range",
  teeth: "teeth",
  capacities: "what each element holds",
  pressures: "line pressure",
  controls: "solenoids and valves",
  feeds: "oil feeds",
  access: "minutes to open it up",
  leaks: "leak places",
  fluid: "fluid and level",
  engine: "engine torque",
  limits: "limits",
  converter: "converter",
  hydraulics: "pump and valves",
  bearings: "bearings",
  stack: "parts in order",
};
