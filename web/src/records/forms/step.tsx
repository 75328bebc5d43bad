import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField, SeenOf, TextField } from "../../kit/form";
import { amount, blank, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

const given = z.object({
  operation: z.string(),
  asks: z.array(z.string()),
});

/** A step of a plan was done: all but its day may be left out in the field. */
export default recordForm({
  given,
  values: z.object({
    area: amount(),
    bulk_rate: amount(),
    depth: amount(),
    setting: words(),
    // Records that waited on a device since before it was asked do not say.
    emerged: z.enum(["", "yes", "no"]).default(""),
    note: words(),
  }),
  day: "Date done",
  begin: ({ units }) => ({
    area: blank(units.area),
    bulk_rate: blank(units.rate),
    depth: blank(units.depth),
    setting: "",
    emerged: "" as const,
    note: "",
  }),
  payload: ({ emerged, ...read }, { given: { operation } }) =>
    ({
      kind: "step",
      operation,
      ...present({ ...read, setting: read.setting.trim(), note: read.note.trim() }),
      ...(emerged === "" ? {} : { emerged: emerged === "yes" }),
    }) as Payload,
  about: (_, task) => [{ kind: "stand", id: task.stand ?? "" }],
  Fields: ({ given }) => {
    const asks = (what: Schemas["Ask"]) => given.asks.includes(what);
    return (
      <>
        {asks("area") && (
          <AmountField name="area" label="Area sown" hint="Leave blank for the whole field." />
        )}
        {asks("bulk_rate") && <AmountField name="bulk_rate" label="Actual bulk rate" />}
        {asks("depth") && <AmountField name="depth" label="Depth" />}
        {asks("setting") && <TextField name="setting" label="Setting" />}
        {asks("emerged") && (
          <SeenOf
            name="emerged"
            label="Seedlings"
            options={[
              { value: "yes", text: "emerged" },
              { value: "no", text: "none yet" },
            ]}
          />
        )}
        <TextField name="note" label="Note" lines={2} />
      </>
    );
  },
});
