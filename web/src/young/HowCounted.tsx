import type { Refused } from "../api/client";
import { Choice } from "../kit/Choice";
import { Collapse } from "../kit/Collapse";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import type { Counting } from "./count";

interface EnoughProps {
  now: Counting;
  change: (part: Partial<Counting>) => void;
  refused: Refused | undefined;
}

/** How much is enough, where nobody has told it: whoever counts may know it. */
export function Enough({ now, change, refused }: EnoughProps) {
  const units = useUnits();
  const bare = now.by === "plants" || now.by === "stems" || now.by === "row" ? units.seeds : "%";
  return (
    <div className="grid grid-cols-2 gap-x-4">
      <QuantityField
        label="Full stand at"
        bare={bare}
        value={now.full}
        onChange={(full) => change({ full })}
        error={refused?.at("/full")}
      />
      <QuantityField
        label="Thin stand below"
        bare={bare}
        value={now.thin}
        onChange={(thin) => change({ thin })}
        error={refused?.at("/thin")}
      />
    </div>
  );
}

export interface Money {
  price: Quantity | null;
  thicken: Quantity | null;
  start_over: Quantity | null;
}

interface MoneyProps {
  now: Money;
  change: (part: Partial<Money>) => void;
  refused: Refused | undefined;
}

/** What mending costs and feed is worth: the ways are then told by what is left. */
export function InMoney({ now, change, refused }: MoneyProps) {
  const units = useUnits();
  return (
    <Collapse title="costs and value">
      <div className="grid grid-cols-2 gap-x-4 sm:grid-cols-3">
        <QuantityField
          label="Value of dry matter"
          bare={units.tonPrice}
          value={now.price}
          onChange={(price) => change({ price })}
          error={refused?.at("/price")}
        />
        <QuantityField
          label="Cost to thicken"
          bare={units.areaPrice}
          value={now.thicken}
          onChange={(thicken) => change({ thicken })}
          error={refused?.at("/thicken_cost")}
        />
        <QuantityField
          label="Cost to reseed"
          bare={units.areaPrice}
          value={now.start_over}
          onChange={(start_over) => change({ start_over })}
          error={refused?.at("/start_over_cost")}
        />
      </div>
    </Collapse>
  );
}

/** What is looked at in a place. */
export function Looked({ now, change }: { now: Counting; change: (part: Partial<Counting>) => void }) {
  const units = useUnits();
  if (now.by === "grid")
    return (
      <div className="pt-2">
        <p className="text-sm font-semibold">Tosses per point</p>
        <Choice
          label="Tosses per point"
          value={String(now.tosses)}
          options={["1", "2", "4"].map((value) => ({ value, text: value }))}
          onChange={(tosses) =>
            now.places.length === 0 && now.toss === 1 && change({ tosses: Number(tosses) })
          }
        />
      </div>
    );
  if (now.by === "plants" || now.by === "stems")
    return (
      <NumberBox
        label={`Frame area, ${now.frame.unit === "ft2" ? "ft²" : "m²"}`}
        value={String(now.frame.value)}
        onChange={(text) => {
          const value = Number(text.replace(",", "."));
          if (Number.isFinite(value)) change({ frame: { ...now.frame, value } });
        }}
      />
    );
  if (now.by === "row")
    return (
      <>
        <QuantityField
          label="Row length counted"
          bare={units.course}
          value={now.length}
          onChange={(length) => change({ length })}
          hint="At each point."
        />
        <QuantityField
          label="Row spacing"
          bare={units.spacing}
          value={now.spacing}
          onChange={(spacing) => change({ spacing })}
        />
      </>
    );
  return (
    <NumberBox
      label={now.by === "alive" ? "Plants set per point" : "Readings per point"}
      value={now.of}
      onChange={(of) => change({ of })}
    />
  );
}
