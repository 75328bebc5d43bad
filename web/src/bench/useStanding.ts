import { useSeason } from "../api/queries";

/** What stands on a field, and what is planned for it. */
export interface Standing {
  /** Crops that were sown and are to live. */
  over: string[];
  /** Crops planned, with the day of each. */
  to_sow: { crop: string; on: string }[];
}

const nothing: Standing = { over: [], to_sow: [] };

/** From the season at hand: nothing while it is not known. */
export function useStanding(farm: string, field: string): Standing {
  const season = useSeason(farm);
  const stands = season.data?.strips.find((strip) => strip.field.id === field)?.stands;
  if (!stands) return nothing;
  const sown = stands.filter(({ plan }) => plan.sown && (plan.until == null || plan.until > plan.today));
  const planned = stands.filter(({ plan }) => !plan.sown);
  return {
    over: sown.at(-1)?.crops ?? [],
    to_sow: planned.flatMap(({ crops, plan }) => crops.map((crop) => ({ crop, on: plan.sown_on }))),
  };
}
