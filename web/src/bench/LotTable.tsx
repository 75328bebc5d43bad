import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useReckoning, useRecord } from "../api/queries";
import { useFarm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { Empty, Trouble } from "../kit/states";
import { Table, type Column } from "../kit/Table";
import { dayText, plain } from "../units/format";
import { useUnits } from "../units/useUnits";
import { RecordSheet } from "../records/RecordSheet";

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
  // Each lot that is added gets an id of its own.
  const [adding, setAdding] = useState<string | null>(null);
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
  const columns: Column<Schemas["LotView"]>[] = [
    {
      key: "lot",
      head: "Lot",
      names: true,
      cell: (lot) => (
        <>
          <span className="font-semibold">{lot.label}</span>
          {of(lot.label)?.cheapest && priced.length > 1 && (
            <span className="block text-sm">lowest cost to sow</span>
          )}
        </>
      ),
    },
    { key: "purity", head: "Purity", figures: true, cell: (lot) => <Figure quantity={lot.tag?.purity} /> },
    {
      key: "germination",
      head: "Germ. + hard",
      figures: true,
      cell: (lot) => (
        <span data-germination>
          <Figure quantity={lot.tag?.germination} />
          {lot.tag?.dormant && <span className="text-pencil"> + {plain(lot.tag.dormant)}</span>}
        </span>
      ),
    },
    {
      key: "tested",
      head: "Tested",
      figures: true,
      className: "text-sm",
      cell: (lot) => (
        <>
          {lot.tag?.tested_on ? dayText(lot.tag.tested_on, 0) : "no test date"}
          {lot.retest && <span className="block font-semibold">retest</span>}
          {lot.reports > 0 && <span className="block text-pencil">laboratory</span>}
        </>
      ),
    },
    {
      key: "seeds",
      head: "Cost per million live seeds",
      figures: true,
      cell: ({ label }) => (
        <Figure
          quantity={of(label)?.cost_per_million_live_seeds}
          explains={compared.data}
          label={`${label}, cost of a million live seeds`}
        />
      ),
    },
    {
      key: "sown",
      head: "Cost to sow",
      figures: true,
      cell: ({ label }) => (
        <Figure
          quantity={of(label)?.cost_per_area}
          explains={compared.data}
          label={`${label}, cost of sowing`}
          className="font-semibold"
        />
      ),
    },
    {
      key: "test",
      head: "",
      headLabel: "Test",
      figures: true,
      cell: (lot) => farm.seed_laboratory && farm.role === "manager" && <Sample lot={lot} />,
    },
  ];
  return (
    <section aria-label="Lots">
      <div className="flex items-baseline justify-between">
        <h2>{crop.name} lots</h2>
        {farm.role === "manager" && (
          <button type="button" className="line-button" onClick={() => setAdding(uuid())}>
            Add lot
          </button>
        )}
      </div>
      {lots.length === 0 ? (
        <Empty>
          Enter purity, germination and price from the tag. Lots are compared by cost of live seed.
        </Empty>
      ) : (
        <Table
          label={`${crop.name} lots`}
          className="w-full min-w-115"
          rows={lots}
          rowKey={(lot) => lot.id}
          rowProps={(lot) => ({ "data-lot": lot.label })}
          columns={columns}
        />
      )}
      {adding && (
        <RecordSheet
          task={{
            form: "lot-tag",
            title: `New ${crop.name} lot`,
            where: "",
            about: "Copy the bag tag. It is recorded in the ledger.",
            with: { crop: crop.id, lot: adding },
          }}
          onDone={() => setAdding(null)}
        />
      )}
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
        aria-label={`Send a sample of ${lot.label} to the lab`}
        onClick={() => record.mutate(undefined, { onSuccess: () => setId(uuid()) })}
      >
        {record.isPending ? "Sending…" : "Send a sample"}
      </button>
      {record.error && <Trouble error={record.error} />}
    </>
  );
}
