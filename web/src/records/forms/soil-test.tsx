import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField, NumberField, PickOf, TextField } from "../../kit/form";
import { optionsOf } from "../../kit/Pick";
import { buffers, pMethods } from "../../units/words";
import { amount, blank, figure, numberOf, present, words } from "../amounts";
import { recordForm } from "../form";

const layer = "/payload/test/layers/0";

const given = z.object({ on: z.string().optional(), sample: z.string().optional() }).optional();

/** A laboratory's report. */
export default recordForm({
  given,
  values: z.object({
    laboratory: words(),
    ph: figure("Enter the water pH."),
    buffer: figure(),
    buffer_of: z.enum(["smp", "sikora", "adams-evans"]),
    acidity: amount(),
    p: amount(),
    method: z.enum(["bray-p1", "mehlich3", "olsen"]),
    k: amount(),
    mg: amount(),
    cec: amount(),
    base_saturation: amount(),
    organic_matter: amount(),
    salts: amount(),
    subsoil: figure(),
    edge: z.string(),
  }),
  day: "Sampling date",
  root: layer,
  begin: ({ units }) => ({
    laboratory: "",
    ph: "",
    buffer: "",
    buffer_of: "smp" as const,
    acidity: blank("meq/100cm3"),
    p: blank("ppm"),
    method: "bray-p1" as const,
    k: blank("ppm"),
    mg: blank("ppm"),
    cec: blank("meq/100g"),
    base_saturation: blank("%"),
    organic_matter: blank("%"),
    salts: blank("dS/m"),
    subsoil: "",
    // The sampled layer is the one usual where these units are.
    edge: units.layer,
  }),
  beginOn: (given) => given?.on,
  payload: (read, { on, given }) => {
    const { laboratory, ph, buffer, buffer_of, acidity, p, method, subsoil, edge, ...contents } = read;
    const at = (inches: number) =>
      ({ value: edge === "in" ? inches : inches * 2.5, unit: edge }) as Schemas["Length"];
    const buffer_ph = numberOf(buffer);
    const below = numberOf(subsoil);
    const top = {
      from: at(0),
      to: at(6),
      ph: numberOf(ph),
      ...(buffer_ph !== null
        ? { acidity: { by: buffer_of, buffer_ph } }
        : acidity
          ? { acidity: { by: "mehlich", acidity } }
          : {}),
      ...(p ? { p: { value: p, method } } : {}),
      ...present(contents),
    } as Schemas["Layer"];
    const layers = below === null ? [top] : [top, { from: at(6), to: at(12), ph: below } as Schemas["Layer"]];
    return {
      kind: "soil-test",
      test: { laboratory, sample: given?.sample ?? "", sampled_on: on, layers },
    };
  },
  Fields: () => (
    <div className="grid grid-cols-2 gap-x-5">
      <TextField name="laboratory" label="Laboratory" at="/payload/test/laboratory" />
      <NumberField name="ph" label="pH in water" />
      <NumberField name="buffer" label="Buffer pH" at={`${layer}/acidity/buffer_ph`} />
      <PickOf name="buffer_of" label="Buffer method" options={optionsOf(buffers)} />
      <AmountField
        name="acidity"
        label="Mehlich acidity"
        at={`${layer}/acidity/acidity`}
        hint="If the lab reports it instead of buffer pH."
      />
      <AmountField name="cec" label="CEC" />
      <AmountField name="p" label="Phosphorus" />
      <PickOf name="method" label="P test method" options={optionsOf(pMethods)} />
      <AmountField name="k" label="Potassium" />
      <AmountField name="mg" label="Magnesium" />
      <AmountField name="base_saturation" label="Base saturation" />
      <AmountField name="organic_matter" label="Organic matter" />
      <AmountField
        name="salts"
        label="Soluble salts (ECe)"
        hint="From a saturated paste. Ask for it on irrigated, dry or coastal land."
      />
      <NumberField name="subsoil" label="Subsoil pH" at="/payload/test/layers/1/ph" />
    </div>
  ),
});
