import { z } from "zod";
import { useWorkedFields } from "../../api/queries";
import { PickOf, TextField } from "../../kit/form";
import { words } from "../amounts";
import { recordForm } from "../form";

/** Something worth remembering, of a field or of the farm. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ field: z.string(), text: words("Enter a note.") }),
  day: "Day",
  begin: ({ task }) => ({ field: task.field ?? "", text: "" }),
  payload: ({ text }) => ({ kind: "note", text }),
  about: ({ field }) => (field ? [{ kind: "field", id: field }] : []),
  Fields: ({ farm }) => {
    const fields = useWorkedFields(farm.id);
    return (
      <>
        <PickOf
          name="field"
          label="Subject"
          at="/about"
          empty="whole farm"
          clears
          options={(fields.data ?? []).map((one) => ({ value: one.id, text: one.name }))}
        />
        <TextField name="text" label="Note" lines={3} />
      </>
    );
  },
});
