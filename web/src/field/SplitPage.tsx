import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useMemo, useReducer, useState } from "react";
import { useForm } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useFields } from "../api/queries";
import { useWidth } from "../draw/useWidth";
import { AmountField, DayOf, Form, TextField } from "../kit/form";
import { Page } from "../kit/Page";
import { NotYet } from "../kit/states";
import { amount, blank, readAmounts, words } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { wholeDay } from "../units/day";
import { plain } from "../units/format";
import { useUnits } from "../units/useUnits";
import { begun, drawn } from "./drawing";
import { middleOf, ringsOf } from "./ground";
import { Paper } from "./Paper";
import { planeAround, type Degrees } from "./plane";
import { viewOf, type View } from "./sheet";

/** Make two fields of one: by a line across it, or by area where it is not drawn. */
export function SplitPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const { field: id } = useSearch({ strict: false }) as { field?: string };
  if (fields.data === undefined) return <NotYet what="Loading map" of={[fields]} />;
  const field = fields.data.find((one) => one.id === id);
  if (!field) return <p className="px-5 py-3">Field not found on this farm.</p>;
  return (
    <Page title={`Split ${field.name}`} about={`${plain(field.area)} before the split`}>
      {field.boundary ? <ByLine field={field} /> : <Keep field={field} line={null} />}
    </Page>
  );
}

const HEIGHT = 520;

function ByLine({ field }: { field: Schemas["FieldView"] }) {
  const farm = useFarm();
  const [width, ref] = useWidth();
  const size = { width, height: HEIGHT };
  const { plane, rings } = useMemo(() => {
    const plane = planeAround(middleOf([field.boundary], [farm.longitude, farm.latitude]));
    return { plane, rings: ringsOf(field.boundary, plane) };
  }, [field, farm]);
  const [drawing, change] = useReducer(drawn, begun([]));
  const [moved, setMoved] = useState<View | null>(null);
  const line = drawing.corners.map(plane.degrees);
  return (
    <div className="grid gap-x-8 gap-y-4 lg:grid-cols-[1fr_20rem]">
      <div>
        <div ref={ref} className="border-y border-rule">
          {width > 0 && (
            <Paper
              line
              drawing={drawing}
              change={change}
              view={moved ?? viewOf(rings.flat(), size)}
              onView={setMoved}
              size={size}
              neighbours={rings.map((ring) => ({ name: field.name, ring }))}
              crossed={[]}
              walked={[]}
            />
          )}
        </div>
        <p className="pt-1 text-sm text-pencil">
          Click along the dividing line from one side to the other; the ends extend automatically. The new
          field is on the left of the line as drawn.
        </p>
        <button
          type="button"
          className="line-button"
          disabled={drawing.before.length === 0}
          onClick={() => change({ to: "undo" })}
        >
          Undo
        </button>
      </div>
      <Keep field={field} line={line} />
    </div>
  );
}

const values = z.object({
  name: words("Enter a name for the new field."),
  area: amount(),
  on: wholeDay,
});

function Keep({ field, line }: { field: Schemas["FieldView"]; line: readonly Degrees[] | null }) {
  const farm = useFarm();
  const units = useUnits();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [ids] = useState(() => ({ id: uuid(), part: uuid() }));
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: { name: "", area: blank(units.area), on: farm.today },
  });
  const split = async (written: z.infer<typeof values>) => {
    const { name, area, on } = await readAmounts(written);
    const share = line ? { line: line.map(([lon, lat]) => [lon, lat]) } : { area: area as Schemas["Area"] };
    await answered(
      api.POST("/api/farms/{farm}/fields/{field}/split", {
        params: { path: { farm: farm.id, field: field.id } },
        body: { ...ids, name, on, after: field.shape ?? null, ...share },
      }),
    );
    await client.invalidateQueries({ queryKey: ["farm", farm.id] });
    void navigate({ to: "/farms/$farm/fields", params: { farm: farm.id } });
  };
  return (
    <Form form={form} onSubmit={split} submit="Split field" disabled={line !== null && line.length < 2}>
      <TextField name="name" label="New field name" />
      {line === null && <AmountField name="area" label="Area of new field" />}
      <DayOf name="on" label="Effective from" />
      <p className="text-sm text-pencil">
        Both fields keep the records of the whole: soil tests, crops, sprays and the current stand.
      </p>
    </Form>
  );
}
