import { v7 as uuid } from "uuid";
import { z } from "zod";
import { AmountField, NumberField, TextField } from "../../kit/form";
import { amount, blank, figure, numberOf, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

/** Part of a lot of forage that is set apart: sold, or moved to another place. */
export default recordForm({
  given: z.object({ lot: z.string() }),
  values: z.object({ part: z.string(), pieces: figure(), mass: amount(), place: words(), note: words() }),
  day: "Day it was set apart",
  begin: ({ units }) => ({ part: uuid(), pieces: "", mass: blank(units.bulk), place: "", note: "" }),
  about: ({ part }, { with: given }) => [
    { kind: "forage-lot", id: given?.["lot"] as string, part: "from" },
    { kind: "forage-lot", id: part, part: "to" },
  ],
  payload: ({ part, pieces, mass, place, note }) =>
    ({
      kind: "forage-split",
      parts: [{ lot: part, ...present({ pieces: numberOf(pieces), mass, place: place.trim() }) }],
      ...present({ note: note.trim() }),
    }) as Payload,
  Fields: () => (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <NumberField name="pieces" label="Bales or loads" at="/payload/parts/0/pieces" />
        <AmountField
          name="mass"
          label="Weight"
          at="/payload/parts/0/mass"
          hint="Leave blank to use the lot’s average."
        />
      </div>
      <TextField name="place" label="Stored at" at="/payload/parts/0/place" hint="e.g. sold, by the road" />
      <TextField name="note" label="Note" lines={2} />
    </>
  ),
});
