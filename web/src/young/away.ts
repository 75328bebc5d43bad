import type { Place } from "../shell/place";

const EARTH = 6_371_008.8;
const radians = (degrees: number) => (degrees * Math.PI) / 180;
const winds = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];

/** How far off a place lies, in metres, and towards which wind. */
export function away(from: Place, to: Place): { metres: number; towards: string } {
  const up = radians(to.latitude - from.latitude);
  const across =
    radians(to.longitude - from.longitude) * Math.cos(radians((to.latitude + from.latitude) / 2));
  const turn = (Math.atan2(across, up) * 180) / Math.PI;
  return {
    metres: EARTH * Math.hypot(up, across),
    towards: winds[Math.round(((turn + 360) % 360) / 45) % 8] ?? "north",
  };
}
