import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useCrops, useShelf } from "../api/queries";
import { Form, NumberField, PickOf } from "../kit/form";
import { optionsOf } from "../kit/Pick";
import { TaskSheet } from "../kit/Sheet";
import { useTell } from "../kit/Told";
import { numberOf } from "../records/amounts";
import type { Farm } from "../shell/farm";
import { yearOf } from "../units/format";
import { goals, shelved } from "../units/words";
import { sownIn, times } from "./standing";

const values = z.object({
  first: z.string().refine((crop) => crop !== "", "Choose a crop."),
  second: z.string(),
  third: z.string(),
  year: z.string().refine((text) => /^\d{4}$/.test(text.trim()), "Enter the year, e.g. 2024."),
  time: z.enum(times.map(({ value }) => value) as [string, ...string[]]),
  goal: z.enum(Object.keys(goals) as [Schemas["Goal"], ...Schemas["Goal"][]]),
  regime: z.string(),
});

/** A stand that is there already: what grows, since when, and what it is used for. No order, no odds, no looks of years ago. */
export function StandingSheet({
  farm,
  field,
  name,
  onDone,
}: {
  farm: Farm;
  field: string;
  name: string;
  onDone: () => void;
}) {
  const crops = useCrops();
  const shelf = useShelf();
  const client = useQueryClient();
  const tell = useTell();
  const [ids] = useState(() => ({ id: uuid(), entry: uuid(), sown: uuid() }));
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: {
      first: "",
      second: "",
      third: "",
      year: String(yearOf(farm.today) - 1),
      time: "spring",
      goal: "hay" as const,
      regime: "",
    } as z.infer<typeof values>,
  });
  const all = crops.data ?? [];
  const [first, second] = useWatch({ control: form.control, name: ["first", "second"] });
  const seeded = shelved(all.filter((crop) => crop.seed));
  const isPlanted = all.some((crop) => crop.id === first && !crop.seed);
  const add = async (written: z.infer<typeof values>) => {
    const year = numberOf(written.year) ?? 0;
    const { on, note } = sownIn(year, written.time, farm.latitude, farm.today);
    // A third species is offered, and counts, only beside a second.
    const more = written.second === "" ? [] : [written.second, written.third];
    const members = [written.first, ...more].filter((crop) => crop !== "");
    const cover: Schemas["Cover"] = isPlanted
      ? { as: "plants", plants: { crop: written.first, pieces_per_station: 1 } }
      : {
          as: "seed",
          mix: {
            by: "full-rate",
            members: members.map((crop) => ({ crop, share: { value: 100 / members.length, unit: "%" } })),
          },
          lots: [],
        };
    const choices: Schemas["Choices"] = {
      goal: written.goal,
      practice: isPlanted ? "rows-of-plants" : "tilled",
      ...(written.regime ? { regime: written.regime } : {}),
      sow_on: on,
      cover,
    };
    const body = { id: ids.id, entry: ids.entry, field, choices, sown: { entry: ids.sown, note } };
    await answered(api.POST("/api/farms/{farm}/stands", { params: { path: { farm: farm.id } }, body }));
    await client.invalidateQueries({ queryKey: ["farm", farm.id] });
    tell(`Stand added to ${name}.`);
    onDone();
  };
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Add existing stand"
      about={`${name}. Enter the species, the age and the use. Cuts and counts are planned from today.`}
    >
      <Form form={form} onSubmit={add} submit="Add stand" root="/choices">
        <PickOf
          name="first"
          at="/choices/cover/mix/members/0"
          label="Crop, or main species"
          empty="choose a crop"
          options={shelved(all)}
        />
        {first && !isPlanted && (
          <div className="grid grid-cols-2 gap-x-5">
            <PickOf
              name="second"
              at="/choices/cover/mix/members/1"
              label="Second species"
              empty="none"
              clears
              options={seeded}
            />
            {second && (
              <PickOf
                name="third"
                at="/choices/cover/mix/members/2"
                label="Third species"
                empty="none"
                clears
                options={seeded}
              />
            )}
          </div>
        )}
        <div className="grid grid-cols-2 gap-x-5">
          <NumberField name="year" label="Year sown" at="/choices/sow_on" />
          <PickOf
            name="time"
            label="Time of year"
            options={times.map(({ value, text }) => ({ value, text }))}
          />
        </div>
        <PickOf name="goal" label="Used for" options={optionsOf(goals)} />
        <PickOf
          name="regime"
          label="Cutting regime"
          empty="choose later"
          clears
          options={(shelf.data?.regimes ?? []).map((one) => ({ value: one.key, text: one.name }))}
        />
      </Form>
    </TaskSheet>
  );
}
