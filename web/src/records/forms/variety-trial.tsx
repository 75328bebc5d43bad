import { z } from "zod";
import { AmountField, TextField } from "../../kit/form";
import { amount, blank, words } from "../amounts";
import { recordForm, type Payload } from "../form";

/** A result of a variety in a trial, of the farm's own strips or published. */
export default recordForm({
  given: z.object({ id: z.string() }),
  values: z.object({
    yield: amount("Enter the yield."),
    mean: amount("Enter the trial mean."),
    place: words("Enter the place and who ran it."),
  }),
  day: "Harvest date",
  begin: ({ units }) => ({ yield: blank(units.yield), mean: blank(units.yield), place: "" }),
  about: (_, { with: given }) => [{ kind: "variety", id: given?.["id"] as string }],
  payload: ({ yield: yielded, mean, place }) =>
    ({ kind: "variety-trial", yield: yielded, mean, place: place.trim() }) as Payload,
  Fields: () => (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="yield" label="Yield" hint="Dry matter per year." />
        <AmountField name="mean" label="Trial mean" />
      </div>
      <TextField name="place" label="Place and who ran it" />
    </>
  ),
});
