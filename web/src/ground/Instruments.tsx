import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";
import { QuantityField } from "../ui/QuantityField";
import { Trouble } from "../ui/states";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { Form, type RecordProps } from "./RecordSheet";
import { useInk } from "./record";

/** A soil thermometer, read in the morning; or the probe that stands in the field. */
export function ThermometerForm({ farm, field, stand, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const units = useUnits();
  const [depth, setDepth] = useState<Quantity | null>(
    units.system === "metric" ? { value: 30, unit: "mm" } : { value: 1.2, unit: "in" },
  );
  const [shown, setShown] = useState<Quantity | null>(null);
  const [id] = useState(() => uuid());
  const probe = useRecord(farm.id, () =>
    answered(
      api.POST("/api/farms/{farm}/fields/{field}/probe", {
        params: { path: { farm: farm.id, field } },
        body: { id, depth: depth as Schemas["Length"] },
      }),
    ),
  );
  return (
    <Form
      ink={ink}
      today={farm.today}
      dayLabel="Morning it was read"
      payload={() =>
        depth && shown
          ? {
              kind: "soil-temperature",
              depth: depth as Schemas["Length"],
              temperature: shown as Schemas["Temperature"],
            }
          : null
      }
    >
      <QuantityField
        label="Depth"
        bare={units.depth}
        value={depth}
        onChange={setDepth}
        error={ink.at("/payload/depth")}
      />
      <QuantityField
        label="It showed"
        bare={units.temperature}
        value={shown}
        onChange={setShown}
        error={ink.at("/payload/temperature")}
        hint="at about eight by the sun, nine in summer time"
      />
      {farm.practice && (
        <p className="text-sm">
          <button
            type="button"
            className="line-button"
            disabled={probe.isPending || !depth}
            onClick={() => probe.mutate(undefined, { onSuccess: onDone })}
          >
            Read the field’s probe instead
          </button>
        </p>
      )}
      {probe.isError && <Trouble error={probe.error} />}
    </Form>
  );
}

/** Rain in the field's own gauge, or water brought. */
export function WaterForm({ farm, field, stand, what, onDone }: RecordProps) {
  const ink = useInk(farm.id, { field, stand }, onDone);
  const units = useUnits();
  const [amount, setAmount] = useState<Quantity | null>(null);
  const gauge = what === "rain-gauge";
  return (
    <Form
      ink={ink}
      today={farm.today}
      dayLabel={gauge ? "Day it fell" : "Day it was brought"}
      payload={() => {
        if (!amount) return null;
        const depth = amount as Schemas["Length"];
        return gauge ? { kind: "rain-gauge", rain: depth } : { kind: "irrigation", depth };
      }}
    >
      <QuantityField
        label={gauge ? "Rain" : "Water"}
        bare={units.rain}
        value={amount}
        onChange={setAmount}
        error={ink.at(gauge ? "/payload/rain" : "/payload/depth")}
        {...(gauge ? { hint: "it wins over the station for this field and day" } : {})}
      />
    </Form>
  );
}
