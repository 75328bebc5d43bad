import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useEntry, useMe } from "../api/queries";
import { ChoiceOf, Form, NumberField, TextField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { Collapse } from "../kit/Collapse";
import { figure, numberOf, words } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { blankMonths, columns, pasted, type Column, type MonthWords } from "./table";

const names = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

const heads: Record<Column, string> = {
  lowest: "average minimum",
  highest: "average maximum",
  rain: "rain",
  rainy_days: "rainy days",
};

const month = z.object({
  lowest: figure("Enter the minimum."),
  highest: figure("Enter the maximum."),
  rain: figure("Enter the rainfall."),
  rainy_days: figure("Enter the number of days."),
});

const values = z.object({
  units: z.enum(["us", "metric"]),
  months: z.array(month),
  from: words(),
});

const unitsOf = {
  us: { temperature: "degF", rain: "in", text: "°F and inches" },
  metric: { temperature: "degC", rain: "mm", text: "°C and millimeters" },
} as const;

/** The usual weather of the farm, from any climate table: years that could be are made from it. */
export function UsualWeather({ kept }: { kept: string | null | undefined }) {
  const farm = useFarm();
  const entry = useEntry(farm.id, kept ?? null);
  if (kept && entry.data === undefined) return null;
  const payload = entry.data?.payload;
  const told = payload?.kind === "climate-normals" ? payload : undefined;
  return <Table key={entry.data?.id} told={told} />;
}

type Told = Extract<Schemas["Payload"], { kind: "climate-normals" }>;

function Table({ told }: { told: Told | undefined }) {
  const farm = useFarm();
  const client = useQueryClient();
  const units = useMe().data?.units ?? "us";
  const [id, setId] = useState(() => uuid());
  const [wrong, setWrong] = useState<string>();
  // As a table prints it: tenths of a degree and of a millimetre, hundredths of an inch.
  const number = ({ value, unit }: Schemas["Quantity"]) =>
    String(Number(value.toFixed(unit === "in" ? 2 : 1)));
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: {
      units,
      months: told
        ? told.months.map((one): MonthWords => ({
            lowest: number(one.lowest),
            highest: number(one.highest),
            rain: number(one.rain),
            rainy_days: String(one.rainy_days),
          }))
        : blankMonths(),
      from: told?.from ?? "",
    },
  });
  const keep = async (written: z.infer<typeof values>) => {
    const { temperature, rain } = unitsOf[written.units];
    const value = (text: string) => numberOf(text.replace("−", "-")) ?? 0;
    const months = written.months.map((one) => ({
      lowest: { value: value(one.lowest), unit: temperature },
      highest: { value: value(one.highest), unit: temperature },
      rain: { value: value(one.rain), unit: rain },
      rainy_days: value(one.rainy_days),
    }));
    await answered(
      api.POST("/api/farms/{farm}/entries", {
        params: { path: { farm: farm.id } },
        body: {
          id,
          about: [],
          occurred_on: farm.today,
          payload: { kind: "climate-normals", months, from: written.from },
        },
      }),
    );
    setId(uuid());
    await client.invalidateQueries({ queryKey: ["farm", farm.id] });
  };
  const paste = (text: string) => {
    const read = text.trim() === "" ? undefined : pasted(text);
    setWrong(typeof read === "string" ? read : undefined);
    if (Array.isArray(read)) form.setValue("months", read, { shouldValidate: true });
  };
  return (
    <section aria-labelledby="usual-title" data-kept={told ? true : undefined}>
      <h2 id="usual-title">Average weather</h2>
      <p className="text-sm text-pencil">
        Enter twelve monthly averages to get odds at once from forty generated years. They miss real
        year-to-year variation, so odds are as uncertain as ten real years. Imported daily records replace
        them.
      </p>
      <Form
        form={form}
        onSubmit={keep}
        submit={told ? "Save changes" : "Generate years"}
        label="Average weather"
      >
        <ChoiceOf
          name="units"
          label="Units"
          options={[
            { value: "us", text: unitsOf.us.text },
            { value: "metric", text: unitsOf.metric.text },
          ]}
        />
        <Collapse title="Paste a table">
          <Labelled
            label="Table"
            hint="Four rows of twelve numbers (minimum, maximum, rain, rainy days), or twelve rows of four."
            error={wrong}
          >
            {(ids) => (
              <textarea
                {...ids}
                rows={4}
                className="entry text-sm"
                onChange={(event) => paste(event.target.value)}
              />
            )}
          </Labelled>
        </Collapse>
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-right text-sm text-pencil">
              <th scope="col">
                <span className="sr-only">month</span>
              </th>
              {columns.map((column) => (
                <th key={column} scope="col" className="pb-1 pl-3 font-normal">
                  {heads[column]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {names.map((name, index) => (
              <tr key={name}>
                <th scope="row" className="text-left font-normal">
                  {name}
                </th>
                {columns.map((column) => (
                  <td key={column} className="w-[19%] pl-3 align-top">
                    <NumberField
                      name={`months.${index}.${column}`}
                      at={`/payload/months/${index}/${column}`}
                      label={`${name}, ${heads[column]}`}
                      hideLabel
                      className="[&_input]:text-right"
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <TextField name="from" at="/payload/from" label="Source" hint="Place and years covered." />
      </Form>
    </section>
  );
}
