import { useWatch } from "react-hook-form";
import { z } from "zod";
import { useCrops } from "../../api/queries";
import { NumberField, PickOf, TextField } from "../../kit/form";
import { shelved } from "../../units/words";
import { figure, numberOf, present, words } from "../amounts";
import { numbersOf } from "../counted";
import { recordForm, type Payload } from "../form";

const given = z
  .object({
    crop: z.string().optional(),
    depths: z.array(z.number()).optional(),
    on_surface: z.number().optional(),
    on_residue: z.number().optional(),
    unit: z.string().optional(),
  })
  .optional();

/** Seed that was dug up, and how deep it lay. */
export default recordForm({
  given,
  values: z.object({
    crop: z.string().refine((one) => one !== "", "Choose a crop."),
    unit: z.string(),
    depths: z
      .string()
      .max(2000, "Too long; shorten it.")
      .refine((text) => numbersOf(text).every(Number.isFinite), {
        message: "Enter numbers separated by spaces.",
      }),
    on_surface: figure(),
    on_residue: figure(),
    note: words(),
  }),
  day: "Check date",
  begin: ({ units, given }) => ({
    crop: given?.crop ?? "",
    unit: given?.unit ?? units.depth,
    depths: (given?.depths ?? []).join(" "),
    on_surface: given?.on_surface ? String(given.on_surface) : "",
    on_residue: given?.on_residue ? String(given.on_residue) : "",
    note: "",
  }),
  payload: ({ crop, unit, depths, on_surface, on_residue, note }) =>
    ({
      kind: "depth-check",
      crop,
      depths: numbersOf(depths).map((value) => ({ value, unit })),
      on_surface: numberOf(on_surface) ?? 0,
      ...(numberOf(on_residue) ? { on_residue: numberOf(on_residue) } : {}),
      ...present({ note: note.trim() }),
    }) as Payload,
  Fields: () => <Fields />,
});

function Fields() {
  const crops = useCrops();
  const unit = String(useWatch({ name: "unit" }) ?? "");
  return (
    <>
      <PickOf name="crop" label="Crop" options={shelved((crops.data ?? []).filter((one) => one.seed))} />
      <TextField
        name="depths"
        label={`Depth of each seed, ${unit}`}
        at="/payload/depths"
        hint="with spaces between"
        lines={2}
      />
      <NumberField name="on_surface" label="Additional seeds on the surface" />
      <NumberField name="on_residue" label="Broadcast seeds on thatch or residue" />
      <TextField name="note" label="Location, speed and changes made" lines={2} />
    </>
  );
}
