import { useProducts } from "../api/queries";
import type { Schemas } from "../api/client";
import { DayField } from "../kit/Day";
import { useLive } from "../kit/live";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { useWholeDay } from "../kit/useWholeDay";
import { Empty, NotYet } from "../kit/states";
import { useFarm } from "../shell/farm";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { AirNow } from "./AirNow";
import { FieldPick } from "./FieldPick";
import { SprayHours } from "./SprayHours";
import { labelOf, SprayVerdict } from "./SprayVerdict";
import { useStanding } from "./useStanding";

interface Props {
  field: string;
  onField: (field: string) => void;
}

interface Written {
  product: string;
  on: string;
  rate: Quantity | null;
  cut_on: string;
  graze_on: string;
  water: Quantity | null;
  wind: Quantity | null;
  temperature: Quantity | null;
}

/** May it be sprayed here? Held against the label that somebody of the farm has read. */
export function SprayBench({ field, onField }: Props) {
  const farm = useFarm();
  const units = useUnits();
  const products = useProducts(farm.id);
  const standing = useStanding(farm.id, field);
  const { now, change } = useLive<Written>({
    product: "",
    on: farm.today,
    rate: null,
    cut_on: "",
    graze_on: "",
    water: null,
    wind: null,
    temperature: null,
  });
  const on = useWholeDay(now.on).day;
  const cutOn = useWholeDay(now.cut_on).day;
  const grazeOn = useWholeDay(now.graze_on).day;
  if (products.data === undefined) return <NotYet what="Loading products" of={[products]} />;
  const labels = products.data.products.filter(({ facts }) => facts.nature.is === "spray" && !facts.gone);
  if (labels.length === 0)
    return (
      <div className="border-t-2 border-ink pt-3">
        <Empty>
          No labels entered yet. Enter one under Set-up, Products. Sprays are checked against what you enter
          from the label; no rate is suggested here.
        </Empty>
      </div>
    );
  const picked = labels.find(({ id }) => id === now.product);
  const label = picked ? labelOf(picked.facts.nature) : null;
  const ask: Schemas["SprayCheckRequest"] | null = label && {
    label,
    on,
    rate: now.rate as Schemas["Quantity"] | null,
    ...standing,
    cut_on: cutOn || null,
    graze_on: grazeOn || null,
    water: now.water as Schemas["Length"] | null,
    wind: now.wind as Schemas["Speed"] | null,
    temperature: now.temperature as Schemas["Temperature"] | null,
  };
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[26rem_minmax(0,1fr)]">
      <form aria-label="Spray" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} hint="Fills in the current stand and plans." />
        <Pick
          label="Product"
          value={now.product}
          options={labels.map(({ id, facts }) => ({ value: id, text: facts.name }))}
          empty="choose a product"
          onChange={(product) => change({ product })}
          hint={picked ? `Label entered by ${picked.told_by}.` : "As entered from the label."}
        />
        <div className="grid grid-cols-2 gap-x-4">
          <DayField label="Spray date" value={now.on} onChange={(on) => change({ on })} />
          <QuantityField
            label="Rate"
            bare={units.poured}
            value={now.rate}
            onChange={(rate) => change({ rate })}
            hint="Per acre or hectare."
          />
          <DayField label="Cutting date" value={now.cut_on} onChange={(cut_on) => change({ cut_on })} />
          <DayField label="Grazing date" value={now.graze_on} onChange={(graze_on) => change({ graze_on })} />
        </div>
        <div className="grid grid-cols-3 gap-x-4">
          <QuantityField
            label="Wind"
            bare={units.speed}
            value={now.wind}
            onChange={(wind) => change({ wind })}
          />
          <QuantityField
            label="Air temperature"
            bare={units.temperature}
            value={now.temperature}
            onChange={(temperature) => change({ temperature })}
          />
          <QuantityField
            label="Distance to water"
            bare={units.setback}
            value={now.water}
            onChange={(water) => change({ water })}
            hint="From the sprayed area."
          />
        </div>
        {on === farm.today && <AirNow onAir={({ wind, temperature }) => change({ wind, temperature })} />}
      </form>
      <div className="min-w-0" aria-live="polite">
        {ask ? (
          <>
            {/* Which variety stands there is of the field: on another it is asked again. */}
            <SprayVerdict key={field} ask={ask} />
            <SprayHours product={now.product} on={on} />
          </>
        ) : (
          <p className="text-pencil">Choose a product with a label entered.</p>
        )}
      </div>
    </div>
  );
}
