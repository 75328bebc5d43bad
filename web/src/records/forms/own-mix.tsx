import { z } from "zod";
import type { Schemas } from "../../api/client";
import { TextField } from "../../kit/form";
import { present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

const given = z.object({
  id: z.string(),
  mix: z.custom<Schemas["RecordedMix"]>(),
  name: z.string(),
  after: z.string().optional(),
});

/** A mix kept under a name: kept again, the one before is its older version. */
export default recordForm({
  given,
  values: z.object({ name: words("Enter a name."), note: words() }),
  day: "Saved on",
  submit: "Save mix",
  begin: ({ given: { name } }) => ({ name, note: "" }),
  about: (_, { with: given }) => [{ kind: "mix", id: given?.["id"] as string }],
  after: ({ after }) => after,
  payload: ({ name, note }, { given: { mix } }) =>
    ({ kind: "own-mix", name: name.trim(), mix, ...present({ note: note.trim() }) }) as Payload,
  Fields: () => (
    <>
      <TextField name="name" label="Mix name" />
      <TextField name="note" label="Purpose and results" lines={2} />
    </>
  ),
});
