import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField, NumberField, TextField } from "../../kit/form";
import { amount, blank, figure, numberOf, present, words } from "../amounts";
import { recordForm } from "../form";

/** A soil sample was taken: its day is enough, the report comes later. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ cores: figure(), depth: amount(), bag: words(), note: words() }),
  day: "Sampling date",
  begin: ({ units }) => ({ cores: "", depth: blank(units.layer), bag: "", note: "" }),
  payload: ({ cores, depth, bag, note }) => ({
    kind: "sample-taken",
    ...present({ depth: depth as Schemas["Length"] | undefined, bag: bag.trim(), note: note.trim() }),
    ...(numberOf(cores) === null ? {} : { cores: numberOf(cores) }),
  }),
  Fields: () => (
    <>
      <p className="text-sm text-pencil">Enter the results as a soil test when the report arrives.</p>
      <div className="grid grid-cols-3 gap-x-5">
        <NumberField name="cores" label="Cores" />
        <AmountField name="depth" label="Depth" />
        <TextField name="bag" label="Sample label" />
      </div>
      <TextField name="note" label="Note" />
    </>
  ),
});
