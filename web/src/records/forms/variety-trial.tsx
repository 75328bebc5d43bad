import { z } from "zod";
import { AmountField, TextField } from "../../kit/form";
import { amount, blank, words } from "../amounts";
import { recordForm, type Payload } from "../form";

/** A result of a variety in a trial, of the farm's own strips or published. */
export default recordForm({
  given: z.object({ id: z.string() }),
  values: z.object({
    yield: amount("what did it give?"),
    mean: amount("what did all of them give?"),
    place: words("where, and who made it?"),
  }),
  day: "Day of the harvest",
  begin: ({ units }) => ({ yield: blank(units.yield), mean: blank(units.yield), place: "" }),
  about: (_, { with: given }) => [{ kind: "variety", id: given?.["id"] as string }],
  payload: ({ yield: yielded, mean, place }) =>
    ({ kind: "variety-trial", yield: yielded, mean, place: place.trim() }) as Payload,
  Fields: () => (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="yield" label="It gave" hint="dry matter in a year" />
        <AmountField name="mean" label="All of them, on average" />
      </div>
      <TextField name="place" label="Where, and who made it" />
    </>
  ),
});
