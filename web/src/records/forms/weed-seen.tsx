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
    name: words("which weed?"),
    weed: z.string().refine((one) => one !== "", "how does it live?"),
    stage: z.string(),
    height: amount(),
    cover: amount(),
    at: spot,
  }),
  day: "Day it was seen",
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
      <TextField name="name" label="Weed" hint="as you call it" />
      <PickOf name="weed" label="How it lives" options={optionsOf(weedKinds)} />
      <SeenOf name="stage" label="How far on" options={optionsOf(weedStages)} />
      <div className="grid grid-cols-2 gap-x-5">
        <AmountField name="height" label="It stands" />
        <AmountField name="cover" label="It covers" hint="of the ground around" />
      </div>
      <Here />
    </>
  ),
});
