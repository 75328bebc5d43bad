import { z } from "zod";
import { AmountField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { oddSpots } from "../../units/words";
import { amount, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";
import { Here, spot } from "../Here";

/** A spot unlike the rest of its field: a count gives it its share of the places. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    odd: z.string().refine((one) => one !== "", "Choose a type."),
    at: spot,
    radius: amount(),
    note: words(),
  }),
  day: "Date seen",
  begin: ({ units }) => ({
    odd: "",
    at: null,
    radius: units.system === "us" ? { text: "30 ft", bare: "ft" } : { text: "10 m", bare: "m" },
    note: "",
  }),
  payload: ({ odd, at, note, ...rest }) =>
    ({ kind: "odd-spot", odd, ...present({ ...rest, at, note: note.trim() }) }) as Payload,
  Fields: () => (
    <>
      <PickOf name="odd" label="Type" options={optionsOf(oddSpots)} />
      <Here />
      <AmountField name="radius" label="Radius" hint="From the center." />
      <TextField name="note" label="Notes" lines={2} />
    </>
  ),
});
