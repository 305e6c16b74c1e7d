import type { Schemas } from "../../api/client";
import type { NewReading } from "./useCase";

/** A cell as it is read by whoever noticed it: driven, driven again, or told by the customer. */
export function roadReading(cell: Schemas["RoadCell"], state: string, who: string, by: string | undefined): NewReading {
  const told = who === "customer";
  const again = who === "again" && cell.state !== "" && cell.source !== "customer";
  return { finding: cell.finding, state, source: told ? who : "seen", stage: told ? "complaint" : "road", by, again };
}
