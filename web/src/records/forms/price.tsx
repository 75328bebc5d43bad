import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField } from "../../kit/form";
import { amount, blank, present } from "../amounts";
import { recordForm } from "../form";

/** What a product costs from a day on, and what was bought of it. */
export default recordForm({
  given: z.object({ id: z.string() }),
  values: z.object({ price: amount("Enter the price."), bought: amount() }),
  day: "Effective from",
  root: "/payload",
  begin: ({ units }) => ({ price: blank(units.tonPrice), bought: blank(units.mass) }),
  about: (_, { with: given }) => [{ kind: "product", id: given?.["id"] as string }],
  payload: ({ price, bought }) => ({
    kind: "price",
    price: price as Schemas["MoneyPerMass"],
    ...present({ bought: bought as Schemas["Mass"] | undefined }),
  }),
  Fields: () => (
    <div className="grid grid-cols-2 gap-x-5">
      <AmountField name="price" label="Price" />
      <AmountField name="bought" label="Amount bought" hint="Leave blank for a quote." />
    </div>
  ),
});
