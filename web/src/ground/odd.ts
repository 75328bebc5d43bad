import type { Schemas } from "../api/client";

export interface OddPlace {
  longitude: number;
  latitude: number;
  radius: { value: number; unit: string };
  metres: number;
  odd: Schemas["OddSpotKind"];
}

const METRES: Record<string, number> = {
  m: 1,
  ft: 0.3048,
  cm: 0.01,
  in: 0.0254,
  km: 1_000,
  mi: 1_609.344,
  yd: 0.9144,
};

/** Spots of a field that were told with their place and reach. */
export function oddPlaces(view: Schemas["GroundView"] | undefined): OddPlace[] {
  return (view?.ground.odd ?? []).flatMap(({ what: { at, radius, odd } }) => {
    const metre = radius && METRES[radius.unit];
    return at && radius && metre ? [{ ...at, radius, metres: radius.value * metre, odd }] : [];
  });
}
