import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { useDraft } from "../kit/draft";
import { Figure } from "../kit/Figure";
import { QuantityField } from "../kit/Quantity";
import { Trouble } from "../kit/states";
import type { Task } from "../outbox/waiting";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { turned } from "../units/base";
import { plain, shareOf, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { RestOfSowing } from "./RestOfSowing";

/** What is sown, and whether the reader may record it. */
export interface Own {
  field: string;
  name: string;
  stand: Schemas["StandView"] | undefined;
  may: boolean;
}

interface Half {
  done: Quantity | null;
  used: Quantity | null;
  aim: Quantity | null;
  area_left: Quantity | null;
  seed_left: Quantity | null;
  /** Hours that it took so far. */
  hours: Quantity | null;
  /** Sown so far when seed of it was last recorded: what was sown since is nobody's guess. */
  recorded: Quantity | null;
}

/** How far off an aim or a plan it is, in words. */
export function offAim({ value, unit }: Quantity, of = "aim"): string {
  const off = plain({ value: Math.abs(value), unit });
  if (Math.abs(shareOf({ value, unit })) < 0.0005) return `so far, on ${of}`;
  return `so far, ${off} ${value < 0 ? "under" : "over"} the ${of}`;
}

/** What was done in an hour, in whichever units both were written. */
export function perHour(done: Quantity, hours: Quantity): Schemas["AreaPerTime"] {
  return { value: turned(done, "ha").value / turned(hours, "h").value, unit: "ha/h" };
}

/** What to do, in a word and a sign. */
export const goOn: Record<Schemas["ProgressVerdict"], string> = {
  "go-on": "● Carry on",
  adjust: "◐ Adjust slightly",
  stop: "✕ Stop and reset",
};

/** Halfway: the rate so far, whether the seed lasts, and when the rest is done. */
export function Halfway({
  field,
  name,
  stand,
  may,
  area,
  left,
}: Own & { area: Quantity | null; left: Quantity | null }) {
  const farm = useFarm();
  const units = useUnits();
  const [task, setTask] = useState<Task | null>(null);
  const { now, change, forget } = useDraft<Half>(`halfway.${farm.id}.${field}`, {
    done: null,
    used: null,
    aim: null,
    area_left: null,
    seed_left: left,
    hours: null,
    recorded: null,
  });
  const { done, used, aim, area_left, seed_left, hours, recorded } = now;
  const ready = done && used && aim && area_left && seed_left;
  const request = {
    area_done: done as Schemas["Area"],
    seed_used: used as Schemas["Mass"],
    aim: aim as Schemas["MassPerArea"],
    area_left: area_left as Schemas["Area"],
    seed_left: seed_left as Schemas["Mass"],
    ...(done && hours && hours.value > 0 ? { field_capacity: perHour(done, hours) } : {}),
  };
  const told = useReckoning(
    "sowing.progress",
    [units.system, request],
    () => answered(api.POST("/api/reckon/sowing.progress", { body: request })),
    Boolean(ready),
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <>
      <h2>Seed check: will it last?</h2>
      <form aria-label="So far" onSubmit={(event) => event.preventDefault()}>
        <div className="grid grid-cols-2 gap-x-4">
          <QuantityField
            label="Sown so far"
            bare={units.area}
            value={done}
            onChange={(done) => change({ done })}
            error={refused?.at("/area_done")}
          />
          <QuantityField
            label="Still to sow"
            bare={units.area}
            value={area_left}
            onChange={(area_left) => change({ area_left })}
            error={refused?.at("/area_left")}
            hint={area ? `of ${plain(area)} total` : undefined}
          />
          <QuantityField
            label="Seed used"
            bare={units.mass}
            value={used}
            onChange={(used) => change({ used })}
            error={refused?.at("/seed_used")}
          />
          <QuantityField
            label="Seed left"
            bare={units.mass}
            value={seed_left}
            onChange={(seed_left) => change({ seed_left })}
            error={refused?.at("/seed_left")}
            hint="In the box and in bags."
          />
          <QuantityField
            label="Target rate"
            bare={units.rate}
            value={aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/aim")}
            hint="Bulk rate."
          />
          <QuantityField
            label="Hours so far"
            bare="h"
            value={hours}
            onChange={(hours) => change({ hours })}
            error={refused?.at("/field_capacity")}
            hint="Include turns and refills. Used to estimate the finish."
          />
        </div>
      </form>
      <div aria-live="polite" className="space-y-2 pt-2">
        {!ready && <p className="text-pencil">Enter area and seed used, then area and seed left.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p className="text-2xl font-bold" data-verdict={answer.value.verdict}>
              {goOn[answer.value.verdict]}
            </p>
            <p>
              <Figure
                quantity={answer.value.rate}
                explains={answer}
                label="So far"
                className="text-3xl font-bold"
              />
              <span className="block text-sm text-pencil">{offAim(answer.value.off_aim)}</span>
            </p>
            {answer.value.short_area && answer.value.short_seed ? (
              <p className="font-semibold text-stop" data-lasts="no">
                ✕ Seed will run out: enough for {plain(answer.value.lasts)}, {plain(answer.value.short_area)}{" "}
                left unsown. Short {plain(answer.value.short_seed)}
                {answer.value.rate_that_lasts && (
                  <>, or set the drill to {plain(answer.value.rate_that_lasts)}</>
                )}
                .
              </p>
            ) : (
              <p data-lasts="yes">● Seed will last: enough for {plain(answer.value.lasts)}.</p>
            )}
            {answer.value.hours && stand && <RestOfSowing stand={stand.id} hours={answer.value.hours} />}
          </>
        )}
        {may && stand && (
          <p className="flex flex-wrap gap-x-4">
            <button
              type="button"
              className="ink-button max-sm:min-h-12"
              onClick={() =>
                setTask({
                  form: "seed-sown",
                  title: "Seed sown",
                  where: name,
                  field,
                  stand: stand.id,
                  with: { crops: stand.crops, ...(done && !recorded ? { area: done } : {}) },
                })
              }
            >
              Record seed sown
            </button>
            <button
              type="button"
              className="line-button"
              onClick={() => setTask({ form: "odd-spot", title: "Mark odd spot", where: name, field })}
            >
              Mark odd spot
            </button>
            <button type="button" className="line-button" onClick={forget}>
              Clear form
            </button>
          </p>
        )}
      </div>
      {task && (
        <RecordSheet
          task={task}
          onDone={() => setTask(null)}
          onInked={() => task.form === "seed-sown" && change({ recorded: done })}
        />
      )}
    </>
  );
}
