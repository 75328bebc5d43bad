import { z } from "zod";
import { answered, api } from "../../api/client";
import { TextField } from "../../kit/form";
import { words } from "../amounts";
import { recordForm } from "../form";

/** An entry is struck: it stays legible and counts no more. */
export default recordForm({
  given: z.object({ entry: z.string() }),
  values: z.object({ reason: words("Enter what was wrong.") }),
  day: null,
  submit: "Strike entry",
  begin: () => ({ reason: "" }),
  deliver: ({ id, farm, given, read, headers }) =>
    answered(
      api.POST("/api/farms/{farm}/entries/{entry}/strike", {
        params: { path: { farm, entry: given.entry } },
        headers,
        body: { id, reason: read.reason },
      }),
    ),
  Fields: () => <TextField name="reason" label="What was wrong" />,
});
