import { z } from "zod";
import { AmountField, PickOf, SeenOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { weedKinds, weedStages } from "../../units/words";
import { amount, blank, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";
import { Here, spot } from "../Here";

/** A weed that was seen: which, how far on, how much of it, and where. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    name: words("Enter the weed."),
    weed: z.string().refine((one) => one !== "", "Choose a life cycle."),
    stage: z.string(),
    height: amount(),
    cover: amount(),
    at: spot,
  }),
  day: "Date seen",
  begin: ({ units }) => ({
    name: "",
    weed: "",
    stage: "",
    height: blank(units.layer),
    cover: blank("%"),
    at: null,
  }),
  payload: ({ name, weed, at, ...rest }) =>
    ({ kind: "weed-seen", name: name.trim(), weed, ...present({ ...rest, at }) }) as Payload,
  Fields: () => (
    <>
      <TextField name="name" label="Weed" hint="Common name." />
      <PickOf name="weed" label="Life cycle" options={optionsOf(weedKinds)} />
      <SeenOf name="stage" label="Growth stage" options={optionsOf(weedStages)} />
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="height" label="Height" />
        <AmountField name="cover" label="Ground cover" hint="Share of the ground nearby." />
      </div>
      <Here />
    </>
  ),
});
