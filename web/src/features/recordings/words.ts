import type { Schemas } from "../../api/client";
import { number, short } from "../../shared/format";

export const roleNames: Record<Schemas["Channel"]["role"], string> = {
  sound: "sound, from a microphone",
  shaking: "shaking, from a motion sensor",
  road: "road speed",
  engine: "engine speed",
  turbine: "turbine speed",
  output: "output shaft speed",
  wheel: "wheel speed",
  pulses: "pulses of a tachometer",
  throttle: "throttle or pedal",
  fluid: "fluid temperature",
  gear: "gear commanded",
  line: "line pressure",
  pressure: "pressure of an element",
  travel: "travel of the clutch actuator",
  torque: "engine torque",
  other: "something else",
};

export const loadNames: [string, string][] = [
  ["", "not said"],
  ["pull", "pulling"],
  ["steady", "steady foot"],
  ["coast", "coasting"],
];

/** A length of time as one says it. */
export function length(s: number): string {
  if (s < 60) return `${short(s, 1)} s`;
  const m = Math.floor(s / 60);
  return `${m} min ${Math.round(s - 60 * m)} s`;
}

/** A moment of a recording: minutes and seconds, as finely as it is looked at. */
export function moment(s: number, step = 1): string {
  const digits = Math.max(0, Math.min(4, -Math.floor(Math.log10(step))));
  const whole = Number(s.toFixed(digits)); // 59.97 is 1:00.0, not 0:60.0
  const m = Math.floor(whole / 60);
  const rest = whole - 60 * m;
  return `${m}:${rest < 9.9995 ? "0" : ""}${number(rest, digits)}`;
}

export const rateWord = (hz: number) => (hz >= 1000 ? `${short(hz / 1000, 1)} kHz` : `${short(hz, hz < 10 ? 1 : 0)} a second`);

/** Road speed as the shop has its distances. */
export const roadUnit = (distance: string) => (distance === "mi" ? { per: 1 / 0.44704, unit: "mph" } : { per: 3.6, unit: "km/h" });
