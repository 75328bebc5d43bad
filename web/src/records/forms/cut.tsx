import { z } from "zod";
import type { Schemas } from "../../api/client";
import { useCrops } from "../../api/queries";
import { Collapse } from "../../kit/Collapse";
import { AmountField, PickOf, TextField } from "../../kit/form";
import { amount, blank, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

const given = z.object({ crop: z.string().optional() }).optional();

const stages: Record<Schemas["CutStage"], string> = {
  vegetative: "vegetative",
  "bud-or-boot": "bud or boot",
  "early-bloom-or-heading": "early bloom or heading",
  "full-bloom": "full bloom",
  "seed-set": "seed set",
  "after-frost": "dead after frost",
};

/** A stand was cut: three taps; what was harvested is told once it is weighed. */
export default recordForm({
  given,
  values: z.object({
    crop: words(),
    harvested: amount(),
    moisture: amount(),
    stage: z.enum(["", ...(Object.keys(stages) as Schemas["CutStage"][])]),
    height: amount(),
    stubble: amount(),
    area: amount(),
    note: words(),
  }),
  day: "Cutting date",
  begin: ({ units, given }) => ({
    crop: given?.crop ?? "alfalfa",
    harvested: blank(units.yield),
    moisture: { text: "15%", bare: "%" },
    stage: "" as const,
    height: blank(units.layer),
    stubble: blank(units.layer),
    area: blank(units.area),
    note: "",
  }),
  payload: ({ crop, harvested, moisture, stage, note, ...rest }) =>
    ({
      kind: "cut",
      ...(harvested ? { cut: { crop, harvested, ...(moisture ? { moisture } : {}) } } : {}),
      ...(stage ? { stage } : {}),
      ...present({ ...rest, note: note.trim() }),
    }) as Payload,
  Fields: () => {
    const crops = useCrops();
    return (
      <>
        <AmountField
          name="harvested"
          label="Yield"
          hint="Leave blank if it was not weighed."
          at="/payload/cut/harvested"
        />
        <div className="grid grid-cols-2 gap-x-5">
          <PickOf
            name="crop"
            label="Crop"
            at="/payload/cut/crop"
            options={(crops.data ?? []).map((one) => ({ value: one.id, text: one.name }))}
          />
          <AmountField name="moisture" label="Moisture" at="/payload/cut/moisture" />
        </div>
        <Collapse title="Stage, height, stubble, area">
          <PickOf
            name="stage"
            label="Growth stage"
            clears
            options={Object.entries(stages).map(([value, text]) => ({ value, text }))}
          />
          <div className="grid grid-cols-2 gap-x-5">
            <AmountField name="height" label="Height before cutting" />
            <AmountField name="stubble" label="Stubble height" />
          </div>
          <AmountField name="area" label="Area cut" hint="Leave blank for the whole field." />
          <TextField name="note" label="Note" lines={2} />
        </Collapse>
      </>
    );
  },
});
