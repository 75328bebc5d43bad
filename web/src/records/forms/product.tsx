import { useWatch } from "react-hook-form";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField, NumberField, PickOf, TextField, TickOf } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { limeKinds, natures, nutrients } from "../../units/words";
import { amount, figure, numberOf, present, words, written } from "../amounts";
import { recordForm } from "../form";

const given = z.object({ id: z.string(), told: z.custom<Schemas["ProductView"]>().optional() });

const held = ["n", "p2o5", "k2o", "s", "mg", "ca", "b", "zn"] as const;
type Nature = Schemas["Nature"]["is"];

/** "alfalfa 90, wheat 0": a crop and its days, parted by commas or lines. */
function waits(text: string): Schemas["Wait"][] {
  const parts = text.split(/[,;\n]/).map((part) => part.trim());
  return parts.filter(Boolean).map((part) => {
    const found = /^(.*?)\s*(\d+)(?:\s*d(?:ays)?)?$/.exec(part);
    return { crop: found?.[1] ?? part, days: Number(found?.[2] ?? Number.NaN) };
  });
}

/** "tall fescue, grasses": what stands there, one by one; left out where nothing does. */
function listed<K extends string>(key: K, text: string): Partial<Record<K, string[]>> {
  const all = text
    .split(/[,;\n]/)
    .map((one) => one.trim())
    .filter(Boolean);
  return all.length > 0 ? ({ [key]: all } as Record<K, string[]>) : {};
}

/** What is bought for the fields, as it is analysed or labelled. */
export default recordForm({
  given,
  values: z.object({
    name: words("Enter a name."),
    is: z.custom<Nature>(),
    package: amount(),
    gone: z.boolean(),
    analysis: z.object(
      Object.fromEntries(held.map((key) => [key, amount()])) as Record<
        (typeof held)[number],
        ReturnType<typeof amount>
      >,
    ),
    dry_matter: amount(),
    serves: words(),
    made_of: z.custom<Schemas["LimeKind"]>(),
    cce: amount(),
    coarse: amount(),
    fine: amount(),
    moisture: amount(),
    magnesium: amount(),
    ingredients: words(),
    lowest: amount(),
    highest: amount(),
    stages: words(),
    over: words(),
    most_wind: amount(),
    coolest: amount(),
    hottest: amount(),
    re_entry_hours: figure(),
    harvest_days: figure(),
    grazing_days: figure(),
    plant_back: words().refine(
      (text) => waits(text).every((one) => Number.isInteger(one.days) && one.crop !== ""),
      "Enter each crop and its days, e.g. alfalfa 90, wheat 0.",
    ),
    buffer: amount(),
  }),
  day: "Effective from",
  submit: "Save product",
  root: "/payload/nature",
  begin: ({ units, given: { told } }) => {
    const facts = told?.facts;
    const of = facts?.nature;
    const analysis = of && (of.is === "fertiliser" || of.is === "manure") ? of.analysis : {};
    const lime = of?.is === "lime" ? of : undefined;
    const label = of?.is === "spray" ? of : undefined;
    const passing = (mesh: number) => lime?.sieves.find((sieve) => sieve.mesh === mesh)?.passing;
    const count = (value: number | null | undefined) => (value == null ? "" : String(value));
    return {
      name: facts?.name ?? "",
      is: of?.is ?? "fertiliser",
      package: written(facts?.package, units.mass),
      gone: facts?.gone ?? false,
      analysis: Object.fromEntries(held.map((key) => [key, written(analysis[key], "%")])) as Record<
        (typeof held)[number],
        { text: string; bare: string }
      >,
      dry_matter: written(of?.is === "manure" ? of.dry_matter : undefined, "%"),
      serves: of?.is === "inoculant" ? of.serves : "",
      made_of: lime?.made_of ?? "calcitic",
      cce: written(lime?.cce, "%"),
      coarse: written(passing(8), "%"),
      fine: written(passing(60), "%"),
      moisture: written(lime?.moisture, "%"),
      magnesium: written(lime?.magnesium, "%"),
      ingredients: (label?.ingredients ?? [])
        .map(({ name, content }) => (content ? `${name} (${content})` : name))
        .join("; "),
      lowest: written(label?.lowest, units.poured),
      highest: written(label?.highest, units.poured),
      stages: label?.stages ?? "",
      over: (label?.over ?? []).join(", "),
      most_wind: written(label?.most_wind, units.speed),
      coolest: written(label?.coolest, units.temperature),
      hottest: written(label?.hottest, units.temperature),
      re_entry_hours: count(label?.re_entry_hours),
      harvest_days: count(label?.harvest_days),
      grazing_days: count(label?.grazing_days),
      plant_back: (label?.plant_back ?? []).map(({ crop, days }) => `${crop} ${days}`).join(", "),
      buffer: written(label?.buffer, units.setback),
    };
  },
  about: (_, { with: given }) => [{ kind: "product", id: given?.["id"] as string }],
  after: ({ told }) => told?.entry,
  payload: (read, { given: { told } }) => {
    const { name, gone } = read;
    // What the form does not ask for, and another way of writing it has told, stays.
    const before = told?.facts.nature;
    const others = before && "analysis" in before ? before.analysis : {};
    const analysis = {
      ...Object.fromEntries(Object.entries(others).filter(([key]) => !held.some((asked) => asked === key))),
      ...present(read.analysis),
    };
    const lime = before?.is === "lime" ? before : undefined;
    const natureOf: Record<Nature, () => object> = {
      fertiliser: () => ({ analysis }),
      manure: () => ({ analysis, dry_matter: read.dry_matter }),
      inoculant: () => ({ serves: read.serves }),
      binding: () => ({}),
      lime: () => ({
        made_of: read.made_of,
        cce: read.cce,
        sieves: [
          { mesh: 8, passing: read.coarse },
          { mesh: 60, passing: read.fine },
          ...(lime?.sieves ?? []).filter(({ mesh }) => mesh !== 8 && mesh !== 60),
        ],
        ...(lime?.reacts ? { reacts: lime.reacts } : {}),
        ...present({ moisture: read.moisture, magnesium: read.magnesium }),
      }),
      spray: () => ({
        ingredients: read.ingredients
          .split(/[;\n]/)
          .map((part) => /^(.*?)(?:\s*\((.*)\))?$/.exec(part.trim()))
          .filter((found) => found?.[1])
          .map((found) => ({ name: found?.[1] ?? "", content: found?.[2] ?? "" })),
        stages: read.stages,
        plant_back: waits(read.plant_back),
        ...listed("over", read.over),
        ...present({
          lowest: read.lowest,
          highest: read.highest,
          buffer: read.buffer,
          most_wind: read.most_wind,
          coolest: read.coolest,
          hottest: read.hottest,
        }),
        ...Object.fromEntries(
          (["re_entry_hours", "harvest_days", "grazing_days"] as const)
            .map((key) => [key, numberOf(read[key])] as const)
            .filter(([, value]) => value !== null),
        ),
      }),
    };
    return {
      kind: "product",
      name,
      gone,
      nature: { is: read.is, ...natureOf[read.is]() } as Schemas["Nature"],
      ...present({ package: read.package as Schemas["Mass"] | undefined }),
    };
  },
  Fields,
});

function Fields({ given: { told } }: { given: z.infer<typeof given> }) {
  const is = useWatch({ name: "is" }) as Nature;
  return (
    <>
      <div className="grid grid-cols-3 gap-x-5">
        <TextField name="name" label="Name" at="/payload/name" />
        <PickOf name="is" label="Type" options={optionsOf(natures)} disabled={told !== undefined} />
        <AmountField name="package" label="Bag weight" at="/payload/package" hint="Leave blank for bulk." />
      </div>
      {(is === "fertiliser" || is === "manure") && (
        <div className="grid grid-cols-4 gap-x-5">
          {held.map((key) => (
            <AmountField key={key} name={`analysis.${key}`} label={nutrients[key] ?? key} />
          ))}
          {is === "manure" && <AmountField name="dry_matter" label="Dry matter" />}
        </div>
      )}
      {is === "inoculant" && <TextField name="serves" label="Legumes" />}
      {is === "lime" && (
        <div className="grid grid-cols-3 gap-x-5">
          <PickOf name="made_of" label="Material" options={optionsOf(limeKinds)} />
          <AmountField name="cce" label="CCE" hint="calcium carbonate equivalent" />
          <AmountField name="magnesium" label="Magnesium" />
          <AmountField name="coarse" label="Passes 8 mesh" at="/payload/nature/sieves/0/passing" />
          <AmountField name="fine" label="Passes 60 mesh" at="/payload/nature/sieves/1/passing" />
          <AmountField name="moisture" label="Moisture" />
        </div>
      )}
      {is === "spray" && <LabelFields />}
      {told && <TickOf name="gone">No longer bought</TickOf>}
    </>
  );
}

function LabelFields() {
  return (
    <>
      <p className="pt-2 text-sm text-pencil">
        Enter it as printed on the label. The label is the law and overrides anything here. Recorded under
        your name and date.
      </p>
      <TextField
        name="ingredients"
        label="Active ingredients"
        hint="e.g. glyphosate (4 lb a gallon); 2,4-D"
      />
      <div className="grid grid-cols-3 gap-x-5">
        <AmountField name="lowest" label="Minimum rate" />
        <AmountField name="highest" label="Maximum rate" />
        <AmountField name="buffer" label="Buffer to water" />
        <AmountField name="most_wind" label="Maximum wind" />
        <AmountField name="coolest" label="Minimum temperature" />
        <AmountField name="hottest" label="Maximum temperature" />
        <NumberField name="re_entry_hours" label="Re-entry interval, hours" />
        <NumberField name="harvest_days" label="Pre-harvest interval, days" />
        <NumberField name="grazing_days" label="Grazing interval, days" />
      </div>
      <TextField name="stages" label="Growth stages" />
      <TextField name="over" label="Labeled crops" hint="Crops the label names, e.g. tall fescue, grasses" />
      <TextField name="plant_back" label="Plant-back interval, days" hint="alfalfa 90, wheat 0" />
    </>
  );
}
