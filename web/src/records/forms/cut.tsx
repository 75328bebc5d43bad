import { z } from "zod";
import type { Schemas } from "../../api/client";
import { useCrops } from "../../api/queries";
import { AmountField, PickOf } from "../../kit/form";
import { amount, blank, words } from "../amounts";
import { recordForm } from "../form";

const given = z.object({ crop: z.string().optional() }).optional();

/** A harvest that was carried off. */
export default recordForm({
  given,
  values: z.object({
    crop: words("which crop?"),
    harvested: amount("how much was carried off?"),
    moisture: amount(),
  }),
  day: "Day it was cut",
  root: "/payload/cut",
  begin: ({ units, given }) => ({
    crop: given?.crop ?? "alfalfa",
    harvested: blank(units.yield),
    moisture: { text: "15 %", bare: "%" },
  }),
  payload: ({ crop, harvested, moisture }) => ({
    kind: "cut",
    cut: {
      crop,
      harvested: harvested as Schemas["MassPerArea"],
      ...(moisture ? { moisture: moisture as Schemas["Fraction"] } : {}),
    },
  }),
  Fields: () => {
    const crops = useCrops();
    return (
      <>
        <PickOf
          name="crop"
          label="Crop"
          options={(crops.data ?? []).map((one) => ({ value: one.id, text: one.name }))}
        />
        <AmountField name="harvested" label="Yield" />
        <AmountField name="moisture" label="Moisture" />
      </>
    );
  },
});
