import { useWatch } from "react-hook-form";
import { z } from "zod";
import { useCrops } from "../../api/queries";
import { AmountField, PickOf, TextField } from "../../kit/form";
import { Collapse } from "../../kit/Collapse";
import { shelved } from "../../units/words";
import { amount, blank, present, words, written, type AmountWords } from "../amounts";
import { countedOf, numbersOf } from "../counted";
import { recordForm, type Payload } from "../form";

const given = z
  .object({
    crop: z.string().optional(),
    by: z.string().optional(),
    counts: z.array(z.number()).optional(),
    of: z.number().optional(),
    each: z.array(z.number()).optional(),
    frame: z.object({ value: z.number(), unit: z.string() }).optional(),
    length: z.object({ value: z.number(), unit: z.string() }).nullish(),
    spacing: z.object({ value: z.number(), unit: z.string() }).nullish(),
    stems: z.boolean().optional(),
    full: z.object({ value: z.number(), unit: z.string() }).optional(),
    thin: z.object({ value: z.number(), unit: z.string() }).optional(),
    prices: z.record(z.string(), z.object({ value: z.number(), unit: z.string() }).nullable()).optional(),
  })
  .optional();

const ways: { value: string; text: string }[] = [
  { value: "grid", text: "cells of a grid with a plant" },
  { value: "plants", text: "plants in a frame" },
  { value: "row", text: "seedlings along a row" },
  { value: "stems", text: "stems in a frame" },
  { value: "alive", text: "plants alive of those set" },
  { value: "points", text: "steps or points on it" },
];

const list = (question: string) =>
  z
    .string()
    .max(4000, "shorter, please")
    .refine((text) => text.trim() !== "", { message: question })
    .refine((text) => numbersOf(text).every(Number.isFinite), { message: "numbers, with spaces between" });

/** A count of a stand, place by place. */
export default recordForm({
  given,
  values: z.object({
    crop: z.string().refine((one) => one !== "", "which crop?"),
    by: z.string(),
    counts: list("what was counted in each place?"),
    of: z.string(),
    frame: amount(),
    length: amount(),
    spacing: amount(),
    full: amount(),
    thin: amount(),
    prices: z.object({ dry_matter: amount(), thicken: amount(), start_over: amount() }),
    note: words(),
  }),
  day: "Day it was counted",
  begin: ({ units, given }) => ({
    crop: given?.crop ?? "",
    by: given?.by === "frame" ? (given.stems ? "stems" : "plants") : (given?.by ?? "grid"),
    counts: (given?.counts ?? []).join(" "),
    of: given?.each ? given.each.join(" ") : String(given?.of ?? 100),
    frame: given?.frame ? { text: String(given.frame.value), bare: given.frame.unit } : blank(units.frame),
    length: given?.length
      ? { text: String(given.length.value), bare: given.length.unit }
      : blank(units.course),
    spacing: given?.spacing
      ? { text: String(given.spacing.value), bare: given.spacing.unit }
      : blank(units.spacing),
    full: written(given?.full, given?.full?.unit ?? "%"),
    thin: written(given?.thin, given?.thin?.unit ?? "%"),
    prices: {
      dry_matter: written(given?.prices?.["dry_matter"], units.tonPrice),
      thicken: written(given?.prices?.["thicken"], units.areaPrice),
      start_over: written(given?.prices?.["start_over"], units.areaPrice),
    },
    note: "",
  }),
  payload: ({ crop, by, counts, of, frame, length, spacing, full, thin, prices, note }) =>
    ({
      kind: "stand-count",
      crop,
      counted: countedOf(by, numbersOf(counts), numbersOf(of), frame, { length, spacing }),
      stems: by === "stems",
      prices: present(prices),
      ...present({ full, thin, note: note.trim() }),
    }) as Payload,
  Fields: () => <Counted />,
});

function Counted() {
  const crops = useCrops();
  const by = String(useWatch({ name: "by" }) ?? "grid");
  const prices = useWatch({ name: "prices" }) as Record<string, AmountWords>;
  const priced = Object.values(prices).some(({ text }) => text !== "");
  const told = (useWatch({ name: "full" }) as AmountWords).text !== "";
  const framed = by === "plants" || by === "stems";
  return (
    <>
      <PickOf name="crop" label="Crop" options={shelved(crops.data ?? [])} />
      <PickOf name="by" label="Counted" options={ways} />
      <TextField
        name="counts"
        label="In each place"
        at="/payload/counted"
        hint="one number a place, with spaces between"
        lines={2}
      />
      {framed && <AmountField name="frame" label="The frame" />}
      {by === "row" && (
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="length" label="Row looked at" hint="in each place" />
          <AmountField name="spacing" label="Between rows" />
        </div>
      )}
      {!framed && by !== "row" && (
        <TextField
          name="of"
          label={
            by === "alive" ? "Of how many set" : by === "points" ? "Points in a place" : "Cells in a place"
          }
          hint={by === "alive" ? "one number, or one a place" : undefined}
        />
      )}
      {told && (
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="full" label="Enough from" />
          <AmountField name="thin" label="Thin below" />
        </div>
      )}
      <Collapse title="in money" open={priced}>
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="prices.dry_matter" label="Dry matter is worth" />
          <AmountField name="prices.thicken" label="To thicken costs" />
          <AmountField name="prices.start_over" label="To start over costs" />
        </div>
      </Collapse>
      <TextField name="note" label="What else was seen" lines={2} />
    </>
  );
}
