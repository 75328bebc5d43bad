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
  if (Math.abs(shareOf({ value, unit })) < 0.0005) return `so far, right on the ${of}`;
  return `so far, ${off} ${value < 0 ? "under" : "over"} the ${of}`;
}

/** What was done in an hour, in whichever units both were written. */
export function perHour(done: Quantity, hours: Quantity): Schemas["AreaPerTime"] {
  return { value: turned(done, "ha").value / turned(hours, "h").value, unit: "ha/h" };
}

/** What to do, in a word and a sign. */
export const goOn: Record<Schemas["ProgressVerdict"], string> = {
  "go-on": "● Go on",
  adjust: "◐ Set it a little",
  stop: "✕ Stop and set it",
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
      <h2>Halfway: will it last?</h2>
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
            hint={area ? `of ${plain(area)} in all` : undefined}
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
            hint="in the box and in bags"
          />
          <QuantityField
            label="Aim"
            bare={units.rate}
            value={aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/aim")}
            hint="out of the bag"
          />
          <QuantityField
            label="Hours so far"
            bare="h"
            value={hours}
            onChange={(hours) => change({ hours })}
            error={refused?.at("/field_capacity")}
            hint="turns and fillings too: tells when the rest is done"
          />
        </div>
      </form>
      <div aria-live="polite" className="space-y-2 pt-2">
        {!ready && <p className="text-pencil">Say what is done and used, and what is left of both.</p>}
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
                ✕ The seed will not last: it reaches for {plain(answer.value.lasts)}, and{" "}
                {plain(answer.value.short_area)} stay without. {plain(answer.value.short_seed)} are wanting
                {answer.value.rate_that_lasts && <>, or set it to {plain(answer.value.rate_that_lasts)}</>}.
              </p>
            ) : (
              <p data-lasts="yes">● The seed lasts: it reaches for {plain(answer.value.lasts)}.</p>
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
                  title: "Seed that was sown",
                  where: name,
                  field,
                  stand: stand.id,
                  with: { crops: stand.crops, ...(done && !recorded ? { area: done } : {}) },
                })
              }
            >
              Record seed that was sown
            </button>
            <button
              type="button"
              className="line-button"
              onClick={() => setTask({ form: "odd-spot", title: "Odd spot", where: name, field })}
            >
              Odd spot
            </button>
            <button type="button" className="line-button" onClick={forget}>
              Begin anew
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
