import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";
import { useFarm } from "../shell/farm";
import { DayField } from "../ui/DayField";
import { Labelled } from "../ui/Labelled";
import { QuantityField } from "../ui/QuantityField";
import { TaskSheet } from "../ui/Sheet";
import { Trouble } from "../ui/states";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

const figures = [
  { key: "purity", label: "Purity", bare: "%", needed: true },
  { key: "germination", label: "Germination", bare: "%", needed: true },
  { key: "dormant", label: "Hard or dormant seed", bare: "%", needed: false },
  { key: "inert", label: "Inert matter, coating included", bare: "%", needed: false },
  { key: "weed_seed", label: "Weed seed", bare: "%", needed: false },
  { key: "seeds_per_mass", label: "Seeds per mass", bare: "perMass", needed: false },
  { key: "package", label: "One bag", bare: "mass", needed: false },
  { key: "price", label: "Price of a bag", bare: "USD", needed: false },
] as const;

type Key = (typeof figures)[number]["key"];

/** Read the tag of a lot in. */
export function AddLot({ crop, onDone }: { crop: Schemas["Crop"]; onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const [ids] = useState(() => ({ id: uuid(), entry: uuid() }));
  const [label, setLabel] = useState("");
  const [tested, setTested] = useState("");
  const [tag, setTag] = useState<Partial<Record<Key, Quantity | null>>>({});
  const [onHand, setOnHand] = useState<Quantity | null>(null);
  const [missing, setMissing] = useState(false);
  const record = useRecord(farm.id, () => {
    const given = Object.fromEntries(Object.entries(tag).filter(([, value]) => value !== null));
    const body = {
      ...ids,
      crop: crop.id,
      label,
      tag: { ...given, ...(tested ? { tested_on: tested } : {}) } as unknown as Schemas["Tag"],
      on_hand: onHand as Schemas["Mass"] | null,
    };
    return answered(api.POST("/api/farms/{farm}/lots", { params: { path: { farm: farm.id } }, body }));
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  const bareOf = (bare: string) => (bare === "perMass" || bare === "mass" ? units[bare] : bare);
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title={`A lot of ${crop.name}`}
      about="As the tag on the bag prints it. The tag goes into the ledger in ink."
    >
      <form
        className="mt-3"
        onSubmit={(event) => {
          event.preventDefault();
          const lacks = figures.some(({ key, needed }) => needed && !tag[key]);
          setMissing(lacks);
          if (!lacks) record.mutate(undefined, { onSuccess: onDone });
        }}
      >
        <div className="grid grid-cols-2 gap-x-5">
          <Labelled label="Lot number" error={refused?.at("/label")}>
            {(props) => (
              <input {...props} className="entry" value={label} onChange={(e) => setLabel(e.target.value)} />
            )}
          </Labelled>
          <DayField label="Germination tested on" value={tested} onChange={setTested} />
          {figures.map(({ key, label: name, bare, needed }) => (
            <QuantityField
              key={key}
              label={name}
              bare={bareOf(bare)}
              value={tag[key] ?? null}
              onChange={(value) => setTag((old) => ({ ...old, [key]: value }))}
              error={
                refused?.at(`/tag/${key}`) ??
                (missing && needed && !tag[key] ? "read it off the tag" : undefined)
              }
            />
          ))}
          <QuantityField
            label="How much there is"
            bare={units.mass}
            value={onHand}
            onChange={setOnHand}
            error={refused?.at("/on_hand")}
            hint="leave empty if it can be had as wanted"
          />
        </div>
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        <button type="submit" className="ink-button mt-3" disabled={record.isPending}>
          Ink the tag
        </button>
      </form>
    </TaskSheet>
  );
}
