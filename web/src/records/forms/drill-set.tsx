import { z } from "zod";
import type { Schemas } from "../../api/client";
import { useCrops, useMachines } from "../../api/queries";
import { AmountField, NumberField, PickOf, TextField } from "../../kit/form";
import type { Farm } from "../../shell/farm";
import { shelved } from "../../units/words";
import { amount, blank, figure, numberOf, present, words, written } from "../amounts";
import { recordForm, type Payload } from "../form";

const given = z
  .object({
    crop: z.string().optional(),
    also: z.array(z.string()).optional(),
    rate: z.custom<Schemas["MassPerArea"]>().optional(),
    setting: z.number().optional(),
    rows: z.array(z.custom<Schemas["Mass"]>()).optional(),
    course: z.custom<Schemas["Length"]>().optional(),
    machine: z.string().optional(),
  })
  .optional();

/** A calibration, kept with the drill for the next year's first guess. */
export default recordForm({
  given,
  values: z.object({
    crop: z.string().refine((one) => one !== "", "Choose a crop."),
    machine: z.string(),
    rate: amount("Enter the rate."),
    setting: figure(),
    note: words(),
  }),
  day: "Calibration date",
  begin: ({ units, given }) => ({
    crop: given?.crop ?? "",
    machine: given?.machine ?? "",
    rate: given?.rate ? written(given.rate, units.rate) : blank(units.rate),
    setting: given?.setting === undefined ? "" : String(given.setting),
    note: "",
  }),
  about: ({ machine }, task) => [
    ...(task.field ? [{ kind: "field" as const, id: task.field }] : []),
    ...(task.stand ? [{ kind: "stand" as const, id: task.stand }] : []),
    ...(machine ? [{ kind: "machine" as const, id: machine }] : []),
  ],
  payload: ({ crop, rate, setting, note }, { given }) =>
    ({
      kind: "drill-set",
      crop,
      rate,
      ...present({ setting: numberOf(setting), note: note.trim() }),
      ...present({ also: given?.also, rows: given?.rows, course: given?.course }),
    }) as Payload,
  Fields: ({ farm }) => <Fields farm={farm} />,
});

function Fields({ farm }: { farm: Farm }) {
  const crops = useCrops();
  const machines = useMachines(farm.id);
  const drills = (machines.data?.machines ?? []).filter(({ facts }) => !facts.gone && sows(facts.machine));
  return (
    <>
      <PickOf name="crop" label="Crop" options={shelved((crops.data ?? []).filter((one) => one.seed))} />
      {drills.length > 0 && (
        <PickOf
          name="machine"
          label="Drill or spreader used"
          empty="other"
          clears
          options={drills.map(({ id, facts }) => ({ value: id, text: facts.name }))}
        />
      )}
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="rate" label="Calibrated rate" hint="Bulk rate." />
        <NumberField name="setting" label="Setting" />
      </div>
      <TextField name="note" label="Lot, moisture, speed, blockages" lines={2} />
    </>
  );
}

const sows = (kind: Schemas["MachineKind"]) => kind === "drill" || kind === "spreader";
