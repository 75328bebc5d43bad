import type { Schemas } from "../api/client";
import { inBase } from "../units/base";

export interface OddPlace {
  longitude: number;
  latitude: number;
  radius: { value: number; unit: string };
  metres: number;
  odd: Schemas["OddSpotKind"];
}

/** Spots of a field that were told with their place and reach. */
export function oddPlaces(view: Schemas["GroundView"] | undefined): OddPlace[] {
  return (view?.ground.odd ?? []).flatMap(({ what: { at, radius, odd } }) =>
    at && radius ? [{ ...at, radius, metres: inBase(radius), odd }] : [],
  );
}
