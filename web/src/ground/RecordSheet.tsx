import { useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useCrops, useMaterials } from "../api/queries";
import type { Farm } from "../shell/farm";
import { DayField } from "../ui/DayField";
import { Labelled } from "../ui/Labelled";
import { QuantityField } from "../ui/QuantityField";
import { TaskSheet } from "../ui/Sheet";
import { Trouble } from "../ui/states";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { drainages, pMethods, residues, textures } from "../units/words";
import { ThermometerForm, WaterForm } from "./Instruments";
import { useInk, type GroundPayload } from "./record";

export type Recorded = GroundPayload["kind"];

export const recordedWords: Record<Recorded, string> = {
  "soil-test": "Soil test",
  site: "What the site is like",
  spray: "Herbicide sprayed",
  "past-crop": "Crop ended",
  bioassay: "Bioassay",
  dressing: "Lime, fertiliser or manure spread",
  cut: "Harvest carried off",
  "soil-temperature": "Soil thermometer",
  "rain-gauge": "Rain gauge",
  irrigation: "Water brought",
  "stand-look": "Look at the stand",
};

/** Whether a kind of record has a form here. */
export function isRecorded(kind: string): kind is Recorded {
  return kind in recordedWords;
}

export interface RecordProps {
  farm: Farm;
  field: string;
  /** The stand, for work that is its own and not its ground's. */
  stand?: string | undefined;
  what: Recorded;
  /** Filled in for a dressing that was planned. */
  planned?: Schemas["Dressing"] | undefined;
  /** What is known of the site already. */
  site?:
    { facts: Schemas["SiteFacts"]; history_known: boolean; looked: string | null | undefined } | undefined;
  onDone: () => void;
}

/** Record something about the ground of a field. */
export function RecordSheet(props: RecordProps) {
  const { what, onDone } = props;
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title={recordedWords[what]}
      about="Ink is permanent. A mistake is struck and recorded anew."
    >
      {what === "soil-test" && <SoilTestForm {...props} />}
      {what === "site" && <SiteForm {...props} />}
      {what === "spray" && <SprayForm {...props} />}
      {what === "past-crop" && <PastCropForm {...props} />}
      {what === "bioassay" && <BioassayForm {...props} />}
      {what === "dressing" && <DressingForm {...props} />}
      {what === "cut" && <CutForm {...props} />}
      {what === "soil-temperature" && <ThermometerForm {...props} />}
      {what === "rain-gauge" && <WaterForm {...props} />}
      {what === "irrigation" && <WaterForm {...props} />}
      {what === "stand-look" && <StandLookForm {...props} />}
    </TaskSheet>
  );
}

type Ink = ReturnType<typeof useInk>;

export function Form({
  ink,
  today,
  payload,
  dayLabel,
  children,
}: {
  ink: Ink;
  today: string;
  payload: (on: string) => GroundPayload | null;
  dayLabel: string;
  children: ReactNode;
}) {
  const [on, setOn] = useState(today);
  const [lacking, setLacking] = useState(false);
  return (
    <form
      className="mt-3 space-y-1"
      onSubmit={(event) => {
        event.preventDefault();
        const given = payload(on);
        setLacking(given === null);
        if (given) ink.ink(on, given);
      }}
    >
      <DayField label={dayLabel} required value={on} onChange={setOn} error={ink.at("/occurred_on")} />
      {children}
      {lacking && <Trouble error={new Error("fill in what is asked for above")} />}
      {ink.refused && !ink.refused.problem.errors?.length && <Trouble error={ink.refused} />}
      <button type="submit" className="ink-button mt-2" disabled={ink.busy}>
        {ink.busy ? "Inking…" : "Ink it"}
      </button>
    </form>
  );
}

function Text(props: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  error?: string | undefined;
  hint?: string;
}) {
  return (
    <Labelled label={props.label} error={props.error} hint={props.hint}>
      {(ids) => (
        <input
          {...ids}
          className="entry"
          value={props.value}
          onChange={(event) => props.onChange(event.target.value)}
        />
      )}
    </Labelled>
  );
}

function Pick<T extends string>(props: {
  label: string;
  value: T | "";
  options: Record<T, string>;
  onChange: (value: T | "") => void;
  empty?: string;
}) {
  return (
    <Labelled label={props.label}>
      {(ids) => (
        <select
          {...ids}
          className="entry"
          value={props.value}
          onChange={(e) => props.onChange(e.target.value as T | "")}
        >
          {props.empty !== undefined && <option value="">{props.empty}</option>}
          {Object.entries<string>(props.options).map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
}

/** A number as people write it; NaN goes to the server, which says what was expected. */
function number(text: string): number | null {
  const trimmed = text.trim().replace(",", ".");
  return trimmed === "" ? null : Number(trimmed);
}

function SoilTestForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const units = useUnits();
  const [text, setText] = useState({ laboratory: "", ph: "", buffer: "", subsoil: "" });
  const [acidity, setAcidity] = useState<Quantity | null>(null);
  const [method, setMethod] = useState<Schemas["PMethod"]>("bray-p1");
  const [given, setGiven] = useState<Record<string, Quantity | null>>({});
  const set = (key: keyof typeof text) => (value: string) => setText({ ...text, [key]: value });
  const amount = (key: string, label: string, bare: string) => (
    <QuantityField
      label={label}
      bare={bare}
      value={given[key] ?? null}
      onChange={(value) => setGiven((old) => ({ ...old, [key]: value }))}
      error={ink.at(`/payload/test/layers/0/${key}`)}
    />
  );
  const edge = (value: number) =>
    ({ value: units.system === "us" ? value : value * 2.5, unit: units.layer }) as Schemas["Length"];
  const payload = (on: string): GroundPayload | null => {
    const ph = number(text.ph);
    if (ph === null) return null;
    const { p, ...rest } = given;
    const buffer = number(text.buffer);
    const present = Object.fromEntries(Object.entries(rest).filter(([, value]) => value));
    const top = {
      from: edge(0),
      to: edge(6),
      ph,
      ...(buffer !== null
        ? { acidity: { by: "smp" as const, buffer_ph: buffer } }
        : acidity
          ? { acidity: { by: "mehlich" as const, acidity: acidity as Schemas["ChargePerVolume"] } }
          : {}),
      ...(p ? { p: { value: p as Schemas["SoilContent"], method } } : {}),
      ...present,
    } as Schemas["Layer"];
    const below = number(text.subsoil);
    const layers =
      below === null ? [top] : [top, { from: edge(6), to: edge(12), ph: below } as Schemas["Layer"]];
    return { kind: "soil-test", test: { laboratory: text.laboratory, sample: "", sampled_on: on, layers } };
  };
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day of sampling">
      <Text label="Laboratory" value={text.laboratory} onChange={set("laboratory")} />
      <div className="grid grid-cols-2 gap-x-5">
        <Text
          label="pH in water"
          value={text.ph}
          onChange={set("ph")}
          error={ink.at("/payload/test/layers/0/ph")}
        />
        <Text
          label="SMP buffer pH"
          value={text.buffer}
          onChange={set("buffer")}
          error={ink.at("/payload/test/layers/0/acidity")}
        />
        <QuantityField
          label="Mehlich acidity"
          bare="meq/100cm3"
          value={acidity}
          onChange={setAcidity}
          error={ink.at("/payload/test/layers/0/acidity/acidity")}
          hint="where the laboratory gives it instead of a buffer pH"
        />
        {amount("p", "Phosphorus", "ppm")}
        <Pick
          label="Extracted by"
          value={method}
          options={pMethods}
          onChange={(value) => value && setMethod(value)}
        />
        {amount("k", "Potassium", "ppm")}
        {amount("mg", "Magnesium", "ppm")}
        {amount("cec", "CEC", "meq/100g")}
        {amount("base_saturation", "Base saturation", "%")}
        {amount("organic_matter", "Organic matter", "%")}
        <Text
          label="pH of the layer below"
          value={text.subsoil}
          onChange={set("subsoil")}
          error={ink.at("/payload/test/layers/1/ph")}
        />
      </div>
    </Form>
  );
}

function SiteForm({ farm, field, stand, site, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand, after: site?.looked ?? undefined }, onDone);
  const units = useUnits();
  const [facts, setFacts] = useState((site?.facts ?? {}) as Schemas["SiteFacts"]);
  const [known, setKnown] = useState(site?.history_known ?? false);
  const [ponding, setPonding] = useState(facts.ponding_days == null ? "" : String(facts.ponding_days));
  const set = (part: Partial<Schemas["SiteFacts"]>) => setFacts((old) => ({ ...old, ...part }));
  const amount = (key: keyof Schemas["SiteFacts"], label: string, bare: string) => (
    <QuantityField
      label={label}
      bare={bare}
      value={(facts[key] as Quantity | null | undefined) ?? null}
      onChange={(value) => set({ [key]: value })}
      error={ink.at(`/payload/facts/${key}`)}
    />
  );
  const payload = (): GroundPayload => ({
    kind: "site",
    facts: { ...facts, ponding_days: number(ponding) },
    history_known: known,
  });
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was looked at">
      <div className="grid grid-cols-2 gap-x-5">
        <Pick
          label="Drainage"
          value={facts.drainage ?? ""}
          options={drainages}
          empty="not looked at"
          onChange={(drainage) => set({ drainage: drainage || null })}
        />
        <Text
          label="Days water stands"
          value={ponding}
          onChange={setPonding}
          error={ink.at("/payload/facts/ponding_days")}
        />
        {amount("restrictive_depth", "Depth to what stops roots", units.layer)}
        {amount("slope", "Slope", "%")}
        <Pick
          label="Texture"
          value={facts.texture ?? ""}
          options={textures}
          empty="not felt"
          onChange={(texture) => set({ texture: texture || null })}
        />
        <Pick
          label="Residue"
          value={facts.residue ?? ""}
          options={residues}
          empty="not looked at"
          onChange={(residue) => set({ residue: residue || null })}
        />
        {amount("rain", "Rain in a year", units.rain)}
        {amount("warmest_month", "Warmest month", units.temperature)}
      </div>
      <Text
        label="Perennial weeds"
        value={facts.perennial_weeds ?? ""}
        onChange={(perennial_weeds) => set({ perennial_weeds })}
        hint="write none and leave empty if none were seen"
      />
      <Tick
        label="Water can be brought"
        checked={facts.irrigated ?? false}
        onChange={(irrigated) => set({ irrigated })}
      />
      <Tick
        label="Land that someone else manages borders on it"
        checked={facts.neighbour ?? false}
        onChange={(neighbour) => set({ neighbour })}
      />
      <Tick label="All sprays and crops of three years have been told" checked={known} onChange={setKnown} />
    </Form>
  );
}

function Tick({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <label className="flex min-h-9 items-center gap-3 text-sm">
      <input
        type="checkbox"
        className="size-4 accent-(--ink)"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
      />
      {label}
    </label>
  );
}

function SprayForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const materials = useMaterials(farm.id);
  const [text, setText] = useState({ active: "", rate: "", months: "" });
  const group = materials.data?.plant_back.find((one) =>
    one.actives.includes(text.active.trim().toLowerCase()),
  );
  const payload = (): GroundPayload | null => {
    if (!text.active.trim()) return null;
    const months = number(text.months);
    return {
      kind: "spray",
      active: text.active.trim(),
      ...(text.rate.trim() ? { rate: text.rate.trim() } : {}),
      ...(months === null ? {} : { label_months: months }),
    };
  };
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was sprayed">
      <Text
        label="Active ingredient"
        value={text.active}
        onChange={(active) => setText({ ...text, active })}
        error={ink.at("/payload/active")}
        hint="as the label names it"
      />
      {group && (
        <p className="border-l-3 border-stop pl-3 text-sm">
          {group.name}: {group.note} The label rules.
        </p>
      )}
      <Text label="How much of what" value={text.rate} onChange={(rate) => setText({ ...text, rate })} />
      <Text
        label="Months to the next crop, off the label"
        value={text.months}
        onChange={(months) => setText({ ...text, months })}
        error={ink.at("/payload/label_months")}
        hint="leave empty and the table warns instead"
      />
    </Form>
  );
}

function PastCropForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const crops = useCrops();
  const [text, setText] = useState({ crop: "", years: "" });
  const payload = (): GroundPayload | null => {
    if (!text.crop.trim()) return null;
    const known = crops.data?.find((crop) => crop.name === text.crop.trim().toLowerCase());
    const years = number(text.years);
    return { kind: "past-crop", crop: known?.id ?? text.crop.trim(), ...(years === null ? {} : { years }) };
  };
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was ended">
      <Text
        label="Crop"
        value={text.crop}
        onChange={(crop) => setText({ ...text, crop })}
        error={ink.at("/payload/crop")}
      />
      <Text
        label="Years it stood"
        value={text.years}
        onChange={(years) => setText({ ...text, years })}
        error={ink.at("/payload/years")}
      />
    </Form>
  );
}

function BioassayForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const [passed, setPassed] = useState<"yes" | "no">("yes");
  const [note, setNote] = useState("");
  const payload = (): GroundPayload => ({
    kind: "bioassay",
    passed: passed === "yes",
    ...(note.trim() ? { note } : {}),
  });
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was read">
      <Pick
        label="How it grew"
        value={passed}
        options={{ yes: "as in the clean soil", no: "stunted, twisted or dead" }}
        onChange={(value) => value && setPassed(value)}
      />
      <Text label="What was seen" value={note} onChange={setNote} />
    </Form>
  );
}

/** The one product that no list holds: what comes out of the barn. */
const manure = "manure";

function DressingForm({ farm, field, stand, planned, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const units = useUnits();
  const materials = useMaterials(farm.id);
  const [name, setName] = useState(planned?.product ?? "");
  const [rate, setRate] = useState<Quantity | null>(planned?.rate ?? null);
  const [words, setWords] = useState("");
  const [shares, setShares] = useState<Record<string, Quantity | null>>({});
  const lime = materials.data?.lime.find((one) => one.material.name === name);
  const product = materials.data?.products.find((one) => one.name === name);
  const payload = (): GroundPayload | null => {
    if (!rate || !name) return null;
    const shared = { product: name, rate: rate as Schemas["MassPerArea"] };
    if (planned && planned.product === name) return { kind: "dressing", dressing: { ...planned, ...shared } };
    if (lime) return { kind: "dressing", dressing: { what: "lime", ...shared, effective: lime.effective } };
    if (product)
      return { kind: "dressing", dressing: { what: "fertiliser", ...shared, analysis: product.analysis } };
    if (name === manure) {
      const told = Object.entries(shares).filter(([, share]) => share);
      const analysis = Object.fromEntries(told) as Record<string, Schemas["Fraction"]>;
      return {
        kind: "dressing",
        dressing: { what: "manure", ...shared, product: words.trim() || manure, analysis },
      };
    }
    return null;
  };
  const share = (key: string, label: string) => (
    <QuantityField
      label={label}
      bare="%"
      value={shares[key] ?? null}
      onChange={(value) => setShares((old) => ({ ...old, [key]: value }))}
      error={ink.at("/payload/dressing/analysis")}
    />
  );
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was spread">
      <Labelled label="Product">
        {(ids) => (
          <select {...ids} className="entry" value={name} onChange={(event) => setName(event.target.value)}>
            <option value="">choose a product</option>
            {planned && <option value={planned.product}>{planned.product}, as planned</option>}
            <optgroup label="Lime">
              {materials.data?.lime
                .filter((one) => one.material.name !== planned?.product)
                .map((one) => (
                  <option key={one.material.name}>{one.material.name}</option>
                ))}
            </optgroup>
            <optgroup label="Fertiliser">
              {materials.data?.products.map((one) => (
                <option key={one.name}>{one.name}</option>
              ))}
            </optgroup>
            <optgroup label="Manure">
              <option value={manure}>manure or compost</option>
            </optgroup>
          </select>
        )}
      </Labelled>
      {name === manure && (
        <>
          <Text
            label="Which manure"
            value={words}
            onChange={setWords}
            error={ink.at("/payload/dressing/product")}
            hint="such as cattle slurry"
          />
          <div className="grid grid-cols-3 gap-x-5">
            {share("n", "N this year")}
            {share("p2o5", "P₂O₅")}
            {share("k2o", "K₂O")}
          </div>
        </>
      )}
      <QuantityField
        label="Rate"
        bare={lime || planned?.what === "lime" || name === manure ? units.yield : units.rate}
        value={rate}
        onChange={setRate}
        error={ink.at("/payload/dressing/rate")}
      />
    </Form>
  );
}

function StandLookForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const units = useUnits();
  const [seen, setSeen] = useState<Record<string, Quantity | null>>({});
  const [green, setGreen] = useState(false);
  const [note, setNote] = useState("");
  const amount = (key: string, label: string, bare: string) => (
    <QuantityField
      label={label}
      bare={bare}
      value={seen[key] ?? null}
      onChange={(value) => setSeen((old) => ({ ...old, [key]: value }))}
      error={ink.at(`/payload/${key}`)}
    />
  );
  const payload = (): GroundPayload => ({
    kind: "stand-look",
    ...Object.fromEntries(Object.entries(seen).filter(([, value]) => value)),
    greened_up: green,
    ...(note.trim() ? { note } : {}),
  });
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was looked at">
      <div className="grid grid-cols-2 gap-x-5">
        {amount("plant_height", "Plants stand", units.layer)}
        {amount("weed_height", "Weeds or old sod stand", units.layer)}
        {amount("plants", "Plants counted", units.system === "us" ? "/ft2" : "/m2")}
      </div>
      <Tick label="It has turned green after its rest" checked={green} onChange={setGreen} />
      <Text label="What else was seen" value={note} onChange={setNote} error={ink.at("/payload/note")} />
    </Form>
  );
}

function CutForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const crops = useCrops();
  const units = useUnits();
  const [crop, setCrop] = useState("alfalfa");
  const [harvested, setHarvested] = useState<Quantity | null>(null);
  const [moisture, setMoisture] = useState<Quantity | null>({ value: 15, unit: "%" });
  const payload = (): GroundPayload | null =>
    harvested && {
      kind: "cut",
      cut: {
        crop,
        harvested: harvested as Schemas["MassPerArea"],
        ...(moisture ? { moisture: moisture as Schemas["Fraction"] } : {}),
      },
    };
  return (
    <Form ink={ink} today={farm.today} payload={payload} dayLabel="Day it was cut">
      <Pick
        label="Crop"
        value={crop}
        options={Object.fromEntries((crops.data ?? []).map((one) => [one.id, one.name]))}
        onChange={setCrop}
      />
      <QuantityField
        label="Yield"
        bare={units.yield}
        value={harvested}
        onChange={setHarvested}
        error={ink.at("/payload/cut/harvested")}
      />
      <QuantityField
        label="Moisture"
        bare="%"
        value={moisture}
        onChange={setMoisture}
        error={ink.at("/payload/cut/moisture")}
      />
    </Form>
  );
}
