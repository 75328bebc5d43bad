import { z } from "zod";
import { answered, api, type Schemas } from "../../api/client";
import { AmountField, DayOf, TextField } from "../../kit/form";
import { dayOrNone } from "../../units/day";
import { amount, blank, present, words } from "../amounts";
import { recordForm } from "../form";

/** The tag of a lot of seed, read. */
export default recordForm({
  given: z.object({ crop: z.string(), lot: z.string() }),
  values: z.object({
    label: words("Enter the lot number."),
    tested_on: dayOrNone,
    purity: amount("Enter the figure from the tag."),
    germination: amount("Enter the figure from the tag."),
    dormant: amount(),
    inert: amount(),
    weed_seed: amount(),
    seeds_per_mass: amount(),
    package: amount(),
    price: amount(),
    on_hand: amount(),
  }),
  day: null,
  submit: "Save lot",
  root: "/tag",
  begin: ({ units }) => ({
    label: "",
    tested_on: "",
    purity: blank("%"),
    germination: blank("%"),
    dormant: blank("%"),
    inert: blank("%"),
    weed_seed: blank("%"),
    seeds_per_mass: blank(units.perMass),
    package: blank(units.mass),
    price: blank("money"),
    on_hand: blank(units.mass),
  }),
  deliver: ({ id, farm, given, read: { label, on_hand, ...tag }, headers }) =>
    answered(
      api.POST("/api/farms/{farm}/lots", {
        params: { path: { farm } },
        headers,
        body: {
          id: given.lot,
          entry: id,
          crop: given.crop,
          label,
          tag: present(tag) as unknown as Schemas["Tag"],
          on_hand: (on_hand as Schemas["Mass"] | undefined) ?? null,
        },
      }),
    ),
  Fields: () => (
    <div className="grid grid-cols-2 gap-x-5">
      <TextField name="label" label="Lot number" at="/label" />
      <DayOf name="tested_on" label="Germination test date" />
      <AmountField name="purity" label="Purity" />
      <AmountField name="germination" label="Germination" />
      <AmountField name="dormant" label="Hard or dormant seed" />
      <AmountField name="inert" label="Inert matter (including coating)" />
      <AmountField name="weed_seed" label="Weed seed" />
      <AmountField name="seeds_per_mass" label="Seeds per pound or kilogram" />
      <AmountField name="package" label="Bag weight" />
      <AmountField name="price" label="Price per bag" />
      <AmountField
        name="on_hand"
        label="Seed on hand"
        at="/on_hand"
        hint="Leave blank if supply is not limited."
      />
    </div>
  ),
});
