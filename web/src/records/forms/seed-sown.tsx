import { z } from "zod";
import { useLots } from "../../api/queries";
import { AmountField, PickOf, SeenOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import type { Farm } from "../../shell/farm";
import { plain } from "../../units/format";
import { feels } from "../../units/words";
import { amount, blank, present, words, written } from "../amounts";
import { recordForm, type Payload } from "../form";
import { SownArea } from "../SownArea";

const given = z
  .object({
    lot: z.string().optional(),
    crops: z.array(z.string()).optional(),
    area: z.object({ value: z.number(), unit: z.string() }).optional(),
    setting: z.string().optional(),
  })
  .optional();

/** Seed of a lot that was sown: what the shed is less by, and what the ground had. */
export default recordForm({
  given,
  values: z.object({
    lot: z.string().refine((one) => one !== "", "Choose a lot."),
    area: amount("Enter the area."),
    area_by: z.string(),
    mass: amount("Enter the seed used."),
    spilled: amount(),
    setting: words(),
    depth: amount(),
    soil_temperature: amount(),
    moisture: z.string(),
    note: words(),
  }),
  day: "Sowing date",
  begin: ({ units, given }) => ({
    lot: given?.lot ?? "",
    area: given?.area ? written(given.area, units.area) : blank(units.area),
    area_by: "",
    mass: blank(units.mass),
    spilled: blank(units.mass),
    setting: given?.setting ?? "",
    depth: blank(units.depth),
    soil_temperature: blank(units.temperature),
    moisture: "",
    note: "",
  }),
  about: ({ lot }, task) => [
    ...(task.field ? [{ kind: "field" as const, id: task.field }] : []),
    ...(task.stand ? [{ kind: "stand" as const, id: task.stand }] : []),
    { kind: "lot" as const, id: lot },
  ],
  payload: ({ area, area_by, mass, spilled, setting, depth, soil_temperature, moisture, note }) =>
    ({
      kind: "seed-sown",
      ...present({ area, area_by, mass, spilled, depth, soil_temperature, moisture }),
      ...present({ setting: setting.trim(), note: note.trim() }),
    }) as Payload,
  Fields: ({ farm, task, given }) => <Fields farm={farm} field={task.field} crops={given?.crops} />,
});

interface FieldsProps {
  farm: Farm;
  field: string | undefined;
  crops: string[] | undefined;
}

function Fields({ farm, field, crops }: FieldsProps) {
  const lots = useLots(farm.id);
  const fits = (lots.data ?? []).filter((lot) => !crops || crops.length === 0 || crops.includes(lot.crop));
  return (
    <>
      <PickOf
        name="lot"
        label="Lot"
        options={fits.map((lot) => ({
          value: lot.id,
          text: lot.on_hand ? `${lot.label}, ${plain(lot.on_hand)} left` : lot.label,
        }))}
      />
      {field ? <SownArea farm={farm} field={field} /> : <AmountField name="area" label="Area sown" />}
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="mass" label="Seed used" hint="Bulk weight." />
        <AmountField name="depth" label="Depth" />
        <TextField name="setting" label="Setting" />
        <AmountField name="soil_temperature" label="Soil temperature" hint="At seeding depth." />
        <AmountField name="spilled" label="Seed lost" hint="Spilled or swept up." />
      </div>
      <SeenOf
        name="moisture"
        label="Soil at seeding depth, squeezed in the hand"
        options={optionsOf(feels)}
      />
      <TextField name="note" label="Weather, problem areas, crew" lines={2} />
    </>
  );
}
