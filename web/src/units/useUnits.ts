import { useMe } from "../api/queries";

/** The unit a bare number is taken in, by what is asked. */
export type Units = ReturnType<typeof useUnits>;

export function useUnits() {
  const metric = useMe().data?.units === "metric";
  return metric
    ? {
        system: "metric" as const,
        rate: "kg/ha",
        area: "ha",
        depth: "mm",
        spacing: "cm",
        setback: "m",
        elevation: "m",
        course: "m",
        mass: "kg",
        bulk: "t",
        perMass: "/kg",
        seeds: "/m2",
        plants: "/ha",
        yield: "t/ha",
        tonPrice: "money/t",
        areaPrice: "money/ha",
        rain: "mm",
        temperature: "degC",
        layer: "cm",
        held: "kg/m3",
        speed: "km/h",
        tank: "L",
        poured: "L/ha",
        small: "g",
        nozzle: "mL",
        perLength: "/m",
        frame: "m2",
      }
    : {
        system: "us" as const,
        rate: "lb/ac",
        area: "ac",
        depth: "in",
        spacing: "in",
        setback: "ft",
        elevation: "ft",
        course: "ft",
        mass: "lb",
        bulk: "ton",
        perMass: "/lb",
        seeds: "/ft2",
        plants: "/ac",
        yield: "ton/ac",
        tonPrice: "money/ton",
        areaPrice: "money/ac",
        rain: "in",
        temperature: "degF",
        layer: "in",
        held: "lb/1000gal",
        speed: "mph",
        tank: "gal",
        poured: "gal/ac",
        small: "oz",
        nozzle: "floz",
        perLength: "/ft",
        frame: "ft2",
      };
}
