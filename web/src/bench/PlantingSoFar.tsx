import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { useDraft } from "../kit/draft";
import { Figure } from "../kit/Figure";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import { Trouble } from "../kit/states";
import type { Task } from "../outbox/waiting";
import { numberOf } from "../records/amounts";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { goOn, offAim, perHour, type Own } from "./Halfway";
import { RestOfSowing } from "./RestOfSowing";

interface Written {
  done: Quantity | null;
  area_left: Quantity | null;
  set: string;
  lost: string;
  left: string;
  load: string;
  /** Hours that it took so far. */
  hours: Quantity | null;
  rows: Quantity | null;
  in_row: Quantity | null;
  recorded: boolean;
}

const whole = (value: number) => Math.ceil(value - 1e-9).toLocaleString("en");

/** While plants are set: how far apart they stand, whether they last, and the loads that are left. */
export function PlantingSoFar({ field, name, stand, may, crop }: Own & { crop: string }) {
  const farm = useFarm();
  const units = useUnits();
  const [task, setTask] = useState<Task | null>(null);
  const { now, change, forget } = useDraft<Written>(`planting.${farm.id}.${field}`, {
    done: null,
    area_left: null,
    set: "",
    lost: "",
    left: "",
    load: "",
    hours: null,
    rows: null,
    in_row: null,
    recorded: false,
  });
  const [set, lost, left, load] = [now.set, now.lost, now.left, now.load].map((text) => {
    const value = numberOf(text);
    return value !== null && Number.isFinite(value) ? value : null;
  });
  const ready = now.done && now.area_left && set != null && left != null;
  const request = {
    crop,
    area_done: now.done,
    area_left: now.area_left,
    set,
    left,
    ...(lost != null ? { lost } : {}),
    ...(load != null ? { per_load: load } : {}),
    ...(now.rows ? { row_spacing: now.rows } : {}),
    ...(now.in_row ? { in_row: now.in_row } : {}),
    ...(now.done && now.hours && now.hours.value > 0 ? { field_capacity: perHour(now.done, now.hours) } : {}),
  } as unknown as Schemas["PlantingRequest"];
  const told = useReckoning(
    "planting.progress",
    [units.system, request],
    () => answered(api.POST("/api/reckon/planting.progress", { body: request })),
    Boolean(ready),
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  const number = (key: "set" | "lost" | "left" | "load", label: string, at: string, hint?: string) => (
    <NumberBox
      label={label}
      value={now[key]}
      onChange={(text) => change({ [key]: text })}
      error={refused?.at(at)}
      {...(hint ? { hint } : {})}
    />
  );
  const amount = (
    key: "done" | "area_left" | "rows" | "in_row" | "hours",
    label: string,
    bare: string,
    at: string,
  ) => (
    <QuantityField
      label={label}
      bare={bare}
      value={now[key]}
      onChange={(value) => change({ [key]: value })}
      error={refused?.at(at)}
    />
  );
  return (
    <>
      <h2>Planting check: will the pieces last?</h2>
      <form aria-label="So far" onSubmit={(event) => event.preventDefault()}>
        <div className="grid grid-cols-2 gap-x-4">
          {amount("done", "Planted so far", units.area, "/area_done")}
          {amount("area_left", "Still to plant", units.area, "/area_left")}
          {number("set", "Pieces planted", "/set")}
          {number("left", "Pieces left", "/left")}
          {number("lost", "Lost so far", "/lost", "Broken or dried out.")}
          {number("load", "Pieces per hopper load", "/per_load", "pieces")}
          {amount("rows", "Row spacing", units.spacing, "/row_spacing")}
          {amount("in_row", "Planned in-row spacing", units.spacing, "/in_row")}
          {amount("hours", "Hours so far", "h", "/field_capacity")}
        </div>
      </form>
      <div aria-live="polite" className="space-y-2 pt-2">
        {!ready && <p className="text-pencil">Enter area and pieces planted, then area and pieces left.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p className="text-2xl font-bold" data-verdict={answer.value.verdict}>
              {goOn[answer.value.verdict]}
            </p>
            <p>
              <Figure
                quantity={answer.value.in_row}
                explains={answer}
                label="In-row spacing"
                className="text-3xl font-bold"
              />
              <span className="block text-sm text-pencil">
                in-row spacing, {plain(answer.value.per_area)}; {offAim(answer.value.off_plan, "plan")}
              </span>
            </p>
            {answer.value.short_area && answer.value.short != null ? (
              <p className="font-semibold text-stop" data-lasts="no">
                ✕ Pieces will run out: enough for {plain(answer.value.lasts)},{" "}
                {plain(answer.value.short_area)} left unplanted. Short {whole(answer.value.short)} pieces.
              </p>
            ) : (
              <p data-lasts="yes">● Pieces will last: enough for {plain(answer.value.lasts)}.</p>
            )}
            {answer.value.lost.value > 0 && <p>{plain(answer.value.lost)} lost before planting.</p>}
            {answer.value.loads != null && answer.value.area_per_load && (
              <p data-loads={answer.value.loads}>
                {answer.value.loads} {answer.value.loads === 1 ? "load" : "loads"} left, each for{" "}
                {plain(answer.value.area_per_load)}.
              </p>
            )}
            {answer.value.hours && stand && <RestOfSowing stand={stand.id} hours={answer.value.hours} />}
            <Cautions cautions={answer.cautions} />
          </>
        )}
        {may && stand && (
          <p className="flex flex-wrap gap-x-4">
            <button
              type="button"
              className="ink-button max-sm:min-h-12"
              onClick={() =>
                setTask({
                  form: "plants-set",
                  title: "Planting",
                  where: name,
                  field,
                  stand: stand.id,
                  with: now.recorded
                    ? {}
                    : {
                        ...(now.done ? { area: now.done } : {}),
                        ...(set != null ? { set } : {}),
                        ...(lost != null ? { lost } : {}),
                      },
                })
              }
            >
              Record planting
            </button>
            <button type="button" className="line-button" onClick={forget}>
              Clear form
            </button>
          </p>
        )}
      </div>
      {task && (
        <RecordSheet task={task} onDone={() => setTask(null)} onInked={() => change({ recorded: true })} />
      )}
    </>
  );
}
