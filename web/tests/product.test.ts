import { expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import { readAmounts, type AmountWords } from "../src/records/amounts";
import product from "../src/records/forms/product";

const units = { mass: "lb", poured: "gal/ac", setback: "ft", speed: "mph", temperature: "degF" };
const percent = (value: number) => ({ value, unit: "%" as const });

/** What the server would read of an amount just as it was written. */
const read = ({ text, bare }: AmountWords) => {
  const [value, ...unit] = text.split(" ");
  return Promise.resolve({ value: Number(value), unit: unit.join(" ").replace("°", "deg") || bare });
};

/** What goes into the ledger when somebody opens what is told, and keeps it as it is. */
async function kept(facts: object): Promise<object> {
  const given = { id: "1", told: { entry: "2", facts } as unknown as Schemas["ProductView"] };
  const values = product.begin({ units, given, farm: {}, task: {} } as never);
  const sending = { given } as never;
  const { kind, ...payload } = product.payload?.(await readAmounts(values, read as never), sending) as {
    kind: string;
  };
  expect(kind).toBe("product");
  return payload;
}

/** A change of one figure must not lose the others, nor what the form does not ask for. */
it.each([
  [
    "a fertiliser with what the form has no field for",
    {
      name: "mix",
      gone: false,
      package: { value: 50, unit: "lb" },
      nature: {
        is: "fertiliser",
        analysis: { n: percent(9), k2o: percent(30), mn: percent(2), cu: percent(1) },
      },
    },
  ],
  [
    "a lime with a laboratory's own classes",
    {
      name: "quarry",
      gone: false,
      nature: {
        is: "lime",
        made_of: "dolomitic",
        cce: percent(92),
        moisture: percent(4),
        magnesium: percent(11),
        sieves: [8, 60, 100].map((mesh) => ({ mesh, passing: percent(110 - mesh) })),
        reacts: [{ mesh: 100, share: percent(100) }],
      },
    },
  ],
  [
    "a label of two ingredients",
    {
      name: "burndown",
      gone: false,
      nature: {
        is: "spray",
        ingredients: [
          { name: "glyphosate", content: "4 lb a gallon" },
          { name: "2,4-D", content: "" },
        ],
        lowest: { value: 0.1, unit: "gal/ac" },
        highest: { value: 0.2, unit: "gal/ac" },
        buffer: { value: 30, unit: "ft" },
        stages: "before green-up",
        over: ["tall fescue", "grasses"],
        most_wind: { value: 10, unit: "mph" },
        coolest: { value: 50, unit: "degF" },
        hottest: { value: 85, unit: "degF" },
        plant_back: [
          { crop: "alfalfa", days: 90 },
          { crop: "winter wheat", days: 0 },
        ],
        re_entry_hours: 12,
        harvest_days: 56,
        grazing_days: 0,
      },
    },
  ],
])("keeps %s", async (_, facts) => {
  expect(await kept(facts)).toEqual(facts);
});
