import type { Schemas } from "../api/client";

/** What odds are shares of: so many years that were, or years that were made. */
export function ofYears({ years, basis }: { years: number; basis: Schemas["Basis"] }): string {
  return basis === "normals" ? "of generated years" : `of ${years} years`;
}

/** The same in a word or two, where there is little room. */
export const ofSuchYears = (basis: Schemas["Basis"] | undefined): string =>
  basis === "normals" ? "of generated years" : "of years";

/** How much they can tell. */
export function worthOf({ years, basis }: { years: number; basis: Schemas["Basis"] }): string {
  return basis === "normals" ? "generated years (worth ten real years)" : `${years} years`;
}
