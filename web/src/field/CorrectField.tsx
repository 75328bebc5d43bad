import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { AmountField, DayOf, Form, TextField, TickOf } from "../kit/form";
import { Menu } from "../kit/Menu";
import { TaskSheet } from "../kit/Sheet";
import { amount, readAmounts, words, written as known } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { useGoTo } from "../shell/usePages";
import { wholeDay } from "../units/day";
import { useUnits } from "../units/useUnits";
import { JoinFields } from "./JoinFields";

/** What can be put right about a field: its shape by drawing, the rest in a form. */
export function CorrectField({ field }: { field: Schemas["FieldView"] }) {
  const farm = useFarm();
  const [task, setTask] = useState<"correct" | "join" | null>(null);
  const done = () => setTask(null);
  const to = useGoTo(farm.id);
  const items = [
    { text: "Edit field", act: () => setTask("correct") },
    {
      text: field.boundary ? "Redraw field" : "Draw field",
      act: () => to("fields/draw", { field: field.id }),
    },
    ...(field.retired
      ? []
      : [
          { text: "Split field", act: () => to("fields/split", { field: field.id }) },
          { text: "Join fields", act: () => setTask("join") },
        ]),
  ];
  return (
    <>
      <Menu title="Change field" items={items} />
      {task === "correct" && <Correction field={field} onDone={done} />}
      {task === "join" && <JoinFields field={field} onDone={done} />}
    </>
  );
}

const values = z.object({
  name: words("Enter a field name."),
  area: amount(),
  setback: amount(),
  on: wholeDay,
  retired: z.boolean(),
});

function Correction({ field, onDone }: { field: Schemas["FieldView"]; onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const client = useQueryClient();
  const [id] = useState(() => uuid());
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: {
      name: field.name,
      area: known(field.boundary ? null : field.area, units.area),
      setback: known(field.setback, units.setback),
      on: farm.today,
      retired: field.retired,
    },
  });
  const correct = async (written: z.infer<typeof values>) => {
    const { name, area, setback, on, retired } = await readAmounts(written);
    const extent = field.boundary
      ? { boundary: field.boundary, setback: (setback ?? field.setback) as Schemas["Length"] }
      : { area: (area ?? field.area) as Schemas["Area"] };
    await answered(
      api.PUT("/api/farms/{farm}/fields/{field}", {
        params: { path: { farm: farm.id, field: field.id } },
        body: { id, on, name, retired, after: field.shape ?? null, ...extent },
      }),
    );
    await client.invalidateQueries({ queryKey: ["farm", farm.id] });
    onDone();
  };
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title={`Edit ${field.name}`}
      about="The old boundary stays in the ledger, and earlier sowings keep their area."
    >
      <Form form={form} onSubmit={correct} submit="Save field">
        <TextField name="name" label="Name" />
        {field.boundary ? (
          <AmountField name="setback" label="Setback" hint="Unsown strip along the whole boundary." />
        ) : (
          <AmountField name="area" label="Sown area" />
        )}
        <DayOf name="on" label="Effective from" />
        <TickOf name="retired">No longer farmed</TickOf>
      </Form>
    </TaskSheet>
  );
}
