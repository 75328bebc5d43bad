import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord, useStand } from "../api/queries";
import { RecordSheet, type Recorded } from "../ground/RecordSheet";
import type { Farm } from "../shell/farm";
import { DayField } from "../ui/DayField";
import { Cautions } from "../ui/Cautions";
import { Labelled } from "../ui/Labelled";
import { QuantityField } from "../ui/QuantityField";
import { TaskSheet } from "../ui/Sheet";
import { Trouble } from "../ui/states";
import { useUnits } from "../units/useUnits";
import type { Quantity } from "../units/format";

export interface StepToInk {
  field: string;
  stand: string;
  kind: Schemas["StepKind"];
}

interface Props {
  farm: Farm;
  step: StepToInk;
  onDone: () => void;
}

/** What inks a step on the ground: what was found or spread there, not the step itself. */
const onGround: Partial<Record<Schemas["StepKind"], Recorded>> = {
  "sample-soil": "soil-test",
  bioassay: "bioassay",
  lime: "dressing",
  dress: "dressing",
};

/** Record that a step was done. */
export function InkSheet(props: Props) {
  const what = onGround[props.step.kind];
  return what ? <InkGround {...props} what={what} /> : <InkStep {...props} />;
}

function InkGround({ farm, step, onDone, what }: Props & { what: Recorded }) {
  const stand = useStand(farm.id, step.stand);
  if (stand.isPending) return null;
  const planned = step.kind === "lime" ? (stand.data?.implied.lime_dressing ?? undefined) : undefined;
  return <RecordSheet farm={farm} field={step.field} what={what} planned={planned} onDone={onDone} />;
}

/** The entry's id is made once, so that a second press is the same entry. */
function InkStep({ farm, step, onDone }: Props) {
  const stand = useStand(farm.id, step.stand);
  const units = useUnits();
  const [id] = useState(() => uuid());
  const [on, setOn] = useState(farm.today);
  const [area, setArea] = useState<Quantity | null>(null);
  const [rate, setRate] = useState<Quantity | null>(null);
  const [depth, setDepth] = useState<Quantity | null>(null);
  const [setting, setSetting] = useState("");
  const [note, setNote] = useState("");
  const record = useRecord(farm.id, () => {
    const done: Schemas["StepDone"] = { step: step.kind };
    if (area) done.area = area as Schemas["Area"];
    if (rate) done.bulk_rate = rate as Schemas["MassPerArea"];
    if (depth) done.depth = depth as Schemas["Length"];
    if (setting.trim()) done.setting = setting;
    if (note.trim()) done.note = note;
    const body = {
      id,
      field: step.field,
      stand: step.stand,
      occurred_on: on,
      payload: { kind: "step" as const, done },
    };
    return answered(api.POST("/api/farms/{farm}/entries", { params: { path: { farm: farm.id } }, body }));
  });
  const planned = stand.data?.stand.plan.steps.find((one) => one.kind === step.kind);
  const refused = record.error instanceof Refused ? record.error : undefined;
  const at = (pointer: string) => refused?.at(pointer);
  const sowing = step.kind === "sow";
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title={`Ink: ${planned?.title ?? "step"}`}
      about="Ink is permanent. A mistake is struck and recorded anew."
    >
      <form
        className="mt-4 space-y-1"
        onSubmit={(event) => {
          event.preventDefault();
          record.mutate(undefined, { onSuccess: onDone });
        }}
      >
        <DayField label="Day it was done" required value={on} onChange={setOn} error={at("/occurred_on")} />
        {sowing && (
          <>
            <QuantityField
              label="Area actually sown"
              bare={units.area}
              value={area}
              onChange={setArea}
              error={at("/payload/done/area")}
              hint="leave empty for the whole field"
            />
            <QuantityField
              label="Rate reached, out of the bag"
              bare={units.rate}
              value={rate}
              onChange={setRate}
              error={at("/payload/done/bulk_rate")}
            />
            <QuantityField
              label="Depth"
              bare={units.depth}
              value={depth}
              onChange={setDepth}
              error={at("/payload/done/depth")}
            />
            <Labelled label="Setting" error={at("/payload/done/setting")}>
              {(ids) => (
                <input
                  {...ids}
                  className="entry"
                  value={setting}
                  onChange={(e) => setSetting(e.target.value)}
                />
              )}
            </Labelled>
          </>
        )}
        <Labelled label="Note" error={at("/payload/done/note")}>
          {(ids) => (
            <textarea
              {...ids}
              rows={2}
              className="entry"
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
          )}
        </Labelled>
        {planned && <Cautions cautions={planned.cautions} />}
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        <div className="flex gap-4 pt-4">
          <button type="submit" className="ink-button" disabled={record.isPending}>
            {record.isPending ? "Inking…" : "Ink it"}
          </button>
          <button type="button" className="line-button" onClick={onDone}>
            Not yet
          </button>
        </div>
      </form>
    </TaskSheet>
  );
}
