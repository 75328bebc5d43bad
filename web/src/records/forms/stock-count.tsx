import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField } from "../../kit/form";
import { amount, blank } from "../amounts";
import { recordForm } from "../form";

/** How much of a product lies in the shed. */
export default recordForm({
  given: z.object({ id: z.string() }),
  values: z.object({ there: amount("Enter the stock.") }),
  day: "Counted on",
  root: "/payload",
  begin: ({ units }) => ({ there: blank(units.mass) }),
  about: (_, { with: given }) => [{ kind: "product", id: given?.["id"] as string }],
  payload: ({ there }) => ({ kind: "stock-count", there: there as Schemas["Mass"] }),
  Fields: () => <AmountField name="there" label="Stock on hand" />,
});
