import { z } from "zod";
import type { Schemas } from "../../api/client";
import { Collapse } from "../../kit/Collapse";
import { AmountField, NumberField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { nitrateForms } from "../../units/words";
import { amount, blank, figure, numberOf, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

const bases: Record<Schemas["ReportBasis"], string> = {
  "dry-matter": "dry matter basis",
  "as-fed": "as fed",
};

const main = {
  dry_matter: "Dry matter",
  crude_protein: "Crude protein",
  adf: "ADF",
  ndf: "NDF",
} as const;

const more = {
  ndf_digestibility: "NDF digestibility, 48 h",
  tdn: "TDN",
  sugar: "Sugar (WSC)",
  starch: "Starch",
  fat: "Fat",
  ash: "Ash",
} as const;

const minerals = {
  phosphorus: "Phosphorus (P)",
  potassium: "Potassium (K)",
  calcium: "Calcium (Ca)",
  magnesium: "Magnesium (Mg)",
  sulfur: "Sulfur (S)",
} as const;

const figures = { ...main, ...more, ...minerals };
type Figure = keyof typeof figures;

function each<T>(value: () => T): Record<Figure, T> {
  return Object.fromEntries(Object.keys(figures).map((key) => [key, value()])) as Record<Figure, T>;
}

/** A laboratory's report on a lot of forage, copied off it as it stands. */
export default recordForm({
  given: z.object({ lot: z.string() }),
  values: z.object({
    basis: z.enum(["dry-matter", "as-fed"]),
    ...each(() => amount()),
    nitrate: amount(),
    nitrate_as: z.string(),
    ph: figure(),
    laboratory: words(),
    note: words(),
  }),
  day: "Date of the report",
  begin: () => ({
    basis: "dry-matter" as const,
    ...each(() => blank("%")),
    nitrate: blank("%"),
    nitrate_as: "",
    ph: "",
    laboratory: "",
    note: "",
  }),
  about: (_, { with: given }) => [{ kind: "forage-lot", id: given?.["lot"] as string }],
  payload: ({ basis, nitrate, nitrate_as, ph, laboratory, note, ...shares }) =>
    ({
      kind: "forage-analysis",
      basis,
      ...present({
        ...shares,
        nitrate: nitrate ? { share: nitrate, as: nitrate_as || null } : undefined,
        ph: numberOf(ph),
        laboratory: laboratory.trim(),
        note: note.trim(),
      }),
    }) as Payload,
  Fields: () => (
    <>
      <PickOf name="basis" label="Basis of the figures" options={optionsOf(bases)} />
      <Shares of={main} />
      <Collapse title="Energy, fiber digestibility, ash">
        <Shares of={more} />
      </Collapse>
      <Collapse title="Minerals">
        <Shares of={minerals} />
      </Collapse>
      <Collapse title="Nitrate, pH, laboratory">
        <div className="grid grid-cols-2 gap-x-5">
          <AmountField name="nitrate" label="Nitrate" at="/payload/nitrate/share" />
          <PickOf
            name="nitrate_as"
            label="Reported as"
            at="/payload/nitrate/as"
            empty="Choose"
            options={optionsOf(nitrateForms)}
          />
          <NumberField name="ph" label="pH" />
          <TextField name="laboratory" label="Laboratory" />
        </div>
        <TextField name="note" label="Sample number, note" lines={2} />
      </Collapse>
    </>
  ),
});

function Shares({ of }: { of: Partial<Record<Figure, string>> }) {
  return (
    <div className="grid grid-cols-2 gap-x-5">
      {Object.entries(of).map(([name, label]) => (
        <AmountField key={name} name={name} label={label} />
      ))}
    </div>
  );
}
