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
  { value: "grid", text: "grid cells with a plant" },
  { value: "plants", text: "plants in frame" },
  { value: "row", text: "seedlings per length of row" },
  { value: "stems", text: "stems in frame" },
  { value: "alive", text: "live plants of those planted" },
  { value: "points", text: "points on the crop" },
];

const list = (question: string) =>
  z
    .string()
    .max(4000, "Too long; shorten it.")
    .refine((text) => text.trim() !== "", { message: question })
    .refine((text) => numbersOf(text).every(Number.isFinite), {
      message: "Enter numbers separated by spaces.",
    });

/** A count of a stand, place by place. */
export default recordForm({
  given,
  values: z.object({
    crop: z.string().refine((one) => one !== "", "Choose a crop."),
    by: z.string(),
    counts: list("Enter the counts."),
    of: z.string(),
    frame: amount(),
    length: amount(),
    spacing: amount(),
    full: amount(),
    thin: amount(),
    prices: z.object({ dry_matter: amount(), thicken: amount(), start_over: amount() }),
    note: words(),
  }),
  day: "Count date",
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
      <PickOf name="by" label="Count method" options={ways} />
      <TextField
        name="counts"
        label="Count at each point"
        at="/payload/counted"
        hint="One number per point, separated by spaces."
        lines={2}
      />
      {framed && <AmountField name="frame" label="Frame area" />}
      {by === "row" && (
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="length" label="Row length counted" hint="At each point." />
          <AmountField name="spacing" label="Row spacing" />
        </div>
      )}
      {!framed && by !== "row" && (
        <TextField
          name="of"
          label={
            by === "alive" ? "Plants set" : by === "points" ? "Readings per point" : "Cells per sample point"
          }
          hint={by === "alive" ? "One number, or one per point." : undefined}
        />
      )}
      {told && (
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="full" label="Full stand at" />
          <AmountField name="thin" label="Thin stand below" />
        </div>
      )}
      <Collapse title="costs and value" open={priced}>
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="prices.dry_matter" label="Value of dry matter" />
          <AmountField name="prices.thicken" label="Cost to thicken" />
          <AmountField name="prices.start_over" label="Cost to reseed" />
        </div>
      </Collapse>
      <TextField name="note" label="Other observations" lines={2} />
    </>
  );
}
