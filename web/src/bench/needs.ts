import { answered, api, type Schemas } from "../api/client";
import { useGround, useReckoning, useSeason } from "../api/queries";
import { useLive } from "../kit/live";
import { useFarm } from "../shell/farm";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

interface Written {
  /** The crop, where another than the field's is asked about. */
  picked: string | null;
  goal: Quantity | null;
  sowing: boolean;
  potash: Schemas["PotashSplit"] | null;
}

/** What a field's crop needs, filled from its stand and its latest soil test. */
export function useNeeds(field: string) {
  const farm = useFarm();
  const units = useUnits();
  const ground = useGround(farm.id, field || undefined);
  const season = useSeason(farm.id);
  const stand = season.data?.strips.find((strip) => strip.field.id === field)?.stands.at(-1);
  const { now, change } = useLive<Written>({
    picked: null,
    goal: { value: units.system === "us" ? 5 : 11, unit: units.yield },
    sowing: false,
    potash: null,
  });
  const { goal, sowing, potash } = now;
  const crop = now.picked ?? stand?.crops[0] ?? "alfalfa";
  const top = field ? ground.data?.ground.tests.at(-1)?.what.layers[0] : undefined;
  const request: Schemas["NeedRequest"] = {
    crop,
    yield_goal: goal as Schemas["MassPerArea"],
    sowing_year: sowing,
    ...(potash ? { potash } : {}),
    ...(top?.p ? { p: top.p } : {}),
    ...(top?.k ? { k: top.k } : {}),
    ...(top?.cec ? { cec: top.cec } : {}),
    ...(top?.mg ? { mg: top.mg } : {}),
    ...(top?.s ? { s: top.s } : {}),
    ...(top?.b ? { b: top.b } : {}),
  };
  const needs = useReckoning(
    "nutrients.need",
    [units.system, request],
    () => answered(api.POST("/api/reckon/nutrients.need", { body: request })),
    goal !== null,
  );
  return {
    crop,
    goal,
    sowing,
    potash,
    change,
    top,
    needs,
    waiting: Boolean(field) && ground.isPending,
  };
}

/** The amounts a school asks for, as a blend reads them. */
export function amountsOf(
  needs: Schemas["Needs"],
  school: Schemas["School"],
): Record<string, Schemas["MassPerArea"]> {
  const side = needs.schools.find((one) => one.school === school);
  const all: [string, Schemas["MassPerArea"] | undefined][] = [
    ["n", needs.n],
    ["p2o5", side?.p2o5.rate],
    ["k2o", side?.k2o.rate],
    ...needs.others.map((other): [string, Schemas["MassPerArea"]] => [other.nutrient, other.rate]),
  ];
  return Object.fromEntries(all.filter(([, mass]) => mass && mass.value > 0.01)) as Record<
    string,
    Schemas["MassPerArea"]
  >;
}
