import { createContext, useContext } from "react";
import type { Schemas } from "../api/client";

/** A farm with what one may do there now: a closed one is read by all alike. */
export type Farm = Schemas["MyFarm"] & {
  /** Manages it, also while it is closed. */
  manages: boolean;
};

export function seenAs(farm: Schemas["MyFarm"]): Farm {
  return { ...farm, manages: farm.role === "manager", role: farm.closed_on ? "adviser" : farm.role };
}

export const FarmContext = createContext<Farm | null>(null);

/** The farm whose pages these are. */
export function useFarm(): Farm {
  const farm = useContext(FarmContext);
  if (!farm) throw new Error("no farm above");
  return farm;
}
