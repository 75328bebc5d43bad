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
  if (products.data === undefined) return <NotYet what="Reading the labels" of={[products]} />;
  const labels = products.data.products.filter(({ facts }) => facts.nature.is === "spray" && !facts.gone);
  if (labels.length === 0)
    return (
      <div className="border-t-2 border-ink pt-3">
        <Empty>
          No label has been read yet. Write down what you read on one under Set-up, Products: what a spray is
          held against is your own reading, and nothing here proposes a dose.
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
      <form aria-label="The spray" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} hint="brings what stands there and what is planned" />
        <Pick
          label="Product"
          value={now.product}
          options={labels.map(({ id, facts }) => ({ value: id, text: facts.name }))}
          empty="choose a label"
          onChange={(product) => change({ product })}
          hint={picked ? `read by ${picked.told_by}` : "as somebody here has read it"}
        />
        <div className="grid grid-cols-2 gap-x-4">
          <DayField label="Sprayed on" value={now.on} onChange={(on) => change({ on })} />
          <QuantityField
            label="Rate"
            bare={units.poured}
            value={now.rate}
            onChange={(rate) => change({ rate })}
            hint="per area"
          />
          <DayField label="Cut on" value={now.cut_on} onChange={(cut_on) => change({ cut_on })} />
          <DayField label="Grazed on" value={now.graze_on} onChange={(graze_on) => change({ graze_on })} />
        </div>
        <div className="grid grid-cols-3 gap-x-4">
          <QuantityField
            label="Wind"
            bare={units.speed}
            value={now.wind}
            onChange={(wind) => change({ wind })}
          />
          <QuantityField
            label="Air"
            bare={units.temperature}
            value={now.temperature}
            onChange={(temperature) => change({ temperature })}
          />
          <QuantityField
            label="Water is"
            bare={units.setback}
            value={now.water}
            onChange={(water) => change({ water })}
            hint="away"
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
          <p className="text-pencil">Choose a product whose label was read.</p>
        )}
      </div>
    </div>
  );
}
