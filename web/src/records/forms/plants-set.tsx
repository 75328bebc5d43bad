import { z } from "zod";
import { AmountField, NumberField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { pieceLies, pieceMoistures } from "../../units/words";
import { amount, blank, figure, numberOf, present, words, written } from "../amounts";
import { recordForm, type Payload } from "../form";

const given = z
  .object({
    area: z.object({ value: z.number(), unit: z.string() }).optional(),
    set: z.number().optional(),
    lost: z.number().optional(),
  })
  .optional();

/** Plants that were set: pieces, ground, and how they lay. */
export default recordForm({
  given,
  values: z.object({
    area: amount("Enter the area."),
    set: figure("Enter the number."),
    lost: figure(),
    loads: figure(),
    depth: amount(),
    moisture: z.string(),
    lies: z.string(),
    firmed: z.string(),
    note: words(),
  }),
  day: "Planting date",
  begin: ({ units, given }) => ({
    area: given?.area ? written(given.area, units.area) : blank(units.area),
    set: given?.set === undefined ? "" : String(given.set),
    lost: given?.lost === undefined ? "" : String(given.lost),
    loads: "",
    depth: blank(units.depth),
    moisture: "",
    lies: "",
    firmed: "",
    note: "",
  }),
  payload: ({ area, set, lost, loads, depth, moisture, lies, firmed, note }) =>
    ({
      kind: "plants-set",
      set: numberOf(set),
      ...present({ area, depth, lost: numberOf(lost), loads: numberOf(loads) }),
      ...present({ moisture, lies, note: note.trim() }),
      ...(firmed === "" ? {} : { firmed: firmed === "yes" }),
    }) as Payload,
  Fields: () => (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="area" label="Area planted" hint="From the boundary, walked, or by hours." />
        <NumberField name="set" label="Pieces planted" />
        <NumberField name="lost" label="Pieces lost" hint="Broken or dried out." />
        <NumberField name="loads" label="Hopper loads" />
        <AmountField name="depth" label="Depth" />
        <PickOf
          name="moisture"
          label="Condition of pieces"
          options={optionsOf(pieceMoistures)}
          empty="not checked"
        />
        <PickOf name="lies" label="Position of pieces" options={optionsOf(pieceLies)} empty="not checked" />
        <PickOf
          name="firmed"
          label="Soil firmed"
          options={[
            { value: "yes", text: "yes" },
            { value: "no", text: "no" },
          ]}
          empty="not checked"
        />
      </div>
      <TextField name="note" label="Weather, crew, problems" lines={2} />
    </>
  ),
});
