import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord, useStand } from "../api/queries";
import { isRecorded, RecordSheet, type Recorded } from "../ground/RecordSheet";
import type { Farm } from "../shell/farm";
import { DayField } from "../ui/DayField";
import { Cautions } from "../ui/Cautions";
import { Labelled } from "../ui/Labelled";
import { QuantityField } from "../ui/QuantityField";
import { TaskSheet } from "../ui/Sheet";
import { Trouble } from "../ui/states";
import { useUnits } from "../units/useUnits";
import { titled } from "../units/words";
import type { Quantity } from "../units/format";

export interface StepToInk {
  field: string;
  stand: string;
  step: Schemas["Step"];
}

interface Props {
  farm: Farm;
  step: StepToInk;
  onDone: () => void;
}

/** Record that a step was done: by a record of its own kind where there is one, else as a step. */
export function InkSheet(props: Props) {
  const { record } = props.step.step;
  return isRecorded(record) ? <InkGround {...props} what={record} /> : <InkStep {...props} />;
}

function InkGround({ farm, step: { field, stand, step }, onDone, what }: Props & { what: Recorded }) {
  const detail = useStand(farm.id, stand);
  if (detail.isPending) return null;
  const planned =
    step.look.operation === "lime" ? (detail.data?.implied.lime_dressing ?? undefined) : undefined;
  return (
    <RecordSheet
      farm={farm}
      field={field}
      // Work on the ground serves whatever stands there; the rest is this stand's own.
      stand={step.on_ground ? undefined : stand}
      what={what}
      planned={planned}
      onDone={onDone}
    />
  );
}

/** The entry's id is made once, so that a second press is the same entry. */
function InkStep({ farm, step: { stand, step }, onDone }: Props) {
  const units = useUnits();
  const [id] = useState(() => uuid());
  const [on, setOn] = useState(farm.today);
  const [area, setArea] = useState<Quantity | null>(null);
  const [rate, setRate] = useState<Quantity | null>(null);
  const [depth, setDepth] = useState<Quantity | null>(null);
  const [setting, setSetting] = useState("");
  const [note, setNote] = useState("");
  const record = useRecord(farm.id, () => {
    const payload: Schemas["StepDone"] = {
      kind: "step",
      operation: step.look.operation,
      step: step.step,
      occurrence: step.occurrence,
    };
    if (area) payload.area = area as Schemas["Area"];
    if (rate) payload.bulk_rate = rate as Schemas["MassPerArea"];
    if (depth) payload.depth = depth as Schemas["Length"];
    if (setting.trim()) payload.setting = setting;
    if (note.trim()) payload.note = note;
    const body = { id, about: [{ kind: "stand" as const, id: stand }], occurred_on: on, payload };
    return answered(api.POST("/api/farms/{farm}/entries", { params: { path: { farm: farm.id } }, body }));
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  const at = (pointer: string) => refused?.at(pointer);
  const asks = (what: Schemas["Ask"]) => step.asks.includes(what);
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title={`Ink: ${titled(step)}`}
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
        {asks("area") && (
          <QuantityField
            label="Area actually sown"
            bare={units.area}
            value={area}
            onChange={setArea}
            error={at("/payload/area")}
            hint="leave empty for the whole field"
          />
        )}
        {asks("bulk_rate") && (
          <QuantityField
            label="Rate reached, out of the bag"
            bare={units.rate}
            value={rate}
            onChange={setRate}
            error={at("/payload/bulk_rate")}
          />
        )}
        {asks("depth") && (
          <QuantityField
            label="Depth"
            bare={units.depth}
            value={depth}
            onChange={setDepth}
            error={at("/payload/depth")}
          />
        )}
        {asks("setting") && (
          <Labelled label="Setting" error={at("/payload/setting")}>
            {(ids) => (
              <input
                {...ids}
                className="entry"
                value={setting}
                onChange={(e) => setSetting(e.target.value)}
              />
            )}
          </Labelled>
        )}
        <Labelled label="Note" error={at("/payload/note")}>
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
        <Cautions cautions={step.cautions} />
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
