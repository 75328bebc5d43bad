import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField } from "../../kit/form";
import { amount, blank } from "../amounts";
import { recordForm } from "../form";

/** Water brought. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ depth: amount("Enter the amount.") }),
  day: "Irrigation date",
  begin: ({ units }) => ({ depth: blank(units.rain) }),
  payload: ({ depth }) => ({ kind: "irrigation", depth: depth as Schemas["Length"] }),
  Fields: () => <AmountField name="depth" label="Water applied" />,
});
