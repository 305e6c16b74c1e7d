/** A place that can be wet, as a box: x, y, z, width, height, depth. */
interface Place {
  box: number[];
  floor?: boolean;
}

/** One view of the unit: which zones it shows, and where a box lies on the paper. */
export interface LeakView {
  title: string;
  shows: (z: Place) => boolean;
  /** Whether the parts of the sheet's side elevation may be drawn behind. */
  parts?: boolean;
  /** How near a zone is to the eye: the nearest is drawn last. */
  near: (z: Place) => number;
  rect: (b: number[]) => [x: number, y: number, w: number, h: number];
  size: [number, number];
  /** The middle of a new place at a point of the paper, on the side that is seen; none may be put under the vehicle. */
  put?: (x: number, y: number) => [x: number, y: number, z: number];
}

export const at = (b: number[], i: number) => b[i] ?? 0;

/** The views of a unit's places, and under the vehicle last. */
export function leakViews(across: boolean): LeakView[] {
  const [left, right] = across ? ["From the vehicle’s front", "From the vehicle’s rear"] : ["Left side", "Right side"];
  return [
    {
      title: `${left}, engine at the left`,
      parts: true,
      shows: (z) => !z.floor && at(z.box, 2) < 50,
      near: (z) => -at(z.box, 2),
      rect: (b) => [at(b, 0) + 20, 100 - at(b, 1) - at(b, 4), at(b, 3), at(b, 4)],
      size: [124, 104],
      put: (x, y) => [x - 20, 100 - y, 2],
    },
    {
      title: `${right}, engine at the right`,
      parts: true,
      shows: (z) => !z.floor && at(z.box, 2) + at(z.box, 5) > 50,
      near: (z) => at(z.box, 2) + at(z.box, 5),
      rect: (b) => [104 - at(b, 0) - at(b, 3), 100 - at(b, 1) - at(b, 4), at(b, 3), at(b, 4)],
      size: [124, 104],
      put: (x, y) => [104 - x, 100 - y, 98],
    },
    {
      title: "From above",
      shows: (z) => !z.floor && at(z.box, 1) + at(z.box, 4) > 45,
      near: (z) => at(z.box, 1) + at(z.box, 4),
      rect: (b) => [at(b, 0) + 20, at(b, 2) + 6, at(b, 3), at(b, 5)],
      size: [124, 124],
      put: (x, y) => [x - 20, 80, y - 6],
    },
    {
      title: across ? "From the end, vehicle’s front at the left" : "From behind",
      shows: (z) => !z.floor && at(z.box, 0) + at(z.box, 3) > 60,
      near: (z) => at(z.box, 0) + at(z.box, 3),
      rect: (b) => [at(b, 2) + 6, 100 - at(b, 1) - at(b, 4), at(b, 5), at(b, 4)],
      size: [124, 104],
      put: (x, y) => [95, 100 - y, x - 6],
    },
    {
      title: "Under the vehicle, seen from above, engine at the left",
      shows: (z) => z.floor ?? false,
      near: () => 0,
      rect: (b) => [at(b, 0) + 12, at(b, 2) + 2, at(b, 3), at(b, 5)],
      size: [124, 104],
    },
  ];
}
