import { z } from "zod";
import { AmountField, NumberField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { pestKinds, pestsPer } from "../../units/words";
import { amount, blank, figure, numberOf, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";
import { Here, spot } from "../Here";

/** Insects, disease, signs of deficiency or other trouble that was seen: which, how many, and where. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    name: words("Enter the pest."),
    pest: z.string().refine((one) => one !== "", "Choose the type of pest."),
    number: figure(),
    threshold: figure(),
    per: z.string(),
    damaged: amount(),
    at: spot,
    note: words(),
  }),
  day: "Day it was seen",
  begin: () => ({
    name: "",
    pest: "",
    number: "",
    threshold: "",
    per: "stem",
    damaged: blank("%"),
    at: null,
    note: "",
  }),
  payload: ({ name, pest, number, threshold, per, damaged, at, note }) => {
    const counted = numberOf(number);
    const acts = numberOf(threshold);
    return {
      kind: "pest-seen",
      name: name.trim(),
      pest,
      ...present({
        count:
          counted === null ? null : { number: counted, per, ...(acts === null ? {} : { threshold: acts }) },
        damaged,
        at,
        note: note.trim(),
      }),
    } as Payload;
  },
  Fields: () => (
    <>
      <TextField name="name" label="Pest" hint="e.g. alfalfa weevil, leaf rust, white flecks on old leaves" />
      <PickOf name="pest" label="Type" empty="Choose" options={optionsOf(pestKinds)} />
      <div className="grid grid-cols-2 gap-x-5">
        <NumberField name="number" label="Number found, on average" at="/payload/count/number" />
        <AmountField name="damaged" label="Plants damaged" />
      </div>
      <div className="grid grid-cols-2 gap-x-5">
        <PickOf name="per" label="Counted" options={optionsOf(pestsPer)} />
        <NumberField
          name="threshold"
          label="Your threshold"
          at="/payload/count/threshold"
          hint="Act from this number on, by your adviser or local guide."
        />
      </div>
      <TextField name="note" label="Note" lines={2} />
      <Here />
    </>
  ),
});
