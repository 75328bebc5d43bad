import { BroadcastChoice } from "../start/BroadcastChoice";
import { Link } from "@tanstack/react-router";
import { useState, type ReactNode } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useLots, useReckoning } from "../api/queries";
import { useFarm } from "../shell/farm";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { Empty, NotYet, Trouble } from "../kit/states";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { LotTable } from "./LotTable";
import { PlantsBench } from "./PlantsBench";

/** The bench for seed: a rate from a lot, and lots compared. */
export function SeedBenchPage() {
  const farm = useFarm();
  const crops = useCrops();
  const lots = useLots(farm.id);
  const [id, setId] = useState("alfalfa");
  if (crops.data === undefined || lots.data === undefined)
    return <NotYet what="Loading bench" of={[crops, lots]} />;
  const crop = crops.data.find((one) => one.id === id);
  return (
    <div>
      <div className="flex flex-wrap items-end gap-x-8">
        <Pick
          label="Crop"
          className="w-64"
          value={id}
          onChange={setId}
          options={crops.data.map((one) => ({ value: one.id, text: one.name }))}
        />
        {crop && <p className="max-w-xl flex-1 pb-5 text-sm text-pencil">{crop.about}</p>}
      </div>
      {crop?.planting && <PlantsBench key={crop.id} crop={crop} />}
      {crop?.sowing && (
        <SeedBench key={crop.id} crop={crop} lots={lots.data.filter((lot) => lot.crop === crop.id)} />
      )}
    </div>
  );
}

type By = Schemas["Target"]["by"];

interface Written {
  by: By;
  amount: Quantity | null;
  germination: Quantity | null;
  conditions: Schemas["Conditions"];
  dormant: "usual" | Schemas["DormantSeed"];
  /** The lot looked at; the first with a tag while none is picked. */
  picked: string;
}

const targets: { value: By; text: string }[] = [
  { value: "chart", text: "rate chart" },
  { value: "pls-mass", text: "PLS rate" },
  { value: "live-seeds", text: "live seeds" },
  { value: "assumed-germination", text: "quoted rate" },
];

function SeedBench({ crop, lots }: { crop: Schemas["Crop"]; lots: Schemas["LotView"][] }) {
  const units = useUnits();
  const farm = useFarm();
  const tagged = lots.filter((lot) => lot.tag);
  const { now, change } = useLive<Written>({
    by: "chart",
    amount: null,
    germination: { value: 80, unit: "%" },
    conditions: { method: "drill", seedbed: "good", late: false, broadcast: "factor" },
    dormant: "usual",
    picked: "",
  });
  const { by, amount, germination, conditions, dormant, picked } = now;
  const setConditions = (conditions: Schemas["Conditions"]) => change({ conditions });
  const lot = tagged.find((one) => one.id === picked) ?? tagged[0];
  const dormantSeed = dormant === "usual" ? null : dormant;

  const target = targetOf(by, amount, germination);
  const request =
    target && lot?.tag
      ? { crop: crop.id, target, tag: lot.tag, conditions, dormant_seed: dormantSeed }
      : undefined;
  const rate = useReckoning(
    "seed.rate",
    [units.system, request],
    () => {
      if (!request) throw new Error("Nothing to work out yet.");
      return answered(api.POST("/api/reckon/seed.rate", { body: request }));
    },
    request !== undefined,
  );
  const refused = rate.error instanceof Refused ? rate.error : undefined;
  const answer = request && !rate.error ? rate.data : undefined;
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[22rem_minmax(0,1fr)]">
      <form aria-label="Rate" onSubmit={(event) => event.preventDefault()}>
        <h2>Rate based on</h2>
        <Choice
          label="Rate based on"
          value={by}
          onChange={(by) => change({ by, amount: null })}
          options={targets}
        />
        {by !== "chart" && (
          <QuantityField
            key={by}
            label={
              {
                "pls-mass": "Target PLS rate",
                "live-seeds": "Live seeds",
                "assumed-germination": "Quoted rate",
              }[by]
            }
            bare={by === "live-seeds" ? units.seeds : units.rate}
            crop={crop.id}
            value={amount}
            onChange={(amount) => change({ amount })}
            error={refused?.at("/target/rate") ?? refused?.at("/target/per_area")}
          />
        )}
        {by === "assumed-germination" && (
          <QuantityField
            label="Assumed germination"
            bare="%"
            value={germination}
            onChange={(germination) => change({ germination })}
            error={refused?.at("/target/germination")}
          />
        )}
        <h2 className="pt-3">Lot</h2>
        {tagged.length === 0 && <Empty>No {crop.name} lot on the farm. Add one from the bag tag.</Empty>}
        {tagged.length > 0 && (
          <Choice
            label="Lot"
            value={lot?.id ?? ""}
            onChange={(picked) => change({ picked })}
            options={tagged.map((one) => ({ value: one.id, text: one.label }))}
          />
        )}
        <h2 className="pt-3">Conditions</h2>
        <div className="flex flex-col">
          <Choice
            label="Method"
            value={conditions.method ?? "drill"}
            onChange={(method) => setConditions({ ...conditions, method })}
            options={[
              { value: "drill", text: "drilled" },
              { value: "broadcast", text: "broadcast" },
            ]}
          />
          {conditions.method === "broadcast" && (
            <BroadcastChoice
              value={conditions.broadcast ?? "factor"}
              onChange={(broadcast) => setConditions({ ...conditions, broadcast })}
            />
          )}
          <Choice
            label="Seedbed condition"
            value={conditions.seedbed ?? "good"}
            onChange={(seedbed) => setConditions({ ...conditions, seedbed })}
            options={[
              { value: "good", text: "good" },
              { value: "fair", text: "fair" },
              { value: "poor", text: "poor" },
            ]}
          />
          <Choice
            label="Timing"
            value={conditions.late ? "late" : "in-time"}
            onChange={(timing) => setConditions({ ...conditions, late: timing === "late" })}
            options={[
              { value: "in-time", text: "on time" },
              { value: "late", text: "late" },
            ]}
          />
          <Choice
            label="Hard or dormant seed"
            value={dormant}
            onChange={(dormant) => change({ dormant })}
            options={[
              { value: "usual", text: "usual" },
              { value: "counts", text: "counted as live" },
              { value: "left-out", text: "not counted" },
            ]}
          />
        </div>
      </form>
      <div aria-live="polite" className="space-y-6">
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        {answer && lot && (
          <div>
            <div className="flex flex-wrap items-end gap-x-10 gap-y-3">
              <Big term={`bulk rate of ${lot.label}`}>
                <Figure
                  quantity={answer.value.bulk_rate}
                  explains={answer}
                  label="Bulk rate"
                  className="text-5xl font-bold"
                />
              </Big>
              <Big term="pure live seed">
                <Figure
                  quantity={answer.value.pls_rate}
                  explains={answer}
                  label="PLS rate"
                  className="text-2xl font-bold"
                />
              </Big>
              <Big term="live seeds">
                <Figure
                  quantity={answer.value.live_seeds}
                  explains={answer}
                  label="Live seeds"
                  className="text-2xl font-bold"
                />
              </Big>
              <Big term={`PLS share of ${lot.label}`}>
                <Figure
                  quantity={answer.value.pls}
                  explains={answer}
                  label="Pure live seed share"
                  className="text-2xl font-bold"
                />
              </Big>
            </div>
            <RowTarget crop={crop.id} bulk={answer.value.bulk_rate} pls={answer.value.pls} />
            {farm.role === "manager" && (
              <Link
                to="/farms/$farm/start"
                params={{ farm: farm.id }}
                search={{ crop: crop.id }}
                className="line-button mt-3"
              >
                Start stand of {crop.name}
              </Link>
            )}
          </div>
        )}
        <LotTable crop={crop} lots={lots} plsRate={answer?.value.pls_rate} dormantSeed={dormantSeed} />
      </div>
    </div>
  );
}

function targetOf(
  by: By,
  amount: Quantity | null,
  germination: Quantity | null,
): Schemas["Target"] | undefined {
  if (by === "chart") return { by };
  if (!amount) return undefined;
  const rate = amount as Schemas["MassPerArea"];
  if (by === "pls-mass") return { by, rate };
  if (by === "live-seeds") return { by, per_area: amount as Schemas["CountPerArea"] };
  return germination ? { by, rate, germination: germination as Schemas["Fraction"] } : undefined;
}

function Big({ term, children }: { term: string; children: ReactNode }) {
  return (
    <p>
      {children}
      <span className="block pt-1 text-sm text-pencil">{term}</span>
    </p>
  );
}

/** What to catch from a row: the way the rate reaches the drill. */
function RowTarget({
  crop,
  bulk,
  pls,
}: {
  crop: string;
  bulk: Schemas["MassPerArea"];
  pls: Schemas["Fraction"];
}) {
  const units = useUnits();
  const { now, change } = useLive<{ course: Quantity | null }>({
    course: { value: units.system === "us" ? 200 : 50, unit: units.course },
  });
  const length = now.course;
  const request = { crop, bulk_rate: bulk, pls, course: length as Schemas["Length"] };
  const row = useReckoning(
    "drill.row",
    [units.system, request],
    () => answered(api.POST("/api/reckon/drill.row", { body: request })),
    length !== null,
  );
  return (
    <div className="flex flex-wrap items-end gap-x-6 pt-4">
      <QuantityField
        label="Test course length"
        bare={units.course}
        value={length}
        onChange={(course) => change({ course })}
        error={row.error instanceof Refused ? row.error.at("/course") : undefined}
        className="w-40"
      />
      {row.data && !row.error && (
        <p className="pb-6">
          Target catch{" "}
          <Figure
            quantity={row.data.value.catch_per_row}
            explains={row.data}
            label="Catch per row"
            className="text-xl font-bold"
          />{" "}
          per row (
          <Figure
            quantity={row.data.value.live_seeds_in_row}
            explains={row.data}
            label="Live seeds in the row"
          />{" "}
          live seeds) at <Figure quantity={row.data.value.row_spacing} /> row spacing.
        </p>
      )}
    </div>
  );
}
