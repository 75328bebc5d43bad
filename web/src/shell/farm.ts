import { createContext, useContext } from "react";
import type { Schemas } from "../api/client";

export type Farm = Schemas["MyFarm"];

export const FarmContext = createContext<Farm | null>(null);

/** The farm whose pages these are. */
export function useFarm(): Farm {
  const farm = useContext(FarmContext);
  if (!farm) throw new Error("no farm above");
  return farm;
}
