import { useState } from "react";
import { useFormContext, useFormState, useWatch } from "react-hook-form";
import { z } from "zod";
import { answered, api } from "../../api/client";
import { TextField } from "../../kit/form";
import { Labelled } from "../../kit/Labelled";
import { words } from "../amounts";
import { aboutTask, recordForm } from "../form";
import { shrunk } from "../picture";

/** A picture, made small here: without signal it waits with the other records. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    jpeg: z.string().min(1, "Take or choose a photo."),
    note: words(),
  }),
  day: "Date taken",
  root: "",
  begin: () => ({ jpeg: "", note: "" }),
  deliver: async ({ id, farm, on, task, read: { jpeg, note }, headers, confirmed }) => {
    const path = { farm };
    const { sha256 } = await answered(
      api.POST("/api/farms/{farm}/photos", { params: { path }, headers, body: { id, jpeg } }),
    );
    const payload = {
      kind: "photo" as const,
      photo: id,
      sha256,
      ...(note.trim() ? { note: note.trim() } : {}),
    };
    await answered(
      api.POST("/api/farms/{farm}/entries", {
        params: { path },
        headers,
        body: {
          id,
          about: aboutTask(task),
          occurred_on: on,
          payload,
          ...(confirmed ? { confirmed } : {}),
        },
      }),
    );
  },
  Fields: () => (
    <>
      <Picture />
      <TextField name="note" label="Caption" lines={2} />
    </>
  ),
});

function Picture() {
  const { setValue } = useFormContext();
  const { errors } = useFormState({ name: "jpeg" });
  const jpeg = useWatch({ name: "jpeg" }) as string;
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const take = async (file: File) => {
    setBusy(true);
    setWrong(null);
    try {
      setValue("jpeg", await shrunk(file), { shouldDirty: true, shouldValidate: true });
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Labelled label="Photo" error={wrong ?? (errors.jpeg?.message as string | undefined)}>
        {(ids) => (
          <input
            {...ids}
            type="file"
            accept="image/*"
            capture="environment"
            className="entry min-h-12 text-sm file:mr-3 file:min-h-11 file:rounded-sm file:border-2 file:border-ink file:bg-paper file:px-4 file:font-semibold"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void take(file);
            }}
          />
        )}
      </Labelled>
      {busy && <p className="text-sm text-pencil">Resizing</p>}
      {jpeg && (
        <img
          src={`data:image/jpeg;base64,${jpeg}`}
          alt="Photo as saved"
          className="mt-2 max-h-60 max-w-full border border-rule"
        />
      )}
    </>
  );
}
