import { useEffect, useState } from "react";
import { useFormContext, useWatch } from "react-hook-form";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { useMaterials, useProducts } from "../../api/queries";
import { labelOf, SprayVerdict } from "../../bench/SprayVerdict";
import { useStanding } from "../../bench/useStanding";
import { Collapse } from "../../kit/Collapse";
import { AmountField, ChoiceOf, NumberField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import type { Farm } from "../../shell/farm";
import {
  amount,
  blank,
  figure,
  numberOf,
  present,
  readAmounts,
  words,
  type AmountWords,
  type Read,
} from "../amounts";
import { sprayKinds, sprayWays } from "../../units/words";
import { aboutTask, recordForm, type Payload } from "../form";

/** What a chosen label brings along into the record: what was read holds as it was on the day. */
const cited = z.object({
  with: z.array(z.string()).optional(),
  product: z.string().optional(),
  re_entry_hours: z.number().nullish(),
  harvest_days: z.number().nullish(),
  grazing_days: z.number().nullish(),
  plant_back: z.array(z.object({ crop: z.string(), days: z.number() })).optional(),
});

/** Something that was sprayed: a herbicide, an insecticide, a fungicide. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    what: z.enum(["herbicide", "insecticide", "fungicide", "other"]),
    label: z.string(),
    cited,
    area: amount(),
    way: z.string(),
    active: words("Enter an active ingredient."),
    amount: amount(),
    rate: words(),
    label_months: figure(),
    wind: amount(),
    temperature: amount(),
  }),
  day: "Spray date",
  begin: ({ units }) => ({
    what: "herbicide" as const,
    label: "",
    cited: {},
    area: blank(units.area),
    way: "",
    active: "",
    amount: blank(units.poured),
    rate: "",
    label_months: "",
    wind: blank(units.speed),
    temperature: blank(units.temperature),
  }),
  about: ({ label }, task) => [
    ...aboutTask(task),
    ...(label ? [{ kind: "product" as const, id: label }] : []),
  ],
  payload: ({ what, active, amount, rate, label_months, cited, area, way, wind, temperature }) =>
    ({
      kind: "spray",
      what,
      active: active.trim(),
      ...present({
        ...cited,
        amount,
        rate: rate.trim(),
        area,
        way,
        label_months: numberOf(label_months),
        wind,
        temperature,
      }),
    }) as Payload,
  Fields: ({ farm, task }) => (
    <>
      <ChoiceOf name="what" label="Type" options={optionsOf(sprayKinds)} />
      <FromLabel farm={farm} />
      <TextField name="active" label="Active ingredient" hint="As named on the label." />
      <PlantBack farm={farm} />
      <div className="grid grid-cols-3 gap-x-4">
        <AmountField name="amount" label="Rate" hint="per area" />
        <AmountField name="wind" label="Wind" />
        <AmountField name="temperature" label="Air temperature" />
      </div>
      <Collapse title="Area, application, plant-back">
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="area" label="Area sprayed" hint="Leave blank for the whole field." />
          <PickOf name="way" clears label="Application" options={optionsOf(sprayWays)} />
        </div>
        <TextField name="rate" label="Product and rate, in your words" hint="e.g. 2 qt of 4 lb/gal" />
        <NumberField
          name="label_months"
          label="Plant-back interval on the label, months"
          hint="Leave blank to be warned by the table instead."
        />
      </Collapse>
      {task.field && <Verdict farm={farm} field={task.field} />}
    </>
  ),
});

/** A product whose label somebody has read: its ingredients and its waits go into the record. */
function FromLabel({ farm }: { farm: Farm }) {
  const products = useProducts(farm.id);
  const { setValue } = useFormContext();
  const labels = (products.data?.products ?? []).filter(
    ({ facts }) => facts.nature.is === "spray" && !facts.gone,
  );
  if (labels.length === 0) return null;
  const bring = (id: string) => {
    const facts = labels.find((one) => one.id === id)?.facts;
    const nature = facts?.nature;
    if (!facts || nature?.is !== "spray") return setValue("cited", {});
    const [first, ...others] = nature.ingredients.map(({ name }) => name);
    const { re_entry_hours, harvest_days, grazing_days, plant_back } = nature;
    setValue("active", first ?? "", { shouldDirty: true });
    setValue(
      "cited",
      present({
        product: facts.name,
        with: others.length > 0 ? others : undefined,
        re_entry_hours,
        harvest_days,
        grazing_days,
        plant_back: plant_back?.length ? plant_back : undefined,
      }),
      { shouldDirty: true },
    );
  };
  return (
    <PickOf
      name="label"
      label="Product in stock"
      options={labels.map(({ id, facts }) => ({ value: id, text: facts.name }))}
      empty="other product"
      clears
      onPicked={bring}
    />
  );
}

/** The spray held against its label, while it is written and there is signal. */
function Verdict({ farm, field }: { farm: Farm; field: string }) {
  const products = useProducts(farm.id);
  const standing = useStanding(farm.id, field);
  const [label, rate, wind, temperature, on] = useWatch({
    name: ["label", "amount", "wind", "temperature", "on"],
  }) as [string, AmountWords, AmountWords, AmountWords, string | undefined];
  const [read, setRead] = useState<Read<Record<"rate" | "wind" | "temperature", AmountWords>>>();
  const written = JSON.stringify({ rate, wind, temperature });
  useEffect(() => {
    let current = true;
    const words = JSON.parse(written) as Record<"rate" | "wind" | "temperature", AmountWords>;
    const timer = setTimeout(() => {
      // What can't be read is said at its field; without signal nothing is held against anything.
      readAmounts(words).then(
        (amounts) => current && setRead(amounts),
        () => {},
      );
    }, 250);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [written]);
  const picked = products.data?.products.find(({ id }) => id === label);
  const held = picked ? labelOf(picked.facts.nature) : null;
  if (!held) return null;
  const ask: Schemas["SprayCheckRequest"] = {
    label: held,
    on: on ?? farm.today,
    ...standing,
    rate: (read?.rate ?? null) as Schemas["Quantity"] | null,
    wind: (read?.wind ?? null) as Schemas["Speed"] | null,
    temperature: (read?.temperature ?? null) as Schemas["Temperature"] | null,
  };
  return <SprayVerdict ask={ask} />;
}

/** What the table knows of the ingredient's staying in the soil. */
function PlantBack({ farm }: { farm: Farm }) {
  const materials = useMaterials(farm.id);
  const [active, cites] = useWatch({ name: ["active", "cited"] }) as [string, z.infer<typeof cited>];
  const actives = [active, ...(cites.with ?? [])].map((one) => one.trim().toLowerCase());
  const groups = (materials.data?.plant_back ?? []).filter((group) =>
    group.active.some(({ names }) => names.some((known) => actives.includes(known))),
  );
  return groups.map((group) => (
    <p key={group.key} className="border-l-3 border-stop pl-3 text-sm">
      {group.name}: {group.note} Follow the label.
    </p>
  ));
}
