import type { Schemas } from "../api/client";
import { useSeason, useShelf } from "../api/queries";

/** What stands on a field, and what is planned for it. */
export interface Standing {
  /** Crops that were sown and are to live. */
  over: string[];
  /** Crops planned, with the day of each. */
  to_sow: { crop: string; on: string }[];
}

const nothing: Standing = { over: [], to_sow: [] };

/**
 * What stands on a strip. Where something is planned, what stands there now is to make room for it, unless its school
 * keeps the old sward.
 */
export function standingOn(
  stands: readonly Schemas["StandView"][],
  keepsSward: (practice: string) => boolean,
): Standing {
  const sown = stands.filter(({ plan }) => plan.sown && (plan.until == null || plan.until > plan.today));
  const planned = stands.filter(({ plan }) => !plan.sown);
  const stays = planned.every(({ plan }) => keepsSward(plan.practice));
  return {
    over: stays ? (sown.at(-1)?.crops ?? []) : [],
    to_sow: planned.flatMap(({ crops, plan }) => crops.map((crop) => ({ crop, on: plan.sown_on }))),
  };
}

/** From the season at hand: nothing while it is not known. */
export function useStanding(farm: string, field: string): Standing {
  const season = useSeason(farm);
  const shelf = useShelf();
  const stands = season.data?.strips.find((strip) => strip.field.id === field)?.stands;
  if (!stands) return nothing;
  const sward = (key: string) => shelf.data?.practices.find((one) => one.key === key)?.cover === "sward";
  return standingOn(stands, sward);
}
