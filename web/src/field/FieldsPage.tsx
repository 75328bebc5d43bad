import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useFields } from "../api/queries";
import { FieldShape } from "../draw/FieldShape";
import { useFarm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { AmountField, Form, TextField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { Page } from "../kit/Page";
import { TaskSheet } from "../kit/Sheet";
import { Empty, NotYet } from "../kit/states";
import { amount, blank, readAmounts, words } from "../records/amounts";
import { useUnits } from "../units/useUnits";

/** The farm's fields, as outlines. */
export function FieldsPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const [adding, setAdding] = useState(false);
  if (fields.data === undefined) return <NotYet what="Looking over the fields" of={[fields]} />;
  return (
    <Page
      title="Fields"
      tools={
        farm.role === "manager" && (
          <button type="button" className="line-button" onClick={() => setAdding(true)}>
            Add a field
          </button>
        )
      }
    >
      {fields.data.length === 0 && (
        <Empty>Fields are drawn here from their boundaries. Add the first one from a GeoJSON file.</Empty>
      )}
      <ul className="grid grid-cols-2 gap-x-8 gap-y-5 sm:grid-cols-3 lg:grid-cols-5">
        {fields.data.map((field) => (
          <li key={field.id}>
            <Link
              to="/farms/$farm/fields/$field"
              params={{ farm: farm.id, field: field.id }}
              className="block hover:underline"
            >
              <FieldShape boundary={field.boundary} size={150} height={104} />
              <span className="block font-semibold">{field.name}</span>
            </Link>
            <span className="text-sm text-pencil">
              <Figure quantity={field.sown_area} /> to sow of <Figure quantity={field.area} />
            </span>
          </li>
        ))}
      </ul>
      {adding && <AddField onDone={() => setAdding(false)} />}
    </Page>
  );
}

const values = z.object({
  name: words("what is it called?"),
  boundary: z.string().refine(isJson, {
    message: "this is not GeoJSON: choose a file, or paste what it holds",
  }),
  setback: amount(),
});

function isJson(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}

function AddField({ onDone }: { onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const [id] = useState(() => uuid());
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: { name: "", boundary: "", setback: blank(units.setback) },
  });
  const client = useQueryClient();
  const add = async (written: z.infer<typeof values>) => {
    const { name, boundary, setback } = await readAmounts(written);
    await answered(
      api.POST("/api/farms/{farm}/fields", {
        params: { path: { farm: farm.id } },
        body: {
          id,
          name,
          boundary: JSON.parse(boundary) as Record<string, unknown>,
          ...(setback ? { setback: setback as Schemas["Length"] } : {}),
        },
      }),
    );
    void client.invalidateQueries({ queryKey: ["farm", farm.id] });
    onDone();
  };
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Add a field"
      about="A boundary is one GeoJSON polygon: longitude first, then latitude."
    >
      <Form form={form} onSubmit={add} submit="Add it">
        <TextField name="name" label="Name" />
        <Labelled label="Boundary from a file">
          {(ids) => (
            <input
              {...ids}
              type="file"
              accept=".geojson,.json,application/geo+json"
              className="entry text-sm"
              onChange={(event) =>
                void event.target.files?.[0]?.text().then((text) => form.setValue("boundary", text))
              }
            />
          )}
        </Labelled>
        <TextField name="boundary" label="Boundary" lines={5} />
        <AmountField name="setback" label="Setback" hint="kept unsown along the whole boundary" />
      </Form>
    </TaskSheet>
  );
}
