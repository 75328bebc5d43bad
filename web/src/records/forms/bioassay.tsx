import { z } from "zod";
import { PickOf, TextField } from "../../kit/form";
import { words } from "../amounts";
import { recordForm } from "../form";

/** A bioassay, read. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ passed: z.enum(["yes", "no"]), note: words() }),
  day: "Reading date",
  begin: () => ({ passed: "yes" as const, note: "" }),
  payload: ({ passed, note }) => ({
    kind: "bioassay",
    passed: passed === "yes",
    ...(note.trim() ? { note } : {}),
  }),
  Fields: () => (
    <>
      <PickOf
        name="passed"
        label="Growth"
        options={[
          { value: "yes", text: "same as in clean soil" },
          { value: "no", text: "stunted, twisted or dead" },
        ]}
      />
      <TextField name="note" label="Observations" />
    </>
  ),
});
