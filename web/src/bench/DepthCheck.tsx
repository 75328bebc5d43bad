import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useReckoning } from "../api/queries";
import { Choice } from "../kit/Choice";
import { useDraft } from "../kit/draft";
import { Figure } from "../kit/Figure";
import { NumberBox } from "../kit/NumberBox";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { Trouble } from "../kit/states";
import type { Task } from "../outbox/waiting";
import { numberOf, numbersIn } from "../records/amounts";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { shelved } from "../units/words";
import type { Own } from "./Halfway";

interface Dug {
  crop: string;
  depths: string;
  surface: string;
  unit: string;
  method: Schemas["Method"];
  residue: string;
  /** A band of one's own; the crop's while it is empty. */
  from: Quantity | null;
  to: Quantity | null;
}

const deep: Record<Schemas["DepthVerdict"], string> = {
  "carry-on": "● Carry on sowing",
  raise: "✕ Raise openers",
  lower: "✕ Lower openers",
  press: "✕ Press seed into the soil",
  "look-at-more": "◐ Dig up more seed",
};

/** A count that can be sent: what is no number yet counts nothing. */
function whole(count: number): number {
  return Number.isFinite(count) ? Math.max(0, Math.round(count)) : 0;
}

/** Seed dug up: does it lie right? */
export function DepthCheck({
  field,
  name,
  stand,
  may,
  texture,
  crop: first,
}: Own & { texture: Schemas["Texture"]; crop: string }) {
  const farm = useFarm();
  const units = useUnits();
  const crops = useCrops();
  const [task, setTask] = useState<Task | null>(null);
  const seeded = crops.data?.some((one) => one.id === first && one.sowing) ? first : "alfalfa";
  const { now, change, forget } = useDraft<Dug>(`depth.${farm.id}.${field}`, {
    crop: seeded,
    depths: "",
    surface: "",
    unit: units.depth,
    method: "drill",
    residue: "",
    from: null,
    to: null,
  });
  const depths = numbersIn(now.depths.split(/[\s,;]+/));
  const surface = numberOf(now.surface) ?? 0;
  const broadcast = now.method === "broadcast";
  const residue = broadcast ? (numberOf(now.residue) ?? 0) : 0;
  const ready = depths !== null || surface > 0 || residue > 0;
  const request = {
    crop: now.crop,
    texture,
    depths: (depths ?? []).map((value) => ({ value, unit: now.unit })) as Schemas["Length"][],
    on_surface: whole(surface),
    on_residue: whole(residue),
    method: now.method,
    ...(now.from && now.to ? { wanted: [now.from, now.to] as Schemas["Length"][] } : {}),
  };
  const told = useReckoning(
    "depth.check",
    [units.system, request],
    () => answered(api.POST("/api/reckon/depth.check", { body: request })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <>
      <h2>Seeding depth</h2>
      <form aria-label="Seed dug up" onSubmit={(event) => event.preventDefault()}>
        <Pick
          label="Crop"
          value={now.crop}
          options={shelved((crops.data ?? []).filter((one) => one.sowing))}
          onChange={(crop) => crop && change({ crop })}
        />
        <Choice
          label="Sown"
          value={now.method}
          onChange={(method) => change({ method })}
          options={[
            { value: "drill", text: "drilled" },
            { value: "broadcast", text: "broadcast" },
          ]}
        />
        <div className="flex items-baseline justify-between pt-2">
          <p className="text-sm font-semibold">Unit</p>
          <Choice
            label="Unit"
            value={now.unit}
            options={["in", "mm", "cm"].map((value) => ({ value, text: value }))}
            onChange={(unit) => change({ unit })}
          />
        </div>
        <div className="grid grid-cols-2 gap-x-4">
          <NumberBox
            label="Depth of each seed"
            value={now.depths}
            onChange={(depths) => change({ depths })}
            hint="e.g. ten depths separated by spaces"
            error={refused?.at("/depths")}
            words
          />
          <NumberBox
            label={broadcast ? "Seeds on bare soil" : "Seeds on the surface"}
            value={now.surface}
            onChange={(surface) => change({ surface })}
            hint="In addition to those above."
          />
          {broadcast && (
            <NumberBox
              label="Seeds on thatch or residue"
              value={now.residue}
              onChange={(residue) => change({ residue })}
              hint="Touching no soil."
            />
          )}
        </div>
        <div className="grid grid-cols-2 gap-x-4">
          <QuantityField
            label="Shallowest depth (optional)"
            bare={units.depth}
            value={now.from}
            onChange={(from) => change({ from })}
            error={refused?.at("/wanted/0")}
          />
          <QuantityField
            label="Deepest depth (optional)"
            bare={units.depth}
            value={now.to}
            onChange={(to) => change({ to })}
            error={refused?.at("/wanted/1")}
          />
        </div>
      </form>
      <div aria-live="polite" className="space-y-2 pt-2">
        {!ready && <p className="text-pencil">Dig up ten seeds from several rows.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p className="text-2xl font-bold" data-verdict={answer.value.verdict}>
              {deep[answer.value.verdict]}
            </p>
            <p>{answer.value.why}</p>
            <p className="text-sm text-pencil">
              Average <Figure quantity={answer.value.mean} explains={answer} label="Average depth" />; target{" "}
              {plain(answer.value.wanted[0] as Quantity)} to {plain(answer.value.wanted[1] as Quantity)} in
              this soil; {plain(answer.value.too_deep)} are deeper.
            </p>
          </>
        )}
        {may && stand && answer && (
          <p className="flex flex-wrap gap-x-4">
            <button
              type="button"
              className="ink-button max-sm:min-h-12"
              onClick={() =>
                setTask({
                  form: "depth-check",
                  title: "Seeding depth",
                  where: name,
                  field,
                  stand: stand.id,
                  with: {
                    crop: now.crop,
                    depths: depths ?? [],
                    on_surface: request.on_surface,
                    on_residue: request.on_residue,
                    unit: now.unit,
                  },
                })
              }
            >
              Save depth check
            </button>
            <button type="button" className="line-button" onClick={forget}>
              Clear form
            </button>
          </p>
        )}
      </div>
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </>
  );
}
