import { useWatch } from "react-hook-form";
import { z } from "zod";
import { useMaterials } from "../../api/queries";
import { NumberField, TextField } from "../../kit/form";
import type { Farm } from "../../shell/farm";
import { figure, numberOf, words } from "../amounts";
import { recordForm } from "../form";

/** A herbicide that was sprayed. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ active: words("which active ingredient?"), rate: words(), label_months: figure() }),
  day: "Day it was sprayed",
  begin: () => ({ active: "", rate: "", label_months: "" }),
  payload: ({ active, rate, label_months }) => {
    const months = numberOf(label_months);
    return {
      kind: "spray",
      active: active.trim(),
      ...(rate.trim() ? { rate: rate.trim() } : {}),
      ...(months === null ? {} : { label_months: months }),
    };
  },
  Fields: ({ farm }) => (
    <>
      <TextField name="active" label="Active ingredient" hint="as the label names it" />
      <PlantBack farm={farm} />
      <TextField name="rate" label="How much of what" />
      <NumberField
        name="label_months"
        label="Months to the next crop, off the label"
        hint="leave empty and the table warns instead"
      />
    </>
  ),
});

/** What the table knows of the ingredient's staying in the soil. */
function PlantBack({ farm }: { farm: Farm }) {
  const materials = useMaterials(farm.id);
  const active = String(useWatch({ name: "active" }) ?? "");
  const group = materials.data?.plant_back.find((one) => one.actives.includes(active.trim().toLowerCase()));
  if (!group) return null;
  return (
    <p className="border-l-3 border-stop pl-3 text-sm">
      {group.name}: {group.note} The label rules.
    </p>
  );
}
