import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useReckoning, useRecord } from "../api/queries";
import { useFarm } from "../shell/farm";
import { Figure } from "../ui/Figure";
import { Empty, Trouble } from "../ui/states";
import { dayText, plain } from "../units/format";
import { useUnits } from "../units/useUnits";
import { AddLot } from "./AddLot";

interface Props {
  crop: Schemas["Crop"];
  lots: Schemas["LotView"][];
  plsRate: Schemas["MassPerArea"] | undefined;
  dormantSeed: Schemas["DormantSeed"] | null;
}

/** Lots side by side, by what will grow: never by the bag. */
export function LotTable({ crop, lots, plsRate, dormantSeed }: Props) {
  const farm = useFarm();
  const units = useUnits();
  const [adding, setAdding] = useState(false);
  const priced = lots.filter((lot) => lot.tag?.package && lot.tag.price);
  const request = {
    crop: crop.id,
    pls_rate: plsRate ?? ({ value: 1, unit: "kg/ha" } as Schemas["MassPerArea"]),
    dormant_seed: dormantSeed,
    lots: priced.flatMap((lot) => (lot.tag ? [{ label: lot.label, tag: lot.tag }] : [])),
  };
  const compared = useReckoning(
    "seed.compare",
    [units.system, request],
    () => answered(api.POST("/api/reckon/seed.compare", { body: request })),
    plsRate !== undefined && priced.length > 0,
  );
  const of = (label: string) =>
    plsRate && !compared.error ? compared.data?.value.lots.find((row) => row.label === label) : undefined;
  const cell = "py-1.5 pr-3 text-right align-baseline";
  return (
    <section aria-label="Lots">
      <div className="flex items-baseline justify-between">
        <h2>Lots of {crop.name}</h2>
        {farm.role === "manager" && (
          <button type="button" className="line-button" onClick={() => setAdding(true)}>
            Add a lot
          </button>
        )}
      </div>
      {lots.length === 0 ? (
        <Empty>
          Read the tag of a bag in: purity, germination, price. Lots are then compared by what will grow.
        </Empty>
      ) : (
        <div
          className="overflow-x-auto"
          tabIndex={0}
          role="region"
          aria-label={`Lots of ${crop.name}, table`}
        >
          <table className="w-full min-w-115">
            <thead>
              <tr className="border-b border-ink text-sm text-pencil">
                <th className="py-1 text-left font-normal">Lot</th>
                <th className={`${cell} font-normal`}>Purity</th>
                <th className={`${cell} font-normal`}>Germ. + hard</th>
                <th className={`${cell} font-normal`}>Tested</th>
                <th className={`${cell} font-normal`}>Million live seeds</th>
                <th className={`${cell} font-normal`}>Sown</th>
                <th>
                  <span className="sr-only">Test</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {lots.map((lot) => {
                const row = of(lot.label);
                return (
                  <tr key={lot.id} className="border-b border-rule" data-lot={lot.label}>
                    <th scope="row" className="py-1.5 text-left font-semibold">
                      {lot.label}
                      {row?.cheapest && priced.length > 1 && (
                        <span className="block text-sm font-normal">cheapest to sow</span>
                      )}
                    </th>
                    <td className={cell}>
                      <Figure quantity={lot.tag?.purity} />
                    </td>
                    <td className={cell} data-germination>
                      <Figure quantity={lot.tag?.germination} />
                      {lot.tag?.dormant && <span className="text-pencil"> + {plain(lot.tag.dormant)}</span>}
                    </td>
                    <td className={`${cell} text-sm`}>
                      {lot.tag?.tested_on ? dayText(lot.tag.tested_on, 0) : "no date"}
                      {lot.retest && <span className="block font-semibold">test again</span>}
                      {lot.reports > 0 && <span className="block text-pencil">laboratory</span>}
                    </td>
                    <td className={cell}>
                      {row ? (
                        <Figure
                          quantity={row.cost_per_million_live_seeds}
                          explains={compared.data}
                          label={`${lot.label}, cost of a million live seeds`}
                        />
                      ) : (
                        "–"
                      )}
                    </td>
                    <td className={cell}>
                      {row ? (
                        <Figure
                          quantity={row.cost_per_area}
                          explains={compared.data}
                          label={`${lot.label}, cost of sowing`}
                          className="font-semibold"
                        />
                      ) : (
                        "–"
                      )}
                    </td>
                    <td className="py-1.5 text-right">
                      {farm.seed_laboratory && farm.role === "manager" && <Sample lot={lot} />}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
      {adding && <AddLot crop={crop} onDone={() => setAdding(false)} />}
    </section>
  );
}

/** Send a sample to the laboratory; its report is inked into the lot. */
function Sample({ lot }: { lot: Schemas["LotView"] }) {
  const farm = useFarm();
  const [id, setId] = useState(() => uuid());
  const record = useRecord(farm.id, () =>
    answered(
      api.POST("/api/farms/{farm}/lots/{lot}/sample", {
        params: { path: { farm: farm.id, lot: lot.id } },
        body: { id },
      }),
    ),
  );
  return (
    <>
      <button
        type="button"
        className="line-button"
        disabled={record.isPending}
        aria-label={`Test a sample of ${lot.label} at the laboratory`}
        onClick={() => record.mutate(undefined, { onSuccess: () => setId(uuid()) })}
      >
        {record.isPending ? "Testing…" : "Test"}
      </button>
      {record.error && <Trouble error={record.error} />}
    </>
  );
}
