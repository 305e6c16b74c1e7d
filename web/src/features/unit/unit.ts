import type { Schemas } from "../../api/client";
import { number } from "../../shared/format";

export type Unit = Schemas["Unit"];
export type Range = Schemas["UnitRange"];
export type Fault = Schemas["UnitFault"];

/** A ratio as it is read: a real minus, three digits. */
export const ratio = (r: number) => number(r, 3);
