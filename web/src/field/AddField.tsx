import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, Refused, type Schemas } from "../api/client";
import { AmountField, ChoiceOf, Form, TextField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { TaskSheet } from "../kit/Sheet";
import { amount, blank, readAmounts, words } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { useUnits } from "../units/useUnits";
import { boundariesIn, NotBoundaries } from "./files";
import { named, type NamedShape } from "./geojson";

const values = z
  .object({
    by: z.enum(["area", "file"]),
    name: words(),
    area: amount(),
    boundary: z.string(),
    setback: amount(),
  })
  .superRefine((written, context) => {
    const wrong = (path: string, message: string) =>
      context.addIssue({ code: "custom", path: [path], message });
    if (written.by === "area") {
      if (written.name.trim() === "") wrong("name", "Enter a field name.");
      if (written.area.text.trim() === "") wrong("area", "Enter the area.");
      return;
    }
    const shapes = named(written.boundary, written.name.trim());
    if (typeof shapes === "string") wrong("boundary", shapes);
  });

/** A field by its area alone, or one and many from a file. */
export function AddField({ onDone }: { onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const client = useQueryClient();
  // The same field sent again is the same: each of a file keeps the id it was given first.
  const [ids] = useState(() => new Map<string, string>());
  const idOf = (name: string) => {
    const id = ids.get(name) ?? uuid();
    ids.set(name, id);
    return id;
  };
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: {
      by: "area" as const,
      name: "",
      area: blank(units.area),
      boundary: "",
      setback: blank(units.setback),
    } as z.infer<typeof values>,
  });
  const by = useWatch({ control: form.control, name: "by" });
  const [unread, setUnread] = useState<string>();
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      form.setValue("boundary", await boundariesIn(file));
      setUnread(undefined);
    } catch (error) {
      if (!(error instanceof NotBoundaries)) throw error;
      setUnread(error.message);
    }
  };
  const add = async (written: z.infer<typeof values>) => {
    const { name, boundary, area, setback } = await readAmounts(written);
    const put = (body: Omit<Schemas["NewField"], "id">) =>
      answered(
        api.POST("/api/farms/{farm}/fields", {
          params: { path: { farm: farm.id } },
          body: { ...body, id: idOf(body.name) },
        }),
      );
    try {
      if (by === "area") {
        await put({ name, area: area as Schemas["Area"] });
      } else {
        const along = setback ? { setback: setback as Schemas["Length"] } : {};
        for (const shape of named(boundary, name.trim()) as NamedShape[]) {
          await put({ name: shape.name, boundary: shape.boundary, ...along }).catch((error: unknown) => {
            throw error instanceof Refused ? under(error, shape.name) : error;
          });
        }
      }
    } finally {
      void client.invalidateQueries({ queryKey: ["farm", farm.id] });
    }
    onDone();
  };
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Add field"
      about="Enter the area now and draw it later, or import a boundary file."
    >
      <Form form={form} onSubmit={add} submit="Add field">
        <ChoiceOf
          name="by"
          label="Add by"
          options={[
            { value: "area", text: "area only" },
            { value: "file", text: "boundary file" },
          ]}
        />
        <TextField
          name="name"
          label="Name"
          hint={
            by === "file"
              ? "Only for a file with one boundary; several keep the names in the file."
              : undefined
          }
        />
        {by === "area" ? (
          <AmountField name="area" label="Sown area" />
        ) : (
          <>
            <Labelled
              label="Boundary file"
              hint="GeoJSON, KML, or a zipped Shapefile with .dbf and .prj"
              error={unread}
            >
              {(ids) => (
                <input
                  {...ids}
                  type="file"
                  accept=".geojson,.json,.kml,.kmz,.zip,application/geo+json"
                  className="entry text-sm"
                  onChange={(event) => void take(event.target.files?.[0])}
                />
              )}
            </Labelled>
            <TextField name="boundary" label="Boundary" lines={5} />
            <AmountField name="setback" label="Setback" hint="Unsown strip along the whole boundary." />
          </>
        )}
      </Form>
    </TaskSheet>
  );
}

/** What was refused of one of many, with its name. */
function under(refused: Refused, name: string): Refused {
  const errors = (refused.problem.errors ?? []).map((one) => ({ ...one, detail: `${name}: ${one.detail}` }));
  const detail = `${name}: ${refused.problem.detail}`;
  return new Refused(refused.status, { ...refused.problem, detail, errors });
}
