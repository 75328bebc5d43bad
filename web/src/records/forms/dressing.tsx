import { useFormContext, useWatch } from "react-hook-form";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { useMaterials, useProducts } from "../../api/queries";
import { Collapse } from "../../kit/Collapse";
import { AmountField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import type { Farm } from "../../shell/farm";
import { amount, blank, present, words, written, type AmountWords } from "../amounts";
import { placements } from "../../units/words";
import { aboutTask, recordForm } from "../form";
import { useUnits } from "../../units/useUnits";

type Dressing = Schemas["Dressing"];

/** What comes out of the barn, and what no list holds. */
const MANURE = "manure";
const OTHER = "Choose or name a product.";

const given = z.object({ planned: z.record(z.string(), z.unknown()) }).optional();

function plannedOf(given: unknown): Dressing | undefined {
  return (given as { planned?: Dressing } | undefined)?.planned;
}

/** Lime, fertiliser or manure that was spread. */
export default recordForm({
  given,
  values: z.object({
    product: words("Choose what was spread."),
    words: words(),
    product_id: z.string(),
    rate: amount("Enter the rate."),
    area: amount(),
    placement: z.string(),
    note: words(),
    n: amount(),
    p2o5: amount(),
    k2o: amount(),
    // What the list says of the product, taken down with it: the list may not be at hand when it is sent.
    listed: z.record(z.string(), z.unknown()).nullable(),
  }),
  day: "Spreading date",
  root: "/payload/dressing",
  begin: ({ given, units }) => {
    const planned = plannedOf(given);
    return {
      product: planned?.product ?? "",
      words: "",
      product_id: "",
      area: blank(units.area),
      placement: "",
      note: "",
      rate: written(planned?.rate, planned?.what === "fertiliser" ? units.rate : units.yield),
      n: blank("%"),
      p2o5: blank("%"),
      k2o: blank("%"),
      listed: (planned as Record<string, unknown> | undefined) ?? null,
    };
  },
  about: ({ product_id }, task) => [
    ...aboutTask(task),
    ...(product_id ? [{ kind: "product" as const, id: product_id }] : []),
  ],
  payload: ({ product, words, rate, n, p2o5, k2o, listed, area, placement, note }) => {
    const spread = rate as Schemas["MassPerArea"];
    const also = present({ area, placement, note: note.trim() }) as Pick<
      Schemas["DressingSpread"],
      "area" | "placement" | "note"
    >;
    if (product !== MANURE && product !== OTHER && listed)
      return {
        kind: "dressing",
        dressing: { ...(listed as unknown as Dressing), product, rate: spread },
        ...also,
      };
    return {
      kind: "dressing",
      dressing: {
        what: product === MANURE ? "manure" : "fertiliser",
        product: words.trim() || product,
        rate: spread,
        analysis: present({ n, p2o5, k2o }) as Dressing["analysis"],
      },
      ...also,
    };
  },
  Fields: ({ farm, given }) => <Fields farm={farm} planned={plannedOf(given)} />,
});

interface Written {
  product: string;
  product_id: string;
  rate: AmountWords;
  listed: Record<string, unknown> | null;
}

function Fields({ farm, planned }: { farm: Farm; planned: Dressing | undefined }) {
  const units = useUnits();
  const materials = useMaterials(farm.id);
  const form = useFormContext<Written>();
  const product = useWatch({ control: form.control, name: "product" });
  const lime = materials.data?.lime ?? [];
  const products = materials.data?.products ?? [];
  const shed = useProducts(farm.id).data?.products ?? [];
  const pick = (name: string) => {
    const limed = lime.find((one) => one.material.name === name);
    const bagged = products.find((one) => one.name === name);
    const listed =
      planned?.product === name
        ? planned
        : limed
          ? { what: "lime", effective: limed.effective }
          : bagged
            ? { what: "fertiliser", analysis: bagged.analysis }
            : null;
    form.setValue("listed", listed as Record<string, unknown> | null);
    // What lies in the shed under this name is less by what was spread.
    form.setValue("product_id", shed.find(({ facts }) => facts.name === name && !facts.gone)?.id ?? "");
    // A bare number is tons of lime and manure, pounds of what comes in bags.
    const bare = listed?.what === "fertiliser" || name === OTHER ? units.rate : units.yield;
    form.setValue("rate", { ...form.getValues("rate"), bare });
  };
  const named = (name: string) => ({ value: name, text: name });
  return (
    <>
      <PickOf
        name="product"
        label="Product"
        empty="choose a product"
        onPicked={pick}
        options={[
          ...(planned ? [{ value: planned.product, text: `${planned.product}, as planned` }] : []),
          {
            heading: "Lime",
            options: lime
              .map((one) => named(one.material.name))
              .filter((one) => one.value !== planned?.product),
          },
          { heading: "Fertilizer", options: products.map((one) => named(one.name)) },
          {
            heading: "Other",
            options: [{ value: MANURE, text: "manure or compost" }, named(OTHER)],
          },
        ]}
      />
      {(product === MANURE || product === OTHER) && (
        <>
          <TextField
            name="words"
            label={product === MANURE ? "Manure" : "Product name"}
            at="/payload/dressing/product"
            {...(product === MANURE ? { hint: "e.g. cattle slurry" } : {})}
          />
          <div className="grid grid-cols-3 gap-x-5">
            <AmountField name="n" label="N available this year" at="/payload/dressing/analysis/n" />
            <AmountField name="p2o5" label="P₂O₅" at="/payload/dressing/analysis/p2o5" />
            <AmountField name="k2o" label="K₂O" at="/payload/dressing/analysis/k2o" />
          </div>
        </>
      )}
      <AmountField name="rate" label="Rate" />
      <Collapse title="Area, placement, note">
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField
            name="area"
            label="Area covered"
            at="/payload/area"
            hint="Leave blank for the whole field."
          />
          <PickOf
            name="placement"
            clears
            label="Placement"
            at="/payload/placement"
            options={optionsOf(placements)}
          />
        </div>
        <TextField name="note" label="Note" at="/payload/note" lines={2} />
      </Collapse>
    </>
  );
}
