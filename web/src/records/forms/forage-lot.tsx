import { useEffect } from "react";
import { useFormContext, useWatch } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { useCrops, useWorkedFields } from "../../api/queries";
import { useStanding } from "../../bench/useStanding";
import { Collapse } from "../../kit/Collapse";
import { AmountField, NumberField, PickOf, TextField, TickOf } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { Tick } from "../../kit/Tick";
import type { Farm } from "../../shell/farm";
import { forageForms, moistureMethods } from "../../units/words";
import { amount, blank, figure, numberOf, present, words, written } from "../amounts";
import { aboutTask, recordForm, type Payload } from "../form";

/** A lot that is corrected: its record, which the new one takes the place of. */
const given = z
  .object({
    lot: z.string(),
    entry: z.string(),
    told: z.custom<Schemas["RecordedForageLot"]>(),
    fields: z.array(z.string()),
    made_on: z.string(),
  })
  .optional();

/** Hay, silage or green forage that was made: what it is today, what it weighs when the scale has told. */
export default recordForm({
  given,
  values: z.object({
    lot: z.string(),
    crop: words("Choose the crop."),
    form: z.string().refine((one) => one !== "", "Choose what was made."),
    pieces: figure(),
    piece_mass: amount(),
    mass: amount(),
    moisture: amount(),
    moisture_by: z.string(),
    others: z.array(z.string()),
    area: amount(),
    rained_on: z.boolean(),
    place: words(),
    note: words(),
  }),
  day: "Day it was made",
  begin: ({ units, given, task }) => {
    const told = given?.told;
    return {
      lot: given?.lot ?? uuid(),
      crop: told?.crop ?? "",
      form: told?.form ?? "",
      pieces: told?.pieces == null ? "" : String(told.pieces),
      piece_mass: written(told?.piece_mass, units.mass),
      mass: told?.mass ? written(told.mass, units.bulk) : blank(units.bulk),
      moisture: written(told?.moisture, "%"),
      moisture_by: told?.moisture_by ?? "",
      others: (given?.fields ?? []).filter((field) => field !== task.field),
      area: written(told?.area, units.area),
      rained_on: told?.rained_on ?? false,
      place: told?.place ?? "",
      note: told?.note ?? "",
    };
  },
  beginOn: (given) => given?.made_on,
  about: ({ lot, others }, task) => [
    ...aboutTask(task),
    ...others.map((id) => ({ kind: "field" as const, id })),
    { kind: "forage-lot" as const, id: lot },
  ],
  after: (given) => given?.entry,
  payload: ({
    crop,
    form,
    pieces,
    moisture_by,
    rained_on,
    others,
    area,
    place,
    note,
    piece_mass,
    mass,
    moisture,
  }) =>
    ({
      kind: "forage-lot",
      crop,
      form,
      ...present({
        pieces: numberOf(pieces),
        piece_mass,
        mass,
        moisture,
        moisture_by: moisture ? moisture_by : "",
        area: others.length > 0 ? area : undefined,
        rained_on: rained_on || undefined,
        place: place.trim(),
        note: note.trim(),
      }),
    }) as Payload,
  Fields: ({ farm, task }) => <Fields farm={farm} field={task.field} />,
});

function Fields({ farm, field }: { farm: Farm; field: string | undefined }) {
  const crops = useCrops();
  const standing = useStanding(farm.id, field ?? "");
  const { setValue } = useFormContext();
  const crop = String(useWatch({ name: "crop" }) ?? "");
  const [grown] = standing.over;
  useEffect(() => {
    if (crop === "" && grown) setValue("crop", grown);
  }, [crop, grown, setValue]);
  return (
    <>
      <PickOf name="form" label="Made as" empty="Choose" options={optionsOf(forageForms)} />
      <PickOf
        name="crop"
        label="Crop"
        empty="Choose"
        options={(crops.data ?? []).map((one) => ({ value: one.id, text: one.name }))}
      />
      <div className="grid grid-cols-2 gap-x-5">
        <NumberField name="pieces" label="Bales or loads" />
        <AmountField name="piece_mass" label="Average weight of one" />
        <AmountField name="mass" label="Total weight" hint="Leave blank to use the average." />
        <AmountField name="moisture" label="Moisture" hint="Wet basis." />
      </div>
      <TextField name="place" label="Stored at" hint="e.g. north barn, row 2" />
      <TickOf name="rained_on">Rained on after cutting</TickOf>
      <Collapse title="Moisture method, other fields, note">
        <PickOf name="moisture_by" clears label="Moisture by" options={optionsOf(moistureMethods)} />
        <OtherFields farm={farm} field={field} />
        <TextField name="note" label="Note" lines={2} />
      </Collapse>
    </>
  );
}

/** Other fields whose crop went into the same lot. */
function OtherFields({ farm, field }: { farm: Farm; field: string | undefined }) {
  const fields = (useWorkedFields(farm.id).data ?? []).filter((one) => one.id !== field);
  const { setValue } = useFormContext();
  const others = (useWatch({ name: "others" }) ?? []) as string[];
  if (fields.length === 0) return null;
  const toggle = (id: string, on: boolean) =>
    setValue("others", on ? [...others, id] : others.filter((one) => one !== id), { shouldDirty: true });
  return (
    <fieldset className="pb-3">
      <legend className="text-sm text-pencil">Also from</legend>
      <div className="grid grid-cols-2 gap-x-5">
        {fields.map(({ id, name }) => (
          <Tick key={id} checked={others.includes(id)} onChange={(on) => toggle(id, on)}>
            {name}
          </Tick>
        ))}
      </div>
      {others.length > 0 && (
        <AmountField
          name="area"
          label="Area harvested, all fields"
          hint="Needed to account for the nutrients removed."
        />
      )}
    </fieldset>
  );
}
