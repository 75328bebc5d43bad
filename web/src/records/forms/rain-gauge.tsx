import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField } from "../../kit/form";
import { amount, blank } from "../amounts";
import { recordForm } from "../form";

/** Rain in the field's own gauge. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ rain: amount("Enter the rainfall.") }),
  day: "Date",
  begin: ({ units }) => ({ rain: blank(units.rain) }),
  payload: ({ rain }) => ({ kind: "rain-gauge", rain: rain as Schemas["Length"] }),
  Fields: () => (
    <AmountField name="rain" label="Rain" hint="Replaces the station’s rain for this field and day." />
  ),
});
