import { z } from "zod";
import { AmountField, NumberField, TextField, TickOf } from "../../kit/form";
import { amount, blank, figure, numberOf, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

/** A look at a stand: how high, how thick, how green. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    plant_height: amount(),
    weed_height: amount(),
    plants: amount(),
    seedlings: amount(),
    leaves: figure(),
    up: z.boolean(),
    greened_up: z.boolean(),
    note: words(),
  }),
  day: "Check date",
  begin: ({ units }) => ({
    plant_height: blank(units.layer),
    weed_height: blank(units.layer),
    plants: blank(units.seeds),
    seedlings: blank(units.perLength),
    leaves: "",
    up: false,
    greened_up: false,
    note: "",
  }),
  payload: ({ greened_up, up, leaves, ...seen }) =>
    ({
      kind: "stand-look",
      ...present({ ...seen, leaves: numberOf(leaves), note: seen.note.trim() }),
      greened_up,
      up,
    }) as Payload,
  Fields: () => (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="plant_height" label="Plant height" />
        <AmountField name="weed_height" label="Weed or old sod height" />
        <AmountField name="plants" label="Plant count" />
        <AmountField name="seedlings" label="Seedlings per foot or meter of row" />
        <NumberField name="leaves" label="Leaves per seedling" />
      </div>
      <TickOf name="up">Seedlings have emerged</TickOf>
      <TickOf name="greened_up">Greened up after dormancy</TickOf>
      <TextField name="note" label="Other observations" />
    </>
  ),
});
