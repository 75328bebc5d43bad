import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField, NumberField, PickOf, TextField, TickOf } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import type { Quantity } from "../../units/format";
import { drainages, residues, textures } from "../../units/words";
import { amount, figure, numberOf, words, written } from "../amounts";
import { recordForm } from "../form";

type Facts = Schemas["SiteFacts"];

const given = z
  .object({
    facts: z.record(z.string(), z.unknown()),
    history_known: z.boolean(),
    looked: z.string().nullish(),
  })
  .optional();

const picked = z.string();

/** What the site is like: filled in from what is known already. */
export default recordForm({
  given,
  values: z.object({
    drainage: picked,
    ponding_days: figure(),
    restrictive_depth: amount(),
    slope: amount(),
    texture: picked,
    residue: picked,
    rain: amount(),
    warmest_month: amount(),
    perennial_weeds: words(),
    irrigated: z.boolean(),
    neighbour: z.boolean(),
    history_known: z.boolean(),
  }),
  day: "Date",
  root: "/payload/facts",
  begin: ({ units, given }) => {
    const facts = (given?.facts ?? {}) as Facts;
    const known = (key: keyof Facts, bare: string) =>
      written(facts[key] as Quantity | null | undefined, bare);
    return {
      drainage: facts.drainage ?? "",
      ponding_days: facts.ponding_days == null ? "" : String(facts.ponding_days),
      restrictive_depth: known("restrictive_depth", units.layer),
      slope: known("slope", "%"),
      texture: facts.texture ?? "",
      residue: facts.residue ?? "",
      rain: known("rain", units.rain),
      warmest_month: known("warmest_month", units.temperature),
      perennial_weeds: facts.perennial_weeds ?? "",
      irrigated: facts.irrigated ?? false,
      neighbour: facts.neighbour ?? false,
      history_known: given?.history_known ?? false,
    };
  },
  after: (given) => given?.looked ?? undefined,
  payload: (read, { given }) => {
    const { history_known, ponding_days, drainage, texture, residue, perennial_weeds, ...rest } = read;
    return {
      kind: "site",
      // What this form does not ask for stays as it was known.
      facts: {
        ...given?.facts,
        ...rest,
        ponding_days: numberOf(ponding_days),
        drainage: drainage || null,
        texture: texture || null,
        residue: residue || null,
        perennial_weeds: perennial_weeds.trim() || null,
      } as Facts,
      history_known,
    };
  },
  Fields: () => (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <PickOf name="drainage" label="Drainage" options={optionsOf(drainages)} empty="not checked" clears />
        <NumberField name="ponding_days" label="Ponding, days" />
        <AmountField name="restrictive_depth" label="Depth to restrictive layer" />
        <AmountField name="slope" label="Slope" />
        <PickOf name="texture" label="Texture" options={optionsOf(textures)} empty="not tested" clears />
        <PickOf name="residue" label="Residue" options={optionsOf(residues)} empty="not checked" clears />
        <AmountField name="rain" label="Annual rainfall" />
        <AmountField name="warmest_month" label="Warmest month, mean temperature" />
      </div>
      <TextField name="perennial_weeds" label="Perennial weeds" hint="Enter “none” if none were seen." />
      <TickOf name="irrigated">Irrigation available</TickOf>
      <TickOf name="neighbour">Borders land someone else manages</TickOf>
      <TickOf name="history_known" at="/payload/history_known">
        All sprays and crops of the last three years are recorded
      </TickOf>
    </>
  ),
});
