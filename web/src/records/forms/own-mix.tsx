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
  values: z.object({ name: words("what is it called?"), note: words() }),
  day: "Kept on",
  submit: "Keep it",
  begin: ({ given: { name } }) => ({ name, note: "" }),
  about: (_, { with: given }) => [{ kind: "mix", id: given?.["id"] as string }],
  after: ({ after }) => after,
  payload: ({ name, note }, { given: { mix } }) =>
    ({ kind: "own-mix", name: name.trim(), mix, ...present({ note: note.trim() }) }) as Payload,
  Fields: () => (
    <>
      <TextField name="name" label="Name of the mix" />
      <TextField name="note" label="What for, and what came of it" lines={2} />
    </>
  ),
});
